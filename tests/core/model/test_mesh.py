import io
import zipfile

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.model.mesh.triangles import build_mesh
from edge_slice.core.model.storage import model_from_bytes, model_to_bytes
from tests.bodies import box, model_of, moved, pierced_box, polygon_ring, prism, rotation

angle = st.floats(0, 6.28)


def test_box_has_twelve_sharp_edges_and_no_diagonals() -> None:
    mesh = model_of(box((0, 0, 0), (1, 2, 3))).mesh
    assert len(mesh.edges) == 12
    assert mesh.edge_sharp.all()
    assert (mesh.neighbours >= 0).all()


def test_round_body_keeps_its_smooth_edges_as_outline_candidates() -> None:
    mesh = model_of(prism(polygon_ring(48, 1.0), 0, 1)).mesh
    assert int(mesh.edge_sharp.sum()) == 2 * 48  # the rims
    assert int((~mesh.edge_sharp).sum()) == 48  # the upright ones, drawn only as an outline


@given(angle, angle, angle)
@settings(max_examples=30)
def test_volume_does_not_depend_on_the_position(a: float, b: float, c: float) -> None:
    far = np.array([4.0e5, -2.0e5, 30.0])
    mesh = model_of(moved(box((0, 0, 0), (1, 2, 3)), rotation(a, b, c), far)).mesh
    assert mesh.volumes(1)[0] == pytest.approx(6.0, rel=1e-9)


def test_inverted_body_is_turned_outside_out() -> None:
    vertices, triangles = box((0, 0, 0), (1, 1, 1))
    assert model_of((vertices, triangles[:, ::-1])).mesh.volumes(1)[0] == pytest.approx(1.0)


def test_unwelded_triangles_are_welded() -> None:
    vertices, triangles = box((0, 0, 0), (1, 1, 1))
    soup = vertices[triangles.reshape(-1)]
    mesh = build_mesh(
        soup, np.arange(36, dtype=np.int32).reshape(12, 3), np.zeros(12, np.int32), np.full(12, -1, np.int32)
    )
    assert len(mesh.vertices) == 8
    assert not len(mesh.open_elements)


def test_body_without_a_lid_is_named_as_leaking() -> None:
    vertices, triangles = box((0, 0, 0), (1, 1, 1))
    model = model_of(box((3, 0, 0), (4, 1, 1)), (vertices, triangles[2:]))
    assert model.leaking == (1,)


def test_stored_model_comes_back_the_same(demo) -> None:
    again = model_from_bytes(model_to_bytes(demo))
    assert again.elements == demo.elements
    assert again.spaces == demo.spaces
    assert again.build_ups == demo.build_ups
    assert np.array_equal(again.mesh.vertices, demo.mesh.vertices)
    assert again.north == demo.north


def test_a_model_that_was_kept_before_as_a_compressed_container_is_read(demo) -> None:
    stream = io.BytesIO()
    now = zipfile.ZipFile(io.BytesIO(model_to_bytes(demo, compressed=False)))
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as before:
        for name in now.namelist():
            before.writestr(name, now.read(name))
    assert model_to_bytes(model_from_bytes(stream.getvalue())) == model_to_bytes(demo)


@given(st.integers(0, 31), angle)
@settings(max_examples=20)
def test_a_thin_tube_that_stands_on_a_body_is_the_right_way_out(first: int, turn: float) -> None:
    """The face that they share parts both into pieces with a rim; a tube has little volume for its size."""
    tube = pierced_box((0, 0, 0), (4, 1, 3), (0.02, 0.02, 3.98, 2.98))
    below = box((0, 0, -2), (4, 1, 0))
    triangles = np.concatenate((np.roll(tube[1], first, axis=0), below[1] + len(tube[0])))
    together = (np.concatenate((tube[0], below[0])), triangles)
    mesh = model_of(moved(together, rotation(turn, 0.0, 0.0), np.zeros(3))).mesh
    assert mesh.volumes(1)[0] == pytest.approx(12 - 3.96 * 2.96 + 8, rel=1e-9)
    again = build_mesh(mesh.vertices, mesh.triangles, mesh.triangle_element, mesh.triangle_material)
    assert np.array_equal(again.triangles, mesh.triangles)
