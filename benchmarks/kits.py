"""Made-up kits for the arrangement: pieces with the shapes that things in drawers have, and beds to lay them in."""

from __future__ import annotations

import math
import random
from collections.abc import Callable

import shapely
from shapely import affinity
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.geometry.rings import outline_of
from cozy_burrow.core.kit.shapes import box_item, round_item
from cozy_burrow.core.kit.stations import parse_stations, station_item
from cozy_burrow.core.model.records import Container, Item, Provenance, Sheet, Zone


def by_stations(name: str, text: str, group: str, **more: object) -> Item:
    """Return an item of revolution or with flat stations."""
    from msgspec.structs import replace

    return replace(station_item(name, name, parse_stations(text)), group=group, **more)


def flat(name: str, shape: BaseGeometry, thickness: float, group: str, **more: object) -> Item:
    """Return a flat thing with any outline."""
    left, top, right, bottom = shape.bounds
    outline = outline_of(affinity.translate(shape, -(left + right) / 2, -(top + bottom) / 2))
    zone = Zone(name="body", region=outline, section="flat", under_mm=0.0, top_mm=thickness)
    provenance = Provenance(way="svg", uncertainty_mm=0.2)
    return Item(id=name, name=name, outline=outline, zones=(zone,), provenance=provenance, group=group, **more)  # type: ignore[arg-type]


def spanner(size: float) -> Item:
    """An open jaw at one end, a ring at the other."""
    length = 58 + 8.6 * size
    jaw = shapely.Point(0, 0).buffer(size * 1.05)
    slot = affinity.rotate(shapely.box(-2 * size, -size / 2, size * 0.25, size / 2), 15, origin=(0, 0))
    ring = shapely.Point(length - 1.7 * size, 0).buffer(size * 0.8)
    shaft = shapely.box(0, -size * 0.32, length - 1.7 * size, size * 0.32)
    shape = shapely.union_all([jaw, ring, shaft]).difference(slot)
    shape = max(shapely.get_parts(shape), key=lambda part: part.area)
    return flat(f"Spanner {size:g}", shape, 3 + size * 0.35, "Spanners", use="weekly", mass_g=size * 12)


def driver(handle: float, length: float, shaft: float, blade: float, use: str = "weekly") -> Item:
    """A round handle and a thin shaft."""
    ends = f"0:{handle * 0.8:g} {length * 0.2:g}:{handle:g} {length:g}:{handle * 0.7:g}"
    text = f"{ends} {length:g}:{shaft:g} {length + blade:g}:{shaft:g}"
    name = f"Driver {handle:g}x{blade:g}/{shaft:g}"
    return by_stations(name, text, "Drivers", use=use, mass_g=handle * 3)


def pliers(scale: float, name: str) -> Item:
    """Two handles that spread, a short head."""
    head = shapely.Polygon([(-9, 0), (9, 0), (5, -48), (-5, -48)])
    one = affinity.rotate(shapely.box(-6, 0, 6, 110), 9, origin=(0, 0))
    other = affinity.scale(one, xfact=-1, origin=(0, 0))
    joint = shapely.Point(0, 2).buffer(14)
    shape = affinity.scale(shapely.union_all([head, one, other, joint]).buffer(1.5), scale, scale, origin=(0, 0))
    return flat(name, shape, 12 * scale, "Pliers", use="daily", mass_g=220 * scale)


def hammer(length: float, head: float, name: str) -> Item:
    """A T."""
    shape = shapely.union(shapely.box(-11, 0, 11, length), shapely.box(-head / 2, -26, head / 2, 4))
    return flat(name, shape.buffer(2), 24, "Striking", use="daily", mass_g=length * 2)


def square_(a: float, b: float, name: str) -> Item:
    """An L."""
    shape = shapely.union(shapely.box(0, 0, a, 28), shapely.box(0, 0, 22, b))
    return flat(name, shape, 9, "Measuring", mass_g=150)


def power(scale: float, name: str) -> Item:
    """A body with a grip and a block under it, seen from the side."""
    parts = [shapely.box(0, 0, 190, 62), shapely.box(60, 40, 108, 165), shapely.box(40, 150, 140, 205)]
    shape = affinity.scale(shapely.union_all(parts).buffer(6).buffer(-3), scale, scale, origin=(0, 0))
    return flat(name, shape, 60 * scale, "Machines", use="daily", mass_g=1500 * scale)


def _bits(chance: random.Random, count: int, group: str) -> list[Item]:
    found = []
    for n in range(count):
        kind = n % 3
        if kind == 0:
            item = box_item(
                f"Small box {n}",
                f"Small box {n}",
                length_mm=round(chance.uniform(28, 70)),
                width_mm=round(chance.uniform(18, 36)),
                thickness_mm=18,
            )
        elif kind == 1:
            item = round_item(
                f"Pin {n}",
                f"Pin {n}",
                length_mm=round(chance.uniform(40, 110)),
                diameter_mm=round(chance.uniform(7, 20)),
            )
        else:
            item = flat(f"Plate {n}", shapely.Point(0, 0).buffer(round(chance.uniform(12, 30))), 12, group)
        from msgspec.structs import replace

        found.append(replace(item, group=group, use=chance.choice(["daily", "weekly", "rare"]), mass_g=60.0))
    return found


