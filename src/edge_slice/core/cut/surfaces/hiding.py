"""What hides which face: other faces, where two cross a part of them, and whole bodies.

A rod of a railing has a dozen faces, and whatever lies behind it is hidden by its outline: where all faces of a body
that overlap a face are nearer, the outline of the body is taken from that face once, not each of them."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np
import shapely
from numpy.typing import NDArray

from edge_slice.core.cut.surfaces.nearer import Faces, Nearer, nearer_of, shared_boxes
from edge_slice.core.cut.surfaces.overlay import common, joined
from edge_slice.core.cut.surfaces.parts import convex_halves

F64 = NDArray[np.float64]
I64 = NDArray[np.int64]
Flags = NDArray[np.bool_]
Shapes = NDArray[np.object_]
FINE = np.array([1e-12, 1e-12, 1e-6])  # of lines where faces cross: moved cuts find the same ones, to the last bit
LEAST = 3  # faces of a body before another face for which its outline is made
SHARE = 8  # as many times the faces of a body: no outline of a whole house for a face behind its chimney


class Hiding(NamedTuple):
    """Which faces (h,) are `behind` which ones (h,) of the hiding `shapes`, `before`, wherever `lines` (h, 3),
    a u + b v + c > 0, where the two cross: 0, 0, 0 where they don't."""

    behind: I64
    before: I64
    lines: F64
    shapes: Shapes

    def of(self, chosen: I64 | Flags) -> Hiding:
        return Hiding(self.behind[chosen], self.before[chosen], self.lines[chosen], self.shapes)

    def and_of(self, other: Hiding) -> Hiding:
        """Both, of the same shapes."""
        behind, before, lines = (np.concatenate(pair) for pair in zip(self[:3], other[:3], strict=True))
        return Hiding(behind, before, lines, self.shapes)

    @property
    def crossing(self) -> Flags:
        found: Flags = (self.lines != 0).any(axis=1)
        return found

    def whole(self) -> Shapes:
        """The shapes (h,) that are before, also where they cross what they hide."""
        return self.shapes[self.before]

    def parts(self) -> Shapes:
        """What of them hides (h,)."""
        found = self.whole()
        cut = self.crossing
        if cut.any():
            boxes = shared_boxes(self.shapes, self.behind[cut], self.before[cut])
            found[cut] = common(found[cut], _half_planes(self.lines[cut], boxes))
        return found


def hiding_of(faces: Faces, wanted: Flags) -> Hiding:
    """What hides the `wanted` faces (f,); the first of its shapes are the faces' own. Of each face the whole ones come
    before those that cross it, the largest first: most of what is hidden is gone soon."""
    first, second = _pairs(faces, wanted)
    nearer = nearer_of(faces, first, second)
    first, second, nearer = (column[nearer != Nearer.APART] for column in (first, second, nearer))
    found, every = [], []
    for near, far, code, sign in ((first, second, Nearer.FIRST, 1.0), (second, first, Nearer.SECOND, -1.0)):
        may = faces.hides[near] & wanted[far]
        apart = sign * (faces.planes[second] - faces.planes[first])
        apart[nearer != Nearer.CROSSING] = 0.0
        rows = Hiding(far, near, np.round(apart / FINE) * FINE, faces.shapes)
        found.append(rows.of(may & ((nearer == code) | (nearer == Nearer.CROSSING))))
        every.append((far[may], near[may]))
    hiding = found[0].and_of(found[1])
    hiding = _by_bodies(hiding, faces, (np.concatenate([e[0] for e in every]), np.concatenate([e[1] for e in every])))
    return hiding.of(np.lexsort((-shapely.area(hiding.shapes)[hiding.before], hiding.crossing, hiding.behind)))


def _pairs(faces: Faces, wanted: Flags) -> tuple[I64, I64]:
    """The pairs (p,) of faces that may overlap, one of them wanted and the other one hiding; the lower number first."""
    asked = np.flatnonzero(wanted)
    one, other = shapely.STRtree(faces.shapes).query(faces.shapes[asked])
    one = asked[one]
    use = (one != other) & (~wanted[other] | (one < other)) & (faces.hides[other] | (wanted[other] & faces.hides[one]))
    return np.minimum(one, other)[use], np.maximum(one, other)[use]


def _by_bodies(hiding: Hiding, faces: Faces, overlapping: tuple[I64, I64]) -> Hiding:
    """Outlines of bodies in the place of their faces, where those that overlap a face are all nearer; `overlapping`
    (o,), (o,): faces, and the ones that would hide them if they were."""
    bodies = int(faces.body.max(initial=-1)) + 1
    own = faces.body >= 0
    if not bodies:
        return hiding
    behind, before = overlapping
    behind, before = behind[own[before]], before[own[before]]
    over = np.unique(behind * bodies + faces.body[before], return_counts=True)
    others = faces.body[hiding.behind] != faces.body[hiding.before]  # its own outline holds a face itself
    plain = own[hiding.before] & others & ~hiding.crossing
    of = np.where(plain, hiding.behind * bodies + faces.body[hiding.before], -1)
    groups, counts = np.unique(of[plain], return_counts=True)
    size = np.bincount(faces.body[own & faces.hides], minlength=bodies)
    body = groups % bodies
    good = (counts >= LEAST) & (counts * SHARE >= size[body]) & (counts == over[1][np.searchsorted(over[0], groups)])
    groups, body = groups[good], body[good]
    if not len(groups):
        return hiding
    needed, number = np.unique(body, return_inverse=True)
    kept = hiding.of(~np.isin(of, groups))
    return Hiding(
        np.concatenate((kept.behind, groups // bodies)),
        np.concatenate((kept.before, len(faces.shapes) + number)),
        np.concatenate((kept.lines, np.zeros((len(groups), 3)))),
        np.concatenate((faces.shapes, _outlines_of(faces, needed))),
    )


def _outlines_of(faces: Faces, bodies: I64) -> Shapes:
    """The outlines (b,) of the hiding faces of bodies (b,)."""
    hides = np.flatnonzero(faces.hides & np.isin(faces.body, bodies))
    order = hides[np.argsort(faces.body[hides], kind="stable")]
    found = joined(faces.shapes[order], np.searchsorted(faces.body[order], bodies))
    shapely.prepare(found)
    return found


def _half_planes(lines: F64, boxes: F64) -> Shapes:
    """Of half planes a u + b v + c > 0, (p, 3), what lies in boxes (p, 4), grown a little."""
    rings = convex_halves(lines, boxes + np.array([-1.0, -1.0, 1.0, 1.0]))
    found = np.full(len(lines), shapely.Polygon(), dtype=object)
    held, owner = np.unique(rings.owner, return_inverse=True)
    if len(held):
        found[held] = shapely.polygons(shapely.linearrings(rings.points, indices=owner))
    return found
