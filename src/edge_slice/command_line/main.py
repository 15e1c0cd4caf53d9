"""The command line. Exit codes: 0 done; 2 wrong arguments; 3 a model that can't be read; 4 some drawings of a run
were not made."""

from __future__ import annotations

import argparse
import difflib
import json
import sys
from contextlib import suppress
from dataclasses import asdict
from pathlib import Path

from pydantic import ValidationError

from edge_slice.command_line import arguments as args
from edge_slice.command_line.arguments import WrongArguments, wrong
from edge_slice.command_line.cache import ModelCache
from edge_slice.command_line.facts import facts_of, facts_text
from edge_slice.command_line.ground import in_ground, said_of_earthworks
from edge_slice.command_line.reading import read
from edge_slice.command_line.ruled import read_rule
from edge_slice.command_line.writing import draw, style_of, write
from edge_slice.core.cut import (
    ElevationCut,
    Extents,
    ImpossibleCut,
    PlanCut,
    PlaneCut,
    SectionCut,
)
from edge_slice.core.cut.following.callouts import Callout, beginning, derived
from edge_slice.core.cut.placing.junctions import whole_wall_section
from edge_slice.core.cut.planes.sets import (
    elevation_facing,
    elevations_of,
    facing_of,
    interior_elevations_of,
    plans_of,
    square_to,
    wind,
)
from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.drawing.sampler import hatch_page
from edge_slice.core.model import Model, UnreadableModel
from edge_slice.core.model.kinds import KINDS
from edge_slice.core.render.file_names import plain_name


def _inspect(options: argparse.Namespace) -> None:
    facts = facts_of(read(options))
    print(json.dumps(facts, ensure_ascii=False, indent=1) if options.json else facts_text(facts))


def _plan(options: argparse.Namespace) -> None:
    depth = args.one_depth(options.depth) if options.depth else None
    _check(options)
    model = in_ground(options, read(options))
    usual = args.standard_of(options.standard).conventions
    below = usual.below_floor
    overhead = usual.overhead if options.overhead is None else options.overhead
    common: dict[str, object] = {**_shared(options, model), "extents": _extents(options, model)}
    if options.depth:
        common["depth"] = depth
    elif not options.ceiling:
        common["depth"] = max(0.01, options.height + below)
    if not options.ceiling:
        common["overhead"] = overhead
    look = "up" if options.ceiling else "down"
    if options.storey == "all":
        heights = {s.guid: options.height for s in model.storeys}
        cuts = plans_of(model, (below, overhead), look, heights)
        names = [next(s.name for s in model.storeys if s.guid == cut.storey) for cut in cuts]
        for cut, out in zip(cuts, _files_beside(options.out, names), strict=True):
            write(options, model, cut.model_copy(update=common), out)
        return
    spec = {**common, "storey": _storey(model, options.storey), "height": options.height, "look": look}
    write(options, model, PlanCut.model_validate(spec), options.out)


def _cut(options: argparse.Namespace) -> None:
    _check(options)
    lens = args.perspective(options)
    if options.plane:
        point, normal = (args.numbers("--plane", text, 3) for text in options.plane)
        depth = args.one_depth(options.depth)
        PlaneCut.model_validate({"point": (0, 0, 0), "normal": normal})  # refused before the model is read
        model = in_ground(options, read(options))
        moved = tuple(p - o for p, o in zip(point, model.origin, strict=True))
        common = {**_shared(options, model), "depth": depth, "extents": _extents(options, model)}
        plane = PlaneCut.model_validate({**common, "point": moved, "normal": normal, "perspective": lens})
        write(options, model, plane, options.out)
        return
    if options.look is None:
        wrong("--line wants --look left or right, the side that is drawn as one walks from its first point")
    points, depths = args.places("--line", options.line, 2), args.depths(options.depth)
    first = points[0]
    SectionCut(line=tuple((x - first[0], y - first[1]) for x, y in points))  # refused before the model is read
    model = in_ground(options, read(options))
    spec = SectionCut.model_validate(
        {
            **_shared(options, model),
            "line": [(x - model.origin[0], y - model.origin[1]) for x, y in points],
            "look": options.look,
            "corners": options.corners,
            "step_lines": options.step_lines,
            "depth": depths[0] if len(depths) == 1 else None,
            "depths": depths if len(depths) > 1 else (),
            "perspective": lens,
            "extents": _extents(options, model),
        }
    )
    write(options, model, spec, options.out)


