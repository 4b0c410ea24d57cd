"""Where the dots of the mat are seen: there is paper, in whatever light, and where they are not, something covers it.

White paper is what a photo can't tell from a gleam, a label or a pale tool; a shadow is what it can't tell from grey.
Dots of known places are seen on paper in full light and in the dark of a shadow alike, and on nothing else.

Due      how much darker the dots make paper at a place, as this picture shows it: their ink, blurred as it is
Off      how much darker it is at a place than round about
Share    of the dots that are due round a place, how much is seen: 1 on paper, 0 on a thing. The least squares of off
         against due in a window of the size of the pitch
Unsure   the standard deviation of that share, from the noise of the picture
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.capture.photo.masks import Mask
from cozy_burrow.core.capture.photo.mat import DOT_PITCH_MM, dot_boxes, mat_page
from cozy_burrow.core.capture.photo.rasters import Raster, level_of

PRINT_CELL_MM = 0.15
_ROUND_MM = 0.4  # what lies round about: to the next dot
_BETWEEN = 0.15  # of the most ink: less lies between dots
_WINDOW_MM = 0.54 * DOT_PITCH_MM
_FINE_MM = 0.6
_LEAST_CLEAR = 0.5  # of the field, things and their rims too
_LEAST_SEEN = 0.25  # of the ink that is due: with less the mat has none, or the picture doesn't show it
_DARKEST = 0.02
_SPREAD = 0.12  # of `off` on things: grain, gleam, what is left of the noise
_NOT_INK = 0.25  # darker than ink by this is no dot


@dataclass(frozen=True)
class Dots:
    """What the picture shows of the dots, in the cells of the flat raster. field: where the mat bears dots.

    alike: 1 where nothing but dots and noise is seen, 0 where as much else is as dots would be, less where more is.
    """

    due: Raster
    off: Raster
    share: Raster
    unsure: Raster
    alike: Raster
    field: Mask
    origin_mm: tuple[float, float]
    cell_mm: float

    @property
    def are_clear(self) -> bool:
        """Whether the picture shows them well enough to be believed; from too far away or too blurred it does not."""
        return bool((self.alike[self.field] > 0).mean() > _LEAST_CLEAR)

    @property
    def left(self) -> Raster:
        """How much of the light the dots leave, where they are seen."""
        return np.asarray(1 - self.due * np.clip(self.share, 0, 1), dtype=np.float32)

    def across(self, points_mm: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Return at points (n, k, 2) of the mat what is due, and how far it speaks for paper (log of odds).

        The odds are those of two pictures of one place: with the dots that are due, and without, when what else makes
        it darker or brighter spreads by `_SPREAD`.
        """
        import cv2

        places = np.asarray((points_mm - np.array(self.origin_mm)) / self.cell_mm, dtype=np.float32)
        due, off, alike = (
            np.asarray(cv2.remap(one, places[..., 0].copy(), places[..., 1].copy(), cv2.INTER_LINEAR), dtype=float)
            for one in (self.due, self.off, self.alike)
        )
        odds = (off * due - due**2 / 2) / _SPREAD**2
        return due, np.where((off > due + _NOT_INK) | (off < -_NOT_INK), 0.0, odds * np.clip(alike, 0, 1))


def darker(flat: Raster, printed: Raster, field: Mask, cell_mm: float) -> tuple[Raster, Raster] | None:
    """Return how much darker each cell of a raster of light (rows, columns, 3) is than round about, and that light.

    Round about is what lies between the dots, whose places are known; light falls off evenly over so little. printed:
    the ink of the dots, blurred as the picture is. The light is in shares of that of white paper. None without a field.
    """
    import cv2

    if not field.any():
        return None
    level = level_of(flat)
    white = float(np.percentile(level[field], 90))
    if white <= 0:
        return None
    between = (printed < _BETWEEN * float(np.percentile(printed[field], 99))).astype(np.float32)
    sigma = _ROUND_MM / cell_mm
    total = cv2.GaussianBlur(between, (0, 0), sigma)
    around = cv2.GaussianBlur(level * between, (0, 0), sigma) / np.maximum(total, 1e-3)
    base = np.maximum(around / np.float32(white), _DARKEST)
    return np.asarray(np.clip(1 - level / (base * white), -0.5, 1.0), dtype=np.float32), base


