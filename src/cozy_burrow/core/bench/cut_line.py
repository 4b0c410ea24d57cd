"""Where the blade goes beside a drawn line, what its lean does at depth, and which round or straight tool will do.

Marking      how the outline comes onto the foam: a printed template, a marker round the thing, the knife itself, a card
             template, a scribe point
Drawn line   what is seen on the foam; a marker's middle lies half its tip outside the thing
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.geometry.rings import polygon_of, polygons_in
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Item, Record, Rules, Zone

ROUND_WITHIN_MM = 1.0  # a saw or stencil whose circle is nowhere farther from the line is used
LEAST_RUN_MM = 30.0  # shorter straight runs are not worth laying a rule along
RUN_OFF_MM = 0.3  # a rule lies along what bends by no more
SCRIBE_MM = 0.3  # radius of a scribe's point
_PIECE_MM = 2.0  # of a pocket's line that is looked at as one
ALIKE_MM = 0.3  # a hand keeps to a line no better
SAWS_MM = (19.0, 22.0, 25.0, 29.0, 32.0, 35.0, 38.0, 40.0, 41.0, 44.0, 51.0, 57.0, 64.0, 76.0)  # hole saws and stencils


class CutLine(Record, frozen=True, kw_only=True):
    """What the blade does for one pocket.

    beside_mm: how far inside the drawn line its middle runs along most of it (negative: outside); least_mm, most_mm:
    where that is least and most. floats_mm: how high parts of the thing hang over the foam while it is marked, or 0.
    lean_mm: by how much the floor is smaller on each side for the lean of the knife at the pocket's depth.
    """

    beside_mm: float
    least_mm: float
    most_mm: float
    floats_mm: float
    lean_mm: float

    @property
    def same_all_round(self) -> bool:
        """Whether one figure will do."""
        return self.most_mm - self.least_mm <= ALIKE_MM


def cut_line(pocket: Pocket, depth_mm: float, rules: Rules) -> CutLine:
    """Return how one pocket is cut with the marking, tip, kerf and lean of the rules; depth_mm: how deep it goes.

    At every place of the pocket's line what is drawn lies so far outside the thing's widest outline, and the pocket's
    line at the surface so far inside it: a round thing that lies shallow is narrower there. The second is cut.
    """
    half_kerf = rules.kerf_mm / 2
    if rules.marking == "template":  # the pocket itself is printed
        beside, weight = np.array([half_kerf]), np.array([1.0])
    else:
        local = pocket.local
        at, weight = _along(local.surface)
        outline = polygon_of(local.item.outline)
        inset = shapely.distance(at, outline.boundary) * np.where(shapely.intersects(outline, at), 1.0, -1.0)
        beside = _drawn_mm(local.item, at, rules) + inset + half_kerf
    order = np.argsort(beside)
    share = np.cumsum(weight[order]) / weight.sum()
    least, middle, most = (float(beside[order][np.searchsorted(share, part)]) for part in (0.02, 0.5, 0.98))
    return CutLine(
        beside_mm=middle,
        least_mm=least,
        most_mm=most,
        floats_mm=floats_mm(pocket.item) if rules.marking in {"marker", "knife", "scribe"} else 0.0,
        lean_mm=depth_mm * math.tan(math.radians(rules.lean_deg)),
    )


def upright_beside_mm(rules: Rules, allowance_mm: float) -> float:
    """Return how far inside the drawn line the blade runs for upright sides: the rule of the day.

    What is drawn lies half the marker's tip, or a scribe's radius, outside the thing; a printed template is the pocket;
    the pocket lies its allowance outside the thing; and the blade takes half its kerf on either side of its middle.
    """
    drawn_mm = {"template": allowance_mm, "marker": rules.tip_mm / 2, "scribe": SCRIBE_MM}.get(rules.marking, 0.0)
    return drawn_mm - allowance_mm + rules.kerf_mm / 2


def _along(area: BaseGeometry) -> tuple[NDArray[np.object_], NDArray[np.float64]]:
    """Return points in the middle of short pieces of an opening's line, and how long each piece is."""
    found, lengths = [], []
    for ring in [line for part in polygons_in(area) for line in (part.exterior, *part.interiors)]:
        points = shapely.get_coordinates(shapely.segmentize(ring, _PIECE_MM))
        found.append((points[:-1] + points[1:]) / 2)
        lengths.append(np.hypot(*np.diff(points, axis=0).T))
    dots: NDArray[np.object_] = np.asarray(shapely.points(np.concatenate(found)))
    return dots, np.concatenate(lengths)


