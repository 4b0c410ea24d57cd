"""Outer walls that flop, found by how far they bend and not by their width alone.

An outer wall is walked along the edge of its blank: how thick it is at each place, and whether it is built in at its
ends (thick foam, a corner of the blank) or free (a pocket that is open to the side).
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from cozy_burrow.core.depth.bending import bends_mm, long_upright_mm, upright_mm
from cozy_burrow.core.depth.hold import modulus_of
from cozy_burrow.core.ground.gaps import edge_gap_of
from cozy_burrow.core.ground.ground import Cutout, Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Point, Record

_STEP_MM = 3.0
_MOST_STEPS = 150
_FAR_MM = 40.0  # a wall that is cut right through may have to be as thick as it is long; beyond this nobody looks
_CORNER = np.cos(np.radians(30.0))  # of the turn between two steps
_HARDLY_MM = 0.05


class Floppy(Record, frozen=True, kw_only=True):
    """A wall that flops at its weakest place: how thick it is there, how far a brush bends it, what would stay upright.

    owners: the things beside it. deep_mm: how deep its foot lies.
    """

    owners: tuple[str, ...]
    at_mm: Point
    layer: int
    thick_mm: float
    deep_mm: float
    bends_mm: float
    upright_mm: float


def pressed_n_mm2(ground: Ground, layers: int) -> float:
    """Return stress over strain of the softest sheet of a wall that stands so many layers deep, in N/mm²."""
    sheets = {layer.sheet for layer in ground.layers[:layers]}
    return min(modulus_of(ground.insert.sheets[number - 1]) for number in sheets)


@memo(rows=32)
def floppy_edges(ground: Ground) -> tuple[Floppy, ...]:
    """Return the outer walls of an insert that flop, those that give most of their thickness first.

    Only walls count beside a cutout that is near enough for its depth; the others are not looked at.
    """
    found: list[Floppy] = []
    for depth in sorted({len(one.areas) for one in ground.cutouts}, reverse=True):
        reach = _reach_mm(ground, depth)
        cutouts = [one for one in ground.cutouts if len(one.areas) >= depth]
        if any(len(one.areas) == depth and edge_gap_of(ground, one).gap_mm < reach for one in cutouts):
            found += _along(ground, depth, cutouts, reach)
    kept: list[Floppy] = []
    for one in sorted(found, key=lambda one: (-one.bends_mm / max(one.thick_mm, _HARDLY_MM), one.at_mm)):
        if not any(set(one.owners) & set(other.owners) for other in kept):
            kept.append(one)
    return tuple(kept)


def _reach_mm(ground: Ground, depth: int) -> float:
    """Return how near to the edge a cutout of so many layers must lie to be of interest."""
    has_foot = depth < len(ground.layers)
    deep_mm = ground.layers[depth - 1].bottom_mm
    return 1.2 * long_upright_mm(deep_mm, pressed_n_mm2(ground, depth)) if has_foot else _FAR_MM


def _along(ground: Ground, depth: int, cutouts: Sequence[Cutout], reach_mm: float) -> Iterator[Floppy]:
    """Yield the worst place of each outer wall that flops beside cutouts which are at least so many layers deep."""
    layer = ground.layers[depth - 1]
    ring = ground.blanks[layer.sheet - 1].polygon.exterior
    if ring is None or ring.length < _STEP_MM:
        return
    count = int(ring.length / _STEP_MM)
    at = np.arange(count) * (ring.length / count)
    points = shapely.line_interpolate_point(ring, at)
    thick = np.full(count, np.inf)
    nearest = np.full(count, -1)
    tree = shapely.STRtree([one.areas[depth - 1] for one in cutouts])
    (places, owners), distances = tree.query_nearest(
        points, max_distance=reach_mm, return_distance=True, all_matches=False
    )
    thick[places], nearest[places] = distances, owners
    xy = shapely.get_coordinates(points)
    about = int(layer.bottom_mm / _STEP_MM)  # farther off than it is deep nothing has a share in how it bends
    for places, held in _runs(thick, _corners(xy)):
        worst = _worst(ground, depth, thick[places], ring.length / count, held)
        if worst is None:
            continue
        number, bent = worst
        here = thick[places][number]
        near = slice(max(0, number - about), number + about + 1)
        beside = {cutouts[index].owners for index in nearest[places][near].tolist() if index >= 0}
        names = frozenset().union(*beside)
        yield Floppy(
            owners=tuple(key for key in ground.pockets if key in names),
            at_mm=(float(xy[places][number][0]), float(xy[places][number][1])),
            layer=depth,
            thick_mm=float(here),
            deep_mm=layer.bottom_mm,
            bends_mm=bent,
            upright_mm=upright_mm(float(here), bent),
        )


def _worst(
    ground: Ground, depth: int, thick: NDArray[np.float64], step_mm: float, held: tuple[bool, bool]
) -> tuple[int, float] | None:
    """Return where a wall bends by the greatest share of its thickness, and how far; None: it stays upright."""
    stride = max(1, -(-len(thick) // _MOST_STEPS))
    taken = thick[::stride]
    if len(taken) < 2:
        return None
    bent = bends_mm(
        taken,
        step_mm * stride,
        deep_mm=ground.layers[depth - 1].bottom_mm,
        pressed_n_mm2=pressed_n_mm2(ground, depth),
        foot=depth < len(ground.layers),
        held=held,
    )
    share = bent / np.maximum(taken, _HARDLY_MM)
    number = int(share.argmax())
    return (number * stride, float(bent[number])) if share[number] > 1.0 else None


def _corners(xy: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Return at which places of a closed line, (n, 2), it turns sharply."""
    steps = np.roll(xy, -1, axis=0) - xy
    steps /= np.maximum(np.linalg.norm(steps, axis=1), 1e-9)[:, None]
    turns = (steps * np.roll(steps, 1, axis=0)).sum(axis=1) < _CORNER
    return np.asarray(turns)


def _runs(
    thick: NDArray[np.float64], corners: NDArray[np.bool_]
) -> Iterator[tuple[NDArray[np.int64], tuple[bool, bool]]]:
    """Yield the walls along a closed edge: their places, in order, and whether they are held at their ends.

    A wall ends where no cutout is near, at a corner of the blank (held both), and where it is open to the side (free).
    """
    count = len(thick)
    is_wall = np.isfinite(thick) & (thick > _HARDLY_MM) & ~corners
    if not is_wall.any():
        return
    first = int(np.flatnonzero(~is_wall)[0]) if not is_wall.all() else 0
    order = (np.arange(count) + first) % count
    starts = np.flatnonzero(np.diff(np.concatenate([[False], is_wall[order], [False]]).astype(int)))
    for begin, end in starts.reshape(-1, 2).tolist():
        if end - begin >= 2:
            before, after = thick[order[begin - 1]], thick[order[end % count]]
            yield order[begin:end], (bool(before > _HARDLY_MM), bool(after > _HARDLY_MM))
