"""Which other thing of an insert lies in a place: each is laid there in thought, and the photo says which fits best."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely
from msgspec.structs import replace
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.settling import Pose
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.keep.looked import Looked
from cozy_burrow.core.keep.otherwise import shares_of
from cozy_burrow.core.keep.place import FEWEST_CELLS, Place, cells_of, said
from cozy_burrow.core.keep.supposed import InThought, Supposed, in_thought, more_than, supposed
from cozy_burrow.core.keep.turned import lying_turned
from cozy_burrow.core.model.records import Item, Point
from cozy_burrow.core.relief.field import Lying
from cozy_burrow.core.tongue import tr

_SOME = 0.05  # of a place looks bare, and as much does not: else it is one of both all over
_LEAST_SIZE, _MOST_SIZE = 0.15, 1.4  # of what belongs there: smaller or larger things are not tried
_WAYS_DEG = (0.0, 180.0)
_LIKELIEST = 3  # by their rays: these are laid again where most of them speak for it
_LOOSE_MM, _LOOSEST_MM = 4.0, 15.0  # it may lie so far off the middle, more where the place is longer or wider
_NEAR_MM = 0.75  # nearer to where it was tried it is there
_CLEAR_ODDS = 2.0
# On 142 photos of simulated drawers all of 102 things in another's place that light shows beat the place's own by 0.44
# and more; of 33 places that look partly bare with their own thing in them none was beaten by over 0.17.
_BEATS, _MAY_BEAT, _NO_RIM = 0.35, 0.25, -0.35
# Where it was laid again to please the rays, three with light alone for it, or hardly any, were not what lay there.
_SEEN, _OUTLINE = 0.5, 0.0
_EDGES_FIT = 0.8  # where light does not show it
_TURNED_FITS, _MORE_THAN_TURNED = 0.7, 0.25


@dataclass(frozen=True)
class Found:
    """A thing that fits a place, and how well."""

    name: str
    thought: InThought
    way: Supposed


def looked_at_instead(ground: Ground, now: Looked, odds: NDArray[np.float64], place: Place) -> Place:
    """Return what is said of a place, looked at whether another thing of the insert lies in it.

    Only where a part of it looks bare and another does not. What looks like neither this nor that is unsure.
    """
    if place.seen < FEWEST_CELLS:
        return place
    shares = shares_of(now, odds, place.key)
    if min(shares.bare, shares.there) < _SOME:
        return place
    own = next(one for one in now.lying if one.placement.id == place.key)
    best = best_instead(ground, now, odds, own)
    round_about = in_thought(ground, now, own, lying_turned(own))
    turned = supposed(now, odds, round_about)
    more = more_than(odds, (best.thought, best.way), (round_about, turned)) if best is not None else -math.inf
    if best is not None and more > _MORE_THAN_TURNED:
        way = best.way
        is_seen = way.shows > _SEEN and way.edges > _OUTLINE and way.rim > _NO_RIM
        if is_seen and way.beats > _BEATS:
            return said(place, "other", tr("‘{name}’ seems to lie there", name=best.name))
        if place.state == "empty" and way.fits > _EDGES_FIT:
            return said(place, "unsure", tr("it looks empty, but ‘{name}’ may lie there", name=best.name))
        if place.state in {"filled", "turned"} and is_seen and way.beats > _MAY_BEAT:
            return said(place, "unsure", tr("‘{name}’ may lie there", name=best.name))
    if place.state == "unsure" and turned.fits > _TURNED_FITS and more < 0:
        return said(place, "turned", tr("its outline lies the other way round"))
    beaten = best is not None and best.way.beats > _MAY_BEAT
    if place.state == "other" and not beaten and not shares.surely and _is_own_outline(now, place.key):
        return said(place, "unsure", place.why)
    return place


def _is_own_outline(now: Looked, key: str) -> bool:
    """Return whether the outline of a place's own thing is seen rather than its empty pocket."""
    return now.edges.of(cells_of(now, key)).balance > 0


