"""Topics written and read: the same in both versions; what is none is refused in words."""

from __future__ import annotations

import io
import uuid
import zipfile
from dataclasses import replace
from datetime import UTC, datetime
from xml.etree import ElementTree

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from edge_slice.core.topics.documents import Remark, Topic, Viewpoint
from edge_slice.core.topics.reading import MOST_BYTES, UnreadableTopics, read_topics
from edge_slice.core.topics.writing import topics_file

CREATED = datetime(2026, 5, 4, 10, 30, tzinfo=UTC)
VIEW = Viewpoint((1.0, 2.0, 3.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0), 4.5, ("0K39dtTobL4AOzGm$y2u9z",))
words = st.text(st.characters(min_codepoint=32, max_codepoint=0x2FFF), max_size=60).map(str.strip)


def topic(**said: object) -> Topic:
    usual = {"guid": str(uuid.UUID(int=7)), "title": "A wall", "text": "", "status": "Open", "author": "Ada",
             "created": CREATED}  # fmt: skip
    return Topic(**{**usual, **said})  # type: ignore[arg-type]


@pytest.mark.parametrize("version", ["2.1", "3.0"])
@settings(max_examples=30, deadline=None)
@given(title=words, text=words, status=words, remark=words)
def test_what_is_written_is_read(version, title: str, text: str, status: str, remark: str) -> None:
    said = Remark(str(uuid.UUID(int=9)), "Ben", "2026-05-05T08:00:00Z", remark)
    one = topic(title=title, text=text, status=status, remarks=(said,))
    other = topic(guid=str(uuid.UUID(int=8)), viewpoint=VIEW, picture=b"png")
    assert read_topics(topics_file([one, other], version, "Station")) == [
        one, topic(guid=other.guid, viewpoint=replace(VIEW, high=0.0))
    ]  # fmt: skip


@pytest.mark.parametrize("version", ["2.1", "3.0"])
def test_a_viewpoint_names_elements_and_stands_where_it_is(version) -> None:
    data = topics_file([topic(viewpoint=VIEW, picture=b"png")], version, "Station")
    with zipfile.ZipFile(io.BytesIO(data)) as found:
        folder = str(uuid.UUID(int=7))
        assert found.read(f"{folder}/snapshot.png") == b"png"
        root = ElementTree.fromstring(found.read(f"{folder}/viewpoint.bcfv"))
        shown = ElementTree.fromstring(found.read(f"{folder}/markup.bcf"))
    assert [c.get("IfcGuid") for c in root.iter("Component")] == ["0K39dtTobL4AOzGm$y2u9z"]
    eye = root.find("OrthogonalCamera/CameraViewPoint")
    assert eye is not None
    assert [float(one.text or "") for one in eye] == [1.0, 2.0, 3.0]
    named = {one.get("Guid") for one in shown.iter() if one.tag in ("Viewpoints", "ViewPoint")} - {None}
    assert named == {root.get("Guid")}


def test_letters_that_xml_can_not_hold_are_left_out() -> None:
    (found,) = read_topics(topics_file([topic(title="A\x00 wall\x1b", text="\ud800too")], "3.0", "\x07"))
    assert (found.title, found.text) == ("A wall", "too")


def test_the_same_topics_are_the_same_bytes() -> None:
    assert topics_file([topic()], "2.1", "Station") == topics_file([topic()], "2.1", "Station")


def packed(**files: bytes) -> bytes:
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as found:
        for name, data in files.items():
            found.writestr(name.replace("_", "/"), data)
    return stream.getvalue()


NOW = b'<Version VersionId="3.0"/>'


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"no archive", "no ZIP archive"),
        (packed(**{"readme.txt": b""}), "no bcf.version"),
        (packed(**{"bcf.version": b'<Version VersionId="1.0"/>'}), "version 1.0"),
        (packed(**{"bcf.version": b"<Version"}), "can't be read"),
        (packed(**{"bcf.version": NOW, "a_markup.bcf": b"<Markup/>"}), "names no topic"),
        (packed(**{"bcf.version": NOW, "a_markup.bcf": b"<Markup><Topic/></Markup>"}), "names no topic"),
        (packed(**{"bcf.version": NOW, "a_markup.bcf": b" " * (MOST_BYTES + 1)}), "too large"),
        (packed(**{"bcf.version": NOW, "a_markup.bcf": b"\xff\xfe<<"}), "can't be read"),
    ],
)
def test_what_is_no_file_of_topics_is_refused(data: bytes, says: str) -> None:
    with pytest.raises(UnreadableTopics, match=says):
        read_topics(data)


def test_a_file_that_says_it_is_small_is_read_no_further_than_it_may() -> None:
    data = bytearray(packed(**{"bcf.version": NOW, "a_markup.bcf": b" " * (MOST_BYTES * 3)}))
    at = data.rindex(b"PK\x01\x02")  # the list's entry of the last file: its size, said otherwise
    data[at + 24 : at + 28] = (100).to_bytes(4, "little")
    with pytest.raises(UnreadableTopics):
        read_topics(bytes(data))
