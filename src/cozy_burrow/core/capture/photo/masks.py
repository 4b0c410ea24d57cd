"""Growing, shrinking and linking of masks, by distances in cells: round, and cheap at any radius but the smallest."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
from numpy.typing import NDArray

Mask = NDArray[np.bool_]
Window = tuple[slice, slice]


def disc(radius: int) -> NDArray[np.uint8]:
    """Return the cells of a disc, (2 radius + 1) square."""
    import cv2

    return np.asarray(cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * radius + 1, 2 * radius + 1)), dtype=np.uint8)


def closed(mask: Mask, radius: float) -> Mask:
    """Return a mask with narrow gaps closed, by a disc of cells: quicker than distances where that is small."""
    import cv2

    round_ = disc(max(1, round(radius)))
    return np.asarray(cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_CLOSE, round_)).astype(bool)


def closed_far(mask: Mask, radius: float) -> Mask:
    """Return a mask with gaps narrower than twice the radius closed, by distances; the rim counts as outside."""
    import cv2

    reach = math.ceil(radius) + 1
    framed = cv2.copyMakeBorder(mask.astype(np.uint8), reach, reach, reach, reach, cv2.BORDER_CONSTANT, value=0)
    grown_ = cv2.distanceTransform(1 - framed, cv2.DIST_L2, 5) <= radius
    kept = cv2.distanceTransform(grown_.astype(np.uint8), cv2.DIST_L2, 5) > radius
    return np.asarray(kept[reach:-reach, reach:-reach]) | mask


def opened(mask: Mask, radius: float) -> Mask:
    """Return a mask without what is thinner than a disc."""
    import cv2

    round_ = disc(max(1, round(radius)))
    return np.asarray(cv2.morphologyEx(mask.astype(np.uint8), cv2.MORPH_OPEN, round_)).astype(bool)


def shrunk(mask: Mask, radius: float) -> Mask:
    """Return the cells of a mask farther than a radius from its rim; the raster's rim is one."""
    import cv2

    framed = cv2.copyMakeBorder(mask.astype(np.uint8), 1, 1, 1, 1, cv2.BORDER_CONSTANT, value=0)
    return np.asarray(cv2.distanceTransform(framed, cv2.DIST_L2, 5)[1:-1, 1:-1] > radius)


def grown(mask: Mask, radius: float) -> Mask:
    """Return the cells no farther than a radius from a mask."""
    import cv2

    return np.asarray(cv2.distanceTransform((~mask).astype(np.uint8), cv2.DIST_L2, 5) <= radius)


def linked(strong: Mask, weak: Mask) -> Mask:
    """Return the weak cells that hang together with a strong one."""
    return reached(weak | strong, strong)


def reached(free: Mask, seed: Mask) -> Mask:
    """Return the parts of `free` that hold some of `seed`."""
    import cv2

    _, label = cv2.connectedComponents(free.astype(np.uint8), connectivity=4)
    wanted = np.zeros(int(label.max()) + 1, dtype=bool)
    wanted[np.unique(label[seed & free])] = True
    wanted[0] = False
    return np.asarray(wanted[label], dtype=bool)


def without_small(mask: Mask, least: float) -> Mask:
    """Return the parts of a mask that have at least so many cells."""
    import cv2

    _, label, stats, _ = cv2.connectedComponentsWithStats(mask.astype(np.uint8), connectivity=4)
    kept = np.asarray(stats)[:, cv2.CC_STAT_AREA] >= least
    kept[0] = False
    return np.asarray(kept[label], dtype=bool)


def holes_closed(mask: Mask) -> Mask:
    """Return a mask with all that it surrounds."""
    import cv2

    outer, _ = cv2.findContours(mask.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    filled = np.zeros(mask.shape, dtype=np.uint8)
    cv2.drawContours(filled, outer, -1, 1, thickness=cv2.FILLED)
    return filled.astype(bool)


def largest(stats: Any, *, least: float, most: int) -> list[int]:
    """Return the numbers of the largest parts, the ground (0) left out: a picture of noise has thousands."""
    import cv2

    areas = np.asarray(stats)[:, cv2.CC_STAT_AREA]
    order = [int(number) for number in np.argsort(-areas, kind="stable") if number and areas[number] >= least]
    return order[:most]


def window(box: NDArray[np.int32], shape: tuple[int, ...], *, margin: int) -> Window:
    """Return rows and columns of a part's box with a margin. box: left, top, width, height, area."""
    left, top, width, height = (int(one) for one in box[:4])
    return (
        slice(max(0, top - margin), min(shape[0], top + height + margin)),
        slice(max(0, left - margin), min(shape[1], left + width + margin)),
    )
