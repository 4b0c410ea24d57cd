"""A new project from two or three sizes: its container, drawn to them, and the foam that fills it best."""

from __future__ import annotations

from typing import Literal

from msgspec.structs import replace

from cozy_burrow.core.container.starts import STARTS
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.foam.boards import sheet_of, shipped_stores
from cozy_burrow.core.model.records import Container, Insert, Project, Sheet
from cozy_burrow.core.tongue import tr

Begun = Literal["drawer", "case", "wall"]
BEGINNINGS: dict[Begun, str] = {"drawer": "a drawer", "case": "a straight case", "wall": "a wall panel"}
SMALLEST_MM, LARGEST_MM = 40.0, 3000.0  # of what foam is fitted into, each way
_FLATTEST_MM = 10.0
_DRAWER_SHARE = 0.75


def begun_project(kind: Begun, width_mm: float, depth_mm: float, height_mm: float) -> Project:
    """Return a project with one container of these inside sizes and an insert of foam in it.

    height_mm: of a drawer or of a case's base; of a wall's frame, how deep it is. Raises UnusableInput.
    """
    for name, value, least in (
        (tr("width"), width_mm, SMALLEST_MM),
        (tr("depth"), depth_mm, SMALLEST_MM),
        (tr("height"), height_mm, _FLATTEST_MM),
    ):
        if not least <= value <= LARGEST_MM:
            raise UnusableInput(
                tr("a {name} of {value:g} mm inside", name=name, value=value),
                remedy=tr("give {least:g} to {most:g} mm", least=least, most=LARGEST_MM),
            )
    container = _sized(STARTS[BEGINNINGS[kind]], width_mm, depth_mm, height_mm)
    insert = Insert(id="insert-1", name=container.name, container_id=container.id, sheets=(foam_for(kind, height_mm),))
    return Project(title=container.name, containers=(container,), inserts=(insert,))


def _sized(start: Container, width_mm: float, depth_mm: float, height_mm: float) -> Container:
    """Return a container of other sizes: its handle stays in the middle of its side, fixings keep to its corners."""
    handle = start.handle
    if handle is not None:
        handle = replace(handle, along_mm=width_mm / 2, height_mm=min(handle.height_mm, height_mm - 10.0))
    obstacles = []
    for one in start.obstacles:
        x = sum(point[0] for point in one.ring) / len(one.ring)
        y = sum(point[1] for point in one.ring) / len(one.ring)
        right = width_mm - start.width_mm if x > start.width_mm / 2 else 0.0
        front = depth_mm - start.depth_mm if y > start.depth_mm / 2 else 0.0
        obstacles.append(replace(one, ring=tuple((a + right, b + front) for a, b in one.ring)))
    return replace(
        start,
        width_mm=width_mm,
        depth_mm=depth_mm,
        height_mm=height_mm,
        handle=handle,
        obstacles=tuple(obstacles),
    )


def foam_for(kind: Begun, height_mm: float) -> Sheet:
    """Return the thickest sheet in thick layers that goes into a height; the thinnest where none does.

    A drawer keeps a quarter of its height free: handles stand out, and the frame above takes them off.
    """
    room_mm = height_mm * _DRAWER_SHARE if kind == "drawer" else height_mm
    boards = [one for one in shipped_stores().boards if one.material == "layered" and not one.contrast_layers]
    thick = sorted((one for one in boards if one.pitch_mm >= 10.0), key=lambda one: one.thickness_mm)
    fitting = [one for one in thick if one.thickness_mm <= room_mm]
    if fitting:
        return sheet_of(fitting[-1])
    thin = min(boards, key=lambda one: (one.thickness_mm, one.pitch_mm))
    return sheet_of(thin)
