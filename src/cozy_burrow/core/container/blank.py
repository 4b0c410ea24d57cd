"""The blank: the container's inside, cut a little larger so that it grips."""

from __future__ import annotations

from shapely.geometry import Polygon

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import rectangle
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Container, Insert
from cozy_burrow.core.tolerances import LARGEST_LENGTH_MM


@memo(rows=64)
def inside_polygon(container: Container) -> Polygon:
    """Return the inside of the container in plan coordinates, back left corner at (0, 0)."""
    return rectangle(container.width_mm, container.depth_mm, radius_mm=container.corner_radius_mm)


@memo(rows=64)
def _blank(container: Container, press_fit_mm: float) -> Polygon:
    grown = rectangle(
        container.width_mm + 2 * press_fit_mm,
        container.depth_mm + 2 * press_fit_mm,
        radius_mm=container.corner_radius_mm + press_fit_mm if container.corner_radius_mm > 0 else 0.0,
    )
    if press_fit_mm == 0:
        return grown
    return Polygon([(x - press_fit_mm, y - press_fit_mm) for x, y in grown.exterior.coords])


def blank_polygon(insert: Insert) -> Polygon:
    """Return the outer cut of the insert's sheets: the inside, larger by the press fit on every side."""
    return _blank(insert.container, insert.press_fit_mm)


def checked_container(container: Container, *, where: str) -> Container:
    """Return a container that can hold something; raises UnusableInput for the rest."""
    for name, value in (
        ("width", container.width_mm),
        ("depth", container.depth_mm),
        ("height", container.height_mm),
    ):
        if not 5.0 <= value <= LARGEST_LENGTH_MM:
            raise UnusableInput(
                f"a {name} of {value:g} mm", where=where, remedy="measure the inside; give 5 mm to ten metres"
            )
    if not 0 <= container.corner_radius_mm <= min(container.width_mm, container.depth_mm) / 2:
        raise UnusableInput(
            f"a corner radius of {container.corner_radius_mm:g} mm",
            where=where,
            remedy="give a radius from 0 to half of the shorter side",
        )
    return container
