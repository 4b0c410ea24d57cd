"""Foam that was put back in an insert: what of each piece is still there, and how it is held.

Seam        where a piece meets other foam of its layer: a face as high as the layer, all of it glued
Underside   where it lies on foam of the layer below: glued as well
Bare        its face towards what is taken out: there a thing pushes at it, and a hand pulls
"""

from __future__ import annotations

from shapely.geometry import Polygon

from cozy_burrow.core.geometry.rings import polygon_of, polygons_in
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.memo import Frozen, memo
from cozy_burrow.core.model.records import GluedIn

_TOUCH_MM = 0.05  # of outlines kept to a thousandth, some of them cut by others
_LEAST_MM2 = 4.0


class Held(Frozen):
    """What is left of a piece that was glued in. glued_mm2: seam and underside; bare_mm2; beside: whose pockets."""

    __slots__ = ("area", "bare_mm2", "beside", "glued_mm2", "layer")

    def __init__(self, layer: int, area: Polygon, glued_mm2: float, bare_mm2: float, beside: frozenset[str]) -> None:
        self.layer, self.area, self.glued_mm2, self.bare_mm2, self.beside = layer, area, glued_mm2, bare_mm2, beside


@memo(rows=64)
def held_pieces(ground: Ground) -> tuple[Held, ...]:
    """Return every piece of foam that was glued in and is still there, in the order in which they were."""
    found = []
    for piece in ground.insert.glued:
        if piece.layer <= len(ground.layers):
            left = polygon_of(piece.outline).difference(ground.taken_out(piece.layer))
            found += [_held(ground, piece, part) for part in polygons_in(left, least_area_mm2=_LEAST_MM2)]
    return tuple(found)


def glued_share(ground: Ground, key: str) -> float:
    """Return what share of the sides of a thing's pocket is foam that was glued in, 0 to 1."""
    pocket, glued = ground.pockets[key], 0.0
    for piece in held_pieces(ground):
        if key in piece.beside and piece.layer <= len(pocket.layers):
            facing = piece.area.boundary.intersection(pocket.layers[piece.layer - 1].buffer(_TOUCH_MM)).length
            glued += facing * ground.layers[piece.layer - 1].thickness_mm
    sides = sum(area.length * layer.thickness_mm for area, layer in zip(pocket.layers, ground.layers))
    return min(1.0, glued / sides) if sides > 0 else 0.0


def _held(ground: Ground, piece: GluedIn, part: Polygon) -> Held:
    number = piece.layer
    thick = ground.layers[number - 1].thickness_mm
    bare = part.boundary.intersection(ground.taken_out(number).buffer(_TOUCH_MM)).length
    outside = part.boundary.difference(ground.blank.buffer(-_TOUCH_MM)).length
    below = part.difference(ground.taken_out(number + 1)).area if number < len(ground.layers) else 0.0
    seam = max(0.0, part.length - bare - outside)
    beside: set[str] = set()
    for cutout in ground.cutouts:
        if len(cutout.areas) >= number and cutout.areas[number - 1].distance(part) <= _TOUCH_MM:
            beside |= cutout.owners
    return Held(number, part, seam * thick + below, bare * thick, frozenset(beside))
