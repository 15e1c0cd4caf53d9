"""Files of bare triangles that are not what they say: each is refused in words, with the part that is wrong."""

from __future__ import annotations

import base64
import json
import re
import struct
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from edge_slice.core.model import Model, UnreadableModel
from edge_slice.core.model.files.any_file import read_model
from tests.core.model.test_meshes import FORMS, written

Json = dict[str, Any]
# what libraries and the language say of themselves
FOREIGN = re.compile(
    r"Error|object has no|out of bounds|NoneType|assert|axis \d|dtype|buffer is smaller|sequence element|numpy|trimesh|"
    r"subscriptable|unpack|ndarray|invalid literal|Traceback|0x"
)


def a_triangle() -> Json:
    """One triangle as glTF, whole in its JSON."""
    points = np.array([[0, 0, 0], [4, 0, 0], [0, 0, 3]], "<f4").tobytes()
    data = points + np.array([0, 1, 2], "<u2").tobytes() + b"\0\0"
    return {
        "asset": {"version": "2.0"},
        "scene": 0,
        "scenes": [{"nodes": [0]}],
        "nodes": [{"mesh": 0, "name": "Wall"}],
        "meshes": [{"primitives": [{"attributes": {"POSITION": 0}, "indices": 1}]}],
        "accessors": [
            {"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3"},
            {"bufferView": 1, "componentType": 5123, "count": 3, "type": "SCALAR"},
        ],
        "bufferViews": [
            {"buffer": 0, "byteLength": 36},
            {"buffer": 0, "byteOffset": 36, "byteLength": 6},
        ],
        "buffers": [{"byteLength": 44, "uri": f"data:;base64,{base64.b64encode(data).decode()}"}],
    }


def read_json(folder: Path, said: Any) -> Model:
    path = folder / "m.gltf"
    path.write_text(said if isinstance(said, str) else json.dumps(said))
    return read_model(path)


def put(*place: str | int) -> Callable[[Json, Any], None]:
    def act(document: Json, value: Any) -> None:
        at: Any = document
        for part in place[:-1]:
            at = at[part]
        if value is None:
            del at[place[-1]]
        else:
            at[place[-1]] = value

    return act


WRONG: list[tuple[tuple[str | int, ...], Any, str]] = [
    (("asset", "version"), "1.0", "This is glTF 1.0"),
    (("asset",), None, "asset should"),
    (("extensionsRequired",), ["KHR_draco_mesh_compression"], "compressed (KHR_draco_mesh_compression)"),
    (("extensionsRequired",), ["VENDOR_bodies"], "can't be read without “VENDOR_bodies”"),
    (("scene",), 3, "scene names scenes[3], of which there are 1"),
    (("scene",), "first", "scene should be a valid integer"),
    (("scenes",), [{"nodes": [7]}], "scenes[0].nodes names nodes[7]"),
    (("nodes",), [{"children": [0], "mesh": 0}], "nodes[0] is inside itself"),
    (("nodes", 0, "mesh"), 2, "nodes[0].mesh names meshes[2]"),
    (("nodes", 0, "matrix"), [1, 0], "nodes[0].matrix should"),
    (("nodes",), [{"name": "Empty"}], "No node of the file shows one of its meshes"),
    (("meshes", 0, "primitives"), "all", "meshes[0].primitives should be a valid list"),
    (("meshes", 0, "primitives", 0, "attributes"), {}, "meshes[0].primitives[0] has no points"),
    (("meshes", 0, "primitives", 0, "mode"), 6, "is a fan of triangles"),
    (("meshes", 0, "primitives", 0, "mode"), 1, "no triangles"),
    (("meshes", 0, "primitives", 0, "indices"), 9, "names accessors[9]"),
    (("accessors", 0, "type"), "VEC2", "is no VEC3"),
    (("accessors", 0, "count"), 2, "joins point 2, but has 2 points"),
    (("accessors", 0, "count"), 9, "accessors[0] reaches to byte 108 of bufferViews[0], which has 36"),
    (("accessors", 0, "count"), -1, "accessors[0].count should be greater than or equal to 1"),
    (("accessors", 0, "bufferView"), None, "accessors[0], the points of meshes[0].primitives[0], has no values"),
    (("accessors", 1, "count"), 2, "has 2 corners"),
    (("accessors", 1, "componentType"), 5126, "accessors[1] reaches to byte 12"),
    (("accessors", 1, "componentType"), 7, "accessors[1].componentType should be 5120"),
    (("bufferViews", 1, "byteOffset"), 60, "bufferViews[1] reaches to byte 66 of buffers[0], which has 44"),
    (("bufferViews", 0, "buffer"), 1, "names buffers[1], of which there are 1"),
    (("buffers", 0, "byteLength"), 4000, "buffers[0] should have 4,000 bytes and has 44"),
    (("buffers", 0, "uri"), None, "does not say where the bytes of buffers[0] are"),
    (("buffers", 0, "uri"), "data:;base64,§§", "no base64"),
    (("buffers", 0, "uri"), "walls.bin", "“walls.bin”, which is not beside it"),
]


def test_a_triangle_is_read(tmp_path: Path) -> None:
    model = read_json(tmp_path, a_triangle())
    assert [e.name for e in model.elements] == ["Wall"]
    assert len(model.mesh.triangles) == 1


