"""The ground after cutting: what is taken out of every layer of an insert, and for what. The one truth.

Plan, section, findings, exports and the bench plan read this and nothing else.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.container.bay import Bay, bay_of
from cozy_burrow.core.container.blank import Blank, blanks_of
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.seated import guessed_pocket, placed_pocket, takes_long
from cozy_burrow.core.foam.layers import Layer, floor_of, layers_of
from cozy_burrow.core.geometry.rings import as_multi
from cozy_burrow.core.model.memo import Frozen, memo
from cozy_burrow.core.model.records import Insert, Item, Project, Rules
from cozy_burrow.core.pulls.placed import PlacedPull, place_pull


class Cutout(Frozen):
    """One thing that is taken out: per layer an area, and the placements that it belongs to."""

    __slots__ = ("areas", "bounds", "kind", "name", "owners")

    def __init__(self, kind: str, name: str, owners: frozenset[str], areas: tuple[BaseGeometry, ...]) -> None:
        self.kind, self.name, self.owners, self.areas = kind, name, owners, areas
        self.bounds = areas[0].bounds if areas else (0.0, 0.0, 0.0, 0.0)


class Ground(Frozen):
    """An insert with everything that is taken out of it. Pockets and cutouts stand in the order of the placements.

    guessed: placements whose seat is a first guess, since somebody waits; none in what `ground_of` returns.
    """

    def __init__(
        self,
        insert: Insert,
        rules: Rules,
        bay: Bay,
        layers: tuple[Layer, ...],
        pockets: dict[str, Pocket],
        pulls: tuple[PlacedPull, ...],
        guessed: frozenset[str] = frozenset(),
    ) -> None:
        self.insert, self.rules, self.bay, self.layers = insert, rules, bay, layers
        self.pockets, self.pulls, self.guessed = pockets, pulls, guessed
        self.floor_layers = floor_of(bay, rules.floor_layers)

    @property
    def blanks(self) -> tuple[Blank, ...]:
        """The blank of every sheet, top first."""
        return blanks_of(self.bay)

    @property
    def blank(self) -> Polygon:
        """The blank of the top sheet, which is what is seen from above."""
        return self.blanks[0].polygon

    @property
    def extent(self) -> tuple[float, float, float, float]:
        """Bounds of all blanks together: left, back, right, front."""
        return _extent(self.bay)

    @cached_property
    def cutouts(self) -> tuple[Cutout, ...]:
        """All pockets and pulls, each as areas per layer."""
        found = [_pocket_cutout(pocket) for pocket in self.pockets.values()]
        return (*found, *(_pull_cutout(pull) for pull in self.pulls if pull.layers > 0))

    @cached_property
    def reach(self) -> NDArray[np.float64]:
        """Bounds (left, top, right, bottom) of all cutouts, (n, 4)."""
        return np.array([one.bounds for one in self.cutouts]).reshape(-1, 4)

    @cached_property
    def under(self) -> dict[str, str]:
        """What lies in an under-pocket, and under which thing."""
        return _under(self)

    def taken_out(self, number: int) -> MultiPolygon:
        """Return all that is taken out of layer `number` (1 = top of the stack): pockets and pulls together."""
        return _taken_out(self, number)

    def pulls_of(self, placement_id: str) -> tuple[PlacedPull, ...]:
        """Return the pulls that reach this placement's pocket."""
        return tuple(pull for pull in self.pulls if placement_id in pull.reaches)


class Peeled(Ground):
    """A ground as it is on the bench once so many layers are peeled: foam, and no things in it yet."""

    def __init__(self, whole: Ground, layers: int) -> None:
        super().__init__(whole.insert, whole.rules, whole.bay, whole.layers, {}, ())
        self._whole, self._peeled = whole, layers

    @cached_property
    def cutouts(self) -> tuple[Cutout, ...]:
        """What is taken out down to there; the very cutout where all of it is."""
        if self._peeled == 0:
            return ()
        return tuple(
            one if len(one.areas) <= self._peeled else Cutout(one.kind, one.name, one.owners, one.areas[: self._peeled])
            for one in self._whole.cutouts
        )


@memo(rows=64)
def peeled(ground: Ground, layers: int) -> Ground:
    """Return a ground as it is once so many layers of it, from the top, are peeled."""
    return Peeled(ground, layers)


_UNDER_SLACK_MM = 0.5


