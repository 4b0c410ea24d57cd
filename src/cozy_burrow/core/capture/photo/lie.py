"""How the page lies: where its dots are seen, less where a flat page and the solved lens would show them.

A page that curls by two millimetres under a camera is seen beside its place by tenths, and between the marks of the
border nobody would know. Each patch of dots is slid over what is seen until both fit best; a smooth surface through
all patches then says for every place how far beside it is seen. What is left of the lens's bend goes with it.

Patch   a square of the field with a hundred dots, enough to be found where half of it is covered
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.capture.photo.masks import Mask

Points = NDArray[np.float64]
Raster = NDArray[np.float32]

_PATCH_MM, _STEP_MM, _MOST_MM = 16.0, 8.0, 1.5
_ALIKE = 0.4  # how well a patch must fit where it fits best (correlation), or it is covered
_FAINTEST = 0.15  # of the ink that is due
_TERMS = 4  # degree of the surface: a page taped down at its corners bends no more often
_FEWEST = 40
_BATCH = 128


class PixelMap(Protocol):
    """Whatever knows where a point of the paper (n, 2) in mm is seen in a picture: a solved camera, a scanner."""

    def pixels(self, points_mm: Points) -> Points:
        """Return pixels (n, 2)."""


@dataclass(frozen=True)
class Lie:
    """A smooth surface of shifts: `terms` (n, 2) of a polynomial over the box of the field (left, top, right, low)."""

    terms: Points
    box_mm: tuple[float, float, float, float]
    most_mm: float

    def shifts(self, points_mm: Points) -> Points:
        """Return how far beside its place each point (n, 2) of the mat is seen, in mm; as on its rim beyond it."""
        left, top, right, low = self.box_mm
        x = np.clip(2 * (points_mm[:, 0] - left) / (right - left) - 1, -1, 1)
        y = np.clip(2 * (points_mm[:, 1] - top) / (low - top) - 1, -1, 1)
        return np.asarray(_powers(x, y) @ self.terms, dtype=float)


@dataclass(frozen=True)
class Lying:
    """A camera before a page that lies as it lies."""

    flat: PixelMap
    lie: Lie

    def pixels(self, points_mm: Points) -> Points:
        """Return where points (n, 2) of the mat are seen, in pixels."""
        return self.flat.pixels(points_mm + self.lie.shifts(points_mm))


def lie_of(off: Raster, printed: Raster, field: Mask, origin_mm: tuple[float, float], cell_mm: float) -> Lie | None:
    """Return how the page lies, None where too few patches of dots are seen to tell.

    off: how much darker each cell is than round about; printed: the ink of the dots there, blurred as the picture is.
    """
    size, step = (2 * round(one / cell_mm / 2) for one in (_PATCH_MM, _STEP_MM))
    rows, columns = np.flatnonzero(field.any(axis=1)), np.flatnonzero(field.any(axis=0))
    if len(rows) < 2 * size or len(columns) < 2 * size:
        return None
    tops, lefts = np.arange(rows[0], rows[-1] - size, step), np.arange(columns[0], columns[-1] - size, step)
    places = np.array([(top, left) for top in tops for left in lefts])
    found = [_slid(off, printed, part, size, cell_mm) for part in np.array_split(places, -(-len(places) // _BATCH))]
    shift, alike = np.concatenate([one[0] for one in found]), np.concatenate([one[1] for one in found])
    middle = (places[:, ::-1] + (size - 1) / 2) * cell_mm + np.array(origin_mm)
    kept = alike > _ALIKE
    if kept.sum() < _FEWEST:
        return None
    corner = np.array([columns[0], rows[0]]) * cell_mm + np.array(origin_mm)
    end = np.array([columns[-1], rows[-1]]) * cell_mm + np.array(origin_mm)
    box = (float(corner[0]), float(corner[1]), float(end[0]), float(end[1]))
    return _surface(middle[kept], shift[kept], box)


def _surface(middle: Points, shift: Points, box: tuple[float, float, float, float]) -> Lie:
    """Return the smooth surface through shifts (n, 2) of patches; patches that are off the rest count less."""
    left, top, right, low = box
    powers = _powers(2 * (middle[:, 0] - left) / (right - left) - 1, 2 * (middle[:, 1] - top) / (low - top) - 1)
    weight = np.ones(len(middle))
    terms = np.zeros((powers.shape[1], 2))
    # A weak pull towards flat keeps corners without patches from flying off.
    pull = 0.02 * np.sqrt(len(middle)) * np.eye(powers.shape[1])
    for _ in range(4):
        terms = np.linalg.lstsq(
            np.vstack([powers * weight[:, None], pull]),
            np.vstack([shift * weight[:, None], np.zeros((len(pull), 2))]),
            rcond=None,
        )[0]
        far = np.hypot(*(shift - powers @ terms).T)
        weight = 1 / np.maximum(1.0, far / max(0.02, 2.5 * float(np.median(far))))
    return Lie(terms=terms, box_mm=box, most_mm=float(np.hypot(*(powers @ terms).T).max()))


def _powers(x: NDArray[np.float64], y: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.stack([x**i * y**j for i in range(_TERMS + 1) for j in range(_TERMS + 1 - i)], axis=-1)


def _slid(
    off: Raster, printed: Raster, places: NDArray[np.int64], size: int, cell_mm: float
) -> tuple[Points, NDArray[np.float64]]:
    """Return how far patches (first row, first column) must slide to fit, (n, 2) in mm, x and y, and how well."""
    from scipy import fft

    taper = np.hanning(size).astype(np.float32)
    window = np.outer(taper, taper)
    seen, due = (
        np.stack([raster[top : top + size, left : left + size] for top, left in places]) for raster in (off, printed)
    )
    seen, due = ((one - one.mean(axis=(1, 2), keepdims=True)) * window for one in (seen, due))
    fit = fft.irfft2(np.conj(fft.rfft2(due)) * fft.rfft2(seen), s=(size, size))
    ink = (due**2).sum(axis=(1, 2))
    power = np.sqrt((seen**2).sum(axis=(1, 2)) * ink)
    reach = max(2, round(_MOST_MM / cell_mm))
    near = np.roll(fit, (reach, reach), axis=(1, 2))[:, : 2 * reach + 1, : 2 * reach + 1]
    flat = near.reshape(len(places), -1).argmax(axis=1)
    row, column = np.clip(flat // (2 * reach + 1), 1, 2 * reach - 1), np.clip(flat % (2 * reach + 1), 1, 2 * reach - 1)
    index = np.arange(len(places))
    peak = near[index, row, column]
    across = _top(near[index, row, column - 1], peak, near[index, row, column + 1])
    down = _top(near[index, row - 1, column], peak, near[index, row + 1, column])
    shift = np.stack([column - reach + across, row - reach + down], axis=-1) * cell_mm
    # What fits perfectly but is a hundred times fainter than ink is no ink.
    alike = np.where(peak > _FAINTEST * ink, peak / np.maximum(power, 1e-9), 0.0)
    return shift.astype(float), np.asarray(alike, dtype=float)


def _top(before: Raster, here: Raster, after: Raster) -> Raster:
    """Return where between -0.5 and 0.5 a parabola through three values culminates."""
    bend = before - 2 * here + after
    return np.asarray(np.clip(0.5 * (before - after) / np.where(bend < -1e-9, bend, -1e9), -0.5, 0.5))
