"""Under-pockets: a small, rarely used thing in the foam under a shallow one, taken out after it.

Such a thing is seated by hand so deep that its top lies below the other's floor, inside the other's pocket.
"""

from __future__ import annotations

import numpy as np
import shapely
from msgspec.structs import replace
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.seated import local_pocket, placed_pocket
from cozy_burrow.core.foam.layers import floor_of
from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.placing import to_plan
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.model.edits import change_insert, check_waiting, insert_of, placement_id
from cozy_burrow.core.model.records import Item, Placement, Project, Record

LEDGE_MM = 6.0  # of its own floor that the upper thing keeps all round
_PLACES = 12  # tried inside one pocket, the roomiest first


class UnderPocket(Record, frozen=True, kw_only=True):
    """A proposal: what goes under what, the placement, and how many layers come out under the upper thing."""

    upper: str
    placement: Placement
    layers: int


def under_pocket_for(project: Project, insert_id: str, item: Item, copy: int) -> UnderPocket | None:
    """Return the best place for a thing under another one of the insert, or None.

    The upper thing must still lie level and firm over the hole; of those that can take it, the one with least foam cut
    and most of its floor left.
    """
    insert = insert_of(project, insert_id)
    ground = ground_of(project, insert)
    most = len(ground.layers) - floor_of(ground.bay, project.rules.floor_layers)
    found: list[tuple[int, float, UnderPocket]] = []
    for upper, pocket in ground.pockets.items():
        if upper in ground.under or upper in ground.under.values():
            continue  # two storeys are enough to remember
        count = _layers_for(ground, pocket, item)
        if count is None or count > most:
            continue
        laid = _inside(project, insert_id, ground, upper, pocket, item, copy, count)
        if laid is not None:
            found.append((count, -float(pocket.surface.area), UnderPocket(upper=upper, placement=laid, layers=count)))
    return min(found, key=lambda one: one[:2])[2] if found else None


def _layers_for(ground: Ground, pocket: Pocket, item: Item) -> int | None:
    """Return the layers under which a thing lies wholly below another's floor."""
    need = pocket.seating.bottom_mm + item.thickness_mm
    return next((layer.number for layer in ground.layers if layer.bottom_mm >= need - 1e-6), None)


def _inside(
    project: Project, insert_id: str, ground: Ground, upper: str, pocket: Pocket, item: Item, copy: int, count: int
) -> Placement | None:
    """Return a place inside another's pocket where the other still lies level and firm, or None."""
    room = pocket.layers[pocket.depth_layers - 1].buffer(-LEDGE_MM)
    if room.is_empty:
        return None
    by_hand = Placement(
        id=placement_id(item.id, copy),
        item_id=item.id,
        copy=copy,
        x_mm=0.0,
        y_mm=0.0,
        zone_layers=(count,) * len(item.zones),
    )
    own = local_pocket(item, by_hand, ground.bay, ground.rules)
    axis = long_axis_deg(max(pocket.surface.geoms, key=lambda part: float(part.area)))
    mine = long_axis_deg(max(own.surface.geoms, key=lambda part: float(part.area)))
    pulls = [one.area for one in ground.pulls if upper in one.reaches]
    for turn in (0.0, 90.0):
        angle = round((axis - mine + turn) % 360.0, 3)
        for x, y in _spots(room, own, angle):
            laid = replace(by_hand, x_mm=round(x, 2), y_mm=round(y, 2), angle_deg=angle)
            area = placed_pocket(item, laid, ground.bay, ground.rules).surface
            if not room.covers(area) or any(area.intersects(pull) for pull in pulls):
                continue
            insert = insert_of(project, insert_id)
            tried = change_insert(project, insert_id, placements=(*insert.placements, laid))
            sits = sitting_in(ground_of(tried, insert_of(tried, insert_id)), upper)
            if sits.level and not sits.rocks:
                return laid
    return None


def _spots(room: BaseGeometry, own: Pocket, angle_deg: float) -> list[tuple[float, float]]:
    """Return where a thing's origin may go so that its pocket lies in a room: the roomiest first."""
    left, top, right, bottom = room.bounds
    widest = max(polygons_in(room), key=lambda part: float(part.area))
    inner = shapely.maximum_inscribed_circle(widest, tolerance=1.0)
    first = shapely.get_coordinates(inner)[0]
    grid = [
        (x, y)
        for x in np.linspace(left, right, 9)[1:-1].tolist()
        for y in np.linspace(top, bottom, 9)[1:-1].tolist()
        if room.covers(shapely.Point(x, y))
    ]
    centre = own.surface.centroid
    lying = Placement(id="", item_id="", copy=1, x_mm=0.0, y_mm=0.0, angle_deg=angle_deg)
    off = to_plan(lying, (float(centre.x), float(centre.y)))
    grid.sort(key=lambda at: -float(room.boundary.distance(shapely.Point(at))))
    return [(x - off[0], y - off[1]) for x, y in [(float(first[0]), float(first[1])), *grid[:_PLACES]]]


def laid_under(project: Project, insert_id: str, item: Item, copy: int) -> Project | None:
    """Return the project with a thing in an under-pocket, or None where no thing of the insert has room under it.

    Raises UnusableInput where this copy lies somewhere already, or the item has no such copy.
    """
    check_waiting(project, item, copy)
    found = under_pocket_for(project, insert_id, item, copy)
    if found is None:
        return None
    insert = insert_of(project, insert_id)
    return change_insert(project, insert_id, placements=(*insert.placements, found.placement))