def spanners() -> list[Item]:
    return [spanner(size) for size in (6, 7, 8, 9, 10, 11, 12, 13, 14, 16, 17, 18, 19, 22)]


def drivers() -> list[Item]:
    sizes = ((22, 80, 4, 60), (22, 80, 5, 75), (26, 95, 5, 100), (26, 95, 6, 100), (30, 105, 6, 125), (30, 105, 7, 125))
    more = ((34, 112, 8, 150), (34, 112, 8, 175), (36, 118, 9, 200), (20, 70, 3, 50), (28, 40, 6, 30), (28, 40, 5, 25))
    return [driver(*one) for one in (*sizes, *more)]


def mixed() -> list[Item]:
    chance = random.Random(4)
    return [
        *(spanner(size) for size in (8, 10, 13, 17)),
        *(driver(*one) for one in ((26, 95, 5, 100), (30, 105, 6, 125), (34, 112, 8, 150), (22, 80, 4, 60))),
        pliers(1.0, "Pliers"), pliers(0.85, "Cutters"), pliers(1.15, "Grips"),
        hammer(240, 96, "Hammer"), hammer(180, 70, "Small hammer"), square_(150, 100, "Square"),
        *_bits(chance, 12, "Small things"),
    ]  # fmt: skip


def bulky() -> list[Item]:
    chance = random.Random(9)
    return [
        power(1.0, "Driver machine"), power(0.8, "Small machine"),
        box_item("Charger", "Charger", length_mm=130, width_mm=96, thickness_mm=60),
        round_item("Bottle", "Bottle", length_mm=170, diameter_mm=62),
        round_item("Lens", "Lens", length_mm=110, diameter_mm=78),
        pliers(1.2, "Large pliers"), hammer(230, 100, "Mallet"),
        *_bits(chance, 6, "Small things"),
    ]  # fmt: skip


def chest() -> list[Item]:
    """Sixty things: both sets, larger tools and many small ones."""
    chance = random.Random(21)
    return [
        *spanners(),
        *drivers(),
        pliers(1.0, "Pliers"),
        pliers(0.85, "Cutters"),
        pliers(1.15, "Grips"),
        hammer(240, 96, "Hammer"),
        hammer(180, 70, "Small hammer"),
        square_(150, 100, "Square"),
        square_(110, 70, "Small square"),
        *_bits(chance, 27, "Small things"),
    ]


def notched() -> list[Item]:
    return mixed()


def notched_box() -> Container:
    """A drawer with a notch at the back right and a post."""
    from cozy_burrow.core.model.base import Outline

    ring = (
        (0.0, 0.0),
        (420.0, 0.0),
        (420.0, 120.0),
        (600.0, 120.0),
        (600.0, 430.0),
        (130.0, 430.0),
        (130.0, 350.0),
        (0.0, 350.0),
    )
    return Container(width_mm=600, depth_mm=430, height_mm=80, outline=Outline(outer=ring))


def cameras() -> list[Item]:
    """Two bodies with grips, five lenses, a flash, batteries and cards in copies."""
    from msgspec.structs import replace

    def body(wide: float, name: str) -> Item:
        shape = shapely.union_all(
            [shapely.box(0, 0, wide, 96), shapely.box(-14, 10, 4, 96), shapely.box(30, -22, 78, 4)]
        )
        return flat(name, shape.buffer(4).buffer(-2), 68, "Cameras", use="daily", mass_g=820.0)

    found = [body(136, "Body"), body(118, "Second body")]
    for long, wide in ((62, 66), (86, 72), (118, 80), (190, 84), (52, 62)):
        lens = round_item(f"Lens {long}", f"Lens {long}", length_mm=long, diameter_mm=wide)
        found.append(replace(lens, group="Lenses", use="weekly", mass_g=long * 6.0))
    flash = box_item("Flash", "Flash", length_mm=140, width_mm=76, thickness_mm=58)
    cell = box_item("Battery", "Battery", length_mm=56, width_mm=38, thickness_mm=20)
    card = box_item("Card box", "Card box", length_mm=92, width_mm=60, thickness_mm=14)
    found.append(replace(flash, group="Light", use="rare", mass_g=400.0))
    found.append(replace(cell, group="Batteries", use="daily", mass_g=80.0, quantity=4))
    found.append(replace(card, group="Cards", use="weekly", mass_g=60.0, quantity=2))
    return found


def bottles() -> list[Item]:
    """Sprays and bottles that stand upright on a wall, discs in three sizes, and two brushes."""
    from msgspec.structs import replace

    found = []
    for n, (wide, count) in enumerate(((66, 5), (52, 4), (38, 3))):
        shape = shapely.Point(0, 0).buffer(wide / 2, quad_segs=24)
        found.append(
            replace(flat(f"Bottle {wide}", shape, 40, "Bottles", use="weekly", mass_g=wide * 7.0), quantity=count)
        )
        found.append(
            replace(flat(f"Lid {n}", shapely.Point(0, 0).buffer(wide / 4), 12, "Lids", mass_g=15.0), quantity=2)
        )
    found += [driver(26, 120, 9, 70), driver(22, 100, 8, 60)]
    return found


