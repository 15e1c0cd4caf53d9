"""Rules for new drawings: what drawings of a kind begin with, and follow line by line until they depart.

A drawing follows a line for as long as it says there what the rule says. So nothing else has to be kept of it, and
whoever sets a line back to what the rule says follows again."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator

from edge_slice.core.cut import AnyCut, SectionCut
from edge_slice.core.cut.following.callouts import Form
from edge_slice.core.cut.spec import Depth
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.spec import FREE
from edge_slice.core.project.followed import CUT
from edge_slice.core.project.kinds import CALLED, DrawingKind
from edge_slice.core.project.known_names import Use, in_style
from edge_slice.core.project.naming import kind_of

Kinds = Annotated[tuple[Annotated[str, Field(max_length=60)], ...], Field(max_length=100)]
RuleName = Annotated[str, Field(min_length=1, max_length=60, pattern=r"\S")]
OWN = ("strips", "callout")  # what a style says of a single drawing
SEEN = ("depth", "without", "shown_set", "see_through_kinds", "hidden", "glass")
PLAN = ("height", "overhead", *SEEN)


class CutLines(BaseModel):
    """What a rule says of cuts; of height (of the cut over the floor) and overhead only for plans. Metres."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    depth: Depth | None = Field(default=None, description="How far behind the cut things are drawn; null: unlimited")
    height: Annotated[float, Field(ge=-100, le=1000, allow_inf_nan=False)] = 1.2
    overhead: Annotated[float, Field(ge=0, le=1e4, allow_inf_nan=False)] = 0.0
    without: Kinds = ()
    shown_set: Annotated[str, Field(max_length=60)] = ""
    see_through_kinds: Kinds = ()
    hidden: Literal["off", "dashed", "below ground"] = "off"
    glass: Literal["solid", "clear"] = "solid"


class DrawingRule(BaseModel):
    """What drawings of a kind begin with and follow. Lines are told as `cut.depth`, `style.scale`; strips and the
    marker of a callout are each drawing's own."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    name: RuleName
    kind: DrawingKind
    cut: CutLines = CutLines()
    style: DrawingSpec = DrawingSpec()

    @field_validator("kind")
    @classmethod
    def _of_what_is_cut(cls, kind: DrawingKind) -> DrawingKind:
        if kind == "blank detail":
            raise ValueError("a blank detail shows nothing of a model; no rule can say how it is cut or shown")
        return kind

    @field_validator("style")
    @classmethod
    def _without_what_is_a_drawings_own(cls, style: DrawingSpec) -> DrawingSpec:
        if style.strips or style.callout != FREE:
            raise ValueError("strips and the marker of a callout are each drawing's own; leave them out")
        return style

    @property
    def lines(self) -> tuple[str, ...]:
        """All lines that the rule says."""
        cut = () if self.kind in (CALLED["plan"], CALLED["detail"]) else PLAN if self.kind.endswith("plan") else SEEN
        style = (name for name in DrawingSpec.model_fields if name not in OWN)
        return (*(f"cut.{name}" for name in cut), *(f"style.{name}" for name in style))

    def naming(self, standard: str, shown_set: str) -> DrawingRule:
        """The same rule, which names its standard and shown set by other keys."""
        cut = self.cut.model_copy(update={"shown_set": shown_set})
        style = self.style.model_copy(update={"standard": standard})
        return self.model_copy(update={"cut": cut, "style": style})


Shown = tuple[AnyCut, DrawingSpec]


def fits(rule: DrawingRule, cut: AnyCut, form: Form | None = None) -> bool:
    """Whether a rule is one for such drawings; `form` is that of a callout."""
    return rule.kind == kind_of(cut, form)


def misfit(rule: DrawingRule, cut: AnyCut, form: Form | None = None) -> str:
    """Why a rule is none for such drawings; empty where it is one."""
    if fits(rule, cut, form):
        return ""
    return f"“{rule.name}” is a rule for drawings of the kind {rule.kind}, not {kind_of(cut, form)}."


def rule_of(name: str, kind: DrawingKind, shown: Shown) -> DrawingRule:
    """A rule that says what a drawing shows. Raises pydantic's `ValidationError` for a kind without rules."""
    cut, style = shown
    said = {line: getattr(cut, line) for line in PLAN if hasattr(cut, line)}
    own = {line: DrawingSpec.model_fields[line].get_default() for line in OWN}
    return DrawingRule(name=name, kind=kind, cut=CutLines(**said), style=style.model_copy(update=own))