def _elevation(options: argparse.Namespace) -> None:
    _check(options)
    depth, lens = args.one_depth(options.depth), args.perspective(options)
    facing = options.facing
    if facing is not None and facing != "all" and facing not in args.FACINGS:
        args.bearing(facing)
    model = in_ground(options, read(options))
    common = {**_shared(options, model), "perspective": lens}

    def one(cut: ElevationCut, out: Path) -> None:
        reach = {} if depth is None and cut.depth is not None else {"depth": depth}
        given = _extents(options, model)
        base = cut.extents.base if given.base is None else given.base
        top = cut.extents.top if given.top is None else given.top
        extents = given.model_copy(update={"base": base, "top": top})
        write(options, model, cut.model_copy(update={**common, **reach, "extents": extents}), out)

    if options.room is not None:
        for k, cut in enumerate(interior_elevations_of(model, _room(model, options.room))):
            one(cut, _beside(options.out, str(k + 1)))
    elif facing == "all":
        for cut in elevations_of(model):
            one(cut, _beside(options.out, wind(facing_of(model, cut))))
    else:
        exact = args.bearing(facing) if facing not in args.FACINGS else square_to(model, args.FACINGS[facing])
        one(elevation_facing(model, exact), options.out)


def _wall(options: argparse.Namespace) -> None:
    _check(options)
    x, y = args.numbers("--at", options.at, 2)
    model = in_ground(options, read(options))
    at = (x - model.origin[0], y - model.origin[1])
    cut, junctions = whole_wall_section(model, at, options.look)
    given = _extents(options, model)
    change: dict[str, object] = {**_shared(options, model)}
    if given.breaks or given.broken:
        kept = {
            "breaks": given.breaks or cut.extents.breaks, "broken": given.broken, "whole_edges": given.whole_edges
        }  # fmt: skip
        change["extents"] = cut.extents.model_copy(update=kept)
    cut = cut.model_copy(update=change)
    wanted = junctions if options.details else ()
    marks = tuple(
        CalloutMark(f"junction:{k}", k, str(k), "–", tuple((u, v) for u, v in j.region.outline.tolist()))
        for k, j in enumerate(wanted, 1)
    )
    write(options, model, cut, options.out, marks)
    details = argparse.Namespace(**{**vars(options), "scale": options.details, "ruled": None})
    for k, junction in enumerate(wanted, 1):
        own = derived(model, cut, beginning(cut, "detail"), Callout(region=junction.region)).cut
        write(details, model, own, _beside(options.out, f"{k} {junction.name}"))


def _earthworks(options: argparse.Namespace) -> None:
    if not options.proposed:
        wrong("say what ground there shall be with --proposed HEIGHT or FILE")
    said_of_earthworks(options, read(options))


def _hatches(options: argparse.Namespace) -> None:
    args.check_form(options.out, (".svg", ".pdf"))
    draw(hatch_page(args.standard_of(options.standard)), "Hatches", options.out)


def _standard(options: argparse.Namespace) -> None:
    args.check_form(options.out, (".json",))
    options.out.write_text(args.standard_of(options.standard).model_dump_json(indent=1) + "\n", "utf-8")


def _check(options: argparse.Namespace) -> None:
    """Refuse what needs no model, before one is read."""
    args.check_form(options.out)
    style_of(options, args.standard_of(options.standard))


def _shared(options: argparse.Namespace, model: Model) -> dict[str, object]:
    named = (*options.without, *options.see_through, *options.whole)
    unknown = [k for k in named if k not in (*KINDS, *model.kinds)]
    if unknown:
        near = difflib.get_close_matches(unknown[0], {*KINDS, *model.kinds}, 3) or sorted(model.kinds)
        wrong(f"{unknown[0]!r} is no kind of element; did you mean {', '.join(near)}?")
    return {
        "without": tuple(options.without),
        "see_through_kinds": tuple(options.see_through),
        "whole_kinds": tuple(options.whole),
        "hidden": options.hidden,
        "glass": options.glass,
    }


def _extents(options: argparse.Namespace, model: Model) -> Extents:
    def down(height: float | None) -> float | None:
        return None if height is None else height - model.origin[2]

    corners = tuple(args.places("--extents", options.extents, 3)) if options.extents else ()
    rise = 0.0 if options.command == "plan" else model.origin[2]
    breaks = [
        {"axis": axis, "start": start - rise * (axis == "v"), "end": end - rise * (axis == "v")}
        for axis, start, end in args.breaks(options.breaks)
    ]
    low, high = down(getattr(options, "base", None)), down(getattr(options, "top", None))
    given = {"base": low, "top": high, "polygon": corners, "breaks": breaks, "broken": options.broken,
             "whole_edges": options.whole_edges}  # fmt: skip
    if options.region:
        (left, base), (right, top) = args.places("--region", options.region, 2)
        left, right, base, top = min(left, right), max(left, right), min(base, top) - rise, max(base, top) - rise
        given |= {"left": left, "right": right, "base": base, "top": top}
    return Extents.model_validate(given)


