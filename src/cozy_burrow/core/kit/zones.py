"""Zones by hand: split an item by a line across it, set heights, join them again; where its weight lies."""

from __future__ import annotations

import math

import numpy as np
import shapely
from msgspec.structs import replace
from numpy.typing import NDArray
from shapely.geometry import LineString, Polygon
from shapely.ops import split

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.axes import half_widths, long_axis_deg
from cozy_burrow.core.geometry.rings import outline_of, polygon_of, polygons_in
from cozy_burrow.core.kit.shapes import checked_size
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Item, Point, Record, Section, Zone
from cozy_burrow.core.tongue import tr

MOST_ZONES = 24
GRAVITY_N_G = 9.81e-3  # newtons a gram
_SLICES = 400  # across a body's axis: half a millimetre on a tool of 200


def split_zones(item: Item, start: Point, end: Point) -> Item:
    """Return the item with every zone that the line from start to end crosses cut in two.

    The line is taken as going on past both ends. Raises UnusableInput where it crosses nothing.
    """
    length = math.hypot(end[0] - start[0], end[1] - start[1])
    if length < 1e-6:
        raise UnusableInput(
            tr("the line has no length"), where=item.name, remedy=tr("drag it right across the outline")
        )
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
        raise UnusableInput(
            tr("the line crosses no zone"), where=item.name, remedy=tr("drag it right across the outline")
        )
    if len(zones) > MOST_ZONES:
        raise UnusableInput(
            tr("{count} zones are too many", count=len(zones)),
            where=item.name,
            remedy=tr("keep to {most_zones}; undo or join some", most_zones=MOST_ZONES),
        )
    return replace(item, zones=tuple(replace(zone, name=tr("part {n}", n=n)) for n, zone in enumerate(zones, start=1)))


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
    checked_size(thickness, where=tr("{name}, {name_2}, thickness", name=item.name, name_2=zone.name))
    if abs(under) > 1000.0 or not math.isfinite(under):
        raise UnusableInput(
            tr("an underside {under:g} mm from the datum is no tool", under=under),
            where=f"{item.name}, {zone.name}",
            remedy=tr("measure it again"),
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


UNWEIGHED_G_MM3 = 6e-4  # of a thing that was not weighed: wood and steel with air between


class Mass(Record, frozen=True, kw_only=True):
    """A zone's body as if it were equally dense: its volume, where it balances in the plan, and at which height."""

    volume_mm3: float
    at: Point
    height_mm: float


@memo(rows=2048)
def mass_of(zone: Zone) -> Mass:
    """Return volume and balance point of a zone's body.

    Flat: its region, times its thickness. Round: at a station half as wide as w and half as high as h it is an ellipse
    of area pi·w·h, h in proportion to w, so that a thick end counts by the square of its width. Tapered: its width
    times its thickness at that place. Both are summed over slices across the axis.
    """
    region = polygon_of(zone.region)
    if zone.section != "round" and (zone.under_end_mm is None or zone.top_end_mm is None or zone.axis is None):
        middle = (zone.under_mm + zone.top_mm) / 2
        volume = float(region.area) * zone.thickness_mm
        return Mass(volume_mm3=volume, at=(float(region.centroid.x), float(region.centroid.y)), height_mm=middle)
    origin, angle = _axis_of(zone, region)
    along = np.array([math.cos(angle), math.sin(angle)])
    across = np.array([-along[1], along[0]])
    ring = (np.array(zone.region.outer) - origin) @ np.column_stack([along, across])
    edges = np.linspace(float(ring[:, 0].min()), float(ring[:, 0].max()), _SLICES + 1)
    x = (edges[:-1] + edges[1:]) / 2
    low, high = half_widths(ring, x)
    x, half, mid = (part[np.isfinite(low)] for part in (x, (high - low) / 2, (high + low) / 2))
    step = edges[1] - edges[0]
    if zone.section == "round":
        scale = (zone.top_mm - zone.under_mm) / 2 / max(float(half.max()), 1e-9)
        slices = math.pi * half * half * scale * step
        heights = np.full(len(x), (zone.top_mm + zone.under_mm) / 2)
    else:
        assert zone.axis is not None and zone.under_end_mm is not None and zone.top_end_mm is not None
        share = np.clip(x / max(math.dist(*zone.axis), 1e-9), 0.0, 1.0)
        under = zone.under_mm + share * (zone.under_end_mm - zone.under_mm)
        top = zone.top_mm + share * (zone.top_end_mm - zone.top_mm)
        slices, heights = 2 * half * (top - under) * step, (top + under) / 2
    volume = float(slices.sum())
    weights = slices / max(volume, 1e-12)
    at = origin + float(weights @ x) * along + float(weights @ mid) * across
    return Mass(volume_mm3=volume, at=(float(at[0]), float(at[1])), height_mm=float(weights @ heights))


def _axis_of(zone: Zone, region: Polygon) -> tuple[NDArray[np.float64], float]:
    """Return a point on a zone's axis and the axis's direction in radians."""
    if zone.axis is not None and math.dist(*zone.axis) > 1e-6:
        (x0, y0), (x1, y1) = zone.axis
        return np.array([x0, y0]), math.atan2(y1 - y0, x1 - x0)
    return np.array([region.centroid.x, region.centroid.y]), math.radians(long_axis_deg(region))


def volume_mm3(zone: Zone) -> float:
    """Return the volume of a zone's body."""
    return mass_of(zone).volume_mm3


@memo(rows=2048)
def centre_of_mass(item: Item) -> Point:
    """Return where the item balances, taken as equally dense throughout, in item coordinates."""
    masses = [mass_of(zone) for zone in item.zones]
    total = sum(one.volume_mm3 for one in masses)
    return (
        sum(one.volume_mm3 * one.at[0] for one in masses) / total,
        sum(one.volume_mm3 * one.at[1] for one in masses) / total,
    )


def mass_g_of(item: Item) -> float:
    """Return what one copy weighs: as it was weighed, else its volume at UNWEIGHED_G_MM3."""
    return item.mass_g if item.mass_g is not None else UNWEIGHED_G_MM3 * sum(map(volume_mm3, item.zones))


def balance_height_mm(item: Item) -> float:
    """Return how high above its datum an item's centre of mass lies, taken as equally dense throughout."""
    masses = [mass_of(zone) for zone in item.zones]
    return sum(one.volume_mm3 * one.height_mm for one in masses) / sum(one.volume_mm3 for one in masses)


def covers_outline(item: Item, *, share: float = 0.98) -> bool:
    """Return whether the zones together cover the outline."""
    together = shapely.union_all([polygon_of(zone.region) for zone in item.zones])
    outline = polygon_of(item.outline)
    return bool(polygons_in(outline) and together.intersection(outline).area >= share * outline.area)
