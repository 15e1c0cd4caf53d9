"""Whatever people do, in whatever order and from however many windows: what is shown and printed is what stands there.

After each act everything that can be seen of the project is asked of the running application, with all that it keeps,
and of a process that remembers nothing. Both must say the same, to the byte. EDGE_SLICE_TEST_ORDERS=40 tries forty
orders instead of three; EDGE_SLICE_TEST_SHRINK=1 looks for the shortest one that fails.
"""

from __future__ import annotations

import json
import os
import shutil
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, ClassVar

import psycopg
import pytest
from hypothesis import HealthCheck, Phase, note, settings
from hypothesis import strategies as st
from hypothesis.stateful import (
    RuleBasedStateMachine,
    initialize,
    invariant,
    precondition,
    rule,
    run_state_machine_as_test,
)

from edge_slice.core.sheet.numbering import FOLDERS
from tests.http.drawings.test_drawings import SECTION
from tests.http.models.test_parts import frame
from tests.http.models.test_revisions import aside, higher, propose
from tests.http.serving.fresh import Fresh, asked, digest, paths_of
from tests.http.sheets.test_publications import ISSUE, published
from tests.ifc_files import write_hut
from tests.installation import Answer, Installation

ORDERS = int(os.environ.get("EDGE_SLICE_TEST_ORDERS", "3"))
ACTS = 22  # in each order
MOST = 5  # rows of a kind: few, so that acts meet
UPSTAND = {
    "name": "Upstand", "kind": "covering", "material": "Cork", "outline": [[0, 0], [0.3, 0], [0.3, 0.2]],
    "at": [0, 0, 0], "x": [1, 0, 0], "y": [0, 0, 1], "start": 0, "end": 2,
}  # fmt: skip
LINING = {
    "name": "Lining", "kind": "covering", "material": "Cork", "on": {"looks": [0, 0, 1], "at": 2.5}, "thickness": 0.1,
}  # fmt: skip

Json = dict[str, Any]
Key = tuple[str, int]  # table and row
TABLES = {
    "project": "projects", "drawing": "drawings", "sheet": "sheets", "placement": "placements",
    "standard": "standards", "shown_set": "shown-sets", "shared_extents": "shared-extents",
    "sheet_design": "sheet-designs", "annotation": "annotations", "touch_up": "touch-ups",
    "callout_reference": "callout-references", "drawing_rule": "drawing-rules",
    "project_table": "tables", "viewpoint": "viewpoints",
}  # fmt: skip
_ROWS = " UNION ALL ".join(
    f"SELECT '{table}', to_jsonb(t) FROM {table} t WHERE {'id' if table == 'project' else 'project_id'} = %(project)s"
    for table in (*TABLES, "left_finding", "ground")
)


def _of_drawing(row: Json, n: int) -> Json:
    cut, style = row["cut"], row["style"]
    changes: list[Json] = [
        {"name": f"Name {n}"},
        {"style": {**style, "scale": (20, 25, 50, 100)[n % 4]}},
        {
            "style": {
                **style,
                "rooms": bool(n % 2),
                "shown_markers": [["section"], []][n % 2],
                "section_rooms": bool(n % 3),
            }
        },
        {"cut": {**cut, "depth": 1.5 + n % 3}},
        {"cut": {**cut, "shown_set": ""}},
    ]
    if cut["kind"] == "section":
        changes.append({"cut": {**cut, "line": [[1.0 + 0.3 * (n % 5), -1.0], [1.0 + 0.3 * (n % 5), 4.0]]}})
        changes.append({"cut": {**cut, "look": ("left", "right")[n % 2]}})
    return changes[n % len(changes)]


def _of_sheet(row: Json, n: int) -> Json:
    fields = {**row["fields"], "drawn": f"K{n}", "revision": f"R{n}"}
    fields.pop("issued", None)
    return ({"title": f"Title {n}"}, {"number": f"Z-{n}"}, {"size": ("A1", "A2")[n % 2]}, {"fields": fields})[n % 4]


def _of_placement(row: Json, n: int) -> Json:
    return ({"x": 40.0 + n, "y": 60.0}, {"number": str(n + 1)}, {"home": True}, {"stack": "front"})[n % 4]


