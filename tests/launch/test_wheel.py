"""The wheel in an empty environment: what is installed with it is all that the command line needs."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tomllib
from pathlib import Path

import pytest

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
    subprocess.run([sys.executable, "-m", "venv", str(folder / "empty")], check=True)
    # the versions are those that are locked for us; which packages there are is the wheel's own word
    locked = ["--constraint", str(_constraints(folder))]
    pip = [str(folder / "empty" / "bin" / "python"), "-m", "pip", "--quiet", "--disable-pip-version-check"]
    subprocess.run([*pip, "install", "--no-compile", *locked, str(wheel)], check=True)
    return folder / "empty" / "bin" / "edge-slice"


def _constraints(folder: Path) -> Path:
    """The locked versions without their hashes, which pip would then ask of the wheel too."""
    lines = (ROOT / "requirements" / "run.lock").read_text().splitlines()
    pinned = [line.removesuffix(" \\") for line in lines if line and line[0] not in " #"]
    path = folder / "constraints.txt"
    path.write_text("\n".join(pinned))
    return path


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
