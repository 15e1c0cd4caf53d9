"""Names that documents of a project say: pens, classes, hatches, kinds, sets. What nothing is called is refused with
the names that are like it; what was said before something of that name went away stays."""

from __future__ import annotations

import difflib
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass

from edge_slice.core.annotating.documents import AnyAnnotation
from edge_slice.core.cut import AnyCut
from edge_slice.core.cut.shown import SHIPPED_SETS, ShownRule
from edge_slice.core.drawing import DrawingSpec, DrawingStandard
from edge_slice.core.drawing.rules.standard import PEN_ROLES
from edge_slice.core.drawing.touching.touch_ups import TouchUp
from edge_slice.core.model import Model
from edge_slice.core.model.kinds import KINDS
from edge_slice.core.model.said import MaterialHere
from edge_slice.core.project.refused import Refused
from edge_slice.core.project.source import Source
from edge_slice.core.project.viewpoints import AS_DRAWN, Seen

MOST_NAMED = 4


@dataclass(frozen=True)
class Use:
    """A name that a document says: where, and of what."""

    field: str
    what: str
    name: str


def in_style(style: DrawingSpec) -> Iterator[Use]:
    yield from (Use(f"style.pens.{name}", "pen", name) for name in style.pens)
    yield from (Use(f"style.materials.{name}", "class of material", name) for name in style.materials)
    for name, exception in style.materials.items():
        for field, hatch in (("hatch", exception.hatch), ("pattern", exception.pattern)):
            if hatch:
                yield Use(f"style.materials.{name}.{field}", "hatch", hatch)
    for k, look in enumerate(style.looks):
        if look.kind:
            yield Use(f"style.looks.{k}.kind", "kind of element", look.kind)
        for field, hatch in (("hatch", look.hatch), ("pattern", look.pattern)):
            if hatch:
                yield Use(f"style.looks.{k}.{field}", "hatch", hatch)
    yield Use("style.appearance", "appearance", style.appearance)


def in_cut(cut: AnyCut) -> Iterator[Use]:
    yield from (Use("cut.without", "kind of element", kind) for kind in cut.without)
    yield from (Use("cut.see_through_kinds", "kind of element", kind) for kind in cut.see_through_kinds)
    yield from (Use("cut.whole_kinds", "kind of element", kind) for kind in cut.whole_kinds)
    if cut.held is not None:
        for number in cut.held.revisions:
            yield Use("cut.held", "revision of the model", str(number))
    if cut.shown_set:
        yield Use("cut.shown_set", "shown set", cut.shown_set)
    if cut.shared_extents:
        yield Use("cut.shared_extents", "shared extents", cut.shared_extents)


def in_annotation(document: AnyAnnotation) -> Iterator[Use]:
    yield from (Use(f"document.{field}", what, name) for field, (what, name) in document.names().items())


def in_touch_up(document: TouchUp) -> Iterator[Use]:
    if document.hatch is not None:
        yield Use("hatch", "hatch", document.hatch)


def in_rule(rule: ShownRule) -> Iterator[Use]:
    yield from (Use("rule.only_kinds", "kind of element", kind) for kind in rule.only_kinds)
    yield from (Use("rule.without_kinds", "kind of element", kind) for kind in rule.without_kinds)
    yield from (Use("rule.whole_kinds", "kind of element", kind) for kind in rule.whole_kinds)
    yield from (Use("rule.without_materials", "material", name) for name in rule.without_materials)
    yield from (Use("rule.storeys", "storey", guid) for guid in rule.storeys)


def in_seen(seen: Seen) -> Iterator[Use]:
    looks, opened = seen.looks, seen.opened
    for field in ("without", "see_through_kinds"):
        yield from (Use(f"seen.looks.{field}", "kind of element", kind) for kind in getattr(looks, field))
    for field, what in (("storey", "storey"), ("shown_set", "shown set"), ("standard", "drawing standard")):
        name = getattr(looks, field)
        if name not in ("", AS_DRAWN):
            yield Use(f"seen.looks.{field}", what, name)
    drawings = [*opened.others] if opened.drawing is None else [opened.drawing, *opened.others]
    yield from (Use("seen.opened", "drawing", str(number)) for number in drawings)
    if opened.box is not None:
        yield Use("seen.opened.box", "box of shared extents", str(opened.box))


def in_materials_here(said: Iterable[MaterialHere], field: str) -> Iterator[Use]:
    for k, one in enumerate(said):
        named = {"material": one.material, "element": one.element, "build-up": one.build_up,
                 "class of material": one.is_a, "hatch": one.hatch}  # fmt: skip
        yield from (Use(f"{field}.{k}", what, name) for what, name in named.items() if name)


def known_of_materials(model: Model, standards: Iterable[DrawingStandard]) -> dict[str, Iterable[str]]:
    """What may be said of materials: the classes and hatches of any standard, and what a model has."""
    every = list(standards)
    return {
        "material": {m.name for m in model.materials},
        "element": model.element_by_guid,
        "build-up": {b.name for b in model.build_ups},
        "class of material": {name for standard in every for name in standard.materials},
        "hatch": {name for standard in every for name in standard.hatches},
    }


def known_to_standard(standard: DrawingStandard) -> dict[str, Iterable[str]]:
    return {
        "pen": PEN_ROLES,
        "class of material": standard.materials,
        "hatch": {"none", *standard.hatches},
        "appearance": {"lines", *standard.appearances},
        "line type": standard.annotations.line_types,
        "symbol": standard.annotations.symbols,
    }


def known_to_model(model: Model) -> dict[str, Iterable[str]]:
    return {
        "kind of element": {*KINDS, *model.kinds},
        "material": {m.name for m in model.materials},
        "storey": {s.guid for s in model.storeys},
    }


def known_to_project(source: Source, shown_sets: Iterable[str]) -> dict[str, Iterable[str]]:
    return {
        "shown set": {*SHIPPED_SETS, *shown_sets},
        "shared extents": source.boxes(),
        "revision of the model": [str(number) for number in source.revisions()],
    }


def check_names(uses: Iterable[Use], known: Mapping[str, Iterable[str]], before: Iterable[Use] = ()) -> None:
    """Raises `Refused` for the first name that nothing is called and that was not said `before`. Names of what is not
    among `known` are not looked at."""
    said = {(use.what, use.name) for use in before}
    for use in uses:
        if use.what in known and use.name not in known[use.what] and (use.what, use.name) not in said:
            raise Refused(f"“{use.name}” is no {use.what} here; {_instead(use.name, known[use.what])}.", use.field)


def _instead(name: str, known: Iterable[str]) -> str:
    names = sorted(known)
    folded = {n.casefold(): n for n in names}
    near = [folded[n] for n in difflib.get_close_matches(name.casefold(), folded, MOST_NAMED, 0.5)]
    if near:
        return f"did you mean {' or '.join(f'“{n}”' for n in near)}"
    listed = ", ".join(f"“{n}”" for n in names[:MOST_NAMED])
    more = ", …" if len(names) > MOST_NAMED else ""
    return f"there is {listed}{more}" if names else "there is none"
