"""Shapes that people forget: several things in one pocket, a stack, a thin one upright in a slit, a cable's nest."""

from __future__ import annotations

import math

import numpy as np
import shapely
from msgspec.structs import replace
from shapely.geometry import LineString, Point, Polygon
from shapely.geometry import box as rectangle

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.placing import placed, to_plan
from cozy_burrow.core.geometry.rings import outline_of, polygon_of
from cozy_burrow.core.kit.shapes import disc_outline
from cozy_burrow.core.kit.zones import centre_of_mass
from cozy_burrow.core.model.records import Item, Placement, Zone
from cozy_burrow.core.tongue import tr

LOOSE = 2.0  # a coil by hand takes so many times the room of its cable
CHANNEL_MM = 2.0  # by which a channel is wider than its cable
TOGETHER_MM = 4.0  # things that share a pocket lie at most so far apart
MOST_STACKED_MM = 120.0  # higher piles topple before they are in
THIN_MM = 12.0  # thicker things lie


def stacked(item: Item) -> Item:
    """Return a thing of which all copies lie on each other in one pocket. Raises UnusableInput where they would not.

    Equal and flat on both sides, they make one thing as thick as all of them.
    """
    if item.quantity < 2:
        raise UnusableInput(tr("there is one ‘{name}’ only", name=item.name), remedy=tr("set how many there are first"))
    if any(zone.section != "flat" for zone in item.zones):
        raise UnusableInput(
            tr("‘{name}’ is not flat: copies would roll off each other", name=item.name),
            remedy=tr("lay them side by side"),
        )
    lowest = {zone.under_mm for zone in item.zones}
    highest = {zone.top_mm for zone in item.zones}
    if len(lowest) > 1 or len(highest) > 1:
        raise UnusableInput(
            tr("‘{name}’ has steps: copies do not lie flat on each other", name=item.name), remedy=tr("lay them apart")
        )
    thick = item.thickness_mm * item.quantity
    if thick > MOST_STACKED_MM:
        raise UnusableInput(
            tr("a stack of {thick:g} mm topples", thick=thick),
            remedy=tr("keep to {most_stacked:g} mm a pocket", most_stacked=MOST_STACKED_MM),
        )
    zones = tuple(replace(zone, top_mm=zone.under_mm + thick) for zone in item.zones)
    mass_g = None if item.mass_g is None else item.mass_g * item.quantity
    notes = tr("{notes} {quantity} in one pocket.", notes=item.notes, quantity=item.quantity).strip()
    return replace(item, name=f"{item.quantity} × {item.name}", zones=zones, quantity=1, mass_g=mass_g, notes=notes)


def on_edge(item: Item) -> Item:
    """Return a thin flat thing as it stands on its long edge in a slit. Raises UnusableInput for anything else.

    From above it is as long as it is, and as wide as it is thick; it stands as high as it is wide, along the middle of
    where it lay. Its outline is taken as a straight bar: what is cut away at its edges does not show in a slit.
    """
    if any(zone.section != "flat" for zone in item.zones):
        raise UnusableInput(tr("‘{name}’ is not flat", name=item.name), remedy=tr("lay it down"))
    outline = polygon_of(item.outline)
    angle_deg = long_axis_deg(outline)
    turned = placed(outline, x_mm=0.0, y_mm=0.0, angle_deg=-angle_deg)
    left, back, right, front = turned.bounds
    thick, length, width = item.thickness_mm, right - left, front - back
    if thick > THIN_MM or thick > width / 2:
        raise UnusableInput(tr("‘{name}’ is too thick for a slit", name=item.name), remedy=tr("lay it down"))
    middle = (back + front) / 2
    slit = rectangle(left, middle - thick / 2, left + length, middle + thick / 2)
    region = outline_of(placed(slit, x_mm=0.0, y_mm=0.0, angle_deg=angle_deg))
    zone = Zone(name="edge", region=region, section="flat", under_mm=0.0, top_mm=width)
    notes = tr("{notes} Stands upright in a slit.", notes=item.notes).strip()
    return replace(item, outline=region, zones=(zone,), notes=notes)


def on_face(item: Item) -> Item:
    """Return a disc as it lies on its face, its middle where it was. Raises UnusableInput for anything else.

    A disc is a cylinder that is shorter than it is wide.
    """
    zone = item.zones[0]
    if len(item.zones) != 1 or zone.section != "round" or zone.axis is None:
        raise UnusableInput(tr("‘{name}’ is no plain disc", name=item.name), remedy=tr("leave it on its side"))
    length, across = math.dist(*zone.axis), zone.thickness_mm
    if length >= across:
        raise UnusableInput(tr("‘{name}’ is longer than it is wide", name=item.name), remedy=tr("leave it on its side"))
    (x0, y0), (x1, y1) = zone.axis
    disc = placed(polygon_of(disc_outline(across)), x_mm=(x0 + x1) / 2, y_mm=(y0 + y1) / 2, angle_deg=0.0)
    flat = Zone(name=zone.name, region=outline_of(disc), section="flat", under_mm=0.0, top_mm=length)
    return replace(item, outline=flat.region, zones=(flat,), photo=None)  # which showed its side


