"""Fixtures shared by all tests: the demo model, and small models made of plain bodies."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from hypothesis import settings

from edge_slice.core.model import Model
from edge_slice.core.model.ifc.reading import read_ifc
from tests.ifc_files import write_hut
from tests.installation import Installation

# the same examples every time: a run that fails can be run again
settings.register_profile("steady", derandomize=True)
settings.load_profile("steady")

ROOT = Path(__file__).parents[1]
DEMO = ROOT / "demo" / "curlew-point.ifc"


@pytest.fixture(scope="session")
def demo() -> Model:
    return read_ifc(DEMO, threads=2)


@pytest.fixture(scope="session")
def installation() -> Iterator[Installation]:
    made = Installation()
    yield made
    made.stop()


@pytest.fixture(scope="session")
def demo_project(installation: Installation) -> int:
    return installation.import_project(DEMO)


@pytest.fixture
def hut_project(installation: Installation, tmp_path: Path) -> int:
    """A small project of its own for one test."""
    return installation.import_project(write_hut(tmp_path / "hut.ifc"))