def _drawn_mm(item: Item, at: NDArray[np.object_], rules: Rules) -> NDArray[np.float64]:
    """Return how far outside the thing's outline the drawn line lies at places beside it.

    A pen or a scribe leans over the thing and touches its widest edge at a height: its foot stands off by
    height · tan(lean). A knife that goes round the thing leans in: its tip meets the foam so far inside that edge. Both
    touch a round thing a little above or below its middle: radius · (1 / cos(lean) - 1) more. A card lies flat.
    """
    if rules.marking == "card":
        return np.zeros(len(at))
    lean = math.radians(rules.lean_deg)
    lowest = min(zone.lowest_mm for zone in item.zones)
    regions = [polygon_of(zone.region) for zone in item.zones]
    off = np.array([shapely.distance(region, at) for region in regions]).round(3)
    # Where parts meet, the thicker one stands in the way.
    thin = np.array([[-zone.thickness_mm] for zone in item.zones])
    nearest = np.lexsort((np.broadcast_to(thin, off.shape), off), axis=0)[0]
    height = np.array([_edge_mm(zone) - lowest for zone in item.zones])[nearest]
    bulge = np.array([zone.thickness_mm / 2 if zone.section == "round" else 0.0 for zone in item.zones])[nearest]
    touches = bulge * (1 / math.cos(lean) - 1)
    over = height * math.tan(lean)
    drawn: NDArray[np.float64] = touches - over if rules.marking == "knife" else touches + over
    return drawn + {"marker": rules.tip_mm / 2, "scribe": SCRIBE_MM}.get(rules.marking, 0.0)


def _edge_mm(zone: Zone) -> float:
    """Return the height of the edge that a pen meets: the middle of a round zone, the underside of others."""
    return (zone.lowest_mm + zone.highest_mm) / 2 if zone.section == "round" else zone.lowest_mm


def floats_mm(item: Item) -> float:
    """Return how high a part of a thing that lies on the foam hangs over it, where that is most; 0 of a plain rod."""
    lowest = min(zone.lowest_mm for zone in item.zones)
    return max(zone.lowest_mm for zone in item.zones) - lowest


@memo(rows=1024)
def saw_for(area: BaseGeometry, saws_mm: tuple[float, ...] = SAWS_MM) -> float | None:
    """Return which of some hole saws or stencils has a circle that lies within ROUND_WITHIN_MM of an opening's line."""
    parts = polygons_in(area)
    if len(parts) != 1:
        return None
    ring = shapely.get_coordinates(shapely.segmentize(parts[0].exterior, 1.0))
    middle = shapely.get_coordinates(parts[0].centroid)[0]
    radii = np.hypot(*(ring - middle).T)
    best = min(saws_mm, key=lambda saw: float(np.abs(radii - saw / 2).max()))
    return best if float(np.abs(radii - best / 2).max()) <= ROUND_WITHIN_MM else None


@memo(rows=1024)
def straight_mm(part: Polygon) -> tuple[float, float]:
    """Return (how much of a line runs straight enough for a rule, its whole length), in mm."""
    line = shapely.simplify(part.exterior, RUN_OFF_MM)
    points = shapely.get_coordinates(line)
    runs = np.hypot(*np.diff(points, axis=0).T)
    return float(runs[runs >= LEAST_RUN_MM].sum()), float(part.exterior.length)
