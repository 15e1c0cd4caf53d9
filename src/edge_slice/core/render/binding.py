"""Pages bound into one PDF: layers shared by all pages, bookmarks by folder, sheet and drawing, links between pages,
properties of the document."""

from __future__ import annotations

import io
import json
import struct
from dataclasses import dataclass, field
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name

from edge_slice.core.drawing.display import Box, Link
from edge_slice.core.render.archival import keep_for_long

POINT = 72.0 / 25.4  # points in a millimetre
LAYER = "L"  # and a number: what a page calls its layers
TARGET_AIR = 10.0  # mm around a drawing that a link leads to


@dataclass(frozen=True)
class Entry:
    """A drawing on a page as the bookmarks have it; `target` is what links call it."""

    title: str
    box: Box
    target: str = ""


@dataclass(frozen=True)
class Leaf:
    """A page to be bound: one that `page_pdf` made, its title, its paper box (left, base, right, top) in mm, the folder
    that its bookmark stands in, what links call it, the drawings on it, and its links."""

    pdf: bytes
    title: str
    box: Box
    folder: str = ""
    target: str = ""
    entries: tuple[Entry, ...] = ()
    links: tuple[Link, ...] = field(default=(), repr=False)


def leaf_bytes(leaf: Leaf) -> bytes:
    """A page to be bound as bytes, for keeping."""
    head = {
        "title": leaf.title, "box": leaf.box, "folder": leaf.folder, "target": leaf.target,
        "entries": [(e.title, e.box, e.target) for e in leaf.entries],
        "links": [(link.box, link.target) for link in leaf.links],
    }  # fmt: skip
    text = json.dumps(head).encode()
    return struct.pack("<I", len(text)) + text + leaf.pdf


def leaf_from_bytes(data: bytes) -> Leaf:
    """What `leaf_bytes` made."""
    (length,) = struct.unpack_from("<I", data)
    head = json.loads(data[4 : 4 + length])
    return Leaf(
        data[4 + length :],
        head["title"],
        tuple(head["box"]),
        head["folder"],
        head["target"],
        tuple(Entry(title, tuple(box), target) for title, box, target in head["entries"]),
        tuple(Link(tuple(box), target) for box, target in head["links"]),
    )


def with_layers(page: bytes, names: list[str]) -> bytes:
    """A document of one page whose layers have these names."""
    with pikepdf.open(io.BytesIO(page)) as document:
        groups = _groups(document, names)
        document.pages[0].Resources.Properties = Dictionary({f"/{LAYER}{k}": groups[n] for k, n in enumerate(names)})
        _declare(document, groups)
        stream = io.BytesIO()  # kept until it is bound, so that it need not be small
        document.save(stream, deterministic_id=True, compress_streams=False)
        return stream.getvalue()


def bound(leaves: list[Leaf], title: str, subject: str = "", archival: bool = False) -> bytes:
    """One document of all pages. Links to what is not in it are left out. The same pages give the same bytes.
    `archival`: as PDF/A-2b."""
    with pikepdf.new() as document:
        groups: dict[str, Any] = {}
        for leaf in leaves:
            with pikepdf.open(io.BytesIO(leaf.pdf)) as source:
                document.pages.extend(source.pages)
            page = document.pages[-1]
            known = dict(page.Resources.get("/Properties", Dictionary()).items())
            for key, group in known.items():
                name = str(group.Name)
                groups.setdefault(name, group)
                page.Resources.Properties[key] = groups[name]
        _declare(document, groups)
        _link(document, leaves)
        _bookmarks(document, leaves)
        document.docinfo["/Title"] = title
        document.docinfo["/Creator"] = "Edge Slice"
        if subject:
            document.docinfo["/Subject"] = subject
        document.Root.PageMode = Name.UseOutlines if len(leaves) > 1 else Name.UseNone
        document.Root.ViewerPreferences = Dictionary(PrintScaling=Name("/None"), DisplayDocTitle=True)
        if archival:
            keep_for_long(document)
        stream = io.BytesIO()
        document.save(stream, deterministic_id=True, object_stream_mode=pikepdf.ObjectStreamMode.generate)
        return stream.getvalue()


def _groups(document: pikepdf.Pdf, names: list[str]) -> dict[str, Any]:
    return {n: document.make_indirect(Dictionary(Type=Name.OCG, Name=n)) for n in names}


def _declare(document: pikepdf.Pdf, groups: dict[str, Any]) -> None:
    """What layers a document has; all are shown."""
    if not groups:
        return
    order = [groups[n] for n in sorted(groups)]
    shown = Dictionary(Order=Array(order), ON=Array(order), Name="Layers", BaseState=Name.ON)
    document.Root.OCProperties = Dictionary(OCGs=Array(order), D=shown)
    document.Root.PageLayout = Name.SinglePage


def _link(document: pikepdf.Pdf, leaves: list[Leaf]) -> None:
    places: dict[str, Any] = {}
    for leaf, page in zip(leaves, document.pages, strict=True):
        if leaf.target:
            places[leaf.target] = Array([page.obj, Name.Fit])
        for entry in leaf.entries:
            if entry.target:
                places.setdefault(entry.target, _view(page, leaf, entry.box))
    for leaf, page in zip(leaves, document.pages, strict=True):
        links = [
            document.make_indirect(
                Dictionary(
                    Type=Name.Annot, Subtype=Name.Link, Border=Array([0, 0, 0]), H=Name.I, F=4,
                    Rect=_rect(leaf, link.box), Dest=places[link.target],
                )
            )
            for link in leaf.links
            if link.target in places
        ]  # fmt: skip
        if links:
            page.obj.Annots = Array(links)


def _rect(leaf: Leaf, box: Box) -> Any:
    left, base = leaf.box[:2]
    corners = (box[0] - left, box[1] - base, box[2] - left, box[3] - base)
    return Array([round(c * POINT, 3) for c in corners])


def _view(page: Any, leaf: Leaf, box: Box) -> Any:
    left, base, right, top = box
    around = (left - TARGET_AIR, base - TARGET_AIR, right + TARGET_AIR, top + TARGET_AIR)
    return Array([page.obj, Name.FitR, *_rect(leaf, around)])


def _bookmarks(document: pikepdf.Pdf, leaves: list[Leaf]) -> None:
    """By folder, sheet and drawing; pages without a folder stand at the top."""
    with document.open_outline() as outline:
        folders: dict[str, pikepdf.OutlineItem] = {}
        for number, (leaf, page) in enumerate(zip(leaves, document.pages, strict=True)):
            item = pikepdf.OutlineItem(leaf.title, number, "Fit")
            for entry in leaf.entries:
                item.children.append(pikepdf.OutlineItem(entry.title, _view(page, leaf, entry.box)))
            if not leaf.folder:
                outline.root.append(item)
                continue
            if leaf.folder not in folders:
                folders[leaf.folder] = pikepdf.OutlineItem(leaf.folder, number, "Fit")
                outline.root.append(folders[leaf.folder])
            folders[leaf.folder].children.append(item)
