"""What is kept in memory stays within one limit, in whatever order it is asked for, put, and let go."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, rule, run_state_machine_as_test

from edge_slice.core import recent, remembered
from edge_slice.core.cut import SectionCut, cut_model
from edge_slice.core.memory import CORNER, SHAPE, Memory, bytes_of
from edge_slice.core.model import Model
from edge_slice.core.project.shown import weight_of
from edge_slice.core.recent import Recent
from edge_slice.core.remembered import Remembered, corners_of

MOST = 60_000


def keep_in(memory: Memory, patch: pytest.MonkeyPatch) -> None:
    patch.setattr(recent, "MEMORY", memory)
    patch.setattr(remembered, "MEMORY", memory)


@pytest.fixture
def memory(monkeypatch: pytest.MonkeyPatch) -> Memory:
    own = Memory(MOST)
    keep_in(own, monkeypatch)
    return own


class Orders(RuleBasedStateMachine):
    """Shelves of both kinds: each value says its key."""

    def __init__(self) -> None:
        super().__init__()
        # Its own: shelves of the machine before are counted until they are collected, which may be at any moment.
        self.memory = Memory(MOST)
        self.patch = pytest.MonkeyPatch()
        keep_in(self.memory, self.patch)
        self.few: Recent[bytes] = Recent("few", 5)
        self.many: Recent[bytes] = Recent("many", 50)
        self.shapes: Remembered[shapely.Geometry] = Remembered("shapes", 400, lambda s: corners_of([s]))
        self.made = 0

    def teardown(self) -> None:
        self.patch.undo()

    def _value(self, key: str, size: int) -> bytes:
        self.made += 1
        return f"{key} ".encode() + bytes(size)

    @rule(key=st.sampled_from("abcdefgh"), size=st.integers(0, 25_000), few=st.booleans())
    def get(self, key: str, size: int, few: bool) -> None:
        shelf = self.few if few else self.many
        known, before = shelf.known(key), self.made
        found = shelf.get(key, lambda: self._value(key, size))
        assert found.split(b" ")[0] == key.encode()
        assert (self.made == before) == (known is not None)
        assert known is None or found is known

    @rule(key=st.sampled_from("abcdefgh"), size=st.integers(0, 25_000))
    def put(self, key: str, size: int) -> None:
        value = self._value(key, size)
        self.many.put(key, value)
        assert self.many.known(key) is (value if bytes_of(value) <= MOST else None)

    @rule(key=st.integers(0, 30), corners=st.integers(4, 500))
    def shape(self, key: int, corners: int) -> None:
        made = shapely.Point(key, 0).buffer(1, quad_segs=corners // 4)
        found = self.shapes.get(key, lambda: made)
        assert found.centroid.x == pytest.approx(key)

    @rule(keys=st.lists(st.integers(0, 30), max_size=6))
    def several_shapes(self, keys: list[int]) -> None:
        asked: list[int] = []

        def make(missing: list[int]) -> list[shapely.Geometry]:
            asked.extend(missing)
            return [shapely.Point(keys[k], 0).buffer(1) for k in missing]

        before = {key for key in keys if (0, key) in self.shapes._values}
        found = self.shapes.get_all(keys, make)
        assert [round(one.centroid.x) for one in found] == keys
        assert asked == [k for k, key in enumerate(keys) if key not in before]

    @rule(few=st.booleans())
    def let_go(self, few: bool) -> None:
        shelf = self.few if few else self.many
        before = shelf.figures().values
        shelf.let_go()
        assert shelf.figures().values == max(0, before - 1)

    @rule()
    def a_maker_fails(self) -> None:
        def fails() -> bytes:
            raise LookupError

        with pytest.raises(LookupError):
            self.few.get("fails", fails)
        assert self.few.known("fails") is None

    @invariant()
    def what_is_counted_is_there(self) -> None:
        for shelf in (self.few, self.many):
            keys = [k for k in "abcdefgh" if k in shelf._values]
            assert shelf.size == sum(bytes_of(shelf._values[k][0]) for k in keys)
            assert shelf.figures().values == len(keys)
        assert self.few.figures().values <= 5
        assert self.few.size + self.many.size <= MOST
        assert self.memory.size() == sum(f.size for f in self.memory.figures())


def test_in_any_order() -> None:
    run_state_machine_as_test(Orders, settings=settings(max_examples=60, stateful_step_count=40))


def test_what_was_used_longest_ago_goes_first_on_whichever_shelf_it_lies(memory: Memory) -> None:
    one: Recent[bytes] = Recent("one", 9)
    other: Recent[bytes] = Recent("other", 9)
    one.put("a", bytes(20_000))
    other.put("b", bytes(20_000))
    one.known("a")
    other.put("c", bytes(30_000))
    assert (one.known("a") is not None, other.known("b"), other.known("c") is not None) == (True, None, True)
    told = {f.name: f for f in memory.figures()}
    assert (told["one"].asked, told["one"].made, told["other"].made) == (2, 1, 2)


def test_a_value_larger_than_all_memory_is_given_and_not_kept(memory: Memory) -> None:
    shelf: Recent[bytes] = Recent("one", 9)
    assert len(shelf.get("a", lambda: bytes(MOST + 1))) == MOST + 1
    assert shelf.known("a") is None
    assert memory.size() == 0


class Held:
    def __init__(self, value: object) -> None:
        self.value = value


@pytest.mark.parametrize(
    ("value", "least"),
    [
        (np.zeros((100, 4)), 3200),
        (bytes(5000), 5000),
        ([np.zeros(10)] * 50, 80),  # the same array is weighed once
        ([np.zeros(10) for _ in range(1000)], 80_000),  # of many some are weighed
        ({k: np.zeros(10) for k in range(30)}, 2400),
        (Held(Held(np.zeros(1000))), 8000),
        (shapely.Point(0, 0).buffer(1, quad_segs=25), SHAPE + 101 * CORNER),
        (np.array([shapely.Point(0, 0), None]), SHAPE),
    ],
)
def test_bytes_of_values_are_about_right(value: object, least: int) -> None:
    assert least <= bytes_of(value) <= 3 * least + 2000


def test_a_cut_is_weighed_at_once_about_as_exactly(demo: Model) -> None:
    for depth in (1.0, 20.0):
        result = cut_model(demo, SectionCut(line=((-2, 6), (24, 6)), depth=depth))
        assert weight_of(result) == pytest.approx(bytes_of(result, (Model,)), rel=0.6)


def test_what_belongs_to_others_weighs_nothing() -> None:
    assert bytes_of([Held(np.zeros(10_000))], without=(Held,)) < 200
    assert bytes_of(Held(np.zeros), without=()) < 1000  # a function is not held
