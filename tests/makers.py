"""Small projects and shapes that many tests want."""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.kit.shapes import box_item, round_item
from cozy_burrow.core.kit.stations import parse_stations, station_item
from cozy_burrow.core.model.edits import add_items, change_insert, placement_id
from cozy_burrow.core.model.records import Container, Insert, Item, Placement, Project, Rules, Sheet
from cozy_burrow.demo.shipped import demo_project

DRIVER = "0:32 95:32 95:6 210:6"
L_STOP = "0:60x18 14:60x18 14:24x2 160:24x2"


def stations(text: str, name: str = "driver") -> Item:
    """Return an item from stations."""
    return station_item("item-1", name, parse_stations(text))


def box(length: float = 60, width: float = 20, thickness: float = 12, name: str = "box") -> Item:
    """Return a plain box."""
    return box_item("item-1", name, length_mm=length, width_mm=width, thickness_mm=thickness)


def rod(length: float = 100, diameter: float = 30, name: str = "rod") -> Item:
    """Return a lying cylinder."""
    return round_item("item-1", name, length_mm=length, diameter_mm=diameter)


def drawer(
    *, width: float = 300, depth: float = 200, height: float = 75, sheets: tuple[Sheet, ...] | None = None
) -> Bay:
    """Return 50/10 foam in a drawer."""
    return Bay(
        container=Container(width_mm=width, depth_mm=depth, height_mm=height),
        sheets=sheets or (Sheet(thickness_mm=50.0, pitch_mm=10.0),),
    )


def project(*items: Item, rules: Rules | None = None, bay: Bay | None = None) -> Project:
    """Return a project with items in its kit and nothing laid in."""
    bay = bay or drawer()
    insert = Insert(
        id="insert-1",
        name="Drawer",
        sheets=bay.sheets,
        press_fit_mm=bay.press_fit_mm,
        whole_bottom=bay.whole_bottom,
    )
    plan = Project(containers=(bay.container,), inserts=(insert,), rules=rules or Rules(allowance_mm=0.0))
    return add_items(plan, items)


def van_drawer() -> Project:
    """Return the demo's van drawer alone: its 23 kinds of things, its container, its insert."""
    demo = demo_project()
    insert = demo.inserts[0]
    return replace(
        demo,
        items=tuple(one for one in demo.items if any(p.item_id == one.id for p in insert.placements)),
        containers=demo.containers[:1],
        inserts=(insert,),
    )


def two_tiers() -> Project:
    """Return a case of two tiers, the upper one shallow, and a set of bars, a heavy machine and a plate for it."""
    deep, flat = Sheet(thickness_mm=60.0, pitch_mm=10.0), Sheet(thickness_mm=30.0, pitch_mm=10.0)
    bars = [replace(box(length, 14, 10, f"bar {length}"), group="bars", use="daily") for length in (60, 70, 80, 90)]
    machine = replace(box(120, 90, 48, "machine"), group="machines", mass_g=2500.0, use="rare")
    plate = replace(box(80, 60, 8, "plate"), group="plates", use="daily", mass_g=60.0)
    plan = project(*bars, machine, plate, rules=Rules(allowance_mm=0.0))
    container = Container(id="c", kind="case", name="case", width_mm=330, depth_mm=240, height_mm=110)
    return replace(
        plan,
        containers=(container,),
        inserts=(
            Insert(id="upper", name="upper", container_id="c", sheets=(flat,)),
            Insert(id="lower", name="lower", container_id="c", sheets=(deep,)),
        ),
    )


def laid(plan: Project, *places: tuple[float, ...]) -> Project:
    """Return the project with the first copy of each item laid at (x, y) or (x, y, angle)."""
    placements = tuple(
        Placement(
            id=placement_id(item.id, 1),
            item_id=item.id,
            copy=1,
            x_mm=place[0],
            y_mm=place[1],
            angle_deg=place[2] if len(place) > 2 else 0.0,
        )
        for item, place in zip(plan.items, places)
    )
    return change_insert(plan, plan.inserts[0].id, placements=placements)
