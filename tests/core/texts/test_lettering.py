"""Names in all scripts: set in faces that have them, in the order that they are read, alike in every output."""

from __future__ import annotations

import base64
import io
import re
import unicodedata
from html import unescape
from itertools import pairwise

import ezdxf
import numpy as np
import pypdf
import pypdfium2
import pytest
import uharfbuzz
from bidi import get_display
from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.drawing import DisplayList, Label
from edge_slice.core.drawing.faces import DRAWING, FACES, font_bytes
from edge_slice.core.drawing.texts.typesetting import missing_letters, runs_of_text, text_width
from edge_slice.core.render.dxf import to_dxf
from edge_slice.core.render.pdf import Page, to_pdf
from edge_slice.core.render.screen import from_screen, screen_arrays, to_screen
from edge_slice.core.render.svg import to_svg

NAMES = {
    "Latin": "Wet lab (2)",
    "Polish": "Łazienka służbowa 1.02",
    "Vietnamese": "Phòng thí nghiệm ướt",
    "Cyrillic": "Мокрая лаборатория",
    "Greek": "Υγρό εργαστήριο",
    "Hebrew": "מעבדה רטובה (12)",
    "Arabic": "مختبر الرطوبة 3",
    "Thai": "ห้องปฏิบัติการน้ำ",
    "Devanagari": "आर्द्र प्रयोगशाला",
    "Chinese": "潮湿实验室",
    "Japanese": "湿式ラボと洗面所",
    "Korean": "습식 실험실",
    "mixed": "Lab مختبر 12 (실험실)",
}
ALL = pytest.mark.parametrize("name", NAMES.values(), ids=NAMES)


def labelled(*texts: str, align: str = "centre") -> DisplayList:
    labels = [Label("room", t, 60.0, 10.0 + 8 * k, 2.5, "#000000", align) for k, t in enumerate(texts)]  # type: ignore[arg-type]
    return DisplayList(tuple(labels), (0.0, 0.0, 120.0, 20.0 + 8 * len(texts)))


@ALL
def test_every_letter_has_a_glyph_and_runs_stand_side_by_side(name: str) -> None:
    runs = runs_of_text(name)
    assert missing_letters(name) == []
    assert "".join(sorted("".join(r.text for r in runs))) == "".join(sorted(name))
    assert all(g.number != 0 for run in runs for g in run.glyphs)
    for one, after in pairwise(runs):
        assert after.start == pytest.approx(one.start + one.width)
    assert text_width(name, 2.5) == pytest.approx(2.5 * sum(r.width for r in runs))


def test_a_word_is_of_one_hand_and_what_the_drawing_face_has_stays_in_it() -> None:
    assert [(r.face, r.text) for r in runs_of_text("Łazienka 1.02")] == [("sans", "Łazienka"), (DRAWING, " 1.02")]
    assert [r.face for r in runs_of_text("Hall Übergröße №")] == [DRAWING, "sans"]
    assert [(r.face, r.text) for r in runs_of_text("غرفة المعيشة")] == [("arabic", "غرفة المعيشة")]
    assert runs_of_text("e\u0301tage")[0].text == "\u00e9tage"


hebrew, latin = st.text("אבגדהוז", min_size=1, max_size=4), st.text("abcXYZ", min_size=1, max_size=4)
parts = st.lists(st.one_of(hebrew, latin, st.text("0123456789", min_size=1, max_size=3), st.sampled_from([" ", "(", ")", " - ", "/"])), min_size=1, max_size=9)  # fmt: skip  # noqa: E501


@given(parts)
def test_the_order_on_paper_is_that_of_the_unicode_algorithm(said: list[str]) -> None:
    """Against the library's other implementation of it (Rust), for words of two directions with figures and signs."""
    text = "".join(said)
    shown = "".join(r.text[::-1] if r.leftwards else r.text for r in runs_of_text(text))
    either = str.maketrans("()", "||")  # which the library does not turn over
    assert shown.translate(either) == get_display(text).translate(either)


def test_brackets_read_from_right_to_left_are_turned_over() -> None:
    assert [r.text for r in runs_of_text("אב (גד)")] == ["(", "גד", ") ", "אב"]
    assert [r.text for r in runs_of_text("A (אב) B")] == ["A (", "אב", ") B"]


@given(st.text("abcאבجد12 ()[].-", max_size=14))
def test_every_text_is_set_whatever_it_holds(text: str) -> None:
    runs = runs_of_text(text)
    assert sum(len(r.text) for r in runs) == len(unicodedata.normalize("NFC", text))


def test_letters_that_no_face_has_are_written_as_their_code() -> None:
    assert missing_letters("Room 𓀀 ⓐ") == ["ⓐ", "𓀀"]
    assert "".join(r.text for r in runs_of_text("a𓀀")) == "a[U+13000]"
    assert missing_letters("שלום\u200f a\ufe0f\n") == []


