"""Which triangles hang together."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

I64 = NDArray[np.int64]


def joined(triangles: NDArray[np.integer[Any]]) -> I64:
    """For each of some triangles which of their groups it is in: those of one share corners."""
    number = np.arange(len(triangles))
    corners, at = np.unique(triangles, return_inverse=True)
    at = at.reshape(-1, 3)
    while True:
        least = np.full(len(corners), len(triangles))
        np.minimum.at(least, at.ravel(), np.repeat(number, 3))
        new = least[at].min(axis=1)
        if (new == number).all():
            return number
        number = new
