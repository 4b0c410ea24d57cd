"""Which thing goes into which insert: by group, use, size, depth of foam and weight; and what one more would take.

Unit     a group, or a thing without one: what stays together; it is split, sorted by size, only where it must be
Share    the part of an insert's bed that grown shapes may cover before a layout is hardly found
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from types import MappingProxyType
from typing import NamedTuple

from msgspec.structs import replace

from cozy_burrow.core.arrange.facts import Facts, facts_of, sets_of
from cozy_burrow.core.arrange.pieces import Piece, fits_at_all
from cozy_burrow.core.arrange.way import Way
from cozy_burrow.core.arrange.wishes import STYLES, Scores, StyleName, WishName
from cozy_burrow.core.container.bay import Bay, bay_of, headroom_mm, tiers_of
from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.ground.arranging import Arranged, Arranger, LeftOver, first_way
from cozy_burrow.core.ground.fitting import used_bed
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.ground.judging import scores_of
from cozy_burrow.core.ground.variations import IN_STYLE, NEXT_STYLE
from cozy_burrow.core.model.edits import (
    container_of,
    free_id,
    insert_of,
    placement_id,
    take_out,
    unplaced,
)
from cozy_burrow.core.model.records import Insert, Item, Project, Record
from cozy_burrow.core.progress import Token, make_way
from cozy_burrow.core.pulls.forms import piece_for
from cozy_burrow.core.tolerances import RULE_SLACK_MM
from cozy_burrow.core.tongue import tr

SHARE = 0.8
_DAILY_DOWN, _HEAVY_UP, _AWAY = 0.5, 0.35, 0.6  # what a tier too low, too high, another container costs a unit
_KNOWN = 0.5  # what it is worth that hands know where things lie


class Thing(Record, frozen=True, kw_only=True):
    """A copy to be shared out. area_mm2: with half its wall, by insert; inserts where it does not go are missing."""

    item: Item
    copy: int
    facts: Facts
    area_mm2: dict[str, float]
    unit: str


class SharedOut(Record, frozen=True, kw_only=True):
    """The project with everything laid, how each insert fared, and what lies nowhere."""

    project: Project
    by_insert: dict[str, Arranged]
    left_over: tuple[LeftOver, ...]

    @property
    def over(self) -> tuple[tuple[int, Scores], ...]:
        """How many copies lie in each insert, and how it meets the wishes now that all of them are laid."""
        return tuple(
            (len(insert.placements), scores_of(self.project, insert.id, STYLES["tidy"]))
            for insert in self.project.inserts
            if insert.placements
        )


class SharingWay(NamedTuple):
    """One way of sharing out. anew: where things lie now counts for nothing."""

    weights: Mapping[WishName, float]
    seed: int
    anew: bool
    name: str


def sharing_ways(style: StyleName, weights: Mapping[WishName, float], *, seed: int) -> tuple[SharingWay, ...]:
    """Return four ways: as hands know things, every place anew, in the next style, and begun elsewhere."""
    other = NEXT_STYLE[style]
    return (
        SharingWay(weights, seed, False, tr("with known items where hands know them")),
        SharingWay(weights, seed, True, tr("with every place anew")),
        SharingWay(STYLES[other], seed, False, IN_STYLE[other]),
        SharingWay(weights, seed + 1000, True, tr("begun elsewhere")),
    )


class _Stopped(Exception):
    """Carries the project as far as it was laid when a token stopped the laying of an insert."""

    def __init__(self, project: Project) -> None:
        super().__init__()
        self.project = project


class OneMore(Record, frozen=True, kw_only=True):
    """What a second container like an insert's would do for what is left over: how many it takes, what stays free."""

    insert_id: str
    width_mm: float
    depth_mm: float
    takes: int
    free_share: float


def units_of(project: Project) -> dict[str, list[Thing]]:
    """Return every copy that lies nowhere as things by unit: its group, else itself; in it by set and by size."""
    sets = sets_of(project.items)
    found: dict[str, list[Thing]] = {}
    areas = {insert.id: _areas(project, insert) for insert in project.inserts}
    for item, copy in unplaced(project):
        unit = item.group or item.id
        thing = Thing(
            item=item,
            copy=copy,
            facts=replace(facts_of(item), set_name=sets.get(item.id, "")),
            area_mm2={key: known[item.id] for key, known in areas.items() if item.id in known},
            unit=unit,
        )
        found.setdefault(unit, []).append(thing)
    for things in found.values():
        things.sort(key=lambda one: (one.facts.set_name, -one.facts.length_mm, one.item.id, one.copy))
    return found


