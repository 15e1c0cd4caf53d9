"""Checks on the way out: what of the drawings and sheets of a project is wrong, doubtful or worth a remark."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterator, Mapping
from typing import NamedTuple

from sqlmodel import Session, col, select

from edge_slice.app.annotating import anchors
from edge_slice.app.annotating.boards import board_of
from edge_slice.app.drawings.drawing_rows import annotations_of, is_marked, placements_of
from edge_slice.app.drawings.holding import since_held
from edge_slice.app.output.issues import list_issues, state_of_sheets
from edge_slice.app.projects.listing import switched_off
from edge_slice.app.row_lookup import held_row, project_row
from edge_slice.app.sheets.check_documents import CHECKED, FindingOut, LeaveFinding, Severity, named
from edge_slice.app.sheets.colleague import doubled_marks, measured_otherwise, not_as_said, unexplained
from edge_slice.app.sheets.coordination import apart
from edge_slice.app.sheets.section_advice import Advice, SectionsAdvised
from edge_slice.app.sheets.sheet_views import SheetsAround, screen_of, sheet_row
from edge_slice.core.cut import ElevationCut, SectionCut
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.display import Box
from edge_slice.core.drawing.measures import scale_text
from edge_slice.core.model.ground.standing_in import ground_problem
from edge_slice.core.project.boards import shape_of
from edge_slice.core.project.naming import mark_of, place_of
from edge_slice.core.project.sheets import scale_of, size_of
from edge_slice.core.project.shown import key_of
from edge_slice.core.project.tables import table_boxes
from edge_slice.core.render.screen import from_screen
from edge_slice.core.sheet.arranging import areas_of, empty_share, larger_scale, smallest_size
from edge_slice.core.sheet.checks import place_findings, text_findings
from edge_slice.store.changes import hold, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.kept import kept
from edge_slice.store.tables import LeftFinding, Placement, Sheet

ORDER: tuple[Severity, ...] = ("serious", "doubtful", "remark")
MOST_EMPTY = 0.4  # share of a sheet's room that may stay white
MOST_TRIED = 8  # drawings on a sheet of which larger scales are tried


def checks_of(project_id: int) -> list[FindingOut]:
    """All that is wrong with a project by what is switched on, the serious first; texts are looked at sheet by sheet
    (`text_checks_of`)."""
    lost = anchors.unsettled(project_id)
    newest = next(iter(list_issues(project_id).issues), None)
    with reading() as session:
        off = switched_off(project_row(session, project_id))
        around = SheetsAround(session, project_id)
        found = [
            *_of_drawings(session, around), *_alike(around), *_groundless(around),
            *_unexplained(around), *_of_model(around), *_of_parts(around, off), *_of_sheets(session, around),
            *_advised(SectionsAdvised(session, around), off),
        ]  # fmt: skip
        for one in lost:
            severity: Severity = "serious" if one.state == "lost" else "doubtful"
            says = f"“{one.said}” on “{one.drawing}”: {one.reason}"
            found.append(_finding(severity, "lost its place", says, "Settle it in the list of revisions.",
                                  str((one.what, one.id)), Where(drawing=one.drawing_id)))  # fmt: skip
        if newest is not None:
            for number, says in state_of_sheets(session, around, newest.id).items():
                changed = f"Since {newest.code}: {says}"
                found.append(
                    _finding(
                        "remark",
                        "changed since it was issued",
                        changed,
                        "Issue it again, or with the next issue.",
                        says,
                        Where(sheet=number),
                    )
                )
        return _with_reasons(session, project_id, [f for f in found if f.rule not in off])


def text_checks_of(sheet_id: int) -> list[FindingOut]:
    """What is wrong with the texts of a sheet."""
    with reading() as session:
        row = sheet_row(session, sheet_id)
        off, around = switched_off(project_row(session, row.project_id)), SheetsAround(session, row.project_id)

        def look() -> bytes:
            display = from_screen(screen_of(row, around))
            frame = around.design(row).frame(size_of(row))
            return json.dumps([(f.rule, f.says, f.box) for f in text_findings(display, frame)]).encode()

        known = json.loads(kept(session, row.project_id, key_of("texts", around.picture(row)), look))
        help_with = {"text over text": "Move one of them, or the drawing.",
                     "text cut off": "Shorten it, or give it more room.",
                     "letters without a face": "Write it in letters that the product has.",
                     "text beyond the frame": "Move it, or the drawing, into the frame."}  # fmt: skip
        found = [
            _finding("doubtful", rule, f"Sheet {row.number}: {says}", help_with[rule], says, Where(sheet=row.id,
                     box=(box[0], box[1], box[2], box[3])))
            for rule, says, box in known if rule not in off
        ]  # fmt: skip
        return _with_reasons(session, row.project_id, found)


def leave(project_id: int, wanted: LeaveFinding, author: str) -> None:
    """Say why a finding is left as it is; or, without a reason, that it counts again."""
    with transaction() as session:
        project_row(session, project_id)
        hold(session, project_id)
        mine = select(LeftFinding).where(col(LeftFinding.project_id) == project_id, col(LeftFinding.key) == wanted.key)
        row, reason = session.exec(mine).first(), wanted.reason.strip()
        with recorded(session, project_id, "leave finding" if reason else "finding counts again", author) as act:
            if row is None and reason:
                act.adds(LeftFinding(project_id=project_id, key=wanted.key, reason=reason, author=author))
            elif row is not None and reason:
                act.edits(row)
                row.reason, row.author = reason, author
                session.add(row)
            elif row is not None:
                act.removes(held_row(session, LeftFinding, row.id or 0))


def _of_drawings(session: Session, around: SheetsAround) -> Iterator[FindingOut]:
    placed = placements_of(session, around.project_id)
    led_to = _led_to(around, placed)
    letters: dict[str, int] = {}
    for number, drawing in around.drawings.items():
        title = around.title(drawing)
        mine = placed.get(number, [])
        if not mine:
            on = sorted({sheet.number for sheet in led_to.get(number, ())})
            shown = f"; its markers show on {', '.join(on)}" if on else ""
            yield _finding("doubtful", "not placed", f"“{title}” stands on no sheet{shown}.",
                           "Place it, or delete it.", str(number), Where(drawing=number))  # fmt: skip
        elif sum(p.home for p, _ in mine) != 1:
            sheets = ", ".join(s.number for _, s in mine)
            yield _finding("serious", "no home", f"“{title}” stands on {sheets} and has no home among them.",
                           "Choose one as its home.", str(number), Where(drawing=number))  # fmt: skip
        mark = mark_of(around.keys.source.facts, drawing.letter, around.keys.followed.cut_of(drawing))
        if mark:
            first = letters.setdefault(mark, number)
            if first != number:
                other = around.title(around.drawings[first])
                yield _finding(
                    "serious",
                    "letter twice",
                    f"“{other}” and “{title}” both have {mark}.",
                    "Give one of them another letter.",
                    str((first, number)),
                    Where(drawing=number),
                )
        yield from _held(around, number)
        if mine:
            yield from _callouts_to_nowhere(around, number, mine[0][1], set(placed))
            yield from _outside_margin(session, around, number)


def _outside_margin(session: Session, around: SheetsAround, number: int) -> Iterator[FindingOut]:
    """Annotations that are not printed, as they stand too far from their drawing."""
    drawing = around.drawings[number]
    if number not in around.keys.annotated or not DrawingSpec.model_validate(drawing.style).annotations:
        return
    placed = board_of(session, drawing)
    away = [row for row in annotations_of(session, number) if not shape_of(placed, row).shown]
    if away:
        says = (
            f"{len(away)} annotations of “{around.title(drawing)}” stand outside its note margin and are not printed."
        )
        yield _finding("serious", "outside the note margin", says, "Move them nearer, or widen the note margin.",
                       str([row.id for row in away]), Where(drawing=number))  # fmt: skip


def _held(around: SheetsAround, number: int) -> Iterator[FindingOut]:
    """A drawing that does not show what changed since it was held; its callouts are told of with it."""
    drawing = around.drawings[number]
    cut = around.keys.followed.cut_of(drawing)
    if cut.held is None or drawing.callout is not None:
        return
    changed, _, problem = since_held(around.keys.source, cut, cut.held)
    title = around.title(drawing)
    if problem:
        yield _finding("serious", "held", f"“{title}”: {problem}", "Hold it anew, or let go of it.", "lost",
                       Where(drawing=number))  # fmt: skip
    elif changed:
        what = "one thing that it shows has" if len(changed) == 1 else f"{len(changed)} things that it shows have"
        says = f"“{title}” is held by revision {cut.held.revision} of the model; {what} changed since."
        yield _finding("remark", "held", says, "Take over what is wanted, or let go of it.",
                       str([c.guid for c in changed]), Where(drawing=number))  # fmt: skip


def _led_to(around: SheetsAround, placed: Mapping[int, list[tuple[Placement, Sheet]]]) -> dict[int, list[Sheet]]:
    """The sheets on which markers of sections and elevations lead to drawings that stand on none, by these. Markers
    show by themselves: they are told of once, with their drawing."""
    found: dict[int, list[Sheet]] = {}
    for number, mine in placed.items():
        for marker in around.drawn_as.markers(around.drawings[number]) if number in around.drawings else ():
            if marker.drawing not in placed:
                found.setdefault(marker.drawing, []).append(mine[0][1])
    return found


def _callouts_to_nowhere(around: SheetsAround, number: int, sheet: Sheet, placed: set[int]) -> Iterator[FindingOut]:
    """A drawing that is issued calls out what is not: somebody asked for that."""
    drawing = around.drawings[number]
    shown = {c.target for c in around.drawn_as.callouts(drawing)} - placed
    asked = {r.target_id for r in around.keys.source.references() if r.drawing_id == number}
    targets = {t for t in shown if t in asked or (t in around.drawings and around.drawings[t].parent_id == number)}
    titles = [around.title(around.drawings[t]) for t in sorted(targets) if t in around.drawings]
    if titles:
        what = "A callout" if len(titles) == 1 else f"{len(titles)} callouts"
        leads = "leads to a drawing that stands" if len(titles) == 1 else "lead to drawings that stand"
        names = named([f"“{t}”" for t in titles])
        says = f"{what} on “{around.title(drawing)}” (sheet {sheet.number}) {leads} on no sheet: {names}."
        yield _finding("serious", "marker to nowhere", says, "Place what is called out, or hide its marker.",
                       str((number, sorted(targets))), Where(sheet=sheet.id, drawing=min(targets)))  # fmt: skip


def _alike(around: SheetsAround) -> Iterator[FindingOut]:
    """Drawings of one title, and sections and elevations that cut one place and look the same way."""
    titles: dict[str, list[int]] = {}
    places: dict[str, list[int]] = {}
    letters: dict[str, dict[object, list[int]]] = {}
    for number, drawing in around.drawings.items():
        titles.setdefault(around.title(drawing).casefold(), []).append(number)
        cut = around.keys.followed.cut_of(drawing)
        if drawing.callout is None and isinstance(cut, SectionCut | ElevationCut) and is_marked(drawing):
            lens = cut.perspective.model_dump_json() if cut.perspective is not None else ""
            here = place_of(cut)
            places.setdefault(f"{here} {lens}", []).append(number)
            if drawing.letter:
                letters.setdefault(drawing.letter, {}).setdefault(here, []).append(number)
    for numbers in titles.values():
        if len(numbers) > 1:
            title = around.title(around.drawings[numbers[0]])
            yield _finding("doubtful", "title twice", f"{len(numbers)} drawings are called “{title}”.",
                           "Name them apart.", str(numbers), Where(drawing=numbers[1]))  # fmt: skip
    for letter, cuts in letters.items():
        if len(cuts) > 1:
            numbers = [numbers[0] for numbers in cuts.values()]
            says = f"{len(cuts)} cuts in different places have the letter {letter}."
            yield _finding("serious", "letter used twice", says, "Give one of them another letter.", str(numbers),
                           Where(drawing=numbers[1]))  # fmt: skip
    for numbers in places.values():
        if len({around.drawings[n].letter or n for n in numbers}) > 1:
            named = ", ".join(f"“{around.title(around.drawings[n])}”" for n in numbers)
            yield _finding(
                "doubtful",
                "cuts in one place",
                f"{named} cut the same place and look the same way.",
                "Keep one of them, or move the others.",
                str(numbers),
                Where(drawing=numbers[1]),
            )


def _unexplained(around: SheetsAround) -> Iterator[FindingOut]:
    """Rooms and stairs that no section goes through; said at the first section."""
    first = next((n for n, d in around.drawings.items() if d.cut["kind"] == "section" and d.callout is None), None)
    help_with = "Cut through it, step a line to it, or leave it, because …"
    for one in unexplained(around):
        yield _finding(one.severity, one.rule, one.says, help_with, one.which, Where(drawing=first))


def _advised(sections: SectionsAdvised, off: set[str]) -> Iterator[FindingOut]:
    """What is looked for in the cuts of sections; nothing is cut for what is switched off."""
    looked: tuple[tuple[str, Callable[[], Iterator[Advice]], Severity, str], ...] = (
        ("insulation interrupted", sections.interrupted, "doubtful",
         "Put it right where the model is made, and bring its newer state; or leave it, because …"),
        ("furniture cut in half", sections.furniture, "remark",
         "Draw them whole, as if they stood behind; leave them out; or move the section."),
        ("adds nothing new", sections.adding_nothing, "remark",
         "Keep one of them, or move the other to where it explains more."),
    )  # fmt: skip
    looked += (("like details", sections.like_details, "remark", "One typical detail is drawn, and kept, once."),)
    for rule, found, severity, help_with in looked:
        for one in found() if rule not in off else ():
            finding = _finding(severity, rule, one.says, help_with, one.which, Where(None, one.drawing, one.box))
            finding.offers = list(one.offers)
            yield finding


def _of_model(around: SheetsAround) -> Iterator[FindingOut]:
    """Marks used twice, and what is not as the file says or measures it; said at the first plan."""
    first = next((n for n, d in around.drawings.items() if d.cut["kind"] == "plan"), None)
    help_with = "Put it right where the model is made, and bring its newer state; or leave it, because …"
    for one in (*doubled_marks(around), *not_as_said(around), *measured_otherwise(around)):
        yield _finding(one.severity, one.rule, one.says, help_with, one.which, Where(drawing=first))


def _of_parts(around: SheetsAround, off: set[str]) -> Iterator[FindingOut]:
    """What the parts of the model don't agree about."""
    for one in apart(around, off):
        where = Where(drawing=one.drawing, box=one.box)
        yield _finding(one.severity, one.rule, one.says, one.help, one.which, where)


