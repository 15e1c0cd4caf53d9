"""Cutting again after a change: the same result as cutting anew, and only what depends on the change computed."""

from dataclasses import dataclass, replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.cut import CutResult, CutSpec, ElevationCut, Extents, PlanCut, SectionCut, Work, cut_model
from edge_slice.core.drawing import DrawingSpec, default_standard
from edge_slice.core.model import Element, Material, Model, Storey
from edge_slice.core.model.ground.documents import Ground, Grounds, LevelGround
from edge_slice.core.model.ground.standing_in import with_ground
from edge_slice.core.model.mesh.triangles import build_mesh
from edge_slice.core.project.shown import Shown, cut_of
from tests.bodies import box

Block = tuple[float, float, float, float]
SPEC = SectionCut(line=((-1, 0.05), (21, 0.05)), extents=Extents(base=-1, top=9), hidden="dashed")


def street(blocks: dict[str, Block]) -> Model:
    """Blocks (x, y, size, height) by GlobalId, in its order."""
    names = sorted(blocks)
    vertices, triangles, owner = [], [], []
    for k, name in enumerate(names):
        x, y, size, height = blocks[name]
        v, t = box((x, y, 0), (x + size, y + size, height))
        vertices.append(v)
        triangles.append(t + 8 * k)
        owner.append(np.full(12, k))
    mesh = build_mesh(
        np.concatenate(vertices), np.concatenate(triangles).astype(np.int32), np.concatenate(owner).astype(np.int32),
        np.full(12 * len(names), -1, np.int32),
    )  # fmt: skip
    elements = tuple(Element(n, n, "wall", 0, 0) for n in names)
    return Model("", mesh, elements, (Material("Concrete"),), storeys=(Storey("s", "", 0.0),))


def same(a: CutResult, b: CutResult) -> bool:
    faces = [(f.element, f.material, f.polygon.wkb) for f in a.faces] == [
        (f.element, f.material, f.polygon.wkb) for f in b.faces
    ]
    return (
        faces
        and np.array_equal(a.lines.points, b.lines.points)
        and np.array_equal(a.lines.element, b.lines.element)
        and np.array_equal(a.lines.edge, b.lines.edge)
        and np.array_equal(a.lines.role, b.lines.role)
    )


block = st.tuples(st.floats(0, 18), st.floats(-1, 6), st.floats(0.3, 2), st.floats(0.5, 6))
named = st.dictionaries(st.sampled_from([f"b{k}" for k in range(9)]), block, min_size=2, max_size=8)


@given(named, named)
@settings(max_examples=40)
def test_cut_after_any_change_equals_a_cut_anew(before: dict[str, Block], more: dict[str, Block]) -> None:
    old, new = street(before), street({**before, **more})
    assert same(cut_model(new, SPEC, earlier=cut_model(old, SPEC)), cut_model(new, SPEC))
    assert same(cut_model(old, SPEC, earlier=cut_model(new, SPEC)), cut_model(old, SPEC))


@given(named, named, st.floats(-1, 5))
@settings(max_examples=25)
def test_what_ground_hides_after_any_change_is_what_a_cut_anew_says(
    before: dict[str, Block], more: dict[str, Block], height: float
) -> None:
    spec = ElevationCut(line=((-1, -3), (21, -3)), hidden="below ground")
    ground = Grounds(existing=Ground(shape=LevelGround(height=height)))
    old, new = with_ground(street(before), ground), with_ground(street({**before, **more}), ground)
    assert same(cut_model(new, spec, earlier=cut_model(old, spec)), cut_model(new, spec))
    risen = with_ground(street(before), Grounds(existing=Ground(shape=LevelGround(height=height + 0.5))))
    assert same(cut_model(risen, spec, earlier=cut_model(old, spec)), cut_model(risen, spec))


@pytest.mark.parametrize(
    "change",
    [
        {"depth": 3.0},
        {"depth": 6.5},
        {"hidden": "off"},
        {"hidden": "below ground"},
        {"extents": Extents(base=-1, top=3)},
        {"look": "right"},
        {"glass": "clear"},
        {"line": ((-1, 0.05), (9, 0.05), (9, 1.5), (21, 1.5))},
        {"without": ("wall",)},
        {"extents": Extents(base=-1, top=9, polygon=((0, 0), (9, 0), (9, 5)))},
    ],
)
def test_cut_after_a_change_of_settings_equals_a_cut_anew(demo: Model, change: dict) -> None:
    for model, spec in ((street(TOWN), SPEC), (demo, SectionCut(line=((-3, 2.1), (25, 2.1)), depth=5))):
        changed = spec.model_copy(update=change)
        assert same(cut_model(model, changed, earlier=cut_model(model, spec)), cut_model(model, changed))


