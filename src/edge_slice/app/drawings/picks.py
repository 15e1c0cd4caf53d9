"""What a person points at in a drawing: elements with the facts that the model has of them."""

from __future__ import annotations

from collections import Counter

from edge_slice.app.drawings.placing_documents import (
    ElementOut,
    ElementsWanted,
    FitRequest,
    ModelWords,
    PickAt,
    PickIn,
    PropertyChoice,
    StripPlaceOut,
    StripPlaceRequest,
)
from edge_slice.app.errors import Refused
from edge_slice.app.models.in_memory import load_model, newest_revision
from edge_slice.app.views.composed import shown_cut_of, unsaved
from edge_slice.core.cut import Extents, ImpossibleCut
from edge_slice.core.cut.placing.fitting import fitted
from edge_slice.core.cut.placing.picking import drawn_of, pick_at, pick_in
from edge_slice.core.cut.result import CutResult
from edge_slice.core.cut.shown import shown_elements
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.rules.recognition import findable
from edge_slice.core.model import Model
from edge_slice.core.model.building import Twice
from edge_slice.core.project.drawn import least_covered_by
from edge_slice.core.project.followed import Followed
from edge_slice.store.database import reading

MOST_LINES = 600  # point lists of an element that are sent to light it
MOST_FOUND = 20
MOST_VALUES = 60  # of a property that tells elements apart


def at_point(project_id: int, wanted: PickAt) -> list[ElementOut]:
    """The elements at a point, nearest first."""
    model, cut, result = shown_cut_of(project_id, wanted.cut, wanted.style)
    u, v = (x * 1000.0 for x in wanted.at)
    found = pick_at(model, result, shown_elements(model, cut), u, v, wanted.reach * 1000.0)
    return [_facts(model, result, p.element, p.layer, p.depth / 1000.0) for p in found[:MOST_FOUND]]


def in_box(project_id: int, wanted: PickIn) -> list[ElementOut]:
    """The elements in a box."""
    model, _, result = shown_cut_of(project_id, wanted.cut, wanted.style)
    left, base, right, top = (x * 1000.0 for x in wanted.box)
    found = pick_in(result, (min(left, right), min(base, top), max(left, right), max(base, top)), wanted.whole)
    lines = len(found) <= MOST_FOUND
    return [_facts(model, result if lines else None, k, -1, None) for k in found]


def fitted_extents(project_id: int, wanted: FitRequest) -> Extents:
    """Extents that hug what a drawing shows, looked for with all sides open."""
    open_cut = wanted.cut.model_copy(update={"extents": Extents()})
    model, _, result = shown_cut_of(project_id, open_cut, wanted.style)
    try:
        return fitted(model, result, wanted.to)
    except ImpossibleCut as error:
        raise Refused(str(error), "to") from error


def strip_place(project_id: int, wanted: StripPlaceRequest) -> StripPlaceOut:
    """Where a strip that covers a band of a plan covers least of it."""
    if wanted.number >= len(wanted.style.strips):
        raise Refused("The plan has no strip of this number.", "number")
    with reading() as session:
        shown = unsaved(session, project_id, wanted.cut, wanted.style)
        start, end = least_covered_by(shown.source, Followed(shown.source), shown, wanted.number, wanted.long)
    return StripPlaceOut(start=start, end=end)


def words_of(project_id: int) -> ModelWords:
    """Materials of a project's model, and properties with few enough values to choose from."""
    with reading() as session:
        model = load_model(session, newest_revision(session, project_id))
    counts: dict[str, Counter[str]] = {}
    for element in model.elements:
        for name, value in element.properties:
            counts.setdefault(name, Counter())[value] += 1
    return ModelWords(
        materials=sorted({m.name for m in model.materials}),
        properties=[
            PropertyChoice(name=name, values=[v for v, _ in values.most_common()])
            for name, values in sorted(counts.items())
            if len(values) <= MOST_VALUES
        ],
    )


def named(project_id: int, wanted: ElementsWanted) -> list[ElementOut]:
    """Elements by GlobalId; those that the model does not have are left out."""
    guids = set(wanted.guids)
    if wanted.cut is not None and len(guids) <= MOST_FOUND:
        model, _, result = shown_cut_of(project_id, wanted.cut, wanted.style or DrawingSpec())
        return [_facts(model, result, k, -1, None) for k, e in enumerate(model.elements) if e.guid in guids]
    with reading() as session:
        model = load_model(session, newest_revision(session, project_id))
    return [_facts(model, None, k, -1, None) for k, e in enumerate(model.elements) if e.guid in guids]


def with_words(project_id: int, words: str) -> list[ElementOut]:
    """The first elements whose name, kind and storey have all these words."""
    with reading() as session:
        model = load_model(session, newest_revision(session, project_id))
    asked = findable(words).split()
    found = []
    for k, e in enumerate(model.elements):
        storey = model.storeys[e.storey].name if e.storey >= 0 else ""
        said = findable(f"{e.name} {e.kind} {storey}")
        if all(word in said for word in asked):
            found.append(_facts(model, None, k, -1, None))
            if len(found) == MOST_FOUND:
                break
    return found


def _also(model: Model, twice: Twice) -> str:
    """What another part holds of an element, and how far that goes beyond it."""
    off = [f"{metres * 1000:.0f} mm {where}" for metres, where in (
        (twice.on_plan, "beside it"), (twice.in_height, "above or below it")) if metres]  # fmt: skip
    return f"{model.parts[twice.part].name}{', ' if off else ''}{' and '.join(off)}"


def _facts(model: Model, result: CutResult | None, index: int, layer: int, depth: float | None) -> ElementOut:
    element = model.elements[index]
    build_up = model.build_ups[element.build_up] if element.build_up >= 0 else None
    cut = build_up.layers[layer] if build_up is not None and layer >= 0 else None
    material = cut.material if cut is not None else element.material
    drawn = drawn_of(result, index)[:MOST_LINES] if result is not None else []
    return ElementOut(
        guid=element.guid,
        name=element.name,
        part=model.part_name(index),
        also=[_also(model, t) for t in model.twice if t.drawn == element.guid],
        kind=element.kind,
        storey=model.storeys[element.storey].name if element.storey >= 0 else "",
        material=model.materials[material].name if material >= 0 else "",
        build_up=build_up.name if build_up is not None else "",
        thickness=round(build_up.thickness, 4) if build_up is not None else None,
        layer=layer + 1 if cut is not None else None,
        layer_thickness=cut.thickness if cut is not None else None,
        depth=None if depth is None else round(depth, 3),
        properties=list(element.properties),
        lines=[[(round(u / 1000.0, 4), round(v / 1000.0, 4)) for u, v in line.tolist()] for line in drawn],
    )
