"""Annotations over HTTP: made on the model, changed, copied, placed in sets, printed, undone."""

from __future__ import annotations

import itertools
import re

import pytest

from edge_slice.core.render.screen import screen_arrays
from tests.http.annotating.acts import (
    act,
    add,
    listed,
    note,
    restyle,
    spot,
    touch,
    touched,
    wall_chain,
    words,
)
from tests.http.drawings.test_drawings import add_section, plan_of
from tests.installation import Installation


def test_a_note_is_tied_to_what_lies_there(installation: Installation, section: dict) -> None:
    made = note(installation, section)
    assert made["document"]["anchors"][0]["to"] == "corner"
    assert (made["state"], words(made), made["shown"]) == ("exact", ["Flashing"], True)
    leader = next(p for p in made["paths"] if p["role"] == "leader")
    assert leader["runs"][0][-1] == [50, 125]  # 1000 and 2500 mm at 1:20
    assert listed(installation, section) == [made]


def test_a_dimension_is_measured_and_follows_the_scale(installation: Installation, section: dict) -> None:
    made = wall_chain(installation, section)
    assert words(made) == ["200", "2600", "200"]
    restyle(installation, section, scale=50)
    (again,) = listed(installation, section)
    line = next(p for p in again["paths"] if p["role"] == "dimension line" and p["runs"][0][0][0] == 20)
    assert line["runs"][0][-1][0] == 80


def test_moving_rewording_and_restyling(installation: Installation, section: dict) -> None:
    made = note(installation, section)
    path = f"/api/annotations/{made['id']}"
    change = {"points": [[2000, 3100]], "text": "Flashing, welted", "height": "title"}
    moved = installation.call("PATCH", path, {"version": made["version"], "change": change})
    assert moved.status == 200, moved.body
    assert moved.json["document"]["points"] == [[2000, 3100]]
    assert words(moved.json) == ["Flashing, welted"]
    tied = installation.call("PATCH", path, {"version": moved.json["version"], "spots": {"0": spot(4000, 2500)}})
    assert tied.json["held"][0]["at"] == [4000, 2500]
    assert tied.json["document"]["points"] == [[2000, 3100]]


def test_two_people_editing_one_note(installation: Installation, section: dict) -> None:
    made = note(installation, section)
    path = f"/api/annotations/{made['id']}"
    installation.call("PATCH", path, {"version": made["version"], "change": {"text": "Mine"}})
    late = installation.call("PATCH", path, {"version": made["version"], "change": {"text": "Yours"}})
    assert (late.status, late.json["current"]["document"]["text"]) == (409, "Mine")


def test_several_are_moved_aligned_spread_copied_and_deleted_in_one_act(
    installation: Installation, hut_project: int, section: dict
) -> None:
    notes = [note(installation, section, f"Note {k}", (1500 + 40 * k, 2900 + 130 * k * k)) for k in range(4)]
    ids = [n["id"] for n in notes]
    moved = act(installation, section, ids, act="move", by=[100, 0]).json
    shifts = [m["document"]["points"][0][0] - n["document"]["points"][0][0] for m, n in zip(moved, notes, strict=True)]
    assert shifts == [100] * 4
    aligned = act(installation, section, ids, act="align", to="left").json
    assert len({round(t["texts"][0]["x"], 2) for t in aligned}) == 1
    spread = act(installation, section, ids, act="spread", to="top").json
    middles = [a["texts"][0]["y"] for a in spread]
    steps = [b - a for a, b in itertools.pairwise(middles)]
    assert steps == pytest.approx([steps[0]] * 3, abs=0.7)
    other = add_section(installation, hut_project)
    copied = act(installation, section, ids, act="copy", drawing=other["id"]).json
    assert [c["drawing_id"] for c in copied] == [other["id"]] * 4
    assert {c["state"] for c in copied} == {"exact"}
    assert act(installation, section, ids, act="delete").json == []
    assert listed(installation, section) == []
    installation.call("POST", f"/api/projects/{hut_project}/undo")
    assert len(listed(installation, section)) == 4


def test_what_would_make_no_sense_in_another_drawing_is_not_copied(
    installation: Installation, hut_project: int, section: dict
) -> None:
    """Seen along the walls, two places across them lie at one place."""
    spots = [spot(u, 1000, "point") for u in (1000, 3000)]
    chain = add(installation, section, spots, kind="dimension", points=[(1000, 2800)])
    along = add_section(
        installation, hut_project, {"kind": "section", "line": [[-1.0, 0.1], [5.0, 0.1]], "look": "left"}
    )
    answer = act(installation, section, [chain["id"]], act="copy", drawing=along["id"])
    assert (answer.status, "dimension" in answer.json["message"]) == (422, True)
    assert listed(installation, along) == []


