"""Where exactly a thing ends: the edge in the picture itself, to a fraction of a pixel, all along a rough contour.

At each point of the contour the light is read across it; the steepest place that neighbours agree on is the edge. It
is found by the best path round the contour, then set between samples where the slope culminates. On a mat with dots
the path also hears which of them are seen on the paper's side of it; their dark is taken out of the light there first.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view
from numpy.typing import NDArray

from cozy_burrow.core.capture.photo.dots import Dots
from cozy_burrow.core.capture.photo.ink import Ink
from cozy_burrow.core.capture.photo.lie import PixelMap
from cozy_burrow.core.capture.photo.profiles import SAMPLE_MM, clear_of, hue_of, not_printed, slopes, smoothing_mm
from cozy_burrow.core.capture.photo.rasters import Raster

Points = NDArray[np.float64]

_STEP_MM = 0.4
_REACH_MM = 1.6  # the rough contour is nowhere farther off, but where it is wrong altogether
_STIFF = 1.2  # what a sideways step of one sample from point to point costs, in slopes of a clear edge
_LEAST_STEP, _CLEAR_STEP = 0.02, 0.06  # of the light: a fainter one supports no contour, a clearer one does
_LEAST_DETOUR_MM = 2.5
_FIRMNESS_MM = 2.5  # how far from the rough contour an edge loses half of its weight
_HEARD, _MOST_HEARD = 0.25, 8.0  # what the odds of dots weigh beside slopes, and the most that they are believed
_APART_MM = 0.36  # two samples nearer to each other show the same ink
_CONTRADICTED = -1.0  # what is heard of the dots at an edge, less than at the best place near it
_LEAST_RUN = 4  # of weak points, some millimetres
_PRINTED = 0.9  # white: lighter than that there is no print
_BY_HUE = 0.6
_LEVELLED = 100  # rows
_SOFT_MM = 0.25  # over this the dots begin at an edge


@dataclass(frozen=True)
class Edge:
    """A closed edge in mat millimetres at the level of the paper. spread_mm: how far neighbouring points disagree.

    steps: how high the step at each point is, as a share of the light there; weak: where it is too low to support a
    contour, or the dots say that the edge lies elsewhere.
    """

    points_mm: Points
    spread_mm: float
    steps: NDArray[np.float64]
    weak: NDArray[np.bool_]

    def weak_runs(self) -> list[Points]:
        """Return the runs of weak points, each (n, 2) with the sound point before and after it."""
        if self.weak.all():
            return [np.vstack([self.points_mm, self.points_mm[:1]])]
        turn = int(np.flatnonzero(~self.weak)[0])
        weak, points = np.roll(self.weak, -turn), np.roll(self.points_mm, -turn, axis=0)
        marks = np.flatnonzero(np.diff(np.concatenate([[0], weak.astype(np.int8), [0]])))
        closed = np.vstack([points, points[:1]])
        return [closed[start - 1 : end + 1] for start, end in zip(marks[::2], marks[1::2]) if end - start >= _LEAST_RUN]


@dataclass(frozen=True)
class Ground:
    """What an edge is looked for in: the light and its first column and row, who knows where places are seen, blur.

    dots: what is seen of the mat's dots, None where it has none; ink: its marks and scales.
    """

    light: Raster
    first: tuple[int, int]
    view: PixelMap
    blur_mm: float
    dots: Dots | None = None
    ink: Ink | None = None


def refined(ground: Ground, rough_mm: Points, *, inner: bool = False, reach_mm: float = _REACH_MM) -> Edge:
    """Return the edge near a rough closed contour (n, 2), first point not repeated, clockwise or not.

    inner: the paper lies within it (a hole). Where the edge fades (a pale thing before paper in its own shade) the
    rough contour may have run in or out; it is drawn straight across there and looked for once more.
    """
    edge = _refined(ground, rough_mm, inner, reach_mm)
    bridged = _bridged(edge)
    return edge if bridged is None else _refined(ground, bridged, inner, reach_mm)


def _refined(ground: Ground, rough_mm: Points, inner: bool, reach_mm: float) -> Edge:
    base, normal = _stations(rough_mm)
    offsets = np.arange(-reach_mm, reach_mm + SAMPLE_MM / 2, SAMPLE_MM)
    profiles = _across(ground, base, normal, offsets)
    white = None if ground.ink is None else ground.ink.across(base[:, None] + offsets[:, None] * normal[:, None])
    if white is not None and float(white.min()) > _PRINTED:
        white = None
    doubt = np.zeros(len(base), dtype=bool)
    if ground.dots is None:
        at, steep = _found(profiles, offsets, ground.blur_mm, None, white, inner)
    else:
        due, odds = ground.dots.across(base[:, None] + offsets[:, None] * normal[:, None])
        heard = _heard(odds, inner)
        printed, at = profiles, np.zeros(len(base))
        for _ in range(2):  # where the dots begin is known once the edge is found
            beyond = (at[:, None] - offsets) if inner else (offsets - at[:, None])
            ink = due * np.clip(beyond / _SOFT_MM + 0.5, 0, 1)
            profiles = printed / np.maximum(1 - ink, 0.2)[..., None]
            at, steep = _found(profiles, offsets, ground.blur_mm, heard, white, inner)
        place = np.clip(np.round((at - offsets[0]) / SAMPLE_MM).astype(int), 0, len(offsets) - 1)
        doubt = heard[np.arange(len(at)), place] < _CONTRADICTED
    smooth = _rolled_mean(at, 5)
    spread = float(np.median(np.abs(at - smooth))) * 1.48
    light_there = np.maximum(profiles.mean(axis=(1, 2)), 0.02)
    steps = steep / light_there * math.hypot(ground.blur_mm, smoothing_mm(ground.blur_mm)) * 2.507
    weak = _mostly(doubt) | (_rolled_mean(steps, 5) < _least_step(steps))
    return Edge(points_mm=base + at[:, None] * normal, spread_mm=spread, steps=steps, weak=weak)


def _least_step(steps: NDArray[np.float64]) -> float:
    """Return how high a step must be to support a contour of which these are the steps."""
    return min(_CLEAR_STEP, max(_LEAST_STEP, 0.35 * float(np.median(steps))))


def _mostly(doubt: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Return where most of the neighbours are in doubt."""
    return _rolled_mean(doubt.astype(float), 5) > 0.5