def with_cable(item: Item, *, length_mm: float, diameter_mm: float) -> Item:
    """Return a thing with a nest for its coiled cable at the end away from its weight, and a channel that leads there.

    The nest is round, as deep as the thing is thick: length x diameter squared, loosely coiled. Raises UnusableInput.
    """
    if not (0.5 <= diameter_mm <= 40.0 and diameter_mm <= length_mm <= 10_000.0):
        raise UnusableInput(
            tr("this is no cable"), where=item.name, remedy=tr("give its length and how thick it is, in mm")
        )
    outline = polygon_of(item.outline)
    deep = max(item.thickness_mm, diameter_mm)
    radius = max(1.5 * diameter_mm, math.sqrt(LOOSE * length_mm * diameter_mm**2 / (math.pi * deep)))
    axis = math.radians(long_axis_deg(outline))
    direction = np.array([math.cos(axis), math.sin(axis)])
    along = shapely.get_coordinates(outline) @ direction
    balance = np.array(centre_of_mass(item))
    # Away from the balance point, where the lighter end is.
    sign = 1.0 if along.max() - balance @ direction >= balance @ direction - along.min() else -1.0
    end = balance + sign * direction * abs((along.max() if sign > 0 else along.min()) - balance @ direction)
    middle = end + sign * direction * (radius + diameter_mm)
    channel = LineString([balance, middle]).buffer((diameter_mm + CHANNEL_MM) / 2, cap_style="flat")
    nest = Point(*middle).buffer(radius, quad_segs=16).union(channel).difference(outline)
    nest = max(shapely.get_parts(nest), key=lambda part: float(part.area))
    whole = outline.union(nest.buffer(0.01))
    low = min(zone.lowest_mm for zone in item.zones)
    zone = Zone(name="cable", region=outline_of(nest), section="flat", under_mm=low, top_mm=low + deep)
    notes = tr("{notes} Cable {length:g} mm.", notes=item.notes, length=length_mm).strip()
    return replace(
        item,
        outline=outline_of(max(shapely.get_parts(whole), key=lambda part: float(part.area))),
        zones=(*item.zones, zone),
        notes=notes,
    )


def as_one(first: Item, second: Item, at: Placement) -> Item:
    """Return two things that share a pocket as one; `at`: how the second lies in the first's coordinates.

    Both lie on one floor. Raises UnusableInput where a finger's breadth of foam would stand between them.
    """
    shift = min(zone.lowest_mm for zone in first.zones) - min(zone.lowest_mm for zone in second.zones)

    def moved(geometry: Polygon) -> Polygon:
        return placed(geometry, x_mm=at.x_mm, y_mm=at.y_mm, angle_deg=at.angle_deg)

    one, other = polygon_of(first.outline), moved(polygon_of(second.outline))
    if one.distance(other) > TOGETHER_MM:
        raise UnusableInput(
            tr(
                "‘{name}’ and ‘{name_2}’ lie {distance:.0f} mm apart",
                name=first.name,
                name_2=second.name,
                distance=one.distance(other),
            ),
            remedy=tr("push them together to {together:g} mm: one pocket leaves no wall between", together=TOGETHER_MM),
        )
    zones = [
        replace(
            zone,
            region=outline_of(moved(polygon_of(zone.region))),
            under_mm=zone.under_mm + shift,
            top_mm=zone.top_mm + shift,
            under_end_mm=None if zone.under_end_mm is None else zone.under_end_mm + shift,
            top_end_mm=None if zone.top_end_mm is None else zone.top_end_mm + shift,
            axis=None if zone.axis is None else (to_plan(at, zone.axis[0]), to_plan(at, zone.axis[1])),
        )
        for zone in second.zones
    ]
    gap = shapely.shortest_line(one, other).buffer(max(TOGETHER_MM, 1.0) / 2 + 0.5)
    whole = shapely.union_all([one, other, gap])
    mass_g = None if first.mass_g is None or second.mass_g is None else first.mass_g + second.mass_g
    return replace(
        first,
        name=tr("{name} with {name_2}", name=first.name, name_2=second.name),
        outline=outline_of(Polygon(max(shapely.get_parts(whole), key=lambda part: float(part.area)).exterior)),
        zones=(*first.zones, *zones),
        quantity=1,
        mass_g=mass_g,
        notes=f"{first.notes} {second.notes}".strip(),
    )
