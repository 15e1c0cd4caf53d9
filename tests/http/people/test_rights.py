"""Every operation of the OpenAPI document, by everybody, on rows of their own project and of others': only what is
allowed, and nothing that tells that a row of others' is there."""

from __future__ import annotations

import json
from dataclasses import dataclass

import pytest

from tests.conftest import ROOT
from tests.http.people.conftest import Team
from tests.installation import Answer, Installation
from tests.office import Caller, Office

DOCUMENT = json.loads((ROOT / "frontend" / "openapi.json").read_text())
TABLES = {
    "annotations": "annotation", "callout-references": "callout_reference", "drawing-rules": "drawing_rule",
    "drawings": "drawing", "imports": "model_import", "issued-sheets": "issued_sheet", "issues": "issue",
    "placements": "placement", "publications": "publication", "shared-extents": "shared_extents",
    "sheet-designs": "sheet_design", "sheets": "sheet", "shown-sets": "shown_set", "standards": "standard",
    "tables": "project_table", "touch-ups": "touch_up",
}  # fmt: skip
# what is sent to be computed, and kept by nobody: who looks may do it
ASKED = set(
    [
        "view",
        "cut-report",
        "markers",
        "line-through",
        "line-acts",
        "wall-section",
        "pick",
        "pick-in",
        "fit-extents",
        "strip-place",
        "elements",
        "planes",
        "light",
        "bodies",
        "handles",
        "plane",
        "tried",
        "ground/text",
        "ground/handles",
        "materials/tried",
        "wall-section-proposals",
        "design-preview",
        "sheet-pictures",
        "compare",
        "presence",
        "follows",
        "parts/{key}/picture",
    ]
)
OWNED = {("delete", "/api/projects/{id}"), ("get", "/api/projects/{id}/audit")}
OWNED |= {("patch", "/api/projects/{id}/people/{account}"), ("delete", "/api/projects/{id}/people/{account}")}
OWNED |= {("post", "/api/projects/{id}/invitations"), ("delete", "/api/projects/{id}/invitations/{number}")}
EDITED = {"/api/projects/{id}/files", "/api/projects/{id}/corrections/files", "/api/projects/{id}/links"}
OFFICE = {("post", "/api/drawing-rules/{id}/office"), ("post", "/api/projects/{id}/starter-sets")}
ORDER = {"outsider": 0, "reviewer": 1, "editor": 2, "owner": 3}


@dataclass(frozen=True)
class Operation:
    method: str
    path: str

    @property
    def of_row(self) -> bool:
        first = self.path.split("/")[2]
        return "{id}" in self.path and (first in TABLES or first == "projects")

    @property
    def needed(self) -> str:
        """The least role that may."""
        if (self.method, self.path) in OWNED:
            return "owner"
        ends = self.path.split("{id}/", 1)[-1]
        looks = self.method == "get" and self.path not in EDITED
        return "reviewer" if looks or (self.method == "post" and ends in ASKED) else "editor"

    def at(self, row: int) -> str:
        asked = self.path.replace("{id}", str(row))
        for name, value in (("key", "part"), ("number", "1"), ("form", "pdf"), ("rule", "1"), ("account", "1")):
            asked = asked.replace(f"{{{name}}}", value)
        return asked


OPERATIONS = [
    Operation(method, path)
    for path, methods in DOCUMENT["paths"].items()
    for method in methods
    if method in ("get", "post", "put", "patch", "delete")
]
OF_ROWS = [one for one in OPERATIONS if one.of_row]
ROLES = ("outsider", "reviewer", "editor", "owner")


@pytest.fixture(scope="session")
def rows(team: Team, office: Office) -> dict[str, int]:
    """A row of every table in the team's project; nobody looks into them here."""
    first = ("sheets", "issues")  # others belong to these
    order = sorted(TABLES, key=lambda name: name not in first)
    return {"projects": team.project} | {
        name: blank_row(office.installation, TABLES[name], team.project) for name in order
    }


