"""A drawing rule on the command line: what the options do not say is as it has it."""

from __future__ import annotations

import argparse
from pathlib import Path

from edge_slice.command_line.arguments import said_in, wrong
from edge_slice.core.cut.shown import SHIPPED_SETS
from edge_slice.core.drawing import SHIPPED, DrawingStandard
from edge_slice.core.model import Model
from edge_slice.core.project.drawing_rules import DrawingRule, Shown, back, in_drawing_rule, misfit
from edge_slice.core.project.known_names import check_names, known_to_model, known_to_standard
from edge_slice.core.project.refused import Refused

# the lines of a rule that options say
LINES = {
    "depth": "cut.depth", "height": "cut.height", "overhead": "cut.overhead", "without": "cut.without",
    "see_through": "cut.see_through_kinds", "whole": "cut.whole_kinds",
    "hidden": "cut.hidden", "glass": "cut.glass", "scale": "style.scale",
    "standard": "style.standard", "fill": "style.fill", "content": "style.content", "frame": "style.frame",
    "section_rooms": "style.section_rooms", "surfaces": "style.appearance", "shadows": "style.surfaces",
    "sun": "style.surfaces",
}  # fmt: skip


def read_rule(options: argparse.Namespace, texts: list[str] | None) -> None:
    """Put the rule of a file into the options, with its standard where their `texts` say none. Raises `WrongArguments`,
    pydantic's `ValidationError` and `OSError`."""
    options.ruled = None
    path: Path | None = getattr(options, "rule", None)
    if path is None:
        return
    if not path.is_file():
        wrong(f"there is no drawing rule {path}: name a JSON file")
    rule, options.said = DrawingRule.model_validate_json(path.read_text("utf-8")), said_in(texts)
    if "standard" not in options.said:
        if rule.style.standard not in SHIPPED:
            wrong(f"“{rule.name}” is drawn by a standard that its project made; give it with --standard FILE")
        options.standard = rule.style.standard
    if rule.cut.shown_set and rule.cut.shown_set not in SHIPPED_SETS:
        wrong(f"“{rule.name}” shows by a set that its project made; leave that out of the file, and give --without")
    options.ruled = rule


def as_ruled(options: argparse.Namespace, model: Model, standard: DrawingStandard, shown: Shown) -> Shown:
    """A drawing as its rule has it, in what the options do not say. Raises `WrongArguments`."""
    rule: DrawingRule | None = options.ruled
    if rule is None:
        return shown
    if words := misfit(rule, shown[0]):
        wrong(words)
    try:
        check_names(in_drawing_rule(rule), {**known_to_model(model), **known_to_standard(standard)})
    except Refused as error:
        wrong(f"“{rule.name}”, {error.field}: {error}")
    said = {LINES[name] for name in options.said if name in LINES}
    return back(rule, shown, {*rule.lines} - said)
