"""What becomes of cut foam when the plan changes: what is cut more, and what must be filled, layer by layer.

Cut    foam that is there and has to go
Fill   foam that is gone and has to come back: a patch of the layer's thickness, glued in
"""

from __future__ import annotations

import shapely
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.geometry.rings import as_multi, polygons_in
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.memo import Frozen

_SLIVER_MM = 0.25  # narrower than this nothing can be glued in, and a blade takes nothing off
_LEAST_MM2 = 4.0


class LayerPatch(Frozen):
    """What changes in one layer (1 is the top of the stack)."""

    __slots__ = ("cut", "fill", "layer", "thickness_mm")

    def __init__(self, layer: int, thickness_mm: float, cut: MultiPolygon, fill: MultiPolygon) -> None:
        self.layer, self.thickness_mm, self.cut, self.fill = layer, thickness_mm, cut, fill


class Patch(Frozen):
    """What changes in a whole insert."""

    __slots__ = ("layers",)

    def __init__(self, layers: tuple[LayerPatch, ...]) -> None:
        self.layers = layers

    @property
    def cut_mm3(self) -> float:
        """Volume of foam that goes."""
        return sum(one.cut.area * one.thickness_mm for one in self.layers)

    @property
    def fill_mm3(self) -> float:
        """Volume of foam that comes back."""
        return sum(one.fill.area * one.thickness_mm for one in self.layers)

    @property
    def pieces(self) -> int:
        """How many pieces are glued in."""
        return sum(len(one.fill.geoms) for one in self.layers)


def patch_between(before: Ground, after: Ground) -> Patch:
    """Return what turns the cut foam of one plan into that of another. Both must have the same layers."""
    found = []
    for number, layer in enumerate(before.layers, start=1):
        gone, wanted = before.taken_out(number), after.taken_out(number)
        if gone is wanted or gone.equals(wanted):
            continue
        cut, fill = _worth_it(wanted.difference(gone)), _worth_it(gone.difference(wanted))
        if not cut.is_empty or not fill.is_empty:
            found.append(LayerPatch(number, layer.thickness_mm, cut, fill))
    return Patch(tuple(found))


def _worth_it(area: BaseGeometry) -> MultiPolygon:
    """Return the parts of an area that a hand could cut out or glue in, at their full size."""
    kept = pieces_in(area)
    return as_multi(shapely.union_all(kept)) if kept else MultiPolygon()


def pieces_in(area: BaseGeometry) -> list[Polygon]:
    """Return the parts of an area that are no crumbs and no slivers."""
    parts = polygons_in(area, least_area_mm2=_LEAST_MM2)
    return [part for part in parts if not part.buffer(-_SLIVER_MM / 2).is_empty]
