"""Arrange for me: from a project with a kit to one with everything laid in an insert, pulls and all.

Arranger    what is to be laid in one insert, made once: pieces, bed, aims; searches start from it
Arranged    what came of a search, as a project
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from functools import partial
from typing import Literal

from msgspec.structs import replace
from shapely.geometry import Polygon

from cozy_burrow.core.arrange.facts import Facts, facts_of, sets_of
from cozy_burrow.core.arrange.pieces import Form, Piece, Spot, diagonals, fits_at_all, longest_mm
from cozy_burrow.core.arrange.search import Layout, Search
from cozy_burrow.core.arrange.way import Way
from cozy_burrow.core.arrange.wishes import STYLES, Scores, WishName, weighed
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.geometry.placing import direction
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.fitting import used_bed
from cozy_burrow.core.ground.gripping import regripped, with_firm_trenches
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.judging import aims_of, lying_in
from cozy_burrow.core.ground.standing import standing
from cozy_burrow.core.model.edits import add_pulls, change_insert, insert_of, item_of, placement_id, take_out, unplaced
from cozy_burrow.core.model.records import Item, Placement, Project, Record, Ring
from cozy_burrow.core.progress import Token
from cozy_burrow.core.pulls.forms import bed_for, piece_for, pulls_of
from cozy_burrow.core.pulls.rows import row_piece, trench_of
from cozy_burrow.core.tongue import tr

ROWS_FROM = 1.0  # weight of the wish for rows from which on sets are laid as rows

Why = Literal["too_large", "no_room", "no_time"]


class LeftOver(Record, frozen=True, kw_only=True):
    """A thing that found no place, and why; the figures are its length and the bed's.

    too_large: it does not go in alone, however it is turned. no_room: a place was looked for, and there is none beside
    what lies. no_time: the search was stopped before anybody looked. insert_id: where it was to lie.
    """

    item_id: str
    copy: int
    why: Why
    length_mm: float
    longest_mm: float
    insert_id: str = ""


class Arranged(Record, frozen=True, kw_only=True):
    """What came of arranging: the project, what found no place in it, and how it meets the wishes.

    over: where several inserts were laid, how many copies lie in each and how it meets them.
    """

    project: Project
    left_over: tuple[LeftOver, ...]
    attempts: int
    scores: Scores | None = None
    name: str = ""
    over: tuple[tuple[int, Scores], ...] = ()

    def total(self, weights: Mapping[WishName, float]) -> float:
        """Return what it comes to under weights, 0 to 100: of several inserts the mean by what lies in them."""
        parts = self.over or (((1, self.scores),) if self.scores is not None else ())
        copies = sum(count for count, _ in parts)
        return sum(count * weighed(one.wishes, weights) for count, one in parts) / copies if copies else 0.0


class Arranger:
    """Pieces, bed and aims for laying what is in this insert, or in none, anew; locked and kept things stay."""

    def __init__(
        self,
        project: Project,
        insert_id: str,
        *,
        keep: Collection[str] = (),
        things: Collection[str] | None = None,
        within: Ring | None = None,
        with_pulls: bool = True,
        weights: Mapping[WishName, float] = STYLES["tidy"],
        as_it_lies: bool = False,
        token: Token | None = None,
    ) -> None:
        """keep: placements that stay. things: placement ids that are laid; None: all that lie nowhere.

        within: only this part of the insert is used. as_it_lies: searches begin with what lies there, rows that
        share a trench as one piece. token: once it stops, what is not made ready by then is left over, for lack of
        time; None: everything is made ready, however long that takes.
        """
        self.insert_id, self.weights, self.with_pulls = insert_id, weights, with_pulls
        insert = insert_of(project, insert_id)
        moving = [one.id for one in insert.placements if not one.locked and one.id not in keep]
        self.project = take_out(project, insert_id, moving)
        ground = ground_of(self.project, insert_of(self.project, insert_id))
        self.ground: Ground = ground
        waiting = [
            (item, copy)
            for item, copy in unplaced(self.project)
            if things is None or placement_id(item.id, copy) in things or placement_id(item.id, copy) in moving
        ]
        sets = sets_of(project.items)
        self.facts: dict[str, Facts] = {
            item.id: replace(facts_of(item), set_name=sets.get(item.id, "")) for item in project.items
        }
        self._start: list[tuple[Piece, Spot]] = []
        if as_it_lies:
            self._start = standing(ground_of(project, insert), set(moving), self.facts, with_pulls=with_pulls)
            there = {part.key for piece, _ in self._start for part in piece.forms[0].parts}
            waiting = [(item, copy) for item, copy in waiting if (item.id, copy) not in there]
        self._unready: list[tuple[Item, int]] = []
        self.pieces = [*(piece for piece, _ in self._start), *self._pieces(waiting, with_pulls, token)]
        self.bed = used_bed(ground, without=frozenset())
        if within is not None:
            part = bed_for(ground.bay, ground.rules, spare=ground.insert.spare, within=Polygon(within))
            self.bed = type(self.bed)(part.area, self.bed.fixed)
        self.aims = aims_of(self.project, ground, self.bed)
        self.always = lying_in(ground, sets)

    @property
    def _by_key(self) -> dict[tuple[str, int], Piece]:
        """Every piece by its key, with what rows fell apart into."""
        found: dict[tuple[str, int], Piece] = {}
        for piece in self.pieces:
            for one in piece.known:
                assert one.key not in found, one.key  # else one would be written down for the other
                found[one.key] = one
        return found

    def _pieces(self, waiting: Sequence[tuple[Item, int]], with_pulls: bool, token: Token | None) -> list[Piece]:
        """Return what waits as pieces, sets as rows; what a token leaves no time for is noted as not ready."""
        bay, rules = self.ground.bay, self.ground.rules
        sorts = self._sorts(waiting)
        pieces: list[Piece] = []
        for done, (name, members) in enumerate(sorts):
            try:
                if token is not None:
                    token.step(done / len(sorts))
            except Cancelled:
                self._unready = [(item, copy) for _, rest in sorts[done:] for item, copy, _ in rest]
                break
            if name and len(members) > 1:
                pieces.append(row_piece(members, name, bay, rules, with_pulls=with_pulls))
            else:
                pieces += [
                    piece_for(item, copy, bay, rules, with_pulls=with_pulls, facts=facts)
                    for item, copy, facts in members
                ]
        order = {item.id: n for n, item in enumerate(self.project.items)}
        return sorted(pieces, key=lambda one: (order.get(one.forms[0].parts[0].key[0], 0), one.key))

    def _sorts(self, waiting: Sequence[tuple[Item, int]]) -> list[tuple[str, list[tuple[Item, int, Facts]]]]:
        """Return what waits as (name of a row, or nothing for single things; members), in the order of the kit."""
        in_rows = self.weights.get("rows", 0.0) >= ROWS_FROM
        copies = Counter(item.id for item, _ in waiting)
        found: dict[str, tuple[str, list[tuple[Item, int, Facts]]]] = {}
        for item, copy in waiting:
            facts = self.facts[item.id]
            row = (facts.set_name or (f"copies of {item.id}" if copies[item.id] > 1 else "")) if in_rows else ""
            _, members = found.setdefault(row or f"\0{item.id}", (row, []))
            members.append((item, copy, facts))
        return list(found.values())

    def _single(self, item_id: str, copy: int) -> Piece:
        """Return a copy as a piece by itself: its row was never taken apart."""
        ground = self.ground
        item = item_of(self.project, item_id)
        return piece_for(item, copy, ground.bay, ground.rules, with_pulls=False, facts=self.facts[item_id])

    def search(self, way: Way) -> Search:
        """Return a search that has not begun; its first step may be to take what lies there."""
        search = Search(self.pieces, self.bed, self.aims, way, always=self.always)
        search.there = tuple(self._start)
        return search

    def result(self, search: Search, *, done: bool = True) -> Arranged:
        """Return the best layout of a search so far as a project.

        Pulls are added where a thing went without; done: the search has ended, and all that are no trench are chosen
        anew, which takes about as long as a step; what lies is put in order first.
        """
        if done:
            search.finish()
        layout = search.layout()
        by_key = self._by_key
        project = laid_out(self.project, self.insert_id, layout.spots, by_key)
        served: list[str] = []
        as_it_lay = {piece.key for piece, _ in self._start}  # with pulls that a hand may have chosen
        for spot in layout.spots if self.with_pulls else ():
            piece = by_key[spot.key]
            if (done and piece.key not in as_it_lay) or (len(piece.forms) > 1 and piece.forms[spot.form].tag is None):
                served += [placement_id(*part.key) for part in piece.forms[spot.form].parts]
        project = regripped(project, self.insert_id, served)
        if done and self.with_pulls:
            project = with_firm_trenches(project, self.insert_id)
        return Arranged(
            project=project,
            left_over=self._left_over(layout, by_key),
            attempts=layout.attempts,
            scores=search.scores(),
            name=tr("in lanes") if search.lies_in_lanes else search.way.name,
        )

    def _left_over(self, layout: Layout, by_key: Mapping[tuple[str, int], Piece]) -> tuple[LeftOver, ...]:
        found = []
        room = longest_mm(self.bed.area) if not self.bed.area.is_empty else 0.0
        said = partial(LeftOver, longest_mm=room, insert_id=self.insert_id)
        for item_id, copy in layout.left_over:
            piece = by_key.get((item_id, copy)) or self._single(item_id, copy)
            shape = piece.forms[-1].shape
            alone = fits_at_all(shape, self.bed) and diagonals(piece, self.bed)
            why: Why = ("no_time" if (item_id, copy) in layout.untried else "no_room") if alone else "too_large"
            found.append(said(item_id=item_id, copy=copy, why=why, length_mm=longest_mm(shape)))
        for item, copy in self._unready:
            length = longest_mm(polygon_of(item.outline))
            why = "too_large" if length > room else "no_time"
            found.append(said(item_id=item.id, copy=copy, why=why, length_mm=length))
        return tuple(found)


def arranged(
    project: Project,
    insert_id: str,
    *,
    seed: int,
    token: Token,
    with_pulls: bool = True,
    keep: Collection[str] = (),
    weights: Mapping[WishName, float] = STYLES["tidy"],
    steps: int | None = None,
    until_all_lies: bool = False,
    making_ready: Token | None = None,
) -> Arranged:
    """Return the project with everything that lies in this insert or in none laid anew in the insert.

    Locked placements and those in `keep` stay where they are, with their pulls. Always valid: what finds no
    place goes back to the tray. A token that stops the search gives the best layout until then.
    steps: after so many it ends; the same seed and the same steps give the same layout, whatever the machine.
    until_all_lies: while something that could lie finds no place, only the token or the steps end it.
    making_ready: once it stops, what is not made ready for the search is left over: a large kit must leave it time.
    """
    arranger = Arranger(project, insert_id, keep=keep, with_pulls=with_pulls, weights=weights, token=making_ready)
    search = arranger.search(first_way(weights, seed=seed))
    try:
        while search.best is None or not search.is_stuck or (until_all_lies and search.is_short):
            if search.plan is None or not search.possible or (search.best is not None and search.steps == steps):
                break
            search.advance(token)
    except Cancelled:
        pass
    return arranger.result(search)


def first_way(weights: Mapping[WishName, float], *, seed: int) -> Way:
    """Return the way that is gone where only one is: in lanes, but where room or balance counts most."""
    way = Way(weights, seed=seed)
    return way if way.is_tight or way.is_carried else Way(weights, seed=seed, lanes=True)


def put_in_order(
    project: Project, insert_id: str, *, token: Token, weights: Mapping[WishName, float] = STYLES["tidy"]
) -> Arranged:
    """Return the project with what lies in an insert put in order there: ends onto lines, gaps even, nothing exchanged.

    Locked ones stay. What breaks a rule where it lies is laid anew. Raises Cancelled.
    """
    arranger = Arranger(project, insert_id, things=(), weights=weights, as_it_lies=True)
    search = arranger.search(Way(weights, seed=0))
    search.first(token)
    return arranger.result(search)


def laid_out(
    project: Project, insert_id: str, spots: Sequence[Spot], pieces: Mapping[tuple[str, int], Piece]
) -> Project:
    """Return the project with every copy of the pieces laid where their spots say, with the pulls that they bring."""
    insert = insert_of(project, insert_id)
    new: list[Placement] = []
    for spot in spots:
        new += _placements(pieces[spot.key].forms[spot.form], spot)
    order = {item.id: index for index, item in enumerate(project.items)}
    together = sorted((*insert.placements, *new), key=lambda one: (order[one.item_id], one.copy))
    project = change_insert(project, insert_id, placements=tuple(together))
    pulls = []
    for spot in spots:
        form = pieces[spot.key].forms[spot.form]
        keys = {part.key: placement_id(*part.key) for part in form.parts}
        trench = trench_of(form, keys, x_mm=spot.x_mm, y_mm=spot.y_mm, angle_deg=spot.angle_deg)
        if trench is not None:
            pulls.append(trench)
        elif form.parts:
            pulls += pulls_of(form, placement_id(*form.parts[0].key))
    return add_pulls(project, insert_id, pulls)


def _placements(form: Form, spot: Spot) -> list[Placement]:
    cos, sin = direction(spot.angle_deg)
    return [
        Placement(
            id=placement_id(*part.key),
            item_id=part.key[0],
            copy=part.key[1],
            x_mm=round(spot.x_mm + cos * part.x_mm - sin * part.y_mm, 4),
            y_mm=round(spot.y_mm + sin * part.x_mm + cos * part.y_mm, 4),
            angle_deg=round((spot.angle_deg + part.angle_deg) % 360.0, 6),
        )
        for part in form.parts
    ]