@ALL
def test_svg_embeds_the_letters_it_shows_as_wide_as_they_were_measured(name: str) -> None:
    svg = to_svg(labelled(name), (0, 0, 120, 30), "t")
    faces = dict(re.findall(r"font-family:'([^']+)';src:url\(data:font/woff;base64,([^)]+)\)", svg))
    spans = re.findall(r'<tspan x="([\d.]+)" font-family="([^"]+)" font-size="([\d.]+)">([^<]*)</tspan>', svg)
    if not spans:
        assert f">{name}</text>" in svg
        return
    ends = []
    for x, family, size, said in spans:
        plain = io.BytesIO()
        font = TTFont(io.BytesIO(base64.b64decode(faces[family])))
        font.flavor = None
        font.save(plain)
        shaper = uharfbuzz.Font(uharfbuzz.Face(plain.getvalue()))
        buffer = uharfbuzz.Buffer()
        buffer.add_str(unescape(said))
        buffer.guess_segment_properties()
        uharfbuzz.shape(shaper, buffer, {"kern": family != FACES[DRAWING].family})
        assert all(info.codepoint != 0 for info in buffer.glyph_infos), said
        wide = sum(p.x_advance for p in buffer.glyph_positions) / shaper.face.upem * float(size)
        ends.append((float(x), float(x) + wide))
    for (_, end), (start, _) in pairwise(ends):
        assert start == pytest.approx(end, abs=0.02)
    assert ends[-1][1] - ends[0][0] == pytest.approx(text_width(name, 2.5), abs=0.02)
    assert (ends[0][0] + ends[-1][1]) / 2 == pytest.approx(60, abs=0.02)


def test_pdf_is_searched_in_the_order_of_reading_and_embeds_what_it_shows() -> None:
    data = to_pdf([Page(labelled(*NAMES.values()), (0, 0, 120, 130), "t")], "t")
    page = pypdfium2.PdfDocument(data)[0].get_textpage()
    said = unicodedata.normalize("NFKC", page.get_text_range())
    for name in NAMES.values():
        if name != NAMES["mixed"]:
            assert unicodedata.normalize("NFKC", name) in said
    assert page.search("служ").get_next() is None
    for word in ("лаборатория", "רטובה", "الرطوبة", "实验室", "실험실", "służbowa"):
        assert page.search(word).get_next() is not None, word
    fonts = pypdf.PdfReader(io.BytesIO(data)).pages[0]["/Resources"]["/Font"].values()  # type: ignore[index]
    embedded = [f.get_object()["/FontDescriptor"].get_object()["/FontFile2"].get_object() for f in fonts]
    assert len(embedded) >= 6
    assert all(len(e.get_data()) < 120_000 for e in embedded)  # of thousands of letters those that are shown


@ALL
def test_png_shows_ink_where_the_text_was_measured(name: str) -> None:
    """No boxes: the shape of the text is that of its glyphs; blank faces would leave nothing."""
    data = to_pdf([Page(labelled(name, align="left"), (0, 0, 200, 30), "t")], "t")
    image = np.asarray(pypdfium2.PdfDocument(data)[0].render(scale=6).to_pil().convert("L")) < 128
    columns = np.flatnonzero(image.any(axis=0)) / image.shape[1] * 200
    assert columns.min() == pytest.approx(60, abs=1.0)
    assert columns.max() == pytest.approx(60 + text_width(name, 2.5), abs=1.2)


@ALL
def test_dxf_keeps_the_words_in_a_style_of_their_script(name: str) -> None:
    document = ezdxf.read(io.StringIO(to_dxf(labelled(name), (0, 0, 120, 30), 1.0, "t").decode("utf-8")))
    (text,) = document.modelspace().query("TEXT")
    assert text.dxf.text == name
    face = max(runs_of_text(name), key=lambda r: sum(c.isalpha() for c in r.text)).face
    assert text.dxf.style in document.styles
    assert (text.dxf.style == "LETTERING") == (face == DRAWING)


@ALL
def test_the_screen_is_told_the_same_runs(name: str) -> None:
    data = to_screen(labelled(name), {})
    (label,) = screen_arrays(data)[0]["labels"]
    runs = runs_of_text(name)
    if [r.face for r in runs] == [DRAWING]:
        assert "runs" not in label
        return
    assert [(r["text"], r["leftwards"]) for r in label["runs"]] == [(r.text, r.leftwards) for r in runs]
    assert label["runs"][0]["x"] == pytest.approx(-text_width(name, 2.5) / 2, abs=1e-3)
    (back,) = from_screen(data).items
    assert back.text == name


def test_coverage_is_what_the_font_files_have() -> None:
    from edge_slice.core.drawing.faces import covers

    for face in FACES:
        codes = set(TTFont(io.BytesIO(font_bytes(face))).getBestCmap())
        assert all(covers(face, chr(c)) for c in codes)
        assert not any(covers(face, chr(c)) for c in range(0x20, 0x1000) if c not in codes)
