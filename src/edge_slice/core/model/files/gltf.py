"""What a glTF 2.0 file says of itself, checked before it is read: every part names parts that are there, every buffer
holds what is said to lie in it, every triangle joins points that exist (ISO/IEC 12113, sections 3 and 5)."""

from __future__ import annotations

import base64
import binascii
import json
import struct
from collections.abc import Callable
from pathlib import Path
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from edge_slice.core.model.errors import UnreadableModel

Index = Annotated[int, Field(ge=0)]
TRIANGLES, STRIP, FAN = 4, 5, 6
_TYPES = {5120: "<i1", 5121: "<u1", 5122: "<i2", 5123: "<u2", 5125: "<u4", 5126: "<f4"}
_WIDTH = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT2": 4, "MAT3": 9, "MAT4": 16}
_COMPRESSED = ("KHR_draco_mesh_compression", "EXT_meshopt_compression", "KHR_meshopt_compression")
# what a model may need of its reader without its bodies being others: surfaces, lamps, words
_OF_NO_MATTER = (
    "KHR_materials_",
    "KHR_technique",
    "KHR_texture_",
    "EXT_texture_",
    "KHR_lights_",
    "KHR_xmp",
    "MSFT_texture_",
    "ADOBE_",
)


class _Part(BaseModel):
    """A part of the file; what is not needed here is passed over."""

    model_config = ConfigDict(strict=True, extra="ignore")
    name: str | None = None
    extensions: dict[str, Any] | None = None


class _Asset(_Part):
    version: str
    minVersion: str = ""


class _Buffer(_Part):
    byteLength: Annotated[int, Field(ge=1)]
    uri: str | None = None


class _View(_Part):
    buffer: Index
    byteOffset: Index = 0
    byteLength: Annotated[int, Field(ge=1)]
    byteStride: Annotated[int, Field(ge=4, le=252)] | None = None


class _Accessor(_Part):
    bufferView: Index | None = None
    byteOffset: Index = 0
    componentType: Literal[5120, 5121, 5122, 5123, 5125, 5126]
    count: Annotated[int, Field(ge=1)]
    type: Literal["SCALAR", "VEC2", "VEC3", "VEC4", "MAT2", "MAT3", "MAT4"]
    sparse: dict[str, Any] | None = None


class _Primitive(_Part):
    attributes: dict[str, Index]
    indices: Index | None = None
    material: Index | None = None
    mode: Annotated[int, Field(ge=0, le=6)] = TRIANGLES


class _Mesh(_Part):
    primitives: Annotated[list[_Primitive], Field(min_length=1)]


class _Node(_Part):
    mesh: Index | None = None
    children: list[Index] = []
    matrix: Annotated[list[float], Field(min_length=16, max_length=16)] | None = None
    translation: Annotated[list[float], Field(min_length=3, max_length=3)] | None = None
    rotation: Annotated[list[float], Field(min_length=4, max_length=4)] | None = None
    scale: Annotated[list[float], Field(min_length=3, max_length=3)] | None = None


class _Scene(_Part):
    nodes: list[Index] = []


class _Material(_Part):
    pbrMetallicRoughness: dict[str, Any] | None = None


class _Document(_Part):
    asset: _Asset
    scene: Index | None = None
    scenes: list[_Scene] = []
    nodes: list[_Node] = []
    meshes: list[_Mesh] = []
    materials: list[_Material] = []
    accessors: list[_Accessor] = []
    bufferViews: list[_View] = []
    buffers: list[_Buffer] = []
    extensionsRequired: list[str] = []


def check_gltf(path: Path, beside: Callable[[str], bytes]) -> None:
    """Raise `UnreadableModel` for a file that is not what glTF 2.0 demands, with the part of it that is not, or that
    needs what can't be read here. `beside`: the bytes of a file that it names."""
    said, inside = _opened(path)
    _check_version(said)
    document = _parsed(said)
    _check_needs(document)
    _check_names(document)
    _check_tree(document)
    buffers = [_bytes_of(k, buffer, inside, beside) for k, buffer in enumerate(document.buffers)]
    for m, mesh in enumerate(document.meshes):
        for p, primitive in enumerate(mesh.primitives):
            _check_primitive(document, buffers, f"meshes[{m}].primitives[{p}]", primitive)
    if not any(p.mode in (TRIANGLES, STRIP) for mesh in document.meshes for p in mesh.primitives):
        raise UnreadableModel("The file holds no triangles: export it with its 3D bodies and try again.")
    if not any(node.mesh is not None for node in document.nodes):
        raise UnreadableModel("No node of the file shows one of its meshes; export the model again.")
    if not any(scene.nodes for scene in document.scenes):
        raise UnreadableModel("The file has no scene with nodes in it: nothing says what stands where.")


