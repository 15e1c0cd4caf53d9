"""`cut_planes`: the way from a model and the planes of a cut to faces and lines."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.faces.closing import close_rings, ground_under
from edge_slice.core.cut.faces.layers import split_layers
from edge_slice.core.cut.faces.overlaps import across_steps, crop, resolve_overlaps
from edge_slice.core.cut.faces.slicing import slice_triangles
from edge_slice.core.cut.lines.caps import cap_triangles
from edge_slice.core.cut.lines.linework import Concealing, trace_lines
from edge_slice.core.cut.lines.outlines import drawn_once, face_borders
from edge_slice.core.cut.lines.sight import Sight, concealing
from edge_slice.core.cut.lines.standing import points_before
from edge_slice.core.cut.memory import (
    TOUCH,
    CutMemory,
    LeafMemory,
    Loose,
    Past,
    changed_faces,
    nothing_changed,
    places_of,
    same_rules,
    same_sight,
    touched,
)
from edge_slice.core.cut.opened.standing import StandingFaces
from edge_slice.core.cut.pieces import CutFace, CutLines, MaterialRules, Role
from edge_slice.core.cut.planes.leaves import Leaf, Lens, leaves_of, lens_of, whole_window
from edge_slice.core.cut.result import CutResult, Work
from edge_slice.core.cut.shown import shown_elements, whole_elements
from edge_slice.core.cut.spec import AnyCut, BlankCut, PlanCut
from edge_slice.core.model import Model
from edge_slice.core.model.mesh.joints import Joints
from edge_slice.core.stages import stage

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
IN_PLANE = 1e-5  # mm; corners this near to the plane of the cut lie in it


@dataclass(frozen=True)
class _Job:
    """What all leaves of a cut share."""

    model: Model
    spec: AnyCut
    rules: MaterialRules
    shown: Flags
    leaking: Flags
    material: I64
    seen_as: I64
    conceals: Flags
    polygon: shapely.Polygon | None
    lens: Lens | None
    overhead: float
    past: Past | None
    joints: Joints
    standing: tuple[StandingFaces, ...]

    @property
    def sight(self) -> tuple[object, ...]:
        spec = self.spec
        return (spec.glass, spec.hidden, spec.see_through, spec.see_through_kinds, self.overhead)


def cut_planes(
    model: Model,
    spec: AnyCut,
    rules: MaterialRules,
    earlier: CutResult | None = None,
    standing: tuple[StandingFaces, ...] = (),
) -> CutResult:
    """Cut the model and look.

    rules: what materials do to each other.
    earlier: a result for the same drawing, of this model or an older one; what did not change since is taken
    from it, and `CutResult.work` says what was not. The result is the same either way.
    standing: cut faces in other planes, which hide what lies behind them.
    Raises `ImpossibleCut`.
    """
    if earlier is not None and earlier.memory is not None and nothing_changed(earlier.memory, model, spec, rules):
        return replace(earlier, work=Work())
    leaves = leaves_of(model, spec)
    window = whole_window(leaves)
    if isinstance(spec, BlankCut):
        return CutResult(leaves, window, (), CutLines.empty())
    corners = np.array(spec.extents.polygon) * 1000.0
    polygon = shapely.Polygon(corners) if len(corners) else None
    lens = lens_of(model, spec, leaves)
    shown = shown_elements(model, spec)
    leaking = np.zeros(len(model.elements), dtype=bool)
    leaking[list(model.leaking)] = True
    overhead = spec.overhead * 1000.0 if isinstance(spec, PlanCut) and spec.look == "down" else 0.0
    past = Past.of(earlier.memory if earlier is not None else None, model, shown, spec)
    with stage("joints"):
        joints = _joints(model, rules, shown & ~whole_elements(model, spec))
        seen_as, conceals = concealing(model, spec, rules)
    job = _Job(
        model, spec, rules, shown, leaking, model.triangle_materials, seen_as, conceals, polygon, lens, overhead, past,
        joints, standing,
    )  # fmt: skip
    parts = [_cut_leaf(job, leaf, k, len(leaves)) for k, leaf in enumerate(leaves)]
    faces = [f for part, _ in parts for f in part.faces]
    if len(leaves) > 1:
        faces = across_steps(faces)
    with stage("once"):
        lines = _shown_lines(job, [part for part, _ in parts], faces)
    reaches = [leaf.far for leaf in leaves]
    return CutResult(
        leaves,
        window,
        tuple(faces),
        lines,
        tuple(chain for part, _ in parts for chain in part.loose),
        max(reaches) if np.isfinite(reaches).all() else None,
        polygon,
        lens,
        _added([work for _, work in parts]),
        CutMemory(
            model, spec, shown, rules, spec.extents.polygon, lens, job.sight, tuple(part for part, _ in parts), standing
        ),
    )


def _joints(model: Model, rules: MaterialRules, shown: Flags) -> Joints:
    """The model's joints between shown elements that need no line: those of layers, of a material that merges, and
    those between parts of one element."""
    mesh, joints = model.mesh, model.joints
    kind = np.minimum(model.surfaces.kind[mesh.edge_triangles[joints.edge]], len(model.materials))
    own = mesh.edge_element[joints.edge]
    runs_on = joints.runs_on & ((joints.skin & rules.skins) | rules.merge[kind] | (own == joints.other)[:, None])
    both = shown[own] & shown[joints.other]
    return replace(joints, runs_on=runs_on).pick(both & runs_on.any(axis=1))


def _added(works: list[Work]) -> Work:
    stages = [s for w in works for s in w.stages]
    return Work(tuple(dict.fromkeys(stages)), sum(w.sliced for w in works), sum(w.traced for w in works))


def _cut_leaf(job: _Job, leaf: Leaf, index: int, count: int) -> tuple[LeafMemory, Work]:
    """One plane of the cut, stage by stage."""
    past = job.past.leaf(leaf, index, count) if job.past is not None else None
    model = job.model
    with stage("sight"):
        points, _ = points_before(model, job.spec, leaf.axes)
        points[np.abs(points[:, 2]) < IN_PLANE, 2] = 0.0  # else rounding parts faces that lie in the plane
        sight = Sight(model.mesh, leaf, points, job.seen_as, job.conceals, job.leaking, job.lens, job.joints)
        through = job.shown & sight.through()
    todo = through if past is None or job.past is None else through & ~job.past.reusable
    with stage("slice"):
        raw, loose = _sliced(job, sight, todo, index)
    if past is not None and job.past is not None:
        raw = sorted(raw + job.past.faces(past.raw), key=lambda f: f.element)
        loose = sorted(loose + job.past.loose(past.loose), key=lambda c: c[0])
    stages = ["slice"] if todo.any() or past is None else []
    if past is not None and job.past is not None and not todo.any() and len(raw) == len(past.raw):
        same = same_rules(job.rules, job.past.memory.rules)
    else:
        same = False
    if same and past is not None and job.past is not None:
        faces, caps = job.past.faces(past.faces), past.caps
    else:
        with stage("overlaps"):
            faces = resolve_overlaps(raw, job.rules.strength)
            caps = np.concatenate((cap_triangles(faces), *(one.as_seen(leaf.axes, job.lens) for one in job.standing)))
        stages.append("overlaps")
    with stage("lines"):
        traced, overhead, count_traced = _lines(job, sight, past, faces, caps)
    stages += ["lines"] if count_traced else []
    kept = LeafMemory(leaf, tuple(raw), tuple(loose), tuple(faces), caps, sight.boxes, traced, overhead)
    return kept, Work(tuple(stages), int(todo.sum()), count_traced)


def _sliced(job: _Job, sight: Sight, elements: Flags, index: int) -> tuple[list[CutFace], list[Loose]]:
    """Faces of elements (elements,) in the leaf, in layers and cropped, and outlines that do not close."""
    mesh, model, leaf = job.model.mesh, job.model, sight.leaf
    count = len(model.materials) + 1
    group = (mesh.triangle_element.astype(np.int64) * count + job.material).astype(np.int32)
    rings = slice_triangles(sight.points, mesh.triangles, elements[mesh.triangle_element], group)
    if not len(rings.triangle):
        return [], []
    key = group[rings.triangle].astype(np.int64)
    faces = []
    for k, polygons in close_rings(rings, key).items():
        element, material = divmod(k, count)
        of = material if material < count - 1 else -1
        faces += [f for p in polygons for f in split_layers(model, leaf.axes, CutFace(element, of, -1, p, leaf=index))]
    loose: list[Loose] = []
    for k in np.flatnonzero(~rings.closed).tolist():
        element = int(mesh.triangle_element[rings.triangle[k]])
        chain = rings.points[rings.start[k] : rings.start[k + 1]]
        if model.elements[element].kind == "ground" and leaf.axes.v[2] > 0.99:
            of = int(key[k] % count)
            of = of if of < count - 1 else -1
            faces += [CutFace(element, of, -1, p, leaf=index) for p in ground_under(chain, leaf.window)]
        else:
            loose.append((element, chain))
    faces = crop(faces, leaf.window, job.polygon)
    return sorted(faces, key=lambda f: f.element), loose


def _lines(
    job: _Job, sight: Sight, past: LeafMemory | None, faces: list[CutFace], caps: F64
) -> tuple[CutLines, CutLines, int]:
    """Lines and overhead lines of a leaf before coincident ones are dropped, and how many elements were traced."""
    present = job.shown & sight.in_view(sight.leaf.far)
    again = _to_trace(job, sight, past, faces, present)
    if again is None or past is None or job.past is None:
        traced = _traced(job, sight, faces, (present, present), caps)
        return traced, _overhead(job, sight, caps), int(present.sum())
    if not again.any() and not _vanished(job, sight, past).any():
        keep_all = np.ones(len(again), dtype=bool)
        return (
            job.past.lines(past.traced, lambda e: keep_all[e]),
            job.past.lines(past.overhead, lambda e: keep_all[e]),
            0,
        )
    wanted = present & again
    traced = _traced(job, sight, faces, (wanted, present), caps)
    joined = CutLines.join([job.past.lines(past.traced, lambda e: ~again[e]), traced])
    order = np.argsort(joined.edge, kind="stable")
    return joined.pick(order), _overhead(job, sight, caps), int(wanted.sum())


def _traced(job: _Job, sight: Sight, faces: list[CutFace], elements: tuple[Flags, Flags], caps: F64) -> CutLines:
    """The lines of wanted elements among those that are present, with the hidden ones that the cut asks for."""
    (wanted, present), far, hidden = elements, sight.leaf.far, job.spec.hidden
    traced = trace_lines(sight, wanted, Concealing(present, caps), far, hidden == "dashed")
    if hidden != "below ground":
        return traced
    ground = np.array([e.kind == "ground" for e in job.model.elements], dtype=bool)
    if not (ground & present).any():
        return traced
    material = np.where(ground[sight.mesh.triangle_element], len(sight.conceals) - 1, sight.material)
    clear = replace(sight, material=material)  # ground counts as what hides nothing
    left = cap_triangles([f for f in faces if not ground[f.element]])
    below = trace_lines(clear, wanted & ~ground, Concealing(present, left), far, False, Role.HIDDEN)
    joined = CutLines.join([traced, below])  # where a line is seen, too, its hidden one goes with all that coincide
    return joined.pick(np.argsort(joined.edge, kind="stable"))


def _vanished(job: _Job, sight: Sight, past: LeafMemory) -> Flags:
    """Earlier elements that are in the drawing no more, or otherwise."""
    assert job.past is not None
    now = job.past.kin.new
    gone = (now < 0) | ~job.past.reusable[np.maximum(now, 0)]
    found: Flags = gone & job.past.memory.shown & np.isfinite(past.boxes[:, 0, 0])
    return found


def _to_trace(job: _Job, sight: Sight, past: LeafMemory | None, faces: list[CutFace], present: Flags) -> Flags | None:
    """Elements whose lines may differ from the earlier cut's; None: all of them."""
    if past is None or job.past is None or job.lens is not None:
        return None
    memory = job.past.memory
    if memory.lens is not None or memory.sight != job.sight or not same_sight(memory.rules, job.rules):
        return None
    changed = present & ~job.past.reusable
    places = np.concatenate(
        (
            places_of(sight.boxes[changed]),
            places_of(past.boxes[_vanished(job, sight, past)]),
            changed_faces(past.faces, faces),
        )
    )
    again: Flags = changed | touched(sight.boxes, places)
    if past.leaf.far != sight.leaf.far:
        # what lies nearer than both depths is hidden by nothing that lies beyond them
        again |= sight.boxes[:, 1, 2] > min(past.leaf.far, sight.leaf.far) - TOUCH
    return again


