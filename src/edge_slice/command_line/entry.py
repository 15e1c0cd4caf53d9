"""Where `edge-slice` begins: a short life, in which collecting garbage and tidying up at the end cost more than they
give back."""

from __future__ import annotations

import gc
import os
import sys


def main() -> None:
    gc.disable()
    from edge_slice.command_line.main import run

    code = run()
    sys.stdout.flush()
    sys.stderr.flush()
    os._exit(code)