def test_labels_layer_notes_and_levels_read_the_model(installation: Installation, section: dict) -> None:
    label = add(installation, section, [spot(1100, 1000, "inside")], kind="label", points=[(1100, 1500)],
                says=["name", "kind"])  # fmt: skip
    assert words(label) == ["South", "wall"]
    level = add(installation, section, [spot(1100, 2500, "side")], kind="spot level", points=[(1300, 2600)])
    assert words(level) == ["+2.500"]


def test_sets_are_placed_renewed_and_undone(installation: Installation, demo_project: int) -> None:
    drawings = installation.call("GET", f"/api/projects/{demo_project}/drawings").json
    plan = next(d for d in drawings if d["title"] == "Lower plan")
    path = f"/api/drawings/{plan['id']}/annotation-sets"
    made = installation.call("POST", path, {"rule": "rooms"}).json
    assert (made["added"], made["findings"]) == (5, [])
    assert installation.call("GET", f"/api/drawings/{plan['id']}").json["style"]["rooms"] is False
    first = listed(installation, plan)[0]
    moved = act(installation, plan, [first["id"]], act="move", by=[300, 0]).json[0]
    again = installation.call("POST", path, {"rule": "rooms"}).json
    assert (again["added"], again["changed"], again["removed"], again["kept"]) == (0, 0, 0, 5)
    now = next(a for a in listed(installation, plan) if a["id"] == first["id"])
    assert now["document"]["points"] == moved["document"]["points"]
    grid = installation.call("POST", path, {"rule": "grid"}).json
    assert grid["added"] == 2
    refused = installation.call("POST", path, {"rule": "openings", "subject": "no wall"})
    assert (refused.status, refused.json["field"]) == (422, "subject")
    for _ in range(3):
        installation.call("POST", f"/api/projects/{demo_project}/undo")
    assert listed(installation, plan) == []
    assert installation.call("GET", f"/api/drawings/{plan['id']}").json["style"]["rooms"] is True


def test_annotations_are_printed_and_found(installation: Installation, hut_project: int, section: dict) -> None:
    note(installation, section, "Flashing over the upstand")
    svg = installation.call("GET", f"/api/drawings/{section['id']}/export.svg").body.decode()
    assert "Flashing over the upstand" in svg
    off = restyle(installation, section, annotations=False)
    assert "Flashing" not in installation.call("GET", f"/api/drawings/{off['id']}/export.svg").body.decode()
    path = f"/api/projects/{hut_project}/annotations?words="
    found = installation.call("GET", path + "upstand%20flash").json
    assert [(f["drawing_id"], f["kind"]) for f in found] == [(section["id"], "note")]
    assert installation.call("GET", path + "nowhere").json == []


def test_sheets_show_annotations_and_their_pictures_change_with_them(
    installation: Installation, hut_project: int, section: dict
) -> None:
    sheet = installation.call("POST", f"/api/projects/{hut_project}/sheets", {"title": "Sections"}).json
    installation.call("POST", f"/api/sheets/{sheet['id']}/placements", {"drawing_id": section["id"]})
    sheets = f"/api/projects/{hut_project}/sheets"
    before = installation.call("GET", sheets).json[0]["picture"]
    note(installation, section, "On the sheet too")
    assert installation.call("GET", sheets).json[0]["picture"] != before
    assert "On the sheet too" in installation.call("GET", f"/api/sheets/{sheet['id']}/export.svg").body.decode()


def test_copies_of_a_drawing_bring_what_is_wanted(installation: Installation, section: dict) -> None:
    note(installation, section)
    touch(installation, section, act="hide", at=[1000, 1000], reach=5)
    path = f"/api/drawings/{section['id']}/copy"
    whole = installation.call("POST", path, {"name": "All of it"}).json
    bare = installation.call("POST", path, {"annotations": False, "touch_ups": False, "levels": False}).json
    assert whole["name"] == "All of it"
    assert (len(listed(installation, whole)), len(listed(installation, bare))) == (1, 0)
    assert (len(touched(installation, whole)), len(touched(installation, bare))) == (1, 0)
    assert (whole["style"]["levels"], bare["style"]["levels"]) == (True, False)
    assert len({section["letter"], whole["letter"], bare["letter"]}) == 3


def test_snaps_tell_what_can_be_tied_to(installation: Installation, section: dict) -> None:
    snaps = installation.call("GET", f"/api/drawings/{section['id']}/snaps").json
    corners = list(zip(snaps["corners"][::2], snaps["corners"][1::2], strict=False))
    assert (1000, 2500) in corners
    assert (4000, 2500) in corners
    assert [level["name"] for level in snaps["levels"]] == ["Ground"]


