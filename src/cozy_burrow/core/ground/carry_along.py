"""Carrying a thing across the plan with its neighbours making way: from placements to bodies and back."""

from __future__ import annotations

from collections.abc import Sequence

import shapely
from msgspec.structs import replace
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.catching import Catch
from cozy_burrow.core.arrange.contacts import Body
from cozy_burrow.core.arrange.pieces import Form
from cozy_burrow.core.arrange.push import Sleds
from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.foam.layers import layers_of
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.edits import change_insert, insert_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import FingerPull, Placement, Point, Project, Rules
from cozy_burrow.core.pulls.forms import bed_for, footprint, wall_of
from cozy_burrow.core.pulls.placed import PlacedPull


class CarryAlong:
    """One gesture: the project it began with, the things as bodies, and where they lie now.

    The things that are carried are one body, whatever pulls serve them only go with them. A row that shares a
    trench is one body, unless a part of it is carried: then its trench stays and its things are bodies of their own.
    """

    def __init__(self, project: Project, insert_id: str, carried: Sequence[str]) -> None:
        self.project, self.insert_id = project, insert_id
        insert = insert_of(project, insert_id)
        ground = ground_of(project, insert)
        self._members = _members(ground, tuple(carried))
        bodies = [body_of(ground, keys) for keys in self._members]
        locked = frozenset(
            n for n, keys in enumerate(self._members) if any(one.locked for one in insert.placements if one.id in keys)
        )
        bed = bed_for(ground.bay, ground.rules, spare=insert.spare)
        seen = [shapely.union_all([ground.pockets[key].surface for key in keys]) for keys in self._members]
        self._sleds = Sleds(bodies, bed, locked=locked, seen=seen)
        self.catches: tuple[Catch, ...] = ()
        self._accepted_at = self._sleds.shifts.copy()
        self.accepted = True

    def to(self, dx_mm: float, dy_mm: float, *, snap: bool = False) -> Project:
        """Return the project with what is carried moved by so much from where it began, neighbours aside.

        snap: it catches on lines and gaps of its neighbours, if there is room then; `catches` says on what.
        """
        near, self.catches = self._sleds.snapped((dx_mm, dy_mm)) if snap else ((dx_mm, dy_mm), ())
        self.accepted = self._sleds.carry(near)
        if not self.accepted and near != (dx_mm, dy_mm):
            self.catches = ()
            self.accepted = self._sleds.carry((dx_mm, dy_mm))
        if self.accepted:
            self._accepted_at = self._sleds.shifts.copy()
        return self._as_project()

    def sprung_back(self) -> Project:
        """Return the project as it lay when there last was room."""
        self._sleds.put(self._accepted_at)
        self.accepted = True
        return self._as_project()

    def _as_project(self) -> Project:
        shifts: dict[str, Point] = {}
        for keys, (dx, dy) in zip(self._members, self._sleds.shifts.tolist()):
            if dx or dy:
                shifts |= dict.fromkeys(keys, (dx, dy))
        if not shifts:
            return self.project
        insert = insert_of(self.project, self.insert_id)

        def moved(one: Placement) -> Placement:
            if one.id not in shifts:
                return one
            dx, dy = shifts[one.id]
            return replace(one, x_mm=round(one.x_mm + dx, 4), y_mm=round(one.y_mm + dy, 4))

        return change_insert(
            self.project,
            self.insert_id,
            placements=tuple(moved(one) for one in insert.placements),
            pulls=tuple(_moved_pull(pull, shifts) for pull in insert.pulls),
        )


def body_of(ground: Ground, keys: Sequence[str]) -> Body:
    """Return things as one body about the middle of their pockets, in plan coordinates less that middle.

    Kept for what it is made of: most things lie where they lay when the last one was carried.
    """
    mine = set(keys)
    return _body(
        tuple(ground.pockets[key] for key in keys),
        tuple(one for one in ground.insert.placements if one.id in mine),
        tuple(pull for pull in ground.pulls if set(pull.pull.serves) <= mine and pull.layers > 0),
        ground.bay,
        ground.rules,
    )


@memo(rows=1024)
def _body(
    pockets: tuple[Pocket, ...],
    placements: tuple[Placement, ...],
    pulls: tuple[PlacedPull, ...],
    bay: Bay,
    rules: Rules,
) -> Body:
    at = {one.id: one for one in placements}
    walls = [wall_of(pocket, bay, rules) for pocket in pockets]
    areas: list[BaseGeometry] = [pull.area for pull in pulls]
    for pocket, (wall_mm, _) in zip(pockets, walls):
        where = at[pocket.owner]
        bulge = footprint(pocket, wall_mm)
        areas += [pocket.surface, placed(bulge, x_mm=where.x_mm, y_mm=where.y_mm, angle_deg=where.angle_deg)]
    shape = shapely.union_all(areas)
    middle = (round(float(shape.centroid.x), 3), round(float(shape.centroid.y), 3))
    # A pull may go deeper than the pockets it serves; its wall is that of its own depth.
    layers = layers_of(bay.sheets)
    deeper = [wanted_wall_mm(layers[pull.layers - 1].bottom_mm, rules) for pull in pulls]
    local = placed(shape, x_mm=-middle[0], y_mm=-middle[1], angle_deg=0.0)
    form = Form(local, max([wall for wall, _ in walls] + deeper), snap_mm=max(snap for _, snap in walls))
    return Body(form, middle[0], middle[1], 0.0)


def _moved_pull(pull: FingerPull, shifts: dict[str, Point]) -> FingerPull:
    """Return a trench moved with its row, where all of that moves alike; other pulls move with their things anyway."""
    if not kind_of_pull(pull).shared:
        return pull
    moves = {shifts.get(key, (0.0, 0.0)) for key in pull.serves}
    if len(moves) != 1 or moves == {(0.0, 0.0)}:
        return pull
    dx, dy = moves.pop()
    return replace(pull, points_mm=tuple((round(x + dx, 4), round(y + dy, 4)) for x, y in pull.points_mm))


def _members(ground: Ground, carried: tuple[str, ...]) -> list[tuple[str, ...]]:
    """Return which placements are one body each; the carried ones first."""
    found = [carried]
    seen = set(carried)
    for pull in ground.pulls:
        row = tuple(key for key in pull.pull.serves if key in ground.pockets)
        if kind_of_pull(pull.pull).shared and len(row) > 1 and not seen.intersection(row):
            found.append(row)
            seen |= set(row)
    found += [(one.id,) for one in ground.insert.placements if one.id not in seen]
    return found
