"""Corrected build-ups: bodies as they would be modelled so, with what meets them; nothing else moves."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.model import BuildUp, Element, Layer, LayerFrame, Material, Model, Storey
from edge_slice.core.model.corrections.applied import corrected
from edge_slice.core.model.corrections.documents import BuildUpCorrection, WantedLayer, digest_of
from edge_slice.core.model.mesh.triangles import build_mesh
from tests.bodies import box

LAYERS = (("Brick", 0.1), ("Insulation", 0.1), ("Block", 0.1))
Box = tuple[tuple[float, float, float], tuple[float, float, float]]


def modelled(*bodies: tuple[str, Box, tuple[float, float, float] | None, tuple[tuple[str, float], ...]]) -> Model:
    """Boxes with the direction that their layers follow each other in, from the side that this comes from."""
    names = list(dict.fromkeys(n for *_, layers in bodies for n, _ in layers))
    elements, vertices, triangles, owner, build_ups = [], [], [], [], []
    for k, (kind, (low, high), way, layers) in enumerate(bodies):
        points, faces = box(low, high)
        triangles.append(faces + 8 * k)
        vertices.append(points)
        owner.append(np.full(len(faces), k, dtype=np.int32))
        frame = None
        if way is not None:
            x, y, z = (low[i] if way[i] >= 0 else high[i] for i in range(3))
            frame = LayerFrame((x, y, z), way)
            build_ups.append(
                BuildUp("Outer" if kind == "wall" else kind, tuple(Layer(names.index(n), t) for n, t in layers))
            )
        elements.append(Element(f"e{k}", f"{kind} {k}", kind, 0, -1, len(build_ups) - 1 if frame else -1, frame))
    unsaid = np.full(sum(map(len, owner)), -1, dtype=np.int32)
    mesh = build_mesh(
        np.concatenate(vertices), np.concatenate(triangles).astype(np.int32), np.concatenate(owner), unsaid
    )
    return Model(
        name="", mesh=mesh, elements=tuple(elements), materials=tuple(Material(n) for n in names),
        build_ups=tuple(build_ups), storeys=(Storey("s", "", 0.0),),
    )  # fmt: skip


def boxes(model: Model) -> list[list[float]]:
    return np.round(model.boxes.reshape(-1, 6), 9).tolist()


def volumes(model: Model) -> list[float]:
    return np.round(model.mesh.volumes(len(model.elements)), 9).tolist()


def wanted(*layers: tuple[str, float], **said: str) -> BuildUpCorrection:
    return BuildUpCorrection(
        layers=tuple(WantedLayer(material=n, thickness=t) for n, t in layers), **{"build_up": "Outer", **said}
    )  # type: ignore[arg-type]


X, Z = (1.0, 0.0, 0.0), (0.0, 0.0, 1.0)
# an outer wall on a slab, a partition that ends at its inner face, a roof flush with its outer one, a column beside it
WALL: Box = ((0.0, 0.0, 0.0), (0.3, 4.0, 3.0))
PARTITION: Box = ((0.3, 1.0, 0.0), (3.0, 1.1, 3.0))
SLAB: Box = ((0.0, 0.0, -0.2), (3.0, 4.0, 0.0))
TABLE: Box = ((0.3, 2.0, 0.0), (1.0, 3.0, 0.7))
HOUSE = modelled(
    ("wall", WALL, X, LAYERS), ("wall", PARTITION, (0.0, 1.0, 0.0), (("Board", 0.1),)),
    ("slab", SLAB, Z, (("Concrete", 0.2),)),
    ("furniture", TABLE, None, ()),
)  # fmt: skip
HOUSE = replace(
    HOUSE, build_ups=(HOUSE.build_ups[0], replace(HOUSE.build_ups[1], name="Partition"), HOUSE.build_ups[2])
)
THICKER = (("Brick", 0.1), ("Insulation", 0.2), ("Block", 0.1))


@pytest.mark.parametrize(
    ("stays", "wall", "partition", "slab"),
    [
        ("first", (0.0, 0.4), 0.4, 0.0),
        ("last", (-0.1, 0.3), 0.3, -0.1),
        ("middle", (-0.05, 0.35), 0.35, -0.05),
    ],
)
def test_a_thicker_layer_and_which_face_stays(
    stays: str, wall: tuple[float, float], partition: float, slab: float
) -> None:
    found, told = corrected(HOUSE, [wanted(*THICKER, stays=stays)])
    by_hand = modelled(
        ("wall", ((wall[0], 0.0, 0.0), (wall[1], 4.0, 3.0)), X, THICKER),
        ("wall", ((partition, 1.0, 0.0), (3.0, 1.1, 3.0)), (0.0, 1.0, 0.0), (("Board", 0.1),)),
        ("slab", ((slab, 0.0, -0.2), (3.0, 4.0, 0.0)), Z, (("Concrete", 0.2),)),
        ("furniture", TABLE, None, ()),
    )  # fmt: skip
    assert boxes(found) == boxes(by_hand)
    assert volumes(found) == pytest.approx(volumes(by_hand), abs=1e-9)
    assert found.elements[0].frame == by_hand.elements[0].frame or np.allclose(
        found.elements[0].frame.origin,
        by_hand.elements[0].frame.origin,  # type: ignore[union-attr]
    )
    assert found.build_ups[found.elements[0].build_up].thickness == pytest.approx(0.4)
    assert found.leaking == ()
    assert (told[0].elements, told[0].already, told[0].refused) == (1, 0, ())


def test_walls_follow_the_slab_that_they_stand_on() -> None:
    found, _ = corrected(HOUSE, [wanted(("Concrete", 0.2), ("Screed", 0.07), build_up="slab")])
    assert [round(float(found.boxes[k, 0, 2]), 6) for k in range(4)] == [0.07, 0.07, -0.2, 0.0]
    assert found.boxes[0, 1, 2] == 3.0
    assert [m.name for m in found.materials][-1] == "Screed"


def test_a_wall_beside_goes_along_and_one_in_line_stays() -> None:
    lining: Box = ((0.3, 0.0, 0.0), (0.35, 4.0, 3.0))
    beyond: Box = ((0.0, 4.0, 0.0), (0.3, 6.0, 3.0))
    model = modelled(
        ("wall", WALL, X, LAYERS), ("covering", lining, X, (("Board", 0.05),)), ("wall", beyond, X, LAYERS)
    )
    found, _ = corrected(model, [wanted(*THICKER, element="e0", build_up="")])
    assert boxes(found)[0] == [0.0, 0.0, 0.0, 0.4, 4.0, 3.0]
    assert boxes(found)[1] == [0.4, 0.0, 0.0, 0.45, 4.0, 3.0]
    assert boxes(found)[2] == boxes(model)[2]


@pytest.mark.parametrize(
    ("kind", "body", "follows"),
    [
        ("wall", ((0.0, 0.0, -2.0), (0.3, 4.0, 0.0)), False),  # a plain one under it, flush with both faces
        ("wall", ((0.3, 4.0, 0.0), (3.0, 4.2, 3.0)), True),  # a plain one that ends at its inner face
        ("beam", ((0.3, 1.0, 2.5), (3.0, 1.2, 2.9)), True),
        ("beam", ((0.3, 0.0, 2.5), (0.6, 4.0, 2.7)), True),  # along it, wider than high: all of it
        ("column", ((0.3, 1.0, 0.0), (0.6, 1.3, 3.0)), False),
    ],
)
def test_what_has_no_layers_follows_where_it_ends_at_the_face_or_lies_on_it(
    kind: str, body: Box, follows: bool
) -> None:
    model = modelled(("wall", WALL, X, LAYERS), (kind, body, None, ()))
    found, _ = corrected(model, [wanted(*THICKER)])
    assert (boxes(found)[1] != boxes(model)[1]) == follows
    assert found.boxes[1, 0, 0] == pytest.approx(0.4 if follows else body[0][0])
    assert found.boxes[1, 1, 0] == pytest.approx(body[1][0] if body[1][0] != 0.6 or not follows else 0.7)


def test_corners_of_corrected_walls_stay_closed() -> None:
    """Two walls that meet in a corner, one flush with the other's outer face: both grow outwards."""
    other: Box = ((0.3, 0.0, 0.0), (3.0, 0.3, 3.0))
    model = modelled(("wall", WALL, (-1.0, 0.0, 0.0), LAYERS), ("wall", other, (0.0, -1.0, 0.0), LAYERS))
    found, _ = corrected(model, [wanted(*THICKER)])
    assert boxes(found)[0] == [-0.1, -0.1, 0.0, 0.3, 4.0, 3.0]
    assert boxes(found)[1] == [0.3, -0.1, 0.0, 3.0, 0.3, 3.0]


