"""Where `edge-slice` begins: what serves an installation, and what draws without one."""

from __future__ import annotations

import sys

SERVING = ("serve", "work", "owner", "upgrade", "backup", "restore", "letterbox")


def main() -> None:
    # imported late: each of the two is large, and not wanted by the other
    if sys.argv[1:2] and sys.argv[1] in SERVING:
        from edge_slice.launch.serving import run

        sys.exit(run(sys.argv[1:]))
    from edge_slice.command_line.entry import main as draw

    draw()