def planes() -> list[Item]:
    """Chisels sorted by width, three planes, a mallet, a square."""
    from msgspec.structs import replace

    found = [
        replace(driver(30, 130, blade, 140), id=f"chisel-{blade}", name=f"Chisel {blade}", group="Chisels", use="daily")
        for blade in (6, 8, 10, 12, 16, 20, 26, 32)
    ]
    for long, wide in ((240, 62), (355, 70), (150, 46)):
        sole = shapely.box(0, 0, long, wide).buffer(6).buffer(-3)
        found.append(flat(f"Plane {long}", sole, 60, "Planes", use="weekly", mass_g=long * 7.0))
    return [*found, hammer(260, 120, "Mallet"), square_(200, 120, "Try square")]


def sewing() -> list[Item]:
    """Scissors, spools in copies, bobbins, a ruler, small tools."""
    from msgspec.structs import replace

    def scissors(scale: float, name: str) -> Item:
        blades = shapely.Polygon([(-7, 0), (7, 0), (2, -120), (-2, -120)])
        rings = [shapely.Point(x, 62).buffer(24).difference(shapely.Point(x, 62).buffer(15)) for x in (-22, 22)]
        arms = [shapely.LineString([(0, 0), (x, 44)]).buffer(6) for x in (-16, 16)]
        shape = affinity.scale(shapely.union_all([blades, *rings, *arms]), scale, scale, origin=(0, 0))
        return flat(name, shape, 10, "Scissors", use="daily", mass_g=120 * scale)

    spool = round_item("Spool", "Spool", length_mm=52, diameter_mm=28)
    bobbin = flat("Bobbin", shapely.Point(0, 0).buffer(10.5), 11, "Thread", mass_g=8.0)
    rule = flat("Rule", shapely.box(0, 0, 300, 30), 2.5, "Measuring", use="weekly", mass_g=40.0)
    return [
        scissors(1.0, "Scissors"), scissors(0.7, "Small scissors"), scissors(0.5, "Thread scissors"),
        replace(spool, group="Thread", use="weekly", mass_g=30.0, quantity=8), replace(bobbin, quantity=10), rule,
        driver(16, 60, 4, 50), driver(14, 55, 3, 40), driver(18, 70, 5, 60),
        box_item("Pin box", "Pin box", length_mm=80, width_mm=50, thickness_mm=24),
    ]  # fmt: skip


def hundred() -> list[Item]:
    """A hundred things of every kind."""
    from msgspec.structs import replace

    chance = random.Random(33)
    found = [*chest(), *_bits(chance, 40, "More small things")]
    return [replace(item, id=f"{item.id} ({n})", name=f"{item.name} ({n})") for n, item in enumerate(found)]


FOAM = (Sheet(thickness_mm=60.0, pitch_mm=10.0),)
KITS: dict[str, tuple[Callable[[], list[Item]], Container]] = {
    "spanner set": (spanners, Container(width_mm=420, depth_mm=300, height_mm=75)),
    "screwdrivers": (drivers, Container(width_mm=560, depth_mm=320, height_mm=90)),
    "mixed": (mixed, Container(width_mm=620, depth_mm=400, height_mm=80)),
    "bulky case": (bulky, Container(kind="case", width_mm=560, depth_mm=420, height_mm=120, corner_radius_mm=25.0)),
    "60-item chest": (chest, Container(width_mm=950, depth_mm=560, height_mm=90)),
    "notched drawer": (notched, notched_box()),
}
# Kits with the room that people give them: what order is judged by.
EVERYDAY: dict[str, tuple[Callable[[], list[Item]], Container]] = {
    "cameras": (cameras, Container(kind="case", width_mm=520, depth_mm=380, height_mm=140, corner_radius_mm=20.0)),
    "bottles": (bottles, Container(kind="wall", width_mm=700, depth_mm=420, height_mm=60)),
    "planes": (planes, Container(width_mm=800, depth_mm=460, height_mm=90)),
    "sewing": (sewing, Container(width_mm=520, depth_mm=380, height_mm=70)),
    "drawer of four": (lambda: mixed()[4:11], Container(width_mm=560, depth_mm=400, height_mm=80)),
    "hundred": (hundred, Container(width_mm=1300, depth_mm=700, height_mm=90)),
}


def many(count: int) -> list[Item]:
    """Return any number of small and middling things, for the curve of time."""
    chance = random.Random(count)
    found: list[Item] = []
    while len(found) < count:
        found.append(spanner(chance.randrange(6, 16)))
        found += _bits(chance, 4, "Small things")
    from msgspec.structs import replace

    return [replace(item, id=f"thing-{n}", name=f"{item.name} {n}") for n, item in enumerate(found[:count])]


def side_for(count: int) -> float:
    """Return the depth of a drawer that grows with the number of things."""
    return round(185 * math.sqrt(count / 10), -1)
