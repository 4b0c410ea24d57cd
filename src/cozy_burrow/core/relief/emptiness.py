"""How well an empty place shows: what is seen in it against the foam round it, as the eye takes lightness and colour.

A pocket is lit by itself as the picture has it, empty. Each pixel in it is compared with the surface of the foam by
the distance of the two in CIE L*a*b*, where 1 is about the least that anybody sees side by side; the mean over the
pocket is how much it shows. Lightness alone would say that ochre under grey foam hardly shows, which everybody sees.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Insert, Rules
from cozy_burrow.core.relief.field import field_of
from cozy_burrow.core.relief.finish import daylight
from cozy_burrow.core.relief.grid import Grid, covered
from cozy_burrow.core.relief.light import Pixels, lit

_AROUND_MM = 8.0  # of foam that is looked at beside a pocket
_PX_PER_MM = 0.5
_MOST_PX = 8_000  # of a large pocket's picture: its mean needs no more
Lab = NDArray[np.float32]


def shown_of(ground: Ground, key: str) -> float:
    """Return by how much the empty place of a placement differs from the foam round it, in steps of L*a*b*."""
    return _shown(ground.pockets[key], ground.bay, ground.layers, ground.rules)


@memo(rows=1024)
def _shown(pocket: Pocket, bay: Bay, layers: tuple[Layer, ...], rules: Rules) -> float:
    alone = Ground(Insert(id="", name="", sheets=bay.sheets), rules, bay, layers, {pocket.owner: pocket}, ())
    left, top, right, bottom = pocket.surface.bounds
    bounds = (left - _AROUND_MM, top - _AROUND_MM, right + _AROUND_MM, bottom + _AROUND_MM)
    room = (bounds[2] - bounds[0]) * (bounds[3] - bounds[1])
    grid = Grid.over(bounds, min(_PX_PER_MM, math.sqrt(_MOST_PX / room)))
    inside = covered(pocket.surface, grid)
    if inside is None or not inside[1].any():
        return 0.0
    field = field_of(alone, grid, daylight(), filled=False)
    seen = eye(lit(field))
    surface = field.height_mm == 0.0
    if not surface.any():
        return 0.0
    foam = np.median(seen[surface], axis=0)
    window, mask = inside
    return float(np.linalg.norm(seen[window][mask] - foam, axis=1).mean())


def eye(pixels: Pixels) -> Lab:
    """Return the colours of a picture as the eye sets them apart: (rows, columns, 3), CIE L*a*b* by daylight (D65)."""
    import cv2

    shares = np.ascontiguousarray(pixels[:, :, :3]).astype(np.float32) / 255.0
    return np.asarray(cv2.cvtColor(shares, cv2.COLOR_RGB2LAB), dtype=np.float32)