def _areas(project: Project, insert: Insert) -> dict[str, float]:
    """Return the area that each item asks for in an insert, without those that do not fit or stand too high there."""
    bay, bed = bay_of(project, insert), used_bed(ground_of(project, insert), without=frozenset())
    found: dict[str, float] = {}
    if bed.area.is_empty:
        return found
    for item in project.items:
        make_way()
        piece = piece_for(item, 1, bay, project.rules, with_pulls=True)
        if not fits_at_all(piece.forms[-1].shape, bed) or _stands_too_high(item, bay, project):
            continue
        found[item.id] = _area(piece)
    return found


def _area(piece: Piece) -> float:
    form = piece.forms[0]
    return float(form.shape.buffer(form.wall_mm / 2, quad_segs=4).area)


def _stands_too_high(item: Item, bay: Bay, project: Project) -> bool:
    return local_pocket(item, None, bay, project.rules).seating.proud_mm > headroom_mm(bay) + RULE_SLACK_MM


def assigned(
    project: Project, units: Mapping[str, Sequence[Thing]], *, homes: Mapping[str, str] = MappingProxyType({})
) -> dict[tuple[str, int], str]:
    """Return the insert of each copy that one is found for. homes: the insert that a placement lay in until now.

    The units that go into fewest inserts come first, then the largest. Each goes where it costs least and fits as
    a whole; else it is split in its order, so that a set is parted between two sizes and nowhere else.
    """
    room = {
        insert.id: SHARE * used_bed(ground_of(project, insert), without=frozenset()).area.area
        for insert in project.inserts
    }
    for insert in project.inserts:
        bed = used_bed(ground_of(project, insert), without=frozenset())
        room[insert.id] -= sum(area.buffer(wall / 2, quad_segs=4).area for area, wall in bed.fixed)
    found: dict[tuple[str, int], str] = {}

    def ease(things: Sequence[Thing]) -> tuple[int, float]:
        shared = [set(one.area_mm2) for one in things]
        everywhere = set.intersection(*shared) if shared else set()
        return len(everywhere), -sum(max(one.area_mm2.values(), default=0.0) for one in things)

    for unit in sorted(units, key=lambda name: (ease(units[name]), name)):
        things = list(units[unit])
        while things:
            best: tuple[float, str, int] | None = None
            for insert in project.inserts:
                count = _first_that_fit(things, insert.id, room[insert.id])
                if not count:
                    continue
                known = sum(homes.get(placement_id(one.item.id, one.copy)) == insert.id for one in things)
                cost = _cost(project, insert, things, room) - _KNOWN * known / len(things)
                cost += 2.0 * (count < len(things))
                if best is None or (cost, -count) < (best[0], -best[2]):
                    best = (cost, insert.id, count)
            if best is None:
                things.pop(0)  # goes nowhere; the rest may
                continue
            _, insert_id, count = best
            for one in things[:count]:
                found[(one.item.id, one.copy)] = insert_id
                room[insert_id] -= one.area_mm2[insert_id]
            things = things[count:]
    return found


def _first_that_fit(things: Sequence[Thing], insert_id: str, room_mm2: float) -> int:
    count = 0
    for one in things:
        area = one.area_mm2.get(insert_id)
        if area is None or area > room_mm2:
            break
        room_mm2 -= area
        count += 1
    return count


def _cost(project: Project, insert: Insert, things: Sequence[Thing], room: Mapping[str, float]) -> float:
    """Return how ill a unit lies in an insert: daily things low down, heavy ones high up, a nearly full insert."""
    tiers = tiers_of(project, insert.container_id)
    place = next(n for n, one in enumerate(tiers) if one.id == insert.id)
    down = place / max(1, len(tiers) - 1) if len(tiers) > 1 else 0.0
    use = sum({"daily": 1.0, "rare": -1.0}.get(one.facts.use, 0.0) for one in things) / len(things)
    heavy = sum(one.facts.mass_g for one in things) / len(things)
    mean = sum(facts_of(item).mass_g for item in project.items) / max(1, len(project.items))
    weight = min(2.0, heavy / max(1.0, mean)) - 1.0
    ask = sum(one.area_mm2.get(insert.id, 0.0) for one in things)
    fill = ask / max(1.0, room[insert.id])
    first = list(project.containers).index(container_of(project, insert)) / max(1, len(project.containers))
    return (
        _DAILY_DOWN * use * down
        + _HEAVY_UP * weight * (1.0 - down) * (len(tiers) > 1)
        + 0.3 * min(1.5, fill)
        + 0.2 * _AWAY * first * (1.0 + use)
    )


