"""Finger pulls in the foam: area in plan coordinates and depth in whole layers."""

from __future__ import annotations

from collections.abc import Mapping

import shapely
from shapely.geometry import MultiPolygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import as_multi
from cozy_burrow.core.model.memo import Frozen, memo
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import FingerPull, Placement
from cozy_burrow.core.pulls.areas import pull_area
from cozy_burrow.core.pulls.reach import layers_for_fingers
from cozy_burrow.core.tolerances import SLIVER_AREA_MM2


class PlacedPull(Frozen):
    """One finger pull in the plan: parts are its circles, or its band; `layers` how deep it goes, 0 for a ribbon."""

    __slots__ = ("area", "layers", "parts", "pull", "reaches")

    def __init__(
        self,
        pull: FingerPull,
        parts: tuple[BaseGeometry, ...],
        area: BaseGeometry,
        layers: int,
        reaches: tuple[str, ...],
    ) -> None:
        self.pull, self.parts, self.area, self.layers, self.reaches = pull, parts, area, layers, reaches


def pull_layers(
    area: BaseGeometry, pockets: list[Pocket], layers: tuple[Layer, ...], *, wanted: int | None, most: int
) -> int:
    """Return how many layers a pull goes down: as wanted, else as deep as the pockets are where it touches them.

    So deep the fingers get under the item where it rests, deeper beside a thin one, and the floor stays: never more
    than `most`.
    """
    if wanted is not None:
        return max(1, min(wanted, most))
    deepest = 1
    for pocket in pockets:
        for number, layer in enumerate(pocket.layers, start=1):
            if number > deepest and layer.intersects(area):
                deepest = number
        if pocket.surface.intersects(area):
            under = layers_for_fingers(pocket, layers)
            deepest = max(deepest, under if under > pocket.depth_layers else 1)
    return min(deepest, most)


def place_pull(
    pull: FingerPull,
    placements: Mapping[str, Placement],
    pockets: Mapping[str, Pocket],
    layers: tuple[Layer, ...],
    *,
    most: int,
) -> PlacedPull | None:
    """Return the pull in plan coordinates, or None where nothing that it serves lies in the insert."""
    served = tuple(pockets[one] for one in pull.serves if one in pockets)
    if not served:
        return None
    carrier = placements[served[0].owner] if not kind_of_pull(pull).shared else None
    return _place(pull, carrier, served, layers, most)


@memo(rows=4096)
def _place(
    pull: FingerPull, carrier: Placement | None, served: tuple[Pocket, ...], foam: tuple[Layer, ...], most: int
) -> PlacedPull:
    kind = kind_of_pull(pull)
    parts, area = _areas(pull, carrier)
    if kind.cuts and not kind.opens:  # the floor under the end goes deeper, nothing beside it
        area = as_multi(area.intersection(served[0].surface))
        parts = (area,)
    if area.is_empty or area.area < SLIVER_AREA_MM2:  # dragged off its thing: nothing is cut
        return PlacedPull(pull, (), MultiPolygon(), 0, ())
    layers = pull_layers(area, list(served), foam, wanted=pull.layers, most=most)
    if pull.layers is None:
        layers = min(layers + kind.deeper, most)
    if not kind.cuts:
        layers = 0
    reaches = tuple(pocket.owner for pocket in served if pocket.surface.intersects(area))
    return PlacedPull(pull, parts, area, layers, reaches)


@memo(rows=4096)
def _areas(pull: FingerPull, carrier: Placement | None) -> tuple[tuple[BaseGeometry, ...], BaseGeometry]:
    """Return its parts and all of them; the same shapes for as long as the pull lies where it lies."""
    parts = list(shapely.get_parts(_separate(pull)))
    if carrier is not None:
        parts = [placed(part, x_mm=carrier.x_mm, y_mm=carrier.y_mm, angle_deg=carrier.angle_deg) for part in parts]
    return tuple(parts), shapely.union_all(parts)


def _separate(pull: FingerPull) -> BaseGeometry:
    """Return the circles of a pair as two areas even where they overlap: each is an opening of its own."""
    if kind_of_pull(pull).is_band:
        return pull_area(pull)
    single = [shapely.Point(point).buffer(pull.width_mm / 2, quad_segs=16) for point in pull.points_mm]
    return shapely.GeometryCollection(single)
