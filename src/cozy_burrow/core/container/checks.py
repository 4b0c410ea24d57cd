"""Is this a container that can be worked with? What is refused at the field, on the command line and in a file.

What a fitter may well enter on the way to something else (a draft that closes the box, a survey that contradicts
itself) is not refused but becomes a finding.
"""

from __future__ import annotations

import math

import numpy as np
from shapely.geometry import Polygon

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Container
from cozy_burrow.core.tolerances import LARGEST_LENGTH_MM
from cozy_burrow.core.tongue import tr

STEEPEST_DRAFT_DEG = 45.0
MOST_CORNERS = 24
MOST_OBSTACLES = 100


def checked_container(container: Container, *, where: str) -> Container:
    """Return a container that can hold something; raises UnusableInput for the rest."""
    for name, value in (
        ("width", container.width_mm),
        ("depth", container.depth_mm),
        ("height", container.height_mm),
    ):
        if not 5.0 <= value <= LARGEST_LENGTH_MM:
            raise UnusableInput(
                tr("a {name} of {value:g} mm", name=name, value=value),
                where=where,
                remedy=tr("measure the inside; give 5 mm to ten metres"),
            )
    half = min(container.width_mm, container.depth_mm) / 2
    for name, radius in (
        (tr("corner radius"), container.corner_radius_mm),
        (tr("corner radius at the floor"), container.base_corner_radius_mm or 0.0),
    ):
        if not 0 <= radius <= half:
            raise UnusableInput(
                tr("a {name} of {radius:g} mm", name=name, radius=radius),
                where=where,
                remedy=tr("give a radius from 0 to half of the shorter side"),
            )
    if not 0 <= container.base_edge_radius_mm <= container.height_mm:
        raise UnusableInput(
            tr("a base edge radius of {base_edge_radius:g} mm", base_edge_radius=container.base_edge_radius_mm),
            where=where,
            remedy=tr("give a radius from 0 to the height of the inside"),
        )
    for draft in container.draft_deg:
        if not -STEEPEST_DRAFT_DEG <= draft <= STEEPEST_DRAFT_DEG:
            raise UnusableInput(
                tr("a wall that leans {draft:g} degrees", draft=draft),
                where=where,
                remedy=tr(
                    "give -{steepest_draft:g} to {steepest_draft:g}; moulded cases lean 1 to 5",
                    steepest_draft=STEEPEST_DRAFT_DEG,
                ),
            )
    if not 0 <= container.front_lip_mm <= container.depth_mm / 4:
        raise UnusableInput(
            tr("a front lip of {front_lip:g} mm", front_lip=container.front_lip_mm),
            where=where,
            remedy=tr("give 0 to a quarter of the depth"),
        )
    _check_corners(container, where)
    _check_obstacles(container, where)
    _check_lid(container, where)
    return container


def _check_corners(container: Container, where: str) -> None:
    corners = container.corners
    if not corners:
        if container.taped:
            raise UnusableInput(tr("distances without corners"), where=where, remedy=tr("choose a sketch first"))
        return
    names = [one.name for one in corners]
    points = np.array([(one.x_mm, one.y_mm) for one in corners])
    if len(corners) < 3 or len(corners) > MOST_CORNERS or len(set(names)) != len(names):
        raise UnusableInput(
            tr("the survey's corners"),
            where=where,
            remedy=tr("name 3 to {most_corners} corners, each by its own letter", most_corners=MOST_CORNERS),
        )
    if not np.isfinite(points).all() or np.abs(points).max() > 2 * LARGEST_LENGTH_MM:
        raise UnusableInput(tr("a corner lies nowhere"), where=where, remedy=tr("take the corner out and set it anew"))
    if not Polygon(points).is_valid or Polygon(points).area < 25.0:
        raise UnusableInput(
            tr("the outline crosses itself"), where=where, remedy=tr("put the corners in their order round")
        )
    if any(not 0 <= one.radius_mm <= LARGEST_LENGTH_MM for one in corners):
        raise UnusableInput(tr("a corner radius below zero"), where=where, remedy=tr("give 0 or more"))
    known = set(names)
    for one in container.taped:
        if one.first not in known or one.second not in known or one.first == one.second:
            raise UnusableInput(
                tr("a distance from {first} to {second}", first=one.first[:8], second=one.second[:8]),
                where=where,
                remedy=tr("name two other corners"),
            )
        if not (math.isfinite(one.length_mm) and 0 < one.length_mm <= LARGEST_LENGTH_MM):
            raise UnusableInput(
                tr("a distance of {length:g} mm", length=one.length_mm), where=where, remedy=tr("tape it again")
            )


def _check_obstacles(container: Container, where: str) -> None:
    if len(container.obstacles) > MOST_OBSTACLES:
        raise UnusableInput(
            tr("too many obstacles"), where=where, remedy=tr("keep to {most_obstacles}", most_obstacles=MOST_OBSTACLES)
        )
    for one in container.obstacles:
        ring = np.array(one.ring)
        sound = len(one.ring) >= 3 and np.isfinite(ring).all() and np.abs(ring).max() <= 2 * LARGEST_LENGTH_MM
        if not sound or not Polygon(ring).is_valid or Polygon(ring).area <= 0:
            raise UnusableInput(tr("'{name}' has no area", name=one.name[:40]), where=where, remedy=tr("draw it anew"))
        high = container.height_mm if one.high_mm is None else one.high_mm
        if not 0 <= one.low_mm < high <= LARGEST_LENGTH_MM:
            raise UnusableInput(
                tr(
                    "'{name}' reaches from {low:g} to {high:g} mm above the floor",
                    name=one.name[:40],
                    low=one.low_mm,
                    high=high,
                ),
                where=where,
                remedy=tr("give the lower height first, 0 being the floor"),
            )


def _check_lid(container: Container, where: str) -> None:
    lid = container.lid
    if lid is not None:
        if not (0 <= lid.depth_mm <= 1000 and 0 <= lid.foam_mm <= 500):
            raise UnusableInput(tr("the lid's depth or foam"), where=where, remedy=tr("give 0 to 1000 and 0 to 500 mm"))
        if not 1 <= lid.foam_kg_m3 <= 500:
            raise UnusableInput(tr("the density of the lid's foam"), where=where, remedy=tr("give 1 to 500 kg/m³"))
        if not 0 <= lid.give_mm <= lid.foam_mm:
            raise UnusableInput(
                tr("lid foam of {foam:g} mm pressed in by {give:g} mm", foam=lid.foam_mm, give=lid.give_mm),
                where=where,
                remedy=tr("it can be pressed in by less than its thickness"),
            )
    handle = container.handle
    if handle is not None:
        most = container.width_mm if handle.side in {"front", "back"} else container.depth_mm
        if not (0 <= handle.along_mm <= most and 0 <= handle.height_mm <= 2 * LARGEST_LENGTH_MM):
            raise UnusableInput(
                tr("a handle at {along:g} mm along the wall", along=handle.along_mm),
                where=where,
                remedy=tr("give 0 to {most:g} mm", most=most),
            )
    if container.empty_mass_g is not None and not 0 <= container.empty_mass_g <= 1e6:
        raise UnusableInput(tr("the empty case's mass"), where=where, remedy=tr("give 0 to 1000 kg"))
