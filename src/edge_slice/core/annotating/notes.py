"""Notes, layer notes and labels."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.annotating.board import Board, Sketch, Sketcher, Stand, spot_grip
from edge_slice.core.annotating.documents import OF_FILE, AnyAnnotation, LabelNote, LayerNote, Note
from edge_slice.core.annotating.lettered import block, ending, leader
from edge_slice.core.drawing.display import Item, Label, paths_of
from edge_slice.core.drawing.measures import Lengths, area_text, length_text
from edge_slice.core.drawing.texts.lettering import text_width
from edge_slice.core.drawing.texts.text_lines import wrapped
from edge_slice.core.model import Element, Model, Space
from edge_slice.core.model.marks import element_mark, element_type

F64 = NDArray[np.float64]
FAR = 6.0  # mm on paper; a label further from what it names has a leader
PAD = 1.0  # mm between a label and its frame
NOTHING = "–"


def note(board: Board, document: Note, stand: Stand) -> Sketch:
    at = board.paper(stand.points[0])
    lines = wrapped(document.text, document.width, board.height(document.height))
    text = block(board, lines, at, document.height, document.align)
    items = text.labels(board)
    grips = [spot_grip("point 0", at)]
    if document.leaders:
        for k, spot in enumerate(stand.spots):
            tip = board.paper(spot)
            items += leader(board, at, tip, document.align, document.elbow, document.end)
            grips.append(spot_grip(f"anchor {k}", tip))
    return Sketch(items, grips, [])


@dataclass(frozen=True)
class NamedLayer:
    """A layer of a build-up that a layer note names: what the model says, where its middle lies on the leader's way."""

    index: int
    said: str
    middle: float  # mm along the normal of the build-up, in the drawing


def layers_named(board: Board, element: int, at: F64, thickness: bool) -> tuple[list[NamedLayer], F64] | None:
    """The layers that a leader square through a build-up at a place of the drawing (mm) meets, from one side to the
    other, and the normal (2,) that it runs along; None where nothing of a build-up is cut there."""
    model = board.model
    faces = [f for f in board.features.faces(element) if f.strip is not None]
    if not faces or model.elements[element].build_up < 0:
        return None
    point = shapely.Point(at)
    near = min(faces, key=lambda f: f.polygon.distance(point))
    assert near.strip is not None
    normal = np.array(near.strip.normal)
    layers = model.build_ups[model.elements[element].build_up].layers
    found: dict[int, NamedLayer] = {}
    for face in faces:
        assert face.strip is not None
        if face.leaf != near.leaf or abs(abs(float(np.array(face.strip.normal) @ normal)) - 1) > 1e-6:
            continue
        sign = float(np.sign(np.array(face.strip.normal) @ normal))
        low, high = sorted((sign * face.strip.low, sign * face.strip.high))
        layer = layers[face.layer]
        name = model.materials[layer.material].name if layer.material >= 0 else "unknown material"
        said = f"{length_text(layer.thickness, board.lengths)} {name}" if thickness else name
        found.setdefault(face.layer, NamedLayer(face.layer, said, (low + high) / 2))
    return sorted(found.values(), key=lambda n: n.middle), normal


def layer_note(board: Board, document: LayerNote, stand: Stand) -> Sketch:
    """A dot in every layer on a line square through the build-up, which runs on to the text; the layers stand in the
    order in which that line leaves them, the furthest one at its far end and last in the text."""
    at = board.paper(stand.points[0])
    grips = [spot_grip("point 0", at), spot_grip("anchor 0", board.paper(stand.spots[0]))]
    element = board.model.element_by_guid.get(stand.anchors[0].name, -1)
    named = layers_named(board, element, stand.spots[0], document.thickness) if element >= 0 else None
    if named is None:
        words = [w.text or w.instead_of for w in document.wording] or ["no build-up is cut here"]
        items = block(board, words, at, document.height, document.align).labels(board)
        items += leader(board, at, board.paper(stand.spots[0]), document.align, True, "dot")
        return Sketch(items, grips, ["This layer note leads to no build-up any more; its words stay."], True)
    layers, normal = named
    through = stand.spots[0]
    if (stand.points[0] - through) @ normal < 0:  # the nearest layer to the text is named first
        layers = [*reversed(layers)]
    layers = [*reversed(layers)]
    changed = {w.layer: w for w in document.wording}
    findings: list[str] = []
    lines: list[str] = []
    tips: list[F64] = []
    for one in layers:
        own = changed.get(one.index)
        lines.append(own.text if own is not None else one.said)
        if own is not None and own.instead_of and own.instead_of != one.said:
            findings.append(f"“{own.text}” was written for “{own.instead_of}”; the model now says “{one.said}”.")
        tips.append(board.paper(through + normal * (one.middle - through @ normal)))
    text = block(board, lines, at, document.height, document.align)
    items = [*_comb(board, text.at, tips, document.align, len(lines), text.spacing), *text.labels(board, "layer note")]
    said = tuple((one.index, one.said) for one in layers)
    return Sketch(items, grips, findings, bool(changed), layers=said)


