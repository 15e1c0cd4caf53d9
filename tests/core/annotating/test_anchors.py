"""What is tied to the model stays with it through changes of it; what can't is said to be near or lost, never silently
put in a wrong place."""

from __future__ import annotations

import random
from dataclasses import dataclass, replace

import numpy as np
import pytest

from edge_slice.core.cut import Extents, PlanCut, SectionCut, cut_model
from edge_slice.core.cut.anchors.anchor import Anchor, held, held_sides
from edge_slice.core.cut.anchors.anchoring import anchor_at, grid_anchor, level_anchor, point_anchor, settled
from edge_slice.core.cut.anchors.features import Features
from edge_slice.core.cut.following.callouts import Region, anchored
from edge_slice.core.cut.following.callouts import held as held_region
from edge_slice.core.drawing.touching.touch_ups import Touched, TouchUp
from edge_slice.core.drawing.touching.touched_bodies import targets_at
from edge_slice.core.model import GridAxis, Model
from edge_slice.core.model.revisions import revised
from tests.bodies import box, model_of
from tests.walls import Wall, house, with_thickness, without_layer

SECTION = SectionCut(line=((-5, 0), (60, 0)), depth=5, extents=Extents(base=-3, top=9))
START = 5.0  # metres from the drawing's origin to x = 0


def features(model: Model, cut: SectionCut = SECTION) -> Features:
    return Features(model, cut_model(model, cut))


def drawn(place: tuple[float, float]) -> tuple[float, float]:
    return (place[0] + START) * 1000.0, place[1] * 1000.0


WALLS = tuple(Wall(f"wall-{k}", 10.0 * k + 1) for k in range(5))


def anchor_of(model: Model, wall: Wall, layer: int, right: bool, up: bool) -> Anchor:
    found = anchor_at(features(model), *drawn(wall.corner(layer, right, up)), 2.0, ("corner",))
    assert found.to == "corner"
    return found


@pytest.mark.parametrize("placed", [True, False])
def test_anchor_of_an_unchanged_model_is_exact(placed: bool) -> None:
    model = house(WALLS, placed)
    for layer in range(4):
        anchor = anchor_of(model, WALLS[1], layer, True, True)
        now = held(features(model), anchor)
        assert (now.state, now.at) == ("exact", pytest.approx(drawn(WALLS[1].corner(layer, True, True))))


def test_another_rebasing_of_the_model_changes_nothing() -> None:
    anchor = anchor_of(house(WALLS, True), WALLS[0], 1, True, False)
    shifted = house(WALLS, True, origin=(-100.0, 20.0, 0.5))
    line = ((95.0, -20.0), (160.0, -20.0))
    now = held(features(shifted, SECTION.model_copy(update={"line": line, "extents": Extents(base=-4, top=9)})), anchor)
    assert now.state == "exact"
    assert now.at == pytest.approx((drawn(WALLS[0].corner(1, True, False))[0], -500.0))


def test_anchor_moves_with_its_wall_and_says_so() -> None:
    anchor = anchor_of(house(WALLS, True), WALLS[1], 3, True, True)
    wall = replace(WALLS[1], x=WALLS[1].x + 1.3)
    now = held(features(house((WALLS[0], wall), True)), anchor)
    assert (now.state, now.at) == ("near", pytest.approx(drawn(wall.corner(3, True, True))))


def test_a_corner_at_the_top_follows_a_wall_that_grows_and_one_at_the_base_stays() -> None:
    upper, lower = (anchor_of(house(WALLS, True), WALLS[1], 0, False, up) for up in (True, False))
    grown = replace(WALLS[1], top=3.1)
    f = features(house((WALLS[0], grown), True))
    now = held(f, upper)
    assert (now.state, now.at) == ("near", pytest.approx(drawn(grown.corner(0, False, True))))
    assert held(f, lower).state == "exact"


