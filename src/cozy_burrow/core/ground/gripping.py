"""Finger pulls for a whole insert: rows share a trench, neighbours' pairs line up, everything else gets its best.

Each pull keeps every wall and the edge. What stands out enough, hangs on a hook or is hollow gets none.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import partial
from typing import Literal

import numpy as np
import shapely
from msgspec.structs import replace
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket, allowance_in
from cozy_burrow.core.depth.sitting import Sitting, sitting_of
from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.geometry.placing import placed, points_to_item
from cozy_burrow.core.ground.fitting import used_bed
from cozy_burrow.core.ground.gripping_rows import LEAST_SERVED, Lying, lines_up, lying, rows_in, trench_across
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.sits import proud_in, sitting_in
from cozy_burrow.core.model.edits import add_pulls, change_insert, insert_of
from cozy_burrow.core.model.pull_kinds import CIRCLE_PAIR
from cozy_burrow.core.model.records import FingerPull, Placement, Project, Record
from cozy_burrow.core.progress import make_way
from cozy_burrow.core.pulls.areas import pull_area
from cozy_burrow.core.pulls.choose import Choice, along_of, choices_at, choices_for, judged
from cozy_burrow.core.pulls.placed import pull_layers
from cozy_burrow.core.pulls.press import press_points
from cozy_burrow.core.pulls.reach import layers_for_fingers
from cozy_burrow.core.tolerances import FOAM_GIVES_MM, RULE_SLACK_MM

_MOST_TRIED = 90
_IN_LINE = 0.25  # what it is worth that a pair lies in line with its neighbour's

Why = Literal["row", "line", "balance", "room", "press", "none"]


class Given(Record, frozen=True, kw_only=True):
    """What was chosen for one thing, and why: in a row, in line with a neighbour, at the balance point, where there is
    room, a press point since nothing fits beside it, or nothing."""

    key: str
    why: Why
    pull: FingerPull | None = None


def gripped(
    project: Project, insert_id: str, keys: Iterable[str] | None = None, *, with_press: bool = True
) -> tuple[Project, tuple[Given, ...]]:
    """Return the project with pulls chosen anew for all things of an insert, or for some, and what each one got."""
    insert = insert_of(project, insert_id)
    wanted = set(keys) if keys is not None else {one.id for one in insert.placements}
    # A trench that others share stays: taken away for one of them it would leave the rest without.
    kept = tuple(pull for pull in insert.pulls if not wanted.issuperset(pull.serves))
    bare = change_insert(project, insert_id, pulls=kept)
    ground = ground_of(bare, insert_of(bare, insert_id))
    task = _Task(ground)
    needing = [key for key in ground.pockets if key in wanted and _needs(ground, key)]
    given = task.rows([key for key in ground.pockets if key in wanted], frozenset(needing))
    done = {one.key for one in given}
    for key in sorted((key for key in needing if key not in done), key=task.room_round):
        given.append(task.one(key, with_press=with_press))
    pulls = list({id(one.pull): one.pull for one in given if one.pull is not None}.values())
    return add_pulls(bare, insert_id, pulls), tuple(given)


def regripped(project: Project, insert_id: str, keys: Iterable[str]) -> Project:
    """Return the project with the best pulls for some things; what has one keeps it where no new one is found.

    A layout keeps room for a first guess of a pull; which kind and place are best only shows beside the neighbours.
    Trenches stay. Never with press points: these are for a fitter to choose.
    """
    insert = insert_of(project, insert_id)
    sharing = {key for pull in insert.pulls if len(pull.serves) > 1 for key in pull.serves}
    had = {key for pull in insert.pulls for key in pull.serves}
    wanted = set(keys) - sharing
    while wanted:
        better, given = gripped(project, insert_id, sorted(wanted), with_press=False)
        worse = {one.key for one in given if one.pull is None and one.key in had}
        if not worse:
            return better
        wanted -= worse
    return project


def with_firm_trenches(project: Project, insert_id: str) -> Project:
    """Return the project without trenches that take the floor from under what they cross; pulls are chosen anew there.

    A row's trench is laid with the row, as deep as its thickest things ask for: things of a few sizes may tip into it.
    It stays where more things would go without any pull for want of it.
    """
    insert = insert_of(project, insert_id)
    ground = ground_of(project, insert)
    for pull in insert.pulls:
        if len(pull.serves) < 2:
            continue
        others = tuple(one for one in insert_of(project, insert_id).pulls if one.id != pull.id)
        bare = change_insert(project, insert_id, pulls=others)
        without = ground_of(bare, insert_of(bare, insert_id))
        unfirm = [key for key in pull.serves if key in ground.pockets and not _as_firm(ground, without, key)]
        if not unfirm:
            continue
        other, given = gripped(bare, insert_id, pull.serves, with_press=False)
        if sum(one.pull is None for one in given) > len(unfirm):  # better a little tipped than out of reach
            continue
        project, ground = other, ground_of(other, insert_of(other, insert_id))
    return project


def _as_firm(ground: Ground, without: Ground, key: str) -> bool:
    """Return whether a thing lies as firm, and as low, with a pull as without it."""
    before, after = sitting_in(without, key), sitting_in(ground, key)
    return _no_looser(before, after) and after.proud_mm <= before.proud_mm + FOAM_GIVES_MM


def _no_looser(before: Sitting, after: Sitting) -> bool:
    """Return whether a thing that lay level still does, and one that didn't rock still doesn't."""
    return (after.level or not before.level) and (before.rocks or not after.rocks)


def could_grip(project: Project, insert_id: str, keys: Iterable[str]) -> dict[str, bool]:
    """Return for each of these things whether a pull beside it would keep walls, edge and the way that it sits."""
    task = _Task(ground_of(project, insert_of(project, insert_id)))
    return {key: task.chosen(key).pull is not None for key in keys}


def _needs(ground: Ground, key: str) -> bool:
    if ground.pockets[key].item.held_by is not None:
        return False
    return proud_in(ground, key) < ground.rules.proud_to_hold_mm


class _Task:
    """One insert being given pulls: what is taken so far, and where the pairs already lie."""

    def __init__(self, ground: Ground) -> None:
        self.ground, self.rules = ground, ground.rules
        self.most = max(1, len(ground.layers) - ground.floor_layers)
        self.within = used_bed(ground, without=frozenset()).area.buffer(RULE_SLACK_MM / 2, join_style="mitre")
        shapely.prepare(self.within)
        self.taken: list[tuple[BaseGeometry, frozenset[str], int]] = [
            (one.areas[0], one.owners, len(one.areas)) for one in ground.cutouts
        ]
        self.placements = {one.id: one for one in ground.insert.placements}
        self.lying = {
            key: lying(pocket, self.placements[key], needs=_needs(ground, key))
            for key, pocket in ground.pockets.items()
        }
        self.pairs: list[tuple[Lying, float]] = []

    def fits(self, area: BaseGeometry, serves: frozenset[str], layers: int) -> bool:
        """Return whether an opening keeps the edge, and the wall to everything that it does not serve."""
        make_way()
        if not self.within.covers(area):
            return False
        spared = serves | {upper for key in serves if (upper := self.ground.under.get(key))}
        others = [(one, count) for one, owners, count in self.taken if not owners & spared]
        if not others:
            return True
        least = [
            wanted_wall_mm(self.ground.layers[min(layers, count) - 1].bottom_mm, self.rules) - RULE_SLACK_MM / 2
            for _, count in others
        ]
        # Most lie far off, which their bounds tell; only the rest is measured.
        shapes = np.array([one for one, _ in others], dtype=object)
        near = np.flatnonzero(shapely.dwithin(area, shapes, max(least)))
        return all(area.distance(shapes[index]) >= least[index] for index in near)

    def room_round(self, key: str) -> tuple[float, str]:
        """Return how much room a thing has round it, for the order: the tightest choose first."""
        others = [one for one, owners, _ in self.taken if key not in owners]
        surface = self.ground.pockets[key].surface
        gaps = np.sort(shapely.distance(surface, np.array(others, dtype=object))) if others else np.array([999.0])
        return float(gaps[:2].sum()), key

    def rows(self, keys: list[str], needing: frozenset[str]) -> list[Given]:
        """Return one trench for each row of things that lie side by side.

        What needs none is crossed too where it lies among those that do: a trench would come too near to it.
        """
        given: list[Given] = []
        for row in rows_in([self.lying[key] for key in keys]):
            best: tuple[FingerPull, tuple[str, ...]] | None = None
            for members in _shorter(row, needing):
                if best is not None and sum(1 for one in members if one.key in needing) <= len(best[1]):
                    break  # sorted by how many could be served: no later one does better
                found = trench_across(members, needing, self.ground, self.fits, self.most, self._all_sit)
                if found is not None and (best is None or len(found[1]) > len(best[1])):
                    best = found
            if best is not None:
                trench, held = best
                self._take(trench, pull_area(trench))
                given += [Given(key=key, why="row", pull=trench) for key in held]
        return given

    def one(self, key: str, *, with_press: bool) -> Given:
        """Return the best pull for one thing alone, and take its room; a press point where nothing else is without a
        trouble."""
        pocket = self.ground.pockets[key]
        given = self.chosen(key)
        troubled = given.pull is None or bool(self._troubles(pocket, given.pull))
        if with_press and troubled:
            for pull, _ in press_points(pocket, self.ground.layers, self.most, self.rules)[:1]:
                return Given(key=key, why="press", pull=replace(pull, serves=(key,)))
        if given.pull is not None:
            self._give(key, given.pull)
        return given

    def _troubles(self, pocket: Pocket, pull: FingerPull) -> Sequence[str]:
        reach = judged(pocket, pull, self.ground.layers, self.most, self.rules)
        return reach.troubles if reach is not None else ("misses",)

    def chosen(self, key: str) -> Given:
        """Return the best opening beside one thing as everything lies now; its room is not taken."""
        pocket, placement = self.ground.pockets[key], self.placements[key]
        beside = self._in_line(key, pocket)
        in_line = {round(one.along_mm, 3) for one in beside}
        tried = sorted([*beside, *choices_for(pocket, self.rules)[:_MOST_TRIED]], key=lambda one: one.cost)
        poor: tuple[int, Choice] | None = None
        for choice in tried:
            if not self._has_room(choice, key, placement):
                continue
            choice = replace(choice, pull=self._no_deeper(pocket, choice.pull))
            reach = judged(pocket, choice.pull, self.ground.layers, self.most, self.rules)
            if reach is None or not self._still_sits(pocket, choice.pull):
                continue
            if not reach.troubles:
                lined = choice.pull.kind == CIRCLE_PAIR.name and round(choice.along_mm, 3) in in_line
                why: Why = "line" if lined else ("balance" if abs(choice.along_mm) < 1.0 else "room")
                return Given(key=key, why=why, pull=replace(choice.pull, serves=(key,)))
            if poor is None or len(reach.troubles) < poor[0]:
                poor = (len(reach.troubles), choice)
        if poor is not None:
            return Given(key=key, why="room", pull=replace(poor[1].pull, serves=(key,)))
        return Given(key=key, why="none")

    def _all_sit(self, trench: FingerPull) -> bool:
        """Return whether everything that a trench crosses lies as firm with it as without it."""
        area = pull_area(trench)
        depth = trench.layers or max(self._pull_depth(one) for one in trench.serves)
        for key in trench.serves:
            pocket, placement = self.ground.pockets[key], self.placements[key]
            local = shapely.transform(area, partial(points_to_item, placement))
            if not self._sits_with(pocket, local, min(depth, self.most)):
                return False
        return True

    def _no_deeper(self, pocket: Pocket, pull: FingerPull) -> FingerPull:
        """Return the pull as deep as fingers need it where it would else take the floor from under a shallow part."""
        shallowest = min(pocket.seating.zone_layers)
        if shallowest == pocket.depth_layers:
            return pull
        for count in range(shallowest, pocket.depth_layers):
            flat = replace(pull, layers=count)
            reach = judged(pocket, flat, self.ground.layers, self.most, self.rules)
            if reach is not None and "shallow" not in reach.troubles:
                return flat
        return pull

    def _still_sits(self, pocket: Pocket, pull: FingerPull) -> bool:
        """Return whether a thing lies as firm with the pull as without it."""
        count = pull_layers(pull_area(pull), [pocket.local], self.ground.layers, wanted=pull.layers, most=self.most)
        return self._sits_with(pocket, pull_area(pull), count)

    def _sits_with(self, pocket: Pocket, area: BaseGeometry, count: int) -> bool:
        """Return whether a thing lies as firm with an area in its coordinates out of `count` layers as without."""
        if count <= min(pocket.seating.zone_layers):
            return True
        before = sitting_in(self.ground, pocket.owner)
        snug_mm = -allowance_in(pocket, self.rules)
        after = sitting_of(pocket, self.ground.layers, snug_mm=snug_mm, cuts=((area, count),))
        return _no_looser(before, after)

    def _in_line(self, key: str, pocket: Pocket) -> list[Choice]:
        """Return pairs in line with those of neighbours that lie the same way."""
        found: list[Choice] = []
        for other, at in self.pairs:
            along = lines_up(self.lying[key], other, at)
            if along is not None:
                pairs = choices_at(pocket, self.rules, along_mm=along)
                found += [replace(one, cost=one.cost - _IN_LINE) for one in pairs if one.pull.kind == CIRCLE_PAIR.name]
        return found

    def _has_room(self, choice: Choice, key: str, placement: Placement) -> bool:
        area = placed(pull_area(choice.pull), x_mm=placement.x_mm, y_mm=placement.y_mm, angle_deg=placement.angle_deg)
        return self.fits(area, frozenset((key,)), min(self._pull_depth(key), self.most))

    def _pull_depth(self, key: str) -> int:
        return layers_for_fingers(self.ground.pockets[key], self.ground.layers)

    def _give(self, key: str, pull: FingerPull) -> None:
        placement = self.placements[key]
        area = placed(pull_area(pull), x_mm=placement.x_mm, y_mm=placement.y_mm, angle_deg=placement.angle_deg)
        self._take(pull, area)
        if pull.kind == CIRCLE_PAIR.name:
            self.pairs.append((self.lying[key], along_of(self.ground.pockets[key], pull)))

    def _take(self, pull: FingerPull, area: BaseGeometry) -> None:
        depth = pull.layers or max(self._pull_depth(key) for key in pull.serves)
        self.taken.append((area, frozenset(pull.serves), min(depth, self.most)))


def _shorter(row: list[Lying], needing: frozenset[str]) -> list[list[Lying]]:
    """Return a row and what is left of it without its ends: those that serve most first, the shortest of them."""
    runs = [
        row[start : start + length]
        for length in range(LEAST_SERVED, len(row) + 1)
        for start in range(len(row) - length + 1)
    ]
    served = {id(run): sum(1 for one in run if one.key in needing) for run in runs}
    return sorted(
        (run for run in runs if served[id(run)] >= LEAST_SERVED), key=lambda run: (-served[id(run)], len(run))
    )
