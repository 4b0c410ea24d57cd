"""Two states of a project beside each other: what came, went, moved, lies deeper, and what that means for the foam.

Came, went   what lies in an insert in one state only
Changed      what lies in both, and is not as it was
"""

from __future__ import annotations

import math

from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.edits import item_of
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import FingerPull, Insert, Item, Placement, Project
from cozy_burrow.core.refit.patch import Patch, patch_between

STILL_MM, STILL_DEG = 0.05, 0.05  # less is no move: files keep a thousandth, a hand sees a tenth


class Changed(Frozen):
    """A thing that lies in both states. before, after: its names there, in the plan of that state.

    right_mm, front_mm: how far it has moved; turned_deg: clockwise, -180 to 180. layers: of its pocket, before, after.
    is_other_shape: its outline or its heights are not what they were. pulls_changed: fingers get at it elsewhere.
    """

    __slots__ = ("after", "before", "front_mm", "is_other_shape", "layers", "pulls_changed", "right_mm", "turned_deg")

    def __init__(
        self,
        before: str,
        after: str,
        move: tuple[float, float, float],
        layers: tuple[int, int],
        *,
        is_other_shape: bool,
        pulls_changed: bool,
    ) -> None:
        self.before, self.after, self.layers = before, after, layers
        self.right_mm, self.front_mm, self.turned_deg = move
        self.is_other_shape, self.pulls_changed = is_other_shape, pulls_changed

    @property
    def has_moved(self) -> bool:
        """Whether it lies elsewhere, or another way round."""
        return math.hypot(self.right_mm, self.front_mm) > STILL_MM or abs(self.turned_deg) > STILL_DEG

    @property
    def is_deeper(self) -> bool:
        """Whether its pocket has another number of layers."""
        return self.layers[0] != self.layers[1]

    @property
    def says_something(self) -> bool:
        """Whether anything of it is not as it was."""
        return self.has_moved or self.is_deeper or self.is_other_shape or self.pulls_changed


class InsertChange(Frozen):
    """An insert in two states. before, after None: it is there in one of them only.

    patch: what is cut and filled in the foam; None where the foam itself is another, and a new insert is cut.
    """

    __slots__ = ("after", "before", "came", "changed", "patch", "went")

    def __init__(
        self,
        before: Insert | None,
        after: Insert | None,
        *,
        came: tuple[str, ...] = (),
        went: tuple[str, ...] = (),
        changed: tuple[Changed, ...] = (),
        patch: Patch | None = None,
    ) -> None:
        self.before, self.after, self.patch = before, after, patch
        self.came, self.went, self.changed = came, went, changed

    @property
    def is_same(self) -> bool:
        """Whether nothing of it has changed, the foam neither."""
        both = self.before is not None and self.after is not None
        return (
            both and not (self.came or self.went or self.changed) and self.patch is not None and not self.patch.layers
        )


def compared(before: Project, after: Project) -> tuple[InsertChange, ...]:
    """Return every insert of either state with what became of it, those of the later one first, in their order."""
    left = {insert.id: insert for insert in before.inserts}
    found = []
    for insert in after.inserts:
        old = _counterpart(insert, left)
        if old is not None:
            del left[old.id]
        found.append(_change(before, after, old, insert))
    return (*found, *(_change(before, after, insert, None) for insert in left.values()))


def _counterpart(insert: Insert, left: dict[str, Insert]) -> Insert | None:
    """Return which of the inserts before it was: of its id and name, else of its name, else of its id."""
    same = left.get(insert.id)
    if same is not None and same.name == insert.name:
        return same
    by_name = [one for one in left.values() if one.name.casefold() == insert.name.casefold()]
    return by_name[0] if by_name else same


def _change(before: Project, after: Project, old: Insert | None, new: Insert | None) -> InsertChange:
    if old is None or new is None:
        there = tuple(one.id for one in (new or old or Insert(id="", name="")).placements)
        return InsertChange(old, new, came=there if old is None else (), went=there if new is None else ())
    grounds = ground_of(before, old), ground_of(after, new)
    pairs = _pairs(before, after, old, new)
    paired = {one.id for one, _ in pairs}, {one.id for _, one in pairs}
    changed = (_changed(before, after, one, other, grounds) for one, other in pairs)
    return InsertChange(
        old,
        new,
        came=tuple(one.id for one in new.placements if one.id not in paired[1]),
        went=tuple(one.id for one in old.placements if one.id not in paired[0]),
        changed=tuple(one for one in changed if one.says_something),
        patch=patch_between(*grounds) if has_same_foam(*grounds) else None,
    )


def has_same_foam(before: Ground, after: Ground) -> bool:
    """Whether one can be cut into the other: the same layers, the same blanks."""
    layers = [[(one.top_mm, one.bottom_mm) for one in ground.layers] for ground in (before, after)]
    blanks = [[one.polygon for one in ground.blanks] for ground in (before, after)]
    return layers[0] == layers[1] and all(
        one.equals_exact(other, 0.01) or one.symmetric_difference(other).area < 1.0 for one, other in zip(*blanks)
    )


def _pairs(before: Project, after: Project, old: Insert, new: Insert) -> list[tuple[Placement, Placement]]:
    """Return what lies in both: copies of one id that are still the same thing, then copies of one name."""
    found = []
    waiting = {one.id: one for one in old.placements}
    later = []
    for placement in new.placements:
        same = waiting.get(placement.id)
        if same is not None and _is_one_thing(item_of(before, same.item_id), item_of(after, placement.item_id)):
            found.append((waiting.pop(same.id), placement))
        else:
            later.append(placement)
    by_name = {(item_of(before, one.item_id).name.casefold(), one.copy): one for one in waiting.values()}
    for placement in later:
        match = by_name.pop((item_of(after, placement.item_id).name.casefold(), placement.copy), None)
        if match is not None:
            found.append((match, placement))
    return found


def _is_one_thing(one: Item, other: Item) -> bool:
    """Whether an item of an id is still the thing that it was: files of different jobs number their items alike."""
    return one.name.casefold() == other.name.casefold() or one.outline == other.outline


def _changed(
    before: Project, after: Project, old: Placement, new: Placement, grounds: tuple[Ground, Ground]
) -> Changed:
    one, other = item_of(before, old.item_id), item_of(after, new.item_id)
    turned = (new.angle_deg - old.angle_deg + 180.0) % 360.0 - 180.0
    return Changed(
        old.id,
        new.id,
        (new.x_mm - old.x_mm, new.y_mm - old.y_mm, turned),
        (len(grounds[0].pockets[old.id].layers), len(grounds[1].pockets[new.id].layers)),
        is_other_shape=one.outline != other.outline or _heights(one) != _heights(other),
        pulls_changed=_pulls(grounds[0].insert, old) != _pulls(grounds[1].insert, new),
    )


def _heights(item: Item) -> list[tuple[float, float]]:
    return sorted((zone.lowest_mm, zone.highest_mm) for zone in item.zones)


def _pulls(insert: Insert, placement: Placement) -> list[tuple[object, ...]]:
    """Return how fingers get at a thing, without the names of what they are kept under."""

    def told(pull: FingerPull) -> tuple[object, ...]:
        return pull.kind, tuple((round(x, 1), round(y, 1)) for x, y in pull.points_mm), pull.width_mm, pull.layers or 0

    return sorted((told(pull) for pull in insert.pulls if placement.id in pull.serves), key=repr)
