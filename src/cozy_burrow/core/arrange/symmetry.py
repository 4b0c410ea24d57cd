"""A wish that an eye has where few things lie in much foam: what lies on the left has its like on the right.

symmetry   pockets lie as a mirror in the middle would show them     figure: share of their area that does
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import shapely

from cozy_burrow.core.arrange.sliding import Floats
from cozy_burrow.core.arrange.wishes import Aims, Line, Lying, Wish

_HAS_ITS_LIKE = 0.5  # of a thing's area: its picture on the plan is drawn as wished from there on
_FULL = 0.95  # of the room: fuller, and chance alone would mirror everything


def symmetry(lying: Sequence[Lying], aims: Aims, *, picture: bool = True) -> Wish:
    """Return how far pockets lie as mirrored in the middle of the room, from left to right.

    Chance alone mirrors as much of them as they take of the room, so that counts for nothing: score 0 there, 1 where
    everything is mirrored. The mirror stands upright on the plan: left and right are what an eye compares.
    """
    if len(lying) < 2:
        return Wish("symmetry", None)
    left, top, right, bottom = aims.room
    middle = (left + right) / 2
    shapes = np.array([one.shape for one in lying], dtype=object)
    mirrored = shapely.transform(shapes, lambda points: _mirrored(points, middle))
    first, second = shapely.STRtree(mirrored).query(shapes, predicate="intersects")
    common = shapely.intersection(shapes[first], mirrored[second])
    areas = shapely.area(shapes)
    met = np.minimum(np.bincount(first, weights=shapely.area(common), minlength=len(shapes)), areas)
    share = float(met.sum() / max(1e-9, areas.sum()))
    chance = min(_FULL, float(areas.sum()) / max(1.0, (right - left) * (bottom - top)))
    score = max(0.0, (share - chance) / (1.0 - chance))
    if not picture:
        return Wish("symmetry", score, share)
    lines: list[Line] = [((middle, top), (middle, bottom), True)]
    for shape, other, is_met in zip(shapes, mirrored, (met >= _HAS_ITS_LIKE * areas).tolist()):
        if not is_met:
            lines.append(((shape.centroid.x, shape.centroid.y), (other.centroid.x, other.centroid.y), False))
    return Wish("symmetry", score, share, lines=lines, areas=[(shapely.union_all(common), "")])


def _mirrored(points: Floats, middle: float) -> Floats:
    return np.column_stack([2 * middle - points[:, 0], points[:, 1]])