@pytest.mark.parametrize(
    ("document", "word"),
    [
        ({"kind": "note", "text": "x" * 100_000}, "4000"),
        ({"kind": "note", "text": "a\u0007b"}, "control"),
        ({"kind": "note", "text": "a\u0000b"}, "U+0000"),
        ({"kind": "no such"}, "tag"),
        ({"kind": "dimension"}, "two references"),
    ],
)
def test_impossible_annotations_are_refused(
    installation: Installation, section: dict, document: dict, word: str
) -> None:
    body = {"spots": [spot(0, 0)], "document": {"points": [[0, 0]], **document}}
    answer = installation.call("POST", f"/api/drawings/{section['id']}/annotations", body)
    assert (answer.status, word in answer.json["message"]) == (422, True), answer.body
    assert listed(installation, section) == []


def test_an_annotation_far_outside_is_kept_and_told(installation: Installation, section: dict) -> None:
    made = note(installation, section, at=(1e8, -1e8))
    assert made["shown"] is False
    assert any("note margin" in f for f in made["findings"])


def test_what_a_deleted_drawing_had_comes_back_with_it(installation: Installation, section: dict) -> None:
    note(installation, section)
    touch(installation, section, act="hide", at=[1000, 1000], reach=5)
    assert installation.call("DELETE", f"/api/drawings/{section['id']}").status == 204
    installation.call("POST", f"/api/projects/{section['project_id']}/undo")
    assert (len(listed(installation, section)), len(touched(installation, section))) == (1, 1)


def test_a_blank_detail_takes_annotations(installation: Installation, hut_project: int) -> None:
    plan = plan_of(installation, hut_project)
    body = {"region": {"points": [[0.5, 0.5], [2, 2]]}, "blank": {"width": 0.5, "height": 0.4}}
    made = installation.call("POST", f"/api/drawings/{plan['id']}/callout-references", body).json
    blank = installation.call("GET", f"/api/drawings/{made['target_id']}").json
    drawn = add(installation, blank, [spot(100, 100)], kind="line", points=[(100, 100), (400, 300)])
    assert drawn["shown"]


@pytest.mark.parametrize("kind", ["plan", "section"])
def test_screen_and_print_place_names_of_rooms_alike_clear_of_a_note(
    installation: Installation, demo_project: int, kind: str
) -> None:
    app = installation
    if kind == "plan":
        drawing = plan_of(app, demo_project)
    else:
        cut = {"kind": "section", "line": [[-2, 2.4], [23.6, 2.4]], "depth": 3}
        drawing = add_section(app, demo_project, cut)
        drawing = restyle(app, drawing, section_rooms=True, shown_markers=[], callouts=False)

    def on_screen() -> dict[str, tuple[float, float]]:
        head, _ = screen_arrays(app.call("GET", f"/api/drawings/{drawing['id']}/view").body)
        return {t["text"]: (t["x"], t["y"]) for t in head["labels"] if t["role"].startswith("room")}

    before = on_screen()
    name = next(n for n in before if n.isalpha() or " " in n)
    scale = drawing["style"]["scale"]
    at = (before[name][0] * scale, before[name][1] * scale)
    made = add(app, drawing, [spot(*at)], kind="note", text="Here stood the name", points=[at])
    after = on_screen()
    assert after[name] != before[name]
    svg = app.call("GET", f"/api/drawings/{drawing['id']}/export.svg").body.decode()
    printed = {
        text: (float(x), float(y))
        for x, y, text in re.findall(r'<text class="room[^"]*"[^>]*? x="([^"]+)" y="([^"]+)"[^>]*>([^<]+)</text>', svg)
    }
    assert set(printed) == set(after)
    offsets = {(round(printed[t][0] - after[t][0], 1), round(printed[t][1] + after[t][1], 1)) for t in after}
    assert len(offsets) == 1  # the page of a print begins elsewhere
    app.call("DELETE", f"/api/annotations/{made['id']}")
    if kind == "section":
        app.call("DELETE", f"/api/drawings/{drawing['id']}")


def test_a_line_measures_what_it_crosses(installation: Installation, hut_project: int) -> None:
    app = installation
    section = add_section(app, hut_project)
    path = f"/api/drawings/{section['id']}/crossed-lines"
    made = app.call("POST", path, {"line": [[-2000, 1500], [9000, 1500]]})
    assert made.status == 201, made.body
    document = made.json["document"]
    assert (document["kind"], document["rule"]) == ("dimension", "")
    assert len(made.json["texts"]) == len(document["anchors"]) - 1 >= 1
    nothing = app.call("POST", path, {"line": [[-2000, 90_000], [9000, 90_000]]})
    assert nothing.status == 422
    assert "crosses no two sides" in nothing.json["message"]
    assert len(app.call("GET", f"/api/drawings/{section['id']}/annotations").json) == 1
