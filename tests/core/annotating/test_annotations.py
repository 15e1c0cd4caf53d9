"""Annotations on a drawing: their values are measured, their words read from the model, their places follow it."""

from __future__ import annotations

from dataclasses import replace
from typing import get_args

import numpy as np
import pytest
import shapely
from pydantic import ValidationError

from edge_slice.core.annotating.board import Board
from edge_slice.core.annotating.compose import SKETCHES, Composed, composed, with_annotations
from edge_slice.core.annotating.documents import (
    ANNOTATION,
    Angle,
    AnyAnnotation,
    Area,
    Dimension,
    LabelNote,
    LayerNote,
    LineWork,
    Note,
    Radius,
    Slope,
    SpotLevel,
    Symbol,
    Wording,
)
from edge_slice.core.annotating.set_rules import SETS, Rule
from edge_slice.core.annotating.sets import LABELS, PLACES
from edge_slice.core.cut import BlankCut, Extents, PlanCut, SectionCut, cut_model
from edge_slice.core.cut.anchors.anchor import Anchor
from edge_slice.core.cut.anchors.anchoring import anchor_at, level_anchor, point_anchor, room_anchor
from edge_slice.core.cut.spec import Break
from edge_slice.core.drawing import DrawingSpec, Label, Paths, compose_drawing, default_standard
from edge_slice.core.drawing.texts.lettering import text_width
from edge_slice.core.drawing.texts.text_lines import wrapped
from edge_slice.core.model import Model, Space
from edge_slice.core.project.kinds import KINDS, DrawingKind
from tests.walls import Wall, house, with_thickness

SECTION = SectionCut(line=((-5, 0), (30, 0)), depth=5, extents=Extents(base=-1, top=5))
WALL = Wall("wall-0", 1.0)
STANDARD = default_standard()


def board(model: Model, cut: SectionCut | PlanCut | BlankCut = SECTION, scale: float = 10.0) -> Board:
    spec = DrawingSpec(scale=scale, lengths="mm")
    return Board.of(model, cut_model(model, cut, STANDARD.cut_rules(model)), cut, spec, STANDARD)


def on(model: Model) -> Board:
    return board(model)


def texts(found: Composed) -> list[str]:
    return [item.text for item in found.items if isinstance(item, Label)]


def free(b: Board, u: float, v: float) -> Anchor:
    return point_anchor(b.features, u, v)


def sides(b: Board, *us: float, v: float = 1000.0) -> tuple[Anchor, ...]:
    return tuple(anchor_at(b.features, u, v, 2.0, ("side",)) for u in us)


def test_chain_measures_every_stretch() -> None:
    b = on(house((WALL,), True))
    document = Dimension(anchors=sides(b, 6000, 6100, 6220, 6360, 6380), points=((6000, 2800),))
    found = composed(b, document, "annotation:1")
    assert texts(found) == ["100", "120", "140", "20"]
    assert {item.source for item in found.items} == {"annotation:1"}
    line = next(i for i in found.items if isinstance(i, Paths) and i.role == "dimension line" and len(i.points) == 2)
    assert line.points.tolist() == pytest.approx(np.array([[600, 280], [638, 280]]))


def test_chain_keeps_its_order_and_forgets_doubles() -> None:
    b = on(house((WALL,), True))
    document = Dimension(anchors=sides(b, 6380, 6000, 6380, 6100), points=((6000, 2800),))
    assert texts(composed(b, document, "a")) == ["100", "280"]


def test_running_dimensions_measure_from_the_first() -> None:
    b = on(house((WALL,), True))
    document = Dimension(form="running", anchors=sides(b, 6000, 6100, 6220), points=((6000, 2800),))
    assert texts(composed(b, document, "a")) == ["0", "100", "220"]


def test_dimension_follows_a_wall_that_became_thicker_and_says_so() -> None:
    before = on(house((WALL,), True))
    document = Dimension(anchors=sides(before, 6000, 6380), points=((6000, 2800),))
    after = on(house((with_thickness(WALL, 1, 0.2),), True))
    found = composed(after, document, "a")
    assert (texts(found), found.state) == (["460"], "near")
    gone = composed(on(house((Wall("other", 9.0),), True)), document, "a")
    assert (texts(gone), gone.state) == (["380"], "lost")
    assert sum(item.role == "lost sign" for item in gone.items) == 4
    assert any("not there any more" in f for f in gone.findings)