def test_a_side_is_told_with_all_stretches_on_its_line() -> None:
    model = house((Wall("wall", 1.0),), True)
    f = features(model, PlanCut(storey="storey-0", height=1.2))
    now, ends = held_sides(f, anchor_at(f, 1000.0, 500.0, 5.0, ("side",)))
    assert now.state == "exact"
    assert ends.tolist() == [pytest.approx([1000, y0, 1000, y1]) for _, y0, _, y1 in ends.tolist()]
    assert sorted(ends[:, [1, 3]].ravel().tolist()) == pytest.approx([-2000, 2000])


def test_anchor_stays_exact_where_the_cut_moves_along_the_wall() -> None:
    model = house(WALLS, True)
    anchor = anchor_of(model, WALLS[1], 0, False, True)
    cut = SECTION.model_copy(update={"line": ((-5, 1.2), (60, 1.2))})
    assert held(features(model, cut), anchor).state == "exact"
    backward = SECTION.model_copy(update={"look": "right"})
    now = held(features(model, backward), anchor)
    assert now.state == "exact"
    assert now.at[0] == pytest.approx((60 - WALLS[1].x) * 1000.0)


def test_anchor_of_a_wall_that_is_gone_is_lost_and_keeps_its_place() -> None:
    anchor = anchor_of(house(WALLS, True), WALLS[1], 0, False, True)
    now = held(features(house(WALLS[:1], True)), anchor)
    assert (now.state, now.at) == ("lost", pytest.approx(anchor.at))


def test_anchor_on_a_layer_that_is_gone_is_lost_and_offers_a_place() -> None:
    anchor = anchor_of(house(WALLS, True), WALLS[1], 3, True, True)
    changed = house((WALLS[0], without_layer(WALLS[1], 3)), True)
    assert held(features(changed), anchor).state == "lost"


def test_settling_takes_the_new_place_for_the_right_one() -> None:
    anchor = anchor_of(house(WALLS, True), WALLS[1], 3, True, True)
    moved = features(house((replace(WALLS[1], x=12.0),), True))
    now = held(moved, anchor)
    assert now.state == "near"
    again = settled(moved, anchor, now.at)
    assert again.to == "corner"
    assert held(moved, again).state == "exact"


def test_levels_grid_lines_and_places() -> None:
    model = replace(house(WALLS, True), grid=(GridAxis("A", (3.0, -5.0), (3.0, 5.0)),))
    f = features(model)
    level, line, place = level_anchor(f, "storey-0", 700), grid_anchor(f, "A", 0, 1500), point_anchor(f, 1234, 567)
    assert (level.at, line.at, place.at) == ((700, 0.0), (8000.0, 1500), (1234, 567))
    higher = replace(model, storeys=(replace(model.storeys[0], elevation=0.4),), grid=())
    now = [held(features(higher), a) for a in (level, line, place)]
    assert [h.state for h in now] == ["near", "lost", "exact"]
    assert now[0].at == pytest.approx((700, 400))
    # a place stays where it is in the building when the cutting line begins elsewhere
    longer = SECTION.model_copy(update={"line": ((-7, 0), (60, 0))})
    assert held(features(model, longer), place).at == pytest.approx((3234, 567))


def test_corner_on_a_plan_is_that_of_the_wall_turned_with_its_placement() -> None:
    model = house((WALLS[0],), True)
    plan = PlanCut(storey="storey-0", height=1.2, depth=1.5)
    f = Features(model, cut_model(model, plan))
    corner = f.result.axes.to_drawing(np.array([[WALLS[0].x, -2.0, 1.2]]))[0, :2].tolist()
    anchor = anchor_at(f, *corner, 2.0, ("corner",))
    assert (anchor.to, anchor.material) == ("corner", "Brick")
    longer = house((replace(WALLS[0], end=3.0),), True)
    assert held(Features(longer, cut_model(longer, plan)), anchor).state == "exact"


# --- 200 random changes -----------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Mark:
    """What an anchor was set on: a corner, a side or the middle of a layer, which the layer's material names."""

    anchor: Anchor
    wall: int
    material: str
    to: str
    right: bool
    up: bool


