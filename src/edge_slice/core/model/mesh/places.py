"""Where a file of bare triangles (OBJ, PLY, STL) is wrong."""

from __future__ import annotations

import math
import re
import struct
from collections.abc import Iterator
from pathlib import Path

_PLY_SIZES = {
    "char": 1, "uchar": 1, "int8": 1, "uint8": 1, "short": 2, "ushort": 2, "int16": 2, "uint16": 2, "int": 4,
    "uint": 4, "int32": 4, "uint32": 4, "float": 4, "float32": 4, "double": 8, "float64": 8,
}  # fmt: skip


def what_is_wrong(path: Path) -> str | None:
    """The first thing wrong with a file, with its place; None where nothing that is looked for is."""
    look = {".obj": _in_obj, ".ply": _in_ply, ".stl": _in_stl}.get(path.suffix.lower())
    return None if look is None else next(look(path), None)


def _lines(path: Path) -> list[str]:
    return path.read_text("utf-8", errors="replace").splitlines()


def _is_number(word: str) -> bool:
    try:
        return math.isfinite(float(word))
    except ValueError:
        return False


def _in_obj(path: Path) -> Iterator[str]:
    lines = _lines(path)
    points = sum(line.lstrip().startswith(("v ", "v\t")) for line in lines)
    seen = 0
    for number, line in enumerate(lines, 1):
        word, *rest = line.split("#")[0].split() or [""]
        if word == "v":
            seen += 1
            if len(rest) < 3 or not all(map(_is_number, rest[:3])):
                yield f"line {number}: a point has three numbers, and this one says “{' '.join(rest)[:60]}”"
        elif word == "f":
            if len(rest) < 3:
                yield f"line {number}: a face has three corners at least, and this one has {len(rest)}"
            for corner in rest:
                if not re.fullmatch(r"-?\d+(/(-?\d+)?){0,2}", corner):
                    yield f"line {number}: “{corner[:40]}” is no corner of a face"
                    continue
                index = int(corner.split("/")[0])
                if index == 0 or index > points or -index > seen:
                    yield f"line {number}: this face joins point {index}, and the file has {points}, counted from 1"


def _in_ply(path: Path) -> Iterator[str]:
    data = path.read_bytes()
    head, mark, body = data.partition(b"end_header")
    if not data.startswith(b"ply") or not mark:
        yield "it does not begin with “ply” and a head that ends with “end_header”"
        return
    body = body.split(b"\n", 1)[-1]
    elements: list[tuple[str, int, list[list[str]]]] = []
    for number, line in enumerate(head.decode("ascii", "replace").splitlines(), 1):
        words = line.split()
        if words[:1] == ["element"]:
            if len(words) != 3 or not words[2].isdecimal():
                yield f"line {number}: “{line[:60]}” says no element and how many there are"
                return
            elements.append((words[1], int(words[2]), []))
        elif words[:1] == ["property"]:
            kinds = words[2:4] if words[1:2] == ["list"] else words[1:2]
            if not elements or not kinds or any(kind not in _PLY_SIZES for kind in kinds):
                yield f"line {number}: “{line[:60]}” is no property that is known"
                return
            elements[-1][2].append(words[1:])
    if "vertex" not in [name for name, _, _ in elements]:
        yield "its head names no points (“element vertex”)"
        return
    name, count, properties = elements[0]
    if not properties:
        yield f"its head says nothing of what each “{name}” has"
        return
    plain = all(p[0] != "list" for p in properties)
    if b"ascii" not in head and plain:
        needed = count * sum(_PLY_SIZES[p[0]] for p in properties)
        if len(body) < needed:
            yield f"it is cut short: {count:,} × “{name}” take {needed:,} bytes, and {len(body):,} are there"
    elif b"ascii" in head:
        rows = body.decode("ascii", "replace").split("\n")
        first = len(head.splitlines()) + 2
        there, said = sum(bool(row.strip()) for row in rows), sum(n for _, n, _ in elements)
        if there < said:
            yield f"it is cut short: its head says {said:,} lines, and {there:,} are there"
        for k, row in enumerate(rows[: count if plain else 0]):
            if len(row.split()) < len(properties) or not all(map(_is_number, row.split())):
                yield f"line {first + k}: “{row[:60]}” is no “{name}” of {len(properties)} numbers"


def _in_stl(path: Path) -> Iterator[str]:
    data = path.read_bytes()
    if data.lstrip()[:5].lower() == b"solid" and b"facet" in data[:2000]:
        for number, line in enumerate(data.decode("ascii", "replace").splitlines(), 1):
            word, *rest = line.split() or [""]
            if word.lower() == "vertex" and (len(rest) != 3 or not all(map(_is_number, rest))):
                yield f"line {number}: a point has three numbers, and this one says “{' '.join(rest)[:60]}”"
        if b"endsolid" not in data[-400:].lower():
            yield "it is cut short: it does not end with “endsolid”"
        return
    if len(data) < 84:
        yield f"it is cut short: the head alone takes 84 bytes, and {len(data)} are there"
        return
    (count,) = struct.unpack_from("<I", data, 80)
    if 84 + 50 * count > len(data):
        yield f"its head says {count:,} triangles, which take {84 + 50 * count:,} bytes, and {len(data):,} are there"
