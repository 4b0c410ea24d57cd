"""How long a sheet takes and how many blades: few terms that a fitter can follow, fitted to the fitter's own log.

A sheet's minutes are the sum of its parts, each with a speed of its own, times what is still to be learned:

    minutes = (set up + straight + curved + pockets + peeling + pulls + settings) · (1 + a · exp(-pockets so far / 60))

Every speed is known beforehand within a factor (what practitioners are known to take: a routine drawer about 25
minutes and two blades, a first pocket many minutes, a first board of sixty small things an afternoon); a fitter who is
quick at one part is likely to be quick at the others. What a sheet took differs from that by a factor, too, whose
spread is learned along. That has Student's distribution with few degrees of freedom, so that a row which can't be true
(a pause in it, a slip of the pen) is hardly heard. The fit is the most likely one; its uncertainty is that of a normal
distribution round it (Laplace), of which fixed draws are carried through the formula.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.model.memo import Frozen, memo
from cozy_burrow.core.model.records import Record

Values = NDArray[np.float64]

# Minutes a piece, of somebody who has done it often: set-up of a sheet, a metre of one pass straight and in bends, a
# pocket (checked, peeled clean, tried), 100 cm² of one layer, a pull, a setting of the blade.
USUAL_MIN = (2.0, 0.6, 1.1, 0.45, 0.1, 0.25, 0.5)
_PEELED_CM2 = 100.0
_TOGETHER, _APART = 0.40, 0.40  # spread of speeds (of their logarithms): of a fitter in all, of each part beside that
_LEARNING, _LEARNING_SPREAD = 0.35, 0.9  # a: how much longer the very first takes
LEARNT_AFTER = 60.0  # pockets, until two thirds of that are gone
_NOISE, _NOISE_SPREAD = 0.12, 0.35
_FREEDOM = 2.5  # of Student's distribution
_BEYOND, _SIFTINGS = 5.0, 4  # spreads from what is likely, where a row is no longer believed; sifted so often at most
_MOST_POCKETS = 200.0  # that one sheet teaches: more is a slip of the pen
_DRAWS = 4000
_ROUNDS = 60
LOW, LIKELY, HIGH = 10.0, 50.0, 90.0  # per cent: in four of five times it lies between
# A couple of blades a routine drawer of some seven metres; as if that had been seen over ten.
_BLADES_SHAPE, _BLADES_METRES = 3.0, 10.0
_MOST_BLADES, _SPARE_BLADES = 1.5, 2.0  # times what was to be expected, and over it: more in one sheet is no wear


class SheetWork(Record, frozen=True, kw_only=True):
    """What is done at one sheet. metres: of knife travel, every pass counted; layers_cm2: of layers that are peeled."""

    metres_straight: float = 0.0
    metres_curved: float = 0.0
    pockets: float = 0.0
    layers_cm2: float = 0.0
    pulls: float = 0.0
    settings: float = 0.0

    @property
    def metres(self) -> float:
        """All knife travel."""
        return self.metres_straight + self.metres_curved


class LogRow(Record, frozen=True, kw_only=True):
    """A finished sheet: when (YYYY-MM-DD), which, what was done at it, and what that took."""

    date: str
    sheet: str
    work: SheetWork
    minutes: float
    blades: float = 0.0


class Range(Record, frozen=True, kw_only=True):
    """What is to be expected: in four of five times between low and high, as often above as below likely."""

    low: float
    likely: float
    high: float


class Forecast(Frozen):
    """What is known of a fitter, as draws: seven speeds in minutes a piece, a, spread, blades a metre."""

    __slots__ = ("blades_a_metre", "learning", "noise", "pockets", "speeds")

    def __init__(self, speeds: Values, learning: Values, noise: Values, blades_a_metre: Values, pockets: float) -> None:
        self.speeds, self.learning, self.noise = speeds, learning, noise
        self.blades_a_metre, self.pockets = blades_a_metre, pockets

    def minutes(self, works: Sequence[SheetWork]) -> Range:
        """Return how long some sheets take, one after the other."""
        return range_of(self._minutes(works))

    def _minutes(self, works: Sequence[SheetWork]) -> Values:
        total, done = np.zeros(len(self.noise)), self.pockets
        for number, work in enumerate(works):
            usual = self.speeds @ _parts(work)
            learnt = 1.0 + self.learning * _unlearnt(done, work.pockets)
            total += usual * learnt * np.exp(self.noise * _spread(number))
            done += work.pockets
        return total

    def blades(self, works: Sequence[SheetWork]) -> Range:
        """Return how many blades some sheets take; blades come whole."""
        low, likely, high = np.percentile(self._blades(works), (LOW, LIKELY, HIGH), method="nearest")
        return Range(low=float(low), likely=float(likely), high=float(high))

    def _blades(self, works: Sequence[SheetWork]) -> Values:
        metres = sum(work.metres for work in works)
        return np.asarray(np.random.default_rng(5).poisson(self.blades_a_metre * metres), dtype=np.float64)

    def drawn(self, works: Sequence[SheetWork]) -> tuple[Values, Values]:
        """Return draws of the minutes and of the blades that some sheets take, always the same for the same sheets."""
        return self._minutes(works), self._blades(works)

    def part_minutes(self, work: SheetWork) -> float:
        """Return how long a part of a sheet is likely to take: without set-up, with what is learnt by now."""
        parts = _parts(work)
        parts[0] = 0.0
        learnt = 1.0 + self.learning * math.exp(-self.pockets / LEARNT_AFTER)
        return float(np.median((self.speeds @ parts) * learnt))

    @property
    def metres_a_blade(self) -> Range:
        """How far a blade goes."""
        return range_of(1.0 / self.blades_a_metre)


@memo(rows=8)
def forecast_from(log: tuple[LogRow, ...]) -> Forecast:
    """Return what a fitter's log teaches; the oldest row first, as pockets add up. An empty one: what is usual."""
    rows = sorted(log, key=lambda row: row.date)
    before = np.concatenate([[0.0], np.cumsum([min(row.work.pockets, _MOST_POCKETS) for row in rows])])
    middle, spread = _fitted(rows, before[:-1])
    draws = middle + _normal(len(middle)) @ np.linalg.cholesky(spread).T
    rate = _blade_draws(rows)
    return Forecast(np.exp(draws[:, :7]), np.exp(draws[:, 7]), np.exp(draws[:, 8]), rate, float(before[-1]))


