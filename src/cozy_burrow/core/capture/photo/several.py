"""Several photos of one layout: each thing found again in each, its height measured, its outline the best of all.

Everything is in the page millimetres of the first photo: pages of one mat lie as they lay, only the camera moved.

Weak   where a photo's outline is bridged or guessed: another photo's is taken there
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import affinity
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.capture.photo.crossings import crossings
from cozy_burrow.core.capture.photo.heights import Height, View, Walls, mixed, step_of, walls_as, walls_of
from cozy_burrow.core.capture.photo.pose import Sight
from cozy_burrow.core.capture.photo.sides import Sides, swell
from cozy_burrow.core.capture.photo.trace import (
    PhotoTrace,
    SeenThing,
    Traced,
    outline_of_seen,
    outlines,
    sorted_things,
    with_fair_lines,
)
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.tongue import tr

_USUAL: Sides = "round"  # walls, where nobody says and no photos tell
_LEAST_LIKELY = 0.01
_LEVELS_MM = (0.0, 6.0, 14.0, 26.0, 45.0)  # heights that things are matched at
_LEAST_ALIKE = 0.3  # of two outlines together, how much they share
_REACH_MM = 1.5
_DISAGREE_MM = 0.6  # farther apart than this, one of the photos errs: the first one is believed where it is not weak
_WEAK_NEAR_MM = 0.4


@dataclass(frozen=True)
class Part:
    """A part of a thing with a height of its own."""

    shape: Polygon
    height: Height


@dataclass(frozen=True)
class Measured:
    """A thing of several photos. height: None where only one photo shows it, or cameras were too near to each other.

    sides: how its walls were taken to stand.
    """

    traced: Traced
    height: Height | None
    parts: tuple[Part, ...] = ()
    sides: Sides = "round"


def measured_things(
    traces: Sequence[PhotoTrace], *, guess_mm: float, sides: Sides | None, where: str
) -> list[Measured]:
    """Return the things of several photos of one layout. guess_mm: height of edges that can't be measured.

    sides: how the walls of all of them stand; None: the photos tell of each, round where they can't.

    Raises UnusableInput where a photo shows another mat than the first, or none shows a thing.
    """
    check_same_mat([trace.sight for trace in traces])
    if not any(trace.things for trace in traces):
        outlines(traces[0], height_mm=guess_mm, sides=sides or _USUAL, where=where)  # says why
    first = traces[0]
    groups: list[dict[int, SeenThing]] = [{0: seen} for seen in first.things]
    for number, trace in enumerate(traces[1:], start=1):
        left = _joined(groups, number, trace, traces)
        groups += [{number: seen} for seen in left]
    found = [one for group in groups if (one := _measured(group, traces, guess_mm, sides)) is not None]
    return sorted_things(found, shape=lambda one: one.traced.shape)


def check_same_mat(sights: Sequence[Sight]) -> None:
    """Raise UnusableInput where a photo shows another mat than the first."""
    first = sights[0].pages[0].page
    for number, sight in enumerate(sights[1:], start=2):
        page = sight.pages[0].page
        if page != first:
            raise UnusableInput(
                tr("photo {number} shows another mat than the first", number=number),
                where=f"{page.paper} {page.page}",
                remedy=tr("give photos of one layout on one mat"),
            )


def _joined(
    groups: list[dict[int, SeenThing]], number: int, trace: PhotoTrace, traces: Sequence[PhotoTrace]
) -> list[SeenThing]:
    """Put the things of a photo to those of the photos before, each to the one most like it; return the rest."""
    known = [(group[min(group)], traces[min(group)].sight) for group in groups]
    same = same_things(known, trace)
    for column, row in same.items():
        groups[row][number] = trace.things[column]
    return [seen for column, seen in enumerate(trace.things) if column not in same]


def same_things(known: Sequence[tuple[SeenThing, Sight]], trace: PhotoTrace) -> dict[int, int]:
    """Return which things of a photo are known from others: their numbers there, by their numbers in the photo."""
    from scipy.optimize import linear_sum_assignment

    if not known or not trace.things:
        return {}
    one_side = [_levels(one.shape, sight) for one, sight in known]
    other_side = [_levels(seen.shape, trace.sight) for seen in trace.things]
    alike = np.array([[_likeness(one, other) for other in other_side] for one in one_side])
    rows, columns = linear_sum_assignment(-alike)
    return {int(c): int(r) for r, c in zip(rows, columns) if alike[r, c] >= _LEAST_ALIKE}


def _levels(shape: Polygon, sight: Sight) -> list[BaseGeometry]:
    """Return an outline, roughly, at each of the heights that things are matched at."""
    rough = Polygon(shape.exterior).simplify(0.3)
    x, y, _ = sight.camera.eye_mm
    factors = [1 / swell(sight.camera, level) for level in _LEVELS_MM]
    return [affinity.scale(rough, factor, factor, origin=(x, y, 0.0)).buffer(0) for factor in factors]


def _likeness(one: Sequence[BaseGeometry], other: Sequence[BaseGeometry]) -> float:
    """Return how much two outlines share at the height at which they share most."""
    best = 0.0
    for a, b in zip(one, other):
        if a.envelope.intersects(b.envelope):
            shared = a.intersection(b).area
            best = max(best, float(shared / (a.area + b.area - shared)))
    return best


def _measured(
    group: dict[int, SeenThing], traces: Sequence[PhotoTrace], guess_mm: float, wanted: Sides | None
) -> Measured | None:
    numbers = sorted(group)
    views = [view_of(group[number], traces[number].sight) for number in numbers]
    pairs = list(combinations(views, 2))
    if wanted is None:
        walls = walls_of(pairs, usual=_USUAL, guess_mm=guess_mm)
    else:
        walls = (walls_as(pairs, wanted, guess_mm=guess_mm),)
    sides = walls[0].sides
    height, pair = _height(pairs, walls)
    edge = Height(guess_mm, 0.0) if height is None else height
    drawn = [
        (number, outline)
        for number in numbers
        if (outline := _main(traces[number], group[number], edge, sides)) is not None
    ]
    if not drawn:
        return None
    traced = _together([outline for _, outline in drawn])
    step = None if height is None or pair is None else step_of(*pair, height, sides=sides)
    if step is None or height is None:
        return Measured(traced, height, sides=sides)
    # Each part is drawn at its own height, up to the line across where they meet.
    pieces, parts = [], []
    for ahead, own in ((False, step.before), (True, step.after)):
        mains = [_main(traces[number], group[number], own, sides) for number in numbers]
        kept = [one for one in mains if one is not None]
        if not kept:
            return Measured(traced, height, sides=sides)
        half = _half(step.at_mm, step.along, ahead)
        piece = polygons_in(_together(kept).shape.intersection(half))
        if not piece:
            return Measured(traced, height, sides=sides)
        pieces += piece
        parts.append(Part(max(piece, key=lambda one: one.area), own))
    whole = polygons_in(shapely.union_all([piece.buffer(0.01) for piece in pieces]).buffer(-0.01))
    main = max(whole, key=lambda one: one.area)
    return Measured(
        replace(traced, shape=main), max((step.before, step.after), key=lambda one: one.edge_mm), tuple(parts), sides
    )


def _height(
    pairs: Sequence[tuple[View, View]], walls: Sequence[Walls]
) -> tuple[Height | None, tuple[View, View] | None]:
    """Return the height of a thing whose walls stand in one of some ways, and the pair of views that tells it best."""
    agreed = [(way.share, one) for way in walls if way.share >= _LEAST_LIKELY and (one := _agreed(pairs, way.heights))]
    if not agreed:
        return None, None
    whole = sum(share for share, _ in agreed)
    return mixed([(share / whole, height) for share, (height, _) in agreed]), agreed[0][1][1]


def _agreed(
    pairs: Sequence[tuple[View, View]], heights: Sequence[Height | None]
) -> tuple[Height, tuple[View, View]] | None:
    """Return the height that all pairs of views agree on, each as sure as it is, and the surest pair."""
    found = [(height, pair) for height, pair in zip(heights, pairs) if height is not None]
    if not found:
        return None
    sure = np.array([one.sigma_mm**-2 for one, _ in found])
    mean = float(np.sum(sure * np.array([one.edge_mm for one, _ in found])) / sure.sum())
    # Pairs share photos: together they are no surer than half of them.
    sigma = float(sure.sum() ** -0.5) * (1.0 if len(found) == 1 else 2**0.5)
    surest, pair = min(found, key=lambda one: one[0].sigma_mm)
    return Height(mean, min(sigma, surest.sigma_mm)), pair


def view_of(seen: SeenThing, sight: Sight) -> View:
    """Return what a photo's camera sees of one thing."""
    return View(seen=seen.shape, camera=sight.camera, unsure_mm=sight.residual_mm / max(1.0, sight.markers) ** 0.5)


