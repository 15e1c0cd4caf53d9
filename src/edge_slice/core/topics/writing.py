"""Topics as a file: a folder each, with what is said, from where it is seen, and a picture."""

from __future__ import annotations

import io
import re
import uuid
import zipfile
from collections.abc import Sequence
from datetime import UTC
from xml.etree.ElementTree import Element, SubElement, indent, tostring

from edge_slice.core.topics.documents import Remark, Topic, Triple, Version, Viewpoint

LONG_AGO = (1980, 1, 1, 0, 0, 0)  # of files in an archive: the same bytes on every day
STATUSES = ("Open", "In Progress", "Closed", "Refused")
SPACE = uuid.UUID("7d9c2a52-6a3e-4b84-9b0e-2f5f3f0c1a77")  # of the names that are made of others
NO_TEXT = re.compile("[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")  # what no XML may hold
NOBODY = "unknown"  # an author must be said


def topics_file(topics: Sequence[Topic], version: Version, project: str) -> bytes:
    """The bytes of a file of topics of a `project`, by its name."""
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as found:

        def keep(name: str, data: bytes) -> None:
            found.writestr(zipfile.ZipInfo(name, LONG_AGO), data, zipfile.ZIP_DEFLATED)

        keep("bcf.version", _xml(_version(version)))
        keep("project.bcfp", _xml(_project(version, project)))
        if version == "3.0":
            keep("extensions.xml", _xml(_extensions(topics)))
        for topic in topics:
            keep(f"{topic.guid}/markup.bcf", _xml(_markup(topic, version)))
            if topic.viewpoint is not None:
                keep(f"{topic.guid}/viewpoint.bcfv", _xml(_visualization(topic, topic.viewpoint, version)))
            if topic.picture is not None:
                keep(f"{topic.guid}/snapshot.png", topic.picture)
    return stream.getvalue()


def _xml(root: Element) -> bytes:
    indent(root)
    found: bytes = tostring(root, encoding="UTF-8", xml_declaration=True)
    return found


def _say(parent: Element, name: str, text: str) -> None:
    SubElement(parent, name).text = NO_TEXT.sub("", text)


def _version(version: Version) -> Element:
    root = Element("Version", VersionId=version)
    if version == "2.1":
        _say(root, "DetailedVersion", version)
    return root


def _project(version: Version, name: str) -> Element:
    root = Element("ProjectExtension" if version == "2.1" else "ProjectInfo")
    _say(SubElement(root, "Project", ProjectId=_named("project", name)), "Name", name)
    if version == "2.1":
        SubElement(root, "ExtensionSchema")
    return root


def _extensions(topics: Sequence[Topic]) -> Element:
    root = Element("Extensions")
    people = dict.fromkeys(
        who for t in topics for who in (t.author or NOBODY, t.assigned, *(r.author for r in t.remarks)) if who
    )
    for many, one, words in (
        ("TopicTypes", "TopicType", dict.fromkeys(t.kind for t in topics)),
        ("TopicStatuses", "TopicStatus", dict.fromkeys((*STATUSES, *(t.status for t in topics)))),
        ("Users", "User", people),
    ):
        group = SubElement(root, many)
        for word in words:
            _say(group, one, word)
    return root


def _markup(topic: Topic, version: Version) -> Element:
    root = Element("Markup")
    said = SubElement(root, "Topic", Guid=topic.guid, TopicType=topic.kind, TopicStatus=topic.status)
    _say(said, "Title", topic.title)
    if topic.created is not None:
        _say(said, "CreationDate", topic.created.astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%SZ"))
    _say(said, "CreationAuthor", topic.author or NOBODY)
    if topic.due:
        _say(said, "DueDate", f"{topic.due}T00:00:00Z")
    if topic.assigned:
        _say(said, "AssignedTo", topic.assigned)
    _say(said, "Description", topic.text)
    if topic.remarks:
        above = root if version == "2.1" else SubElement(said, "Comments")
        above.extend(_remark(remark) for remark in topic.remarks)
    if topic.viewpoint is not None:
        above = root if version == "2.1" else SubElement(said, "Viewpoints")
        shown = SubElement(above, "Viewpoints" if version == "2.1" else "ViewPoint", Guid=_named("view", topic.guid))
        _say(shown, "Viewpoint", "viewpoint.bcfv")
        if topic.picture is not None:
            _say(shown, "Snapshot", "snapshot.png")
    return root


def _remark(remark: Remark) -> Element:
    found = Element("Comment", Guid=remark.guid)
    for name, text in (("Date", remark.date), ("Author", remark.author), ("Comment", remark.text)):
        _say(found, name, text)
    return found


def _visualization(topic: Topic, view: Viewpoint, version: Version) -> Element:
    root = Element("VisualizationInfo", Guid=_named("view", topic.guid))
    components = SubElement(root, "Components")
    if view.elements:
        selection = SubElement(components, "Selection")
        for guid in view.elements:
            SubElement(selection, "Component", IfcGuid=guid)
    SubElement(components, "Visibility", DefaultVisibility="true")
    camera = SubElement(root, "OrthogonalCamera")
    for name, triple in (("CameraViewPoint", view.eye), ("CameraDirection", view.looks), ("CameraUpVector", view.up)):
        _triple(SubElement(camera, name), triple)
    _say(camera, "ViewToWorldScale", f"{view.high:.6g}")
    if version == "3.0":
        _say(camera, "AspectRatio", "1.5")
    if view.planes:
        planes = SubElement(root, "ClippingPlanes")
        for place, way in view.planes:
            plane = SubElement(planes, "ClippingPlane")
            _triple(SubElement(plane, "Location"), place)
            _triple(SubElement(plane, "Direction"), way)
    return root


def _triple(parent: Element, values: Triple) -> None:
    for name, value in zip("XYZ", values, strict=True):
        _say(parent, name, repr(round(value, 6) + 0.0))


def _named(what: str, name: str) -> str:
    return str(uuid.uuid5(SPACE, f"{what} {name}"))