def _fitted(rows: Sequence[LogRow], before: Values) -> tuple[Values, Values]:
    """Return the most likely logarithms of speeds, learning and noise, (9,), and their covariance, (9, 9)."""
    start = np.array([*(math.log(usual) for usual in USUAL_MIN), math.log(_LEARNING), math.log(_NOISE)])
    prior = np.zeros((9, 9))
    prior[:7, :7] = _TOGETHER**2 + np.eye(7) * _APART**2
    prior[7, 7], prior[8, 8] = _LEARNING_SPREAD**2, _NOISE_SPREAD**2
    if not rows:
        return start, prior
    parts: Values = np.array([_parts(row.work) for row in rows])
    unlearnt = np.array([_unlearnt(float(done), row.work.pockets) for done, row in zip(before, rows)], dtype=np.float64)
    took: Values = np.log(np.array([row.minutes for row in rows], dtype=np.float64))
    known = np.asarray(np.linalg.inv(prior[:8, :8]), dtype=np.float64)
    believed = np.ones(len(rows), dtype=bool)
    for _ in range(_SIFTINGS):
        at, noise, slopes = _likeliest(start[:8], known, parts[believed], unlearnt[believed], took[believed])
        apart = _apart(at, parts, unlearnt, took)[0]
        still = np.abs(apart) <= _BEYOND * noise
        if still.sum() < 2 or (still == believed).all():
            break
        believed = still
    # What a row says, on average over what it may be.
    told = (_FREEDOM + 1) / (_FREEDOM + 3) / noise**2
    spread = np.zeros((9, 9))
    spread[:8, :8] = np.linalg.inv(known + told * slopes.T @ slopes)
    spread[8, 8] = 1.0 / (1.0 / _NOISE_SPREAD**2 + len(slopes) * 2.0 * _FREEDOM / (_FREEDOM + 3.0))
    return np.array([*at, math.log(noise)]), spread