def test_values_that_do_not_fit_step_aside() -> None:
    """No text of a chain lies over another one or over a witness line's tick."""
    b = board(house((WALL,), True), scale=50)
    document = Dimension(anchors=sides(b, 6000, 6100, 6220, 6360, 6380), points=((6000, 2800),))
    labels = [item for item in composed(b, document, "a").items if isinstance(item, Label)]
    boxes = [(x.x - text_width(x.text, x.height) / 2, x.x + text_width(x.text, x.height) / 2, x.y) for x in labels]
    for k, (left, right, y) in enumerate(boxes):
        for other_left, other_right, other_y in boxes[k + 1 :]:
            assert right <= other_left or other_right <= left or abs(y - other_y) > labels[0].height


def test_typed_values_are_marked() -> None:
    b = on(house((WALL,), True))
    made = {"kind": "dimension", "anchors": [a.model_dump() for a in sides(b, 6000, 6380)], "points": [(6000, 2800)],
            "said": [{"index": 0, "typed": "ca. 400"}]}  # fmt: skip
    found = composed(b, ANNOTATION.validate_python(made), "a")
    assert texts(found) == ["ca. 400"]
    assert found.by_hand
    assert any(item.role == "typed value" for item in found.items)


def test_dimension_across_a_break_tells_the_true_length_and_is_broken_too() -> None:
    cut = SECTION.model_copy(update={"extents": Extents(base=-1, top=5, breaks=(Break(axis="v", start=0.5, end=2.0),))})
    b = board(house((WALL,), True), cut)
    document = Dimension(anchors=(free(b, 5500, 0), free(b, 5500, 2500)), points=((5400, 0),), direction=90)
    found = composed(b, document, "a")
    assert texts(found) == ["2500"]
    assert any(item.role == "dimension break" for item in found.items)
    line = next(i for i in found.items if isinstance(i, Paths) and i.role == "dimension line")
    assert float(np.ptp(line.points[:, 1])) == pytest.approx(250 - 150 + STANDARD.breaks.gap)


def test_witness_lines_are_adjusted_one_by_one() -> None:
    b = on(house((WALL,), True))
    anchors = sides(b, 6000, 6380)
    plain = composed(b, Dimension(anchors=anchors, points=((6000, 2800),)), "a")
    changed = {"kind": "dimension", "anchors": [a.model_dump() for a in anchors], "points": [(6000, 2800)],
               "witness": [{"index": 0, "shown": False}, {"index": 1, "length": 20}]}  # fmt: skip
    found = composed(b, ANNOTATION.validate_python(changed), "a")
    lines = [[i for i in c.items if isinstance(i, Paths) and i.role == "witness line"] for c in (plain, found)]
    assert [len(x) for x in lines] == [2, 1]
    assert float(np.ptp(lines[1][0].points[:, 1])) == pytest.approx(20 + STANDARD.annotations.over)
    off = ANNOTATION.validate_python({**changed, "witness": [{"index": 0, "start": 3}]})
    (usual, later), (moved, same) = lines[0], [i for i in composed(b, off, "a").items if i.role == "witness line"]
    assert float(np.ptp(usual.points[:, 1]) - np.ptp(moved.points[:, 1])) == pytest.approx(3)  # type: ignore[union-attr]
    assert np.array_equal(later.points, same.points)  # type: ignore[union-attr]


def test_layer_note_names_the_layers_in_the_order_of_its_side() -> None:
    b = on(house((WALL,), True))
    inside = anchor_at(b.features, 6300, 1000, 2.0, ("inside",))
    right = composed(b, LayerNote(anchors=(inside,), points=((7000, 1500),)), "a")
    left = composed(b, LayerNote(anchors=(inside,), points=((5500, 1500),), align="right"), "a")
    said = ["100 Brick", "120 Insulation", "140 Block", "20 Plaster"]
    assert texts(left) == said
    assert texts(right) == said[::-1]
    dots = [i for i in right.items if i.role == "leader end" and isinstance(i, Paths)]
    assert sorted(round(float(d.points[:, 0].mean()), 2) for d in dots) == pytest.approx([605, 616, 629, 637])