def _groundless(around: SheetsAround) -> Iterator[FindingOut]:
    """Ground that can't be made any more; a model without ground, where drawings show what should stand in it."""
    upright = [n for n, d in around.drawings.items() if d.cut["kind"] in ("section", "elevation")]
    source = around.keys.source
    problem = ground_problem(source.model) if source.grounds.any else ""
    if problem:
        yield _finding("serious", "ground", problem, "Say it anew, under Ground in the Model bench.", "no ground made",
                       Where(drawing=upright[0] if upright else None))  # fmt: skip
    if upright and "ground" not in source.facts["kinds"] and not source.grounds.any:
        says = "The model has no ground: in sections and elevations the building stands in the air."
        yield _finding("doubtful", "no ground", says, "Say what ground there is, under Ground in the Model bench.",
                       "ground", Where(drawing=upright[0]))  # fmt: skip


def _of_sheets(session: Session, around: SheetsAround) -> Iterator[FindingOut]:
    for row in around.sheets:
        placed, design = around.on(row), around.design(row)
        lists = any(p.kind in ("sheet list", "drawing list") for p in design.parts)
        if not placed and not lists and not table_boxes(row):
            yield _finding("remark", "empty sheet", f"Sheet {row.number} has no drawing and no table.",
                           "Place drawings on it, or delete it.", str(row.id), Where(sheet=row.id))  # fmt: skip
        boxes = [(p.number, around.box(p)) for p in placed]
        for _, f in place_findings(design, size_of(row), boxes):
            serious = f.rule == "drawing beyond its place"
            yield _finding(
                "serious" if serious else "doubtful",
                f.rule,
                f"Sheet {row.number}: {f.says}",
                "Move it, trim it, or choose another scale.",
                f.says,
                Where(sheet=row.id, box=f.box),
            )
        drawings = [around.drawings[p.drawing_id] for p in placed]
        scales = sorted({scale_of(d) for d in drawings})
        if len(scales) > 1:
            said = ", ".join(scale_text(s) for s in scales)
            yield _finding(
                "remark",
                "several scales",
                f"Sheet {row.number} has drawings at {said}.",
                "Fine where it is meant; the title block says “as shown”.",
                said,
                Where(sheet=row.id),
            )
        yield from _could_be_larger(session, around, row)
        if placed:
            yield from _empty(around, row)


