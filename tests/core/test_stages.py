"""Stages are heard by who listens, each thread its own."""

import threading

from edge_slice.core.stages import listening, stage


def test_stages_are_heard_in_the_order_in_which_they_end() -> None:
    with listening() as heard:
        with stage("outer"), stage("inner"):
            pass
        with stage("last"):
            pass
    assert [one.name for one in heard] == ["inner", "outer", "last"]
    inner, outer, last = heard
    assert outer.began <= inner.began
    assert inner.took <= outer.took
    assert last.began >= outer.began + outer.took


def test_a_stage_that_fails_is_heard_and_nobody_hears_afterwards() -> None:
    with listening() as heard:
        try:
            with stage("fails"):
                raise ValueError
        except ValueError:
            pass
    with stage("later"):
        pass
    assert [one.name for one in heard] == ["fails"]


def test_threads_hear_their_own_stages_alone() -> None:
    found: dict[str, list[str]] = {}
    both = threading.Barrier(2)

    def act(name: str) -> None:
        with listening() as heard:
            both.wait()
            for _ in range(100):
                with stage(name):
                    pass
            both.wait()
        found[name] = [one.name for one in heard]

    threads = [threading.Thread(target=act, args=(name,)) for name in ("a", "b")]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert found == {"a": ["a"] * 100, "b": ["b"] * 100}
