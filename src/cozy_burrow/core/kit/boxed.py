"""Many of a kind in one box: a carton of bottles is one pocket instead of ten."""

from __future__ import annotations

import math
from collections.abc import Iterator

from msgspec.structs import replace

from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.shapes import box_item
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.tongue import tr

SHELL_MM = 2.0  # a carton's or thin plastic box's wall and bottom
PLAY_MM = 1.0  # between neighbours, so that they come out
_LONGEST_SHARE = 2.5  # a box longer than so many times its width is carried badly


def box_of(item: Item, count: int, *, highest_mm: float) -> Item | None:
    """Return a box that holds so many copies of an item, with the least footprint; None where none is low enough.

    They lie side by side, flat ones on each other too; what is round all along may stand. highest_mm: of the box.
    """
    sizes = [
        (length, width, high)
        for x_mm, y_mm, z_mm, most_layers in _ways(item)
        for layers in range(1, most_layers + 1)
        for length, width, high in _boxes(count, layers, x_mm, y_mm, z_mm)
        if high <= highest_mm and length <= _LONGEST_SHARE * width
    ]
    if not sizes:
        return None
    length, width, high = min(sizes, key=lambda one: (round(one[0] * one[1]), one[2]))
    name = tr("Box of {count} {name}", count=count, name=item.name)
    found = box_item(item.id, name, length_mm=length, width_mm=width, thickness_mm=high)
    notes = tr("{notes} {count} in one box.", notes=item.notes, count=count).strip()
    mass_g = None if item.mass_g is None else item.mass_g * count
    return replace(found, group=item.group, use=item.use, mass_g=mass_g, notes=notes, material="card")


def _ways(item: Item) -> Iterator[tuple[float, float, float, int]]:
    """Yield how a copy may lie in a box: its sides in x and y, its height, how many may lie on each other."""
    shape = polygon_of(item.outline)
    left, top, right, bottom = placed(shape, x_mm=0.0, y_mm=0.0, angle_deg=-long_axis_deg(shape)).bounds
    length, width, high = right - left, bottom - top, item.thickness_mm
    is_flat = all(zone.section == "flat" for zone in item.zones) and len({zone.top_mm for zone in item.zones}) == 1
    yield length, width, high, 8 if is_flat else 1
    if all(zone.section == "round" for zone in item.zones):
        yield width, high, length, 1


def _boxes(count: int, layers: int, x_mm: float, y_mm: float, z_mm: float) -> Iterator[tuple[float, float, float]]:
    """Yield the boxes that hold a count in whole rows: length, width and height outside."""
    floor = math.ceil(count / layers)
    for rows in range(1, floor + 1):
        across = math.ceil(floor / rows)
        sides = [
            many * side + (many - 1) * PLAY_MM + 2 * (SHELL_MM + PLAY_MM)
            for many, side in ((across, x_mm), (rows, y_mm))
        ]
        yield max(sides), min(sides), layers * z_mm + SHELL_MM
