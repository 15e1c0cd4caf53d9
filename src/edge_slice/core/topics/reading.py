"""What others answer to topics, read from their file."""

from __future__ import annotations

import io
import zipfile
from datetime import datetime
from xml.etree.ElementTree import Element, ParseError

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from edge_slice.core.topics.documents import Remark, Topic, Triple, Viewpoint

MOST_BYTES, MOST_TOPICS, MOST_REMARKS = 4_000_000, 5_000, 200  # of one markup; of a file; of one topic
LONGEST, MOST_MEANT = 2_000, 1_000  # letters of a remark; elements of a viewpoint
CAMERAS = ("OrthogonalCamera", "PerspectiveCamera")


class UnreadableTopics(ValueError):
    """A file that is no file of topics, or one that can't be read."""


def read_topics(data: bytes) -> list[Topic]:
    """The topics of a file (BCF-XML 2.1 or 3.0), each with its first viewpoint, without pictures. Raises
    `UnreadableTopics`."""
    try:
        archive = zipfile.ZipFile(io.BytesIO(data))
    except zipfile.BadZipFile as error:
        raise UnreadableTopics("This is no file of topics: it is no ZIP archive.") from error
    with archive:
        if "bcf.version" not in archive.namelist():
            raise UnreadableTopics("This is no file of topics: there is no bcf.version in it.")
        _check_version(_element(archive, "bcf.version"))
        names = [name for name in archive.namelist() if name.endswith("/markup.bcf")]
        if len(names) > MOST_TOPICS:
            raise UnreadableTopics(f"The file has {len(names):,} topics; {MOST_TOPICS:,} can be read.")
        return [_topic(archive, name) for name in names]


def _check_version(root: Element) -> None:
    said = root.get("VersionId", "")
    if said not in ("2.1", "3.0"):
        raise UnreadableTopics(f"The file is of version {said or '?'}; 2.1 and 3.0 can be read.")


def _element(archive: zipfile.ZipFile, name: str) -> Element:
    if archive.getinfo(name).file_size > MOST_BYTES:
        raise UnreadableTopics(f"{name} is too large to be read.")
    try:
        with archive.open(name) as stream:
            text = stream.read(MOST_BYTES + 1)  # whatever its head declares
        if len(text) > MOST_BYTES:
            raise UnreadableTopics(f"{name} is too large to be read.")
        found: Element = fromstring(text)
        return found
    except (
        ParseError,
        DefusedXmlException,
        zipfile.BadZipFile,
        NotImplementedError,
        RuntimeError,
        ValueError,
    ) as error:
        if isinstance(error, UnreadableTopics):
            raise
        raise UnreadableTopics(f"{name} can't be read: {error}") from error


def _topic(archive: zipfile.ZipFile, name: str) -> Topic:
    root = _element(archive, name)
    said = root.find("Topic")
    if said is None or not said.get("Guid"):
        raise UnreadableTopics(f"{name} names no topic.")
    remarks = [*root.findall("Comment"), *said.findall("Comments/Comment")][-MOST_REMARKS:]
    return Topic(
        guid=said.get("Guid", "").lower(),
        title=said.findtext("Title", ""),
        text=said.findtext("Description", ""),
        status=said.get("TopicStatus", "").strip(),
        author=said.findtext("CreationAuthor", ""),
        created=_date(said.findtext("CreationDate", "")),
        remarks=tuple(_remark(one) for one in remarks),
        kind=said.get("TopicType", "").strip(),
        assigned=said.findtext("AssignedTo", "").strip(),
        due=said.findtext("DueDate", "").strip()[:10],
        viewpoint=_viewpoint(archive, name, [*root.findall("Viewpoints"), *said.findall("Viewpoints/ViewPoint")]),
    )


def _viewpoint(archive: zipfile.ZipFile, name: str, listed: list[Element]) -> Viewpoint | None:
    """From where a topic is seen, by the first that is listed whose file is there."""
    folder = name.rpartition("/")[0]
    files = [f"{folder}/{one.findtext('Viewpoint', '').strip()}" for one in listed]
    file = next((file for file in files if file in archive.namelist()), None)
    if file is None:
        return None
    root = _element(archive, file)
    camera = next((one for kind in CAMERAS if (one := root.find(kind)) is not None), None)
    meant = root.findall("Components/Selection/Component")[:MOST_MEANT]
    elements = tuple(guid for one in meant if (guid := one.get("IfcGuid", "").strip()))
    if camera is None and not elements:
        return None
    eye, looks, up = (_triple(camera, said, file) for said in ("CameraViewPoint", "CameraDirection", "CameraUpVector"))
    return Viewpoint(eye, looks, up, 0.0, elements)


def _triple(camera: Element | None, said: str, file: str) -> Triple:
    """What a camera says in x, y, z; zero where there is no camera."""
    if camera is None:
        return (0.0, 0.0, 0.0)
    try:
        x, y, z = (float(camera.findtext(f"{said}/{axis}", "")) for axis in "XYZ")
    except ValueError as error:
        raise UnreadableTopics(f"{file} can't be read: its camera has no {said} in figures.") from error
    return x, y, z


def _remark(said: Element) -> Remark:
    author, date, text = (said.findtext(name, "").strip() for name in ("Author", "Date", "Comment"))
    return Remark(said.get("Guid", ""), author[:100], date[:40], text[:LONGEST])


def _date(text: str) -> datetime | None:
    try:
        return datetime.fromisoformat(text.strip())
    except ValueError:
        return None
