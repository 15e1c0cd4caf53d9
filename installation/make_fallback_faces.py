"""python installation/make_fallback_faces.py FOLDER: makes the faces that stand in for letters which the drawing face
does not have, from the Noto fonts in FOLDER (Debian's packages fonts-noto-core and fonts-noto-cjk, unpacked), and the
list of what each of them covers. Run by hand when a script is added; the faces are part of the product."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterable
from pathlib import Path

from fontTools import subset
from fontTools.pens.cu2quPen import Cu2QuPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTCollection, TTFont, newTable

FONTS = Path(__file__).parents[1] / "src" / "edge_slice" / "core" / "drawing" / "fonts"
ROUNDED = 1.0  # units by which quadratic curves may leave the cubic ones that they take the place of
LATIN = [*range(0x20, 0x370), *range(0x1E00, 0x1F00), *range(0x2000, 0x2070), *range(0x20A0, 0x20C0)]
SIGNS = [0x2116, 0x2122, 0x2126, 0x2190, 0x2191, 0x2192, 0x2193, 0x2212, 0x2260, 0x2264, 0x2265]
FACES: dict[str, tuple[str, list[int]]] = {
    "sans": ("NotoSans-Regular.ttf", [*LATIN, *SIGNS, *range(0x370, 0x530), *range(0x1F00, 0x2000)]),
    "hebrew": (
        "NotoSansHebrew-Regular.ttf",
        [0x20, *range(0x590, 0x600), *range(0xFB1D, 0xFB50), *range(0x200C, 0x2010)],
    ),
    "arabic": (
        "NotoSansArabic-Regular.ttf",
        [0x20, *range(0x600, 0x700), *range(0x750, 0x780), *range(0x8A0, 0x900), *range(0x200C, 0x2010),
         *range(0xFB50, 0xFE00), *range(0xFE70, 0xFF00)],
    ),
    "thai": ("NotoSansThai-Regular.ttf", [0x20, *range(0xE00, 0xE80)]),
    "devanagari": ("NotoSansDevanagari-Regular.ttf", [0x20, *range(0x900, 0x980), *range(0x200C, 0x200E)]),
}  # fmt: skip
CJK = "NotoSansCJK-Regular.ttc"
COMMON = ("gb2312", "shift_jis", "euc_kr", "big5")  # whose letters the face of Chinese, Japanese and Korean has
LAST_USUAL = 0xC6  # first byte of the last of the letters in use, in Big5; those after it are rare
CJK_NAME = "Noto Sans CJK SC"


def main(folder: Path) -> None:
    coverage: dict[str, list[list[int]]] = {}
    for name, (file, letters) in FACES.items():
        font = TTFont(_found(folder, file))
        coverage[name] = _made(font, letters, FONTS / f"{name}.ttf")
    fonts = TTCollection(str(_found(folder, CJK))).fonts
    font = next(f for f in fonts if f["name"].getDebugName(1) == CJK_NAME)
    for table in ("GPOS", "GSUB", "VORG", "vhea", "vmtx", "BASE"):
        if table in font:
            del font[table]
    coverage["cjk"] = _made(font, _common_letters(), FONTS / "cjk.ttf")
    text = json.dumps(coverage, separators=(",", ":")).replace('],"', '],\n"')
    (FONTS / "coverage.json").write_text(text + "\n", "utf-8")


def _found(folder: Path, file: str) -> Path:
    return next(folder.rglob(file))


def _common_letters() -> list[int]:
    """What the usual standards of Chinese, Japanese and Korean have, and all of kana, bopomofo and signs."""
    found = {0x20, *range(0x3000, 0x3040), *range(0x3040, 0x3130), *range(0x31F0, 0x3200), *range(0xFF00, 0xFFF0)}
    for codec in COMMON:
        for code in (*range(0x2E80, 0xA000), *range(0xAC00, 0xD7A4), *range(0xF900, 0xFB00)):
            try:
                said = chr(code).encode(codec)
            except UnicodeEncodeError:
                continue
            if len(said) == 2 and not (codec == "big5" and said[0] > LAST_USUAL):
                found.add(code)
    return sorted(found)


def _made(font: TTFont, letters: Iterable[int], out: Path) -> list[list[int]]:
    """A subset of a font as TrueType; the ranges of letters that it covers."""
    options = subset.Options(
        layout_features=["*"], hinting=False, notdef_outline=True, name_IDs=[0, 1, 2, 3, 4, 5, 6, 13]
    )
    options.drop_tables += ["STAT", "FFTM", "DSIG", "BASE", "VORG"]
    subsetter = subset.Subsetter(options)
    subsetter.populate(unicodes=letters)
    subsetter.subset(font)
    if "CFF " in font:
        _to_quadratic(font)
    font.save(out)
    codes = sorted(font.getBestCmap())
    ranges: list[list[int]] = []
    for code in codes:
        if ranges and code == ranges[-1][1] + 1:
            ranges[-1][1] = code
        else:
            ranges.append([code, code])
    print(f"{out.name:<16} {len(codes):>6} letters {out.stat().st_size / 1024:>8.0f} KB")
    return ranges


def _to_quadratic(font: TTFont) -> None:
    """Outlines of cubic curves as TrueType's quadratic ones, which all outputs can embed."""
    shapes, order = font.getGlyphSet(), font.getGlyphOrder()
    glyphs = {}
    for name in order:
        pen = TTGlyphPen(shapes)
        shapes[name].draw(Cu2QuPen(pen, ROUNDED, reverse_direction=True))
        glyphs[name] = pen.glyph()
    font["loca"], font["glyf"] = newTable("loca"), newTable("glyf")
    font["glyf"].glyphOrder, font["glyf"].glyphs = order, glyphs
    for name in order:
        glyphs[name].recalcBounds(font["glyf"])
    best = font["maxp"]
    best.tableVersion = 0x00010000
    for field in ("maxZones", "maxTwilightPoints", "maxStorage", "maxFunctionDefs", "maxInstructionDefs",
                  "maxStackElements", "maxSizeOfInstructions", "maxComponentElements", "maxPoints", "maxContours",
                  "maxCompositePoints", "maxCompositeContours", "maxComponentDepth"):  # fmt: skip
        setattr(best, field, 1 if field == "maxZones" else 0)
    del font["CFF "]
    font.sfntVersion = "\x00\x01\x00\x00"
    font["post"].formatType = 3.0


if __name__ == "__main__":
    main(Path(sys.argv[1]))
