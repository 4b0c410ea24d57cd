"""Three colours of each cell of a raster taken together: NumPy is slow where the last axis is so short."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Raster = NDArray[np.float32]


def level_of(colours: Raster) -> Raster:
    """Return the mean of the colours (rows, columns, 3) of each cell."""
    import cv2

    return np.asarray(cv2.transform(colours, np.full((1, 3), 1 / 3, dtype=np.float32)), dtype=np.float32)


def brightest_of(colours: Raster) -> Raster:
    """Return the largest of the colours (rows, columns, 3) of each cell."""
    first, second, third = (colours[..., k] for k in range(3))
    return np.asarray(np.maximum(np.maximum(first, second), third), dtype=np.float32)
