"""Drawings of the demo against the committed ones. After a wanted change: python -m tests.golden.drawings, and look."""

import json
import re

import pytest

from edge_slice.core.model import Model
from tests.golden import markers
from tests.golden.drawings import FOLDER, drawn, golden_drawings

NUMBER = re.compile(r"-?\d+(?:\.\d+)?")
PATH = re.compile(r' d="[^"]*"')
NEAR = 0.006  # mm on paper; the last digit may differ between machines
NAMES = sorted(path.stem for path in FOLDER.glob("*.svg"))


def test_every_golden_drawing_is_committed(demo: Model) -> None:
    assert sorted(golden_drawings(demo)) == NAMES
    assert all((FOLDER / f"{name}.svg").stat().st_size < 200_000 for name in NAMES)


@pytest.mark.parametrize("name", NAMES)
def test_drawing_is_as_committed(demo: Model, name: str) -> None:
    now = drawn(demo, *golden_drawings(demo)[name], name).splitlines()
    kept = (FOLDER / f"{name}.svg").read_text("utf-8").splitlines()
    assert [re.sub(r' d="[^"]*"', "", line) for line in now[1:]] == [
        re.sub(r' d="[^"]*"', "", line) for line in kept[1:]
    ]
    for new, old in zip(now, kept, strict=True):
        assert NUMBER.sub("#", new) == NUMBER.sub("#", old)
        assert [float(n) for n in NUMBER.findall(new)] == pytest.approx(
            [float(n) for n in NUMBER.findall(old)], abs=NEAR
        )


def test_markers_that_the_front_end_is_tried_with_are_the_core_s() -> None:
    """After a wanted change: python -m tests.golden.markers."""
    assert json.loads(markers.FILE.read_text("utf-8")) == json.loads(markers.document())
