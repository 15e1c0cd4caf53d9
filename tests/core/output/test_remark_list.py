"""The list of remarks on paper: nothing is lost, nothing stands over an edge, whatever is said."""

from __future__ import annotations

import io
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from edge_slice.core.drawing.display import DisplayList, Label
from edge_slice.core.drawing.texts.typesetting import text_width
from edge_slice.core.sheet.remark_list import EDGE, HIGH, PAGE, WIDE, ListedRemark, remark_pages
from edge_slice.core.sheet.remark_marks import Marked, with_remarks


def picture(wide: int, high: int) -> bytes:
    stream = io.BytesIO()
    Image.new("L", (wide, high)).save(stream, "PNG")
    return stream.getvalue()


PICTURES = [picture(70, 52), picture(400, 3), picture(3, 400)]
words = st.text(st.characters(min_codepoint=33, max_codepoint=0x7E), min_size=1, max_size=60)
said = st.lists(words, min_size=1, max_size=40).map(" ".join)
remarks = st.builds(
    ListedRemark, head=words, about=words, text=said, answers=st.lists(st.tuples(words, said), max_size=3).map(tuple),
    pictures=st.lists(st.sampled_from(PICTURES), max_size=2).map(tuple),
)  # fmt: skip


@given(st.lists(remarks, min_size=1, max_size=8))
def test_all_that_is_said_stands_on_the_pages_in_order(listed: list[ListedRemark]) -> None:
    pages = remark_pages("Station: remarks", listed)
    labels = [item for page in pages for item in page.items if isinstance(item, Label)]
    wanted = "".join(
        text for one in listed for text in (one.head, one.about, one.text, *(t for a in one.answers for t in a))
    )
    shown = "".join(one.text for one in labels if one.x > EDGE and one.align == "left")
    assert shown.replace(" ", "") == wanted.replace(" ", "")
    for one in labels:
        assert EDGE <= one.y <= PAGE[3] - EDGE
        assert one.align == "right" or one.x + text_width(one.text, one.height) <= PAGE[2] - EDGE + 0.01
    assert sum(len(page.images) for page in pages) == sum(len(one.pictures) for one in listed)
    for page in pages:
        boxes = sorted((image.box for image in page.images), key=lambda box: -box[3])
        assert all(box[1] >= EDGE - 1e-9 and box[2] - box[0] <= WIDE + 1e-9 for box in boxes)
        assert all(above[1] > below[3] and above[3] - above[1] <= HIGH + 1e-9 for above, below in pairwise(boxes))


@given(st.lists(remarks, min_size=1, max_size=30), st.floats(200, 1189), st.floats(150, 841))
def test_all_that_is_said_stands_beside_the_sheet(listed: list[ListedRemark], wide: float, high: float) -> None:
    sheet = DisplayList((), (0.0, 0.0, wide, high))
    shown = with_remarks(sheet, [Marked(k, (1.0 + k, 2.0), [[(0.0, 0.0), (3.0, 1.0)]]) for k in range(3)], listed)
    labels = [item for item in shown.items if isinstance(item, Label)]
    assert [(one.text, one.x < 10) for one in labels if one.role == "remark"] == [(str(k), True) for k in range(3)]
    said = [one for one in labels if one.role == "note"]
    wanted = "".join(
        text for one in listed for text in (one.head, one.about, one.text, *(t for a in one.answers for t in a))
    )
    assert "".join(one.text for one in said).replace(" ", "") == wanted.replace(" ", "")
    assert shown.frame[1::2] == (0.0, high)
    for one in said:
        assert 0 < one.y < high
        assert wide < one.x <= one.x + text_width(one.text, one.height) < shown.frame[2]


def test_a_remark_longer_than_a_page_goes_on() -> None:
    long = ListedRemark("1  Plan", "Ada", "word " * 4000, (), ())
    pages = remark_pages("R", [long])
    assert len(pages) > 1
    numbered = {item.text for page in pages for item in page.items if isinstance(item, Label) and item.align == "right"}
    assert numbered == {f"{k} of {len(pages)}" for k in range(1, len(pages) + 1)}
