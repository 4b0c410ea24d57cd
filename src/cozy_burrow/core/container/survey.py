"""Survey of an odd outline: corners from taped distances, more than needed, with the wrong one named.

Corner     a place where two walls would meet, named on a sketch
Distance   what the tape said between two corners
Residual   taped less worked out, in mm: what the corners that fit all the others best say against the tape

Least squares on the distances alone, so the sketch only says which way round things go. How much a distance is
controlled by the others is its redundancy q (0: nothing checks it, 1: all of it is checked). Taking one distance
out lessens the sum of squares by r²/q, so a gross error is looked for where that is most (Baarda 1968, "data
snooping"); then a robust loss keeps it from pulling the corners along.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from itertools import combinations

import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray

from cozy_burrow.core.errors import Gone, UnusableInput
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Container, Record
from cozy_burrow.core.model.vessels import Corner, Taped
from cozy_burrow.core.tongue import tr

TAPE_MM = 0.7  # what a steel tape read by eye inside a box scatters by
GROSS_TIMES = 3.3  # a residual this many times its own scatter is taken for a slip: one in a thousand is chance
_ROBUST_MM = 2.0 * TAPE_MM  # a residual of this size counts by half
_STEPS = 60
_CHECKED_FROM = 0.02  # of redundancy: a slip of 50 mm would show as 1 mm
LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ"  # without I and O, which look like figures on a sketch


class Residual(Record, frozen=True, kw_only=True):
    """A distance against the corners: off_mm is taped less worked out; redundancy 0 to 1: how far others check it."""

    taped: Taped
    off_mm: float
    redundancy: float

    @property
    def is_checked(self) -> bool:
        """Whether the others check it at all: without that its residual is nothing but nought."""
        return self.redundancy >= _CHECKED_FROM


class Bend(Record, frozen=True, kw_only=True):
    """What a corner does to the shape: its inside angle, and how far the wall bows there (outwards above zero).

    off_mm: how far the corner is from square over the shorter of its walls. A corner of nearly 180 degrees is a
    place on a bowed wall.
    """

    corner: str
    angle_deg: float
    off_mm: float
    bow_mm: float | None


class Surveyed(Record, frozen=True, kw_only=True):
    """What the distances say. corners lie with the first wall along the back, bounds from (0, 0).

    missing: how many more distances are needed; 0 where the shape is fixed. spare: how many are more than needed.
    suspect: index of the distance to tape again; rivals: those that may as well be wrong instead.
    scatter_mm: what the tape scattered by, from the residuals.
    sure_mm: how sure the corners are, ± in mm (the least sure of them). next_pair: the distance that would help most.
    """

    corners: tuple[Corner, ...]
    residuals: tuple[Residual, ...]
    missing: int
    spare: int
    suspect: int | None
    rivals: tuple[int, ...]
    scatter_mm: float
    sure_mm: float
    next_pair: tuple[str, str] | None


def pair_text(first: str, second: str) -> str:
    """Return what the distance between two corners is called."""
    return tr("{first} to {second}", first=first, second=second)


def radius_from_chord(chord_mm: float, height_mm: float) -> float:
    """Return the radius of an arc from a chord across it and its height over the chord: c²/8h + h/2."""
    return chord_mm**2 / (8 * height_mm) + height_mm / 2


def impossible(taped: Sequence[Taped], *, slack_mm: float = 3 * TAPE_MM) -> tuple[Taped, float] | None:
    """Return the distance that no outline can have, and the longest that it could be; None where there is none.

    A straight distance is never longer than a way round over other distances (the triangle inequality).
    """
    names = sorted({name for one in taped for name in (one.first, one.second)})
    index = {name: n for n, name in enumerate(names)}
    worst: tuple[Taped, float] | None = None
    for left_out, one in enumerate(taped):
        ways = np.full((len(names), len(names)), math.inf)
        for number, other in enumerate(taped):
            if number != left_out and {other.first, other.second} != {one.first, one.second}:
                i, j = index[other.first], index[other.second]
                ways[i, j] = ways[j, i] = min(ways[i, j], other.length_mm)
        for middle in range(len(names)):
            ways = np.minimum(ways, ways[:, middle, None] + ways[None, middle, :])
        longest = float(ways[index[one.first], index[one.second]])
        if one.length_mm > longest + slack_mm and (
            worst is None or one.length_mm - longest > worst[0].length_mm - worst[1]
        ):
            worst = (one, longest)
    return worst


@memo(rows=32)
def solve_survey(corners: tuple[Corner, ...], taped: tuple[Taped, ...]) -> Surveyed:
    """Return where the corners lie by the distances; the sketch (`corners`) says only which way round they go.

    Where there are too few distances, the corners keep as near to the sketch as those there are allow.
    """
    index = {one.name: n for n, one in enumerate(corners)}
    pairs = np.array([(index[one.first], index[one.second]) for one in taped], dtype=int).reshape(-1, 2)
    lengths = np.array([one.length_mm for one in taped])
    points = _scaled(np.array([(one.x_mm, one.y_mm) for one in corners]), pairs, lengths)
    weights = np.ones(len(taped))
    points = _settle(points, pairs, lengths, weights)
    rank = _rank(points, pairs)
    needed = 2 * len(corners) - 3
    spare = max(0, len(taped) - rank)
    off, redundancy = _residuals(points, pairs, lengths, weights)
    suspect: int | None = None
    rivals: tuple[int, ...] = ()
    if spare >= 2:
        suspect, rivals = _gross(off, redundancy, spare)
        if suspect is not None:
            weights[suspect] = 0.0
            points = _settle(points, pairs, lengths, weights)
        points, weights = _robust(points, pairs, lengths)
        off, _ = _residuals(points, pairs, lengths, weights)
    counted = np.delete(np.arange(len(taped)), suspect) if suspect is not None else np.arange(len(taped))
    free = max(0, len(counted) - rank)
    scatter = math.sqrt(float((off[counted] ** 2).sum()) / free) if free else TAPE_MM
    sure = _sureness(points, pairs[counted], max(scatter, TAPE_MM / 2)) if rank >= needed else math.inf
    laid = _laid(points)
    return Surveyed(
        corners=tuple(
            Corner(name=one.name, x_mm=round(float(x), 3), y_mm=round(float(y), 3), radius_mm=one.radius_mm)
            for one, (x, y) in zip(corners, laid)
        ),
        residuals=tuple(
            Residual(taped=one, off_mm=float(o), redundancy=float(q)) for one, o, q in zip(taped, off, redundancy)
        ),
        missing=needed - rank,
        spare=spare,
        suspect=suspect,
        rivals=rivals,
        scatter_mm=scatter,
        sure_mm=sure,
        next_pair=_next_pair(points, pairs, [one.name for one in corners]),
    )


def _scaled(sketch: NDArray[np.float64], pairs: NDArray[np.int_], lengths: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the sketch at the size that the distances say."""
    if not len(pairs):
        return sketch
    drawn = np.hypot(*(sketch[pairs[:, 0]] - sketch[pairs[:, 1]]).T)
    ratios = np.sort(lengths / np.maximum(drawn, 1e-6))
    return sketch * float(ratios[len(ratios) // 2])  # the middle one: a slip of the tape does not stretch it


def _rows(points: NDArray[np.float64], pairs: NDArray[np.int_]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return the distances as they are, (m,), and their derivatives by all coordinates, (m, 2n)."""
    apart = points[pairs[:, 0]] - points[pairs[:, 1]]
    length = np.maximum(np.hypot(apart[:, 0], apart[:, 1]), 1e-9)
    unit = apart / length[:, None]
    rows = np.zeros((len(pairs), points.size))
    each = np.arange(len(pairs))
    for axis in (0, 1):
        rows[each, 2 * pairs[:, 0] + axis] = unit[:, axis]
        rows[each, 2 * pairs[:, 1] + axis] = -unit[:, axis]
    return length, rows


def _settle(
    points: NDArray[np.float64],
    pairs: NDArray[np.int_],
    lengths: NDArray[np.float64],
    weights: NDArray[np.float64],
) -> NDArray[np.float64]:
    """Return the points of least weighted squares: Levenberg's damped steps, which leave free directions alone."""
    if not len(pairs):
        return points
    damping = 1e-3
    length, rows = _rows(points, pairs)
    cost = float((weights * (lengths - length) ** 2).sum())
    for _ in range(_STEPS):
        weighted = rows * weights[:, None]
        normal = rows.T @ weighted + damping * np.eye(points.size)
        step = np.linalg.solve(normal, weighted.T @ (lengths - length)).reshape(points.shape)
        tried = points + step
        new_length, new_rows = _rows(tried, pairs)
        new_cost = float((weights * (lengths - new_length) ** 2).sum())
        if new_cost <= cost:
            points, length, rows, cost = tried, new_length, new_rows, new_cost
            damping = max(1e-9, damping * 0.2)
            if float(np.abs(step).max()) < 1e-5:
                break
        else:
            damping *= 10.0
            if damping > 1e9:
                break
    return points


def _rank(points: NDArray[np.float64], pairs: NDArray[np.int_]) -> int:
    if not len(pairs):
        return 0
    # A straight chain of corners is fixed by its lengths only to second order; what matters here is far from that.
    return int(np.linalg.matrix_rank(_rows(points, pairs)[1], tol=1e-3))


def _residuals(
    points: NDArray[np.float64],
    pairs: NDArray[np.int_],
    lengths: NDArray[np.float64],
    weights: NDArray[np.float64],
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    if not len(pairs):
        return np.zeros(0), np.zeros(0)
    length, rows = _rows(points, pairs)
    seen = np.einsum("ij,ji->i", rows, np.linalg.pinv(rows, rcond=1e-6))
    return lengths - length, np.clip(1.0 - seen, 0.0, 1.0)


def _gross(off: NDArray[np.float64], redundancy: NDArray[np.float64], spare: int) -> tuple[int | None, tuple[int, ...]]:
    """Return the distance whose leaving out explains most, where that is more than chance, and its rivals.

    A rival explains nearly as much: where a corner has just one distance more than it needs, all of them do.
    """
    controlled = np.maximum(redundancy, 1e-9)
    gain = np.where(redundancy > 0.02, off**2 / controlled, 0.0)
    worst = int(np.argmax(gain))
    rest = max(0.0, float((off**2).sum() - gain[worst])) / max(1, spare - 1)
    scatter = max(TAPE_MM, math.sqrt(rest))
    if math.sqrt(float(gain[worst])) <= GROSS_TIMES * scatter:
        return None, ()
    near = np.flatnonzero(gain >= gain[worst] - (2 * scatter) ** 2)
    return worst, tuple(int(n) for n in near if n != worst)


def _robust(
    points: NDArray[np.float64], pairs: NDArray[np.int_], lengths: NDArray[np.float64]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return the points under Cauchy's loss, begun from points that a gross error has not pulled along."""
    weights = np.ones(len(pairs))
    for _ in range(8):
        length, _ = _rows(points, pairs)
        weights = 1.0 / (1.0 + ((lengths - length) / _ROBUST_MM) ** 2)
        moved = _settle(points, pairs, lengths, weights)
        done = float(np.abs(moved - points).max()) < 1e-4
        points = moved
        if done:
            break
    return points, weights


def _sureness(points: NDArray[np.float64], pairs: NDArray[np.int_], scatter_mm: float) -> float:
    """Return the standard error of the least sure corner, free of where the whole lies and how it is turned."""
    spread = np.linalg.pinv(_rows(points, pairs)[1], rcond=1e-6)
    covariance = spread @ spread.T * scatter_mm**2
    return float(np.sqrt((covariance.diagonal().reshape(-1, 2)).sum(axis=1)).max())


def _next_pair(points: NDArray[np.float64], pairs: NDArray[np.int_], names: list[str]) -> tuple[str, str] | None:
    """Return the untaped distance that is least foretold by those there are."""
    done = {frozenset(pair) for pair in pairs.tolist()}
    rest = np.array(
        [pair for pair in combinations(range(len(names)), 2) if frozenset(pair) not in done], dtype=int
    ).reshape(-1, 2)
    if not len(rest):
        return None
    _, rows = _rows(points, rest)
    if not len(pairs):
        return names[rest[0][0]], names[rest[0][1]]
    known = _rows(points, pairs)[1]
    normal = known.T @ known + 1e-6 * np.eye(points.size)
    doubt = np.einsum("ij,ji->i", rows, np.linalg.solve(normal, rows.T))
    best = rest[int(np.argmax(np.round(doubt, 9)))]
    return names[best[0]], names[best[1]]


def _laid(points: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return the points turned so that the first wall runs along the back to the right, bounds from (0, 0)."""
    along = points[1] - points[0]
    angle = math.atan2(along[1], along[0])
    cos, sin = math.cos(-angle), math.sin(-angle)
    turned = points @ np.array([[cos, sin], [-sin, cos]])
    moved: NDArray[np.float64] = turned - turned.min(axis=0)
    return moved


def with_taped(container: Container, corners: tuple[Corner, ...], taped: tuple[Taped, ...]) -> Container:
    """Return the container with a survey: its corners where the distances put them, width and depth as their bounds.

    Raises Gone where a distance names a corner that is not there, or no corner is.
    """
    _check_there(corners, [name for one in taped for name in (one.first, one.second)])
    laid = solve_survey(corners, taped).corners if taped else corners
    width = max(one.x_mm for one in laid) - min(one.x_mm for one in laid)
    depth = max(one.y_mm for one in laid) - min(one.y_mm for one in laid)
    return replace(
        container,
        corners=laid,
        taped=taped,
        outline=None,
        width_mm=round(width, 3),
        depth_mm=round(depth, 3),
    )


def _check_there(corners: tuple[Corner, ...], names: Iterable[str]) -> None:
    there = {one.name for one in corners}
    for name in names:
        if name not in there:
            raise Gone(tr("corner {name}", name=name))
    if not there:
        raise Gone(tr("the survey"))


def with_corner_after(container: Container, name: str) -> Container:
    """Return the container with one more corner, half way along the wall after the named one, by the next free letter.

    Raises UnusableInput where there are as many as there can be, Gone where none has that name.
    """
    corners = container.corners
    _check_there(corners, [name])
    index = next(n for n, one in enumerate(corners) if one.name == name)
    here, after = corners[index], corners[(index + 1) % len(corners)]
    letters = [letter for letter in LETTERS if letter not in {one.name for one in corners}]
    if not letters:
        raise UnusableInput(tr("no letter is left for another corner"), remedy=tr("take a corner out first"))
    new = Corner(name=letters[0], x_mm=(here.x_mm + after.x_mm) / 2, y_mm=(here.y_mm + after.y_mm) / 2)
    return with_taped(container, (*corners[: index + 1], new, *corners[index + 1 :]), container.taped)


def without_corner(container: Container, name: str) -> Container:
    """Return the container without a corner and the distances to it. Raises UnusableInput for one of the last three."""
    corners = tuple(one for one in container.corners if one.name != name)
    if len(corners) < 3:
        raise UnusableInput(tr("an outline has at least three corners"), remedy=tr("move this one instead"))
    taped = tuple(one for one in container.taped if name not in {one.first, one.second})
    return with_taped(container, corners, taped)


def bends(corners: tuple[Corner, ...]) -> tuple[Bend, ...]:
    """Return the angle of every corner, how far it is from square, and where a corner is a bow of a wall."""
    points = np.array([(one.x_mm, one.y_mm) for one in corners])
    found = []
    for n, corner in enumerate(corners):
        into, out = points[n] - points[n - 1], points[(n + 1) % len(points)] - points[n]
        turn = math.degrees(math.atan2(into[0] * out[1] - into[1] * out[0], float(into @ out)))
        angle = 180.0 - turn
        chord = points[(n + 1) % len(points)] - points[n - 1]
        bow = None
        if abs(turn) < 15.0 and np.hypot(*chord) > 1e-9:
            bow = float((chord[0] * -into[1] + chord[1] * into[0]) / np.hypot(*chord))
        shorter = min(float(np.hypot(*into)), float(np.hypot(*out)))
        off = shorter * math.sin(math.radians(turn - 90.0)) if abs(turn - 90.0) < 20.0 else 0.0
        found.append(Bend(corner=corner.name, angle_deg=angle, off_mm=off, bow_mm=bow))
    return tuple(found)
