"""How an item sits in its pocket: level or not, held up where, and how easily it rocks.

The pose is least potential energy on the ledges of the pocket (see settling). What carries it is wider than the bare
contacts: foam gives SIT_SLACK_MM, and a round thing is cradled as wide as it is in the foam.
"""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.sections import heights_at, revolved, spread_of
from cozy_burrow.core.depth.settling import Pose, hull_of, settle, steadiness
from cozy_burrow.core.depth.underside import Cut, Places, places_of, stations_that_count
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.zones import centre_of_mass
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Item, Point, Record, Zone
from cozy_burrow.core.tolerances import SIT_SLACK_MM

LEVEL_DEG = 1.0  # more is seen at a glance, and a lid touches one end first
ROCKS_BELOW = 0.1  # steadiness: a push of a ninth of its weight at one end tips it
_PUSHED_SHARE = 0.1  # of the way to the end, past the point of tipping: a light finger


class Contact(Record, frozen=True, kw_only=True):
    """A place at which the item rests: point in item coordinates, its zone, the layer below whose boundary it lies."""

    at: Point
    zone: int
    layer: int


class Sitting(Record, frozen=True, kw_only=True):
    """How an item comes to rest.

    pose: of its datum plane. contacts: where it touches. support: ring round all that carries it, item coordinates.
    steady: share of the way to its end that the centre of mass may shift before it tips. tips: level it would not stay.
    gaps_mm: free height under each zone where that is least. zone_proud_mm: how far each zone's top stands out.
    proud_mm, bottom_mm: highest top above the surface and lowest underside below it, tilt counted.
    """

    pose: Pose
    contacts: tuple[Contact, ...]
    support: tuple[Point, ...]
    steady: float
    tips: bool
    gaps_mm: tuple[float, ...]
    zone_proud_mm: tuple[float, ...]
    proud_mm: float
    bottom_mm: float

    @property
    def tilt_deg(self) -> float:
        """How far it lies off level."""
        return self.pose.tilt_deg

    @property
    def level(self) -> bool:
        """Whether it lies level within LEVEL_DEG."""
        return self.tilt_deg <= LEVEL_DEG

    @property
    def rocks(self) -> bool:
        """Whether a light push tips it."""
        return self.steady < ROCKS_BELOW

    @property
    def push_share(self) -> float:
        """The push at its end, as a share of its weight, that tips it."""
        return self.steady / max(1e-9, 1.0 - self.steady)


def sitting_of(pocket: Pocket, layers: tuple[Layer, ...], *, snug_mm: float, cuts: tuple[Cut, ...] = ()) -> Sitting:
    """Return how the item of a pocket sits; `cuts`: what else is taken out under it, in item coordinates."""
    return _sitting(pocket.local, layers, snug_mm, tuple(area for area, _ in cuts), tuple(count for _, count in cuts))


def is_known(pocket: Pocket, layers: tuple[Layer, ...], *, snug_mm: float, cuts: tuple[Cut, ...] = ()) -> bool:
    """Return whether it is known how an item sits, and how it rocks where it does, so that asking costs nothing."""
    areas, counts = tuple(area for area, _ in cuts), tuple(count for _, count in cuts)
    if not _sitting.knows(pocket.local, layers, snug_mm, areas, counts):
        return False
    sitting = _sitting(pocket.local, layers, snug_mm, areas, counts)
    return not sitting.rocks or _rocked.knows(sitting, pocket.local, layers, snug_mm, areas, counts)


@memo(rows=4096)
def _sitting(
    pocket: Pocket, layers: tuple[Layer, ...], snug_mm: float, areas: tuple[BaseGeometry, ...], counts: tuple[int, ...]
) -> Sitting:
    return resting_on(pocket.item, places_of(pocket, layers, snug_mm, tuple(zip(areas, counts))))


def resting_on(item: Item, places: Places) -> Sitting:
    """Return how an item sits on places, wherever they come from."""
    centre = centre_of_mass(item)
    pose = settle(places.xy, places.depth_mm, centre)
    slack = places.depth_mm - pose.depth_at(places.xy)
    near = slack <= SIT_SLACK_MM
    contacts = tuple(
        Contact(at=(float(x), float(y)), zone=int(zone), layer=int(layer))
        for (x, y), zone, layer in zip(places.xy[near], places.zone[near], places.layer[near])
    )
    support = hull_of(np.concatenate([places.xy[near], _cradles(item, places, near, pose)]))
    outline = shapely.get_coordinates(polygon_of(item.outline).convex_hull)
    ring = shapely.get_coordinates(support)
    proud = tuple(_proud(zone, pose) for zone in item.zones)
    return Sitting(
        pose=pose,
        contacts=contacts,
        support=tuple((float(x), float(y)) for x, y in ring),
        steady=steadiness(support, outline, centre),
        tips=pose.solved,
        gaps_mm=tuple(_gap(places, slack, index) for index in range(len(item.zones))),
        zone_proud_mm=proud,
        proud_mm=max(proud),
        bottom_mm=max(_lowest(zone, pose) for zone in item.zones),
    )


