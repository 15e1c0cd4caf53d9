"""Names of files."""

from __future__ import annotations

import unicodedata

LONGEST = 200  # bytes of a name; with what is put behind it, less than the 255 that file systems allow


def plain_name(title: str) -> str:
    """A title as the name of a file, in its own script, as long as file systems take it."""
    kept = [
        c if c in "._-" or unicodedata.category(c)[0] in "LMN" else " " for c in unicodedata.normalize("NFC", title)
    ]
    name = "-".join("".join(kept).split())
    short = name.encode()[:LONGEST].decode(errors="ignore")
    return short.strip("-") or "drawing"
