"""What the wishes know of a thing: its group, how often it is used, its weight, its axis, where its handle is.

Set     things of one group that are long alike: a row sorted by size is made of them
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import shapely

from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.zones import centre_of_mass, mass_g_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Item, Point, Record, Use

LONG = 1.7  # so many times as long as wide, and a thing has a direction
_ROUND_LONG = 1.05  # the same of what is round: a lying cylinder shows its direction by its ends
_SAME_WAY_DEG = 2.0
_ALIKE = 2.4  # the longest of a set is at most so many times as long as its shortest
_LEAST_SET = 3
HEAVY_SHARE = 0.04  # of the length by which the balance point lies off the middle before an end is the handle


class Facts(Record, frozen=True, kw_only=True):
    """Of one item. axis_deg: direction of its length in item coordinates, None where it has none.

    handle: unit vector towards the end that is held, in item coordinates, None where both ends are alike.
    size: length, for the order in a row. set_name: of the set that it belongs to, or empty.
    """

    name: str
    group: str
    use: Use
    mass_g: float
    balance: Point
    length_mm: float
    width_mm: float
    axis_deg: float | None
    handle: Point | None
    set_name: str = ""


@memo(rows=1024)
def facts_of(item: Item) -> Facts:
    """Return the facts of an item; its set is not known yet."""
    outline = polygon_of(item.outline)
    axis = long_axis_deg(outline)
    cos, sin = math.cos(math.radians(axis)), math.sin(math.radians(axis))
    points = shapely.get_coordinates(outline)
    along, across = points @ [cos, sin], points @ [-sin, cos]
    length, width = float(np.ptp(along)), float(np.ptp(across))
    balance = centre_of_mass(item)
    is_long = length >= LONG * width
    has_axis = is_long or (length >= _ROUND_LONG * width and _is_turned_about(item, axis))
    off = balance[0] * cos + balance[1] * sin - float(along.max() + along.min()) / 2
    handle = None
    if is_long and abs(off) > HEAVY_SHARE * length:
        handle = (cos * math.copysign(1.0, off), sin * math.copysign(1.0, off))
    return Facts(
        name=item.name,
        group=item.group,
        use=item.use,
        mass_g=mass_g_of(item),
        balance=balance,
        length_mm=length,
        width_mm=width,
        axis_deg=axis if has_axis else None,
        handle=handle,
    )


def _is_turned_about(item: Item, axis_deg: float) -> bool:
    """Return whether an item is round all along a direction; a disc on its rim is round about its short side."""
    for zone in item.zones:
        if zone.section != "round" or zone.axis is None:
            return False
        (x0, y0), (x1, y1) = zone.axis
        off = math.degrees(math.atan2(y1 - y0, x1 - x0)) - axis_deg
        if abs((off + 90.0) % 180.0 - 90.0) > _SAME_WAY_DEG:
            return False
    return True


def sets_of(items: Sequence[Item]) -> dict[str, str]:
    """Return the set of each item that belongs to one, by item id.

    A set is made of at least three things (copies count) of one group that are long, or round and no discs, and alike
    in length within a factor; the name is the group's, with a number where a group has several.
    """
    groups: dict[str, list[tuple[float, str, int]]] = {}
    for item in items:
        facts = facts_of(item)
        if facts.axis_deg is not None:
            groups.setdefault(item.group or f"\0{item.id}", []).append((facts.length_mm, item.id, item.quantity))
    found: dict[str, str] = {}
    for group, members in groups.items():
        runs: list[list[tuple[float, str, int]]] = []
        for member in sorted(members):
            if runs and member[0] <= _ALIKE * runs[-1][0][0]:
                runs[-1].append(member)
            else:
                runs.append([member])
        runs = [run for run in runs if sum(quantity for *_, quantity in run) >= _LEAST_SET]
        for number, run in enumerate(runs, start=1):
            name = group if len(runs) == 1 else f"{group} {number}"
            found |= {item_id: name for _, item_id, _ in run}
    return found
