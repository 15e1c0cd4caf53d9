"""What others answer to topics, read from their file."""

from __future__ import annotations

import io
import zipfile
from datetime import datetime
from xml.etree.ElementTree import Element, ParseError

from defusedxml import DefusedXmlException
from defusedxml.ElementTree import fromstring

from edge_slice.core.topics.documents import Remark, Topic

MOST_BYTES, MOST_TOPICS, MOST_REMARKS = 4_000_000, 5_000, 200  # of one markup; of a file; of one topic
LONGEST = 2_000  # letters of a remark


class UnreadableTopics(ValueError):
    """A file that is no file of topics, or one that can't be read."""


def read_topics(data: bytes) -> list[Topic]:
    """The topics of a file (BCF-XML 2.1 or 3.0), without their viewpoints and pictures. Raises `UnreadableTopics`."""
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
        return [_topic(_element(archive, name), name) for name in names]


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


def _topic(root: Element, name: str) -> Topic:
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
    )


def _remark(said: Element) -> Remark:
    author, date, text = (said.findtext(name, "").strip() for name in ("Author", "Date", "Comment"))
    return Remark(said.get("Guid", ""), author[:100], date[:40], text[:LONGEST])


def _date(text: str) -> datetime | None:
    try:
        return datetime.fromisoformat(text.strip())
    except ValueError:
        return None
