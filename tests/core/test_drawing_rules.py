"""Rules for new drawings: what follows, what departs, and the way back."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from edge_slice.core.cut import AnyCut, ElevationCut, PlanCut, SectionCut
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.spec import InsetStrip
from edge_slice.core.project.drawing_rules import (
    CutLines,
    DrawingRule,
    back,
    begun,
    departures,
    fits,
    renewed,
    rule_of,
)
from edge_slice.core.project.kinds import KINDS

LINE = ((0.0, 0.0), (5.0, 0.0))
styles = st.builds(
    DrawingSpec,
    scale=st.sampled_from([20.0, 50.0, 100.0]),
    levels=st.booleans(),
    standard=st.sampled_from(["fine-line", "bold"]),
    pens=st.sampled_from([{}, {"cut": 0.5}]),
)
cut_lines = st.builds(
    CutLines,
    depth=st.sampled_from([None, 2.0, 5.0]),
    without=st.sampled_from([(), ("planting",)]),
    hidden=st.sampled_from(["off", "dashed"]),
)
rules = st.builds(DrawingRule, name=st.just("Working"), kind=st.just("section"), cut=cut_lines, style=styles)
sections = st.builds(
    SectionCut,
    line=st.just(LINE),
    depth=st.sampled_from([None, 2.0, 5.0]),
    without=st.sampled_from([(), ("planting",)]),
    shared_extents=st.sampled_from(["", "own-1"]),
)


@given(rules, sections, styles)
def test_the_way_back_leads_to_the_rule_line_by_line_and_touches_nothing_else(
    rule: DrawingRule, cut: SectionCut, style: DrawingSpec
) -> None:
    departs = departures(rule, (cut, style))
    for line in departs:
        there = back(rule, (cut, style), [line])
        assert departures(rule, there) == tuple(d for d in departs if d != line)
    cut_back, style_back = back(rule, (cut, style))
    assert departures(rule, (cut_back, style_back)) == ()
    assert (cut_back.kind, getattr(cut_back, "line", None)) == ("section", LINE)
    assert cut_back.shared_extents == cut.shared_extents


@given(rules, rules, sections, styles)
def test_a_change_of_a_rule_changes_what_followed_it_and_leaves_what_departed(
    before: DrawingRule, after: DrawingRule, cut: SectionCut, style: DrawingSpec
) -> None:
    shown, changed = renewed(before, after, (cut, style))
    departed = departures(before, (cut, style))
    assert not {*changed} & {*departed}
    assert {*departures(after, shown)} <= {*departed}
    assert renewed(after, after, shown) == (shown, ())
    if not departed:
        again, _ = renewed(after, before, shown)
        assert again == (cut, style)  # what follows in everything goes back with its rule


@given(rules, sections, styles)
def test_a_rule_made_of_a_drawing_is_followed_by_it(rule: DrawingRule, cut: SectionCut, style: DrawingSpec) -> None:
    own = rule_of("Own", "section", (cut, style))
    assert departures(own, (cut, style)) == ()
    assert departures(own, back(own, back(rule, (cut, style)))) == ()


def test_a_new_drawing_takes_from_its_rule_what_it_does_not_say() -> None:
    rule = DrawingRule(
        name="Working",
        kind="section",
        cut=CutLines(depth=3, without=("planting",)),
        style=DrawingSpec(scale=20, levels=False),
    )
    cut, style = begun(rule, SectionCut(line=LINE, depth=5), DrawingSpec(levels=True))
    assert (cut.depth, cut.without, style.scale, style.levels) == (5, ("planting",), 20, True)
    assert departures(rule, (cut, style)) == ("cut.depth", "style.levels")


@pytest.mark.parametrize(
    ("kind", "cut", "said", "aside"),
    [
        ("plan", PlanCut(storey="s"), {"cut.height", "cut.overhead", "cut.depth"}, set()),
        ("section", SectionCut(line=LINE), {"cut.depth", "cut.glass"}, {"cut.height", "cut.overhead"}),
        ("section", SectionCut(line=LINE, depths=(2.0,)), {"cut.glass"}, {"cut.depth"}),
        ("elevation", ElevationCut(line=LINE), {"cut.depth"}, {"cut.height"}),
    ],
)
def test_lines_are_those_that_a_kind_has(kind: str, cut: AnyCut, said: set[str], aside: set[str]) -> None:
    rule = DrawingRule.model_validate(
        {
            "name": "Other",
            "kind": kind,
            "cut": {"height": 2, "overhead": 1, "depth": 7, "glass": "clear"},
            "style": {"scale": 5},
        }
    )
    assert fits(rule, cut)
    departs = {*departures(rule, (cut, DrawingSpec()))}
    assert said | {"style.scale"} <= departs
    assert not departs & aside


def test_a_callout_has_its_cut_from_its_parent_and_a_strip_is_a_drawings_own() -> None:
    assert all(line.startswith("style.") for line in DrawingRule(name="A", kind="detail").lines)
    with pytest.raises(ValidationError, match="blank detail"):
        DrawingRule(name="A", kind="blank detail")
    strips = (InsetStrip(drawing=1),)
    with pytest.raises(ValidationError, match="own"):
        DrawingRule(name="A", kind="plan", style=DrawingSpec(strips=strips))
    assert rule_of("A", "plan", (PlanCut(storey="s"), DrawingSpec(strips=strips))).style.strips == ()


@pytest.mark.parametrize("kind", [kind for kind in KINDS if kind != "blank detail"])
def test_every_kind_of_drawing_may_have_a_rule(kind: str) -> None:
    assert DrawingRule.model_validate({"name": "A", "kind": kind}).lines
