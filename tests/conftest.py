"""Fixtures shared by all tests: the demo model, and small models made of plain bodies."""

from __future__ import annotations

import fcntl
import os
import shutil
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest
from hypothesis import settings

from edge_slice.core.model import Model
from edge_slice.core.model.ifc.reading import read_ifc
from edge_slice.core.model.storage import model_from_bytes, model_to_bytes
from tests.ifc_files import write_hut
from tests.installation import Installation
from tests.office import Caller, Office

# the same examples every time, however slow the machine: a run that fails can be run again
settings.register_profile("steady", derandomize=True, deadline=None)
settings.load_profile("steady")

ROOT = Path(__file__).parents[1]
DEMO = ROOT / "demo" / "curlew-point.ifc"


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """What takes long begins first: at the end nothing is waited for that one process works on alone."""
    items.sort(key=lambda item: item.get_closest_marker("long") is None)


@pytest.fixture(scope="session")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Model:
    """Read once in a run: the processes of it share what was read."""
    base = tmp_path_factory.getbasetemp()
    kept = (base.parent if "PYTEST_XDIST_WORKER" in os.environ else base) / "demo.model"
    with kept.with_suffix(".lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not kept.exists():
            kept.write_bytes(model_to_bytes(read_ifc(DEMO, threads=2), compressed=False))
    return model_from_bytes(kept.read_bytes())


@pytest.fixture(scope="session")
def installation() -> Iterator[Installation]:
    made = Installation()
    yield made
    made.stop()


@pytest.fixture(scope="session")
def demo_project(installation: Installation) -> int:
    return installation.import_project(DEMO)


@pytest.fixture(scope="session")
def untouched_demo(installation: Installation) -> int:
    """The demo, imported, that no test changes: others are made like it, which takes less than reading it."""
    return installation.import_project(DEMO)


@pytest.fixture(scope="session")
def hut_model(tmp_path_factory: pytest.TempPathFactory) -> Path:
    return write_hut(tmp_path_factory.mktemp("hut") / "hut.ifc")


@pytest.fixture(scope="session")
def untouched_hut(installation: Installation, hut_model: Path) -> int:
    """The hut, imported: reading it takes longer than most tests."""
    return installation.import_project(hut_model)


@pytest.fixture
def hut_project(installation: Installation, untouched_hut: int) -> int:
    """A small project of its own for one test."""
    return installation.project_like(untouched_hut)


@pytest.fixture
def hut_file(hut_model: Path, tmp_path: Path) -> Path:
    """The file of the hut's model, to be changed."""
    return Path(shutil.copy(hut_model, tmp_path))


@pytest.fixture(scope="session")
def office(installation: Installation) -> Iterator[Office]:
    made = Office(installation)
    yield made
    made.stop()


@dataclass
class Team:
    """A project with one of each role in it, and somebody who belongs to another one alone."""

    project: int
    owner: Caller
    editor: Caller
    reviewer: Caller
    outsider: Caller


@pytest.fixture(scope="session")
def team(office: Office, untouched_hut: int) -> Team:
    mine, other = (office.installation.project_like(untouched_hut) for _ in range(2))
    office.make_owner("ada@curlew.example", "Ada Owner")  # who owns what nobody owns
    office.owner = office.caller("ada@curlew.example")
    people = [office.member(mine, role, role.title()) for role in ("owner", "editor", "reviewer")]
    return Team(mine, *people, outsider=office.member(other, "owner", "Outsider"))
