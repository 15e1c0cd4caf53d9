"""Tables as they read, on the demo building and on rows made for it."""

from __future__ import annotations

import pytest
from pydantic import ValidationError

from edge_slice.core.model import Model
from edge_slice.core.tables.content import WrongTable, check_table, content_of, typed_in
from edge_slice.core.tables.documents import TableColumn, TableDocument, TableFilter, TableOrder, TableSpec
from edge_slice.core.tables.fields import FIELDS, LISTED, usual_table
from edge_slice.core.tables.rows import Measured, TableRow


def rooms(*said: tuple[str, str, float, float]) -> list[TableRow]:
    """Rows of rooms: number, storey, level of the storey, area."""
    return [
        TableRow(f"room:{n}", {"number": n, "name": f"Room {n}", "storey": s, "area": a}, {"Pset: Floor": "oak"}, z)
        for n, s, z, a in said
    ]


ROOMS = rooms(
    ("10", "Upper", 3.0, 12.0), ("2", "Ground", 0.0, 20.5), ("1", "Ground", 0.0, 9.25), ("11", "Roof", 6.0, 4)
)


def spec(**change: object) -> TableSpec:
    columns = [
        {"key": "number", "head": "No.", "name": "number"},
        {"key": "storey", "head": "Storey", "name": "storey"},
        {"key": "area", "head": "Area", "name": "area", "total": "sum"},
        {"key": "floor", "head": "Floor", "shows": "property", "name": "Pset: Floor", "total": "count"},
        {"key": "tax", "head": "Tax", "shows": "formula", "name": "area * 2", "decimals": 1},
        {"key": "remark", "head": "Remark", "shows": "own"},
    ]
    return TableSpec.model_validate({"name": "Rooms", "kind": "rooms", "columns": columns, **change})


def read(document: TableDocument, rows: list[TableRow] = ROOMS) -> list[tuple[str, list[str]]]:
    return [(line.what, [c.text for c in line.cells]) for line in content_of(document, rows).lines]


def test_storeys_go_upwards_rooms_as_people_count_and_groups_have_totals() -> None:
    document = TableDocument(
        spec=spec(groups=("storey",), order=(TableOrder(column="number"),)), own={"remark": {"room:2": "dark"}}
    )
    assert read(document) == [
        ("group", ["Storey: Ground", "", "", "", "", ""]),
        ("row", ["1", "Ground", "9.25", "oak", "18.5", ""]),
        ("row", ["2", "Ground", "20.50", "oak", "41.0", "dark"]),
        ("total", ["Total Ground", "", "29.75", "2", "", ""]),
        ("group", ["Storey: Upper", "", "", "", "", ""]),
        ("row", ["10", "Upper", "12.00", "oak", "24.0", ""]),
        ("total", ["Total Upper", "", "12.00", "1", "", ""]),
        ("group", ["Storey: Roof", "", "", "", "", ""]),
        ("row", ["11", "Roof", "4.00", "oak", "8.0", ""]),
        ("total", ["Total Roof", "", "4.00", "1", "", ""]),
        ("total", ["Total", "", "45.75", "4", "", ""]),
    ]


@pytest.mark.parametrize(
    ("column", "how", "value", "numbers"),
    [
        ("area", "at least", "12", ["10", "2"]), ("area", "at most", "9,25", ["1", "11"]), ("number", "is", "2", ["2"]),
        ("storey", "is not", "Ground", ["10", "11"]), ("storey", "contains", "r", ["10", "2", "1", "11"]),
        ("remark", "is empty", "", ["10", "1", "11"]), ("remark", "is filled", "", ["2"]),
    ],
)  # fmt: skip
def test_filters(column: str, how: str, value: str, numbers: list[str]) -> None:
    rule = TableFilter.model_validate({"column": column, "how": how, "value": value})
    document = TableDocument(spec=spec(filters=(rule,), totals=False), own={"remark": {"room:2": "dark"}})
    assert [cells[0] for _, cells in read(document)] == numbers