@pytest.mark.parametrize(("place", "value", "said"), WRONG)
def test_the_wrong_part_of_a_gltf_file_is_named(
    tmp_path: Path, place: tuple[str | int, ...], value: Any, said: str
) -> None:
    document = a_triangle()
    put(*place)(document, value)
    with pytest.raises(UnreadableModel) as refused:
        read_json(tmp_path, document)
    assert said in str(refused.value)


@pytest.mark.parametrize(
    "name", ["../secret.bin", "%2e%2e/secret.bin", "..\\secret.bin", "/etc/passwd", "file:///etc/passwd", "linked.bin"]
)
def test_files_outside_of_the_model_s_folder_are_not_read(tmp_path: Path, name: str) -> None:
    folder = tmp_path / "model"
    folder.mkdir()
    (tmp_path / "secret.bin").write_bytes(b"\0" * 44)
    (folder / "linked.bin").symlink_to(tmp_path / "secret.bin")
    document = a_triangle()
    document["buffers"][0]["uri"] = name
    with pytest.raises(UnreadableModel, match="outside of its folder"):
        read_json(folder, document)
    wall = "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"
    (folder / "m.obj").write_text(f"mtllib {name}\n{wall}")
    with pytest.raises(UnreadableModel, match="outside of its folder"):
        read_model(folder / "m.obj", unit="m")


def test_files_beside_are_read_and_surfaces_may_be_missing(tmp_path: Path) -> None:
    document = a_triangle()
    data = base64.b64decode(document["buffers"][0]["uri"].partition(",")[2])
    (tmp_path / "walls and floors.bin").write_bytes(data)
    document["buffers"][0]["uri"] = "walls%20and%20floors.bin"
    document["images"] = [{"uri": "brick.png"}]
    document["textures"] = [{"source": 0}]
    document["materials"] = [{"name": "Brick", "pbrMetallicRoughness": {"baseColorTexture": {"index": 0}}}]
    document["meshes"][0]["primitives"][0]["material"] = 0
    assert [m.name for m in read_json(tmp_path, document).materials] == ["Brick"]
    path = tmp_path / "m.obj"
    path.write_text("mtllib gone.mtl\no Wall\nusemtl Brick\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n")
    assert [m.name for m in read_model(path, unit="m").materials] == ["Brick"]


PLY = "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\n"
PLY += "element face 1\nproperty list uchar int vertex_indices\nend_header\n"


@pytest.mark.parametrize(
    ("name", "data", "said"),
    [
        ("a.obj", b"v 0 0 0\nv 1 0\nv 0 1 0\nf 1 2 3\n", "line 2: a point has three numbers"),
        ("a.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 12\n", "line 4: this face joins point 12, and the file has 3"),
        ("a.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 -9\n", "line 4: this face joins point -9"),
        ("a.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 x\nf 1 2 3\n", "line 3"),
        ("a.ply", PLY.encode() + b"0 0 0\n1 0 0\n", "it is cut short: its head says 4 lines, and 2 are there"),
        ("a.ply", PLY.encode() + b"0 0 0\n1 0 0\n0 1 0\n3 0 1 7\n", "joins point 7"),
        ("a.ply", PLY.replace("float x", "wide x").encode() + b"0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n", "line 4"),
        ("a.ply", b"nothing at all", "does not begin with “ply”"),
        ("a.stl", b"\0" * 80 + struct.pack("<I", 7) + b"\0" * 50, "its head says 7 triangles"),
        ("a.stl", b"\0" * 30, "cut short"),
        ("a.glb", b"glTF" + struct.pack("<II", 2, 400) + b"\0" * 8, "should have 400 bytes and has 20"),
        ("a.glb", b"fTlg" + b"\0" * 40, "does not begin with “glTF”"),
        ("a.gltf", b'{"asset": ', "JSON breaks off or is damaged at line 1"),
        ("a.gltf", b"\xff\xfe\x00", "no text in UTF-8"),
        ("a.gltf", b"[]", "the whole should"),
    ],
)
def test_the_wrong_place_of_other_files_is_named(tmp_path: Path, name: str, data: bytes, said: str) -> None:
    path = tmp_path / name
    path.write_bytes(data)
    with pytest.raises(UnreadableModel) as refused:
        read_model(path, unit="m")
    assert said in str(refused.value)
    assert not FOREIGN.search(str(refused.value))


@pytest.mark.parametrize("form", FORMS)
def test_a_damaged_file_is_read_or_refused_in_words(tmp_path: Path, form: str) -> None:
    """Bytes changed, cut out or doubled anywhere."""
    whole = written(tmp_path, form).read_bytes()
    path = tmp_path / f"damaged.{form}"

    @given(
        st.lists(st.tuples(st.integers(0, len(whole) - 1), st.binary(max_size=6), st.integers(0, 12)), max_size=4),
        st.integers(0, len(whole)),
    )
    @settings(max_examples=120, suppress_health_check=[HealthCheck.function_scoped_fixture])
    def damage(changes: list[tuple[int, bytes, int]], end: int) -> None:
        data = bytearray(whole)
        for at, put_in, taken_out in changes:
            data[at : at + taken_out] = put_in
        path.write_bytes(bytes(data[: end or None]) if end % 3 == 0 else bytes(data))
        said = ""
        try:
            assert np.isfinite(read_model(path, unit="mm").mesh.vertices).all()
        except UnreadableModel as refused:
            said = str(refused)
        assert not FOREIGN.search(said), said

    damage()
