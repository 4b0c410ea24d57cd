"""The first layout: one by one, as a crowd of rows, from a larger bed, in other orders and as single things."""

from __future__ import annotations

import random
from collections.abc import Sequence

from cozy_burrow.core.arrange.contacts import Body
from cozy_burrow.core.arrange.crowding import crowded_in, longest_apart, that_go_in, whole_in
from cozy_burrow.core.arrange.growing import GROWTHS, is_worth_it, larger, pushed_together
from cozy_burrow.core.arrange.pieces import Piece, taken_apart
from cozy_burrow.core.arrange.placing_in import Laid, Leaning
from cozy_burrow.core.arrange.plan import Plan
from cozy_burrow.core.arrange.raster import Grid
from cozy_burrow.core.arrange.way import Way
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.progress import Token

# Of more things nothing was won: sixty that lay as single things in the end waited 123 s instead of 72 while rows were
# crowded in whole and one after the other fell apart. Of eighteen and of fourteen things all lay after two and three
# rows had.
_FEW, _FALLEN_APART = 30, 4


class FirstLayout:
    """Lays pieces in a plan for the first time. `untried`: those that nobody has looked for a place for so far."""

    def __init__(self, plan: Plan, pieces: Sequence[Piece], way: Way, leaning: Leaning, chance: random.Random) -> None:
        self.plan, self.pieces, self.way, self.leaning, self.chance = plan, list(pieces), way, leaning, chance
        self.untried: list[Piece] = list(pieces)
        self._growths = list(GROWTHS) if is_worth_it(self.pieces, plan.bed) else []

    def lay(self, token: Token) -> None:
        """Lay everything. Raises Cancelled; what lies until then stays."""
        self.lay_all(self.pieces, token)
        if self.plan.left and self._whole_in(that_go_in(self.pieces, self.plan.bed), token, is_roomy=True):
            return
        while self.plan.left and self.may_grow:
            self.grow(token)
        if self.plan.left and not self._row_by_row(token):
            self._make_room(token)

    def _row_by_row(self, token: Token) -> bool:
        """Crowd all in with ever more rows fallen apart, the longest first; return whether all lies."""
        rows = that_go_in(self.pieces, self.plan.bed)
        if sum(piece.copies for piece in rows) > _FEW:
            return False
        for _ in range(_FALLEN_APART):
            apart = longest_apart(rows)
            if apart is None:
                return False
            if self._whole_in(apart, token):
                return True
            rows = apart
        return False

    def _whole_in(self, pieces: Sequence[Piece], token: Token, *, is_roomy: bool = False) -> bool:
        return whole_in(self.plan, pieces, chance=self.chance, token=token, is_roomy=is_roomy)

    def lay_all(self, pieces: Sequence[Piece], token: Token) -> None:
        """Lay pieces one by one beside what lies, in the order of the way. Raises Cancelled like `lay`."""
        self.lay_left(self.plan, _order(pieces, self.way, self.chance), self.leaning, token)

    def lay_left(self, plan: Plan, order: Sequence[Piece], leaning: Leaning | None, token: Token) -> None:
        """Lay pieces in just this order; rows that find no place fall apart. What finds none is left over in the plan.

        leaning: None where nothing counts but that it fits. Raises Cancelled, and says what it did not come to.
        """
        waiting = list(order)
        plan.left = waiting
        missed: list[Piece] = []
        noise = self.way.noise if leaning is not None else 0.0
        while waiting:
            self.untried = waiting
            token.step(1.0 - len(waiting) / max(len(order), len(waiting)))
            piece = waiting.pop(0)
            if not plan.lay_whole(piece, leaning, chance=self.chance, noise=noise):
                if piece.is_whole:
                    missed.append(piece)
                else:  # a row falls apart, and its parts are next: step by step, a set may be large
                    waiting = [*piece.instead, *waiting]
            plan.left = missed + waiting
        plan.left, self.untried = missed, []

    @property
    def may_grow(self) -> bool:
        """Whether there is a larger bed left to try, and something lies nowhere, or a row not as a whole."""
        plan = self.plan
        return bool(self._growths) and (bool(plan.left) or any(plan.is_apart(row) for row in plan.rows))

    def grow(self, token: Token) -> None:
        """Lay everything in the next larger bed, and push it together; it is kept if it is worth more.

        Takes as long as laying everything one by one. Raises Cancelled; what lay stays.
        """
        plan, growth, untried = self.plan, self._growths.pop(0), self.untried
        try:
            grown = self._in_larger(growth, token)
        except Cancelled:
            self.untried = untried
            raise
        if grown.left:
            return
        bodies = pushed_together(grown.bodies(), plan.bed, growth, token)
        if bodies is None:  # nor does what begins farther apart
            self._growths = []
            return
        kept, before = plan.remember(), plan.worth()
        windows = [plan.grid.window_of(body.shape, body.form.wall_mm) for body in bodies]
        laid = [Laid(one.piece, one.form, *_at(at), window) for one, at, window in zip(grown.laid, bodies, windows)]
        plan.recall((laid, []))
        if plan.worth() >= before:
            plan.recall(kept)

    def _in_larger(self, growth: float, token: Token) -> Plan:
        """Return everything laid in a bed so many times as wide and deep, what finds no place there left over."""
        plan = self.plan
        bed = larger(plan.bed, growth)
        aims = plan.aims.in_room(bed.room)
        leaning = Leaning(aims, self.way.weights, corner=self.way.corner, lengthways=self.way.lengthways)
        grown = Plan(bed, aims, self.way.weights, grid=Grid(bed), always=plan.always)
        self.lay_left(grown, _order(self.pieces, self.way, self.chance), leaning, token)
        return grown

    def _make_room(self, token: Token) -> None:
        """Other orders and no wishes, then a crowd: whatever leaves least over."""
        plan = self.plan
        for attempt in range(3):
            kept, before = plan.remember(), _left(plan)
            if not before:
                return
            plan.recall(([], []))
            singles = taken_apart(self.pieces) if attempt else self.pieces
            # Each way in its own order, by its noise: without it all that must make room would end in the same plan.
            noise = self.way.noise
            shaken = {one.key: 1.0 + (noise and noise * self.chance.uniform(-1, 1)) for one in singles}
            order = sorted(singles, key=lambda one: (-one.size[(attempt + 1) % 2] * shaken[one.key], one.key))
            try:
                self.lay_left(plan, order, None, token)
            except Cancelled:
                if _left(plan) >= before:
                    plan.recall(kept)
                    self.untried = []
                raise
            if _left(plan) >= before:
                plan.recall(kept)
        if plan.left:
            crowded_in(plan, chance=self.chance, token=token)


def _order(pieces: Sequence[Piece], way: Way, chance: random.Random) -> list[Piece]:
    """Return the order to lay in: group by group, the heavier group first, and in it large things first.

    Chance has its say by the way's noise.
    """
    weight: dict[str, float] = {}
    for piece in pieces:
        weight[piece.group] = weight.get(piece.group, 0.0) + piece.size[0]
    shaken = {group: total * (1.0 + 3.0 * way.noise * chance.uniform(-1, 1)) for group, total in sorted(weight.items())}
    return sorted(pieces, key=lambda one: (-shaken[one.group], one.group, -one.size[0], one.key))


def _left(plan: Plan) -> int:
    return sum(piece.copies for piece in plan.left)


def _at(body: Body) -> tuple[float, float, float]:
    return body.x_mm, body.y_mm, body.angle_deg
