"""The list of remarks on paper: nothing is lost, nothing stands over an edge, whatever is said."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from edge_slice.core.drawing.display import Label
from edge_slice.core.drawing.texts.typesetting import text_width
from edge_slice.core.sheet.remark_list import EDGE, PAGE, ListedRemark, remark_pages

words = st.text(st.characters(min_codepoint=33, max_codepoint=0x7E), min_size=1, max_size=60)
said = st.lists(words, min_size=1, max_size=40).map(" ".join)
remarks = st.builds(
    ListedRemark, head=words, about=words, text=said, answers=st.lists(st.tuples(words, said), max_size=3).map(tuple),
    picture=st.sampled_from([None, b"png"]),
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
    assert sum(len(page.images) for page in pages) == sum(one.picture is not None for one in listed)
    assert all(image.box[1] >= EDGE for page in pages for image in page.images)


def test_a_remark_longer_than_a_page_goes_on() -> None:
    long = ListedRemark("1  Plan", "Ada", "word " * 4000, (), None)
    pages = remark_pages("R", [long])
    assert len(pages) > 1
    numbered = {item.text for page in pages for item in page.items if isinstance(item, Label) and item.align == "right"}
    assert numbered == {f"{k} of {len(pages)}" for k in range(1, len(pages) + 1)}