def _likeliest(
    start: Values, known: Values, parts: Values, unlearnt: Values, took: Values
) -> tuple[Values, float, Values]:
    """Return the most likely speeds and learning (logarithms, (8,)), the spread of rows, and the slopes there."""
    at, noise = start.copy(), _NOISE
    for _ in range(_ROUNDS):
        apart, slopes = _apart(at, parts, unlearnt, took)
        noise = _noise_of(apart)
        heard = (_FREEDOM + 1) / (_FREEDOM * noise**2 + apart**2)
        bend = known + slopes.T @ (heard[:, None] * slopes)
        step = np.linalg.solve(bend, slopes.T @ (heard * apart) - known @ (at - start))
        at += np.clip(step, -1.0, 1.0)
        if float(np.abs(step).max()) < 1e-7:
            break
    apart, slopes = _apart(at, parts, unlearnt, took)
    return at, _noise_of(apart), slopes


def _apart(at: Values, parts: Values, unlearnt: Values, took: Values) -> tuple[Values, Values]:
    """Return by how much each row's logarithm differs from what is said of it, (n,), and the slopes of that, (n, 8)."""
    pieces = parts * np.exp(at[:7])
    usual = pieces.sum(axis=1)
    extra = np.exp(at[7]) * unlearnt
    slopes = np.concatenate([pieces / usual[:, None], (extra / (1.0 + extra))[:, None]], axis=1)
    return took - np.log(usual) - np.log1p(extra), slopes


def _noise_of(apart: Values) -> float:
    """Return the most likely spread of what rows differ by: where the slope of its likelihood is nought, by halving."""

    def slope(log_noise: float) -> float:
        square = math.exp(2.0 * log_noise)
        told = float((((_FREEDOM + 1) * apart**2) / (_FREEDOM * square + apart**2)).sum()) - len(apart)
        return told - (log_noise - math.log(_NOISE)) / _NOISE_SPREAD**2

    low, high = math.log(1e-3), math.log(10.0)
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if slope(middle) > 0 else (low, middle)
    return math.exp((low + high) / 2)


def _blade_draws(rows: Sequence[LogRow]) -> Values:
    """Return blades a metre: gamma, as rare events are; a sheet that took absurdly many counts as a hard one."""
    cut = [row for row in rows if row.work.metres > 0]
    usual = _BLADES_SHAPE / _BLADES_METRES
    seen = sorted([usual, *(row.blades / row.work.metres for row in cut)])
    middle = max(seen[len(seen) // 2], usual / 4)
    blades = sum(min(row.blades, _MOST_BLADES * middle * row.work.metres + _SPARE_BLADES) for row in cut)
    metres = sum(row.work.metres for row in cut)
    draws = np.random.default_rng(3).gamma(_BLADES_SHAPE + blades, 1.0 / (_BLADES_METRES + metres), _DRAWS)
    return np.maximum(draws, 1e-6)


def _parts(work: SheetWork) -> Values:
    return np.array(
        [
            1.0,
            work.metres_straight,
            work.metres_curved,
            work.pockets,
            work.layers_cm2 / _PEELED_CM2,
            work.pulls,
            work.settings,
        ]
    )


def _unlearnt(done: float, pockets: float) -> float:
    """Return how much is still to be learned on average over the pockets of a sheet, 1 at the very first."""
    first = math.exp(-done / LEARNT_AFTER)
    if pockets < 1e-6:
        return first
    return LEARNT_AFTER / pockets * (first - math.exp(-(done + pockets) / LEARNT_AFTER))


def _normal(columns: int) -> Values:
    """Return draws of a normal distribution, always the same, as many below as above."""
    half = np.random.default_rng(11).standard_normal((_DRAWS // 2, columns))
    return np.concatenate([half, -half])


def _spread(number: int) -> Values:
    """Return draws of Student's distribution for the n-th sheet, always the same."""
    half = np.random.default_rng((17, number)).standard_t(_FREEDOM, _DRAWS // 2)
    return np.concatenate([half, -half])[np.random.default_rng((19, number)).permutation(_DRAWS)]


def range_of(found: Values) -> Range:
    """Return what is to be expected by draws of it."""
    low, likely, high = (float(one) for one in np.percentile(found, (LOW, LIKELY, HIGH)))
    return Range(low=low, likely=likely, high=high)
