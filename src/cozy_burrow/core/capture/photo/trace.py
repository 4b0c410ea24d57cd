"""From a photo to outlines: the whole way, with progress, on pixels that are already open.

Sight     where the camera stood                       sighting
Flat      the page laid flat, the light evened         flat
Things    what lies there, roughly                     things
Edge      where it ends, to a fraction of a pixel      edges
Outline   parallax taken out, runs made straight       sides, runs
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import MultiLineString, Polygon

from cozy_burrow.core.capture.photo.edges import Edge, Ground, refined, signed_area
from cozy_burrow.core.capture.photo.flat import Flat, lay_flat, light_of
from cozy_burrow.core.capture.photo.lie import PixelMap
from cozy_burrow.core.capture.photo.picture import Picture
from cozy_burrow.core.capture.photo.pose import Sight
from cozy_burrow.core.capture.photo.sides import Sides, at_height, true_outline
from cozy_burrow.core.capture.photo.sighting import see_mat
from cozy_burrow.core.capture.photo.things import Thing, find_things
from cozy_burrow.core.capture.runs import faired
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.progress import Quiet, Token
from cozy_burrow.core.tongue import tr

Points = NDArray[np.float64]
T = TypeVar("T")
NO_LINES = MultiLineString()
Stretch = Callable[[str], tuple[float, float]]  # how much larger than drawn a printer makes a paper's pages
_LEAST_MM2, _LEAST_HOLE_MM2 = 15.0, 4.0


@dataclass(frozen=True)
class SeenThing:
    """A thing as it covers the paper, in mat millimetres, parallax still in it; spread_mm: noise of its edge.

    weak: the runs of its rim that the picture hardly supports; step: how much its rim differs from the paper beside
    it, in shares of the light there, in the median.
    """

    shape: Polygon
    spread_mm: float
    weak: MultiLineString = NO_LINES
    step: float = 1.0


@dataclass(frozen=True)
class Traced:
    """A thing's true outline in mat millimetres, and how sure it is (one standard deviation, mm).

    weak: the runs of it that the picture hardly supports.
    """

    shape: Polygon
    sure_mm: float
    seen: SeenThing
    weak: MultiLineString = NO_LINES

    @property
    def trust(self) -> float:
        """The share of the rim that the picture supports, 0 to 1."""
        return round(1 - min(1.0, float(self.weak.length / max(1.0, self.shape.length))), 3)


@dataclass(frozen=True)
class PhotoTrace:
    """A photo understood: where the camera stood, and the things on it.

    view: where places of the mat are seen in it; bent_mm: how far that is beside where a flat page would be.
    """

    sight: Sight
    things: tuple[SeenThing, ...]
    left_out: tuple[str, ...]
    view: PixelMap | None = None
    bent_mm: float = 0.0


def look_at(picture: Picture, *, where: str, stretch: Stretch | None = None, token: Token | None = None) -> PhotoTrace:
    """Return the things that a photo shows on the mat. Raises UnusableInput where no mat can be trusted."""
    token = token or Quiet()
    token.step(0.0)
    sight = see_mat(picture, where=where, stretch=stretch)
    token.step(0.35)
    light, first = light_of(picture.pixels, sight)
    flat = lay_flat(light, first, sight)
    token.step(0.5)
    ground = Ground(light, first, flat.view or sight.camera, flat.blur_mm, flat.dots, flat.ink)
    rough = find_things(flat)
    token.step(0.75)
    seen, left_out = [], []
    for number, thing in enumerate(rough):
        if thing.touches_rim:
            left_out.append(tr("an item reaches over the edge of the paper"))
            continue
        found = seen_thing(thing, flat, ground)
        if found is not None:
            seen.append(found)
        token.step(0.75 + 0.25 * (number + 1) / len(rough))
    things = tuple(sorted_things(seen, shape=lambda one: one.shape))
    return PhotoTrace(sight=sight, things=things, left_out=tuple(left_out), view=flat.view, bent_mm=flat.bent_mm)


def outlines(trace: PhotoTrace, *, height_mm: float, sides: Sides, where: str) -> list[Traced]:
    """Return the true outlines of all things for edges at one height. Raises UnusableInput where there is no thing."""
    found = [one for seen in trace.things for one in outline_of_seen(trace, seen, height_mm=height_mm, sides=sides)]
    if not found:
        why = f": {trace.left_out[0]}" if trace.left_out else ""
        raise UnusableInput(
            tr("the mat is seen, but no item lies on it{why}", why=why),
            where=where,
            remedy=tr("lay the items on the white field, apart from each other and from the border"),
        )
    return sorted_things(found, shape=lambda one: one.shape)


def sorted_things(things: list[T], *, shape: Callable[[T], Polygon]) -> list[T]:
    """Return things from left to right, those one over the other from top to bottom."""
    return sorted(things, key=lambda one: (round(shape(one).bounds[0], 1), round(shape(one).bounds[1], 1)))


def outline_of_seen(
    trace: PhotoTrace,
    seen: SeenThing,
    *,
    height_mm: float,
    sides: Sides,
    height_sigma_mm: float = 0.0,
    fair: bool = True,
) -> list[Traced]:
    """Return the true outline of one thing (several where the wall that joined them is taken out).

    height_sigma_mm: the standard deviation of the height, nought where somebody says it.
    fair: whether straight and round runs are drawn so.
    """
    camera = trace.sight.camera
    parts = true_outline(seen.shape, camera, height_mm=height_mm, sides=sides)
    largest = max((part.area for part in parts), default=0.0)
    kept = [part for part in parts if part.area >= max(_LEAST_MM2, 0.05 * largest)]
    sure = sure_of(trace.sight, seen, height_mm=height_mm, height_sigma_mm=height_sigma_mm)
    weak = at_height(seen.weak, camera, height_mm=height_mm)
    found = [Traced(shape=_without_specks(part), sure_mm=sure, seen=seen, weak=weak) for part in kept]
    return [with_fair_lines(one) for one in found] if fair else found


def with_fair_lines(traced: Traced) -> Traced:
    """Return an outline with its straight and round runs drawn so."""
    noise = max(traced.seen.spread_mm, 0.02)
    return replace(traced, shape=_without_specks(faired(traced.shape, noise_mm=noise)))


def _without_specks(part: Polygon) -> Polygon:
    """Return the part without the slivers of holes that cutting outlines with each other leaves."""
    return Polygon(part.exterior, [hole for hole in part.interiors if Polygon(hole).area >= _LEAST_HOLE_MM2])


def sure_of(sight: Sight, seen: SeenThing, *, height_mm: float, height_sigma_mm: float = 0.0) -> float:
    """Return the standard deviation of a point of an outline, in mm: of edge, marks, and the heights of lens and edge.

    An edge so much higher or lower is seen elsewhere by as much as its camera stands aside, in shares of its height.
    """
    eye = np.array(sight.camera.eye_mm[:2])
    far = float(np.hypot(*(shapely.get_coordinates(seen.shape) - eye).T).mean())
    lens_mm = height_mm * min(0.05, sight.focal_sure)
    parallax = far / sight.camera.height_mm * float(np.hypot(lens_mm, height_sigma_mm))
    return float(np.sqrt(seen.spread_mm**2 + sight.residual_mm**2 + parallax**2 + 0.03**2))


def seen_thing(thing: Thing, flat: Flat, ground: Ground) -> SeenThing | None:
    """Return a thing with its edges found in the picture, None where nothing is left of it."""
    import cv2

    contours, tree = cv2.findContours(thing.mask.astype(np.uint8), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    outer: list[Edge] = []
    holes: list[Edge] = []
    for contour, links in zip(contours, tree[0] if tree is not None else []):
        if len(contour) < 12:
            continue
        rim = _known_part(true_rim(contour.reshape(-1, 2).astype(float), inner=links[3] >= 0), flat.guessed)
        rough = flat.to_mat(rim)
        if abs(signed_area(rough)) < 6.0:
            continue
        edge = refined(ground, rough, inner=links[3] >= 0)
        (outer if links[3] < 0 else holes).append(edge)
    if not outer:
        return None
    main = max(outer, key=lambda one: abs(signed_area(one.points_mm)))
    parts = polygons_in(shapely.make_valid(Polygon(main.points_mm)))
    if not parts:
        return None
    shape = Polygon(parts[0].exterior)
    for hole in holes:
        inner = polygons_in(shapely.make_valid(Polygon(hole.points_mm)))
        if inner and shape.contains(inner[0]):
            shape = polygons_in(shape.difference(inner[0]))[0]
    weak = [run for edge in (main, *holes) for run in edge.weak_runs()]
    return SeenThing(
        shape=shape, spread_mm=main.spread_mm, weak=MultiLineString(weak), step=float(np.median(main.steps))
    )


def _known_part(rim: Points, guessed: NDArray[np.bool_]) -> Points:
    """Return a rough contour straight across what was filled in: the picture itself has the edge there."""
    column, row = (np.clip(np.round(rim[:, k]).astype(int), 0, guessed.shape[1 - k] - 1) for k in (0, 1))
    kept = ~guessed[row, column]
    return rim[kept] if kept.sum() >= max(24, 0.5 * len(rim)) else rim


def true_rim(cells: Points, *, inner: bool) -> Points:
    """Return the rim between cells in and out of a mask: contours run through the middles of the cells within.

    The contour of a hole runs through cells of the thing round it.
    """
    ring = Polygon(cells).buffer(-0.5 if inner else 0.5)
    part = max(shapely.get_parts(ring), key=lambda one: one.area, default=None)
    return cells if part is None or part.is_empty else shapely.get_coordinates(part.exterior)[:-1]
