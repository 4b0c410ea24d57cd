"""When pieces are left over: all of them at once into the bed, overlapping, and calmed until walls hold."""

from __future__ import annotations

import math
import random
from collections.abc import Sequence

from cozy_burrow.core.arrange.contacts import Body
from cozy_burrow.core.arrange.crowd import Crowd, Lair
from cozy_burrow.core.arrange.pieces import Bed, Piece, goes_in, taken_apart
from cozy_burrow.core.arrange.placing_in import Laid
from cozy_burrow.core.arrange.plan import Plan
from cozy_burrow.core.arrange.squeeze import separated
from cozy_burrow.core.progress import Token

_CELLS_ACROSS = 190
FULL = 0.93  # of the bed that grown shapes may cover before calming them, or pushing them together, is hopeless
_ROUNDS = (30, 45, 60)  # of one more, or rows whole; of single things with pulls; of the same without
_ATTEMPTS = 3
_STEPS = 12  # of settling what calmed down on the true shapes
_SPREAD = (15.0, 30.0, 45.0, 60.0, 75.0)


def wider_angles(piece: Piece, bed: Bed) -> tuple[float, ...]:
    """Return the angles worth trying where room is short: the tidy ones, and diagonals for what is long."""
    left, top, right, bottom = bed.room
    if piece.size[1] < 0.85 * min(right - left, bottom - top):
        return piece.angles_deg
    base = piece.angles_deg[0]
    more = [(base + turn + half) % 360.0 for turn in _SPREAD for half in (0.0, 90.0)]
    return tuple(dict.fromkeys((*piece.angles_deg, *more)))


def one_more_in(plan: Plan, *, chance: random.Random, token: Token) -> bool:
    """Change the plan to one where one more thing lies than before, where calming a crowd finds one.

    A small thing is likelier to be tried than a large one. What lies keeps its form, or gives its pull up in every
    other try; rows stay whole, or fall apart. Return whether it came about. Raises Cancelled like crowded_in.
    """
    waiting = taken_apart(plan.left)
    if not waiting:
        return False
    one = min(chance.sample(waiting, min(3, len(waiting))), key=lambda piece: (piece.size[0], piece.key))
    small = chance.random() < 0.5
    there = {laid.piece.key: laid for laid in plan.laid}
    if small:
        there = {key: laid for key, laid in there.items() if len(laid.lying) <= 1}
    lying = taken_apart([laid.piece for laid in plan.laid]) if small else [laid.piece for laid in plan.laid]
    pieces = [*lying, one]
    forms = [_least(piece) if small or piece is one else there[piece.key].form for piece in pieces]
    if cover(pieces, forms) > FULL * plan.bed.area.area:
        return False
    bodies = _calmed(pieces, forms, there, plan.bed, _ROUNDS[0], chance, token)
    if bodies is None:
        return False
    rest = [piece for piece in waiting if piece is not one]
    _lay_bodies(plan, pieces, forms, bodies, rest)
    return True


def whole_in(
    plan: Plan, pieces: Sequence[Piece], *, chance: random.Random, token: Token, is_roomy: bool = False
) -> bool:
    """Change the plan to one where all of these lie, as whole rows where calming a crowd finds that; return whether.

    is_roomy: in their best forms first. Else, and then, in the smallest that bring a pull; from where they lie, then
    from anywhere. Raises Cancelled; the plan is then as it was.
    """
    there = {one.piece.key: one for one in plan.laid}
    tried: set[tuple[int, ...]] = set()
    for pick in (_best, _small) if is_roomy else (_small,):
        forms = tuple(_going_in(piece, plan.bed, pick(piece)) for piece in pieces)
        if forms in tried or cover(pieces, forms) > FULL * plan.bed.area.area:
            continue
        tried.add(forms)
        for known in (there, *[{}] * (_ATTEMPTS - 1)):
            bodies = _calmed(pieces, forms, known, plan.bed, _ROUNDS[0], chance, token, is_straight=True)
            if bodies is not None:
                _lay_bodies(plan, pieces, forms, bodies, [])
                return True
    return False


def that_go_in(pieces: Sequence[Piece], bed: Bed) -> list[Piece]:
    """Return the pieces, for a row that is too long for the bed in each of its forms what it falls apart into."""
    found: list[Piece] = []
    for piece in pieces:
        is_in = piece.is_whole or any(goes_in(form.shape, piece.angles_deg, bed) for form in piece.forms)
        found += [piece] if is_in else that_go_in(piece.instead, bed)
    return found