def best_instead(ground: Ground, now: Looked, odds: NDArray[np.float64], own: Lying) -> Found | None:
    """Return the thing of the insert that fits a place best, other than its own; None where none has its size."""
    tried = []
    for one in _others(ground, now, own):
        thought = in_thought(ground, now, own, one)
        most, off = _where(odds, thought, _loose_mm(own, one))
        tried.append((most, one, off, thought, supposed(now, odds, thought)))
    found = [Found(one.item.name, thought, way) for _, one, _, thought, way in tried]
    likely = sorted(tried, key=lambda row: -row[0])[:_LIKELIEST]
    for _, one, off, *_ in likely:
        if math.hypot(*off) > _NEAR_MM:
            where = one.placement
            moved = Lying(one.item, replace(where, x_mm=where.x_mm + off[0], y_mm=where.y_mm + off[1]), one.pose)
            thought = in_thought(ground, now, own, moved)
            found.append(Found(one.item.name, thought, supposed(now, odds, thought)))
    return max(found, key=lambda one: one.way.fits, default=None)


def _others(ground: Ground, now: Looked, own: Lying) -> Iterator[Lying]:
    """Yield other things of about a place's size as they would lie in it: along it, middle on middle, either way."""
    size = own.outline.area
    kinds = {one.item.id: one for one in now.lying if one.item.name != own.item.name}
    for one in kinds.values():
        if _LEAST_SIZE * size < one.outline.area < _MOST_SIZE * size:
            for way_deg in _WAYS_DEG:
                yield _laid(ground, one.item, own, way_deg)


def _laid(ground: Ground, item: Item, own: Lying, way_deg: float) -> Lying:
    """Return a thing along a place, on its floor, its middle on that of the place's own thing."""
    outline = polygon_of(item.outline)
    angle_deg = (_along_deg(own.outline) - _along_deg(outline) + way_deg) % 360.0
    pose = Pose(
        datum_mm=min(zone.lowest_mm for zone in item.zones) + ground.pockets[own.placement.id].seating.bottom_mm
    )
    there = own.outline.centroid
    middle = Lying(item, replace(own.placement, x_mm=0.0, y_mm=0.0, angle_deg=angle_deg), pose).outline.centroid
    where = replace(own.placement, x_mm=there.x - middle.x, y_mm=there.y - middle.y, angle_deg=angle_deg)
    return Lying(item, where, pose)


def _sides(shape: BaseGeometry) -> NDArray[np.float64]:
    """Return the longer and the shorter side of the narrowest rectangle round a shape, as ways, (2, 2)."""
    corners = shapely.get_coordinates(shapely.oriented_envelope(shape))[:3]
    ways = np.diff(corners, axis=0)
    return np.asarray(ways[np.argsort(-np.hypot(*ways.T))])


def _along_deg(shape: BaseGeometry) -> float:
    x, y = _sides(shape)[0]
    return math.degrees(math.atan2(y, x))


def _loose_mm(own: Lying, one: Lying) -> float:
    apart = np.abs(np.hypot(*_sides(own.outline).T) - np.hypot(*_sides(one.outline).T)) / 2
    return min(_LOOSEST_MM, float(apart.max()) + _LOOSE_MM)


def _where(odds: NDArray[np.float64], thought: InThought, loose_mm: float) -> tuple[float, Point]:
    """Return how much speaks for a thing where most does, and how far that is from where it was laid, in mm."""
    import cv2

    scale = thought.grid.px_per_mm
    reach = math.ceil(loose_mm * scale)
    there = np.where(thought.told, np.clip(odds[thought.window], -_CLEAR_ODDS, _CLEAR_ODDS), 0.0).astype(np.float32)
    # Beside both, something of another place may lie: that speaks for none.
    there[~(thought.is_own | thought.is_other)] = np.minimum(there[~(thought.is_own | thought.is_other)], 0.0)
    padded = cv2.copyMakeBorder(there, reach, reach, reach, reach, cv2.BORDER_CONSTANT, value=0.0)
    sums = cv2.matchTemplate(padded, thought.is_other.astype(np.float32), cv2.TM_CCORR)
    row, column = np.unravel_index(int(sums.argmax()), sums.shape)
    return float(sums.max()), ((column - reach) / scale, (row - reach) / scale)