def rocked_pose(
    pocket: Pocket, layers: tuple[Layer, ...], *, snug_mm: float, cuts: tuple[Cut, ...] = ()
) -> Pose | None:
    """Return the pose that a light push at its weakest end tips a thing into; None where it stands firm."""
    sitting = sitting_of(pocket, layers, snug_mm=snug_mm, cuts=cuts)
    if not sitting.rocks:
        return None
    return _rocked(sitting, pocket.local, layers, snug_mm, tuple(one for one, _ in cuts), tuple(n for _, n in cuts))


def tips_over(pocket: Pocket, layers: tuple[Layer, ...], *, snug_mm: float, cuts: tuple[Cut, ...] = ()) -> bool:
    """Return whether a light push tips an item so far that it is seen: within LEVEL_DEG nobody would call it loose."""
    pose = rocked_pose(pocket, layers, snug_mm=snug_mm, cuts=cuts)
    return pose is not None and pose.tilt_deg > LEVEL_DEG


@memo(rows=512)
def _rocked(
    sitting: Sitting,
    pocket: Pocket,
    layers: tuple[Layer, ...],
    snug_mm: float,
    areas: tuple[BaseGeometry, ...],
    counts: tuple[int, ...],
) -> Pose:
    places = places_of(pocket, layers, snug_mm, tuple(zip(areas, counts)))
    centre = centre_of_mass(pocket.item)
    outline = shapely.get_coordinates(polygon_of(pocket.item.outline).convex_hull)
    share = max(0.0, sitting.steady) + _PUSHED_SHARE
    poses = []
    for corner in outline[:: max(1, len(outline) // 12)]:
        at = (centre[0] + share * (corner[0] - centre[0]), centre[1] + share * (corner[1] - centre[1]))
        poses.append(settle(places.xy, places.depth_mm, (float(at[0]), float(at[1]))))
    return max(poses, key=lambda pose: pose.tilt_deg)


def _gap(places: Places, slack: NDArray[np.float64], zone: int) -> float:
    mine = slack[places.zone == zone]
    return float(max(0.0, mine.min())) if len(mine) else 0.0


def _cradles(item: Item, places: Places, near: NDArray[np.bool_], pose: Pose) -> NDArray[np.float64]:
    """Return points (n, 2) beside the keel of round zones that rest: so wide the foam holds them.

    At a station the body is in the foam up to the surface, or up to its middle where that lies deeper; the half width
    of the body there is half width · sqrt(1 - (u/b)²), u above the middle of a section with half axis b.
    """
    found: list[NDArray[np.float64]] = [np.empty((0, 2))]
    for index, zone in enumerate(item.zones):
        if zone.section != "round":
            continue
        mine = near & (places.zone == index)
        if mine.any():
            found.append(_cradle(zone, pose, hull_of(places.xy[mine])))
    return np.concatenate(found)


def _cradle(zone: Zone, pose: Pose, touched: BaseGeometry) -> NDArray[np.float64]:
    body, chosen = revolved(zone), stations_that_count(zone)
    x, half = body.x_mm[chosen], np.maximum(body.half_mm[chosen], 1e-9)
    middle, reach = (body.low_mm + body.high_mm)[chosen] / 2, (body.high_mm - body.low_mm)[chosen] / 2
    keel = spread_of(body, np.column_stack([x, middle]))
    above = np.clip(pose.depth_at(keel) - body.centre_mm, -half, 0.0)  # of the surface above its middle, if below it
    chord = reach * np.sqrt(np.clip(1 - (above / half) ** 2, 0.0, 1.0))
    # Only where it rests along its length: a part that hangs in the air cradles nothing.
    held = shapely.distance(shapely.points(keel), touched) <= 1.0
    both = [spread_of(body, np.column_stack([x[held], (middle + side * chord)[held]])) for side in (-1.0, 1.0)]
    return np.concatenate(both)


@memo(rows=1024)
def _corners(zone: Zone) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """Return the places (n, 2) at which a zone can be highest or lowest, and its underside and top there."""
    if zone.section != "round":
        xy = shapely.get_coordinates(polygon_of(zone.region).convex_hull)
    else:
        body = revolved(zone)
        xy = spread_of(body, np.column_stack([body.x_mm, (body.low_mm + body.high_mm) / 2]))
    under, top = heights_at(zone, xy)
    on = np.isfinite(under)
    return xy[on], under[on], top[on]


def _proud(zone: Zone, pose: Pose) -> float:
    """Return how far the zone's top stands above the surface where that is most."""
    xy, _, top = _corners(zone)
    return float((top - pose.depth_at(xy)).max())


def _lowest(zone: Zone, pose: Pose) -> float:
    xy, under, _ = _corners(zone)
    return float((pose.depth_at(xy) - under).max())
