"""What a drawing is given from around it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from edge_slice.core.drawing.annotations.callouts import CalloutMark
from edge_slice.core.drawing.annotations.markers import Marker
from edge_slice.core.drawing.display import Box
from edge_slice.core.drawing.touching.touch_ups import TouchUp


@dataclass(frozen=True)
class Surroundings:
    """Markers of other drawings on this one, and of its callouts; without `draws_markers` their places stay free for
    those who draw them. `touch_ups` by their source; `standing`: what annotations take up on the paper (mm), of which
    heads, bubbles and labels keep clear."""

    markers: tuple[Marker, ...] = ()
    callouts: tuple[CalloutMark, ...] = ()
    touch_ups: Sequence[tuple[str, TouchUp]] = ()
    standing: Sequence[Box] = ()
    draws_markers: bool = True


ALONE = Surroundings()
