"""What makes a PDF one that is kept for long: PDF/A-2, level B (ISO 19005-2). In all that we write faces are embedded,
and nothing is encrypted; here its colours get a meaning, and the document says what it is."""

from __future__ import annotations

from functools import cache

import pikepdf
from pikepdf import Array, Dictionary, Name, String
from PIL import ImageCms

SRGB = "sRGB IEC61966-2.1"
MADE = slice(24, 36)  # of a profile: the moment it was made (ICC.1:2010, 7.2.8)


def keep_for_long(document: pikepdf.Pdf) -> None:
    """Declare a document to be PDF/A-2b: the profile of its colours (6.2.3), and what it says of itself (6.6.4)."""
    profile = document.make_stream(_profile(), N=3, Alternate=Name.DeviceRGB)
    intent = Dictionary(
        Type=Name.OutputIntent, S=Name.GTS_PDFA1, OutputConditionIdentifier=String(SRGB), Info=String(SRGB),
        RegistryName=String("http://www.color.org"), DestOutputProfile=profile,
    )  # fmt: skip
    document.Root.OutputIntents = Array([document.make_indirect(intent)])
    with document.open_metadata(set_pikepdf_as_editor=False, update_docinfo=False) as said:
        said.load_from_docinfo(document.docinfo)
        said["pdfaid:part"], said["pdfaid:conformance"] = "2", "B"


@cache
def _profile() -> bytes:
    """The profile of sRGB, the same on every day."""
    found = bytearray(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
    found[MADE] = bytes((7, 208, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0))  # the first of January 2000
    return bytes(found)
