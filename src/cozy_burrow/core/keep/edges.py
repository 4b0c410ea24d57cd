"""Whether edges are seen where a place's thing has them, or where its empty pocket has, whatever colour they are of.

A thing of nearly the foam's colour looks much like its empty place. But its outline is seen there, or else rim and
bottom of the pocket are: with the camera aside they lie apart.

Clear   how steep light and colour change across an edge: 0 not at all, near 1 much more than they do on rough foam
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.keep.empty_look import Look, Mask
from cozy_burrow.core.keep.rays import Hits, Raster

_STEP_MM = 2.5  # one thing before another, or a step in one
_SOFT_CELLS, _WAY_CELLS = 0.8, 1.5
_MOST = 2.5  # of level and hue: a black corner is no steeper edge than a dark one
_STEEP = 0.08  # of level or hue from cell to cell: half clear
_APART_CELLS, _ROUND_CELLS = 5, 5
_FEWEST, _ENOUGH = 12, 60  # cells of edge that say something, and all that they can
_USUAL = 0.3  # clearer than this is more than chance: filled places and empty ones have 0.05 where they have no edge


@dataclass(frozen=True)
class EdgesSeen:
    """How clear a place's edges are less what is seen beside them: its thing's and its empty pocket's, 0.3 off each.

    Nought where hardly any of them lies apart from the others.
    """

    thing: float
    pocket: float

    @property
    def balance(self) -> float:
        """Above nought where the thing's are clearer."""
        return self.thing - self.pocket


class Edges:
    """The edges of a photo where the full insert or the empty one has some."""

    def __init__(self, look: Look, full: Hits, empty: Hits) -> None:
        self._told = look.told
        lies = [_edges_of(one) for one in (full, empty)]
        self._beside = ~_wider(lies[0] | lies[1], _APART_CELLS)
        self._apart = (lies[0] & ~_wider(lies[1], _APART_CELLS), lies[1] & ~_wider(lies[0], _APART_CELLS))
        slopes = _slopes(look)
        self._clear = (_clear_across(slopes, full), _clear_across(slopes, empty))

    def of(self, cells: Mask) -> EdgesSeen:
        """Return what is seen of the edges in and round some cells: those where a thing lies or its place is bare."""
        round_about = _wider(cells, _ROUND_CELLS) & self._told
        beside = round_about & self._beside
        thing, pocket = (_seen(clear, apart & round_about, beside) for clear, apart in zip(self._clear, self._apart))
        return EdgesSeen(thing, pocket)


def _seen(clear: Raster, edge: Mask, beside: Mask) -> float:
    count = int(edge.sum())
    if count < _FEWEST:
        return 0.0
    usual = float(clear[beside].mean()) if beside.any() else 0.0
    return (float(clear[edge].mean()) - usual - _USUAL) * min(1.0, count / _ENOUGH)


def _edges_of(met: Hits) -> Mask:
    """Return the cells whose ray meets something else than that of the cell before or above."""
    what = met.owner.astype(np.int32) * 2 + met.side
    edge = np.zeros(what.shape, dtype=bool)
    for values, least in ((what, 0.5), (met.height_mm, _STEP_MM)):
        edge[:, 1:] |= np.abs(np.diff(values, axis=1)) > least
        edge[1:] |= np.abs(np.diff(values, axis=0)) > least
    return edge


def _slopes(look: Look) -> list[tuple[Raster, Raster]]:
    """Return how level and hues change along a row and along a column, for each cell."""
    import cv2

    found = []
    for one in (look.level, look.hue[..., 0], look.hue[..., 1]):
        soft = cv2.GaussianBlur(np.clip(one, -_MOST, _MOST), (0, 0), _SOFT_CELLS)
        along, down = (cv2.Sobel(soft, cv2.CV_32F, *way, scale=1 / 8) for way in ((1, 0), (0, 1)))
        found.append((np.asarray(along, dtype=np.float32), np.asarray(down, dtype=np.float32)))
    return found


def _clear_across(slopes: list[tuple[Raster, Raster]], met: Hits) -> Raster:
    """Return how clearly a photo changes across the way in which heights do; a cell aside counts as the cell itself."""
    import cv2

    height = cv2.GaussianBlur(met.height_mm, (0, 0), _WAY_CELLS)
    x, y = (cv2.Sobel(height, cv2.CV_32F, *way) for way in ((1, 0), (0, 1)))
    long = np.hypot(x, y) + 1e-6
    squares = sum(((along * x + down * y) / long) ** 2 for along, down in slopes)
    steep = cv2.dilate(np.asarray(squares, dtype=np.float32), np.ones((3, 3), np.uint8))
    return np.asarray(steep / (steep + _STEEP**2), dtype=np.float32)


def _wider(cells: NDArray[np.bool_], size: int) -> Mask:
    import cv2

    return np.asarray(cv2.dilate(cells.astype(np.uint8), np.ones((size, size), np.uint8)) > 0, dtype=bool)
