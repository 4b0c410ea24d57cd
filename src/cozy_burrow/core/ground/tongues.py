"""Tongues of foam: held at one end only, and too thin for their height to stand upright there.

A tongue reaches into an opening, which may be one pocket (between the legs of a pair of pliers) or pockets that a pull
joins (between two drivers that lie in one trench). It is foam that no disc as wide as an upright wall fits in, and that
hangs on the rest at one place.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.bending import bends_mm, long_upright_mm
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.ground.floppy import pressed_n_mm2
from cozy_burrow.core.ground.ground import Cutout, Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Record

# What is smaller is not worth the glue: a scrap that a finger tears off.
GLUED_MM2, GLUED_WIDE_MM = 300.0, 6.0
LEAST_LONG_MM = 20.0  # a shorter one is trimmed with the next stroke of the knife
_CELL_MM = 1.0
_ROUND_MM = 0.02  # by which an opening by a disc misses what it should give back
_PUSHED_AT = 0.75  # of its length: its tip always gives, and nobody minds


class Tongue(Record, frozen=True, kw_only=True):
    """A tongue of foam: the things that it lies between, where, how deep its foot lies, its length and mean width."""

    owners: tuple[str, ...]
    area: Polygon
    layer: int
    long_mm: float
    wide_mm: float

    @property
    def is_kept(self) -> bool:
        """Whether it is worth glueing down; else it is given up."""
        return self.area.area >= GLUED_MM2 and self.wide_mm >= GLUED_WIDE_MM


@memo(rows=32)
def tongues_of(ground: Ground) -> tuple[Tongue, ...]:
    """Return the tongues of an insert, those that stand deepest first."""
    found: list[Tongue] = []
    for depth in sorted({len(one.areas) for one in ground.cutouts}, reverse=True):
        layer, has_foot = ground.layers[depth - 1], depth < len(ground.layers)
        for joined in _openings([one for one in ground.cutouts if len(one.areas) >= depth], depth):
            areas = tuple(one.areas[depth - 1] for one in joined)
            for area, long_mm in tongues_in(areas, layer.bottom_mm, pressed_n_mm2(ground, depth), has_foot):
                if any(area.intersects(other.area) for other in found):
                    continue
                near = area.buffer(_CELL_MM)
                owners = frozenset().union(*(one.owners for one in joined if one.areas[depth - 1].intersects(near)))
                found.append(
                    Tongue(
                        owners=tuple(key for key in ground.pockets if key in owners),
                        area=area,
                        layer=depth,
                        long_mm=long_mm,
                        wide_mm=float(area.area / long_mm),
                    )
                )
    return tuple(found)


def _openings(cutouts: Sequence[Cutout], depth: int) -> Iterator[list[Cutout]]:
    """Yield the cutouts that are one opening at a layer, each once."""
    areas = [one.areas[depth - 1] for one in cutouts]
    ours = list(range(len(areas)))
    for first, second in shapely.STRtree(areas).query(areas, predicate="intersects").T.tolist():
        low, high = sorted((ours[first], ours[second]))
        ours = [low if one == high else one for one in ours]
    for name in sorted(set(ours)):
        yield [one for one, of in zip(cutouts, ours) if of == name]


@memo(rows=2048)
def tongues_in(
    areas: tuple[BaseGeometry, ...], deep_mm: float, stress_n_mm2: float, has_foot: bool
) -> tuple[tuple[Polygon, float], ...]:
    """Return the tongues that reach into an opening and flop, each with its length, the longest first.

    areas: which together are the opening, all of it this deep. stress_n_mm2: E, as in `bending`.
    """
    upright = long_upright_mm(deep_mm, stress_n_mm2)
    opening = shapely.union_all(areas)
    foam = opening.buffer(2 * upright, quad_segs=4).difference(opening)
    thick = foam.buffer(-upright / 2, quad_segs=6).buffer(upright / 2 + _ROUND_MM, quad_segs=6)
    found = []
    for part in polygons_in(foam.difference(thick), least_area_mm2=upright * LEAST_LONG_MM / 4):
        root = part.boundary.intersection(thick.buffer(_ROUND_MM))
        if len(polygons_in(root.buffer(_CELL_MM))) != 1:
            continue  # an island, or a wall that is held at both of its ends
        wide = _profile(part, root)
        long_mm = len(wide) * _CELL_MM
        if long_mm < LEAST_LONG_MM or long_mm < part.area / long_mm:
            continue
        bent = bends_mm(wide, _CELL_MM, deep_mm=deep_mm, pressed_n_mm2=stress_n_mm2, foot=has_foot, held=(True, False))
        pushed = int(_PUSHED_AT * (len(wide) - 1))
        if bent[pushed] > wide[pushed]:
            found.append((part, long_mm))
    return tuple(sorted(found, key=lambda one: -one[1]))


def _profile(part: Polygon, root: BaseGeometry) -> NDArray[np.float64]:
    """Return how wide a tongue is at each mm from its root on, (n,)."""
    left, top, right, bottom = part.bounds
    fine = _CELL_MM / 2
    x, y = np.meshgrid(np.arange(left + fine / 2, right, fine), np.arange(top + fine / 2, bottom, fine))
    inside = shapely.contains_xy(part, x.ravel(), y.ravel())
    away = shapely.distance(root, shapely.points(x.ravel()[inside], y.ravel()[inside]))
    return np.asarray(np.bincount((away / _CELL_MM).astype(int)) * fine**2 / _CELL_MM, dtype=np.float64)
