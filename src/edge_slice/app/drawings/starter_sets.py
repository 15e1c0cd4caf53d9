"""Starter sets: what a project begins with, proposed with reasons and made in one act."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from sqlmodel import Session

from edge_slice.app.drawings.documents import DrawingOut, PlacedByHand, ProposedOut, StarterChoice
from edge_slice.app.drawings.drawing_rows import homes_as_said, project_drawings
from edge_slice.app.drawings.kept_documents import KeptSet
from edge_slice.app.drawings.kept_sets import Brought, kept_set, placed_in
from edge_slice.app.drawings.letters import is_free, letter_for, next_mark
from edge_slice.app.drawings.lineage import WITHOUT, drawings_out
from edge_slice.app.errors import Refused
from edge_slice.app.models.in_memory import load_model, newest_revision
from edge_slice.app.projects.shared_extents import building_box
from edge_slice.app.rules.followed import rule_named
from edge_slice.core.cut import AnyCut, PlanCut, SectionCut
from edge_slice.core.cut.following.callouts import Callout
from edge_slice.core.cut.placing.starter import starter_set
from edge_slice.core.drawing import DrawingSpec, default_standard
from edge_slice.core.project.drawing_rules import DrawingRule, back, fits
from edge_slice.core.project.followed import CUT
from edge_slice.core.project.naming import NameTemplates, automatic_name
from edge_slice.store.changes import Act, hold, recorded
from edge_slice.store.database import reading, transaction
from edge_slice.store.tables import Drawing, Project

SHOWN_SET = "no-loose-things"  # what elevations and sections of a starter set follow


NONE_BY_HAND: Mapping[str, PlacedByHand] = {}


@dataclass(frozen=True)
class Proposal:
    """A drawing of a set; `fits` where the model has a place for it, `lettered` where its letter ends its name."""

    key: str
    name: str
    cut: AnyCut
    style: DrawingSpec
    why: str
    fits: bool = True
    lettered: bool = False
    parent: str = ""  # the key of what a callout is called out from
    callout: Callout | None = None
    rule: DrawingRule | None = None  # of the kept set
    letter: str = ""  # that it had there


def proposals(project_id: int, kept: int | None = None) -> list[ProposedOut]:
    with reading() as session:
        facts = newest_revision(session, project_id).facts
        names = NameTemplates.model_validate(session.get_one(Project, project_id).names)
        known = {d.id: CUT.validate_python(d.cut) for d in project_drawings(session, project_id)}
        homes = homes_as_said(session, project_id)

        def there(p: Proposal) -> int | None:
            return next((d for d, cut in known.items() if p.fits and _alike(p.cut, cut)), None)

        return [
            ProposedOut(
                key=p.key,
                title=p.name or automatic_name(facts, "", p.cut, names, p.callout.form if p.callout else None),
                scale=p.style.scale,
                why=p.why,
                cut=p.cut,
                there=(drawing := there(p)),
                placed=drawing in homes,
                fits=p.fits,
                parent=p.parent,
            )
            for p in proposed_in(session, project_id, kept)[0]
        ]


def make(project_id: int, choice: StarterChoice, author: str) -> list[DrawingOut]:
    """Make the chosen drawings in one act, which is undone as one. Raises `Refused` for a key that is not proposed."""
    with transaction() as session:
        hold(session, project_id)
        with recorded(session, project_id, "starter set", author) as act:
            made = made_of(session, act, project_id, choice)
        return drawings_out(session, made)


def made_of(session: Session, act: Act, project_id: int, choice: StarterChoice) -> list[Drawing]:
    """The chosen drawings as part of an act. Raises `Refused` for a key that is not proposed."""
    return made_from(session, act, project_id, choice, proposed_in(session, project_id, choice.kept, choice.places))


def made_from(
    session: Session,
    act: Act,
    project_id: int,
    choice: StarterChoice,
    proposed_there: tuple[list[Proposal], KeptSet | None],
) -> list[Drawing]:
    """The same of what is known to be proposed."""
    found, kept = proposed_there
    by_key = {p.key: p for p in found if p.fits}
    strange = [key for key in choice.keys if key not in by_key]
    if strange:
        raise Refused(f"{strange[0]!r} is not in this starter set; read it again.", "keys")
    made: dict[str, Drawing] = {}
    brought = Brought(session, project_id, kept, act) if kept is not None else None
    upright = kept is None and any(not isinstance(by_key[key].cut, PlanCut) for key in choice.keys)
    model = load_model(session, newest_revision(session, project_id))
    box = building_box(session, project_id, model, act) if upright else ""
    rules = {named: rule_named(session, project_id, named) for named in choice.rules}
    for proposed in _parents_first([by_key[key] for key in dict.fromkeys(choice.keys)]):
        cut, style, rule = proposed.cut, proposed.style, ""
        if brought is not None:
            cut = cut.model_copy(update={"shown_set": brought.shown_set(cut.shown_set)})
            style = style.model_copy(update={"standard": brought.standard(style.standard)})
            rule = brought.rule(proposed.rule)
        elif not isinstance(cut, PlanCut):
            cut = cut.model_copy(update={"shared_extents": box})
        if kept is None:
            rule = next((key for key, one in rules.items() if fits(one, cut)), "")
            cut, style = back(rules[rule], (cut, style)) if rule else (cut, style)
        parent = made.get(proposed.parent)
        called = proposed.callout if parent is not None else None
        if called is not None:
            letter = next_mark(session, project_id, called.form)
        else:  # a callout without what it is called out from becomes a drawing of its own
            letter = letter_for(session, project_id, cut)
        if proposed.letter and letter and is_free(session, project_id, proposed.letter):
            letter = proposed.letter
        row = Drawing(
            project_id=project_id,
            parent_id=parent.id if parent is not None else None,
            callout=called.model_dump(mode="json") if called is not None else None,
            letter=letter,
            name=f"{proposed.name} {letter}".strip() if proposed.lettered else proposed.name,
            cut=cut.model_dump(mode="json"),
            style=style.model_dump(mode="json"),
            rule=rule,
        )
        act.adds(row)
        made[proposed.key] = row
    if kept is not None:
        for row in made.values():
            row.style = _with_strips(row.style, made)
            session.add(row)
        session.flush()
    return [made[key] for key in dict.fromkeys(choice.keys)]


def _with_strips(style: dict[str, Any], made: dict[str, Drawing]) -> dict[str, Any]:
    """A kept style whose strips name the drawings that were made of what they named; without those of others."""
    strips = [
        strip | {"drawing": made[key].id}
        for strip in style["strips"]
        if (key := f"kept {strip['drawing'] - 1}") in made
    ]
    return style | {"strips": strips}


def _parents_first(chosen: list[Proposal]) -> list[Proposal]:
    """Each after what it is called out from, where that is among them."""
    by_key = {p.key: p for p in chosen}
    ordered: dict[str, Proposal] = {}

    def take(one: Proposal) -> None:
        if one.key not in ordered:
            if one.parent in by_key:
                take(by_key[one.parent])
            ordered[one.key] = one

    for one in chosen:
        take(one)
    return list(ordered.values())


def proposed_in(
    session: Session, project_id: int, kept: int | None, places: Mapping[str, PlacedByHand] = NONE_BY_HAND
) -> tuple[list[Proposal], KeptSet | None]:
    """The drawings of a set in a project, and the set if a project kept it: of such a one all, in its order, some
    placed by hand."""
    model = load_model(session, newest_revision(session, project_id))
    if kept is not None:
        document = kept_set(session, kept)
        by_hand = {_number_of(key): hand for key, hand in places.items()}
        placed = placed_in(model, document, by_hand)
        return [
            Proposal(f"kept {k}", p.drawing.name, p.cut or p.drawing.cut, _own_style(p.drawing.style), p.how,
                      p.cut is not None, parent="" if p.parent is None else f"kept {p.parent}",
                      callout=p.callout or p.drawing.callout, rule=document.rules.get(p.drawing.rule),
                      letter=p.drawing.letter)
            for k, p in enumerate(placed)
        ], document  # fmt: skip
    found = starter_set(model, default_standard().conventions.reach, WITHOUT)
    proposed = [
        Proposal(
            p.key,
            p.name,
            p.cut if isinstance(p.cut, PlanCut) else _following(p.cut),
            DrawingSpec(scale=p.scale),
            p.why,
            lettered=bool(p.name),
        )
        for p in found
    ]
    return proposed, None


def _number_of(key: str) -> int:
    """The number in its set of a kept drawing. Raises `Refused`."""
    number = re.fullmatch(r"kept (\d{1,6})", key)
    if number is None:
        raise Refused(f"{key!r} is no drawing that a project kept.", "places")
    return int(number[1])


def _own_style(style: DrawingSpec) -> DrawingSpec:
    """A style without what names single elements and storeys of the model that it was made for."""
    looks = tuple(look for look in style.looks if look.kind)
    ends = style.level_ends.model_copy(update={"hidden": ()})
    return style.model_copy(update={"looks": looks, "level_ends": ends})


def _following(cut: AnyCut) -> AnyCut:
    return cut.model_copy(update={"shown_set": SHOWN_SET})


def _alike(one: AnyCut, other: AnyCut) -> bool:
    """Whether two cuts are of the same kind in the same place."""
    if isinstance(one, PlanCut) and isinstance(other, PlanCut):
        return (one.storey, one.look) == (other.storey, other.look)
    if one.kind != other.kind or isinstance(one, PlanCut):
        return False
    if isinstance(one, SectionCut) and isinstance(other, SectionCut):
        return one.line == other.line
    return getattr(one, "line", None) == getattr(other, "line", ()) and getattr(one, "look", 0) == getattr(
        other, "look", 1
    )
