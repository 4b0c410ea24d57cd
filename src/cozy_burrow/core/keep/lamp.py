"""Where the lamp of a photo leaves an empty pocket in the dark: its direction is that of the shadows that are seen.

A dark thing looks much like the dark of an empty pocket. But shadows lie where the lamp has them: pulls, trenches and
foam between things, which are empty anyway, show where, and from there it is known for every pocket.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.keep.empty_look import INTO_MM, Look, Shine, apart_from_things, kind_numbers
from cozy_burrow.core.keep.rays import Hits, Raster
from cozy_burrow.core.relief.grid import Grid
from cozy_burrow.core.relief.light import Sun, corners, under_shadow

_COARSE = 2  # cells each way that are one while the direction is looked for
_HIGH_DEG, _AZIMUTH_STEP_DEG = (78.0, 70.0, 62.0, 54.0, 46.0, 38.0, 30.0), 15.0
_BRIGHT_PERCENT = 70.0
_DARKEST = 0.4  # of level, against what lies in the light: darker is no more a shadow than that
_FEWEST = 300  # cells that tell
_TRUSTED = 0.45  # correlation of shadows as they are seen and as they would be
_ROUND_ABOUT = 0.7  # of the light comes from all round, and less of it into a hole
_EDGE_MM = 1.5  # where a shadow ends is known no better: lamps are broad
_IN_SHADE, _IN_LIGHT, _NOT_KNOWN = 0.85, 0.01, 0.3


@dataclass(frozen=True)
class Lamp:
    """Where light comes from: degrees from the back to the left, and how high; how well shadows agree with that."""

    azimuth_deg: float
    high_deg: float
    agrees: float


def shadow_of(height: Raster, px_per_mm: float, lamp: Lamp) -> Raster:
    """Return how far each cell lies below the edge of the lamp's shadow, mm; 0 where it is lit."""
    quarter = round(lamp.azimuth_deg / 90.0)
    left_deg = lamp.azimuth_deg - 90.0 * quarter
    turned = np.rot90(height, -quarter)
    if left_deg < 0.0:
        turned = turned[:, ::-1]
    below = under_shadow(np.ascontiguousarray(turned), px_per_mm, Sun(abs(left_deg), lamp.high_deg))
    if left_deg < 0.0:
        below = below[:, ::-1]
    return np.ascontiguousarray(np.rot90(below, quarter))


def lamp_of(look: Look, full: Hits, empty: Hits, open_level: Raster, height: Raster, grid: Grid) -> Lamp | None:
    """Return where the light of a photo comes from; None where what is empty anyway doesn't tell.

    height: of the insert with everything in its place, over the grid.
    """
    import cv2

    cells = look.told & apart_from_things(full, empty) & ~empty.side & (empty.height_mm < -INTO_MM)
    if int(cells.sum()) < _FEWEST:
        return None
    level, of = (look.level - open_level)[cells], kind_numbers(empty)[cells]
    for number in np.unique(of).tolist():
        own = of == number
        level[own] -= np.percentile(level[own], _BRIGHT_PERCENT)  # of whatever colour it is: what lies in the light
    dark = np.clip(-level / _DARKEST, 0.0, 1.0)
    resized = cv2.resize(height, None, fx=1 / _COARSE, fy=1 / _COARSE, interpolation=cv2.INTER_AREA)
    small = np.asarray(resized, dtype=np.float32)
    row, column = (
        np.clip(np.rint(one[cells] / _COARSE), 0, most - 1).astype(int)
        for one, most in zip((empty.row, empty.column), small.shape)
    )

    def agreement(azimuth_deg: float, high_deg: float) -> Lamp:
        shaded = shadow_of(small, grid.px_per_mm / _COARSE, Lamp(azimuth_deg, high_deg, 0.0))[row, column] > 0.5
        return Lamp(azimuth_deg, high_deg, _correlation(shaded, dark))

    tried = [agreement(a, h) for h in _HIGH_DEG for a in np.arange(0.0, 360.0, _AZIMUTH_STEP_DEG).tolist()]
    best = max(tried, key=lambda one: one.agrees)
    for step_deg in (_AZIMUTH_STEP_DEG / 2, _AZIMUTH_STEP_DEG / 4):
        near = [(a, h) for a in (-step_deg, 0.0, step_deg) for h in (-step_deg / 2, 0.0, step_deg / 2)]
        tried = [agreement(best.azimuth_deg + a, min(85.0, best.high_deg + h)) for a, h in near]
        best = max(tried, key=lambda one: one.agrees)
    return best if best.agrees > _TRUSTED else None


def _correlation(one: NDArray[np.bool_], other: NDArray[np.floating]) -> float:
    spread = float(one.std() * other.std())
    return float((one * other).mean() - one.mean() * other.mean()) / spread if spread > 1e-6 else 0.0


def shine_of(lamp: Lamp | None, empty: Hits, open_level: Raster, height: Raster, px_per_mm: float) -> Shine:
    """Return what is known of the light in empty places. height: with all of them empty, over the grid."""
    in_shade = np.full(height.shape, _NOT_KNOWN, dtype=np.float32)
    if lamp is not None:
        import cv2

        shaded = (shadow_of(height, px_per_mm, lamp) > 0.0).astype(np.uint8)
        reach = 2 * round(_EDGE_MM * px_per_mm) + 1
        disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (reach, reach))
        deep, wide = cv2.erode(shaded, disc), cv2.dilate(shaded, disc)
        share = np.where(deep > 0, _IN_SHADE, np.where(wide > 0, _NOT_KNOWN, _IN_LIGHT)).astype(np.float32)
        met = cv2.remap(share, empty.column, empty.row, cv2.INTER_NEAREST, borderMode=cv2.BORDER_REPLICATE)
        in_shade = np.where(empty.side, in_shade, met)  # whether a wall is lit is a matter of how it stands
    return Shine(open_level, np.asarray(in_shade, dtype=np.float32), lamp is not None)


def open_level_of(empty: Hits, height: Raster, px_per_mm: float) -> Raster:
    """Return by how much less light from all round comes to what rays meet, as a level; height as in `shine_of`."""
    import cv2

    open_ = corners(height, px_per_mm)[0]
    met = cv2.remap(open_, empty.column, empty.row, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
    return np.asarray(_ROUND_ABOUT * np.log(met), dtype=np.float32)
