"""The practice piece: half an hour with a scrap of foam that gives the fit, the first times, and takes the fear."""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.core.ground.gripping import gripped
from cozy_burrow.core.kit.shapes import box_item, disc_outline, outline_item
from cozy_burrow.core.kit.stations import parse_stations, station_item
from cozy_burrow.core.model.edits import add_items, placement_id
from cozy_burrow.core.model.records import Container, Insert, Item, Placement, Project, Sheet
from cozy_burrow.core.tongue import tr

BLOCK_MM = 40.0
COUPON_MM = (-1.5, -1.0, -0.5, 0.0, 0.5)  # how much larger all round than the block each of its five places is
_WIDE_MM, _DEEP_MM = 360.0, 220.0


def practice_project() -> Project:
    """Return a sheet with a round, a block, a tool with a handle, and five places for the block from tight to loose."""
    block = box_item("item-2", tr("Block"), length_mm=BLOCK_MM, width_mm=BLOCK_MM, thickness_mm=20.0)
    items: tuple[Item, ...] = (
        replace(
            outline_item("item-1", tr("Round"), disc_outline(BLOCK_MM), thickness_mm=20.0, way="drawn"),
            fit="line",
            seat="flush",
            notes=tr("anything round, 40 mm; or use the plug itself"),
        ),
        replace(
            block,
            quantity=1 + len(COUPON_MM),
            seat="flush",
            notes=tr("a block of wood sawn to 40 x 40 x 20 mm; try it in all five places and keep the best"),
        ),
        replace(
            station_item("item-3", tr("Tool with a handle"), parse_stations("0:28 90:28 90:8 160:8")),
            seat="flush",
            notes=tr("any screwdriver of about that size: change the figures at Gather to those of yours"),
        ),
    )
    places = [("item-1", 1, 50.0, 58.0, 0.0), ("item-2", 1, 120.0, 58.0, 0.0), ("item-3", 1, 252.0, 58.0, 0.0)]
    places += [("item-2", 2 + n, 60.0 + 60.0 * n, 152.0, eased) for n, eased in enumerate(COUPON_MM)]
    placements = tuple(
        Placement(id=placement_id(item, copy), item_id=item, copy=copy, x_mm=x, y_mm=y, eased_mm=eased)
        for item, copy, x, y, eased in places
    )
    sheet = Sheet(name=tr("a scrap"), thickness_mm=30.0, pitch_mm=10.0)
    insert = Insert(id="insert-1", name=tr("Practice piece"), sheets=(sheet,), placements=placements)
    plan = Project(
        title=tr("Practice piece"),
        containers=(Container(name=tr("On the bench"), width_mm=_WIDE_MM, depth_mm=_DEEP_MM, height_mm=60.0),),
        inserts=(insert,),
    )
    return gripped(add_items(plan, items), "insert-1", ("item-1#1", "item-2#1", "item-3#1"))[0]