def shared_out(
    project: Project,
    *,
    seed: int,
    token: Token,
    weights: Mapping[WishName, float] = STYLES["tidy"],
    steps: int = 30,
    anew: bool = False,
) -> SharedOut:
    """Return the project with everything that is not locked shared out over all inserts and laid.

    anew: where things lie now counts for nothing. steps: of each insert's search after its first layout. What finds no
    room where it was meant to go is offered to the other inserts. Never raises Cancelled: a stop gives what is laid
    until then.
    """
    homes = {one.id: insert.id for insert in project.inserts for one in insert.placements if not anew}
    cleared = project
    for insert in project.inserts:
        cleared = take_out(cleared, insert.id, [one.id for one in insert.placements if not one.locked])
    plan = assigned(cleared, units_of(cleared), homes=homes)
    now = cleared
    by_insert: dict[str, Arranged] = {}
    try:
        for number, insert in enumerate(cleared.inserts):
            mine = frozenset(placement_id(*key) for key, where in plan.items() if where == insert.id)
            token.step(number / (2 * len(cleared.inserts)))
            now = _lay(now, insert.id, mine, seed, token, weights, steps, by_insert, keep=False)
        for insert in cleared.inserts:
            waiting = frozenset(placement_id(item.id, copy) for item, copy in unplaced(now))
            if not waiting:
                break
            token.step(0.5 + 0.5 / len(cleared.inserts))
            now = _lay(now, insert.id, waiting, seed, token, weights, 0, by_insert, keep=True)
    except _Stopped as stop:
        now = stop.project  # the insert that was being laid counts as far as it came
    except Cancelled:
        pass
    return SharedOut(project=now, by_insert=by_insert, left_over=_nowhere(now, by_insert))


def _lay(
    project: Project,
    insert_id: str,
    things: frozenset[str],
    seed: int,
    token: Token,
    weights: Mapping[WishName, float],
    steps: int,
    by_insert: dict[str, Arranged],
    *,
    keep: bool,
) -> Project:
    there = [one.id for one in insert_of(project, insert_id).placements] if keep else []
    arranger = Arranger(project, insert_id, things=things, keep=there, weights=weights)
    search = arranger.search(Way(weights, seed=seed) if keep else first_way(weights, seed=seed))
    stopped = False
    try:
        search.first(token)
        for _ in range(steps):
            if search.is_stuck:
                break
            search.advance(token)
    except Cancelled:
        stopped = True
    result = arranger.result(search)
    by_insert[insert_id] = result
    if stopped:
        raise _Stopped(result.project)
    return result.project


def parted(project: Project) -> dict[str, tuple[tuple[str, float, float], ...]]:
    """Return the sets that lie in more than one insert: the name of each insert, its shortest and longest in mm."""
    sets, lengths = sets_of(project.items), {item.id: facts_of(item).length_mm for item in project.items}
    found: dict[str, list[tuple[str, float, float]]] = {}
    for insert in project.inserts:
        here: dict[str, list[float]] = {}
        for one in insert.placements:
            if one.item_id in sets:
                here.setdefault(sets[one.item_id], []).append(lengths[one.item_id])
        for name, sizes in here.items():
            found.setdefault(name, []).append((insert.name, min(sizes), max(sizes)))
    return {name: tuple(sorted(where, key=lambda one: one[1])) for name, where in found.items() if len(where) > 1}


def _nowhere(project: Project, by_insert: Mapping[str, Arranged]) -> tuple[LeftOver, ...]:
    waiting = {(item.id, copy) for item, copy in unplaced(project)}
    best: dict[tuple[str, int], LeftOver] = {}
    for result in by_insert.values():
        for one in result.left_over:
            key = (one.item_id, one.copy)
            if key in waiting and (key not in best or best[key].longest_mm < one.longest_mm):
                best[key] = one
    return tuple(best[key] for key in sorted(best))


def one_more(project: Project, insert_id: str, left: Sequence[tuple[str, int]], *, token: Token) -> OneMore | None:
    """Return what another container like this insert's would take of what lies nowhere; None: nothing of it.

    free_share: of its bed that neither things nor half their walls then take up. Raises Cancelled.
    """
    if not left:
        return None
    model = insert_of(project, insert_id)
    container = container_of(project, model)
    new_id = free_id("insert", [one.id for one in project.inserts])
    box_id = free_id("container", [one.id for one in project.containers])
    empty = replace(model, id=new_id, name="one more", container_id=box_id, placements=(), pulls=(), spare=())
    bigger = replace(
        project,
        containers=(*project.containers, replace(container, id=box_id)),
        inserts=(*project.inserts, empty),
    )
    things = frozenset(placement_id(*key) for key in left)
    arranger = Arranger(bigger, new_id, things=things)
    search = arranger.search(Way(STYLES["tight"], seed=1))
    search.first(token)
    taken = len(left) - len(search.layout().left_over)
    if taken <= 0 or search.plan is None:
        return None
    used = sum(
        float(one.shape_form.shape.buffer(one.shape_form.wall_mm / 2, quad_segs=4).area) for one in search.plan.laid
    )
    return OneMore(
        insert_id=insert_id,
        width_mm=container.width_mm,
        depth_mm=container.depth_mm,
        takes=taken,
        free_share=max(0.0, 1.0 - used / arranger.bed.area.area),
    )