def test_wording_by_hand_stays_and_says_when_the_model_changed_under_it() -> None:
    b = on(house((WALL,), True))
    inside = anchor_at(b.features, 6300, 1000, 2.0, ("inside",))
    wording = (Wording(layer=1, text="Insulation, two layers, joints staggered", instead_of="120 Insulation"),)
    document = LayerNote(anchors=(inside,), points=((5500, 1500),), align="right", wording=wording)
    found = composed(b, document, "a")
    assert texts(found)[1] == "Insulation, two layers, joints staggered"
    assert found.by_hand
    assert not found.findings
    thicker = composed(on(house((with_thickness(WALL, 1, 0.16),), True)), document, "a")
    assert any("the model now says “160 Insulation”" in f for f in thicker.findings)


def test_layer_note_of_a_wall_that_is_gone_keeps_its_words() -> None:
    b = on(house((WALL,), True))
    inside = anchor_at(b.features, 6300, 1000, 2.0, ("inside",))
    wording = (Wording(layer=1, text="Mine", instead_of="120 Insulation"),)
    document = LayerNote(anchors=(inside,), points=((5500, 1500),), wording=wording)
    found = composed(on(house((Wall("other", 9.0),), True)), document, "a")
    assert (found.state, texts(found)) == ("lost", ["Mine"])


def rooms(number: str = "1.01") -> Model:
    outline = ((2.0, -1.0), (6.0, -1.0), (6.0, 2.0), (2.0, 2.0))
    return replace(house((WALL,), True), spaces=(Space("room-1", number, "Studio", 0, outline, 0.0, 2.5),))


def test_labels_read_the_model_and_say_when_their_words_are_old() -> None:
    b = board(rooms(), PlanCut(storey="storey-0", height=1.2))
    anchor = room_anchor(b.features, "room-1", 4000, 0)
    document = LabelNote(anchors=(anchor,), points=((4000, 0),), subject="room-1", says=("number", "name", "area"))
    assert texts(composed(b, document, "a")) == ["1.01", "Studio", "12.0 m²"]
    renumbered = board(rooms("1.07"), b.cut)  # type: ignore[arg-type]
    assert texts(composed(renumbered, document, "a"))[0] == "1.07"
    typed = document.model_copy(update={"text": "The studio", "instead_of": "1.01\nStudio\n12.0 m²"})
    found = composed(renumbered, typed, "a")
    assert texts(found) == ["The studio"]
    assert found.findings


def test_label_of_a_room_that_moved_away_goes_with_it_and_says_so() -> None:
    b = board(rooms(), PlanCut(storey="storey-0", height=1.2))
    label = LabelNote(anchors=(room_anchor(b.features, "room-1", 4000, 0),), points=((4000, 0),), subject="room-1")
    outline = ((12.0, -1.0), (16.0, -1.0), (16.0, 2.0), (12.0, 2.0))
    there = replace(rooms(), spaces=(replace(rooms().spaces[0], outline=outline),))
    found = composed(board(there, b.cut), label, "a")  # type: ignore[arg-type]
    assert found.state == "near"
    assert 12_000 < found.held[0].at[0] < 16_000


def test_label_has_a_leader_only_when_it_stands_far_away() -> None:
    b = on(house((WALL,), True))
    anchor = anchor_at(b.features, 6300, 1000, 2.0, ("inside",))
    near = LabelNote(anchors=(anchor,), points=((6310, 1000),), subject="wall-0")
    for document, leaders in ((near, 0), (near.model_copy(update={"points": ((7500, 1000),)}), 1)):
        assert sum(i.role == "leader" for i in composed(b, document, "a").items) == leaders


