"""Lay everything, then go on: a first layout in one pass, more room where that leaves things over, then moves.

A search is a row of short steps. After each it holds a valid layout, the best so far; whoever runs it may stop at
any step. With the same seed the same steps follow each other.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Mapping, Sequence

from cozy_burrow.core.arrange.contacts import Body
from cozy_burrow.core.arrange.crowding import one_more_in
from cozy_burrow.core.arrange.first_layout import FirstLayout
from cozy_burrow.core.arrange.in_lanes import laid_in_lanes
from cozy_burrow.core.arrange.lanes import is_stopped
from cozy_burrow.core.arrange.moves import MOVES
from cozy_burrow.core.arrange.neaten import may_lie, straightened
from cozy_burrow.core.arrange.order import ordered
from cozy_burrow.core.arrange.pieces import Bed, Piece, Spot, diagonals, fits_at_all, goes_in_straight, taken_apart
from cozy_burrow.core.arrange.placing_in import Laid, Leaning
from cozy_burrow.core.arrange.plan import Plan, Worth
from cozy_burrow.core.arrange.raster import Grid
from cozy_burrow.core.arrange.strip import Shortening
from cozy_burrow.core.arrange.way import Way
from cozy_burrow.core.arrange.wishes import STYLES, Aims, Lying, Scores, WishName
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.progress import Token

PATIENCE = 30  # moves without gain, and a search that nobody watches ends
_MOVES_OF_ALL = 1600  # moves times pieces: it ends then anyway, in much the same time whatever the kit
_LEAST_MOVES = 30
_GROWS_EVERY = 5  # moves, while rows are apart and a larger bed is left to try: each takes as long as a first layout
# Of putting in order: what slides apart for the one line comes onto another the next time. Of many pieces only between
# moves: a round takes a second and a half where forty lie, and somebody waits for the first layout, and at the end.
_ROUNDS, _FEW = 3, 30
_IDLE_LANES = 4  # moves without gain that other lanes without gain count for: few of them are unlike


class Layout(Record, frozen=True, kw_only=True):
    """What came of a search: spots of pieces, and the keys of copies that found none; how many steps it took.

    untried: those of the copies left over that nobody looked for a place for, since the search was stopped before.
    """

    spots: tuple[Spot, ...]
    left_over: tuple[tuple[str, int], ...]
    attempts: int
    untried: frozenset[tuple[str, int]] = frozenset()


class Search:
    """A search under way. `advance` takes one step; `plan` always holds the best layout so far."""

    def __init__(
        self,
        pieces: Sequence[Piece],
        bed: Bed,
        aims: Aims,
        way: Way,
        *,
        always: Sequence[Lying] = (),
        cell_mm: float | None = None,
    ) -> None:
        """always: copies that are fixed in the bed and count for the wishes. cell_mm: of the grid, None: by the bed."""
        self.patience = PATIENCE
        self.most_steps = max(_LEAST_MOVES, _MOVES_OF_ALL // max(1, len(pieces)))
        self.way, self.bed = way, bed
        self.chance = random.Random(way.seed)
        whole: list[Piece] = []
        for piece in pieces:
            whole += [piece] if piece.is_whole or _lies_straight(piece, bed) else taken_apart([piece])
        self.hopeless = tuple(piece for piece in whole if piece.is_whole and not _may_fit(piece, bed))
        out = {id(piece) for piece in self.hopeless}
        self.possible = [_turned(piece, bed) for piece in whole if id(piece) not in out]
        self.leaning = Leaning(aims, way.weights, corner=way.corner, lengthways=way.lengthways)
        grid = Grid(bed, cell_mm=cell_mm) if not bed.area.is_empty else None
        self.plan = Plan(bed, aims, way.weights, grid=grid, always=always) if grid is not None else None
        if self.plan is not None:
            self.plan.left = list(self.possible)
            self.plan.rows = tuple(piece for piece in self.possible if not piece.is_whole)
            self._laying = FirstLayout(self.plan, self.possible, way, self.leaning, self.chance)
        self.there: tuple[tuple[Piece, Spot], ...] = ()  # pieces that lie already, and where
        self.shortening = Shortening(bed, chance=self.chance)
        self.lies_in_lanes = False  # one base line a lane: nothing is moved out of it for a point more
        self.steps = self.idle = 0
        self.best: Worth | None = None

    @property
    def untried(self) -> Sequence[Piece]:
        """What nobody has looked for a place for so far."""
        return self.possible if self.plan is None else self._laying.untried

    @property
    def is_stuck(self) -> bool:
        """Whether nothing was won for so long that somebody who does not watch would stop."""
        return self.plan is None or not self.possible or self.idle >= self.patience or self.steps >= self.most_steps

    @property
    def is_short(self) -> bool:
        """Whether something that goes into the bed by itself lies nowhere so far."""
        return self.plan is not None and bool(self.plan.left)

    def _start_from(self, there: Sequence[tuple[Piece, Spot]], token: Token) -> None:
        """Begin with pieces that lie already; those that break a rule where they lie are laid anew with the rest."""
        plan = self.plan
        assert plan is not None
        bodies: list[Body] = []
        kept: set[tuple[str, int]] = set()
        plan.left = list(self.possible)
        for piece, spot in there:
            token.step(0.5)
            body = Body(piece.forms[spot.form], spot.x_mm, spot.y_mm, spot.angle_deg)
            if not may_lie(body, bodies, self.bed):
                continue
            bodies.append(body)
            kept.add(piece.key)
            window = plan.grid.window_of(body.shape, body.form.wall_mm)
            plan.add(Laid(piece, spot.form, spot.x_mm, spot.y_mm, spot.angle_deg, window))
            plan.left = [one for one in self.possible if one.key not in kept]
        self._laying.lay_all([piece for piece in self.possible if piece.key not in kept], token)
        self.best = plan.worth()

    def first(self, token: Token) -> None:
        """Lay everything for the first time, or take what lies there. Raises Cancelled; what lies until then stays."""
        if self.plan is None or not self.possible:
            return
        if self.there:
            self._start_from(self.there, token)
            return
        if self.way.lanes and self._in_lanes(token):
            return
        self._laying.lay(token)
        self.best = self.plan.worth()
        self._neaten(token)

    def _in_lanes(self, token: Token) -> bool:
        """Lay everything in lanes; keep that where nothing lies yet or it is better; return whether it is kept."""
        plan = self.plan
        assert plan is not None
        laid = laid_in_lanes(
            self.possible,
            self.bed,
            plan.grid,
            plan.aims,
            corner=self.way.corner[0],
            spread=self.way.spread,
            chance=self.chance,
            token=token,
        )
        if laid is None:
            self.idle += 1
            return False
        kept, before = plan.remember(), self.best
        left = _not_among(laid, self.possible)
        plan.recall((laid, left))
        worth = plan.worth()
        if before is None:
            self.best, self._laying.untried = worth, left
        elif not self._keep(kept, before, worth):
            return False
        self.lies_in_lanes = True
        return True

    def advance(self, token: Token) -> bool:
        """Take one step; return whether something was won. Raises Cancelled between steps and inside long ones."""
        plan = self.plan
        if plan is None or not self.possible:
            return False
        if self.best is None:
            self.first(token)
            return True
        token.step(0.5)
        self.steps += 1
        if self.way.is_tight and self.steps % 2 == 1 and not plan.left and not self.shortening.is_done:
            return self._press(token)
        if self.lies_in_lanes:
            self.idle += _IDLE_LANES
            return self._in_lanes(token)
        if self.steps % 12 == 0:
            return self._neaten(token, is_between=True)
        if self.steps % _GROWS_EVERY == 0 and self._laying.may_grow:
            return self._grow(token)
        if plan.left and self.steps % 2 == 1:
            return self._crowd(token)
        kept, before = plan.remember(), self.best
        move = self.chance.choices([move for move, _ in MOVES], [share for _, share in MOVES])[0]
        worth = plan.worth() if move(plan, self.leaning, self.chance) else None
        return self._keep(kept, before, worth)

    def _grow(self, token: Token) -> bool:
        """Lay everything in a larger bed and push it together. Raises Cancelled; the plan is then as it was."""
        assert self.plan is not None and self.best is not None
        before = self.best
        self._laying.grow(token)
        self.best = self.plan.worth()
        gained = self.best < before
        self.idle = 0 if gained else self.idle + 1
        return gained

    def _keep(self, kept: tuple[list[Laid], list[Piece]], before: Worth, worth: Worth | None) -> bool:
        assert self.plan is not None
        if worth is None or worth > before:
            self.plan.recall(kept)
            self.idle += 1
            return False
        self.best = worth
        gained = worth < before
        self.idle = 0 if gained else self.idle + 1
        return gained

    def _crowd(self, token: Token) -> bool:
        """Crowd one more thing in. Raises Cancelled; the plan is then as it was."""
        plan = self.plan
        assert plan is not None and self.best is not None
        kept, before = plan.remember(), self.best
        found = one_more_in(plan, chance=self.chance, token=token)
        return self._keep(kept, before, plan.worth() if found else None)

    def _neaten(self, token: Token | None = None, *, is_between: bool = False) -> bool:
        """Lay nearly straight things straight, ends onto common lines, gaps even, on the true shapes.

        token: others make way for what lies askew; may raise Cancelled, and the plan is as it was. Stopped later, the
        best of the rounds so far counts.
        """
        plan = self.plan
        assert plan is not None and self.best is not None
        kept, before = plan.remember(), self.best
        groups = [one.piece.group for one in plan.laid]
        bodies = straightened(plan.bodies(), plan.bed, token)
        tried: list[tuple[Worth, list[Body]]] = []
        for _ in range(_ROUNDS if is_between or len(plan.laid) <= _FEW else 1):
            bodies = ordered(bodies, plan.bed, spread=self.way.spread, groups=groups)
            plan.take_over(bodies)
            tried.append((plan.worth(), bodies))
            if token is not None and is_stopped(token, 0.5):
                break
        worth, bodies = min(tried, key=lambda one: one[0])
        plan.take_over(bodies)
        return self._keep(kept, before, worth)

    def finish(self) -> None:
        """Put the best layout in order once more, where that makes it no worse; lanes are in order as they are laid."""
        if self.plan is not None and self.best is not None and not self.lies_in_lanes:
            self._neaten()

    def _press(self, token: Token) -> bool:
        """Press everything into less length, on the true shapes. Raises Cancelled; the plan is then as it was."""
        plan = self.plan
        assert plan is not None and self.best is not None
        kept, before = plan.remember(), self.best
        bodies: list[Body] | None
        if self.steps <= 1:
            bodies = self.shortening.pressed(plan.bodies())
        else:
            angles = [one.piece.angles_deg for one in plan.laid]
            bodies = self.shortening.once(plan.bodies(), angles, token)
        if bodies is None:
            self.idle += 1
            return False
        plan.take_over(bodies)
        return self._keep(kept, before, plan.worth())

    def scores(self) -> Scores | None:
        """Return the wishes of the best layout with their pictures."""
        return self.plan.scores() if self.plan is not None else None

    def layout(self) -> Layout:
        """Return the best layout so far."""
        left = [*self.hopeless, *(self.plan.left if self.plan is not None else self.possible)]
        return Layout(
            spots=self.plan.spots() if self.plan is not None else (),
            left_over=tuple(key for piece in left for key in piece.keys),
            attempts=self.steps,
            untried=frozenset(key for piece in self.untried for key in piece.keys),
        )


def arrange(
    pieces: Sequence[Piece],
    bed: Bed,
    *,
    seed: int,
    token: Token,
    aims: Aims | None = None,
    weights: Mapping[WishName, float] = STYLES["tidy"],
    heard: Callable[[Search], None] = lambda _: None,
) -> Layout:
    """Return the best layout found. Never raises Cancelled: a stop returns what was best until then."""
    way = Way(weights, seed=seed)
    search = Search(pieces, bed, aims or Aims(bed.room if not bed.area.is_empty else (0, 0, 1, 1)), way)
    try:
        while search.best is None or not search.is_stuck:
            if search.plan is None or not search.possible:
                break
            if search.advance(token):
                heard(search)
    except Cancelled:
        pass
    return search.layout()


def _not_among(laid: Sequence[Laid], pieces: Sequence[Piece]) -> list[Piece]:
    """Return what of the pieces does not lie; of a row that lies in part what is left of it."""
    lies = {key for one in laid for key in one.piece.keys}
    found: list[Piece] = []
    for piece in pieces:
        if lies.isdisjoint(piece.keys):
            found.append(piece)
        elif not lies.issuperset(piece.keys):
            found += [one for one in taken_apart([piece]) if lies.isdisjoint(one.keys)]
    return found


def _turned(piece: Piece, bed: Bed) -> Piece:
    """Return the piece with the diagonals that it needs; itself where its tidy angles do."""
    if bed.area.is_empty or not piece.is_whole:
        return piece
    angles = diagonals(piece, bed)
    if angles == piece.angles_deg:
        return piece
    return Piece(piece.key, piece.forms, group=piece.group, angles_deg=angles)


def _lies_straight(row: Piece, bed: Bed) -> bool:
    """Return whether every thing of a row goes into the bed straight: what needs the diagonal lies by itself."""
    return all(goes_in_straight(part.pocket, bed) for part in row.forms[0].parts)


def _may_fit(piece: Piece, bed: Bed) -> bool:
    return fits_at_all(piece.forms[-1].shape, bed) and bool(diagonals(piece, bed))