TOWN: dict[str, Block] = {
    **{f"a{k}": (2.0 * k, -0.5, 1.0, 3.0) for k in range(10)},
    **{f"z{k}": (2.0 * k, 4.0, 1.5, 5.0) for k in range(10)},
}


def test_nothing_is_computed_again_when_nothing_changed(demo: Model) -> None:
    rules = default_standard().cut_rules(demo)
    for spec in (SectionCut(line=((-3, 2.1), (25, 2.1))), PlanCut(storey=demo.storeys[1].guid, overhead=2)):
        first = cut_model(demo, spec, rules)
        second = cut_model(demo, spec, rules, earlier=first)
        assert first.work.stages == ("slice", "overlaps", "lines")
        assert first.work.traced > 50
        assert second.work == Work()
        assert same(first, second)


def test_a_changed_element_costs_itself_and_what_it_stands_before_or_behind() -> None:
    first = cut_model(street(TOWN), SPEC)
    taller = street({**TOWN, "z3": (6.0, 4.0, 1.5, 5.5)})
    behind = cut_model(taller, SPEC, earlier=first)
    assert behind.work.stages == ("lines",)  # it is not cut
    assert behind.work.traced == 2  # itself and the one before it
    moved = street({**TOWN, "a3": (6.2, -0.5, 1.0, 3.0)})
    cut = cut_model(moved, SPEC, earlier=first)
    assert cut.work.stages == ("slice", "overlaps", "lines")
    assert cut.work.sliced == 1
    assert cut.work.traced == 2
    assert same(cut, cut_model(moved, SPEC))


@given(named, st.floats(0.5, 9), st.floats(0.5, 9))
@settings(max_examples=40)
def test_cut_after_any_change_of_depth_equals_a_cut_anew(blocks: dict[str, Block], first: float, second: float) -> None:
    model = street(blocks)
    before, now = (SPEC.model_copy(update={"depth": depth}) for depth in (first, second))
    assert same(cut_model(model, now, earlier=cut_model(model, before)), cut_model(model, now))


def test_another_depth_leaves_cut_faces_and_what_is_nearer_as_they_are() -> None:
    first = cut_model(street(TOWN), SPEC.model_copy(update={"depth": 5.0}))
    again = cut_model(street(TOWN), SPEC.model_copy(update={"depth": 5.2}), earlier=first).work
    assert again.stages == ("lines",)
    assert again.traced == 10  # the row behind, which reaches from 4 to 5.5 m; not the one that is cut


def test_stronger_material_is_heeded_without_slicing_again(demo: Model) -> None:
    spec = SectionCut(line=((-3, 2.1), (25, 2.1)), depth=5)
    rules = default_standard().cut_rules(demo)
    weaker = replace(rules, strength=-rules.strength)
    turned = cut_model(demo, spec, weaker, earlier=cut_model(demo, spec, rules))
    assert "slice" not in turned.work.stages
    assert same(turned, cut_model(demo, spec, weaker))


def test_elements_that_cannot_be_told_apart_are_all_computed() -> None:
    def nameless(model: Model) -> Model:
        return replace(model, elements=tuple(replace(e, guid="same") for e in model.elements))

    before, now = nameless(street(TOWN)), nameless(street({**TOWN, "a3": (6.2, -0.5, 1.0, 3.0)}))
    assert cut_model(now, SPEC, earlier=cut_model(before, SPEC)).work.sliced == 10


def test_another_revision_in_which_nothing_changed_costs_nothing() -> None:
    first = cut_model(street(TOWN), SPEC)
    assert cut_model(street(TOWN), SPEC, earlier=first).work == Work()


def test_results_are_the_same_to_the_byte(demo: Model) -> None:
    spec: CutSpec = SectionCut(line=((-2, -1), (24, 9)))
    a, b = cut_model(demo, spec), cut_model(replace(demo, name="again"), spec)
    assert same(a, b)
    assert a.lines.points.tobytes() == b.lines.points.tobytes()


def test_a_drawing_hands_its_cut_on_to_the_next_of_its_kind() -> None:
    """In an application: the next cut of the same kind in a project is made of the last one."""

    @dataclass(frozen=True)
    class Project:
        key: str
        geometry: str
        model: Model

    project = Project("a street of its own", "its geometry", street(TOWN))

    def work(depth: float) -> tuple[str, ...]:
        spec = SPEC.model_copy(update={"depth": depth})
        return cut_of(Shown(project, spec, DrawingSpec(), default_standard())).work.stages  # type: ignore[arg-type]

    assert work(5.0) == ("slice", "overlaps", "lines")
    assert work(6.0) == ("lines",)
