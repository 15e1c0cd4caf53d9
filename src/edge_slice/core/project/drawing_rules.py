"""Rules for new drawings: what drawings of a kind begin with, and follow line by line until they depart.

A drawing follows a line for as long as it says there what the rule says. So nothing else has to be kept of it, and
whoever sets a line back to what the rule says follows again."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator, model_validator

from edge_slice.core.annotating.set_rules import SETS, Rule
from edge_slice.core.cut import AnyCut, SectionCut
from edge_slice.core.cut.following.callouts import Form
from edge_slice.core.cut.spec import Depth
from edge_slice.core.drawing import DrawingSpec
from edge_slice.core.drawing.spec import FREE
from edge_slice.core.project.followed import CUT
from edge_slice.core.project.kinds import CALLED, DrawingKind
from edge_slice.core.project.known_names import Use, in_style
from edge_slice.core.project.naming import NameTemplates, kind_of, template_of
from edge_slice.core.sheet import SheetSize

Kinds = Annotated[tuple[Annotated[str, Field(max_length=60)], ...], Field(max_length=100)]
RuleName = Annotated[str, Field(min_length=1, max_length=60, pattern=r"\S")]
OWN = ("strips", "callout")  # what a style says of a single drawing
SEEN = ("depth", "without", "shown_set", "see_through_kinds", "whole_kinds", "hidden", "glass")
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
    whole_kinds: Kinds = ()
    hidden: Literal["off", "dashed", "below ground"] = "off"
    glass: Literal["solid", "clear"] = "solid"


class Begins(BaseModel):
    """What is done for a new drawing, and what it is called: the annotation `sets` that it is given; the `series` of
    its mark (S: S1, S2, …; empty: as usual); its `title` as a template, for as long as it follows (empty: as the
    project names drawings); the `shared_extents` that its own follow; the `design` and `size` of sheets that are made
    for it (empty: as their template says)."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    sets: Annotated[tuple[Rule, ...], Field(max_length=8)] = ()
    series: Annotated[str, Field(pattern=r"^[A-Z]{0,3}$")] = ""
    title: Annotated[str, Field(max_length=120)] = ""
    shared_extents: Annotated[str, Field(max_length=60)] = ""
    design: Annotated[str, Field(max_length=40)] = ""
    size: SheetSize | Literal[""] = ""


AS_USUAL = Begins()


class DrawingRule(BaseModel):
    """What drawings of a kind begin with and follow. Lines are told as `cut.depth`, `style.scale`; strips and the
    marker of a callout are each drawing's own."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    name: RuleName
    kind: DrawingKind
    cut: CutLines = CutLines()
    style: DrawingSpec = DrawingSpec()
    begins: Begins = AS_USUAL

    @model_validator(mode="after")
    def _begins_as_its_kind_can(self) -> DrawingRule:
        flat = self.kind.endswith("plan")
        for name in self.begins.sets:
            one = SETS[name]
            if one.of_wall or (one.drawings == "plan" and not flat) or (one.drawings == "upright" and flat):
                raise ValueError(f"begins: “{one.words}” is no set for drawings of the kind {self.kind}")
        if self.begins.series and flat and self.kind != CALLED["plan"]:
            raise ValueError("begins: plans have no letters, and so no series")
        if self.begins.title:
            NameTemplates.model_validate({template_of(self.kind): self.begins.title})
        return self

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

    def naming(self, standard: str, shown_set: str, shared_extents: str, design: str) -> DrawingRule:
        """The same rule, which names what a project has of its own by other keys."""
        cut = self.cut.model_copy(update={"shown_set": shown_set})
        style = self.style.model_copy(update={"standard": standard})
        begins = self.begins.model_copy(update={"design": design, "shared_extents": shared_extents})
        return self.model_copy(update={"cut": cut, "style": style, "begins": begins})


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
    found = [line for line in one.lines if first[line] != second[line] and line not in named]
    begins = [rule.begins.model_copy(update={"design": "", "shared_extents": ""}) for rule in (one, other)]
    return (*found, *(["begins"] if begins[0] != begins[1] else []))


def back(rule: DrawingRule, shown: Shown, lines: Collection[str] | None = None) -> Shown:
    """A drawing that says in some lines (in all where none are given) what its rule says."""
    wanted = [line for line in _of(rule, shown[0]) if lines is None or line in lines]
    return _with(shown, wanted, rule)


def begun(rule: DrawingRule, cut: AnyCut, style: DrawingSpec, as_usual: Collection[str] = ()) -> Shown:
    """A new drawing by a rule: what its documents do not say, their defaults aside, is as the rule has it, but for
    lines that are to be `as_usual`."""
    said = {*(f"cut.{name}" for name in cut.model_fields_set), *(f"style.{name}" for name in style.model_fields_set)}
    said |= {*as_usual}
    cut = in_extents(rule, cut)
    return _with((cut, style), [line for line in _of(rule, cut) if line not in said], rule)


def in_extents(rule: DrawingRule, cut: AnyCut) -> AnyCut:
    """A new drawing's cut in the shared extents that its rule says, where it says none itself."""
    if cut.shared_extents or not rule.begins.shared_extents:
        return cut
    return cut.model_copy(update={"shared_extents": rule.begins.shared_extents})


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
    yield from (Use("cut.whole_kinds", "kind of element", kind) for kind in rule.cut.whole_kinds)
    if rule.cut.shown_set:
        yield Use("cut.shown_set", "shown set", rule.cut.shown_set)
    if rule.begins.shared_extents:
        yield Use("begins.shared_extents", "shared extents", rule.begins.shared_extents)


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