def test_spot_levels_slopes_angles_and_radii() -> None:
    b = on(house((WALL,), True))
    top = anchor_at(b.features, 6050, 2500, 2.0, ("side",))
    level = SpotLevel(anchors=(top,), points=((6050, 2600),))
    assert texts(composed(b, level, "a")) == ["+2.500"]
    a, c, d = free(b, 0, 0), free(b, 2000, 100), free(b, 0, 2000)
    assert texts(composed(b, Slope(anchors=(a, c), points=((1000, 200),)), "a")) == ["5.0 %"]
    ratio = ANNOTATION.validate_python(
        {"kind": "slope", "as": "ratio", "anchors": [a.model_dump(), c.model_dump()], "points": [(1000, 200)]}
    )
    assert texts(composed(b, ratio, "a")) == ["1:20.0"]
    right = Angle(anchors=(a, free(b, 2000, 0), d), points=((300, 300),))
    assert texts(composed(b, right, "a")) == ["90.0°"]
    assert texts(composed(b, right.model_copy(update={"points": ((-300, -300),)}), "a")) == ["270.0°"]
    curve = (free(b, 1000, 0), free(b, 0, 1000), free(b, -1000, 0))
    assert texts(composed(b, Radius(anchors=curve, points=((700, 700),)), "a")) == ["R 1000"]


def test_spot_level_on_a_plan_is_that_of_what_is_seen() -> None:
    low = Wall("low", 1.0, base=-0.4, top=0.55)
    b = board(house((low, Wall("high", 8.0)), True), PlanCut(storey="storey-0", height=1.2, depth=2.0))
    u, v = b.result.axes.to_drawing(np.array([[1.1, 0.0, 1.2]]))[0, :2].tolist()
    document = SpotLevel(anchors=(free(b, u, v),), points=((u + 500, v),))
    assert texts(composed(b, document, "a")) == ["+0.550"]
    nothing = composed(b, SpotLevel(anchors=(free(b, u + 3000, v),), points=((u, v),)), "a")
    assert nothing.findings


def test_letters_stand_in_gaps_of_their_line() -> None:
    b = on(house((WALL,), True))
    line = LineWork(anchors=(free(b, 0, 0),), points=((0, -500), (2000, -500)), line_type="foul drain")
    found = composed(b, line, "a")
    letters = [i for i in found.items if isinstance(i, Label)]
    assert len(letters) == 8  # 200 mm, one each 25 mm
    (drawn,) = (i for i in found.items if isinstance(i, Paths))
    starts, ends = drawn.points[drawn.starts[:-1], 0], drawn.points[drawn.starts[1:] - 1, 0]
    for letter in letters:
        assert not ((starts < letter.x) & (ends > letter.x)).any()


def test_curves_go_through_their_points() -> None:
    b = on(house((WALL,), True))
    points = ((0.0, 0.0), (500.0, 400.0), (1200.0, -300.0), (1500.0, 0.0))
    spline = LineWork(anchors=(free(b, 0, 0),), points=points, form="spline")
    (drawn,) = (i for i in composed(b, spline, "a").items if isinstance(i, Paths))
    for point in np.array(points) / 10:
        assert float(np.hypot(*(drawn.points - point).T).min()) < 1e-6
    arc = LineWork(anchors=(free(b, 0, 0),), points=((1000, 0), (0, 1000), (-1000, 0)), form="arc")
    (drawn,) = (i for i in composed(b, arc, "a").items if isinstance(i, Paths))
    assert np.hypot(*drawn.points.T) == pytest.approx(100.0, abs=1e-6)
    assert (drawn.points[:, 1] > -1e-6).all()


@pytest.mark.parametrize("form", ["polyline", "spline", "cloud", "rectangle"])
def test_a_line_to_the_moon_costs_little(form: str) -> None:
    b = on(house((WALL,), True))
    document = {"kind": "line", "form": form, "line_type": "fence", "points": [(0, 0), (9e8, 9e8)],
                "anchors": [free(b, 0, 0).model_dump()]}  # fmt: skip
    found = composed(b, ANNOTATION.validate_python(document), "a")
    assert sum(len(i.points) for i in found.items if isinstance(i, Paths)) < 200_000
    assert len(texts(found)) <= 200