def _main(trace: PhotoTrace, seen: SeenThing, edge: Height, sides: Sides) -> Traced | None:
    found = outline_of_seen(trace, seen, height_mm=edge.edge_mm, sides=sides, height_sigma_mm=edge.sigma_mm, fair=False)
    return max(found, key=lambda one: float(one.shape.area), default=None)


def _together(drawn: list[Traced]) -> Traced:
    """Return one outline of those that several photos give for one thing: their mean, where none of them is weak.

    It is drawn fair after that: of the mean, errors are smaller than of one of them.
    """
    return with_fair_lines(_mean_of(drawn) if len(drawn) > 1 else drawn[0])


def _mean_of(drawn: list[Traced]) -> Traced:
    base = drawn[0]
    ring = shapely.orient_polygons(shapely.segmentize(base.shape, 0.5)).exterior
    points = shapely.get_coordinates(ring)[:-1]
    along = np.roll(points, -1, axis=0) - np.roll(points, 1, axis=0)
    along /= np.maximum(np.hypot(*along.T), 1e-9)[:, None]
    outward = np.column_stack([along[:, 1], -along[:, 0]])
    own = _weights(points, base)
    total, moved = own.copy(), np.zeros(len(points))
    for other in drawn[1:]:
        gap = crossings(points, outward, other.shape.exterior, _REACH_MM)
        met = ~np.isnan(gap)
        gap = np.where(met, gap, 0.0)
        weight = np.where(met, _weights(points + gap[:, None] * outward, other), 0.0)
        weight = np.where((np.abs(gap) > _DISAGREE_MM) & (own >= weight), 0.0, weight)
        total += weight
        moved += weight * gap
    from scipy.ndimage import gaussian_filter1d

    shift = gaussian_filter1d(moved / total, 1.5, mode="wrap")
    outer = polygons_in(shapely.make_valid(Polygon(points + shift[:, None] * outward)))
    if not outer:
        return base
    main = max(outer, key=lambda one: one.area)
    holes = _holes_together(drawn)
    shape = polygons_in(main.difference(holes)) if holes is not None else [main]
    sure = float(np.sqrt(1 / np.sum([one.sure_mm**-2 for one in drawn])))
    return replace(base, shape=max(shape, key=lambda one: one.area), sure_mm=max(0.02, sure))