def test_what_has_it_already_and_what_can_not() -> None:
    same, told = corrected(HOUSE, [wanted(*LAYERS)])
    assert same is HOUSE
    assert (told[0].elements, told[0].already) == (0, 1)
    assert corrected(HOUSE, [wanted(*THICKER, element="gone", build_up="")])[1][0].lost
    _, told = corrected(HOUSE, [wanted(*THICKER, element="e3", build_up="")])
    assert told[0].refused == (("It has no layers in its file.", 1),)
    odd = replace(
        HOUSE, build_ups=(replace(HOUSE.build_ups[0], layers=HOUSE.build_ups[0].layers[:2]), *HOUSE.build_ups[1:])
    )
    assert corrected(odd, [wanted(*THICKER)])[1][0].refused == (("Its layers don't add up to its body.", 1),)


@settings(max_examples=40, deadline=None)
@given(
    thick=st.lists(st.integers(5, 400), min_size=1, max_size=6),
    stays=st.sampled_from(["first", "last", "middle"]),
    turn=st.floats(0.0, 6.2),
)
def test_any_layers_make_a_closed_body_as_thick_as_they_are(thick: list[int], stays: str, turn: float) -> None:
    c, s = np.cos(turn), np.sin(turn)
    matrix = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])
    mesh = build_mesh(HOUSE.mesh.vertices @ matrix.T, HOUSE.mesh.triangles, HOUSE.mesh.triangle_element,
                      HOUSE.mesh.triangle_material)  # fmt: skip
    turned = tuple(
        replace(e, frame=LayerFrame(tuple((matrix @ np.array(e.frame.origin)).tolist()),
                                    tuple((matrix @ np.array(e.frame.direction)).tolist())))
        if e.frame else e for e in HOUSE.elements
    )  # fmt: skip
    model = replace(HOUSE, mesh=mesh, elements=turned)
    layers = [(f"M{k}", t / 1000.0) for k, t in enumerate(thick)]
    found, _ = corrected(model, [wanted(*layers, stays=stays)])
    total = sum(thick) / 1000.0
    assert found.leaking == ()
    assert found.mesh.volumes(4)[0] == pytest.approx(total * 4.0 * 3.0, rel=1e-6)
    slab = {"first": 3.0, "last": 2.7 + total, "middle": 2.85 + total / 2}[stays]
    assert found.mesh.volumes(4)[2] == pytest.approx(slab * 4.0 * 0.2, rel=1e-6)
    assert found.mesh.volumes(4)[3] == pytest.approx(0.7 * 0.7, rel=1e-6)


def test_words_around_a_correction_change_nothing_that_is_drawn() -> None:
    one, two = wanted(*THICKER), wanted(*THICKER, author="Ada", reason="missing")
    assert digest_of([one]) == digest_of([two]) != digest_of([wanted(*LAYERS)])
    assert digest_of([]) == ""
