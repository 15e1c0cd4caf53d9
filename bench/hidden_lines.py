"""python -m bench.hidden_lines: hidden lines against OpenCASCADE's polygonal and exact algorithms.

All three look at the same triangles of the demo model in the same views, in one run. For OpenCASCADE each element is
sewn to a shell whose coplanar triangles are one face, which is the kinder form for it; building and meshing that is
not counted. The agreement with a brute-force depth check is measured on sampled points, as in the tests.

Needs OpenCASCADE's Python package, for this comparison only: see bench/requirements.txt.
"""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from dataclasses import replace
from itertools import pairwise
from pathlib import Path
from typing import Any

import numpy as np

from bench.timing import median
from edge_slice.core.cut import CutLines, CutResult, Extents, Role, cut_model
from edge_slice.core.cut.planes.sets import elevation_facing, elevations_of
from edge_slice.core.model import Model
from edge_slice.core.model.ifc.reading import read_ifc
from oracles.agreement import agreement

HERE = Path(__file__).parent
DEMO = HERE.parent / "demo" / "curlew-point.ifc"
SAMPLES = 400


def shape_of(model: Model) -> Any:
    """The model as a compound of shells with flat faces, in millimetres."""
    from OCP.BRep import BRep_Builder
    from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakePolygon, BRepBuilderAPI_Sewing
    from OCP.BRepMesh import BRepMesh_IncrementalMesh
    from OCP.gp import gp_Pnt
    from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain
    from OCP.TopoDS import TopoDS_Compound

    compound, builder = TopoDS_Compound(), BRep_Builder()
    builder.MakeCompound(compound)
    mesh = model.mesh
    starts = np.searchsorted(mesh.triangle_element, np.arange(len(model.elements) + 1))
    points = [gp_Pnt(*row) for row in (mesh.vertices * 1000.0).tolist()]
    for first, last in pairwise(starts.tolist()):
        sewing = BRepBuilderAPI_Sewing(0.01)
        for a, b, c in mesh.triangles[first:last].tolist():
            outline = BRepBuilderAPI_MakePolygon(points[a], points[b], points[c], True)
            face = BRepBuilderAPI_MakeFace(outline.Wire(), True) if outline.IsDone() else None
            if face is not None and face.IsDone():
                sewing.Add(face.Face())
        sewing.Perform()
        flat = ShapeUpgrade_UnifySameDomain(sewing.SewedShape(), True, True, False)
        flat.Build()
        builder.Add(compound, flat.Shape())
    BRepMesh_IncrementalMesh(compound, 1.0, False, 0.5, False)
    return compound


def projector_of(result: CutResult) -> Any:
    from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt
    from OCP.HLRAlgo import HLRAlgo_Projector

    axes = result.axes
    toward, right = (gp_Dir(*v.tolist()) for v in (-axes.w, axes.u))
    return HLRAlgo_Projector(gp_Ax2(gp_Pnt(*(axes.origin * 1000.0).tolist()), toward, right))


def polygonal(shape: Any, projector: Any) -> list[Any]:
    from OCP.HLRBRep import HLRBRep_PolyAlgo, HLRBRep_PolyHLRToShape

    algorithm = HLRBRep_PolyAlgo()
    algorithm.Load(shape)
    algorithm.Projector(projector)
    algorithm.Update()
    found = HLRBRep_PolyHLRToShape()
    found.Update(algorithm)
    return [found.VCompound(), found.OutLineVCompound()]


def exact(shape: Any, projector: Any) -> list[Any]:
    from OCP.HLRBRep import HLRBRep_Algo, HLRBRep_HLRToShape

    algorithm = HLRBRep_Algo()
    algorithm.Add(shape)
    algorithm.Projector(projector)
    algorithm.Update()
    algorithm.Hide()
    found = HLRBRep_HLRToShape(algorithm)
    return [found.VCompound(), found.OutLineVCompound()]


def lines_in(compounds: list[Any]) -> CutLines:
    """The straight edges of compounds in the projection plane."""
    from OCP.BRep import BRep_Tool
    from OCP.TopAbs import TopAbs_EDGE, TopAbs_VERTEX
    from OCP.TopExp import TopExp_Explorer
    from OCP.TopoDS import TopoDS

    rows = []
    for compound in compounds:
        explorer = TopExp_Explorer(compound, TopAbs_EDGE) if compound is not None else None
        while explorer is not None and explorer.More():
            ends = []
            corner = TopExp_Explorer(explorer.Current(), TopAbs_VERTEX)
            while corner.More():
                p = BRep_Tool.Pnt_s(TopoDS.Vertex(corner.Current()))
                ends.append((p.X(), p.Y()))
                corner.Next()
            if len(ends) == 2 and ends[0] != ends[1]:
                rows.append([*ends[0], *ends[1]])
            explorer.Next()
    count = len(rows)
    none = np.zeros(count, np.int32)
    return CutLines(np.array(rows).reshape(-1, 4), np.full(count, Role.SEEN, np.uint8), none, np.zeros(count), none)


def once(act: Callable[[], Any]) -> tuple[float, Any]:
    start = time.perf_counter()
    found = act()
    return time.perf_counter() - start, found


def main() -> None:
    packages = HERE / ".packages"
    if packages.is_dir():
        sys.path.insert(0, str(packages))
    model = read_ifc(DEMO)
    shape = shape_of(model)
    print(f"demo: {len(model.mesh.triangles)} triangles in {len(model.elements)} elements\n")
    print(f"{'view':<22}{'algorithm':<14}{'time':>10}{'ratio':>8}{'right':>9}{'found':>9}")
    everything = Extents(base=-4.0, top=13.0)
    views = {
        "south elevation": elevations_of(model)[2].model_copy(update={"extents": everything}),
        "from the south-east": elevation_facing(model, 150.0).model_copy(update={"extents": everything}),
    }
    for name, spec in views.items():
        result = cut_model(model, spec)
        own = median(lambda s=spec: cut_model(model, s))
        projector = projector_of(result)
        rows = [("Edge Slice", own, result)]
        for word, act in (("polygonal", polygonal), ("exact", exact)):
            taken, compounds = once(lambda a=act, p=projector: a(shape, p))
            rows.append((word, taken, replace(result, lines=lines_in(compounds))))
        for word, taken, found in rows:
            right, drawn = agreement(model, found, SAMPLES)
            print(
                f"{name:<22}{word:<14}{taken * 1000:>7.0f} ms{taken / own:>8.1f}{right:>9.1%}{drawn:>9.1%}", flush=True
            )


if __name__ == "__main__":
    main()
