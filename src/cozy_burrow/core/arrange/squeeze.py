"""Squeeze: all bodies move and turn a little at once, on their true shapes, so that walls hold and room is won.

One step is a linear programme over the moves and turns of all bodies (HiGHS): every near place is a row that says
how much foam stays there. What is missing is paid for dearly, what is wanted (a shorter strip, pieces drawn
towards a point) cheaply. Steps repeat, each no longer than a trust radius, measured anew every time.
Source: Li and Milenkovic 1995, compaction and separation of polygons by linear programmes; turns added here.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from cozy_burrow.core.arrange.contacts import Body, Contacts, contacts_of, shortfalls
from cozy_burrow.core.arrange.pieces import Bed
from cozy_burrow.core.progress import Token

_SPARE_MM = 0.01  # kept beyond every wall: what turning bends away from the straight rows
_DEAR = 1000.0


class Pulling:
    """What a step is paid for: per body a direction in which a millimetre earns its length (n, 2)."""

    def __init__(self, toward: NDArray[np.float64], *, shorten: float = 0.0) -> None:
        self.toward, self.shorten = toward, shorten


def step(
    bodies: Sequence[Body],
    bed: Bed,
    *,
    pulling: Pulling,
    trust_mm: float,
    may_turn: bool = True,
    held: frozenset[int] = frozenset(),
) -> list[Body] | None:
    """Return all bodies after one step, or None where the programme has no answer.

    pulling.shorten: what each millimetre earns by which the rightmost point of all comes to the left.
    """
    from scipy.optimize import linprog
    from scipy.sparse import coo_array

    contacts = contacts_of(bodies, bed, reach_mm=2.2 * trust_mm)
    count = len(bodies)
    rows = len(contacts.distance)
    slack = 3 * count  # one slack a contact
    length = slack + rows
    data: list[NDArray[np.float64]] = []
    at_row: list[NDArray[np.int64]] = []
    at_column: list[NDArray[np.int64]] = []

    def put(row: NDArray[np.int64], column: NDArray[np.int64], value: NDArray[np.float64]) -> None:
        at_row.append(row)
        at_column.append(column)
        data.append(value)

    number = np.arange(rows)
    _moves(contacts, bodies, number, put)
    put(number, slack + number, -np.ones(rows))
    limit = contacts.distance - contacts.wanted - _SPARE_MM
    if pulling.shorten > 0:
        tips = [_rightmost(body, 2.2 * trust_mm) for body in bodies]
        body_of = np.concatenate([np.full(len(tip), i) for i, tip in enumerate(tips)])
        points = np.concatenate(tips)
        more = rows + np.arange(len(points))
        origin = np.array([[body.x_mm, body.y_mm] for body in bodies])
        put(more, 3 * body_of, np.ones(len(points)))
        put(more, 3 * body_of + 2, -(points[:, 1] - origin[body_of, 1]))
        put(more, np.full(len(points), length), -np.ones(len(points)))
        limit = np.concatenate([limit, -points[:, 0]])
    matrix = coo_array(
        (np.concatenate(data), (np.concatenate(at_row), np.concatenate(at_column))), shape=(len(limit), length + 1)
    )
    cost = np.concatenate([np.zeros(slack), np.full(rows, _DEAR), [pulling.shorten]])
    cost[0:slack:3] -= pulling.toward[:, 0]
    cost[1:slack:3] -= pulling.toward[:, 1]
    bounds = np.zeros((length + 1, 2))
    turn = np.array([trust_mm / max(5.0, body.reach_mm) if may_turn else 0.0 for body in bodies])
    free = np.array([0.0 if i in held else 1.0 for i in range(count)])
    for axis in (0, 1):
        bounds[axis:slack:3] = np.array([-trust_mm, trust_mm]) * free[:, None]
    bounds[2:slack:3] = np.stack([-turn, turn], axis=1) * free[:, None]
    bounds[slack:length, 1] = np.inf
    bounds[length] = (-np.inf, np.inf) if pulling.shorten > 0 else (0.0, 0.0)
    answer = linprog(cost, A_ub=matrix.tocsr(), b_ub=limit, bounds=bounds, method="highs")  # type: ignore[call-overload]
    if answer.x is None:
        return None
    moves = answer.x[:slack].reshape(-1, 3)
    return [
        body
        if not move.any()
        else Body(body.form, body.x_mm + move[0], body.y_mm + move[1], body.angle_deg + float(np.degrees(move[2])))
        for body, move in zip(bodies, moves)
    ]


def _moves(
    contacts: Contacts,
    bodies: Sequence[Body],
    number: NDArray[np.int64],
    put: Callable[[NDArray[np.int64], NDArray[np.int64], NDArray[np.float64]], None],
) -> None:
    """Put the moves of both bodies of every contact into the rows `-change of distance - slack <= to spare`."""
    origin = np.array([[body.x_mm, body.y_mm] for body in bodies] or [[0.0, 0.0]])
    for who, at, sign in ((contacts.first, contacts.first_at, 1.0), (contacts.second, contacts.second_at, -1.0)):
        moving = who >= 0
        body, toward = who[moving], contacts.toward[moving] * sign
        arm = at[moving] - origin[body]
        put(number[moving], 3 * body, toward[:, 0])
        put(number[moving], 3 * body + 1, toward[:, 1])
        put(number[moving], 3 * body + 2, -toward[:, 0] * arm[:, 1] + toward[:, 1] * arm[:, 0])


def _rightmost(body: Body, reach_mm: float) -> NDArray[np.float64]:
    points = body.points
    near = points[points[:, 0] > points[:, 0].max() - reach_mm]
    tips: NDArray[np.float64] = near[np.argsort(-near[:, 0], kind="stable")[:6]]
    return tips


def separated(
    bodies: Sequence[Body],
    bed: Bed,
    *,
    steps: int = 8,
    trust_mm: float = 5.0,
    may_turn: bool = True,
    shorten: float = 0.0,
    token: Token | None = None,
) -> list[Body] | None:
    """Return the bodies moved and turned a little until every wall holds, or None where that did not come about.

    shorten: what a shorter strip is worth meanwhile, against a thousand for a missing millimetre.
    token: asked before every step, which takes a second where there are hundreds of bodies; may raise Cancelled.
    """
    still = Pulling(np.zeros((len(bodies), 2)), shorten=shorten)
    now: list[Body] = list(bodies)
    for number in range(steps):
        if token is not None:
            token.step(number / steps)
        missing, beyond = shortfalls(now, bed)
        if missing <= 0 and beyond <= 0:
            return now
        if number:  # what turns bend grows with the square of the step: short steps land
            trust_mm = min(trust_mm, max(0.3, 3.0 * (missing + beyond)))
        moved = step(now, bed, pulling=still, trust_mm=trust_mm, may_turn=may_turn)
        if moved is None:
            return None
        now = moved
    missing, beyond = shortfalls(now, bed)
    return now if missing <= 0 and beyond <= 0 else None


def pressed(
    bodies: Sequence[Body],
    bed: Bed,
    *,
    pulling: Callable[[Sequence[Body]], Pulling],
    worth: Callable[[Sequence[Body]], float],
    steps: int = 12,
    trust_mm: float = 6.0,
    may_turn: bool = True,
) -> list[Body]:
    """Return valid bodies pressed the way they are pulled, as long as `worth` (smaller is better) falls.

    bodies: valid. Every result kept on the way is valid.
    """
    best = now = list(bodies)
    least = worth(best)
    for _ in range(steps):
        moved = step(now, bed, pulling=pulling(now), trust_mm=trust_mm, may_turn=may_turn)
        if moved is None:
            break
        if shortfalls(moved, bed) != (0.0, 0.0):
            mended = separated(moved, bed, steps=3, trust_mm=1.0, may_turn=may_turn)
            if mended is None:
                trust_mm *= 0.5
                if trust_mm < 0.3:
                    break
                continue
            moved = mended
        value = worth(moved)
        if value < least - 0.02:
            best, least, now = moved, value, moved
        else:
            trust_mm *= 0.5
            if trust_mm < 0.3:
                break
    return best


def length_mm(bodies: Sequence[Body]) -> float:
    """Return the x of the rightmost point of all."""
    return max((float(shapely.bounds(body.shape)[2]) for body in bodies), default=0.0)
