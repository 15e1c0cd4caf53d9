"""What a careful colleague says of the sections of a project: each is looked at once, and what was said is kept."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from pydantic import TypeAdapter
from sqlmodel import Session

from edge_slice.app.drawings.drawing_rows import is_marked
from edge_slice.app.drawings.typical import like_details
from edge_slice.app.sheets.check_documents import Offer, named
from edge_slice.app.sheets.sheet_views import SheetsAround
from edge_slice.core.cut import SectionCut
from edge_slice.core.cut.advice.halved import halved
from edge_slice.core.cut.advice.interrupted import THERMAL, Interruption, interruptions
from edge_slice.core.cut.advice.repeated import CutThrough, cut_through, repeated
from edge_slice.core.drawing.breaks.folds import Fold
from edge_slice.core.drawing.display import Box
from edge_slice.core.project.refused import Refused
from edge_slice.core.project.shown import Shown, cut_key, cut_of, key_of, saved
from edge_slice.store.kept import kept
from edge_slice.store.tables import Drawing

WANTED = (*THERMAL, "membrane")  # classes of material that must not be interrupted
AROUND = 25.0  # mm of paper shown about what is interrupted
MOST_OF_ONE = 12  # interruptions that are told of one section


@dataclass(frozen=True)
class SectionSaid:
    """What was seen in a section: `places` on its paper (mm) of its interruptions, None of one in a break;
    `names` of the elements, by GlobalId."""

    interruptions: tuple[Interruption, ...]
    places: tuple[tuple[float, float] | None, ...]
    halved: tuple[str, ...]
    through: CutThrough | None
    names: dict[str, str]

    def named(self, guids: Sequence[str]) -> str:
        """What elements are called."""
        return named(sorted(self.names[guid] for guid in guids))


@dataclass(frozen=True)
class Advice:
    """What is said of a drawing, and what could be done."""

    rule: str
    says: str
    which: str
    drawing: int
    box: Box | None = None
    offers: tuple[Offer, ...] = ()


_SAID: TypeAdapter[SectionSaid] = TypeAdapter(SectionSaid)


class SectionsAdvised:
    """The sections of a project that are no callouts, those that can't be cut left out."""

    def __init__(self, session: Session, around: SheetsAround) -> None:
        self._session, self._around = session, around

    @cached_property
    def said(self) -> dict[int, SectionSaid]:
        found = {}
        for number, row in self._around.drawings.items():
            if row.cut["kind"] == "section" and row.callout is None:
                try:
                    found[number] = self._said(row)
                except Refused:  # its own finding, with its drawing
                    continue
        return found

    def interrupted(self) -> Iterator[Advice]:
        """Insulation and membranes that are interrupted, each told of with the first section that shows it."""
        told: set[tuple[object, ...]] = set()
        for number, said in self.said.items():
            new = [
                (one, at)
                for one, at in zip(said.interruptions, said.places, strict=True)
                if (one.material, one.of, one.by) not in told
            ]
            for one, at in new[:MOST_OF_ONE]:
                told.add((one.material, one.of, one.by))
                by = f" by “{said.named(one.by)}”" if one.by else ""
                title = self._around.title(self._around.drawings[number])
                says = f"“{title}”: the {one.material} is interrupted over {one.length:.2f} m{by}."
                box = None if at is None else (at[0] - AROUND, at[1] - AROUND, at[0] + AROUND, at[1] + AROUND)
                yield Advice("insulation interrupted", says, repr((one.material, one.of, one.by)), number, box)

    def furniture(self) -> Iterator[Advice]:
        """Loose things that sections go through."""
        for number, said in self.said.items():
            if not said.halved:
                continue
            many = "one loose thing" if len(said.halved) == 1 else f"{len(said.halved)} loose things"
            title = self._around.title(self._around.drawings[number])
            guids = list(said.halved)
            offers = (
                Offer(says="Draw them whole", drawing_id=number, whole=guids),
                Offer(says="Leave them out", drawing_id=number, left_out=guids),
            )
            says = f"“{title}” cuts through {many}: {said.named(said.halved)}."
            yield Advice("furniture cut in half", says, repr(said.halved), number, None, offers)

    def adding_nothing(self) -> Iterator[Advice]:
        """Building sections with markers that say what another one says."""
        numbers = [n for n in self.said if self._is_marked_section(self._around.drawings[n])]
        throughs = [self.said[n].through for n in numbers]
        for k, n in repeated(self._around.source.model, throughs):
            one, other = (self._around.title(self._around.drawings[numbers[i]]) for i in (k, n))
            says = f"“{other}” cuts what “{one}” cuts, at the same places, and looks the same way: it adds nothing new."
            yield Advice("adds nothing new", says, repr((numbers[k], numbers[n])), numbers[n])

    def like_details(self) -> Iterator[Advice]:
        """Details of which one could stand for both."""
        keys, rows = self._around.keys, self._around.drawings
        for first, number in like_details(keys.source, keys.followed, list(rows.values())):
            one, other = self._around.title(rows[first]), self._around.title(rows[number])
            says = f"“{other}” looks like “{one}”: one detail could be used for both places."
            offer = Offer(says="Use the first for both", drawing_id=number, instead=first)
            yield Advice("like details", says, repr((first, number)), number, None, (offer,))

    def _is_marked_section(self, row: Drawing) -> bool:
        cut = self._around.keys.followed.cut_of(row)
        return isinstance(cut, SectionCut) and cut.of == "building" and is_marked(row)

    def _said(self, row: Drawing) -> SectionSaid:
        keys = self._around.keys
        shown = saved(keys.source, keys.followed, row)
        classes = shown.standard.classes(shown.model)
        rule = shown.standard.breaks.model_dump_json()
        key = key_of("advice", cut_key(shown), repr(classes), rule, repr(shown.style.scale))
        data = kept(self._session, row.project_id, key, lambda: _SAID.dump_json(_seen(shown, classes)))
        return _SAID.validate_python(json.loads(data))


def _seen(shown: Shown, classes: list[str]) -> SectionSaid:
    result = cut_of(shown)
    found = tuple(interruptions(shown.model, result, classes, WANTED))
    fold = Fold.of(result.extents, shown.cut.extents, shown.style.scale, shown.standard.breaks)
    places = [on_paper(fold, np.array(one.at) * 1000.0 / shown.style.scale) for one in found]
    loose = halved(shown.model, result)
    elements, index = shown.model.elements, shown.model.element_by_guid
    told = {*loose, *(guid for one in found for guid in one.by)}
    names = {guid: elements[index[guid]].name or elements[index[guid]].kind for guid in sorted(told)}
    return SectionSaid(found, tuple(places), loose, cut_through(shown.model, result), names)


def on_paper(fold: Fold, at: np.ndarray) -> tuple[float, float] | None:
    u, v = fold.u(float(at[0])), fold.v(float(at[1]))
    return None if u is None or v is None else (round(u, 2), round(v, 2))