def _empty(around: SheetsAround, row: Sheet) -> Iterator[FindingOut]:
    """A sheet most of which is left white."""
    design, size = around.design(row), size_of(row)
    wanted = [(around.wanted(p), (p.x, p.y)) for p in around.on(row)]
    share = empty_share([*(w.at(place) for w, place in wanted), *table_boxes(row)], design, size)
    if share <= MOST_EMPTY:
        return
    smaller = smallest_size([w for w, _ in wanted], design, size)
    fits = f"; its drawings would fit on {smaller}" if smaller is not None and smaller != size else ""
    says = f"Sheet {row.number} leaves {share:.0%} of its room for drawings empty{fits}."
    yield _finding("remark", "much empty", says, "Arrange it on the smallest sheet, or place more on it.",
                   f"{share:.1f} {smaller}", Where(sheet=row.id))  # fmt: skip


def _could_be_larger(session: Session, around: SheetsAround, row: Sheet) -> Iterator[FindingOut]:
    """Said of sheets whose drawings have one scale, and only where all of them could be."""
    drawings = [around.drawings[p.drawing_id] for p in around.on(row)]
    scales = {scale_of(d) for d in drawings}
    if len(scales) != 1 or len(drawings) > MOST_TRIED:
        return
    design, size = around.design(row), size_of(row)
    wanted = [around.drawn_as.wanted(d) for d in drawings]
    larger = larger_scale(wanted, areas_of(design, size), around.taken(row))
    if larger is not None:
        says = f"Sheet {row.number} has room for its drawings at {scale_text(larger)}."
        yield _finding("remark", "could be larger", says,
                       "Choose that scale, or a smaller sheet.", str(larger), Where(sheet=row.id))  # fmt: skip


class Where(NamedTuple):
    """Where something was found: a sheet, a drawing, a place on paper."""

    sheet: int | None = None
    drawing: int | None = None
    box: Box | None = None


def _finding(severity: Severity, rule: str, says: str, help_with: str, of: str, where: Where) -> FindingOut:
    """`of`: what tells it from others of its rule, as long as it is the same."""
    assert rule in CHECKED, rule
    key = hashlib.sha256("\0".join((rule, str(where.sheet), str(where.drawing), of)).encode()).hexdigest()[:24]
    return FindingOut(key=key, severity=severity, rule=rule, says=says, help=help_with, sheet_id=where.sheet,
                      drawing_id=where.drawing, box=where.box, left="", left_by="")  # fmt: skip


def _with_reasons(session: Session, project_id: int, found: list[FindingOut]) -> list[FindingOut]:
    rows = session.exec(select(LeftFinding).where(col(LeftFinding.project_id) == project_id)).all()
    reasons = {r.key: r for r in rows}
    for one in found:
        if one.key in reasons:
            one.left, one.left_by = reasons[one.key].reason, reasons[one.key].author
    return sorted(found, key=lambda f: ORDER.index(f.severity))
