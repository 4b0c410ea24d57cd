"""Zones by hand: split an item by a line across it, set heights, join them again; where its weight lies."""

from __future__ import annotations

import math

import shapely
from msgspec.structs import replace
from shapely.geometry import LineString
from shapely.ops import split

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import outline_of, polygon_of, polygons_in
from cozy_burrow.core.kit.shapes import checked_size
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Item, Point, Section, Zone

MOST_ZONES = 24


def split_zones(item: Item, start: Point, end: Point) -> Item:
    """Return the item with every zone that the line from start to end crosses cut in two.

    The line is taken as going on past both ends. Raises UnusableInput where it crosses nothing.
    """
    length = math.hypot(end[0] - start[0], end[1] - start[1])
    if length < 1e-6:
        raise UnusableInput("the line has no length", where=item.name, remedy="drag it right across the outline")
    left, top, right, bottom = polygon_of(item.outline).bounds
    reach = (math.hypot(right - left, bottom - top) + length) / length * 2
    dx, dy = (end[0] - start[0]) * reach, (end[1] - start[1]) * reach
    line = LineString([(start[0] - dx, start[1] - dy), (end[0] + dx, end[1] + dy)])
    zones: list[Zone] = []
    for zone in item.zones:
        parts = polygons_in(split(polygon_of(zone.region), line), least_area_mm2=1.0)
        if len(parts) < 2:
            zones.append(zone)
            continue
        parts.sort(key=lambda part: (round(part.centroid.x, 3), round(part.centroid.y, 3)))
        zones += [replace(zone, region=outline_of(part), axis=None) for part in parts]
    if len(zones) == len(item.zones):
        raise UnusableInput("the line crosses no zone", where=item.name, remedy="drag it right across the outline")
    if len(zones) > MOST_ZONES:
        raise UnusableInput(
            f"{len(zones)} zones are too many",
            where=item.name,
            remedy=f"keep to {MOST_ZONES}; undo or join some",
        )
    return replace(item, zones=tuple(replace(zone, name=f"part {n}") for n, zone in enumerate(zones, start=1)))


def set_zone(
    item: Item,
    index: int,
    *,
    under_mm: float | None = None,
    thickness_mm: float | None = None,
    section: Section | None = None,
    name: str | None = None,
) -> Item:
    """Return the item with one zone's figures changed; what is None stays."""
    zone = item.zones[index]
    under = zone.under_mm if under_mm is None else under_mm
    thickness = zone.top_mm - zone.under_mm if thickness_mm is None else thickness_mm
    checked_size(thickness, where=f"{item.name}, {zone.name}, thickness")
    if abs(under) > 1000.0 or not math.isfinite(under):
        raise UnusableInput(
            f"an underside {under:g} mm from the datum is no tool",
            where=f"{item.name}, {zone.name}",
            remedy="measure it again",
        )
    changed = replace(
        zone,
        under_mm=under,
        top_mm=under + thickness,
        under_end_mm=None,
        top_end_mm=None,
        section=section or ("flat" if zone.section == "tapered" else zone.section),
        name=zone.name if name is None else name,
    )
    return replace(item, zones=(*item.zones[:index], changed, *item.zones[index + 1 :]))


def join_zones(item: Item) -> Item:
    """Return the item with all zones made one, as thick as the thickest."""
    thickest = max(item.zones, key=lambda zone: zone.thickness_mm)
    one = Zone(
        name="body",
        region=item.outline,
        section="flat" if thickest.section == "tapered" else thickest.section,
        under_mm=thickest.lowest_mm,
        top_mm=thickest.highest_mm,
    )
    return replace(item, zones=(one,))


def volume_mm3(zone: Zone) -> float:
    """Return the volume of a zone's body; a lying round one fills pi/4 of its box."""
    area = float(polygon_of(zone.region).area)
    if zone.section == "round":
        return area * zone.thickness_mm * math.pi / 4
    if zone.under_end_mm is not None and zone.top_end_mm is not None:
        return area * (zone.top_mm - zone.under_mm + zone.top_end_mm - zone.under_end_mm) / 2
    return area * zone.thickness_mm


@memo(rows=2048)
def centre_of_mass(item: Item) -> Point:
    """Return where the item balances, taken as equally dense throughout, in item coordinates."""
    volumes = [volume_mm3(zone) for zone in item.zones]
    total = sum(volumes)
    centres = [polygon_of(zone.region).centroid for zone in item.zones]
    return (
        sum(v * c.x for v, c in zip(volumes, centres)) / total,
        sum(v * c.y for v, c in zip(volumes, centres)) / total,
    )


def covers_outline(item: Item, *, share: float = 0.98) -> bool:
    """Return whether the zones together cover the outline."""
    together = shapely.union_all([polygon_of(zone.region) for zone in item.zones])
    outline = polygon_of(item.outline)
    return bool(polygons_in(outline) and together.intersection(outline).area >= share * outline.area)
