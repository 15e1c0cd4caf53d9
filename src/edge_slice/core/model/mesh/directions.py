"""Directions."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

F64 = NDArray[np.float64]


def square_to(along: F64) -> F64:
    """Two unit vectors (3, 2), as columns, square to a unit vector (3,) and to each other."""
    aside = np.cross(along, np.eye(3)[int(np.abs(along).argmin())])
    aside /= np.linalg.norm(aside)
    return np.column_stack((aside, np.cross(along, aside)))
