"""Every operation of the OpenAPI document, by everybody, on rows of their own project and of others': only what is
allowed, and nothing that tells that a row of others' is there."""

from __future__ import annotations

import json
import re
from dataclasses import dataclass

import pytest

from tests.conftest import ROOT, Team
from tests.installation import Answer, Installation
from tests.office import Caller, Office

DOCUMENT = json.loads((ROOT / "frontend" / "openapi.json").read_text())
TABLES = {
    "annotations": "annotation", "callout-references": "callout_reference", "drawing-rules": "drawing_rule",
    "drawings": "drawing", "imports": "model_import", "issued-sheets": "issued_sheet", "issues": "issue",
    "placements": "placement", "publications": "publication", "shared-extents": "shared_extents",
    "sheet-designs": "sheet_design", "sheets": "sheet", "shown-sets": "shown_set", "standards": "standard",
    "remarks": "remark", "tables": "project_table", "touch-ups": "touch_up", "viewpoints": "viewpoint",
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
        "views",
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
# of a remark its author may change the words: that is looked at beside (test_remarks)
REMARKED = {("post", "/api/projects/{id}/remarks"), ("post", "/api/remarks/{id}/answers")}
REMARKED |= {("patch", "/api/remarks/{id}"), ("post", "/api/projects/{id}/pictures")}
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
        if (self.method, self.path) in REMARKED:
            return "reviewer"
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


def project_of(office: Office, template: int, **roles: str) -> int:
    """A project of its own, with members by name."""
    project = office.installation.project_like(template)
    for name, role in roles.items():
        office.installation.execute(
            f"INSERT INTO member (project_id, account_id, role, since) SELECT {project}, id, '{role}', now()"
            f" FROM account WHERE name = '{name}'"
        )
    return project


@pytest.fixture(scope="session")
def rows(team: Team, office: Office, untouched_hut: int) -> dict[str, int]:
    """A row of every table in a project of the team's that nobody else looks into."""
    project = project_of(office, untouched_hut, Owner="owner", Editor="editor", Reviewer="reviewer")
    first = ("sheets", "issues")  # others belong to these
    order = sorted(TABLES, key=lambda name: name not in first)
    return {"projects": project} | {name: blank_row(office.installation, TABLES[name], project) for name in order}


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
            said[name] = "'open'" if table == "remark" else "'ready'"
        elif table == "remark" and name in ("place", "answers"):
            said[name] = {"place": """'{"at": [0, 0]}'""", "answers": "'[]'"}[name]
        elif name.endswith("_id"):
            of = name.removesuffix("_id").replace("target", "drawing")
            said[name] = f"(SELECT max(id) FROM {of} WHERE project_id = {project})"
        else:
            said[name] = filled[kind]
    into, values = ", ".join(f'"{name}"' for name in said), ", ".join(said.values())
    made = f"INSERT INTO {table} ({into}) VALUES ({values}) RETURNING id"
    return int(installation.changed(made))


def asked(caller: Caller, operation: Operation, row: int) -> Answer:
    body = None if operation.method in ("get", "delete") else {}
    return caller.call(operation.method.upper(), operation.at(row), body)


def test_every_operation_says_what_it_is_of() -> None:
    rest = {one.path.split("/")[2] for one in OPERATIONS if not one.of_row}
    known = (
        "settings session account accounts notices invitation invitations link audit memory projects imports hatch-view"
    )
    assert rest == {*known.split(), "notices", "parts", "words", "office-rules", "starter-sets", "pictures"}


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
            assert answer.words == asked(caller, operation, 2_000_000_000).words  # nothing tells that it is there
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


def test_lists_hold_only_what_one_may_see(team: Team, office: Office, rows: dict[str, int]) -> None:
    theirs = {one["id"] for one in team.reviewer.call("GET", "/api/projects").json}
    assert team.project in theirs
    assert team.project not in {one["id"] for one in team.outsider.call("GET", "/api/projects").json}
    blank = rows["imports"]
    office.installation.execute(f"UPDATE model_import SET state = 'failed' WHERE id = {blank}")
    assert blank in {one["id"] for one in team.reviewer.call("GET", "/api/imports").json}
    assert blank not in {one["id"] for one in team.outsider.call("GET", "/api/imports").json}


CUT = {"kind": "section", "line": [[3, -2], [3, 6]], "look": "left", "depth": 5}
PLAN = {"cut": CUT, "style": {}}
STRIP = {"strips": [{"drawing": "DRAWING"}]}
# what names rows of a project in a request, one by one
NAMING: list[tuple[str, str, dict[str, object]]] = [
    ("POST", "/api/projects/{project}/drawings", {"cut": CUT, "parent_id": "DRAWING"}),
    ("POST", "/api/projects/{project}/drawings/delete", {"ids": ["DRAWING"]}),
    ("POST", "/api/projects/{project}/drawings/rule", {"rule": "", "to": ["DRAWING"]}),
    ("POST", "/api/projects/{project}/drawing-rules", {"name": "Ours", "drawing_id": "DRAWING"}),
    ("POST", "/api/projects/{project}/shared-extents", {"name": "Box", "drawing_id": "DRAWING"}),
    ("POST", "/api/projects/{project}/sheets", {"for_drawing": "DRAWING"}),
    ("POST", "/api/projects/{project}/markers", {"drawings": ["DRAWING"]}),
    ("POST", "/api/projects/{project}/light", {"sun": {}, "drawing": "DRAWING"}),
    ("POST", "/api/projects/{project}/planes", {"like": "DRAWING", "point": [3, 2, 1], "normal": [1, 0, 0]}),
    ("GET", "/api/projects/{project}/planes?drawing=DRAWING", {}),
    ("POST", "/api/projects/{project}/view", {**PLAN, "drawing": "DRAWING"}),
    ("POST", "/api/projects/{project}/cut-report", {"cut": CUT, "style": STRIP}),
    ("POST", "/api/projects/{project}/document", {"template": "As drawn", "drawings": ["DRAWING"]}),
    ("POST", "/api/projects/{project}/wall-sections", {"at": [2.0, 0.0], "look": "left", "plan": "DRAWING"}),
    ("POST", "/api/projects/{project}/publications", {"form": "pdf", "sheets": ["SHEET"]}),
    ("POST", "/api/projects/{project}/sheet-pictures", {"ids": ["SHEET"]}),
    ("POST", "/api/projects/{project}/order-of-sheets", {"sheets": ["SHEET"], "folder": "plans"}),
    ("POST", "/api/projects/{project}/renumber", {"sheets": ["SHEET"]}),
    ("POST", "/api/projects/{project}/links", {"name": "For others", "sheets": ["SHEET"]}),
    ("POST", "/api/projects/{project}/anchors", {"annotations": ["ANNOTATION"], "how": "accept"}),
    ("POST", "/api/drawings/{drawing}/annotations/acts", {"act": "delete", "ids": ["ANNOTATION"]}),
    ("POST", "/api/drawings/{drawing}/touch-ups/take-back", {"ids": ["TOUCH_UP"]}),
    ("POST", "/api/drawings/{drawing}/callout-references",
     {"target_id": "DRAWING", "region": {"points": [[1, 1], [2, 2]]}}),
    ("POST", "/api/drawings/{drawing}/use-instead", {"target": "DRAWING", "version": 0}),
    ("POST", "/api/drawings/{drawing}/settings", {"parts": ["scale"], "to": ["DRAWING"]}),
    ("POST", "/api/sheets/{sheet}/placements", {"drawing_id": "DRAWING"}),
    ("POST", "/api/sheets/{sheet}/arrange", {"drawings": ["DRAWING"]}),
    ("POST", "/api/sheets/{sheet}/move", {"moves": [{"id": "PLACEMENT", "version": 0, "x": 1, "y": 1}]}),
    ("PATCH", "/api/placements/{placement}", {"version": 0, "drawing_id": "DRAWING"}),
]  # fmt: skip


def state(installation: Installation, project: int) -> list[tuple[object, ...]]:
    """All that a project has, for comparing."""
    tables = ("drawing", "sheet", "placement", "annotation", "touch_up", "callout_reference", "publication", "change")
    return [
        row
        for table in tables
        for row in installation.all(
            f"SELECT to_jsonb(t)::text FROM {table} AS t WHERE project_id = {project} ORDER BY id"
        )
    ]


@pytest.fixture(scope="session")
def both(team: Team, office: Office, untouched_hut: int) -> tuple[dict[str, int], dict[str, int]]:
    """Rows of a project of the team's editor, and the same of others'."""
    app, made, ours = office.installation, [], {"Ada Owner": "owner"}
    for project in (
        project_of(office, untouched_hut, Editor="editor", **ours),
        project_of(office, untouched_hut, **ours),
    ):  # fmt: skip
        of, owner = f"/api/projects/{project}", office.owner
        drawing = owner.call("POST", f"{of}/drawings", {"cut": CUT, "parent_id": None}).json["id"]
        sheet = owner.call("POST", f"{of}/sheets", {}).json["id"]
        placed = owner.call("POST", f"/api/sheets/{sheet}/placements", {"drawing_id": drawing})
        ids = {"project": project, "drawing": drawing, "sheet": sheet, "placement": placed.json["placements"][0]["id"]}
        made.append(ids | {name: blank_row(app, name, project) for name in ("annotation", "touch_up")})
    return made[0], made[1]


@pytest.mark.parametrize(("method", "path", "body"), NAMING, ids=[f"{m} {p}" for m, p, _ in NAMING])
def test_rows_of_others_are_named_as_if_they_were_not_there(
    method: str, path: str, body: dict[str, object], team: Team, office: Office, both: tuple[dict[str, int], ...]
) -> None:
    mine, theirs = both
    before = state(office.installation, theirs["project"])

    def said(of: dict[str, int]) -> Answer:
        text = json.dumps([path.format(**mine), body])
        for name, number in of.items():
            text = text.replace(f'"{name.upper()}"', str(number)).replace(f"={name.upper()}", f"={number}")
        address, document = json.loads(text)
        return team.editor.call(method, address, document if method != "GET" else None)

    nowhere = {name: 2_000_000_000 for name in theirs}
    foreign, missing = said(theirs), said(nowhere)
    assert foreign.status == missing.status
    if foreign.status != 201:
        of = next(number for name, number in theirs.items() if name.upper() in json.dumps([path, body]))
        without = lambda answer: re.sub(rb"\b(2000000000|%d)\b" % of, b"N", answer.words)  # noqa: E731
        assert without(foreign) == without(missing)
    assert state(office.installation, theirs["project"]) == before
    told = said(mine)
    assert told.status != 404  # what is asked is asked rightly: of one's own it is answered
    if foreign.status == 422:
        assert told.status in (200, 201, 202, 204, 409), told.body