def blank_row(installation: Installation, table: str, project: int) -> int:
    """A row with nothing in it but what it belongs to."""
    owners = {"project_id": str(project), "into_id": str(project), "hash": ""}
    filled = {"character varying": "'x'", "jsonb": "'{}'", "bytea": "''", "boolean": "false", "integer": "0",
              "double precision": "0", "timestamp with time zone": "now()"}  # fmt: skip
    known = installation.all(
        "SELECT column_name, data_type, is_nullable, column_default FROM information_schema.columns"
        f" WHERE table_name = '{table}' AND table_schema = 'public'"
    )
    said = {}
    for name, kind, nullable, default in known:
        if name in owners:
            said[name] = owners[name]
        elif nullable == "YES" or default is not None:
            continue
        elif name.endswith("_hash"):
            said[name] = "(SELECT min(hash) FROM blob)"
        elif name == "state":
            said[name] = "'ready'"
        elif name.endswith("_id"):
            of = name.removesuffix("_id").replace("target", "drawing")
            said[name] = f"(SELECT max(id) FROM {of} WHERE project_id = {project})"
        else:
            said[name] = filled[kind]
    into, values = ", ".join(said), ", ".join(said.values())
    made = f"INSERT INTO {table} ({into}) VALUES ({values}) RETURNING id"
    return int(installation.changed(made))


def asked(caller: Caller, operation: Operation, row: int) -> Answer:
    body = None if operation.method in ("get", "delete") else {}
    return caller.call(operation.method.upper(), operation.at(row), body)


def test_every_operation_says_what_it_is_of() -> None:
    rest = {one.path.split("/")[2] for one in OPERATIONS if not one.of_row}
    known = "settings session account accounts invitation invitations link audit memory projects imports hatch-view"
    assert rest == {*known.split(), "parts", "words", "office-rules", "starter-sets", "pictures"}


@pytest.mark.parametrize("operation", OF_ROWS, ids=lambda one: f"{one.method} {one.path}")
def test_only_who_may(operation: Operation, team: Team, office: Office, rows: dict[str, int]) -> None:
    row = rows[operation.path.split("/")[2]]
    assert asked(office.stranger(), operation, row).status == 401
    for role in ROLES:
        caller: Caller = getattr(team, role)
        if ORDER[role] >= ORDER[operation.needed]:
            if operation.method == "delete" or (operation.method, operation.path) in OFFICE:
                continue  # it would be gone for the others; that it goes is tested where it is of
            assert asked(caller, operation, row).status not in (401, 403), role
            continue
        answer = asked(caller, operation, row)
        if role == "outsider":
            assert answer.status == 404
            assert answer.body == asked(caller, operation, 2_000_000_000).body  # nothing tells that it is there
        else:
            assert answer.status == 403, role
    if (operation.method, operation.path) in OFFICE:  # the office's own things need a right of the account, too
        assert asked(team.editor, operation, row).status == 403


def test_what_is_beside_projects_needs_an_account_and_its_rights(team: Team, office: Office) -> None:
    run = [("GET", "/api/accounts"), ("GET", "/api/audit"), ("GET", "/api/memory"), ("POST", "/api/invitations"),
           ("PATCH", "/api/accounts/1"), ("DELETE", "/api/invitations/1"), ("GET", "/api/invitations")]  # fmt: skip
    keep = [("DELETE", "/api/office-rules/999999"), ("DELETE", "/api/starter-sets/999999")]
    signed = [("GET", "/api/projects"), ("GET", "/api/imports"), ("GET", "/api/words"), ("GET", "/api/office-rules"),
              ("GET", "/api/starter-sets"), ("GET", "/api/account"), ("POST", "/api/hatch-view")]  # fmt: skip
    body = lambda method: None if method in ("GET", "DELETE") else {}  # noqa: E731
    for method, path in (*run, *keep, *signed):
        assert office.stranger().call(method, path, body(method)).status == 401, path
        assert office.owner.call(method, path, body(method)).status not in (401, 403), path
        expected = {403} if (method, path) in (*run, *keep) else {200, 422}
        assert team.owner.call(method, path, body(method)).status in expected, path


def test_lists_hold_only_what_one_may_see(team: Team, office: Office) -> None:
    theirs = {one["id"] for one in team.reviewer.call("GET", "/api/projects").json}
    assert theirs == {team.project}
    assert team.project not in {one["id"] for one in team.outsider.call("GET", "/api/projects").json}
    office.installation.execute(
        f"UPDATE model_import SET state = 'failed' WHERE into_id = {team.project} AND state = 'ready'"
    )
    blank = blank_row(office.installation, "model_import", team.project)
    office.installation.execute(f"UPDATE model_import SET state = 'failed' WHERE id = {blank}")
    assert blank in {one["id"] for one in team.reviewer.call("GET", "/api/imports").json}
    assert blank not in {one["id"] for one in team.outsider.call("GET", "/api/imports").json}
