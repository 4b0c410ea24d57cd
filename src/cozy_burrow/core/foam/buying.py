"""The cheapest buy for all blanks of a job: an integer programme over ways to cut a board.

min  packs·price + deliveries + a trace of foam used     so that every blank is cut at least once, no piece of the
shelf twice, no more boards are cut than packs hold, and a delivery is paid where anything is ordered there, unless
the order reaches the value from which it is free. Solved by HiGHS through SciPy's `milp`.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from shapely import affinity
from shapely.geometry import Polygon

from cozy_burrow.core.foam.purchase import CutBoard, Order, Purchase, Wanted
from cozy_burrow.core.foam.ways import Supply, alike_in, by_foam, find_ways, most_together, same_blank
from cozy_burrow.core.model.vessels import Stores, Supplier
from cozy_burrow.core.progress import Quiet, Token

MOST_BLANKS = 16  # of one kind of foam in one job, for a plan that is proven cheapest
_TRACE = 1e-7  # price of a square millimetre: of two equally dear plans the one that leaves larger boards whole


def plan_purchase(wanted: Sequence[Wanted], stores: Stores, *, token: Token | None = None) -> Purchase:
    """Return how to cut all wanted blanks at the least cost from shelf and price list. Raises Cancelled."""
    supplies = [Supply(board, None) for board in stores.boards if board.price is not None]
    supplies += [Supply(piece.board, piece) for piece in stores.shelf]
    short: list[tuple[Wanted, str]] = []
    proven = True
    for group, mine in by_foam(wanted, supplies):
        if not mine:
            short += [(wanted[n], "no_board") for n in group]
            continue
        proven = proven and len(group) <= MOST_BLANKS
        for start in range(0, len(group), MOST_BLANKS):
            find_ways(group[start : start + MOST_BLANKS], wanted, mine, stores, token or Quiet())
        covered = 0
        for one in mine:
            for way in one.ways:
                covered |= way.bits
        firsts = alike_in(group, wanted)
        short += [(wanted[n], "too_large") for n, first in zip(group, firsts) if not covered >> group[first] & 1]
        # Where as many as are ever tried together go on one board, even more might.
        most = most_together(min(len(group), MOST_BLANKS))
        proven = proven and not (len(group) > most and any(w.bits.bit_count() >= most for s in mine for w in s.ways))
    return _solved(wanted, supplies, stores, short, proven=proven)


def _solved(
    wanted: Sequence[Wanted],
    supplies: list[Supply],
    stores: Stores,
    short: list[tuple[Wanted, str]],
    *,
    proven: bool,
) -> Purchase:
    """Set the integer programme up and solve it."""
    left_out = {id(one) for one, _ in short}
    kinds = _kinds(wanted, left_out)
    cuts = [(s, way) for s, one in enumerate(supplies) for way in range(len(one.ways))]
    priced = [s for s, one in enumerate(supplies) if one.piece is None and one.ways]
    sellers = sorted({supplies[s].board.supplier for s in priced})
    if not kinds or not cuts:
        return Purchase((), (), (), tuple(short), proven=proven)
    columns = len(cuts) + len(priced) + 2 * len(sellers)
    packs_at = {s: len(cuts) + n for n, s in enumerate(priced)}
    pay_at = {name: len(cuts) + len(priced) + n for n, name in enumerate(sellers)}
    free_at = {name: len(cuts) + len(priced) + len(sellers) + n for n, name in enumerate(sellers)}
    known = {one.name: one for one in stores.suppliers}
    cost, upper = np.zeros(columns), np.full(columns, float(len(wanted)))
    rows: list[tuple[NDArray[np.float64], float]] = []  # row · x >= limit
    for members in kinds:
        row = np.zeros(columns)
        for column, (s, way) in enumerate(cuts):
            row[column] = sum(1 for n in members if supplies[s].ways[way].bits >> n & 1)
        rows.append((row, float(len(members))))
    for s, one in enumerate(supplies):
        mine = [column for column, (owner, _) in enumerate(cuts) if owner == s]
        if not mine:
            continue
        row = np.zeros(columns)
        row[mine] = -1.0
        if one.piece is None:
            row[packs_at[s]] = float(one.board.pack)
        rows.append((row, 0.0 if one.piece is None else -1.0))
        cost[mine] = _TRACE * one.outline.area
    for s in priced:
        board = supplies[s].board
        cost[packs_at[s]] = board.price or 0.0
        row = np.zeros(columns)
        row[pay_at[board.supplier]], row[free_at[board.supplier]] = len(wanted) * 2.0 + 64, len(wanted) * 2.0 + 64
        row[packs_at[s]] = -1.0
        rows.append((row, 0.0))
        upper[packs_at[s]] = len(wanted) * 2.0 + 64
    for name in sellers:
        seller = known.get(name)
        cost[pay_at[name]] = seller.delivery if seller is not None else 0.0
        upper[pay_at[name]] = upper[free_at[name]] = 1.0
        row = np.zeros(columns)
        if seller is None or seller.free_from is None:
            upper[free_at[name]] = 0.0
            continue
        for s in priced:
            if supplies[s].board.supplier == name:
                row[packs_at[s]] = supplies[s].board.price or 0.0
        row[free_at[name]] = -seller.free_from
        rows.append((row, 0.0))
    answer = _milp(cost, upper, rows)
    if answer is None:
        return Purchase((), (), (), tuple(short), proven=False)
    whole, best = answer
    return _read(whole, wanted, supplies, cuts, kinds, packs_at, pay_at, known, short, proven=proven and best)


def _kinds(wanted: Sequence[Wanted], left_out: set[int]) -> list[list[int]]:
    """Return the blanks that are alike in foam and outline, together: of these only the number matters."""
    found: list[list[int]] = []
    for n, one in enumerate(wanted):
        if id(one) in left_out:
            continue
        for members in found:
            first = wanted[members[0]]
            if same_blank(first, one):
                members.append(n)
                break
        else:
            found.append([n])
    return found


def _milp(
    cost: NDArray[np.float64], upper: NDArray[np.float64], rows: list[tuple[NDArray[np.float64], float]]
) -> tuple[NDArray[np.int_], bool] | None:
    """Return whole numbers of least cost and whether none are cheaper; None where there are none in time."""
    from scipy.optimize import Bounds, LinearConstraint, milp

    matrix, limits = np.array([row for row, _ in rows]), np.array([limit for _, limit in rows])
    result = milp(
        cost,
        constraints=LinearConstraint(matrix, lb=limits),
        integrality=np.ones(len(cost), dtype=np.int64),
        bounds=Bounds(np.zeros(len(cost)), upper),
        options={"time_limit": 20.0, "mip_rel_gap": 0.0},
    )
    return (np.round(result.x).astype(int), result.status == 0) if result.x is not None else None


def _read(
    answer: NDArray[np.int_],
    wanted: Sequence[Wanted],
    supplies: list[Supply],
    cuts: list[tuple[int, int]],
    kinds: list[list[int]],
    packs_at: dict[int, int],
    pay_at: dict[str, int],
    known: dict[str, Supplier],
    short: list[tuple[Wanted, str]],
    *,
    proven: bool,
) -> Purchase:
    """Return the programme's answer as boards with blanks on them; a blank cut once too often is left on the board."""
    kind_of = {n: number for number, members in enumerate(kinds) for n in members}
    waiting = [list(members) for members in kinds]
    boards = []
    for column, (s, way) in enumerate(cuts):
        for _ in range(int(answer[column])):
            laid = []
            x, y, angle = supplies[s].ways[way].spot
            for local, ring in supplies[s].ways[way].cluster.laid:
                number = kind_of.get(supplies[s].ways[way].numbers[local])
                if number is None or not waiting[number]:
                    continue
                whose = wanted[waiting[number].pop(0)]
                turned = affinity.rotate(Polygon(ring), angle, origin=(0, 0))
                laid.append((whose, affinity.translate(turned, x, y)))
            if laid:
                one = supplies[s]
                boards.append(CutBoard(one.board, one.piece, one.outline, tuple(laid)))
    orders = tuple(
        Order(board=supplies[s].board, packs=int(answer[column])) for s, column in packs_at.items() if answer[column]
    )
    deliveries = tuple(
        (name, known[name].delivery)
        for name, column in pay_at.items()
        if answer[column] and name in known and known[name].delivery
    )
    return Purchase(tuple(boards), orders, deliveries, tuple(short), proven=proven)
