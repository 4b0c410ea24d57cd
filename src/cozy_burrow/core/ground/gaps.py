"""The foam between things, measured: pocket to pocket at every layer, and pocket to the edge of the blank."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.container.blank import blanks_of
from cozy_burrow.core.depth.wall_rule import depth_rule_mm, wanted_wall_mm
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.ground.ground import Cutout, Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Point, Record, Rules


class Gap(Record, frozen=True, kw_only=True):
    """The worst place between two cutouts (second None: the blank's edge).

    gap_mm against wanted_mm at that layer; depth_mm is how deep both are there; inside tells whether a cutout
    lies in the blank at all.
    """

    first: str
    second: str | None
    gap_mm: float
    wanted_mm: float
    depth_mm: float
    layer: int
    from_mm: Point
    to_mm: Point
    inside: bool = True

    @property
    def middle_mm(self) -> Point:
        """The point halfway across."""
        return (self.from_mm[0] + self.to_mm[0]) / 2, (self.from_mm[1] + self.to_mm[1]) / 2

    @property
    def short_mm(self) -> float:
        """How much foam is missing; negative: how much is to spare."""
        return self.wanted_mm - self.gap_mm


def neighbours(ground: Ground, *, within_mm: float) -> Iterator[tuple[Cutout, Cutout]]:
    """Yield the pairs of cutouts with different owners whose bounds come within a distance."""
    cutouts = ground.cutouts
    if len(cutouts) < 2:
        return
    bounds = ground.reach
    near = (
        (bounds[:, None, 0] - within_mm <= bounds[None, :, 2])
        & (bounds[None, :, 0] - within_mm <= bounds[:, None, 2])
        & (bounds[:, None, 1] - within_mm <= bounds[None, :, 3])
        & (bounds[None, :, 1] - within_mm <= bounds[:, None, 3])
    )
    for i, j in np.argwhere(np.triu(near, 1)).tolist():
        first, second = cutouts[i], cutouts[j]
        if first.owners & second.owners or _one_under_the_other(ground, first, second):
            continue
        yield first, second


def _one_under_the_other(ground: Ground, first: Cutout, second: Cutout) -> bool:
    """Return whether one lies in an under-pocket of the other: no wall stands between them, a floor does."""
    if not ground.under:
        return False
    return any(ground.under.get(one.name) in other.owners for one, other in ((first, second), (second, first)))


@memo(rows=32768)
def worst_gap(first: Cutout, second: Cutout, layers: tuple[Layer, ...], rules: Rules, by_depth: bool) -> Gap:
    """Return the gap between two cutouts at the layer where the most foam is missing.

    by_depth: against the program's own rule by depth, even where the fitter has set a figure.
    """
    shared = min(len(first.areas), len(second.areas))
    worst: Gap | None = None
    before: tuple[BaseGeometry, BaseGeometry] | None = None
    distance = 0.0
    for number in range(shared, 0, -1):
        a, b = first.areas[number - 1], second.areas[number - 1]
        if before is None or a is not before[0] or b is not before[1]:
            distance = float(shapely.distance(a, b))
            before = (a, b)
        depth_mm = layers[number - 1].bottom_mm
        wanted = depth_rule_mm(depth_mm, rules) if by_depth else wanted_wall_mm(depth_mm, rules)
        if worst is None or wanted - distance > worst.short_mm + 1e-9:
            ends = shapely.get_coordinates(shapely.shortest_line(a, b))
            worst = Gap(
                first=first.name,
                second=second.name,
                gap_mm=distance,
                wanted_mm=wanted,
                depth_mm=depth_mm,
                layer=number,
                from_mm=_point(ends[0]),
                to_mm=_point(ends[-1]),
            )
    assert worst is not None
    return worst


@memo(rows=4096)
def edge_gap(cutout: Cutout, layer: int, blank: Polygon, edge_mm: float) -> Gap:
    """Return the gap between a cutout at a layer and the edge of that layer's blank, notches and holes too.

    Negative: how far it reaches beyond.
    """
    area = cutout.areas[layer - 1]
    inside = blank.covers(area)
    ends = shapely.get_coordinates(shapely.shortest_line(area, blank.boundary)) if inside else np.zeros((1, 2))
    gap = float(shapely.distance(area, blank.boundary)) if inside else 0.0
    if not inside:
        beyond = area.difference(blank)
        far = shapely.get_coordinates(beyond)
        reach = shapely.distance(shapely.points(far), blank if not blank.is_empty else area.centroid)
        gap = -float(reach.max())
        ends = np.array([far[int(reach.argmax())], far[int(reach.argmax())]])
    return Gap(
        first=cutout.name,
        second=None,
        gap_mm=gap,
        wanted_mm=edge_mm,
        depth_mm=0.0,
        layer=layer,
        from_mm=_point(ends[0]),
        to_mm=_point(ends[-1]),
        inside=inside,
    )


def _point(row: NDArray[np.float64]) -> Point:
    return float(row[0]), float(row[1])


_THUMB_MM = 40.0  # beyond the widest wall nobody measures


def widest_wanted_mm(ground: Ground) -> float:
    """Return the widest wall that any two cutouts of this insert could ask for."""
    deepest = ground.layers[-1].bottom_mm
    return max(wanted_wall_mm(deepest, ground.rules), depth_rule_mm(deepest, ground.rules))


@memo(rows=16)
def gaps_round(ground: Ground, placement_id: str, *, most: int = 4) -> tuple[Gap, ...]:
    """Return the nearest gaps round one placement, to neighbours and to the edge, tightest first: for the thumb.

    Who lies farther off by its bounds than the tightest ones leave room for is not measured: a drag asks at each step.
    """
    widest = widest_wanted_mm(ground)
    found = [edge_gap_of(ground, cutout) for cutout in ground.cutouts if placement_id in cutout.owners]
    for apart_mm, first, second in _round(ground, placement_id, within_mm=widest + _THUMB_MM):
        found.sort(key=lambda gap: -gap.short_mm)
        if len(found) >= most and widest - apart_mm <= found[most - 1].short_mm:
            break
        found.append(worst_gap(first, second, ground.layers, ground.rules, False))
    found.sort(key=lambda gap: -gap.short_mm)
    return tuple(found[:most])


def _round(ground: Ground, placement_id: str, *, within_mm: float) -> list[tuple[float, Cutout, Cutout]]:
    """Return pairs of a placement's cutouts with others near them and how far their bounds are apart, nearest first."""
    cutouts, bounds = ground.cutouts, ground.reach
    found: list[tuple[float, int, int]] = []
    for i, mine in enumerate(cutouts):
        if placement_id not in mine.owners:
            continue
        across = np.maximum(0.0, np.maximum(bounds[:, 0] - bounds[i, 2], bounds[i, 0] - bounds[:, 2]))
        down = np.maximum(0.0, np.maximum(bounds[:, 1] - bounds[i, 3], bounds[i, 1] - bounds[:, 3]))
        apart = np.hypot(across, down)
        for j in np.flatnonzero((across <= within_mm) & (down <= within_mm)).tolist():
            other = cutouts[j]
            if not (mine.owners & other.owners or _one_under_the_other(ground, mine, other)):
                found.append((float(apart[j]), min(i, j), max(i, j)))
    return [(apart_mm, cutouts[i], cutouts[j]) for apart_mm, i, j in sorted(set(found))]


def edge_gap_of(ground: Ground, cutout: Cutout) -> Gap:
    """Return the gap between a cutout and the edge of its insert, at the sheet where the most foam is missing."""
    return _edge_gap(cutout, ground.bay, ground.layers, ground.rules.edge_mm)


@memo(rows=4096)
def _edge_gap(cutout: Cutout, bay: Bay, layers: tuple[Layer, ...], edge_mm: float) -> Gap:
    blanks = blanks_of(bay)
    worst = edge_gap(cutout, 1, blanks[0].polygon, edge_mm)
    for layer in layers[1 : len(cutout.areas)]:
        blank, above = blanks[layer.sheet - 1].polygon, blanks[layer.sheet - 2].polygon
        if layer.in_sheet == 1 and blank is not above:
            gap = edge_gap(cutout, layer.number, blank, edge_mm)
            worst = gap if gap.gap_mm < worst.gap_mm else worst
    return worst