def _storey(model: Model, wanted: str) -> str:
    """A storey by name, else by index."""
    named = [s for s in model.storeys if s.name == wanted]
    if named:
        return named[0].guid
    if wanted.lstrip("-").isdigit() and 0 <= int(wanted) < len(model.storeys):
        return model.storeys[int(wanted)].guid
    names = ", ".join(f"{i} {s.name}" for i, s in enumerate(model.storeys)) or "none"
    wrong(f"there is no storey {wanted!r}; the model has: {names}")


def _room(model: Model, wanted: str) -> str:
    found = [s for s in model.spaces if wanted in (s.number, s.name, s.guid)]
    if found:
        return found[0].guid
    names = ", ".join(f"{s.number} {s.name}".strip() for s in model.spaces) or "none"
    wrong(f"there is no room {wanted!r}; the model has: {names}")


def _beside(out: Path, word: str) -> Path:
    """A file for one of several drawings: the name given, a dash, and what tells it apart."""
    return out.with_name(f"{out.stem}-{plain_name(word.lower())}{out.suffix}")


def _files_beside(out: Path, words: list[str]) -> list[Path]:
    """A file for each of several drawings; what would have one name is told apart by a number."""
    found: list[Path] = []
    for word in words:
        wanted, count = _beside(out, word), 1
        while wanted in found:
            count += 1
            wanted = _beside(out, f"{word} {count}")
        found.append(wanted)
    return found


def _changes(options: argparse.Namespace) -> None:
    from edge_slice.command_line.changes import changes_between, changes_json, changes_text

    old = read(options)
    newer = read(argparse.Namespace(**{**vars(options), "model": options.newer}))
    found = changes_between(old, newer)
    if options.json:
        print(changes_json(found))
        return
    elements, rooms = ([asdict(c) for c in part] for part in (found.elements, found.rooms))
    print(changes_text(elements, rooms, found.same))


def _send(options: argparse.Namespace) -> None:
    from edge_slice.command_line.sending import Sent, send

    if not options.model.is_file():
        wrong(f"there is no file {options.model}")
    server = options.server.rstrip("/")
    print(send(options.model, Sent(server, options.project, options.part, options.take, options.anyway)))


def _watch(options: argparse.Namespace) -> None:
    from edge_slice.command_line.sending import Sent, project_at, watch

    if options.every <= 0:
        wrong(f"--every is more than 0, not {options.every:g}")
    server, project = project_at(options.project)
    with suppress(KeyboardInterrupt):  # how one ends it
        watch(options.folder, Sent(server, project, "", options.take), options.every)


def _cache(options: argparse.Namespace) -> None:
    cache = ModelCache.of_user()
    if options.clear:
        print(f"{cache.clear()} models deleted from {cache.folder}")
        return
    size, limit = (f"{n / 1024 / 1024:.0f} MB" for n in (cache.size(), cache.limit))
    print(f"{len(cache.files())} models, {size} of at most {limit}, in {cache.folder}")


COMMANDS = {
    "inspect": _inspect,
    "earthworks": _earthworks,
    "plan": _plan,
    "cut": _cut,
    "elevation": _elevation,
    "wall": _wall,
    "hatches": _hatches,
    "standard": _standard,
    "cache": _cache,
    "changes": _changes,
    "send": _send,
    "watch": _watch,
}


def run(arguments: list[str] | None = None) -> int:
    """Entry point: every refusal is one line on stderr."""
    try:
        options = args.parser().parse_args(arguments)
        read_rule(options, arguments)
        if options.command == "run":
            from edge_slice.command_line.run_file import run_all  # what it takes is for runs alone

            return run_all(options.file, run)
        if options.command == "publish":
            from edge_slice.command_line.publish import publish

            publish(options)
            return 0
        COMMANDS[options.command](options)
    except UnreadableModel as error:
        return _refuse(3, str(error))
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        place = ".".join(str(part) for part in first["loc"])
        message = first["msg"].removeprefix("Value error, ")
        return _refuse(2, f"{place}: {message}" if place else message)
    except (WrongArguments, ImpossibleCut) as error:
        return _refuse(2, str(error))
    except OSError as error:
        return _refuse(2, f"{error.strerror}: {error.filename}")
    return 0


def _refuse(code: int, message: str) -> int:
    print(f"edge-slice: {message}", file=sys.stderr)
    return code
