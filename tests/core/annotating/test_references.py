"""Chains of lines, and references that stay with the model through changes of it and of the cut."""

from dataclasses import replace

import numpy as np
import pytest
import shapely

from edge_slice.core.cut import Extents, SectionCut, cut_model
from edge_slice.core.cut.anchors.references import (
    border_reference,
    line_features,
    line_reference,
    resolve_border,
    resolve_line,
)
from edge_slice.core.cut.lines.chains import chains_of
from edge_slice.core.model import LayerFrame, Model, Placement
from tests.bodies import box, model_of

SPEC = SectionCut(line=((-5, 0), (5, 0)), extents=Extents(base=-1, top=5))
WALL = [("Plaster", 0.02), ("Brick", 0.1), ("Plaster", 0.02)]


def two(shift: float = 0.0, height: float = 2.0) -> Model:
    return model_of(box((-1 + shift, 2, 0), (1 + shift, 3, height)), box((3, 4, 0), (4, 5, 1)))


def test_chains_hold_every_piece_once_and_meet_end_to_end(demo: Model) -> None:
    lines = cut_model(demo, SectionCut(line=((-3, 2.1), (25, 2.1)), depth=6, hidden="dashed")).lines
    chains = chains_of(lines)
    assert sorted(np.concatenate([c.pieces for c in chains]).tolist()) == list(range(len(lines.points)))
    drawn = sum(shapely.LineString(c.points).length for c in chains)
    assert drawn == pytest.approx(shapely.length(shapely.linestrings(lines.points.reshape(-1, 2, 2))).sum(), rel=1e-6)
    assert len(chains) < 0.75 * len(lines.points)
    for c in chains:
        assert len(c.points) == len(c.pieces) + 1
        assert len({(lines.element[i], lines.role[i]) for i in c.pieces}) == 1


def test_outline_of_a_box_is_one_closed_chain() -> None:
    (chain,) = chains_of(cut_model(model_of(box((-1, 2, 0), (1, 3, 2))), SPEC).lines)
    assert chain.points[0] == pytest.approx(chain.points[-1])
    assert shapely.Polygon(chain.points).area == pytest.approx(4e6)


def test_reference_is_exact_while_the_edge_is_the_same() -> None:
    model = two()
    result = cut_model(model, SPEC)
    for k in range(len(result.lines.points)):
        found = resolve_line(model, result, line_reference(model, result, k))
        assert (found.state, k in found.found) == ("exact", True)


def test_reference_follows_an_element_that_moved_whole() -> None:
    old, new = two(), two(shift=0.7)
    before = cut_model(old, SPEC)
    reference = line_reference(old, before, 0)
    found = resolve_line(new, cut_model(new, SPEC), reference)
    assert found.state == "exact"
    assert found.at == pytest.approx((reference.at[0] + 700, reference.at[1]))


def test_reference_to_an_edge_that_changed_a_little_is_near_and_far_ones_are_lost() -> None:
    old = two()
    before = cut_model(old, SPEC)
    top = int(np.argmax(before.lines.points[:, 1] + before.lines.points[:, 3] - 9e9 * (before.lines.element != 0)))
    reference = line_reference(old, before, top)
    higher = two(height=2.05)
    assert resolve_line(higher, cut_model(higher, SPEC), reference).state == "near"
    far = two(height=4.0)
    lost = resolve_line(far, cut_model(far, SPEC), reference)
    assert (lost.state, lost.found, lost.at) == ("lost", (), reference.at)
    gone = replace(old, elements=(replace(old.elements[0], guid="another"), old.elements[1]))
    assert resolve_line(gone, cut_model(gone, SPEC), reference).state == "lost"


def test_placement_of_the_file_is_the_elements_frame() -> None:
    """The same body, turned with its placement, keeps its features."""
    flat = model_of(box((0, 2, 0), (2, 3, 2)))
    turned_body = (
        np.array(flat.mesh.vertices)[:, [1, 0, 2]] * [-1, 1, 1] + [4, 2, 0],
        flat.mesh.triangles.astype(np.int64),
    )
    turned = model_of(turned_body)
    a = Placement((0.0, 0.0, 0.0), (1.0, 0.0, 0.0), (0.0, 1.0, 0.0))
    b = Placement((4.0, 2.0, 0.0), (0.0, 1.0, 0.0), (-1.0, 0.0, 0.0))
    one = replace(flat, elements=(replace(flat.elements[0], placement=a),))
    two_ = replace(turned, elements=(replace(turned.elements[0], placement=b),))
    features = [set(line_features(m, cut_model(m, SPEC))) for m in (one, two_)]
    assert features[0] & features[1]
    assert all(text.startswith("edge ") for text in features[0])


def wall(thick: float = 0.14) -> Model:
    body = box((-1, -0.5, 0), (-1 + thick, 0.5, 2))
    return model_of(body, layers=WALL, frame=LayerFrame((-1.0, 0.0, 0.0), (1.0, 0.0, 0.0)))


def test_border_references_name_layer_and_side() -> None:
    model = wall()
    result = cut_model(model, SPEC)
    brick = next(k for k, f in enumerate(result.faces) if f.layer == 1)
    sides = {
        "first": border_reference(model, result, brick, 4021, 900),
        "last": border_reference(model, result, brick, 4119, 900),
        "end": border_reference(model, result, brick, 4070, 1999),
    }
    assert {name: r.side for name, r in sides.items()} == {name: name for name in sides}
    assert all(r.layer == 1 for r in sides.values())
    moved = model_of(
        box((-2, -0.5, 0), (-1.86, 0.5, 2)), layers=WALL, frame=LayerFrame((-2.0, 0.0, 0.0), (1.0, 0.0, 0.0))
    )
    found = resolve_border(moved, cut_model(moved, SPEC), sides["last"])
    assert (found.state, found.at) == ("exact", pytest.approx((3120, 900)))


def test_border_of_a_layer_that_is_gone_is_near_and_of_an_element_that_is_gone_lost() -> None:
    model = wall()
    reference = border_reference(model, cut_model(model, SPEC), 2, 4130, 900)
    plain = model_of(box((-1, -0.5, 0), (-0.86, 0.5, 2)))
    assert resolve_border(plain, cut_model(plain, SPEC), reference).state == "near"
    away = model_of(box((-1, 3, 0), (-0.86, 4, 2)))
    assert resolve_border(away, cut_model(away, SPEC), reference).state == "lost"
