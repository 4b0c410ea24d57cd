"""How much of what surrounds a place is bounded by edges: looking out in sixteen directions from every cell at once.

A thing is closed in by its own edge all round, even where that fades here and there; a shadow is open on the side
away from what casts it.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

Mask = NDArray[np.bool_]

DIRECTIONS = 16


def enclosure(blocking: Mask, open_: Mask, level: NDArray[np.float32] | None = None) -> NDArray[np.float32]:
    """Return for every cell the share of sixteen directions in which `blocking` is met before `open_` or the rim.

    level: with it, an edge counts only where it is brighter beyond than before, and one that is darker beyond leaves
    the direction open: so looks a pale thing from within, and not a slot in a dark one.
    Works on cells of twice the size: edges are wider than that, and what is asked is rough.
    """
    import cv2

    rows, columns = blocking.shape
    size = (columns // 2, rows // 2)
    # A step of two cells must not jump over an edge.
    wide = cv2.dilate(blocking.astype(np.uint8), np.ones((3, 3), np.uint8))
    stop = cv2.resize(wide, size, interpolation=cv2.INTER_NEAREST).astype(bool)
    bare = cv2.resize(open_.astype(np.uint8), size, interpolation=cv2.INTER_NEAREST).astype(bool) & ~stop
    light = None
    if level is not None:
        light = np.asarray(cv2.resize(level, size, interpolation=cv2.INTER_AREA), dtype=np.float32)
    count = np.zeros(stop.shape, dtype=np.uint8)
    for turned in (False, True):
        for way in (1, -1):
            seen, total, bright = (stop, bare), count, light
            if turned:
                seen, total, bright = (stop.T, bare.T), count.T, None if light is None else light.T
            for down, across in _steps(turned):
                blocks, opens = seen[0][::way], seen[1][::way]
                if bright is not None:
                    rising = _rising(bright[::way], down, across)
                    blocks, opens = blocks & rising, opens | (blocks & ~rising)
                total[::way] += _met(blocks, opens, down, across)
    share = count.astype(np.float32) / DIRECTIONS
    return np.asarray(cv2.resize(share, (columns, rows), interpolation=cv2.INTER_NEAREST), dtype=np.float32)


def _rising(light: NDArray[np.float32], down: int, across: int) -> Mask:
    """Return whether it gets brighter at each cell, looking back along (down, across)."""
    reach = 2 if abs(down) + abs(across) > 1 else 3
    rows, columns = reach * down, reach * across
    before = np.roll(light, (rows, columns), axis=(0, 1))
    after = np.roll(light, (-rows, -columns), axis=(0, 1))
    return np.asarray(before > after)


def _steps(turned: bool) -> Iterator[tuple[int, int]]:
    """The directions of a quarter: straight, and half to either side; the diagonals only once."""
    yield from ((1, 0), (2, 1), (2, -1))
    if not turned:
        yield from ((1, 1), (1, -1))


def _met(stop: Mask, bare: Mask, down: int, across: int) -> Mask:
    """Return whether the way back along (down, across) meets a stop first."""
    state = np.zeros(stop.shape, dtype=bool)
    width = stop.shape[1]
    here = slice(max(0, across), width + min(0, across))
    there = slice(max(0, -across), width + min(0, -across))
    for row in range(down, len(stop)):
        before = row - down
        state[row, here] = stop[before, there] | (state[before, there] & ~bare[before, there])
    return state