def _found(
    profiles: NDArray[np.float64],
    offsets: Points,
    blur_mm: float,
    heard: NDArray[np.float64] | None,
    white: NDArray[np.float64] | None,
    inner: bool,
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return at which offset the edge lies at each station, and how steep it is there."""
    slope, coarse = slopes(profiles, blur_mm)
    if white is not None:
        slope = not_printed(slope, profiles, white, blur_mm)
    weight = 1 / (1 + (offsets / _FIRMNESS_MM) ** 2)
    gain = clear_of(slope, coarse) * weight
    hue = hue_of(profiles, inner)
    if hue is not None:  # the edge of a shadow on paper is as clear as any, but the colour is the paper's beyond it
        gain = (1 - _BY_HUE) * gain + _BY_HUE * clear_of(*slopes(hue, blur_mm)) * weight
    path = _best_path(gain if heard is None else gain + heard, _STIFF)
    at, steep = _culminations(np.sqrt((slope**2).mean(axis=-1)), path, offsets)
    return _without_jumps(at), steep


def _heard(odds: NDArray[np.float64], inner: bool) -> NDArray[np.float64]:
    """Return what dots speak for an edge at each offset (n, k): those seen beyond it, less those seen before it."""
    within = np.cumsum(odds, axis=1)
    beyond = within[:, -1:] - within
    total = (within - beyond if inner else beyond - within) * (SAMPLE_MM / _APART_MM)
    return np.asarray(_HEARD * np.maximum(total - total.max(axis=1, keepdims=True), -_MOST_HEARD))


def _bridged(edge: Edge) -> Points | None:
    """Return the points with runs that no step supports left out, None where all is supported or hardly anything."""
    weak = _rolled_mean(edge.steps, 5) < _least_step(edge.steps)
    if not weak.any() or weak.mean() > 0.45:
        return None
    turn = int(np.flatnonzero(~weak)[0])
    weak = np.roll(weak, -turn)
    points = np.roll(edge.points_mm, -turn, axis=0)
    marks = np.flatnonzero(np.diff(np.concatenate([[0], weak.astype(np.int8), [0]])))
    kept = np.ones(len(points), dtype=bool)
    for start, end in zip(marks[::2], marks[1::2]):
        way = float(np.hypot(*np.diff(points[max(0, start - 1) : end + 1], axis=0).T).sum())
        gap = float(np.hypot(*(points[end % len(points)] - points[start - 1])))
        if way > _LEAST_DETOUR_MM and way > 1.15 * gap:
            kept[start:end] = False
    return points[kept] if not kept.all() and kept.sum() >= 24 else None


def _stations(rough_mm: Points) -> tuple[Points, Points]:
    """Return points equally far apart along a contour that is smoothed a little, and the normals there."""
    closed = np.vstack([rough_mm, rough_mm[:1]])
    way = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))])
    count = max(24, int(way[-1] / _STEP_MM))
    stops = np.arange(count) * (way[-1] / count)
    even = np.column_stack([np.interp(stops, way, closed[:, k]) for k in (0, 1)])
    width = 1.0 / _STEP_MM
    base = _gaussian_round(even, width)
    along = np.roll(base, -2, axis=0) - np.roll(base, 2, axis=0)
    along /= np.maximum(np.hypot(*along.T), 1e-9)[:, None]
    turn = 1.0 if signed_area(base) > 0 else -1.0
    return base, turn * np.column_stack([along[:, 1], -along[:, 0]])


def signed_area(ring: Points) -> float:
    """Return the shoelace area of a ring (n, 2)."""
    x, y = ring.T
    return float(0.5 * (x @ np.roll(y, -1) - y @ np.roll(x, -1)))


def _gaussian_round(values: Points, sigma: float) -> Points:
    from scipy.ndimage import gaussian_filter1d

    return np.asarray(gaussian_filter1d(values, sigma, axis=0, mode="wrap"), dtype=float)


def _across(ground: Ground, base: Points, normal: Points, offsets: Points) -> NDArray[np.float64]:
    """Return the light across a contour: (points, offsets, 3)."""
    import cv2

    ends = [ground.view.pixels(base + reach * normal) for reach in (offsets[0], 0.0, offsets[-1])]
    # From three places the rest follow: over three millimetres perspective and bend are a parabola.
    share = (offsets - offsets[0]) / (offsets[-1] - offsets[0])
    curve = np.stack([2 * (share - 0.5) * (share - 1), 4 * share * (1 - share), 2 * share * (share - 0.5)])
    spots = np.einsum("pnk,po->nok", np.stack(ends), curve) - np.array(ground.first)
    spots = np.ascontiguousarray(spots, dtype=np.float32)
    found = [
        cv2.remap(
            ground.light, one[..., 0].copy(), one[..., 1].copy(), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
        )
        for one in np.array_split(spots, max(1, -(-len(spots) // 30_000)))
    ]
    return np.asarray(np.concatenate(found), dtype=float)


def _best_path(gain: NDArray[np.float64], stiff: float) -> NDArray[np.int64]:
    """Return the column to take in each row so that gains are large and sideways steps small, closed in a ring.

    Viterbi once and a half round the ring, so that the seam lies where all agree.
    """
    rows, columns = gain.shape
    most = 3
    costs = stiff * (np.arange(-most, most + 1) / 2.0) ** 2
    order = np.concatenate([np.arange(rows), np.arange(rows // 2)])
    back = np.empty((len(order), columns), dtype=np.int8)
    padded = np.full(columns + 2 * most, -np.inf)
    total = padded[most:-most]
    total[:] = 0.0
    shifted, costs = sliding_window_view(padded, columns), costs[:, None]
    for step, row in enumerate(order):
        choices = shifted - costs
        best = choices.argmax(axis=0)
        back[step] = best - most
        total[:] = choices.max(axis=0)
        total += gain[row]
        if step % _LEVELLED == 0:  # what all have in common tells nothing, and would take the digits
            total -= total.max()
    path = np.empty(len(order), dtype=np.int64)
    column = int(total.argmax())
    for step in range(len(order) - 1, -1, -1):
        path[step] = column
        column += int(back[step, column])
    quarter = rows // 4
    return np.concatenate([path[rows : rows + quarter], path[quarter:rows]])


def _culminations(
    slope: NDArray[np.float64], path: NDArray[np.int64], offsets: Points
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return where the slope culminates near the path, between samples, and how steep it is there."""
    rows = np.arange(len(path))
    column = path.copy()
    for _ in range(4):  # the stiff path may pass beside the top: climb it
        left, right = np.maximum(column - 1, 0), np.minimum(column + 1, slope.shape[1] - 1)
        here = slope[rows, column]
        column = np.where(slope[rows, left] > here, left, np.where(slope[rows, right] > here, right, column))
    column = np.clip(column, 1, slope.shape[1] - 2)
    before, here, after = (slope[rows, column + k] for k in (-1, 0, 1))
    bend = before - 2 * here + after
    shift = np.where(bend < -1e-9, 0.5 * (before - after) / np.where(bend < -1e-9, bend, -1.0), 0.0)
    return offsets[column] + np.clip(shift, -0.5, 0.5) * SAMPLE_MM, here


def _without_jumps(at: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return offsets with single points that leap away from their neighbours set between them."""
    from scipy.ndimage import median_filter

    middle = median_filter(at, size=7, mode="wrap")
    off = np.abs(at - middle)
    limit = max(0.08, 5 * float(np.median(off)))
    return np.where(off > limit, middle, at)


def _rolled_mean(values: NDArray[np.float64], size: int) -> NDArray[np.float64]:
    from scipy.ndimage import uniform_filter1d

    return np.asarray(uniform_filter1d(values, size, mode="wrap"), dtype=float)