@pytest.mark.parametrize(
    ("column", "words"),
    [
        ({"name": "colour"}, "no field"),
        ({"shows": "property", "name": "Pset: Ceiling"}, "Nothing in this table has a property"),
        ({"shows": "formula", "name": "area +"}, "can't be read"),
        ({"shows": "formula", "name": "area + colour"}, "which is no column"),
        ({"shows": "formula", "name": "odd + 1"}, "need each other"),
        ({"shows": "picture", "name": "front"}, "Only elements have pictures"),
    ],
)
def test_what_means_nothing_is_refused(column: dict, words: str) -> None:
    wrong = spec().model_copy(
        update={"columns": (TableColumn.model_validate({"key": "odd", "head": "Odd", **column}),)}
    )
    with pytest.raises(WrongTable, match=words) as caught:
        check_table(wrong, ROOMS)
    assert caught.value.column == "odd"


@pytest.mark.parametrize(
    "change",
    [
        {"groups": ["nothing"]}, {"order": [{"column": "nothing"}]}, {"kind": "elements"}, {"of": "slab"},
        {"filters": [{"column": "nothing", "how": "is"}]}, {"columns": [{"key": "a", "head": "A"}] * 2},
    ],
)  # fmt: skip
def test_a_document_that_contradicts_itself_is_none(change: dict) -> None:
    with pytest.raises(ValidationError):
        spec(**change)


def test_a_property_that_the_model_lost_leaves_an_empty_column_and_a_note() -> None:
    bare = [TableRow(r.target, r.fields, {}, r.level) for r in ROOMS]
    content = content_of(TableDocument(spec=spec()), bare)
    assert [line.cells[3].text for line in content.lines if line.what == "row"] == [""] * 4
    assert content.notes == ("The model says no property “Pset: Floor” any more; its column is empty.",)


def test_only_own_columns_of_rows_that_are_there_are_typed() -> None:
    document = TableDocument(spec=spec(), own={"remark": {"room:1": "cold", "room:2": "dark"}})
    targets = {r.target for r in ROOMS}
    typed = typed_in(document, [("remark", "room:1", " warm "), ("remark", "room:2", "")], targets)
    assert typed == {"remark": {"room:1": "warm"}}
    assert document.own["remark"]["room:1"] == "cold"
    with pytest.raises(WrongTable, match="comes from the model"):
        typed_in(document, [("area", "room:1", "3")], targets)
    with pytest.raises(WrongTable, match="not in the table"):
        typed_in(document, [("remark", "room:99", "3")], targets)


def test_usual_tables_of_the_demo_read_without_a_word(demo: Model) -> None:
    measured = Measured(demo)
    for kind in FIELDS:
        if kind in LISTED:
            continue
        table = usual_table(kind, kind, "slab" if kind == "elements" else "")
        rows = measured.rows(table)
        check_table(table, rows)
        content = content_of(TableDocument(spec=table), rows)
        assert content.count == len(rows) > 0
        assert content.notes == ()


def test_doors_of_the_demo_have_their_sizes_walls_and_marks(demo: Model) -> None:
    rows = Measured(demo).rows(usual_table("Doors", "doors"))
    found = {str(r.fields["mark"]): r.fields for r in rows}
    assert len(found) == len(rows) == 13
    boat = found["D01"]
    assert (boat["width"], boat["height"], boat["sill"]) == pytest.approx((3.6, 3.0, 0.0), abs=1e-6)
    assert boat["wall"] == "Lower outer wall 1"
    assert boat["opens"] == "rolling up"
    assert all(r.fields["wall"] for r in rows)


def test_gross_and_net_areas_of_walls_differ_by_their_openings(demo: Model) -> None:
    measured = Measured(demo)
    walls = measured.rows(usual_table("Walls", "walls"))
    openings = measured.rows(usual_table("Openings", "openings"))
    holes = sum(float(o.fields["area"] or 0) for o in openings if o.fields["wall"])
    net, gross = (sum(float(w.fields[key] or 0) for w in walls) for key in ("net_area", "gross_area"))
    assert gross - net == pytest.approx(holes)
    assert holes > 50


def test_rooms_show_what_lies_in_them(demo: Model) -> None:
    rows = {str(r.fields["number"]): r.fields for r in Measured(demo).rows(usual_table("Finishes", "finishes"))}
    assert rows["2.03"]["floor"] == "Floor boards"
    assert "Plasterboard" in str(rows["1.02"]["walls"])
    assert rows["1.01"]["floor"] == "Screed"
