"""What is remembered is what would be made again, and never too much of it."""

import math

import shapely

from edge_slice.core.cut import SectionCut, cut_model
from edge_slice.core.drawing import DrawingSpec, compose_drawing, shipped_standard
from edge_slice.core.model import Model
from edge_slice.core.remembered import Remembered, corners_of, marks_of
from edge_slice.core.render.page import page_box
from edge_slice.core.render.svg import to_svg


def test_a_value_is_made_once_for_its_key_and_rule() -> None:
    kept: Remembered[list[int]] = Remembered("tried", 10, len)
    made: list[str] = []

    def make(name: str, size: int) -> list[int]:
        made.append(name)
        return [0] * size

    rule, other = object(), object()
    for _ in range(2):
        kept.get("a", lambda: make("a", 4), rule)
        kept.get("a", lambda: make("a by another rule", 4), other)
    assert made == ["a", "a by another rule"]
    kept.get("b", lambda: make("b", 4), rule)  # the one used longest ago goes
    kept.get("a", lambda: make("a by another rule again", 4), other)
    kept.get("a", lambda: make("a again", 4), rule)
    assert made[2:] == ["b", "a again"]
    kept.get("huge", lambda: make("huge", 11))
    kept.get("huge", lambda: make("huge again", 11))
    assert made[-1] == "huge again"


def test_a_drawing_is_the_same_whatever_was_drawn_before(demo: Model) -> None:
    """At several scales, in two standards, and cut at other places in between."""

    def drawn(x: float, scale: float, key: str) -> str:
        standard = shipped_standard(key)
        cut = SectionCut(line=((x, -2), (x, 12)), depth=4)
        result = cut_model(demo, cut, standard.cut_rules(demo))
        display = compose_drawing(demo, result, cut, DrawingSpec(scale=scale), standard)
        return to_svg(display, page_box(display), "")

    wanted = [(10.6, 50.0, "fine-line"), (10.6, 20.0, "fine-line"), (10.6, 50.0, "bold"), (4.3, 50.0, "fine-line")]
    first = [drawn(*w) for w in wanted]
    again = [drawn(*w) for w in reversed(wanted)]
    assert again == first[::-1]
    assert len(set(first)) == len(first)


def test_marks_tell_shapes_apart_and_stay_small() -> None:
    ring = [(math.cos(k / 500), math.sin(k / 500)) for k in range(3000)]
    large, moved = shapely.Polygon(ring), shapely.Polygon([(x, y + 1e-9) for x, y in ring])
    one, same, other = marks_of([large, shapely.Polygon(ring), moved])
    assert one == same != other
    assert len(one) == 16
    assert corners_of([large, moved]) > 6000
    assert corners_of([]) == 1
