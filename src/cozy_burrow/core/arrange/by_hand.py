"""What a fitter does with a selection: line things up, turn ends about, spread them evenly, mirror their places."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping, Sequence
from typing import Literal

import shapely
from msgspec.structs import replace
from shapely import affinity
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.sliding import run_between, segments_of
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


def spread(
    project: Project,
    insert_id: str,
    surfaces: Mapping[str, BaseGeometry],
    *,
    down: bool = False,
    gap_mm: float | None = None,
) -> Project:
    """Return the project with equal gaps between the pockets from left to right; locked ones stay.

    down: from back to front instead. gap_mm: so wide, from the first one on; None: the outermost ones stay. A gap is
    the foam along the row where two pockets that face each other come nearest, else between their ends.
    """
    low = 1 if down else 0
    row: Sequence[tuple[str, BaseGeometry]] = sorted(surfaces.items(), key=lambda pair: pair[1].bounds[low])
    if len(row) < (3 if gap_mm is None else 2):
        return project
    gaps = [_gap(first, second, low) for (_, first), (_, second) in itertools.pairwise(row)]
    even = sum(gaps) / len(gaps) if gap_mm is None else gap_mm
    shifts: dict[str, float] = {row[0][0]: 0.0}
    by = 0.0
    for (key, _), gap in zip(row[1:], gaps):
        by += even - gap
        shifts[key] = by

    def moved(one: Placement) -> Placement:
        if one.locked:
            return one
        by = shifts[one.id]
        return replace(one, y_mm=one.y_mm + by) if down else replace(one, x_mm=one.x_mm + by)

    return change_placements(project, insert_id, shifts, moved)


def runs_down(surfaces: Mapping[str, BaseGeometry]) -> bool:
    """Return whether pockets lie behind each other rather than beside each other."""
    middles = [shape.centroid for shape in surfaces.values()]
    across = max(one.x for one in middles) - min(one.x for one in middles)
    return bool(max(one.y for one in middles) - min(one.y for one in middles) > across)


def _gap(first: BaseGeometry, second: BaseGeometry, axis: int) -> float:
    """Return the foam between two along an axis, below nought where they overlap along it without facing each other."""
    _, on = run_between(segments_of(second, axis), segments_of(first, axis))
    return on if math.isfinite(on) else float(second.bounds[axis] - first.bounds[axis + 2])


def mirrored(project: Project, insert_id: str, surfaces: Mapping[str, BaseGeometry], *, down: bool = False) -> Project:
    """Return the project with the places of a selection mirrored about its middle from left to right.

    down: from back to front instead. A thing is turned so that its length lies mirrored and its end points the mirrored
    way; its outline stays what it is. Locked ones stay.
    """
    low, high = (1, 3) if down else (0, 2)
    whole = shapely.union_all(list(surfaces.values())).bounds
    middle = (whole[low] + whole[high]) / 2

    def moved(one: Placement) -> Placement:
        if one.locked:
            return one
        angle_deg = (-one.angle_deg if down else 180.0 - one.angle_deg) % 360.0
        turned = affinity.rotate(surfaces[one.id], angle_deg - one.angle_deg, origin=(one.x_mm, one.y_mm))
        now, then = surfaces[one.id].bounds, turned.bounds
        to_x, to_y = (now[0] + now[2]) / 2, (now[1] + now[3]) / 2
        to_x, to_y = (to_x, 2 * middle - to_y) if down else (2 * middle - to_x, to_y)
        dx, dy = to_x - (then[0] + then[2]) / 2, to_y - (then[1] + then[3]) / 2
        return replace(one, x_mm=round(one.x_mm + dx, 4), y_mm=round(one.y_mm + dy, 4), angle_deg=round(angle_deg, 6))

    return change_placements(project, insert_id, surfaces, moved)


def swap_ends(project: Project, insert_id: str, ids: Sequence[str]) -> Project:
    """Return the project with every other thing of the selection turned end for end; a single one is turned."""
    chosen = ids if len(ids) == 1 else ids[1::2]
    return change_placements(
        project,
        insert_id,
        chosen,
        lambda one: one if one.locked else replace(one, angle_deg=(one.angle_deg + 180.0) % 360.0),
    )
