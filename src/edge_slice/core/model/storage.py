"""A model as one compressed block of bytes and back: what is stored under its content hash."""

from __future__ import annotations

import io
import json
import zipfile
from dataclasses import asdict, fields
from typing import Any

import numpy as np
import zstandard

from edge_slice.core.model.building import (
    BuildUp,
    Element,
    GridAxis,
    Layer,
    LayerFrame,
    MapPlace,
    Material,
    Model,
    Part,
    Placement,
    Run,
    Space,
    Storey,
    Twice,
)
from edge_slice.core.model.mesh.joints import Joints
from edge_slice.core.model.mesh.triangles import Mesh

FORMAT = 8
JOINTS = "joints."
QUICK = 1  # of zstd's levels: a sixth of the time of zlib's quickest, for a tenth more bytes
ZSTD = b"\x28\xb5\x2f\xfd"  # how a frame begins (RFC 8878, 3.1.1)
# 1 has no placements of elements and no curved layers, 2 no operation of doors, 3 no properties, 4 no contents, 5 no
# properties of rooms, 6 no place on a map and no parts, 7 no runs
READABLE = (1, 2, 3, 4, 5, 6, 7, 8)
ROWS = ("elements", "build_ups", "storeys", "grid", "spaces", "parts", "twice")


def model_to_bytes(model: Model, compressed: bool = True) -> bytes:
    """NumPy's npz container: the mesh arrays, its joints, and everything else as one JSON text. Not compressed it is
    read faster and takes about four times the room."""
    facts = {f.name: getattr(model, f.name) for f in fields(Model) if f.name not in ("mesh", "former_ground")}
    for name in ROWS:
        facts[name] = [asdict(item) for item in facts[name]]
    facts["materials"] = [{"name": m.name, "category": m.category} for m in model.materials]  # as the file has them
    facts["map_place"] = asdict(model.map_place) if model.map_place is not None else None
    text = json.dumps({"format": FORMAT, **facts}, ensure_ascii=False)
    stream = io.BytesIO()
    arrays = {f.name: getattr(model.mesh, f.name) for f in fields(Mesh)}
    arrays |= {JOINTS + f.name: getattr(model.joints, f.name) for f in fields(Joints)}
    facts_said = {"facts": np.frombuffer(text.encode(), dtype=np.uint8)}
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_STORED) as packed:
        for name, array in (facts_said | arrays).items():
            with packed.open(f"{name}.npy", "w", force_zip64=True) as entry:  # dated 1980, whenever it is written
                np.lib.format.write_array(entry, np.asanyarray(array), allow_pickle=False)
    found = stream.getvalue()
    return zstandard.ZstdCompressor(level=QUICK).compress(found) if compressed else found


def model_from_bytes(data: bytes) -> Model:
    """The inverse; raises ValueError for another format. Models that were kept before came as compressed npz."""
    if data.startswith(ZSTD):
        data = zstandard.ZstdDecompressor().decompress(data)
    with np.load(io.BytesIO(data)) as stored:
        facts: dict[str, Any] = json.loads(stored["facts"].tobytes().decode())
        if facts.pop("format") not in READABLE:
            raise ValueError("stored model has another format; import the file again")
        mesh = Mesh(**{f.name: stored[f.name] for f in fields(Mesh)})
        known = JOINTS + "edge" in stored
        joints = Joints(**{f.name: stored[JOINTS + f.name] for f in fields(Joints)}) if known else None
    model = Model(
        mesh=mesh,
        elements=tuple(_element(e) for e in facts.pop("elements")),
        materials=tuple(Material(**m) for m in facts.pop("materials")),
        build_ups=tuple(BuildUp(b["name"], tuple(Layer(**x) for x in b["layers"])) for b in facts.pop("build_ups")),
        storeys=tuple(Storey(**s) for s in facts.pop("storeys")),
        grid=tuple(GridAxis(g["name"], tuple(g["start"]), tuple(g["end"])) for g in facts.pop("grid")),
        spaces=tuple(_space(s) for s in facts.pop("spaces")),
        parts=tuple(Part(**p) for p in facts.pop("parts", ())),
        twice=tuple(_twice(t) for t in facts.pop("twice", ())),
        map_place=_map_place(facts.pop("map_place", None)),
        **{k: tuple(v) if isinstance(v, list) else v for k, v in facts.items()},  # type: ignore[arg-type]
    )
    if joints is not None:
        model.__dict__["joints"] = joints  # in the place of the cached property, which would find them again
    return model


def _element(stored: dict[str, Any]) -> Element:
    frame = stored["frame"]
    made = LayerFrame(tuple(frame["origin"]), tuple(frame["direction"]), frame.get("radius", 0.0)) if frame else None
    place = stored.get("placement")
    placement = Placement(tuple(place["origin"]), tuple(place["x"]), tuple(place["y"])) if place else None
    said = {"frame": made, "placement": placement, "properties": _said(stored), "run": _run(stored.get("run"))}
    return Element(**{**stored, **said})


def _run(stored: dict[str, Any] | None) -> Run | None:
    if stored is None:
        return None
    return Run(**{**stored, "flow": tuple(stored["flow"]) if stored["flow"] else None})


def _twice(stored: dict[str, Any]) -> Twice:
    at = stored.get("hole_at")
    return Twice(**{**stored, "hole_at": tuple(at) if at else None})


def _map_place(stored: dict[str, Any] | None) -> MapPlace | None:
    return None if stored is None else MapPlace(**{**stored, "x_axis": tuple(stored["x_axis"])})


def _space(stored: dict[str, Any]) -> Space:
    outline = tuple((x, y) for x, y in stored["outline"])
    return Space(**{**stored, "outline": outline, "properties": _said(stored)})


def _said(stored: dict[str, Any]) -> tuple[tuple[str, str], ...]:
    return tuple((name, value) for name, value in stored.get("properties", ()))
