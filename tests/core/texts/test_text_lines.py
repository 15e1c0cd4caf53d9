"""Long texts in lines: within their room, whole where they fit, never illegible."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.drawing.texts.text_lines import CUT, LEAST, STEP, fitted, wrapped
from edge_slice.core.drawing.texts.typesetting import text_width

words = st.text(st.characters(codec="latin-1", categories=["Lu", "Ll", "Nd"]), min_size=1, max_size=30)
texts = st.lists(st.one_of(words, st.sampled_from(["实验室和洗面所", "مختبر", "שלום"])), min_size=1, max_size=14).map(
    " ".join
)


@given(texts, st.floats(12, 120), st.floats(3, 40), st.sampled_from([1.8, 2.5, 3.5, 5.0, 7.0]))
def test_a_fitted_text_keeps_within_its_room(text: str, width: float, high: float, height: float) -> None:
    found = fitted(text, width, high, height)
    assert LEAST <= found.height <= height
    assert all(text_width(line, found.height) <= width + 1e-6 for line in found.lines)
    assert found.high <= max(high, found.height) + 1e-6
    said = "".join(found.lines).replace(" ", "")
    if found.cut:
        assert found.lines[-1].endswith(CUT)
        assert text.replace(" ", "").startswith(said.removesuffix(CUT))
        whole = wrapped(text, width, LEAST, parted=True)
        assert LEAST * (1 + STEP * (len(whole) - 1)) > high  # it really does not fit
    else:
        assert said == text.replace(" ", "")


def test_what_fits_in_a_line_stays_in_it_and_is_not_smaller() -> None:
    assert fitted("Ground floor", 100, 3, 2.5).lines == ("Ground floor",)
    assert fitted("Ground floor", 100, 3, 2.5).height == 2.5
    assert fitted("Ground floor plan", 20, 20, 2.5).height == 2.5
    assert len(fitted("Ground floor plan", 20, 20, 2.5).lines) > 1


def test_scripts_without_spaces_are_parted_between_letters() -> None:
    assert wrapped("实验室和洗面所", text_width("实验室", 2.5) + 0.1, 2.5) == ["实验室", "和洗面", "所"]
    assert wrapped("Laboratory", 5, 2.5) == ["Laboratory"]
    assert len(wrapped("Laboratory", 5, 2.5, parted=True)) > 2


@pytest.mark.parametrize("letter", ["W", "i", "实", "ж", "ע"])
def test_a_word_of_150_letters_is_parted(letter: str) -> None:
    found = fitted(letter * 150, 60, 60, 5.0)
    assert not found.cut
    assert "".join(found.lines) == letter * 150