def longest_apart(pieces: Sequence[Piece]) -> list[Piece] | None:
    """Return the pieces with the row of most things fallen apart into its parts; None where there is no row."""
    rows = [piece for piece in pieces if not piece.is_whole]
    if not rows:
        return None
    longest = max(rows, key=lambda row: (row.copies, row.size[0], row.key))
    return [part for piece in pieces for part in (piece.instead if piece is longest else (piece,))]


def crowded_in(plan: Plan, *, chance: random.Random, token: Token) -> bool:
    """Change the plan to one where everything lies, where calming a crowd finds one; return whether it did.

    Rows are taken apart. Forms are the smallest that bring a pull, then the smallest for all. Raises Cancelled; the
    plan is then as it was.
    """
    there = {one.piece.key: one for one in plan.laid if len(one.lying) <= 1}
    pieces = taken_apart([*(one.piece for one in plan.laid), *plan.left])
    tried: set[tuple[int, ...]] = set()
    for pick, rounds in zip((_small, _least), _ROUNDS[1:]):
        forms = tuple(pick(piece) for piece in pieces)
        if forms in tried or cover(pieces, forms) > FULL * plan.bed.area.area:
            continue
        tried.add(forms)
        bodies = None
        for attempt in range(_ATTEMPTS):  # from what lies there, then from anywhere
            bodies = _calmed(pieces, forms, there if attempt == 0 else {}, plan.bed, rounds, chance, token)
            if bodies is not None:
                break
        if bodies is None:
            continue
        _lay_bodies(plan, pieces, forms, bodies, [])
        return True
    return False


def _lay_bodies(
    plan: Plan, pieces: Sequence[Piece], forms: Sequence[int], bodies: Sequence[Body], rest: Sequence[Piece]
) -> None:
    plan.laid, plan.left = [], list(rest)
    for piece, form, body in zip(pieces, forms, bodies):
        window = plan.grid.window_of(body.shape, body.form.wall_mm)
        plan.laid.append(Laid(piece, form, body.x_mm, body.y_mm, body.angle_deg, window))
    plan.retake()


def _going_in(piece: Piece, bed: Bed, form: int) -> int:
    """Return the form, or where it is too long for the bed the best that is not."""
    going = [n for n, one in enumerate(piece.forms) if goes_in(one.shape, piece.angles_deg, bed)]
    return form if form in going or not going else going[0]


def _best(piece: Piece) -> int:
    return 0


def _small(piece: Piece) -> int:
    """Return the smallest form that still brings what the best brings: a pull."""
    with_tag = [n for n, form in enumerate(piece.forms) if form.tag is not None] or [0]
    return min(with_tag, key=lambda n: (piece.forms[n].shape.area, n))


def _least(piece: Piece) -> int:
    return len(piece.forms) - 1


def cover(pieces: Sequence[Piece], forms: Sequence[int]) -> float:
    """Return the area in mm² of pieces in these of their forms, each with half its wall round it."""
    return sum(
        float(piece.forms[form].shape.buffer(piece.forms[form].wall_mm / 2, quad_segs=4).area)
        for piece, form in zip(pieces, forms)
    )


def _calmed(
    pieces: Sequence[Piece],
    forms: Sequence[int],
    there: dict[tuple[str, int], Laid],
    bed: Bed,
    rounds: int,
    chance: random.Random,
    token: Token,
    *,
    is_straight: bool = False,
) -> list[Body] | None:
    """Return everything calmed down and settled on the true shapes. is_straight: at tidy angles only."""
    left, top, right, bottom = bed.room
    lair = Lair(bed, cell_mm=max(0.8, math.sqrt((right - left) * (bottom - top)) / _CELLS_ACROSS))
    shapes = [piece.forms[form] for piece, form in zip(pieces, forms)]
    angles = [piece.angles_deg if is_straight else wider_angles(piece, bed) for piece in pieces]
    crowd = Crowd(lair, shapes, angles, chance)
    new = []
    for index, piece in enumerate(pieces):
        known = there.get(piece.key)
        if known is not None:
            crowd.lay_at(index, known.x_mm, known.y_mm, known.angle_deg)
        else:
            crowd.lay_at(index, chance.uniform(left, right), chance.uniform(top, bottom), piece.angles_deg[0])
            new.append(index)
    for index in new:
        token.step(0.5)
        crowd.move(index)
    if not crowd.calm(token, rounds=rounds, enough=0.25 * len(pieces)):
        return None
    loose = [Body(form, x, y, angle) for form, (x, y, angle) in zip(shapes, crowd.positions())]
    return separated(loose, bed, steps=_STEPS, may_turn=not is_straight, token=token)
