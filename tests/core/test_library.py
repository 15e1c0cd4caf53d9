"""The library: its documents' programs run, and its face holds what it says."""

from __future__ import annotations

import contextlib
import io
import re
import shutil
import subprocess
import sys
from collections.abc import Callable
from functools import cache
from pathlib import Path

import pytest

import edge_slice
from edge_slice.core.model import Model
from tests.bodies import box, model_of

ROOT = Path(__file__).parents[2]
PROGRAMS = re.findall(r"```python\n(.*?)```", (ROOT / "docs" / "library.md").read_text(), re.S)
WRITTEN = [["section.pdf"], ["elevation 1.svg", "elevation 4.svg", "plan Lower.dxf"], ["opened.png"], [], []]
SAID = [r"Dry lab: \d+\.\d\d m", r"^$", r"^$", r"m²", r"^4\.080 m³$"]


@pytest.fixture(scope="module")
def read_once() -> Callable[..., Model]:
    """As `edge_slice.read`; the demo, which every program begins with, is read once."""
    return cache(edge_slice.read)


@pytest.mark.parametrize("number", range(len(PROGRAMS)))
def test_programs_of_the_document_run(
    number: int, tmp_path: Path, read_once: Callable[..., Model], monkeypatch: pytest.MonkeyPatch
) -> None:
    shutil.copy(ROOT / "demo" / "curlew-point.ifc", tmp_path)
    monkeypatch.setattr(edge_slice, "read", read_once)
    said = io.StringIO()
    with contextlib.chdir(tmp_path), contextlib.redirect_stdout(said):
        exec(compile(PROGRAMS[number], f"library.md, program {number + 1}", "exec"), {})
    assert re.search(SAID[number], said.getvalue().strip(), re.M)
    for name in WRITTEN[number]:
        assert (tmp_path / name).stat().st_size > 1000


def test_the_face_is_light_until_something_is_asked_for() -> None:
    asked = "import sys, edge_slice as e; assert 'numpy' not in sys.modules; e.SectionCut; print(len(dir(e)))"
    done = subprocess.run([sys.executable, "-c", asked], capture_output=True, text=True, check=True)
    assert int(done.stdout) == len(edge_slice.__all__)
    assert all(getattr(edge_slice, name).__doc__ is not None for name in edge_slice.__all__)
    with pytest.raises(AttributeError, match="has no tailor"):
        edge_slice.tailor  # noqa: B018


def test_a_drawing_shows_itself_and_says_what_it_can_not_become(tmp_path: Path) -> None:
    drawing = edge_slice.draw(
        model_of(box((0, 0, 0), (4, 0.3, 3))), edge_slice.SectionCut(line=((2, -1), (2, 1)), depth=1), scale=20
    )
    assert drawing._repr_svg_().startswith("<svg ")
    assert drawing.save(tmp_path / "a.PDF").read_bytes()[:5] == b"%PDF-"
    for wrong in ("a.doc", "a"):
        with pytest.raises(ValueError, match="drawings become files of pdf, svg, dxf, png"):
            drawing.save(tmp_path / wrong)
    with pytest.raises(ValueError, match="no standard 'thick'; there are"):
        edge_slice.draw(drawing.model, drawing.cut, standard="thick")
    with pytest.raises(edge_slice.ImpossibleCut, match="paper"):
        edge_slice.draw(drawing.model, drawing.cut, scale=0.1)
