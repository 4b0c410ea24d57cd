"""In which order the lines of a sheet are cut, and why each has its turn.

Rules, the stronger first; each holds within what those before it leave open:

PULLS_LAST   finger pulls come after all pockets: a wall that a pull makes thin is cut while it is still held
OUTSIDE_IN   openings near a corner of the sheet first, those in the middle last: the sheet moves as it is weakened,
             and what is cut at its rim can't be shifted any more. Three belts, so that the rules below have room
SINK_FIRST   of a thing that is marked by hand and floats over the foam, the deep part first: it is sunk, and the rest
             is marked where it then lies
UNDER_LATER  an under-pocket after the pocket above it, once that is peeled
SAME_BLADE   equal settings of the blade together, the shallow ones first
ALONG_RULE   lines that run along a rule together
SHORT_WAY    from each line to the next on the shortest way round
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from itertools import pairwise
from types import MappingProxyType

import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray

from cozy_burrow.core.bench.cut import Cut, Reason
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.progress import make_way

BELTS = 3
RULED_SHARE = 0.6  # of a line that runs straight: then it is cut along a rule, the rest by hand
_EXACT = 8  # lines of one kind whose order is tried in full
_ROUNDS = 60  # of bettering a longer one
_IN_A_ROW = 3  # lines that are put elsewhere together, at most
NOTHING: Mapping[str, str] = MappingProxyType({})
Bounds = tuple[float, float, float, float]
_Cell = tuple[float, ...]  # what comes before what, the strongest rule first


def routed(
    cuts: Sequence[Cut],
    extent: Bounds,
    *,
    floats: frozenset[str] = frozenset(),
    under: Mapping[str, str] = NOTHING,
    own: Sequence[str] = (),
) -> tuple[Cut, ...]:
    """Return the cuts of a sheet in the order of the work, numbered, each with why it comes now.

    extent: of the sheet. floats: openings of things that float over the foam where they are marked by hand. under: the
    pocket above each under-pocket. own: keys in the fitter's own order, which goes before all rules; what it does not
    name follows what it would follow by the rules.
    """
    belts = belts_of(cuts, extent)
    for lower, upper in under.items():
        if lower in belts and upper in belts:
            belts[lower] = max(belts[lower], belts[upper])
    cells: dict[_Cell, list[Cut]] = {}
    for cut in cuts:
        cells.setdefault(_cell(cut, belts[cut.name], cut.name in floats, cut.name in under), []).append(cut)
    kept = [cells[key] for key in sorted(cells)]
    order = [cut for cell in shortest(kept, start=(extent[0], extent[1])) for cut in cell]
    mine = _by_own(order, own) if own else order
    numbered: list[Cut] = []
    for number, cut in enumerate(mine, start=1):
        why = _why(cut, numbered, belts, floats, under)
        breaks = _breaks(cut, mine[number:], belts, floats, under) if own else ()
        numbered.append(replace(cut, number=number, why=why, breaks=breaks))
    return tuple(numbered)


def _by_own(order: list[Cut], own: Sequence[str]) -> list[Cut]:
    places = {key: number for number, key in enumerate(own)}
    found = sorted((cut for cut in order if cut.key in places), key=lambda cut: places[cut.key])
    for number, cut in enumerate(order):
        if cut.key not in places:
            found.insert(found.index(order[number - 1]) + 1 if number else 0, cut)
    return found


def _breaks(
    cut: Cut, later: Sequence[Cut], belts: dict[str, int], floats: frozenset[str], under: Mapping[str, str]
) -> tuple[Reason, ...]:
    """Return the rules that want something of what comes later before a cut."""
    found: list[Reason] = []
    if cut.kind == "pull" and any(one.kind != "pull" for one in later):
        found.append("PULLS_LAST")
    if any(one.kind == cut.kind and belts[one.name] < belts[cut.name] for one in later):
        found.append("OUTSIDE_IN")
    if cut.name in floats and any(one.name == cut.name and one.blade_mm > cut.blade_mm for one in later):
        found.append("SINK_FIRST")
    if cut.name in under and any(one.name == under[cut.name] for one in later):
        found.append("UNDER_LATER")
    return tuple(found)


def belts_of(cuts: Sequence[Cut], extent: Bounds) -> dict[str, int]:
    """Return in which belt of the sheet each opening lies, 0 (its corners) to BELTS - 1 (its middle).

    An opening counts where it comes nearest to a corner; belts are equally wide, up to the corner's distance from the
    middle of the sheet.
    """
    left, top, right, bottom = extent
    corners = np.array([(left, top), (right, top), (left, bottom), (right, bottom)])
    reach: dict[str, float] = {}
    for cut in cuts:
        line = np.array(cut.line)
        nearest = float(np.hypot(*(line[:, None, :] - corners).transpose(2, 0, 1)).min())
        reach[cut.name] = min(reach.get(cut.name, math.inf), nearest)
    whole = math.hypot(right - left, bottom - top) / 2
    return {name: min(BELTS - 1, int(BELTS * each / max(whole, 1e-6))) for name, each in reach.items()}


def start_of(cut: Cut) -> Point:
    """Return where the knife is set on: the corner of the line that is farthest back, the leftmost of these."""
    return min(cut.line, key=lambda at: (round(at[1], 3), at[0]))


def is_ruled(cut: Cut) -> bool:
    """Whether a line is cut along a rule."""
    return cut.straight_mm >= RULED_SHARE * max(cut.length_mm, 1e-6)


def _cell(cut: Cut, belt: int, floats: bool, is_under: bool) -> _Cell:
    """Return the place of a cut among all, but for the way of the hand.

    Deep parts of what floats come before all else in their belt, the deepest first: they are sunk, and the rest is
    marked while the other lines are cut.
    """
    is_pull = float(cut.kind == "pull")
    if floats and not is_under:
        return is_pull, float(belt), 0.0, -cut.blade_mm, 0.0
    return is_pull, float(belt), 2.0 if is_under else 1.0, cut.blade_mm, 0.0 if is_ruled(cut) else 1.0


def _why(
    cut: Cut, before: Sequence[Cut], belts: dict[str, int], floats: frozenset[str], under: Mapping[str, str]
) -> tuple[Reason, ...]:
    """Return the rules by which a cut comes after those before it, the strongest first."""
    found: list[Reason] = []
    last = before[-1] if before else None
    if cut.kind == "pull" and (last is None or last.kind != "pull"):
        found.append("PULLS_LAST")
    if last is None or last.kind != cut.kind or belts[last.name] != belts[cut.name]:
        found.append("OUTSIDE_IN")
    if cut.name in under:
        found.append("UNDER_LATER")
    elif cut.name in floats:
        is_first = all(one.name != cut.name for one in before)
        found.append("SINK_FIRST" if is_first else "MARK_NOW")
    if last is not None and abs(last.blade_mm - cut.blade_mm) < 1e-6:
        found.append("SAME_BLADE")
    if is_ruled(cut) and last is not None and is_ruled(last):
        found.append("ALONG_RULE")
    return tuple(found) or ("SHORT_WAY",)


def shortest(cells: Sequence[Sequence[Cut]], start: Point) -> list[list[Cut]]:
    """Return cells, one after the other, each in the order in which the hand has the shortest way through all of them.

    Exact where no cell holds more than _EXACT cuts: of every cell all orders count, and where each leaves the hand for
    the next. In a longer one the order is bettered as long as that shortens it, from its nearest neighbours on.
    """
    ends: list[tuple[float, Point, list[list[Cut]]]] = [(0.0, start, [])]
    for cell in cells:
        make_way()
        spots = np.array([start_of(cut) for cut in cell])
        entries = np.array([at for _, at, _ in ends])
        into = np.hypot(*(entries[:, None, :] - spots).transpose(2, 0, 1)) + np.array([[way] for way, _, _ in ends])
        best = into.argmin(axis=0)  # from where each of the cell's cuts is reached soonest
        first = into.min(axis=0)
        between = np.hypot(*(spots[:, None, :] - spots).transpose(2, 0, 1))
        found = _all_orders(first, between) if len(cell) <= _EXACT else [_bettered(first, between)]
        ends = [
            (way, (float(spots[order[-1]][0]), float(spots[order[-1]][1])),
             [*ends[best[order[0]]][2], [cell[n] for n in order]])
            for way, order in found
        ]  # fmt: skip
    return min(ends, key=lambda end: end[0])[2]


def _all_orders(first: NDArray[np.float64], between: NDArray[np.float64]) -> list[tuple[float, list[int]]]:
    """Return, for each cut as the last one, the shortest way through all: by growing sets (Held and Karp)."""
    count = len(first)
    ways: dict[tuple[int, int], tuple[float, list[int]]] = {(1 << n, n): (float(first[n]), [n]) for n in range(count)}
    for _ in range(count - 1):
        longer: dict[tuple[int, int], tuple[float, list[int]]] = {}
        for (seen, last), (way, order) in ways.items():
            for n in range(count):
                if seen & (1 << n):
                    continue
                key, total = (seen | 1 << n, n), way + float(between[last, n])
                if key not in longer or total < longer[key][0]:
                    longer[key] = total, [*order, n]
        ways = longer
    return [ways[key] for key in sorted(ways)]


def _bettered(first: NDArray[np.float64], between: NDArray[np.float64]) -> tuple[float, list[int]]:
    """Return a short way through many: nearest neighbours, then stretches turned round or put elsewhere."""
    count = len(first)
    # From each to each as plain figures, looked up some ten thousand times; the last row is where the hand comes from,
    # the last column is nowhere: after the last line it need not go on.
    steps = [[*row, 0.0] for row in between.tolist()] + [[*first.tolist(), 0.0]]
    order = [int(first.argmin())]
    left = set(range(count)) - {order[0]}
    while left:
        order.append(min(left, key=lambda n: (steps[order[-1]][n], n)))
        left.remove(order[-1])
    for _ in range(_ROUNDS):
        make_way()
        better = _better(order, steps)
        if better is None:
            break
        order = better
    way = steps[count][order[0]] + sum(steps[a][b] for a, b in pairwise(order))
    return way, order


def _better(order: list[int], steps: list[list[float]]) -> list[int] | None:
    """Return the best of all orders with one stretch turned round, or a few in a row moved; None: none is shorter."""
    count = len(order)
    way = [count, *order, count]  # from where the hand comes to nowhere
    best, found = -1e-9, None
    for i in range(1, count + 1):
        for j in range(i, count + 1):
            before, head, tail, after = way[i - 1], way[i], way[j], way[j + 1]
            gone = steps[before][head] + steps[tail][after]
            gain = steps[before][tail] + steps[head][after] - gone
            if gain < best:
                best, found = gain, [*way[1:i], *reversed(way[i : j + 1]), *way[j + 1 : -1]]
            if j - i >= _IN_A_ROW:
                continue
            closed = steps[before][after] - gone
            for k in range(count + 1):  # between way[k] and the next
                if i - 1 <= k <= j:
                    continue
                a, b = way[k], way[k + 1]
                gain = closed + steps[a][head] + steps[tail][b] - steps[a][b]
                if gain < best:
                    stretch, rest = way[i : j + 1], [*way[1:i], *way[j + 1 : -1]]
                    at = k if k < i else k - len(stretch)
                    best, found = gain, [*rest[:at], *stretch, *rest[at:]]
    return found