def _of_project(row: Json, n: int) -> Json:
    folders = [f.model_dump() for f in FOLDERS]
    for folder in folders:
        folder["name"] = f"{folder['name']} {n}"
    return (
        {"client": f"Client {n}"}, {"lengths": ("mm", "m")[n % 2]}, {"name": f"Hut {n}"},
        {"names": {**row["names"], "section": f"{{letter}} cut {n}", "plan": f"{{storey}} {n}"}},
        {"sheet_register": {**row["sheet_register"], "folders": folders}},
        {"materials": {"": "brick"}} if n % 2 else {"materials": {"Hut": ("brick", "concrete")[n % 4 // 2]}},
    )[n % 6]  # fmt: skip


def _of_standard(row: Json, n: int) -> Json:
    document = json.loads(json.dumps(row["document"]))
    for pen in document["pens"].values():
        pen["width"] = round(0.1 + 0.05 * (n % 5), 2)
    return {"document": {**document, "name": f"Ours {n}"}}


def _of_box(row: Json, n: int) -> Json:
    box = row["box"]
    return {"name": row["name"], "box": {**box, "high": [*box["high"][:2], 2.0 + 0.1 * (n % 4)]}}


# for each kind of row, what of it is changed how
EDITS: dict[str, Callable[[Json, int], Json]] = {
    "project": _of_project,
    "drawing": _of_drawing,
    "sheet": _of_sheet,
    "placement": _of_placement,
    "standard": _of_standard,
    "shown_set": lambda row, n: {
        "name": row["name"], "rule": {**row["rule"], "without_kinds": ([], ["slab"], ["wall"])[n % 3]}
    },
    "shared_extents": _of_box,
    "sheet_design": lambda row, n: {"document": {**row["document"], "name": f"House {n}"}},
    "annotation": lambda row, n: {"change": {"text": f"Flashing {n}"}},
    "touch_up": lambda row, n: {"style": {"ink": ("#404040", "#8a8a8a")[n % 2], "width": 0.3}},
    "callout_reference": lambda row, n: {"marker": {"bubble": [20 + n, 30]}},
    "project_table": lambda row, n: {"spec": {**row["document"]["spec"], "name": f"Table {n}", "totals": n % 2 > 0}},
    "viewpoint": lambda row, n: {
        "name": f"From {n}", "seen": {**row["document"], "eye": {"at": [9, -9, n + 1], "to": [2, 2, 1]}}
    },
    "drawing_rule": lambda row, n: (
        {"style": {**row["document"]["style"], "scale": (20, 25, 50, 100)[n % 4]}}
        if n % 3
        else {"cut": {**row["document"]["cut"], "depth": (None, 2.0, 4.0)[n % 2]}}
    ),
}  # fmt: skip


class Orders(RuleBasedStateMachine):
    """Two windows on one project, and whatever happens in them."""

    app: ClassVar[Installation]
    fresh: ClassVar[Fresh]
    hut: ClassVar[Path]
    steps: ClassVar[int] = 0

    def __init__(self) -> None:
        super().__init__()
        self.project = 0
        self.windows: list[dict[Key, Json]] = [{}, {}]
        self.written: dict[tuple[str, int, int], str] = {}  # every version that ever stood, and what it said
        self.file = self.hut
        self.issued = self.revised = self.parted = 0

    @initialize()
    def begin(self) -> None:
        self.project = self.app.import_project(self.hut)
        self.file = Path(shutil.copy(self.hut, self.hut.with_name(f"hut-{self.project}.ifc")))
        plan = self.app.call("GET", f"/api/projects/{self.project}/drawings").json[0]["id"]
        section = self.made("drawings", {"parent_id": plan, "cut": SECTION})["id"]
        sheet = self.made("sheets", {"title": "Both"})["id"]
        for x, drawing in ((60, plan), (300, section)):
            self.call("POST", f"/api/sheets/{sheet}/placements", {"drawing_id": drawing, "x": x, "y": 100})
        self.look(0)
        self.look(1)

    # -- what is there ----------------------------------------------------------------------------------

    def call(self, method: str, path: str, body: Any = None) -> Answer:
        answer = self.app.call(method, path, body)
        assert answer.status < 500, (method, path, body, answer.body)
        return answer

    def made(self, what: str, body: Json) -> Any:
        answer = self.call("POST", f"/api/projects/{self.project}/{what}", body)
        assert answer.status == 201, answer.body
        return answer.json

    def rows(self) -> dict[Key, Json]:
        """All rows of the project as the database has them."""
        with psycopg.connect(self.app.cluster.url.replace("+psycopg", "")) as connection:
            found = connection.execute(_ROWS, {"project": self.project}).fetchall()  # type: ignore[arg-type]
        return {(str(table), int(row["id"])): row for table, row in found}

    def one_of(self, table: str, n: int, rows: dict[Key, Json] | None = None) -> Json | None:
        mine = [row for (t, _), row in sorted((rows or self.rows()).items()) if t == table]
        return mine[n % len(mine)] if mine else None

    def number_of(self, table: str) -> int:
        return sum(t == table for t, _ in self.rows())

    # -- acts -------------------------------------------------------------------------------------------

    @rule(window=st.integers(0, 1))
    def look(self, window: int) -> None:
        """A window reads everything; what it edits later, it edits as it was now."""
        self.windows[window] = self.rows()

    @rule(
        window=st.integers(0, 1), table=st.sampled_from([*TABLES, "drawing", "drawing", "project", "sheet"]),
        n=st.integers(0, 11), how=st.integers(0, 59),
    )  # fmt: skip
    def edit(self, window: int, table: str, n: int, how: int) -> None:
        known = self.one_of(table, n, self.windows[window])
        if known is None:
            return
        key = (table, int(known["id"]))
        standing = self.rows().get(key)
        body = {"version": known["version"], **EDITS[table](known, how)}
        answer = self.call("PATCH", f"/api/{TABLES[table]}/{key[1]}", body)
        note(f"{answer.status} {table} {key[1]} {body}"[:300])
        if standing is None:
            assert answer.status == 404
        elif standing != known:
            assert answer.status == 409, "an edit of what no longer stands was taken"
        else:
            assert answer.status in (200, 422), answer.body
        if answer.status == 200:
            self.windows[window][key] = self.rows()[key]

    @rule(n=st.integers(0, 11), what=st.integers(0, 12))
    def make(self, n: int, what: int) -> None:
        drawing, sheet = self.one_of("drawing", n), self.one_of("sheet", n)
        plan = next(r for (t, _), r in sorted(self.rows().items()) if t == "drawing" and r["cut"]["kind"] == "plan")
        one = 0 if drawing is None else drawing["id"]
        spot = {"at": [1000 + 200 * (n % 4), 2000], "reach": 500}
        ring = [[1.0 + 0.1 * n, 0.2], [2.6, 0.9 + 0.1 * n]]
        project = f"/api/projects/{self.project}"
        kinds: list[tuple[str, str, Json]] = [
            ("drawing", f"{project}/drawings", {"parent_id": plan["id"], "cut": SECTION}),
            ("drawing", f"/api/drawings/{one}/callouts", {"region": {"points": ring}}),
            ("annotation", f"/api/drawings/{one}/annotations",
             {"spots": [spot], "document": {"kind": "note", "text": f"Note {n}", "points": [[1500, 2900]]}}),
            ("touch_up", f"/api/drawings/{one}/touch-ups",
             {"act": "mask", "ring": [[500 + 50 * n, 0], [2500, 0], [2500, 500]]}),
            ("sheet", f"{project}/sheets", {"title": f"Sheet {n}"}),
            ("placement", f"/api/sheets/{0 if sheet is None else sheet['id']}/placements", {"drawing_id": one}),
            ("standard", f"{project}/standards", {"name": f"Own {n}"}),
            ("shown_set", f"{project}/shown-sets", {"name": f"Set {n}", "rule": {"without_kinds": ["slab"]}}),
            ("shared_extents", f"{project}/shared-extents", {"name": f"Box {n}", "drawing_id": one}),
            ("callout_reference", f"/api/drawings/{one}/callout-references",
             {"region": {"points": ring}, "blank": {"width": 0.6, "height": 0.4}, "name": "Sill"}),
            ("drawing_rule", f"{project}/drawing-rules", {"name": f"Rule {n}", "drawing_id": one or None}),
            ("viewpoint", f"{project}/viewpoints",
             {"name": f"View {n}",
              "seen": {"eye": {"at": [9, 9, 9], "to": [0, 0, n]}, "opened": {"drawing": one or None}}}),
            ("project_table", f"{project}/tables",
             {"name": f"Table {n}", "kind": ("walls", "sheets", "drawings", "corrections")[n % 4]}),
        ]  # fmt: skip
        table, path, body = kinds[what]
        if self.number_of(table) < MOST:
            answer = self.call("POST", path, body)
            note(f"{answer.status} {path} {answer.body[:150]!r}")
            assert answer.status in (201, 404, 422), answer.body

    @rule(n=st.integers(0, 11))
    def design(self, n: int) -> None:
        """A sheet gets a design of the project's own."""
        sheet = self.one_of("sheet", n)
        if sheet is None or self.number_of("sheet_design") >= MOST:
            return
        made = self.made("sheet-designs", {"copy_of": ("base-strip", "side-strip")[n % 2], "name": f"D {n}"})
        self.call("PATCH", f"/api/sheets/{sheet['id']}", {"version": sheet["version"], "design": made["key"]})

    @rule(n=st.integers(0, 11), what=st.sampled_from(["standard", "shown_set", "shared_extents"]))
    def follow(self, n: int, what: str) -> None:
        """A drawing is drawn by something of the project's own."""
        drawing, own = self.one_of("drawing", n), self.one_of(what, n)
        if drawing is None or own is None:
            return
        key = f"own-{own['id']}"
        style, cut = drawing["style"], drawing["cut"]
        change = {"style": {**style, "standard": key}} if what == "standard" else {"cut": {**cut, what: key}}
        self.call("PATCH", f"/api/drawings/{drawing['id']}", {"version": drawing["version"], **change})

    @rule(n=st.integers(0, 11), which=st.integers(0, 11), keep=st.booleans())
    def give_rule(self, n: int, which: int, keep: bool) -> None:
        """A drawing follows a rule, or goes back to what its rule says."""
        drawing, own = self.one_of("drawing", n), self.one_of("drawing_rule", which)
        if drawing is None or own is None:
            return
        body = {"to": [drawing["id"]], "rule": f"own-{own['id']}", "keep": keep}
        answer = self.call("POST", f"/api/projects/{self.project}/drawings/rule", body)
        fits = answer.status == 200
        assert fits == (answer.status != 422)
        if fits and keep:
            given = answer.json[0]
            back = {"version": given["version"], "lines": given["departs"]}
            assert self.call("POST", f"/api/drawings/{drawing['id']}/rule/back", back).json["departs"] == []

    @rule(n=st.integers(0, 11), what=st.sampled_from(["hold", "let-go", "take-over"]))
    def hold(self, n: int, what: str) -> None:
        """A drawing stays as it is, shows what changed since, or follows the newest model again."""
        drawing = self.one_of("drawing", n)
        if drawing is None:
            return
        path, body = f"/api/drawings/{drawing['id']}", {"version": drawing["version"]}
        if what == "take-over":
            since = self.call("GET", f"{path}/hold")
            changed = since.json.get("changed") if since.status == 200 else []
            if not changed:
                return
            body |= {"elements": [changed[n % len(changed)]["guid"]]}
        answer = self.call("POST", f"{path}/{what}", body)
        note(f"{answer.status} {what} {drawing['id']}")
        assert answer.status in (200, 422), answer.body

    @rule(n=st.integers(0, 11), which=st.integers(0, 11), many=st.integers(0, 2))
    def place_table(self, n: int, which: int, many: int) -> None:
        """A table stands on a sheet, twice or not at all; what somebody typed into it is on the sheet."""
        sheet, table = self.one_of("sheet", n), self.one_of("project_table", which)
        if sheet is None or table is None:
            return
        places = [{"table": f"own-{table['id']}", "x": 20.0 + 200 * k, "y": 20.0, "high": 40} for k in range(many)]
        body = {"version": sheet["version"], "fields": {**sheet["fields"], "tables": places}}
        answer = self.call("PATCH", f"/api/sheets/{sheet['id']}", body)
        assert answer.status == 200, answer.body

    @rule(window=st.integers(0, 1), n=st.integers(0, 11))
    def say_ground(self, window: int, n: int) -> None:
        """Ground as it was seen last: another one, or none."""
        known = self.one_of("ground", 0, self.windows[window])
        standing = self.one_of("ground", 0)
        level = {"shape": {"kind": "level", "height": -0.5 + 0.2 * (n % 4)}, "material": ("Earth", "Gravel")[n % 2]}
        slope = {"shape": {"kind": "profile", "start": [0, 0], "end": [1, 0.2 * n], "heights": [[-3, -0.5], [9, 0.3]]}}
        grounds = ({"existing": level}, {"existing": level, "proposed": slope}, {"proposed": slope}, {})[n % 4]
        body = {"version": known["version"] if known else 0, "grounds": grounds}
        answer = self.call("PUT", f"/api/projects/{self.project}/ground", body)
        note(f"{answer.status} ground {grounds}")
        assert answer.status == (200 if standing == known else 409), answer.body
        if answer.status == 200:
            row = self.one_of("ground", 0)
            assert row is not None
            self.windows[window]["ground", row["id"]] = row

    @rule(n=st.integers(0, 11), is_a=st.sampled_from(["", "brick", "timber"]))
    def say_material_here(self, n: int, is_a: str) -> None:
        """What one wall is made of; empty: as the file says."""
        walls = self.call("GET", f"/api/projects/{self.project}/elements?words=wall").json
        row = self.one_of("project", 0)
        if not walls or row is None:
            return
        element = walls[n % len(walls)]
        said = [{"element": element["guid"], "material": element["material"], "is_a": is_a}] if is_a else []
        body = {"version": row["version"], "materials_here": said}
        answer = self.call("PATCH", f"/api/projects/{self.project}", body)
        note(f"{answer.status} {said}")
        assert answer.status == 200, answer.body

    @rule(
        n=st.integers(0, 11),
        what=st.sampled_from(["elsewhere", "taken out", "once more", "new", "of", "on", "as it is"]),
    )
    def correct(self, n: int, what: str) -> None:
        """One wall stands elsewhere, is not there, or once more; something is new; or all is as in the file."""
        walls = self.call("GET", f"/api/projects/{self.project}/elements?words=wall").json
        row = self.one_of("project", 0)
        if not walls or row is None:
            return
        of = {"elements": [walls[n % len(walls)]["guid"]]}
        acts = {
            "elsewhere": {**of, "by": [0.1, 0, 0]}, "taken out": {**of, "left_out": True},
            "once more": {**of, "copies": [[0, 0, 1 + n]]}, "new": {**UPSTAND, "reason": f"{n} times said"},
            "of": {**of, "material": f"Larch {n % 2}"}, "on": {**LINING, "element": of["elements"][0]},
        }  # fmt: skip
        said = [acts[what]] if what in acts else []
        body = {"version": row["version"], "corrections": said}
        answer = self.call("PATCH", f"/api/projects/{self.project}", body)
        note(f"{answer.status} {said}")
        assert answer.status in (200, 422), answer.body  # of a wall that a correction has taken out

    @rule(n=st.integers(0, 11), reason=st.sampled_from(["", "as agreed", "later"]))
    def leave(self, n: int, reason: str) -> None:
        found = self.call("GET", f"/api/projects/{self.project}/checks").json
        if found:
            body = {"key": found[n % len(found)]["key"], "reason": reason}
            self.call("POST", f"/api/projects/{self.project}/left-findings", body)

    @rule(table=st.sampled_from([t for t in TABLES if t not in ("project", "touch_up")]), n=st.integers(0, 11))
    def delete(self, table: str, n: int) -> None:
        row = self.one_of(table, n)
        if row is None or (table == "drawing" and row["cut"]["kind"] == "plan"):
            return
        if table == "annotation":
            path = f"/api/drawings/{row['drawing_id']}/annotations/acts"
            answer = self.call("POST", path, {"ids": [row["id"]], "act": "delete"})
        else:
            answer = self.call("DELETE", f"/api/{TABLES[table]}/{row['id']}")
        note(f"{answer.status} delete {table} {row['id']}")

    @rule(n=st.integers(0, 11))
    def take_touch_up_back(self, n: int) -> None:
        if (row := self.one_of("touch_up", n)) is not None:
            self.call("POST", f"/api/drawings/{row['drawing_id']}/touch-ups/take-back", {"ids": [row["id"]]})

    @rule(times=st.integers(1, 3))
    def undo(self, times: int) -> None:
        for _ in range(times):
            note(str(self.call("POST", f"/api/projects/{self.project}/undo").json))

    @rule(times=st.integers(1, 3))
    def redo(self, times: int) -> None:
        for _ in range(times):
            note(str(self.call("POST", f"/api/projects/{self.project}/redo").json))

    @rule(n=st.integers(0, 30))
    def go_to(self, n: int) -> None:
        steps = self.call("GET", f"/api/projects/{self.project}/history").json
        if steps:
            self.call("POST", f"/api/projects/{self.project}/history", {"act": steps[n % len(steps)]["act"]})

    @precondition(lambda self: self.revised < 2)
    @rule(n=st.integers(0, 3))
    def take_revision(self, n: int) -> None:
        self.revised += 1
        changes = (
            lambda f: higher(f, height=2500.0 + 100 * self.revised),
            lambda f: aside(f, "West", -500.0 * self.revised, 0.0),
        )
        proposed = propose(self.app, self.project, self.file, changes[n % 2])
        note(f"{proposed['state']} revision")
        if proposed["state"] == "proposed":
            self.call("POST", f"/api/imports/{proposed['id']}/take", {"anyway": True})

    @precondition(lambda self: self.parted < 4)
    @rule(n=st.integers(0, 11))
    def change_parts(self, n: int) -> None:
        """Another file beside the model's, moved, leading, taken out, and the whole as it was before."""
        self.parted += 1
        parts = self.call("GET", f"/api/projects/{self.project}/parts").json
        one = f"/api/projects/{self.project}/parts/{parts[n % len(parts)]['key']}"
        if len(parts) == 1 or n % 5 == 0:
            path = frame(self.file.with_name(f"frame-{self.project}-{self.parted}.ifc"), shift=10.0 * self.parted)
            row = self.app.upload(path.name, path.read_bytes(), into=str(self.project)).json
            proposed = self.app.finished_import(row["id"])
            note(f"{proposed['state']} part")
            if proposed["state"] == "proposed":
                self.call("PATCH", f"/api/imports/{row['id']}/part", {"place": {"x": 0.1 * n}})
                self.call("POST", f"/api/imports/{row['id']}/take", {"anyway": True})
        elif n % 5 == 1:
            self.call("PATCH", one, {"place": {"x": 0.2 * n, "turn": 90.0 * (n % 4)}})
        elif n % 5 == 2:
            self.call("PATCH", one, {"leads": True})
        elif n % 5 == 3:
            self.call("DELETE", one)
        else:
            back = self.call("POST", f"/api/projects/{self.project}/revisions/{1 + n % 2}/propose")
            if back.status == 201:
                self.call("POST", f"/api/imports/{back.json['id']}/take", {"anyway": True})

    @precondition(lambda self: self.issued < 3)
    @rule(as_issue=st.booleans())
    def publish(self, as_issue: bool) -> None:
        """The worker's pages are what the sheets are, to the byte; and what was issued stays as it is."""
        if not self.number_of("sheet"):
            return
        self.issued += 1
        if as_issue:
            done = published(self.app, self.project, issue={**ISSUE, "code": f"P{self.issued:02d}"})
            assert done["state"] == "ready", done
        done = published(self.app, self.project)
        assert done["state"] == "ready", done
        file = self.call("GET", f"/api/publications/{done['id']}/file").body
        assert digest(200, file) == self.fresh.answers(self.project)["the set"]

    # -- what always holds ------------------------------------------------------------------------------

    @invariant()
    def a_version_means_one_content(self) -> None:
        for (table, number), row in self.rows().items():
            said = json.dumps({k: v for k, v in row.items() if k != "version"}, sort_keys=True)
            known = self.written.setdefault((table, number, row["version"]), said)
            assert known == said, f"version {row['version']} of {table} {number} came twice"

    @invariant()
    def what_is_shown_is_what_stands_there(self) -> None:
        if not self.project:
            return
        type(self).steps += 1
        fresh = self.fresh.answers(self.project)
        fresh.pop("the set", None)
        drawings = self.call("GET", f"/api/projects/{self.project}/drawings").json
        sheets = self.call("GET", f"/api/projects/{self.project}/sheets").json
        shown: dict[str, str] = {}
        for path, body in paths_of(self.project, drawings, sheets):
            answer = self.call("GET" if body is None else "POST", path, body)
            shown[asked(path, body)] = digest(answer.status, answer.body)
        wrong = [path for path in sorted({*shown, *fresh}) if shown.get(path) != fresh.get(path)]
        assert not wrong, f"shown otherwise than it stands: {wrong}"

    def teardown(self) -> None:
        if self.project:
            self.app.call("DELETE", f"/api/projects/{self.project}")


@pytest.fixture
def machine(installation: Installation, tmp_path: Path) -> Iterator[type[Orders]]:
    Orders.app, Orders.fresh, Orders.hut = installation, Fresh(installation), write_hut(tmp_path / "hut.ifc")
    Orders.steps = 0
    yield Orders
    Orders.fresh.stop()


@pytest.mark.long
def test_what_is_shown_is_what_stands_there(machine: type[Orders]) -> None:
    shrinking = [Phase.shrink] if "EDGE_SLICE_TEST_SHRINK" in os.environ else []  # it takes many minutes
    run_state_machine_as_test(
        machine,
        settings=settings(
            max_examples=ORDERS, stateful_step_count=ACTS,
            phases=[Phase.generate, *shrinking], suppress_health_check=list(HealthCheck), print_blob=False,
        ),
    )  # fmt: skip
    print(f"{machine.steps} states of projects were compared")
    assert machine.steps > ORDERS
