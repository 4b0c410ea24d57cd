"""Things on a flatbed scanner: seen straight from below at a known number of dots to the inch, no parallax.

Coordinates: scan millimetres, x right, y down, origin at the picture's top left corner.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.capture.photo.edges import Ground
from cozy_burrow.core.capture.photo.flat import Flat
from cozy_burrow.core.capture.photo.markers import tone_table
from cozy_burrow.core.capture.photo.picture import Picture
from cozy_burrow.core.capture.photo.rasters import Raster
from cozy_burrow.core.capture.photo.things import find_things
from cozy_burrow.core.capture.photo.trace import Traced, seen_thing
from cozy_burrow.core.capture.runs import faired
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.progress import Quiet, Token
from cozy_burrow.core.tongue import tr

Points = NDArray[np.float64]

FEWEST_DPI, MOST_DPI = 72.0, 1200.0
_CELL_MM = 0.25
_TONE = 2.2  # scanners write values as cameras do
_SCANNER_SURE = 0.001  # of a length: what carriages of flatbed scanners are good for


@dataclass(frozen=True)
class Glass:
    """The scanner's glass: where its points lie in the picture."""

    px_per_mm: float

    def pixels(self, points_mm: Points) -> Points:
        """Return the pixels (n, 2) of points (n, 2) on the glass."""
        return points_mm * self.px_per_mm - 0.5


def glass_of(picture: Picture, *, dpi: float | None, where: str) -> Glass:
    """Return the scale of a scan, from what is said or else from the file. Raises UnusableInput where neither tells."""
    value = dpi or picture.dpi
    if value is None:
        raise UnusableInput(
            tr("the file does not say how many dots to the inch it has"),
            where=where,
            remedy=tr("type the dpi that was scanned"),
        )
    if not FEWEST_DPI <= value <= MOST_DPI:
        raise UnusableInput(
            tr("{value:g} dots to the inch are not read", value=value),
            where=where,
            remedy=tr("scan with 150 to 600 dpi"),
        )
    return Glass(value / 25.4)


def flat_scan(picture: Picture, glass: Glass) -> tuple[Flat, Raster]:
    """Return a scan evened out by its ground, white or black, and its light in pixels, (rows, columns, 3)."""
    import cv2

    light = np.asarray(cv2.LUT(picture.pixels, tone_table(_TONE)), dtype=np.float32)
    share = 1 / (glass.px_per_mm * _CELL_MM)
    if share < 1:
        rows, columns = round(light.shape[0] * share), round(light.shape[1] * share)
        small = np.asarray(cv2.resize(light, (columns, rows), interpolation=cv2.INTER_AREA), dtype=np.float32)
        cell = 1 / (glass.px_per_mm * (columns / light.shape[1]))
    else:
        small, cell = light, 1 / glass.px_per_mm
    edge = max(2, round(3.0 / cell))
    rim = np.concatenate(
        [
            small[:edge].reshape(-1, 3),
            small[-edge:].reshape(-1, 3),
            small[:, :edge].reshape(-1, 3),
            small[:, -edge:].reshape(-1, 3),
        ]
    )
    ground = np.median(rim, axis=0)
    if ground.mean() < 0.25:  # an open lid: things are brighter than the ground
        small, light, ground = 1 - small, 1 - light, 1 - ground
    even = np.asarray(small / np.maximum(ground, 0.05), dtype=np.float32)
    noise = float(np.median(np.abs(np.diff(even.mean(axis=-1), axis=1)))) / 0.954
    on = np.ones(even.shape[:2], dtype=bool)
    flat = Flat(
        even=even,
        known=on,
        on=on,
        origin_mm=(cell / 2, cell / 2),
        cell_mm=cell,
        noise=max(0.001, noise),
        blur_mm=max(0.08, 0.8 / glass.px_per_mm),
    )
    return flat, light


def scanned_things(
    picture: Picture, *, where: str, dpi: float | None = None, token: Token | None = None
) -> list[Traced]:
    """Return the outlines of the things in a scan, in scan millimetres, from left to right. Raises UnusableInput."""
    token = token or Quiet()
    glass = glass_of(picture, dpi=dpi, where=where)
    token.step(0.05)
    flat, light = flat_scan(picture, glass)
    token.step(0.2)
    ground = Ground(light, (0, 0), glass, flat.blur_mm)
    found = []
    for thing in find_things(flat):
        token.step(0.6)
        seen = seen_thing(thing, flat, ground) if not thing.touches_rim else None
        if seen is not None:
            size = max(seen.shape.bounds[2] - seen.shape.bounds[0], seen.shape.bounds[3] - seen.shape.bounds[1])
            sure = float(np.hypot(seen.spread_mm, max(0.03, _SCANNER_SURE * size)))
            shape = faired(seen.shape, noise_mm=max(0.02, seen.spread_mm))
            found.append(Traced(shape=shape, sure_mm=sure, seen=seen))
    if not found:
        raise UnusableInput(
            tr("no item is seen in the scan"),
            where=where,
            remedy=tr("lay items away from the edge of the glass, lid closed"),
        )
    return found
