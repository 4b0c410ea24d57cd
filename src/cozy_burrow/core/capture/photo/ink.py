"""The large print of a mat (marks, scales) beside and under things: where it is seen as it was printed.

A mark is as dark as a black thing, and its edge as sharp as that of any. But where it lies is known: what is seen
there as dark as ink is the mark, unless what lies against it is as dark; and an edge where the print has one is the
print's. Letters and what else is thin is closed by the light on either side of its strokes.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.capture.photo.masks import Mask, grown, opened
from cozy_burrow.core.capture.photo.rasters import Raster, brightest_of, level_of

_WHITE_DUE = 0.9
_STROKE_MM = 0.5  # of a letter is thinner than twice that
_INK = 0.05  # what black print gives back at least, of white
_BLACK = 0.03  # of white: nothing of the paper round about is seen there
_FRINGE_MM = 0.8  # between black and white, as blurred as a picture may be
_NARROW_MM = 0.4
_BESIDE_MM = 1.0
_LIGHTER = 0.2  # of white: a thing so much lighter than ink has no part as dark, but a darker one may
_AS_INK, _SOFT_CELLS = 0.035, 1.0  # brighter, it is a dark thing
_FEWEST = 12  # cells


@dataclass(frozen=True)
class Ink:
    """What is printed: white (1 white, 0 black, blurred as the picture is), and where it is seen as dark as ink."""

    white: Raster
    seen: Mask
    level: float
    origin_mm: tuple[float, float]
    cell_mm: float

    def across(self, points_mm: NDArray[np.float64]) -> NDArray[np.float64]:
        """Return how white the print is at points (n, k, 2) of the mat, 0 to 1."""
        import cv2

        places = np.asarray((points_mm - np.array(self.origin_mm)) / self.cell_mm, dtype=np.float32)
        column, row = (places[..., k].copy() for k in (0, 1))
        found = cv2.remap(self.white, column, row, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        return np.asarray(found, dtype=float)


def without_letters(even: Raster, words: Mask, cell_mm: float) -> Raster:
    """Return the evened picture with thin dark strokes taken out where words are printed: paper or thing stays."""
    import cv2

    size = 2 * round(_STROKE_MM / cell_mm) + 1
    disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size))
    return np.where(words[..., None], cv2.morphologyEx(even, cv2.MORPH_CLOSE, disc), even)


def without_print(
    even: Raster, due: Raster, gap: Mask, on: Mask, origin_mm: tuple[float, float], cell_mm: float
) -> tuple[Raster, Mask, Ink]:
    """Return the evened picture with the print divided out, where that could be done, and what is seen of the print.

    Where something brighter than ink is seen on black print, it lies over the print and is seen as it is.
    """
    import cv2

    black = on & (due < 0.02)
    ink = float(np.clip(np.median(level_of(even)[black]), 0.0, 0.3)) if black.any() else _INK
    expected = ink + (1 - ink) * due
    bright = ((brightest_of(even) > ink + 0.1) & (due < 0.03)).astype(np.uint8)
    over = np.asarray(cv2.morphologyEx(bright, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8)), dtype=bool)
    known = on & ((~gap & (due > _WHITE_DUE)) | over)
    plain = np.where(over[..., None], even, even / np.maximum(expected, 0.2)[..., None]).astype(np.float32)
    return _filled_in(plain, known), known, _seen_ink(due, even, over, on & ~gap, ink, origin_mm, cell_mm)


def _filled_in(even: Raster, known: Mask) -> Raster:
    """Return the raster with what is not known replaced by what lies beside it."""
    import cv2

    weight = known.astype(np.float32)
    value = np.where(known[..., None], even, 0).astype(np.float32)
    filled = value.copy()
    lack = ~known
    size = (even.shape[1], even.shape[0])
    for coarse, sigma in ((1, 1.5), (4, 1.2), (4, 4.0), (16, 4.0)):
        if coarse > 1:
            small = (max(1, size[0] // coarse), max(1, size[1] // coarse))
            total = cv2.GaussianBlur(cv2.resize(weight, small, interpolation=cv2.INTER_AREA), (0, 0), sigma)
            part = cv2.GaussianBlur(cv2.resize(value, small, interpolation=cv2.INTER_AREA), (0, 0), sigma)
            mean = cv2.resize(part / np.maximum(total, 1e-6)[..., None], size, interpolation=cv2.INTER_LINEAR)
            total = cv2.resize(total, size, interpolation=cv2.INTER_LINEAR)
        else:
            total = cv2.GaussianBlur(weight, (0, 0), sigma)
            mean = cv2.GaussianBlur(value, (0, 0), sigma) / np.maximum(total, 1e-6)[..., None]
        can = lack & (total > 0.05)
        filled[can] = mean[can]
        lack = lack & ~can
        if not lack.any():
            break
    filled[lack] = 1.0
    return filled


def _seen_ink(
    white: Raster, even: Raster, over: Mask, on: Mask, level: float, origin_mm: tuple[float, float], cell_mm: float
) -> Ink:
    """Return the print of a page as a picture shows it.

    even: (rows, columns, 3), the evened light; over: where something brighter than ink lies on the print; on: where
    there is paper and no words; level: how bright ink is.
    """
    import cv2

    soft = np.asarray(cv2.GaussianBlur(even, (0, 0), _SOFT_CELLS), dtype=np.float32)
    dark = brightest_of(soft) < level + _AS_INK
    black = opened(on & (white < _BLACK) & dark, _NARROW_MM / cell_mm)
    seen = grown(black, _FRINGE_MM / cell_mm) & (white < 1 - _BLACK) & ~over & on
    return Ink(white, np.asarray(seen, dtype=bool), level, origin_mm, cell_mm)


def without_ink(body: Mask, even: Raster, ink: Ink) -> Mask:
    """Return bodies without the print that hangs on to them: what lies against it is lighter than ink.

    even: (rows, columns, 3), the evened light.
    """
    import cv2

    hanging = body & ink.seen
    if not hanging.any():
        return body
    left = body.copy()
    count, label, stats, _ = cv2.connectedComponentsWithStats(hanging.astype(np.uint8))
    margin = round(_BESIDE_MM / ink.cell_mm) + 2
    for number in range(1, count):
        x, y, wide, high = (int(one) for one in stats[number, :4])
        part = (slice(max(0, y - margin), y + high + margin), slice(max(0, x - margin), x + wide + margin))
        own = label[part] == number
        plain = ~ink.seen[part] & ((ink.white[part] > 1 - _BLACK) | (ink.white[part] < _BLACK))
        beside = grown(own, _BESIDE_MM / ink.cell_mm) & body[part] & plain
        if int(beside.sum()) >= _FEWEST and float(np.median(even[part][beside].max(axis=-1))) > ink.level + _LIGHTER:
            left[part] &= ~own
    return opened(left, _NARROW_MM / ink.cell_mm)
