"""Fixtures shared by all tests: the demo model, and small models made of plain bodies."""

from __future__ import annotations

from pathlib import Path

import pytest

from edge_slice.core.model import Model
from edge_slice.core.model.ifc import read_ifc

ROOT = Path(__file__).parents[1]
DEMO = ROOT / "demo" / "curlew-point.ifc"


@pytest.fixture(scope="session")
def demo() -> Model:
    return read_ifc(DEMO, threads=2)