def _under(ground: Ground) -> dict[str, str]:
    """Return things whose top lies below another's lowest point, inside its pocket."""
    found: dict[str, str] = {}
    names = list(ground.pockets)
    if len(names) < 2:
        return found
    tops = np.array([_top_mm(pocket) for pocket in ground.pockets.values()])
    lowest = np.array([pocket.seating.bottom_mm for pocket in ground.pockets.values()])
    bounds = ground.reach[: len(names)] + np.array([1.0, 1.0, -1.0, -1.0]) * _UNDER_SLACK_MM
    outer = ground.reach[: len(names)]
    inside = (
        (tops[:, None] >= lowest[None, :] - _UNDER_SLACK_MM)
        & (bounds[:, None, 0] >= outer[None, :, 0])
        & (bounds[:, None, 1] >= outer[None, :, 1])
        & (bounds[:, None, 2] <= outer[None, :, 2])
        & (bounds[:, None, 3] <= outer[None, :, 3])
    )
    for low, high in np.argwhere(inside).tolist():
        if low != high:
            lower, upper = ground.pockets[names[low]].surface, ground.pockets[names[high]].surface
            if upper.buffer(_UNDER_SLACK_MM).covers(lower):
                found[names[low]] = names[high]
    return found


def _top_mm(pocket: Pocket) -> float:
    """Return the depth of the highest point of a pocket's thing below the surface; negative: proud."""
    return pocket.seating.datum_mm - max(zone.highest_mm for zone in pocket.item.zones)


@memo(rows=1024)
def _taken_out(ground: Ground, number: int) -> MultiPolygon:
    areas = [cutout.areas[number - 1] for cutout in ground.cutouts if len(cutout.areas) >= number]
    return as_multi(shapely.union_all(areas)) if areas else MultiPolygon()


@memo(rows=4096)
def _pocket_cutout(pocket: Pocket) -> Cutout:
    return Cutout("pocket", pocket.owner, frozenset((pocket.owner,)), pocket.layers)


@memo(rows=4096)
def _pull_cutout(pull: PlacedPull) -> Cutout:
    return Cutout("pull", pull.pull.id, frozenset(pull.pull.serves), (pull.area,) * pull.layers)


@memo(rows=64)
def _extent(bay: Bay) -> tuple[float, float, float, float]:
    bounds = np.array([blank.polygon.bounds for blank in blanks_of(bay) if not blank.polygon.is_empty])
    if not len(bounds):
        return 0.0, 0.0, bay.container.width_mm, bay.container.depth_mm
    low, high = bounds[:, :2].min(axis=0), bounds[:, 2:].max(axis=0)
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def ground_of(project: Project, insert: Insert) -> Ground:
    """Return the ground of one insert of the project."""
    return _ground(project.items, insert, bay_of(project, insert), project.rules)


def ground_soon(
    project: Project, insert: Insert, *, in_time: Callable[[], bool], before: Ground | None = None
) -> Ground:
    """Return the ground of one insert to somebody who waits: once it is late, what must still be cut is guessed.

    It is the very ground of `ground_of` where nothing was guessed. in_time: asked before each pocket that must be cut.
    before: the ground until now; what lies as it did is judged already, and where only the rules changed the pocket as
    it was until now is the guess.
    """
    bay, rules = bay_of(project, insert), project.rules
    by_id = {item.id: item for item in project.items}
    here = before if before is not None and before.bay is bay else None
    older = _cut_in(here) if here is not None else {}
    guesses: dict[str, Pocket] = {}
    for one in insert.placements:
        item = by_id[one.item_id]
        cut = older.get((id(one), id(item)))
        is_true = cut is not None and here is not None and here.rules is rules and one.id not in here.guessed
        if is_true or placed_pocket.knows(item, one, bay, rules):
            continue
        if takes_long(item, one, bay, rules) and not in_time():
            guesses[one.id] = cut or guessed_pocket(item, one, bay, rules)
        else:
            placed_pocket(item, one, bay, rules)
    if not guesses:
        return ground_of(project, insert)
    pockets = {
        one.id: guesses.get(one.id) or placed_pocket(by_id[one.item_id], one, bay, rules) for one in insert.placements
    }
    return _put_together(insert, bay, rules, pockets, frozenset(guesses))


def _cut_in(ground: Ground) -> dict[tuple[int, int], Pocket]:
    """Return the pockets of a ground by the very placement and item that they were cut for."""
    pockets = ground.pockets
    return {(id(one), id(pockets[one.id].item)): pockets[one.id] for one in ground.insert.placements}


@memo(rows=32)
def _ground(items: tuple[Item, ...], insert: Insert, bay: Bay, rules: Rules) -> Ground:
    by_id = {item.id: item for item in items}
    pockets = {one.id: placed_pocket(by_id[one.item_id], one, bay, rules) for one in insert.placements}
    return _put_together(insert, bay, rules, pockets)


def _put_together(
    insert: Insert, bay: Bay, rules: Rules, pockets: dict[str, Pocket], guessed: frozenset[str] = frozenset()
) -> Ground:
    placements = {one.id: one for one in insert.placements}
    layers = layers_of(insert.sheets)
    floor = floor_of(bay, rules.floor_layers)
    most = max(1, len(layers) - floor)
    pulls = tuple(
        laid for pull in insert.pulls if (laid := place_pull(pull, placements, pockets, layers, most=most)) is not None
    )
    return Ground(insert, rules, bay, layers, pockets, pulls, guessed)