def _comb(board: Board, at: F64, tips: list[F64], align: str, lines: int, spacing: float) -> list[Item]:
    """The leader: through all layers, then to the upright bar beside the text; a dot in each layer."""
    pen = board.pens["leader"]
    near, far = tips[0], tips[-1]
    side = -1.0 if align == "left" else 1.0
    elbow = at + np.array([side * board.rule.elbow, 0.0])
    bar = np.array([at, at - np.array([0.0, (lines - 1) * spacing])])
    run = np.array([at, elbow, near, far]) if len(tips) > 1 else np.array([at, elbow, near])
    items: list[Item] = [paths_of("leader", [run], pen)]
    if lines > 1:
        items.append(paths_of("leader", [bar], pen))
    for tip in tips:
        items += ending(board, tip, np.zeros(2), "dot", "leader")
    return items


def label_lines(model: Model, lengths: Lengths, document: LabelNote) -> list[str] | None:
    """What the model says of what a label names; None where that is gone."""
    space = next((s for s in model.spaces if s.guid == document.subject), None)
    if space is not None:
        return [_room_says(lengths, space, what) for what in document.says]
    index = model.element_by_guid.get(document.subject, -1)
    if index < 0:
        return None
    return [_element_says(lengths, model, model.elements[index], what) for what in document.says]


def _room_says(lengths: Lengths, space: Space, what: str) -> str:
    if what == "area":
        outline = shapely.Polygon(space.outline) if len(space.outline) > 2 else shapely.Polygon()
        return area_text(outline.area, lengths)
    if what.startswith(OF_FILE):
        return dict(space.properties).get(what.removeprefix(OF_FILE), NOTHING) or NOTHING
    return {"number": space.number, "name": space.name, "kind": "room"}.get(what, NOTHING) or NOTHING


def _element_says(lengths: Lengths, model: Model, element: Element, what: str) -> str:
    build_up = model.build_ups[element.build_up] if element.build_up >= 0 else None
    if what == "material":
        return model.materials[element.material].name if element.material >= 0 else NOTHING
    if what == "build-up":
        return build_up.name if build_up is not None else NOTHING
    if what == "size":
        if build_up is not None:
            return length_text(build_up.thickness, lengths)
        low, high = model.boxes[model.element_by_guid[element.guid]]
        wide = max(high[0] - low[0], high[1] - low[1])
        return f"{length_text(float(wide), lengths)} × {length_text(float(high[2] - low[2]), lengths)}"
    if what in ("mark", "number"):
        return element_mark(element) or element.name or NOTHING
    if what == "type":
        return element_type(element) or NOTHING
    if what.startswith(OF_FILE):
        return dict(element.properties).get(what.removeprefix(OF_FILE), NOTHING) or NOTHING
    return {"name": element.name, "kind": element.kind}.get(what, NOTHING) or NOTHING


def label(board: Board, document: LabelNote, stand: Stand) -> Sketch:
    """Lines about the middle of the text, which stands at the first point; a leader to the anchor when that is far."""
    said = label_lines(board.model, board.lengths, document)
    findings: list[str] = []
    if said is None:
        said = (document.text or document.instead_of or NOTHING).split("\n")
        kept = "; its words stay" if document.text or document.instead_of else ""
        findings.append(f"What this label names is not in the model any more{kept}.")
    elif document.text:
        if document.instead_of and document.instead_of != "\n".join(said):
            now = ", ".join(said)
            findings.append(f"“{document.text}” was written for “{document.instead_of}”; the model now says “{now}”.")
        said = document.text.split("\n")
    at, tip = board.paper(stand.points[0]), board.paper(stand.spots[0])
    height = board.height(document.height)
    spacing = height * 1.5
    top = at[1] + spacing * (len(said) - 1) / 2 - height / 2
    ink = board.standard.ink
    items: list[Item] = [
        Label("label", line, float(at[0]), float(top - k * spacing), height, ink, "centre")
        for k, line in enumerate(said)
    ]
    wide = max(text_width(line, height) for line in said) / 2 + PAD
    high = (spacing * (len(said) - 1) + height) / 2 + PAD
    box = np.array([(-wide, -high), (wide, -high), (wide, high), (-wide, high)]) + at
    if document.framed:
        items.insert(0, paths_of("label frame", [box], board.pens["leader"], "#ffffff", True))
    ring = shapely.Polygon(box)
    away = ring.distance(shapely.Point(tip))
    if document.leader == "always" or (document.leader == "far" and away > FAR):
        start = np.asarray(shapely.shortest_line(ring, shapely.Point(tip)).coords)[0]
        items.insert(0, paths_of("leader", [np.array([start, tip])], board.pens["leader"]))
        items += ending(board, tip, tip - start, "dot", "leader")
    return Sketch(items, [spot_grip("point 0", at), spot_grip("anchor 0", tip)], findings, bool(document.text))


SKETCHES: dict[type[AnyAnnotation], Sketcher] = {Note: note, LayerNote: layer_note, LabelNote: label}