def marks(chance: random.Random, model: Model) -> list[Mark]:
    f = features(model)
    found = []
    for k, wall in enumerate(WALLS):
        for _ in range(3):
            layer, right, up = chance.randrange(len(wall.layers)), chance.random() < 0.5, chance.random() < 0.5
            to = chance.choice(["corner", "side", "inside"])
            u, v = drawn(wall.corner(layer, right, up))
            middle = drawn((wall.corner(layer, False, up)[0] + wall.layers[layer][1] / 2, 1.0))
            at = {"corner": (u, v), "side": (u, 1000.0), "inside": middle}[to]
            inner = 0.01 if to == "side" else 0.0  # a hair into the layer, where two of them share a side
            anchor = anchor_at(f, at[0] + (-inner if right else inner), at[1], 2.0, (to,))  # type: ignore[arg-type]
            if anchor.material == wall.layers[layer][0] and anchor.to == to:
                found.append(Mark(anchor, k, anchor.material, to, right, up))
    return found


def changed(chance: random.Random) -> list[Wall | None]:
    """The walls after a few changes; None for one that is taken away."""
    found: list[Wall | None] = list(WALLS)
    for k, wall in enumerate(WALLS):
        for act in chance.sample(["move", "resize", "lengthen", "thicken", "layer", "remove", "name", "none"], 2):
            now = found[k]
            if now is None:
                continue
            if act == "move":
                now = replace(now, x=now.x + chance.uniform(-2, 2), base=now.base + chance.choice([0, 0, 0.3]))
                now = replace(now, top=now.top + (now.base - wall.base))
            elif act == "resize":
                now = replace(now, top=now.top + chance.uniform(-0.5, 1.5))
            elif act == "lengthen":
                now = replace(now, start=now.start - chance.uniform(0, 2), end=now.end + chance.uniform(0, 2))
            elif act == "thicken":
                layer = chance.randrange(len(now.layers))
                now = with_thickness(now, layer, round(now.layers[layer][1] + chance.uniform(0.005, 0.15), 4))
            elif act == "layer":
                now = without_layer(now, chance.randrange(len(now.layers)))
            elif act == "remove":
                found[k] = None
                continue
            elif act == "name":
                now = replace(now, guid=f"another-{k}")
            found[k] = now
    return found


def expected(mark: Mark, wall: Wall | None) -> tuple[float, float] | None:
    """Where the feature is now by what the walls say themselves (of a side only its u counts)."""
    if wall is None:
        return None
    names = [n for n, _ in wall.layers]
    if mark.material not in names:
        return None
    layer = names.index(mark.material)
    return drawn(wall.corner(layer, mark.right, mark.up))


@pytest.mark.parametrize("placed", [True, False])
def test_200_random_changes_place_nothing_wrongly_and_lose_little(placed: bool) -> None:
    chance = random.Random(7)
    before = house(WALLS, placed)
    there = found = 0
    for _ in range(100):
        set_marks = marks(chance, before)
        walls = changed(chance)
        after, _ = revised(before, house(tuple(w for w in walls if w is not None), placed))
        f = features(after)
        for mark in set_marks:
            now = held(f, mark.anchor)
            truth = expected(mark, walls[mark.wall])
            if truth is None:
                assert now.state != "exact", (mark, walls[mark.wall])
                continue
            if mark.anchor.name not in after.element_by_guid:
                assert now.state == "lost"  # moved, resized and renamed at once: another wall
                continue
            there += 1
            if mark.to == "inside":
                face = next(
                    x for x in f.faces(after.element_by_guid[mark.anchor.name])
                    if after.materials[x.material].name == mark.material
                )  # fmt: skip
                low, base, high, top = face.polygon.bounds
                right = low - 0.1 <= now.at[0] <= high + 0.1 and base - 0.1 <= now.at[1] <= top + 0.1
                was = drawn(WALLS[mark.wall].corner(0, False, False))
                moved = abs(was[0] - drawn(walls[mark.wall].corner(0, False, False))[0]) > 0.5  # type: ignore[union-attr]
            else:
                k = 1 if mark.to == "side" else 2
                right = now.at[:k] == pytest.approx(truth[:k], abs=0.5)
                moved = mark.anchor.at[:k] != pytest.approx(truth[:k], abs=0.5)
            if now.state == "exact":
                assert right, ("wrong and silent", mark, walls[mark.wall], now)
                assert not moved or mark.to == "inside", ("moved and not said", mark, walls[mark.wall], now)
            if (now.state == "near" and right) or now.state == "exact":
                found += 1
    assert there > 600
    assert found >= 0.95 * there, (found, there)


