"""The documented set of the demo: plans, sections, a wall section with its junctions, on sheets."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from edge_slice.app.annotating import anchors, drawing_annotations, touch_ups
from edge_slice.app.annotating.documents import AnnotationNew, Settling, SetWanted
from edge_slice.app.drawings import lineage, wall_sections
from edge_slice.app.drawings.callout_documents import WallSectionNew
from edge_slice.app.drawings.documents import DrawingEdit, DrawingNew, DrawingOut, DrawingSet
from edge_slice.app.errors import Refused
from edge_slice.app.projects import viewpoints
from edge_slice.app.projects.viewpoints import ViewpointNew
from edge_slice.app.rules import acts
from edge_slice.app.rules.documents import DrawingRuleNew, RuleGiven
from edge_slice.app.sheets import numbered_sheets, placements
from edge_slice.app.sheets.documents import Arrangement, SheetEdit, SheetNew
from edge_slice.app.tables import acts as tables
from edge_slice.app.tables.documents import TableNew
from edge_slice.core.annotating.set_rules import Rule
from edge_slice.core.annotating.spots import Spot
from edge_slice.core.cut import Extents, SectionCut
from edge_slice.core.cut.spec import TakingPlane
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.spec import SurfaceStyle
from edge_slice.core.drawing.sunlight import Sun
from edge_slice.core.drawing.touching.touched_bodies import Pointed
from edge_slice.core.project.documents import SheetFields, TablePlace
from edge_slice.core.project.viewpoints import Eye, Looks, OpenedBy, Seen
from edge_slice.core.sheet import SheetSize
from edge_slice.core.tables.documents import Kind

NOBODY = ""
FIELDS = SheetFields(revision="P01", date="2026-11-26", drawn="EF", checked="MT")
Place = tuple[float, float]


def document(project: int) -> None:
    """Make the set."""
    plans = {d.title: d for d in lineage.list_drawings(project) if d.kind == "plan"}
    lower = plans["Lower plan"]
    sections = [_section(project, lower, *made) for made in SECTIONS]
    wall, *junctions = _wall_section(project, lower)
    sections += [_section(project, lower, *made) for made in MORE_SECTIONS]
    sections[1] = _shown(sections[1], appearance="presentation")
    site = _site_plan(project, plans)
    elevations = [
        _shown(drawing, appearance="presentation")
        for drawing in lineage.add_drawing_set(project, DrawingSet(kind="elevations", scale=100), NOBODY)
    ]
    _ruled(project, "Working", sections)
    _ruled(project, "Presented", elevations)
    for plan in plans.values():
        _sets(plan, "rooms", "doors", "windows", "grid")
    for section in sections:
        _sets(section, "levels", "grid")
    _sets(wall, "levels")
    _notes_on(wall, WALL_NOTES)
    for junction, worked in zip(junctions, JUNCTIONS, strict=True):
        _sets(junction, "layers")
        _notes_on(junction, worked.notes)
        for spots, line, direction in worked.chains:
            _chain(junction, spots, line, direction)
        for touch_up in worked.touched:
            touch_ups.add_touch_up(junction.id, touch_up, NOBODY)
    for elevation in elevations:
        _sets(elevation, "levels")
    _sheet(project, "A-001", "Drawing list", "A3", "cover", [])
    _sheet(project, "A-101", "Plans", "A1", "side-strip", list(plans.values()))
    _sheet(project, "A-102", "Roofs and grounds", "A2", "side-strip", [site])
    _sheet(project, "A-201", "Elevations", "A1", "side-strip", elevations)
    _sheet(project, "A-301", "Sections", "A0", "side-strip", sections)
    _sheet(project, "A-401", "South wall and its junctions", "A0", "side-strip", [wall, *junctions])
    _tables(project)
    _viewpoints(project, sections[0])


def _viewpoints(project: int, section: DrawingOut) -> None:
    """What a presentation of the station walks through."""
    house = (11.0, 5.0, 3.0)
    floor = TakingPlane(point=(11.0, 5.0, 4.4), normal=(0.0, 0.0, 1.0))
    for name, seen in (
        ("From the shore", Seen(
            eye=Eye(at=(-25.0, -35.0, 14.0), to=house), says="The station stands on the edge of the estuary."
        )),
        ("Laboratories, opened", Seen(
            eye=Eye(at=(11.0, -28.0, 12.0), to=house), opened=OpenedBy(drawing=section.id),
            says="Wet work below, dry work above.",
        )),
        ("The upper floor", Seen(
            eye=Eye(at=(11.0, -10.0, 38.0), to=house, flat=True), opened=OpenedBy(plane=floor),
            looks=Looks(removed="outline"),
        )),
    ):  # fmt: skip
        viewpoints.add_viewpoint(project, ViewpointNew(name=name, seen=seen), NOBODY)


def settle_all(project: int) -> None:
    """Take all that moved with the model for right where it is."""
    near = [a for a in anchors.unsettled(project) if a.state == "near"]
    annotations, touch_ups, callouts = (
        [a.id for a in near if a.what == what] for what in ("annotation", "touch-up", "callout")
    )
    if near:
        wanted = Settling(annotations=annotations, touch_ups=touch_ups, callouts=callouts, how="accept")
        anchors.settle(project, wanted, NOBODY)


SECTIONS = (
    ("Long section through the laboratories", ((-2.0, 2.4), (23.6, 2.4)), 6.0),
    ("Cross section through the lookout", ((18.8, -2.5), (18.8, 12.0)), 6.0),
)
MORE_SECTIONS = (
    ("Long section through the stores", ((-2.0, 8.2), (23.6, 8.2)), 6.0),
    ("Cross section through the boat bay", ((3.6, -2.5), (3.6, 12.0)), 6.0),
)
# tables: name, kind, and their places on the sheet (left, base, width, height, mm)
TABLES: tuple[tuple[str, Kind, tuple[tuple[float, float, float, float], ...]], ...] = (
    ("Doors", "doors", ((30, 270, 330, 300),)),
    ("Windows", "windows", ((380, 100, 300, 470),)),
    ("Rooms", "rooms", ((30, 90, 250, 170),)),
    ("Walls by build-up", "walls", ()),
    ("Layers", "layers", ()),
)
AFTERNOON = Sun(by="bearing", bearing=215.0, height=42.0)
WALL_AT: Place = (16.95, 0.0)
# junctions of the wall, by how their names begin
WANTED = ("Floor edge, Lower", "Sill of W04", "Head of W04", "Roof edge")
LEAF = (600.0, 700.0, 750.0, 870.0, 1010.0, 1023.0)  # faces of the layers of the lower wall, mm along the section
WALL_NOTES: tuple[tuple[Place, Place, str], ...] = (
    ((860.0, 7680.0), (480.0, 7790.0), "Zinc coping, fall inwards"),
    ((740.0, 4200.0), (380.0, 4350.0), "Timber boarding on ventilated battens"),
    ((600.0, 1200.0), (300.0, 1350.0), "Facing brick, estuary buff"),
)


@dataclass(frozen=True)
class _Worked:
    """What a junction is given: notes (about, where, words), chains (references, line, direction), touch-ups."""

    notes: tuple[tuple[Place, Place, str], ...]
    chains: tuple[tuple[tuple[Place, ...], Place, float], ...]
    touched: tuple[Pointed, ...]


JUNCTIONS = (
    _Worked(
        notes=(
            ((640.0, 60.0), (430.0, 120.0), "Joints of the facing brick raked 10 mm"),
            ((725.0, -420.0), (430.0, -360.0), "Cavity kept clear down to the footing"),
            ((810.0, -1000.0), (430.0, -800.0), "Insulation taken down 600 mm below ground"),
            ((1150.0, -66.0), (1330.0, 150.0), "Screed kept off the wall by a 10 mm edge strip"),
        ),
        chains=((tuple((u, 200.0) for u in LEAF), (600.0, 370.0), 0.0),),
        touched=(
            Pointed(act="hatch", at=(1250.0, -800.0), style={"hatch": "gravel"}),
            Pointed(act="restyle", at=(1010.0, -900.0), reach=3, style={"ink": "#9aa09b"}),
        ),
    ),
    _Worked(
        notes=(
            ((640.0, 700.0), (430.0, 640.0), "Brick on edge under the sill, pointed flush"),
            ((760.0, 1000.0), (1190.0, 1120.0), "Oak frame, drip groove on its underside"),
        ),
        chains=((tuple((u, 700.0) for u in LEAF), (600.0, 520.0), 0.0),),
        touched=(Pointed(act="restyle", at=(1010.0, 650.0), reach=4, style={"ink": "#9aa09b"}),),
    ),
    _Worked(
        notes=(
            ((650.0, 2300.0), (430.0, 2190.0), "Lintel of stainless steel under the outer leaf"),
            ((940.0, 2400.0), (1190.0, 2460.0), "Lintel of reinforced concrete, bearing 200 mm"),
            ((760.0, 2150.0), (1190.0, 2120.0), "Oak frame, sealed all round with compressible tape"),
        ),
        chains=((tuple((u, 2600.0) for u in LEAF), (600.0, 2720.0), 0.0),),
        touched=(Pointed(act="hide", at=(802.0, 2080.0), reach=8),),
    ),
    _Worked(
        notes=(
            ((980.0, 6800.0), (1180.0, 6890.0), "Upstand 150 mm or more above the paving"),
            ((770.0, 6100.0), (560.0, 6060.0), "Insect mesh at all openings of the ventilated void"),
        ),
        chains=((((740.0, 6780.0), (982.0, 6780.0)), (740.0, 6930.0), 0.0),),
        touched=(Pointed(act="restyle", at=(1300.0, 6016.0), reach=4, style={"ink": "#9aa09b"}),),
    ),
)


def _section(project: int, plan: DrawingOut, name: str, line: tuple[Place, Place], depth: float) -> DrawingOut:
    cut = SectionCut(line=line, depth=depth, without=lineage.WITHOUT, extents=Extents(base=-2.4, top=11.6))
    style = DrawingSpec(scale=50, section_rooms=True)
    return lineage.add_drawing(project, DrawingNew(parent_id=plan.id, name=name, cut=cut, style=style), NOBODY)


def _wall_section(project: int, plan: DrawingOut) -> list[DrawingOut]:
    """The section of the south wall, and details of four of its junctions at 1:5."""
    offered = wall_sections.proposed(project, WallSectionNew(plan=plan.id, at=WALL_AT, look="left"))
    names = [j.name for j in offered.junctions]
    wanted = tuple(next(k for k, name in enumerate(names) if name.startswith(start)) for start in WANTED)
    made = wall_sections.make(project, WallSectionNew(plan=plan.id, at=WALL_AT, look="left", junctions=wanted), NOBODY)
    found = []
    for drawing in made:
        change: dict[str, Any] = {"scale": 20.0} if drawing is made[0] else {"scale": 5.0, "grid": False}
        found.append(_shown(drawing, **change))
    return found


def _shown(drawing: DrawingOut, **change: Any) -> DrawingOut:
    """A drawing with parts of its style changed."""
    style = drawing.style.model_copy(update=change)
    return lineage.edit_drawing(drawing.id, DrawingEdit(version=drawing.version, style=style), NOBODY)


def _ruled(project: int, name: str, drawings: list[DrawingOut]) -> None:
    """A rule that says what the first drawing shows; the others follow it as they are."""
    rule = acts.add_rule(project, DrawingRuleNew(name=name, drawing_id=drawings[0].id), NOBODY)
    others = [drawing.id for drawing in drawings[1:]]
    acts.give_rule(project, RuleGiven(to=others, rule=rule.key, keep=True), NOBODY)


def _site_plan(project: int, plans: dict[str, DrawingOut]) -> DrawingOut:
    """All roofs from above, with their shadows."""
    highest = plans["Lookout plan"]
    cut = highest.cut.model_copy(update={"height": 9.0, "depth": None, "overhead": 0.0})
    surfaces = SurfaceStyle(sun=AFTERNOON)
    style = DrawingSpec(scale=100, rooms=False, shown_markers=(), appearance="presentation", surfaces=surfaces)
    made = DrawingNew(parent_id=None, name="Roofs and grounds", cut=cut, style=style)
    return lineage.add_drawing(project, made, NOBODY)


def _sets(drawing: DrawingOut, *rules: Rule) -> None:
    for rule in rules:
        drawing_annotations.place_set(drawing.id, SetWanted(rule=rule), NOBODY)


def _notes_on(drawing: DrawingOut, notes: tuple[tuple[Place, Place, str], ...]) -> None:
    """Notes: what each is about, where it stands, its words."""
    for about, at, text in notes:
        document = {"kind": "note", "text": text, "points": [at], "align": "left" if at[0] >= about[0] else "right"}
        drawing_annotations.add_annotation(drawing.id, AnnotationNew(spots=[_spot(about)], document=document), NOBODY)


def _chain(drawing: DrawingOut, spots: tuple[Place, ...], line: Place, direction: float) -> None:
    document = {"kind": "dimension", "points": [line], "direction": direction}
    wanted = AnnotationNew(spots=[_spot(s, ("corner", "side")) for s in spots], document=document)
    drawing_annotations.add_annotation(drawing.id, wanted, NOBODY)


def _spot(at: Place, only: tuple[Any, ...] = ()) -> Spot:
    return Spot(at=at, reach=12.0, only=only)


def _tables(project: int) -> None:
    """Tables of the building, on a sheet of their own."""
    made = [tables.add_table(project, TableNew(name=name, kind=kind), NOBODY) for name, kind, _ in TABLES]
    sheet = numbered_sheets.add_sheet(
        project, SheetNew(number="A-002", title="Doors, windows and rooms", size="A1", design="side-strip"), NOBODY
    )
    places = [
        TablePlace(table=table.key, x=x, y=y, wide=wide, high=high)
        for table, (_, _, places) in zip(made, TABLES, strict=True)
        for x, y, wide, high in places
    ]
    fields = FIELDS.model_copy(update={"tables": places})
    numbered_sheets.edit_sheet(sheet.id, SheetEdit(version=sheet.version, fields=fields), NOBODY)


def _sheet(project: int, number: str, title: str, size: SheetSize, design: str, placed: list[DrawingOut]) -> None:
    """A sheet with drawings in rows, numbered by reading order. Raises `Refused` where one finds no room."""
    sheet = numbered_sheets.add_sheet(project, SheetNew(number=number, title=title, size=size, design=design), NOBODY)
    numbered_sheets.edit_sheet(sheet.id, SheetEdit(version=sheet.version, fields=FIELDS), NOBODY)
    if placed:
        wanted = Arrangement(drawings=[d.id for d in placed], numbers=True, smallest=True)
        left_over = placements.arrange(sheet.id, wanted, NOBODY).left_over
        if left_over:
            raise Refused(f"{left_over[0].title} {left_over[0].says}")