def test_area_is_hatched_within_its_outline() -> None:
    b = on(house((WALL,), True))
    area = Area(anchors=(free(b, 0, 0),), points=((0, 0), (1000, 1000)), form="rectangle", hatch="rigid insulation")
    found = composed(b, area, "a")
    hatch = np.concatenate([i.points for i in found.items if isinstance(i, Paths) and i.role == "hatch"])
    assert len(hatch)
    assert hatch.min() > -1e-6
    assert hatch.max() < 100 + 1e-6
    unknown = composed(b, area.model_copy(update={"hatch": "no such"}), "a")
    assert any("not in the drawing standard" in f for f in unknown.findings)


@pytest.mark.parametrize("text", ["中文 note", "שלום, line\nשתיים", "Łazienka"])
def test_notes_are_written_in_any_script(text: str) -> None:
    b = on(house((WALL,), True))
    found = composed(b, Note(anchors=(free(b, 0, 0),), points=((500, 500),), text=text), "a")
    assert texts(found) == text.split("\n")
    assert not found.findings
    left, _, right, _ = found.box
    assert right - left >= max(text_width(line, STANDARD.text.label) for line in text.split("\n"))


def test_letters_that_no_face_has_are_a_finding() -> None:
    b = on(house((WALL,), True))
    found = composed(b, Note(anchors=(free(b, 0, 0),), points=((500, 500),), text="Sign 𓀀"), "a")
    assert any("U+13000" in f for f in found.findings)


@pytest.mark.parametrize("name", sorted(set(STANDARD.hatches) - {"none"}))
def test_every_hatch_of_the_standard_fills_an_area(name: str) -> None:
    b = on(house((WALL,), True))
    area = Area(anchors=(free(b, 0, 0),), points=((0, 0), (3000, 2000)), form="rectangle", hatch=name, outline=False)
    found = composed(b, area, "a")
    assert any(isinstance(i, Paths) and i.role == "hatch" and len(i.points) for i in found.items)
    assert not found.findings


def test_earth_in_an_area_hangs_from_its_upper_side() -> None:
    b = on(house((WALL,), True))
    corners = ((0, 0), (4000, 0), (4000, 1000), (2000, 2000), (0, 1000))
    area = Area(anchors=(free(b, 0, 0),), points=corners, form="polyline", hatch="earth", outline=False)
    hatch = np.concatenate([i.points for i in composed(b, area, "a").items if i.role == "hatch"])
    roof = shapely.LineString([(400, 100), (200, 200), (0, 100)])
    reach = STANDARD.hatches["earth"].edge.length
    assert shapely.distance(shapely.points(hatch), roof).max() <= reach + 1e-6
    assert np.ptp(hatch[:, 0]) > 350


def test_every_symbol_of_the_standard_is_drawn() -> None:
    b = on(house((WALL,), True))
    for name in STANDARD.annotations.symbols:
        found = composed(b, Symbol(anchors=(free(b, 0, 0),), points=((500, 500),), symbol=name, angle=30), "a")
        assert found.items
        assert not found.findings
    assert composed(b, Symbol(anchors=(free(b, 0, 0),), points=((500, 500),), symbol="none such"), "a").findings


def test_north_points_to_true_north() -> None:
    model = replace(house((WALL,), True), north=(1.0, 0.0))
    b = board(model, PlanCut(storey="storey-0", height=1.2))
    found = composed(b, Symbol(anchors=(free(b, 0, 0),), points=((0, 0),), symbol="north"), "a")
    points = np.concatenate([i.points for i in found.items if isinstance(i, Paths)])
    tip = points[np.hypot(*points.T).argmax()]
    assert tip == pytest.approx([7, 0], abs=1e-6)


def test_note_wraps_and_its_leader_ends_at_the_anchor() -> None:
    b = on(house((WALL,), True))
    corner = anchor_at(b.features, 6000, 2500, 2.0, ("corner",))
    note = Note(anchors=(corner,), points=((7000, 2800),), text="One two three four five six seven", width=30)
    found = composed(b, note, "a")
    assert len(texts(found)) > 1
    assert all(text_width(t, STANDARD.text.label) <= 30 for t in texts(found))
    leader = next(i for i in found.items if isinstance(i, Paths) and i.role == "leader")
    assert leader.points[-1].tolist() == pytest.approx([600, 250])


