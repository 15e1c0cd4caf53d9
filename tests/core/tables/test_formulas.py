"""Formulas of columns."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.tables.formulas import Formula, WrongFormula, in_order, number_of

ROW = {"width": 2.0, "height": 3.0, "name": "Door", "none": None, "typed": "1,5"}


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("width * height", 6.0), ("2 × (width + height) − 1", 9.0), ("-width ÷ 4", -0.5), ("typed * 2", 3.0),
        ("width / 0", None), ("width / (height - 3)", None), ("name + 1", None), ("none * 2", None), ("7", 7.0),
    ],
)  # fmt: skip
def test_a_formula_is_counted_or_empty(text: str, value: float | None) -> None:
    assert Formula(text).value(ROW) == value


@pytest.mark.parametrize(
    "text",
    ["", "width **", "width ** 2", "__import__('os')", "width if 1 else 2", "[1]", "width.real", "f(width)", "'a'",
     "width < 2", "True", "-" * 60 + "1", "+".join(["width"] * 90), "lambda: 1", "width # 1\n+1; 2"],
)  # fmt: skip
def test_what_is_no_formula_is_refused(text: str) -> None:
    with pytest.raises(WrongFormula):
        Formula(text)


@given(st.text(max_size=40))
def test_any_text_is_a_formula_or_refused(text: str) -> None:
    try:
        found = Formula(text)
    except WrongFormula:
        return
    value = found.value(ROW)
    assert value is None or abs(value) < float("inf")


def test_formulas_that_others_use_come_first_and_circles_are_told() -> None:
    formulas = {"c": Formula("b + 1"), "b": Formula("a * 2"), "a": Formula("width")}
    assert in_order(formulas) == ["a", "b", "c"]
    with pytest.raises(WrongFormula, match="need each other"):
        in_order({"a": Formula("b"), "b": Formula("a")})


def test_numbers_are_read_as_people_write_them() -> None:
    assert [number_of(v) for v in ("1,5", "−2", " 3 ", "1e400", "x", "", None, 4.0)] == [
        1.5, -2.0, 3.0, None, None, None, None, 4.0,
    ]  # fmt: skip
