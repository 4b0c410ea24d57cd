"""Whether a photo is one of this insert: the rims of its pockets are seen where they must be, whatever lies in them."""

from __future__ import annotations

import numpy as np

from cozy_burrow.core.keep.empty_look import Look
from cozy_burrow.core.keep.rays import Hits
from cozy_burrow.core.relief.field import FLOOR

_FLAT_MM = 0.6
_BESIDE_MM = 9.0
_INTO_MM = 4.0  # the container's own rim is alike in all inserts of its size
_MOST = 1.5  # of level and hue: one dark corner must not outweigh all others
_FEWEST_CELLS = 200


def rims_seen(look: Look, full: Hits, empty: Hits, cell_mm: float) -> float:
    """Return how much steeper light and colour change at the rims of pockets and pulls than beside them.

    About 3 on photos of the insert and 1 on those of another one; 3 where it has hardly any rims to be told by.
    """
    import cv2

    surface = (full.owner == empty.owner) & ~full.side & ~empty.side
    surface &= (np.abs(full.height_mm) < _FLAT_MM) & (np.abs(empty.height_mm) < _FLAT_MM)
    into = 2 * round(_INTO_MM / cell_mm) + 1
    foam = cv2.erode((full.owner > FLOOR).astype(np.uint8), np.ones((into, into), np.uint8)).astype(bool) & look.told
    rims = cv2.morphologyEx(surface.astype(np.uint8), cv2.MORPH_GRADIENT, np.ones((3, 3), np.uint8)).astype(bool) & foam
    steep = np.zeros(surface.shape, dtype=np.float32)
    for one in (look.level, look.hue[..., 0], look.hue[..., 2]):
        soft = cv2.GaussianBlur(np.clip(one, -_MOST, _MOST), (0, 0), 1.0)
        steep += np.hypot(cv2.Sobel(soft, cv2.CV_32F, 1, 0), cv2.Sobel(soft, cv2.CV_32F, 0, 1))
    steep = np.minimum(steep, np.percentile(steep, 95))
    step = max(1, round(_BESIDE_MM / cell_mm))
    ways = [(x, y) for x in (-step, 0, step) for y in (-step, 0, step) if (x, y) != (0, 0)]
    beside = [steep[np.roll(rims, way, axis=(0, 1)) & foam] for way in ways]
    if rims.sum() < _FEWEST_CELLS or any(len(one) < _FEWEST_CELLS / 4 for one in beside):
        return 3.0
    return float(steep[rims].mean() / max(1e-6, float(np.mean([one.mean() for one in beside]))))
