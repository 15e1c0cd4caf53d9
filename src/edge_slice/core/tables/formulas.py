"""Formulas of columns: the four operations on numbers and other columns."""

from __future__ import annotations

import ast
from collections.abc import Callable, Mapping

Value = str | float | None
_OPERATIONS: dict[type[ast.operator], Callable[[float, float], float]] = {
    ast.Add: lambda a, b: a + b,
    ast.Sub: lambda a, b: a - b,
    ast.Mult: lambda a, b: a * b,
    ast.Div: lambda a, b: a / b,
}
LONGEST = 300
DEEPEST = 40


class WrongFormula(ValueError):
    """A formula that can't be read, in words."""


class Formula:
    """A formula by its text; `columns`: the keys that it uses. Raises `WrongFormula`."""

    def __init__(self, text: str) -> None:
        plain = text.replace("×", "*").replace("·", "*").replace("÷", "/").replace("−", "-").replace(",", ".")
        if not text.strip() or len(text) > LONGEST:
            raise WrongFormula("A formula has between one and 300 letters, such as width * height.")
        try:
            self._tree = ast.parse(plain.strip(), mode="eval").body
        except (SyntaxError, ValueError, RecursionError, MemoryError) as error:
            raise WrongFormula(f"The formula “{text}” can't be read; write it like width * height / 2.") from error
        self.columns: tuple[str, ...] = tuple(dict.fromkeys(self._names(self._tree, 0)))

    def _names(self, node: ast.expr, deep: int) -> list[str]:
        if deep > DEEPEST:
            raise WrongFormula("The formula has too many brackets in each other; split it over two columns.")
        match node:
            case ast.Name(id=name):
                return [name]
            case ast.Constant(value=value) if isinstance(value, int | float) and not isinstance(value, bool):
                return []
            case ast.UnaryOp(op=ast.USub() | ast.UAdd(), operand=inner):
                return self._names(inner, deep + 1)
            case ast.BinOp(left=left, op=op, right=right) if type(op) in _OPERATIONS:
                return self._names(left, deep + 1) + self._names(right, deep + 1)
        raise WrongFormula("A formula has columns, numbers, brackets, and + − × ÷; nothing else.")

    def value(self, row: Mapping[str, Value]) -> float | None:
        """Of a row; None where a column is empty or a text, and where it divides by nothing."""
        try:
            found = self._value(self._tree, row)
        except (ZeroDivisionError, OverflowError):
            return None
        return found if found is not None and abs(found) < float("inf") else None

    def _value(self, node: ast.expr, row: Mapping[str, Value]) -> float | None:
        match node:
            case ast.Name(id=name):
                return number_of(row.get(name))
            case ast.Constant(value=value):
                return float(value)  # type: ignore[arg-type]
            case ast.UnaryOp(op=op, operand=inner):
                found = self._value(inner, row)
                return None if found is None else -found if isinstance(op, ast.USub) else found
            case ast.BinOp(left=left, op=op, right=right):
                a, b = self._value(left, row), self._value(right, row)
                return None if a is None or b is None else _OPERATIONS[type(op)](a, b)
        return None


def number_of(value: Value) -> float | None:
    """A number, also one that is written as a text; None for what is none."""
    if value is None or isinstance(value, float | int):
        return value
    try:
        found = float(value.replace("−", "-").replace(",", ".").replace(" ", ""))
    except ValueError:
        return None
    return found if abs(found) < float("inf") else None


def in_order(formulas: Mapping[str, Formula]) -> list[str]:
    """Columns with formulas, those that others use first. Raises `WrongFormula` where some go round in a circle."""
    found: list[str] = []
    left = dict(formulas)
    while left:
        free = [key for key, formula in left.items() if not any(name in left for name in formula.columns)]
        if not free:
            raise WrongFormula(f"The formulas of {', '.join(sorted(left))} need each other; one must stand alone.")
        found += free
        for key in free:
            del left[key]
    return found
