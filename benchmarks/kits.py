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


FOAM = (Sheet(thickness_mm=60.0, pitch_mm=10.0),)
KITS: dict[str, tuple[Callable[[], list[Item]], Container]] = {
    "spanner set": (spanners, Container(width_mm=420, depth_mm=300, height_mm=75)),
    "screwdrivers": (drivers, Container(width_mm=560, depth_mm=320, height_mm=90)),
    "mixed": (mixed, Container(width_mm=620, depth_mm=400, height_mm=80)),
    "bulky case": (bulky, Container(kind="case", width_mm=560, depth_mm=420, height_mm=120, corner_radius_mm=25.0)),
    "60-item chest": (chest, Container(width_mm=950, depth_mm=560, height_mm=90)),
    "notched drawer": (notched, notched_box()),
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
