"""Stepped floors and things on them, made up at random; and how they rest, found by looking at every tilt."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import box as rectangle

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.seat import Seating
from cozy_burrow.core.depth.sitting import Sitting, sitting_of
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.rings import as_multi, outline_of
from cozy_burrow.core.model.records import Item, Provenance, Zone

TRUE_EDGES_MM = -0.2  # an allowance that takes up what ledges give: edges count where they are drawn


def layers_at(*bottoms_mm: float) -> tuple[Layer, ...]:
    """Return layers with these lower boundaries."""
    tops = (0.0, *bottoms_mm)
    return tuple(
        Layer(number=n, sheet=1, in_sheet=n, top_mm=tops[n - 1], bottom_mm=bottom, contrast=False)
        for n, bottom in enumerate(bottoms_mm, start=1)
    )


def thing(*zones: tuple[tuple[float, float, float, float], float, float]) -> Item:
    """Return an item of flat boxes: ((left, back, right, front), underside, top) each."""
    made = tuple(
        Zone(name=f"part {n}", region=outline_of(rectangle(*box)), section="flat", under_mm=under, top_mm=top)
        for n, (box, under, top) in enumerate(zones, start=1)
    )
    whole = shapely.union_all([rectangle(*box) for box, *_ in zones])
    outline = outline_of(max(shapely.get_parts(whole), key=lambda part: float(part.area)))
    return Item(id="thing", name="thing", outline=outline, zones=made, provenance=Provenance(way="drawn"))


def on_floor(item: Item, areas: list[shapely.Geometry], bottoms_mm: list[float]) -> Sitting:
    """Return how an item sits where `areas` are taken out of the layers."""
    seating = Seating(datum_mm=0.0, zone_layers=(len(areas),) * len(item.zones), proud_mm=0.0, bottom_mm=0.0)
    pocket = Pocket("", item, seating, tuple(as_multi(area) for area in areas))
    return sitting_of(pocket, layers_at(*bottoms_mm), snug_mm=TRUE_EDGES_MM)


def by_looking(
    xy: NDArray[np.float64], depth_mm: NDArray[np.float64], centre: tuple[float, float]
) -> tuple[float, float, float]:
    """Return (depth of the centre of mass, slope x, slope y) of the deepest pose, by looking at tilts ever closer.

    The best over one slope is a function of the other that rises to one top and falls: each is looked at on nine
    steps, then between the neighbours of the best of them.
    """
    about = np.unique(np.column_stack([xy - np.array(centre), depth_mm]), axis=0)
    x, y, z = about.T[:, :, None]

    def best_y(slopes_x: NDArray[np.float64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        rest = z - x * slopes_x
        return _tops(lambda slopes: (rest[:, :, None] - y[:, :, None] * slopes).min(axis=0), len(slopes_x))

    deep, slope_x = _tops(lambda slopes: best_y(slopes[0])[0][None], 1)
    return float(deep[0]), float(slope_x[0]), float(best_y(slope_x)[1][0])


def _tops(
    heights: Callable[[NDArray[np.float64]], NDArray[np.float64]], count: int
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return the tops of `count` functions side by side and where they are, from 9 slopes (count, 9) at a time."""
    low, high, each = np.full(count, -1.0), np.full(count, 1.0), np.arange(count)
    for _ in range(9):
        slopes = np.linspace(low, high, 9, axis=1)
        found = heights(slopes)
        best = found.argmax(axis=1)
        low, high = slopes[each, np.maximum(best - 1, 0)], slopes[each, np.minimum(best + 1, 8)]
    return found[each, best], slopes[each, best]
