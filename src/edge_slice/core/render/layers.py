"""Layers of files, by the roles of what is drawn: the element of a layer by ISO 13567-2, and its name in words."""

from __future__ import annotations

from functools import cache

# the element of a layer's name, six letters, and words for it, by a word of the role; the first that is in it
ELEMENTS = (
    ("surface fill", "SURFIL", "Seen surfaces"), ("surface pattern", "SURPAT", "Seen surfaces"),
    ("shadow", "SHADOW", "Shadows"), ("profile", "PROFIL", "Seen lines"),
    ("cut structure", "CUTSTR", "Cut edges"), ("cut other", "CUTOTH", "Cut edges"), ("cut fill", "CUTFIL", "Cut fills"),
    ("layer note", "NOTES-", "Notes"), ("hatch", "CUTHAT", "Hatches"), ("layer", "CUTLAY", "Cut edges"),
    ("membrane", "MEMBRA", "Cut edges"), ("earth", "EARTH-", "Ground"), ("seen near", "SEENNE", "Seen lines"),
    ("seen middle", "SEENMI", "Seen lines"), ("seen far", "SEENFA", "Seen lines"),
    ("overhead", "OVERHE", "Overhead and hidden"), ("hidden", "HIDDEN", "Overhead and hidden"),
    ("cutting line", "MARKER", "Markers"), ("marker", "MARKER", "Markers"), ("callout", "CALLOU", "Markers"),
    ("level", "LEVELS", "Levels and grid"), ("grid", "GRID--", "Levels and grid"),
    ("dimension", "DIMENS", "Dimensions"), ("witness", "DIMENS", "Dimensions"), ("room", "ROOMS-", "Rooms"),
    ("door", "OPENIN", "Openings and stairs"), ("window", "OPENIN", "Openings and stairs"),
    ("stair", "STAIRS", "Openings and stairs"), ("tread", "STAIRS", "Openings and stairs"),
    ("walking", "STAIRS", "Openings and stairs"), ("shaft", "STAIRS", "Openings and stairs"),
    ("break", "BREAKS", "Breaks"), ("title", "TITLES", "Titles and frame"), ("field", "TITLES", "Titles and frame"),
    ("north", "TITLES", "Titles and frame"), ("table", "TITLES", "Titles and frame"),
    ("scale bar", "TITLES", "Titles and frame"), ("key plan", "TITLES", "Titles and frame"),
    ("logo", "TITLES", "Titles and frame"), ("frame", "FRAMES", "Titles and frame"),
    ("centring", "FRAMES", "Titles and frame"), ("zone", "FRAMES", "Titles and frame"), ("note", "NOTES-", "Notes"),
    ("label", "NOTES-", "Notes"), ("leader", "NOTES-", "Notes"), ("revision", "REVISI", "Revision marks"),
    ("service", "SERVIC", "Services"), ("symbol", "SYMBOL", "Symbols"),
    ("area", "AREAS-", "Notes"), ("line", "LINES-", "Other lines"),
)  # fmt: skip
OTHER = ("OTHER-", "Other lines")


@cache
def element_of(role: str) -> str:
    """The element of the layer of a role, six letters."""
    return next((code for word, code, _ in ELEMENTS if word in role), OTHER[0])


@cache
def layer_of(role: str) -> str:
    """The layer of a role in words."""
    return next((name for word, _, name in ELEMENTS if word in role), OTHER[1])
