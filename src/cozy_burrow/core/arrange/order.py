"""Order: ends that nearly share a line come to share it, gaps along rows become equal, room that is there is spread.

Axis by axis, with everything else kept: what the true shapes allow are bounds on differences of slides (`sliding`).
Ends are tied one after the other, those first that miss each other least and belong together, each only where all
walls still hold with everything that was tied before. What freedom is left is used by a linear programme: gaps equal
along each row, as wide as they may be, everything else as near as may be to where it lay.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.beside import RowGap, gaps_along, in_rows
from cozy_burrow.core.arrange.contacts import Body, shortfalls
from cozy_burrow.core.arrange.pieces import Bed
from cozy_burrow.core.arrange.placing_in import lying_of
from cozy_burrow.core.arrange.sliding import Floats, Sliding
from cozy_burrow.core.arrange.spare import EMPTY
from cozy_burrow.core.arrange.squeeze import separated

Spread = Literal["no", "gaps", "all"]
NEAR_MM = 30.0  # ends of neighbours in a row that miss each other by more were meant to
SMALL_MM = 9.0  # the same where room is dear, and at the edge of the foam
WIDEST_MM = 40.0  # a gap that a hand goes into: wider ones serve nobody while there is a use for the rest
_USELESS_MM = 70.0  # a strip along the edge into which no other thing goes
_ALIKE_SHARE = 0.1
_MIDDLE, _APART, _STRANGER = 1.3, 1.0, 1.5  # how much farther middles, and things of other groups, count as apart
_TO_EVEN, _TO_WIDE, _TO_STAY = 1.0, 0.12, 0.004  # a millimetre: of gaps unlike their row's, of a row's gap, of moving
_DONE_MM = 0.01
_EVERY_END = ((0, 0), (1, 1), (2, 2))  # low, high, middle


def ordered(bodies: Sequence[Body], bed: Bed, *, spread: Spread, groups: Sequence[str] = ()) -> list[Body]:
    """Return the bodies put in order; valid if they were, in the same places beside each other.

    spread: "no": nothing reaches farther than before; "gaps": gaps grow up to a hand's, what is left beyond them stays
    in one piece; "all": gaps grow as far as the foam goes. groups: of the bodies; those of one are lined up first.
    """
    now = list(bodies)
    if not now or bed.area.is_empty:
        return now
    groups = groups or [""] * len(now)
    for axis in (1, 0):
        now = _along(now, bed, axis, spread, groups)
    return _along(now, bed, 1, spread, groups)


def things_of(body: Body) -> BaseGeometry:
    """Return what is seen of a body: the things in it, without the pulls beside them."""
    lying = lying_of(body.form, body.x_mm, body.y_mm, body.angle_deg)
    return shapely.union_all([one.shape for one in lying]) if lying else body.shape


def _along(bodies: list[Body], bed: Bed, axis: int, spread: Spread, groups: Sequence[str]) -> list[Body]:
    """Return the bodies put in order along one axis; as they were where that does not come out valid."""
    seen = [things_of(body) for body in bodies]
    sliding = Sliding(bodies, bed, axis=axis)
    bounds = shapely.bounds(np.array(seen, dtype=object)).reshape(-1, 4)
    ends = np.stack([bounds[:, axis], bounds[:, axis + 2], (bounds[:, axis] + bounds[:, axis + 2]) / 2], axis=1)
    if spread == "no":
        farthest = max(body.shape.bounds[axis + 2] for body in bodies)
        nearest = min(body.shape.bounds[axis] for body in bodies)
        for n, body in enumerate(bodies):
            sliding.within(sliding.count, n, max(0.0, farthest - body.shape.bounds[axis + 2]))
            sliding.within(n, sliding.count, max(0.0, body.shape.bounds[axis] - nearest))
    _tie_ends(sliding, ends, seen, bed, groups, reach_mm=SMALL_MM if spread == "no" else NEAR_MM)
    slides = _slides(sliding, gaps_along(seen, axis, groups), spread, taken_share(bodies, bed))
    if slides is None:
        return bodies
    slides = _brought_to_middle(slides, bodies, bed, axis, spread)
    return _slid(bodies, bed, axis, slides)


def taken_share(bodies: Sequence[Body], bed: Bed) -> float:
    """Return which share of the foam bodies take up with half their walls."""
    grown = sum(float(body.shape.buffer(body.form.wall_mm / 2, quad_segs=4).area) for body in bodies)
    return grown / max(1.0, float(bed.area.area))


def _tie_ends(
    sliding: Sliding,
    ends: Floats,
    seen: Sequence[BaseGeometry],
    bed: Bed,
    groups: Sequence[str],
    *,
    reach_mm: float,
) -> None:
    """Tie ends of neighbours that nearly share a line, the nearest first, and ends to the edge of the foam."""
    beside = in_rows(seen, sliding.axis)
    found: list[tuple[float, int, int, float]] = []
    long = ends[:, 1] - ends[:, 0]
    for i, j in np.argwhere(np.triu(beside, 1)).tolist():
        alike = abs(long[i] - long[j]) < _ALIKE_SHARE * max(long[i], long[j])
        stranger = _APART if groups[i] and groups[i] == groups[j] else _STRANGER
        for mine, other in _EVERY_END:
            by = float(ends[i, mine] - ends[j, other])
            if abs(by) > reach_mm:
                continue
            weight = stranger * (_MIDDLE if mine == 2 and not alike else 1.0)
            found.append((round(abs(by) * weight, 3), i, j, by))
    edges = (bed.room[sliding.axis], bed.room[sliding.axis + 2])
    for n in range(sliding.count):
        for end, edge in enumerate(edges):
            by = float(edge - ends[n, end])
            if abs(by) <= SMALL_MM:
                found.append((round(abs(by) * _STRANGER, 3), sliding.count, n, by))
    for _, first, second, by in sorted(found):
        if sliding.may_tie(first, second, by):
            sliding.tie(first, second, by)


def _slides(sliding: Sliding, gaps: Sequence[RowGap], spread: Spread, taken: float) -> Floats | None:
    """Return how far each body slides, so that gaps are even along each row; None where the programme has no answer.

    Unknowns: slides (n), a gap for each row (r), by how much each gap differs from it (g), how far each slides (n).
    """
    from scipy.optimize import linprog
    from scipy.sparse import coo_array

    count = sliding.count
    row_of, rows = _rows_of(gaps)
    at_row, at_off, at_far = count, count + rows, count + rows + len(gaps)
    entries: list[tuple[int, int, float]] = []
    limit: list[float] = []

    def at_most(terms: Sequence[tuple[int, float]], most: float) -> None:
        entries.extend((len(limit), column, value) for column, value in terms)
        limit.append(most)

    first, second, most = sliding.rows()
    for i, j, bound in zip(first.tolist(), second.tolist(), most.tolist()):
        at_most([(n, sign) for n, sign in ((j, 1.0), (i, -1.0)) if n != count], bound)
    for k, gap in enumerate(gaps):
        apart = [(gap.second, 1.0), (gap.first, -1.0), (at_row + row_of[k], -1.0)]
        at_most([*apart, (at_off + k, -1.0)], -gap.gap_mm)
        at_most([*((n, -value) for n, value in apart), (at_off + k, -1.0)], gap.gap_mm)
    for n in range(count):
        at_most([(n, 1.0), (at_far + n, -1.0)], 0.0)
        at_most([(n, -1.0), (at_far + n, -1.0)], 0.0)
    in_row = np.bincount(row_of, minlength=rows).astype(float) if rows else np.zeros(0)
    cost = np.zeros(at_far + count)
    cost[at_off:at_far] = _TO_EVEN
    cost[at_far:] = _TO_STAY
    if spread != "no":
        cost[at_row:at_off] = -_TO_WIDE * in_row
    widest = np.array([_widest(gaps, row_of, row, spread, taken) for row in range(rows)])
    bounds = np.zeros((len(cost), 2))
    bounds[:count] = (-np.inf, np.inf)
    bounds[at_row:at_off, 1] = widest
    bounds[at_off:, 1] = np.inf
    row, column, value = zip(*entries)
    matrix = coo_array((value, (row, column)), shape=(len(limit), len(cost)))
    answer = linprog(cost, A_ub=matrix.tocsr(), b_ub=limit, bounds=bounds, method="highs")  # type: ignore[call-overload]
    return None if answer.x is None else np.asarray(answer.x[:count], dtype=np.float64)


def _rows_of(gaps: Sequence[RowGap]) -> tuple[NDArray[np.int64], int]:
    """Return the row of each gap and how many there are: gaps of a kind that hang together by the things between."""
    from scipy.sparse import coo_array
    from scipy.sparse.csgraph import connected_components

    if not gaps:
        return np.zeros(0, dtype=np.int64), 0
    first = [gap.first for gap in gaps]
    second = [gap.second for gap in gaps]
    size = max(*first, *second) + 1
    graph = coo_array((np.ones(len(gaps)), (first, second)), shape=(size, size))
    _, part = connected_components(graph, directed=False)
    within = np.array([gap.within for gap in gaps], dtype=np.int64)
    _, row = np.unique(2 * part[first] + within, return_inverse=True)
    return row.astype(np.int64), int(row.max()) + 1


def _widest(gaps: Sequence[RowGap], row_of: NDArray[np.int64], row: int, spread: Spread, taken: float) -> float:
    """Return how wide the gap of a row may get."""
    mine = [gap for gap, at in zip(gaps, row_of.tolist()) if at == row]
    own = [gap.gap_mm for gap in mine]
    if spread == "no":
        return float(np.max(own))
    if (spread == "all" or taken < EMPTY) and not mine[0].within:  # what belongs together stays together
        return 3 * WIDEST_MM
    return max(WIDEST_MM, float(np.median(own)))


def _brought_to_middle(slides: Floats, bodies: Sequence[Body], bed: Bed, axis: int, spread: Spread) -> Floats:
    """Return the slides with everything moved on so that as much foam is left at either end, where that is wished.

    Wished: where everything is spread, or what is left at both ends together is no use for anything else.
    """
    low = min(body.shape.bounds[axis] + slide for body, slide in zip(bodies, slides.tolist()))
    high = max(body.shape.bounds[axis + 2] + slide for body, slide in zip(bodies, slides.tolist()))
    before, after = low - bed.room[axis], bed.room[axis + 2] - high
    useless = before + after < _USELESS_MM
    if spread == "no" or not (useless or spread == "all" or taken_share(bodies, bed) < EMPTY):
        return slides
    moved = slides + (after - before) / 2
    there = [_moved(body, axis, slide) for body, slide in zip(bodies, moved.tolist())]
    return moved if shortfalls(there, bed) == (0.0, 0.0) else slides


def _moved(body: Body, axis: int, by: float) -> Body:
    if abs(by) < _DONE_MM:
        return body
    dx, dy = (by, 0.0) if axis == 0 else (0.0, by)
    return Body(body.form, body.x_mm + dx, body.y_mm + dy, body.angle_deg)


def _slid(bodies: list[Body], bed: Bed, axis: int, slides: Floats) -> list[Body]:
    """Return the bodies slid; what is a hundredth of a millimetre too near is mended, or all stay."""
    moved = [_moved(body, axis, slide) for body, slide in zip(bodies, slides.tolist())]
    if shortfalls(moved, bed) == (0.0, 0.0):
        return moved
    mended = separated(moved, bed, steps=3, trust_mm=0.3, may_turn=False)
    return bodies if mended is None else mended