def _opened(path: Path) -> tuple[Any, bytes | None]:
    """The JSON of a file, and the bytes that a GLB holds behind it."""
    data = path.read_bytes()
    inside = None
    if path.suffix.lower() == ".glb":
        data, inside = _chunks(data)
    try:
        return json.loads(data.decode("utf-8-sig")), inside
    except UnicodeDecodeError as error:
        raise UnreadableModel(f"The file is no text in UTF-8 (byte {error.start}), as glTF demands.") from error
    except (json.JSONDecodeError, RecursionError) as error:
        place = f"line {error.lineno}, column {error.colno}" if isinstance(error, json.JSONDecodeError) else "nesting"
        raise UnreadableModel(f"The file is no glTF: its JSON breaks off or is damaged at {place}.") from error


def _chunks(data: bytes) -> tuple[bytes, bytes | None]:
    if len(data) < 20 or data[:4] != b"glTF":
        raise UnreadableModel("The file is no GLB: it does not begin with “glTF”.")
    version, length = struct.unpack_from("<II", data, 4)
    if version == 1:
        raise _old("1.0")
    if length > len(data):
        raise UnreadableModel(f"The file is cut short: it should have {length:,} bytes and has {len(data):,}.")
    found: list[bytes] = []
    at = 12
    while at + 8 <= length and len(found) < 2:
        size, kind = struct.unpack_from("<I4s", data, at)
        if at + 8 + size > length:
            raise UnreadableModel(f"The file is damaged: its part at byte {at:,} reaches beyond the end.")
        if kind == (b"JSON", b"BIN\0")[len(found)]:
            found.append(data[at + 8 : at + 8 + size])
        at += 8 + size
    if not found:
        raise UnreadableModel("The file is no GLB: it does not begin with its JSON.")
    return found[0], found[1] if len(found) > 1 else None


def _old(version: str) -> UnreadableModel:
    return UnreadableModel(f"This is glTF {version}; only glTF 2 is read. Export the model as glTF 2.0.")


def _check_version(said: Any) -> None:
    asset = said.get("asset") if isinstance(said, dict) else None
    version = str(asset.get("version", "")) if isinstance(asset, dict) else ""
    if version and not version.startswith("2"):
        raise _old(version[:12])


def _parsed(said: Any) -> _Document:
    try:
        return _Document.model_validate(said)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        words = str(first["msg"]).removeprefix("Input ").removeprefix("should ").rstrip(".")
        raise UnreadableModel(f"The file is no glTF 2.0: {_place(first['loc'])} should {words}.") from error


def _place(location: tuple[int | str, ...]) -> str:
    place = ""
    for part in location:
        place += f"[{part}]" if isinstance(part, int) else f".{part}" if place else str(part)
    return place or "the whole"


def _check_needs(document: _Document) -> None:
    for name in document.extensionsRequired:
        if name in _COMPRESSED:
            raise _compressed(name)
        if not name.startswith(_OF_NO_MATTER) and name != "KHR_mesh_quantization":
            raise UnreadableModel(f"This file can't be read without “{name[:60]}”, which is not known here.")


def _compressed(name: str) -> UnreadableModel:
    return UnreadableModel(
        f"The geometry of this file is compressed ({name}), which can't be read; export it without compression."
    )


def _check_names(document: _Document) -> None:
    """That parts name parts that are there."""

    def named(place: str, index: int | None, rows: list[Any], what: str) -> None:
        if index is not None and index >= len(rows):
            raise UnreadableModel(
                f"The file is damaged: {place} names {what}[{index}], of which there are {len(rows)}."
            )

    named("scene", document.scene, document.scenes, "scenes")
    for k, scene in enumerate(document.scenes):
        for node in scene.nodes:
            named(f"scenes[{k}].nodes", node, document.nodes, "nodes")
    for k, one in enumerate(document.nodes):
        named(f"nodes[{k}].mesh", one.mesh, document.meshes, "meshes")
        for child in one.children:
            named(f"nodes[{k}].children", child, document.nodes, "nodes")
    for k, mesh in enumerate(document.meshes):
        for p, primitive in enumerate(mesh.primitives):
            place = f"meshes[{k}].primitives[{p}]"
            named(f"{place}.indices", primitive.indices, document.accessors, "accessors")
            named(f"{place}.material", primitive.material, document.materials, "materials")
            for name, accessor in primitive.attributes.items():
                named(f"{place}.attributes.{name}", accessor, document.accessors, "accessors")
    for k, values in enumerate(document.accessors):
        named(f"accessors[{k}].bufferView", values.bufferView, document.bufferViews, "bufferViews")
    for k, view in enumerate(document.bufferViews):
        named(f"bufferViews[{k}].buffer", view.buffer, document.buffers, "buffers")


