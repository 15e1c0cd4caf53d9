"""The wheel in an empty environment: what is installed with it is all that the command line needs."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tomllib
from importlib.metadata import Distribution, distribution
from pathlib import Path

import pytest
from packaging.requirements import Requirement

from tests.conftest import ROOT


@pytest.fixture(scope="module")
def command(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """`edge-slice` as somebody has it who installed the wheel, and nothing else."""
    folder = tmp_path_factory.mktemp("wheel")
    source = folder / "source"  # a copy: building leaves its traces beside what it builds
    for name in ("src", "requirements"):
        shutil.copytree(ROOT / name, source / name, ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    for name in ("pyproject.toml", "LICENSE", "README.md"):
        shutil.copy(ROOT / name, source / name)
    here = [sys.executable, "-m", "pip", "--quiet", "--disable-pip-version-check"]
    subprocess.run([*here, "wheel", str(source), "--no-deps", "--no-build-isolation", "-w", str(folder)], check=True)
    (wheel,) = folder.glob("edge_slice-*.whl")
    empty = folder / "empty"
    subprocess.run([sys.executable, "-m", "venv", "--without-pip", str(empty)], check=True)
    subprocess.run([*here, "--python", str(empty / "bin" / "python"), "install", "--no-deps", str(wheel)], check=True)
    (site,) = empty.glob("lib/python*/site-packages")
    _link_what_it_requires(site)
    return empty / "bin" / "edge-slice"


def _link_what_it_requires(site: Path) -> None:
    """Put what the wheel requires, and what that requires, beside it: from here, where all of it is installed."""
    (own,) = Distribution.discover(name="edge-slice", path=[str(site)])
    wanted = [*map(Requirement, own.requires or ())]
    known: set[tuple[str, frozenset[str]]] = set()
    while wanted:
        one = wanted.pop()
        key = one.name, frozenset(one.extras)
        if key in known:
            continue
        known.add(key)
        found = distribution(one.name)
        for part in {file.parts[0] for file in found.files or () if file.parts[0] not in ("..", "__pycache__")}:
            if not (site / part).exists() and not part.endswith(".pth"):
                (site / part).symlink_to(found.locate_file(part))
        extras = one.extras or {""}
        for further in map(Requirement, found.requires or ()):
            if further.marker is None or any(further.marker.evaluate({"extra": extra}) for extra in extras):
                wanted.append(further)


def test_the_one_list_of_dependencies_is_the_wheel_s() -> None:
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())
    assert "dependencies" not in project["project"]
    assert project["tool"]["setuptools"]["dynamic"]["dependencies"] == {"file": ["requirements/run.in"]}


@pytest.mark.long
def test_an_installed_wheel_cuts_and_publishes(command: Path, hut_model: Path, tmp_path: Path) -> None:
    out = tmp_path / "section.pdf"
    # a small model needs no machine code, which would first have to be made
    plain = {**os.environ, "NUMBA_DISABLE_JIT": "1"}
    cut = ["cut", str(hut_model), "--line", "2,-1", "2,4", "--look", "left", "--out", str(out)]
    subprocess.run([str(command), *cut], check=True, cwd=tmp_path, capture_output=True, env=plain)
    assert out.read_bytes().startswith(b"%PDF")
    project = tmp_path / "project.toml"
    project.write_text(
        f'edge_slice = 1\nname = "Station"\nmodel = "{hut_model}"\n[[drawing]]\nkey = "south"\n'
        'cut = { kind = "section", line = [[-1, 1.5], [5, 1.5]] }\n'
        '[[sheet]]\nnumber = "A-301"\ntitle = "Section"\n[[sheet.placement]]\ndrawing = "south"\nx = 100\ny = 200\n'
    )
    for form in ("pdf", "dxf", "png"):
        publish = ["publish", str(project), "--out", str(tmp_path / form), "--form", form]
        done = subprocess.run([str(command), *publish], cwd=tmp_path, capture_output=True, text=True, env=plain)
        assert done.returncode == 0, done.stderr
        assert list((tmp_path / form).iterdir())
