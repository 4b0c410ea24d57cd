"""An item by itself as it is lit: for lists, where a drawing would show an outline and no thing."""

from __future__ import annotations

from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.relief.field import field_of_item
from cozy_burrow.core.relief.grid import Grid
from cozy_burrow.core.relief.light import COARSEST, Pixels, lit
from cozy_burrow.core.relief.picture import SHARP

_AROUND_MM = 1.0


class Portrait(Frozen):
    """Pixels (rows, columns, 4) over a grid in the item's own coordinates; what is not of the item is not covered."""

    __slots__ = ("grid", "pixels")

    def __init__(self, grid: Grid, pixels: Pixels) -> None:
        self.grid, self.pixels = grid, pixels


def portrait_of(item: Item, px_per_mm: float) -> Portrait:
    """Return the picture of an item seen from above, level, on nothing."""
    left, top, right, bottom = polygon_of(item.outline).bounds
    bounds = (left - _AROUND_MM, top - _AROUND_MM, right + _AROUND_MM, bottom + _AROUND_MM)
    grid = Grid.over(bounds, px_per_mm, by=COARSEST)
    return Portrait(grid, lit(field_of_item(item, grid, sharp=SHARP)))