def seen_dots(
    off: Raster, base: Raster, printed: Raster, field: Mask, origin_mm: tuple[float, float], cell_mm: float
) -> Dots | None:
    """Return what a picture shows of dots, None where it shows none.

    off, base: from `darker`; printed: (rows, columns), how much ink of dots lies in each cell, blurred as the picture
    is.
    """
    import cv2

    sigma = _WINDOW_MM / cell_mm
    # What light does over the pitch of the dots (a wall, a shadow's edge) is none of them: both are looked at without.
    finely, ink = (one - cv2.GaussianBlur(one, (0, 0), _FINE_MM / cell_mm) for one in (off, printed))
    # Nor are edges: what is far darker than any ink would make it, or brighter, counts nowhere.
    most = float(np.percentile(printed[field], 99)) + _NOT_INK
    weight = ((off < most) & (off > -_NOT_INK)).astype(np.float32)
    power = cv2.GaussianBlur(weight * ink * ink, (0, 0), sigma)
    seen = cv2.GaussianBlur(weight * finely * ink, (0, 0), sigma)
    usual_power = float(np.median(power[field]))
    if usual_power <= 0:  # nearly all of it is darker or brighter than dots could make it
        return None
    share = seen / np.maximum(power, 0.2 * usual_power)
    usual = float(np.percentile(share[field], 75))
    if not _LEAST_SEEN <= usual <= 1.6:
        return None
    bare = field & (printed < 0.02)
    steps = np.abs(np.diff(off, axis=1))[bare[:, 1:] & bare[:, :-1]]
    noise = float(np.median(steps)) / 0.954 if len(steps) else 0.02  # the median of |difference| is 0.954 sigma
    # A gleam may be dark where dots are, but elsewhere too: what the dots leave unexplained must be noise.
    least_power = 0.2 * usual_power
    unlike = cv2.GaussianBlur(weight * finely * finely, (0, 0), sigma) - seen * seen / np.maximum(power, least_power)
    unlike -= noise**2 / base
    spread = noise / np.sqrt(base) / np.sqrt(4 * math.pi * sigma**2 * np.maximum(power, 0.2 * usual_power))
    return Dots(
        due=np.asarray(printed * usual, dtype=np.float32),
        off=off,
        share=np.asarray(share / usual, dtype=np.float32),
        unsure=np.asarray(spread / usual, dtype=np.float32),
        alike=np.asarray(1 - unlike / (usual**2 * np.maximum(power, least_power)), dtype=np.float32),
        field=field,
        origin_mm=origin_mm,
        cell_mm=cell_mm,
    )


@lru_cache(maxsize=2)
def dots_raster(paper: str, number: int) -> NDArray[np.uint8]:
    """Return how much ink of dots lies in each cell of 0.15 mm of a page, 255 where it is full."""
    page = mat_page(paper, number)
    shape = (math.ceil(page.height_mm / PRINT_CELL_MM), math.ceil(page.width_mm / PRINT_CELL_MM))
    boxes = np.array(dot_boxes(page)) / PRINT_CELL_MM
    first = np.floor(boxes[:, :2]).astype(int)
    reach = np.arange(int(np.ceil(boxes[:, 2:] - first[:, :2]).max()))
    # (n, 2, k): how much of the k cells from the first on lies in the box, across and down.
    cells = first[..., None] + reach
    covered = np.clip(np.minimum(cells + 1, boxes[:, 2:, None]) - np.maximum(cells, boxes[:, :2, None]), 0, 1)
    ink = covered[:, 1, :, None] * covered[:, 0, None, :]
    place = cells[:, 1, :, None] * shape[1] + cells[:, 0, None, :]
    total = np.bincount(place.ravel(), weights=ink.ravel(), minlength=shape[0] * shape[1]).reshape(shape)
    return np.asarray(np.round(np.clip(total, 0, 1) * 255), dtype=np.uint8)