def test_words_longer_than_the_width_stay_whole() -> None:
    assert wrapped("Kalksandsteinmauerwerk ok\n\nlast", 10, 2.5) == ["Kalksandsteinmauerwerk", "ok", "", "last"]


def test_outside_the_note_margin_it_is_not_printed_and_that_is_a_finding() -> None:
    b = on(house((WALL,), True))
    far = Note(anchors=(free(b, 0, 0),), points=((-3000, 0),), text="Far away", leaders=False)
    near = Note(anchors=(free(b, 0, 0),), points=((100, 0),), text="Near", leaders=False)
    found = [composed(b, document, "a") for document in (far, near)]
    drawing = compose_drawing(b.model, b.result, b.cut, b.spec, STANDARD)
    printed = with_annotations(drawing, found)
    said = [item.text for item in printed.items if isinstance(item, Label)]
    assert "Near" in said
    assert "Far away" not in said
    assert any("note margin" in f for f in printed.findings)


def test_annotations_stand_on_a_blank_detail_too() -> None:
    b = board(house((WALL,), True), BlankCut(width=1.0, height=0.5))
    note = Note(anchors=(free(b, 200, 200),), points=((200, 200),), text="By hand", leaders=False)
    assert composed(b, note, "a").shown


def test_annotation_stays_at_its_place_in_the_building_when_the_line_starts_elsewhere() -> None:
    model = house((WALL,), True)
    b = on(model)
    line = LineWork(anchors=(free(b, 5000, 0),), points=((5000, 0), (6000, 0)))
    longer = board(model, SECTION.model_copy(update={"line": ((-8, 0), (30, 0))}))
    (drawn,) = (i for i in composed(longer, line, "a").items if isinstance(i, Paths))
    assert drawn.points[:, 0].tolist() == pytest.approx([800, 900])


@pytest.mark.parametrize(
    ("document", "word"),
    [
        ({"kind": "note", "text": "a\x07b"}, "control"),
        ({"kind": "note", "text": "x" * 100_000}, "4000"),
        ({"kind": "dimension"}, "two references"),
        ({"kind": "angle"}, "three references"),
        ({"kind": "line", "points": [(0, 0), (0, 0)]}, "no length"),
        ({"kind": "area", "points": [(0, 0), (1, 1)]}, "three corners"),
        ({"kind": "picture", "image": "0" * 64, "points": [(0, 0)]}, "two opposite"),
        ({"kind": "note", "text": "x", "points": [(float("nan"), 0)]}, "finite"),
    ],
)
def test_impossible_annotations_are_refused(document: dict[str, object], word: str) -> None:
    with pytest.raises(ValidationError, match=word):
        ANNOTATION.validate_python({"anchors": [{}], "points": [(0, 0)], **document})


def test_every_annotation_has_grips_and_a_box() -> None:
    b = on(house((WALL,), True))
    a, c = free(b, 0, 0), free(b, 1000, 400)
    documents: list[AnyAnnotation] = [
        Note(anchors=(a,), points=((100, 100),), text="Note"),
        Dimension(anchors=(a, c), points=((0, 500),)),
        Slope(anchors=(a, c), points=((0, 500),)),
        LineWork(anchors=(a,), points=((0, 0), (500, 0))),
        Symbol(anchors=(a,), points=((0, 0),), symbol="break"),
    ]
    for document in documents:
        found = composed(b, document, "a")
        assert found.grips
        left, base, right, top = found.box
        assert right >= left
        assert top >= base


def test_level_dimension_across_storeys(demo: Model) -> None:
    cut = SectionCut(line=((-3, 2.1), (25, 2.1)), depth=5)
    b = board(demo, cut, 50)
    levels = tuple(level_anchor(b.features, s.guid, 1000) for s in demo.storeys[:3])
    found = composed(b, Dimension(anchors=levels, points=((500, 0),), direction=90), "a")
    assert texts(found) == ["900", "3300"]


def test_every_kind_is_drawn_and_every_set_and_kind_of_drawing_listed() -> None:
    assert set(SKETCHES) == set(get_args(AnyAnnotation))
    assert set(SETS) == {*PLACES, *LABELS} == set(get_args(Rule))
    assert set(KINDS) == set(get_args(DrawingKind))
