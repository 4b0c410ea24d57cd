"""What a fitter does with a selection: line things up, turn ends about, spread them evenly."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from msgspec.structs import replace
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.model.edits import change_placements
from cozy_burrow.core.model.records import Placement, Project

Side = Literal["left", "right", "back", "front", "middle"]


def align(project: Project, insert_id: str, surfaces: Mapping[str, BaseGeometry], *, side: Side) -> Project:
    """Return the project with pockets lined up along one side of all of them; locked ones stay.

    surfaces: the pockets' shapes at the surface in plan coordinates, by placement.
    """
    bounds = {key: shape.bounds for key, shape in surfaces.items()}
    left, top = min(b[0] for b in bounds.values()), min(b[1] for b in bounds.values())
    right, bottom = max(b[2] for b in bounds.values()), max(b[3] for b in bounds.values())

    def moved(one: Placement) -> Placement:
        own = bounds[one.id]
        if one.locked:
            return one
        match side:
            case "left":
                return replace(one, x_mm=one.x_mm + left - own[0])
            case "right":
                return replace(one, x_mm=one.x_mm + right - own[2])
            case "back":
                return replace(one, y_mm=one.y_mm + top - own[1])
            case "front":
                return replace(one, y_mm=one.y_mm + bottom - own[3])
            case "middle":
                return replace(one, y_mm=one.y_mm + (top + bottom) / 2 - (own[1] + own[3]) / 2)

    return change_placements(project, insert_id, surfaces, moved)


def spread(project: Project, insert_id: str, surfaces: Mapping[str, BaseGeometry], *, down: bool = False) -> Project:
    """Return the project with equal gaps between the pockets from left to right; the outermost ones stay.

    down: from back to front instead.
    """
    low, high = (1, 3) if down else (0, 2)
    row: Sequence[tuple[str, BaseGeometry]] = sorted(surfaces.items(), key=lambda pair: pair[1].bounds[low])
    if len(row) < 3:
        return project
    sizes = [shape.bounds[high] - shape.bounds[low] for _, shape in row]
    start, end = row[0][1].bounds[low], row[-1][1].bounds[high]
    gap = (end - start - sum(sizes)) / (len(row) - 1)
    shifts: dict[str, float] = {}
    at = start
    for (key, shape), size in zip(row, sizes):
        shifts[key] = at - shape.bounds[low]
        at += size + gap

    def moved(one: Placement) -> Placement:
        if one.locked:
            return one
        by = shifts[one.id]
        return replace(one, y_mm=one.y_mm + by) if down else replace(one, x_mm=one.x_mm + by)

    return change_placements(project, insert_id, shifts, moved)


def swap_ends(project: Project, insert_id: str, ids: Sequence[str]) -> Project:
    """Return the project with every other thing of the selection turned end for end; a single one is turned."""
    chosen = ids if len(ids) == 1 else ids[1::2]
    return change_placements(
        project,
        insert_id,
        chosen,
        lambda one: one if one.locked else replace(one, angle_deg=(one.angle_deg + 180.0) % 360.0),
    )
