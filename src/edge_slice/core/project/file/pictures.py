"""Pictures that annotations and title blocks show: PNG, and really one."""

from __future__ import annotations

import io

from edge_slice.core.project.refused import Refused

LARGEST = 6 << 20  # bytes
MOST_PIXELS = 40_000_000  # four bytes each while it is drawn
TOO_MANY = f"This picture has more than {MOST_PIXELS // 1_000_000} million pixels; make it smaller."
SIGNATURE = b"\x89PNG\r\n\x1a\n"


def picture_size(data: bytes) -> tuple[int, int]:
    """Width and height in pixels of a picture that can be drawn: it is decoded to its end. Raises `Refused`."""
    from PIL import Image, UnidentifiedImageError  # not needed by drawings without pictures

    if len(data) > LARGEST:
        raise Refused(f"This picture is larger than {LARGEST >> 20} MB; make it smaller.", "file")
    if not data.startswith(SIGNATURE):
        raise Refused("This is no PNG picture; save it as PNG and try again.", "file")
    try:
        with Image.open(io.BytesIO(data), formats=("PNG",)) as picture:
            wide, high = picture.size  # of its head: nothing is decoded yet
            if wide * high > MOST_PIXELS:
                raise Refused(TOO_MANY, "file")
            picture.load()
    except Image.DecompressionBombError as error:
        raise Refused(TOO_MANY, "file") from error
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError) as error:
        raise Refused("This PNG picture is damaged: it can't be decoded to its end. Save it anew.", "file") from error
    return wide, high
