"""A section to annotate."""

from __future__ import annotations

import pytest

from tests.http.annotating.acts import (
    restyle,
)
from tests.http.drawings.test_drawings import add_section
from tests.installation import Installation


@pytest.fixture
def section(installation: Installation, hut_project: int) -> dict:
    """Across the hut: the south wall from u 1000 to 1200 mm, the north wall from 3800 to 4000, both 2500 high."""
    made = add_section(installation, hut_project)
    return restyle(installation, made, scale=20, lengths="mm")