def departures(rule: DrawingRule, shown: Shown) -> tuple[str, ...]:
    """The lines in which a drawing says something else than its rule. One whose depth follows shared extents, or goes
    by the legs of its line, has that from there."""
    ruled, said = _said(rule.cut, rule.style), _said(*shown)
    return tuple(line for line in _of(rule, shown[0]) if said[line] != ruled[line])


def differing(one: DrawingRule, other: DrawingRule) -> tuple[str, ...]:
    """The lines that two rules of a kind say differently, but for which standard and shown set they name."""
    first, second = _said(one.cut, one.style), _said(other.cut, other.style)
    named = ("cut.shown_set", "style.standard")
    return tuple(line for line in one.lines if first[line] != second[line] and line not in named)


def back(rule: DrawingRule, shown: Shown, lines: Collection[str] | None = None) -> Shown:
    """A drawing that says in some lines (in all where none are given) what its rule says."""
    wanted = [line for line in _of(rule, shown[0]) if lines is None or line in lines]
    return _with(shown, wanted, rule)


def begun(rule: DrawingRule, cut: AnyCut, style: DrawingSpec, as_usual: Collection[str] = ()) -> Shown:
    """A new drawing by a rule: what its documents do not say, their defaults aside, is as the rule has it, but for
    lines that are to be `as_usual`."""
    said = {*(f"cut.{name}" for name in cut.model_fields_set), *(f"style.{name}" for name in style.model_fields_set)}
    said |= {*as_usual}
    return _with((cut, style), [line for line in _of(rule, cut) if line not in said], rule)


def as_usual(rule: DrawingRule, shown: Shown) -> tuple[str, ...]:
    """The lines in which a drawing departs from its rule to what drawings usually say: its documents, written without
    that, would not tell."""
    return tuple(line for line in departures(rule, shown) if _is_usual(shown, line))


def renewed(before: DrawingRule, rule: DrawingRule, shown: Shown) -> tuple[Shown, tuple[str, ...]]:
    """A drawing after its rule has changed, and the lines in which it changes: those that it had followed."""
    old, new = _said(before.cut, before.style), _said(rule.cut, rule.style)
    kept = {*departures(before, shown)}
    changed = tuple(line for line in _of(rule, shown[0]) if old[line] != new[line] and line not in kept)
    return _with(shown, changed, rule), changed


def in_drawing_rule(rule: DrawingRule) -> Iterator[Use]:
    """The names that a rule says."""
    yield from in_style(rule.style)
    yield from (Use("cut.without", "kind of element", kind) for kind in rule.cut.without)
    yield from (Use("cut.see_through_kinds", "kind of element", kind) for kind in rule.cut.see_through_kinds)
    if rule.cut.shown_set:
        yield Use("cut.shown_set", "shown set", rule.cut.shown_set)


def _of(rule: DrawingRule, cut: AnyCut) -> list[str]:
    """The lines of a rule that count for a drawing."""
    by_legs = isinstance(cut, SectionCut) and bool(cut.depths)
    return [line for line in rule.lines if line != "cut.depth" or not (by_legs or cut.shared_extents)]


def _is_usual(shown: Shown, line: str) -> bool:
    part, name = line.split(".")
    document = shown[part == "style"]
    return bool(getattr(document, name) == type(document).model_fields[name].get_default(call_default_factory=True))


def _said(*documents: BaseModel) -> dict[str, Any]:
    """What the documents of a cut and a style say, by line."""
    return {
        f"{part}.{name}": value
        for part, document in zip(("cut", "style"), documents, strict=True)
        for name, value in document.model_dump(mode="json").items()
    }


def _with(shown: Shown, lines: Iterable[str], rule: DrawingRule) -> Shown:
    cut, style = (document.model_dump(mode="json") for document in shown)
    said = _said(rule.cut, rule.style)
    for line in lines:
        part, name = line.split(".")
        (cut if part == "cut" else style)[name] = said[line]
    return CUT.validate_python(cut), DrawingSpec.model_validate(style)