def _overhead(job: _Job, sight: Sight, caps: F64) -> CutLines:
    """What hangs above a plan's cut, as seen looking up from it."""
    if job.overhead <= 0:
        return CutLines.empty()
    axes = sight.leaf.axes
    turned = replace(sight.leaf, axes=replace(axes, w=-axes.w))
    up = replace(sight, leaf=turned, points=sight.points * np.array([1.0, 1.0, -1.0]))
    present = job.shown & up.in_view(job.overhead)
    return trace_lines(up, present, Concealing(present, caps), job.overhead, False, Role.OVERHEAD)


def _shown_lines(job: _Job, parts: list[LeafMemory], faces: list[CutFace]) -> CutLines:
    """The lines of all leaves, cropped, each drawn once and none along the border of a cut face."""
    lines = CutLines.join([x for part in parts for x in (part.traced, part.overhead)])
    if job.polygon is not None:
        lines = _cropped(lines, job.polygon)
    outlined = [f for f in faces if job.model.elements[f.element].kind != "ground"]
    return drawn_once(lines, face_borders(outlined))


def _cropped(lines: CutLines, polygon: shapely.Polygon) -> CutLines:
    shapes = shapely.linestrings(lines.points.reshape(-1, 2, 2))
    shapely.prepare(polygon)
    inside = shapely.covers(polygon, shapes)
    crossing = np.flatnonzero(~inside & shapely.intersects(polygon, shapes))
    pieces, of = shapely.get_parts(shapely.intersection(shapes[crossing], polygon), return_index=True)
    straight = shapely.get_type_id(pieces) == shapely.GeometryType.LINESTRING
    pieces, of = pieces[straight], of[straight]
    ends = shapely.get_coordinates(pieces).reshape(-1, 4)
    cut = replace(lines.pick(crossing[of]), points=ends)
    joined = CutLines.join([lines.pick(inside), cut])
    return joined.pick(np.argsort(joined.edge, kind="stable"))