def _weights(points: NDArray[np.float64], traced: Traced) -> NDArray[np.float64]:
    """Return how far an outline is believed at points of it: hardly where it is weak."""
    near: NDArray[np.bool_] = np.zeros(len(points), dtype=bool)
    if not traced.weak.is_empty:
        near = np.asarray(shapely.distance(shapely.points(points), traced.weak) < _WEAK_NEAR_MM)
    return np.where(near, 0.05, 1.0) / traced.sure_mm**2


def _holes_together(drawn: list[Traced]) -> BaseGeometry | None:
    """Return the holes that the photos show: from the side a wall hides some of a hole, and a photo may miss one."""
    holes = [[Polygon(ring) for ring in one.shape.interiors] for one in drawn]
    kept = list(holes[0])
    for other in holes[1:]:
        for hole in other:
            same = next((n for n, one in enumerate(kept) if one.intersects(hole)), None)
            if same is None:
                kept.append(hole)
            elif hole.area > kept[same].area:
                kept[same] = hole
    return shapely.union_all(kept) if kept else None


def _half(at: tuple[float, float], along: tuple[float, float], ahead: bool) -> Polygon:
    """Return the half of the plane before or ahead of a line across, as far as pages reach."""
    far = 3000.0
    (x, y), (u, v) = at, along if ahead else (-along[0], -along[1])
    across = np.array([(x - far * v, y + far * u), (x + far * v, y - far * u)])
    return Polygon(np.vstack([across, across[::-1] + far * np.array([u, v])]))
