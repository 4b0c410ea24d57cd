"""A new or changed tool in an insert that is cut already: where it costs the least foam.

Every place, turn and form of the new pocket is tried against what is open (`places`). Least filling comes first (a
glued seam is the weakest place of a wall), then least new cutting. Neighbours stay where they are; where there is no
room so, one of them makes way, and what it leaves open and what it needs anew are filled and cut with the rest.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from msgspec.structs import replace

from cozy_burrow.core.arrange.pieces import Form
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.placing import to_item, to_plan
from cozy_burrow.core.ground.gripping import gripped
from cozy_burrow.core.ground.grips import grip_of
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.edits import change_insert, insert_of, item_of, placement_id, placement_of
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import FingerPull, Item, Placement, Project
from cozy_burrow.core.progress import Quiet, Token
from cozy_burrow.core.pulls.forms import form_of_placed
from cozy_burrow.core.refit.glued import with_patch
from cozy_burrow.core.refit.patch import Patch, patch_between
from cozy_burrow.core.refit.places import APART_MM, Places
from cozy_burrow.core.tongue import tr

_MOST = 4
_NEIGHBOURS = 3  # that may make way, the nearest first
_TRIED = 2  # places of the new thing for each of them


class Refit(Frozen):
    """One way to take the new thing in: the project as it would be, what is cut and filled, who had to move."""

    __slots__ = ("moved", "patch", "placement", "project")

    def __init__(self, project: Project, placement: Placement, patch: Patch, moved: tuple[str, ...] = ()) -> None:
        self.project, self.placement, self.patch, self.moved = project, placement, patch, moved


def refits(
    project: Project,
    insert_id: str,
    key: str,
    item: Item,
    *,
    copy: int = 1,
    token: Token | None = None,
    movable: bool = True,
) -> tuple[Refit, ...]:
    """Return ways to lay an item of the kit where the placement `key` lay, least filling first; none: no room.

    copy: which of the item's copies it is. movable: where there is no room, a neighbour may make way. Raises
    UnusableInput where the placement is locked, Cancelled.
    """
    token = token or Quiet()
    insert = insert_of(project, insert_id)
    old = placement_of(insert, key)
    if old.locked:
        raise UnusableInput(
            tr("the place of ‘{name}’ is locked", name=item_of(project, old.item_id).name),
            where=insert.name,
            remedy=tr("unlock it first"),
        )
    before = ground_of(project, insert)
    # As deep as the old one was told to lie, where that was told: what is tried is what is then laid.
    new = Placement(id=placement_id(item.id, copy), item_id=item.id, copy=copy, x_mm=0.0, y_mm=0.0, seat=old.seat)
    pocket = local_pocket(item, new, before.bay, project.rules)
    form = form_of_placed(pocket, (), before.bay, project.rules)
    places = Places(before, key, pocket, form)
    found = [
        _taken(project, insert_id, old, _at(new, spot), before)
        for spot in _best_spots(places, old, _MOST, lambda share: token.step((0.5 if movable else 1.0) * share))
    ]
    if not found and movable:
        found = _making_room(project, insert_id, old, new, before, places.form, pocket, token)
    return tuple(sorted(found, key=lambda one: (round(one.patch.fill_mm3), one.patch.cut_mm3)))


Spot = tuple[float, float, float]  # x, y, turn


def _best_spots(places: Places, old: Placement, most: int, told: Callable[[float], object]) -> list[Spot]:
    """Return the best places for a thing, apart from each other, the cheapest first. told: hears how far it is."""
    tried: list[tuple[float, float, float, float]] = []
    turns = places.turns(old)
    for number, turn in enumerate(turns):
        told(number / len(turns))
        tried += [(places.cost(*spot), *spot) for spot in places.places(turn)]
    found: list[Spot] = []
    for _, x, y, turn in sorted(tried):
        if len(found) < most and all(math.dist((x, y), one[:2]) >= APART_MM for one in found):
            found.append((x, y, turn))
    return found


def _stay_at(token: Token, share: float, _: float) -> None:
    token.step(share)


def _at(new: Placement, spot: Spot) -> Placement:
    x, y, turn = (float(one) for one in spot)
    return replace(new, x_mm=round(x, 3), y_mm=round(y, 3), angle_deg=round(turn % 360.0, 3))


def _making_room(
    project: Project,
    insert_id: str,
    old: Placement,
    new: Placement,
    before: Ground,
    form: Form,
    pocket: Pocket,
    token: Token,
) -> list[Refit]:
    """Return ways to take the new thing in for which one neighbour gives up its place; none: nor is there room so."""
    insert, mine = before.insert, before.pockets[old.id].surface
    loose = [one for one in insert.placements if one.id != old.id and not one.locked]
    near = sorted(loose, key=lambda one: before.pockets[one.id].surface.distance(mine))[:_NEIGHBOURS]
    found: list[Refit] = []
    for number, neighbour in enumerate(near):
        share = 0.5 + 0.5 * number / len(near)
        places = Places(before, old.id, pocket, form, moving=frozenset((neighbour.id,)))
        for spot in _best_spots(places, old, _TRIED, partial(_stay_at, token, share)):
            laid = _taken(project, insert_id, old, _at(new, spot), before)
            item = item_of(project, neighbour.item_id)
            ways = refits(laid.project, insert_id, neighbour.id, item, copy=neighbour.copy, movable=False)
            if ways:
                # What was glued for a moment in between is not: only what is there before and after counts.
                whole = change_insert(ways[0].project, insert_id, glued=insert.glued)
                remembered, patch = _patched(before, whole)
                found.append(Refit(remembered, laid.placement, patch, (neighbour.id,)))
    return found


def _place(one: Refit) -> tuple[float, float]:
    return one.placement.x_mm, one.placement.y_mm


def _taken(project: Project, insert_id: str, old: Placement, new: Placement, before: Ground) -> Refit:
    """Return the project with one placement for another; pulls that still serve it stay, or the best new one comes."""
    insert, key = insert_of(project, insert_id), old.id
    placements = tuple(new if one.id == key else one for one in insert.placements)
    shared = tuple(
        replace(pull, serves=tuple(new.id if name == key else name for name in pull.serves))
        for pull in insert.pulls
        if pull.serves != (key,)
    )
    bare = change_insert(project, insert_id, placements=placements, pulls=shared)
    own = [_where_it_is(pull, old, new) for pull in insert.pulls if pull.serves == (key,)]
    after = change_insert(bare, insert_id, pulls=(*shared, *own))
    if not grip_of(ground_of(after, insert_of(after, insert_id)), new.id).good:
        apart = tuple(_without(pull, new.id) for pull in shared)
        after, _ = gripped(change_insert(bare, insert_id, pulls=apart), insert_id, [new.id], with_press=False)
    remembered, patch = _patched(before, after)
    return Refit(remembered, new, patch)


def _patched(before: Ground, after: Project) -> tuple[Project, Patch]:
    """Return a project that remembers what was glued into its cut insert, and what is cut and filled."""
    insert_id = before.insert.id
    patch = patch_between(before, ground_of(after, insert_of(after, insert_id)))
    return with_patch(after, insert_id, patch), patch


def gone_for_good(project: Project, insert_id: str, key: str) -> tuple[Project, Patch]:
    """Return the project without a placement, its pocket and its own pulls filled, and how; a shared trench stays."""
    insert = insert_of(project, insert_id)
    before = ground_of(project, insert)
    placement_of(insert, key)
    pulls = tuple(_without(pull, key) for pull in insert.pulls if pull.serves != (key,))
    left = tuple(one for one in insert.placements if one.id != key)
    return _patched(before, change_insert(project, insert_id, placements=left, pulls=pulls))


def _without(pull: FingerPull, key: str) -> FingerPull:
    return replace(pull, serves=tuple(name for name in pull.serves if name != key))


def _where_it_is(pull: FingerPull, old: Placement, new: Placement) -> FingerPull:
    """Return a pull of the old thing that stays where it was cut, for the new one."""
    points = pull.points_mm
    if not kind_of_pull(pull).shared:  # what others may share lies in the plan anyway
        points = tuple(to_item(new, to_plan(old, point)) for point in points)
    return replace(pull, serves=(new.id,), points_mm=points)