@pytest.mark.parametrize("placed", [True, False])
def test_regions_of_callouts_follow_200_random_changes_or_say_that_they_are_lost(placed: bool) -> None:
    chance = random.Random(11)
    before = house(WALLS, placed)
    followed = 0
    for _ in range(40):
        walls = changed(chance)
        after, _ = revised(before, house(tuple(w for w in walls if w is not None), placed))
        for k, wall in enumerate(WALLS):
            u = wall.x + START
            region = anchored(before, SECTION, Region(points=((u - 0.2, 0.5), (u + 0.6, 1.5))))
            assert region.u is not None
            assert region.u.name == wall.guid
            moved, finding = held_region(after, SECTION, region)
            now = walls[k]
            shift = moved.points[0][0] - region.points[0][0]
            if now is None or wall.guid not in after.element_by_guid:
                assert finding
                assert shift == 0
                continue
            if finding:  # it is not cut any more at the height of the region
                assert now.base > 1.5 or now.top < 0.5
                continue
            side = (now.x - wall.x) if region.u.side == "low" else (now.x + now.thick - wall.x - wall.thick)
            assert shift == pytest.approx(side, abs=2e-3), (region.u, wall, now, moved)
            followed += 1
    assert followed > 100


def test_touched_lines_are_found_after_random_changes_and_never_taken_for_others() -> None:
    """Boxes beyond the cut: their upper edges are hidden, then the boxes move, grow, go, or get other ids."""
    chance = random.Random(3)
    old = tuple((6.0 * k, 2.0, 1.0, 2.0) for k in range(6))  # x, width, height, distance

    def model(boxes: list[tuple[float, float, float, float] | None], names: list[str]) -> Model:
        there = [(b, n) for b, n in zip(boxes, names, strict=True) if b is not None]
        found = model_of(*(box((x, d, 0), (x + w, d + 1, h)) for (x, w, h, d), _ in there))
        elements = tuple(replace(e, guid=n) for e, (_, n) in zip(found.elements, there, strict=True))
        return replace(found, elements=elements)

    names = [f"box-{k}" for k in range(6)]
    first = model(list(old), names)
    f = features(first)
    touched = []
    for x, w, h, _ in old:
        target = targets_at(f, (x + w / 2 + START) * 1000, h * 1000, 20.0, faces=False)
        touched.append(TouchUp(act="hide", lines=target.lines))
    exact = 0
    for _ in range(35):
        boxes: list[tuple[float, float, float, float] | None] = []
        for x, w, h, d in old:
            act = chance.choice(["move", "grow", "higher", "remove", "none"])
            new: dict[str, tuple[float, float, float, float] | None] = {
                "move": (x + chance.uniform(-1, 1), w, h, d),
                "grow": (x, w + chance.uniform(0.02, 1), h, d),
                "higher": (x, w, h + chance.uniform(0.02, 1), d),
                "remove": None,
                "none": (x, w, h, d),
            }
            boxes.append(new[act])
        renamed = [n if chance.random() < 0.8 else f"other {n}" for n in names]
        after, _ = revised(first, model(boxes, renamed))
        told = Touched.on(features(after), [(n, t) for n, t in zip(names, touched, strict=True)], 1.0).told
        for one, was, now in zip(told, old, boxes, strict=True):
            if now is None:
                assert one.state == "lost"
                continue
            same = now[1:3] == was[1:3]
            if one.state == "exact":
                assert same
                exact += 1
                (line,) = one.ghost
                x, w, h, _ = now
                ends = sorted(line.tolist())
                assert ends == [
                    pytest.approx(p, abs=0.5)
                    for p in ((1000 * (x + START), 1000 * h), (1000 * (x + w + START), 1000 * h))
                ]
            assert one.state != "lost" or not same or one.source not in after.element_by_guid
    assert exact > 70