def _check_tree(document: _Document) -> None:
    """That nodes are trees: each has one parent at most, and none is inside itself."""
    parents: dict[int, int] = {}
    for k, node in enumerate(document.nodes):
        for child in node.children:
            if child in parents:
                raise UnreadableModel(
                    f"The file is damaged: nodes[{child}] is a child of both nodes[{parents[child]}] and nodes[{k}]."
                )
            parents[child] = k
    for start in range(len(document.nodes)):
        at, steps = start, 0
        while at in parents and steps <= len(document.nodes):
            at, steps = parents[at], steps + 1
        if steps > len(document.nodes):
            raise UnreadableModel(f"The file is damaged: nodes[{start}] is inside itself, by way of its children.")


def _bytes_of(index: int, buffer: _Buffer, inside: bytes | None, beside: Callable[[str], bytes]) -> bytes:
    place = f"buffers[{index}]"
    if buffer.uri is None:
        if inside is None or index:
            raise UnreadableModel(f"The file is damaged: it does not say where the bytes of {place} are.")
        data = inside
    elif buffer.uri.startswith("data:"):
        head, _, text = buffer.uri.partition(",")
        try:
            data = base64.b64decode(text, validate=True) if head.endswith(";base64") else b""
        except (binascii.Error, ValueError) as error:
            raise UnreadableModel(f"The file is damaged: the bytes in {place} are no base64.") from error
    else:
        data = beside(buffer.uri)
    if len(data) < buffer.byteLength:
        said = f"{place} should have {buffer.byteLength:,} bytes and has {len(data):,}"
        raise UnreadableModel(f"The file is cut short: {said}.")
    return data


def _check_primitive(document: _Document, buffers: list[bytes], place: str, primitive: _Primitive) -> None:
    if primitive.mode == FAN:
        raise UnreadableModel(f"{place} is a fan of triangles, which can't be read; export the model as triangles.")
    if primitive.mode not in (TRIANGLES, STRIP):
        return  # points and lines have no part in a drawing
    if "POSITION" not in primitive.attributes:
        raise UnreadableModel(f"The file is damaged: {place} has no points (POSITION).")
    number = primitive.attributes["POSITION"]
    points = document.accessors[number]
    if points.bufferView is None and points.sparse is None:
        for name in set(_COMPRESSED) & set(primitive.extensions or {}):
            raise _compressed(name)
        raise UnreadableModel(f"The file is damaged: accessors[{number}], the points of {place}, has no values.")
    if points.type != "VEC3":
        raise UnreadableModel(f"The file is damaged: accessors[{number}], the points of {place}, is no VEC3.")
    for name, accessor in primitive.attributes.items():
        _check_extent(document, accessor)
        count = document.accessors[accessor].count
        if count != points.count:
            raise UnreadableModel(f"The file is damaged: {place} has {points.count} points and {count} of {name}.")
    count = points.count
    if primitive.indices is not None:
        _check_extent(document, primitive.indices)
        corners = _values(document, buffers, primitive.indices)
        count = len(corners)
        if document.accessors[primitive.indices].type != "SCALAR" or corners.dtype.kind != "u":
            raise UnreadableModel(f"The file is damaged: accessors[{primitive.indices}] can't be indices of points.")
        if count and int(corners.max()) >= points.count:
            raise UnreadableModel(
                f"The file is damaged: {place} joins point {int(corners.max())}, but has {points.count} points, counted"
                " from 0."
            )
    if primitive.mode == TRIANGLES and count % 3:
        raise UnreadableModel(f"The file is damaged: {place} has {count} corners, which are no triangles of three.")


def _check_extent(document: _Document, number: int) -> None:
    """That the values of an accessor lie in its view, and that in its buffer."""
    accessor = document.accessors[number]
    if accessor.bufferView is None:
        return
    view = document.bufferViews[accessor.bufferView]
    size = np.dtype(_TYPES[accessor.componentType]).itemsize * _WIDTH[accessor.type]
    last = accessor.byteOffset + (view.byteStride or size) * (accessor.count - 1) + size
    if last > view.byteLength:
        raise UnreadableModel(
            f"The file is damaged: accessors[{number}] reaches to byte {last:,} of bufferViews[{accessor.bufferView}],"
            f" which has {view.byteLength:,}."
        )
    whole = document.buffers[view.buffer].byteLength
    if view.byteOffset + view.byteLength > whole:
        raise UnreadableModel(
            f"The file is damaged: bufferViews[{accessor.bufferView}] reaches to byte"
            f" {view.byteOffset + view.byteLength:,} of buffers[{view.buffer}], which has {whole:,}."
        )


def _values(document: _Document, buffers: list[bytes], number: int) -> NDArray[Any]:
    """The values of an accessor of single numbers."""
    accessor = document.accessors[number]
    kind = np.dtype(_TYPES[accessor.componentType])
    if accessor.bufferView is None or accessor.sparse is not None:
        return np.zeros(0, kind)
    view = document.bufferViews[accessor.bufferView]
    step = view.byteStride or kind.itemsize
    start = view.byteOffset + accessor.byteOffset
    return np.ndarray((accessor.count,), kind, buffers[view.buffer], start, (step,))
