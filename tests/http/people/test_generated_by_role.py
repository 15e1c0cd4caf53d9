"""Requests made from the OpenAPI document by somebody of each role: by hand, as it takes long (CONTRIBUTING)."""

from __future__ import annotations

import os
from pathlib import Path

import pytest

from tests.conftest import Team
from tests.http.people.test_rights import project_of
from tests.http.serving.test_generated_requests import PIECES, generated
from tests.installation import Installation
from tests.office import Office

ROLES = ("outsider", "reviewer", "editor", "owner")
WANTED = "EDGE_SLICE_TEST_ROLES"
OF_PROJECT = ("drawing", "sheet", "placement", "standard", "remark", "annotation", "revision", "member")


def everything(app: Installation, project: int) -> list[tuple[object, ...]]:
    """All rows of a project."""
    found = app.all(f"SELECT 'project', row_to_json(p)::text FROM project AS p WHERE id = {project}")
    for table in OF_PROJECT:
        found += app.all(f"SELECT '{table}', row_to_json(t)::text FROM {table} AS t WHERE project_id = {project}"
                         " ORDER BY 2")  # fmt: skip
    return found


@pytest.mark.skipif(WANTED not in os.environ, reason=f"by hand: {WANTED}=1")
@pytest.mark.parametrize("role", ROLES)
def test_no_role_finds_a_server_error_or_changes_what_is_not_theirs(
    office: Office, team: Team, untouched_hut: int, tmp_path: Path, role: str
) -> None:
    foreign = project_of(office, untouched_hut)
    office.installation.call("POST", f"/api/projects/{foreign}/sheets", {"title": "Of others"})
    before = everything(office.installation, foreign)
    caller = getattr(team, role)
    held = "; ".join(f"{name}={value}" for name, value in caller.held.items())
    made = sum(generated(office.url, piece, tmp_path, f"Cookie: {held}") for piece in PIECES)
    assert made > 500
    assert everything(office.installation, foreign) == before
