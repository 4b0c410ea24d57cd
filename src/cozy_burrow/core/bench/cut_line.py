"""Where the blade goes beside a drawn line, what its lean does at depth, and which round or straight tool will do.

Marking      how the outline comes onto the foam: a printed template, a marker round the thing, the knife itself, a card
             template, a scribe point
Drawn line   what is seen on the foam; a marker's middle lies half its tip outside the thing, and further where pen and
             thing lean over a gap: height x tan(lean)
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.pocket import Pocket, allowance_for
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Item, Record, Rules

ROUND_WITHIN_MM = 1.0  # a saw or stencil whose circle is nowhere farther from the line is used
LEAST_RUN_MM = 40.0  # shorter straight runs are not worth laying a rule along
RUN_OFF_MM = 0.3  # a rule lies along what bends by no more
SCRIBE_MM = 0.3  # radius of a scribe's point
SAWS_MM = (19.0, 22.0, 25.0, 29.0, 32.0, 35.0, 38.0, 40.0, 41.0, 44.0, 51.0, 57.0, 64.0, 76.0)  # hole saws and stencils


class CutLine(Record, frozen=True, kw_only=True):
    """What the blade does for one pocket.

    beside_mm: how far inside the drawn line its middle runs (negative: outside). drawn_mm: how far outside the thing
    that line lies. floats_mm: height at which the widest edge floats over the foam while it is marked, or 0.
    lean_mm: by how much the floor is smaller on each side for the lean of the knife at the pocket's depth.
    """

    beside_mm: float
    drawn_mm: float
    floats_mm: float
    lean_mm: float


def cut_line(pocket: Pocket, depth_mm: float, rules: Rules) -> CutLine:
    """Return how one pocket is cut with the marking, tip, kerf and lean of the rules; depth_mm: how deep it goes."""
    floats = floats_mm(pocket.item)
    lean = math.tan(math.radians(rules.lean_deg))
    allowance = allowance_for(pocket.item, rules)
    match rules.marking:
        case "template":
            drawn, wanted = allowance, allowance  # the pocket itself is printed
        case "marker":
            drawn, wanted = rules.tip_mm / 2 + floats * lean, allowance
        case "scribe":
            drawn, wanted = SCRIBE_MM + floats * lean, allowance
        case _:
            drawn, wanted = floats * lean, allowance
    return CutLine(
        beside_mm=drawn - wanted + rules.kerf_mm / 2,
        drawn_mm=drawn,
        floats_mm=floats,
        lean_mm=depth_mm * lean,
    )


def floats_mm(item: Item) -> float:
    """Return how high the widest edge of a thing that lies on the foam floats over it, where that is most.

    Of a round zone it is the middle, of others the underside: there the pen meets the thing.
    """
    lowest = min(zone.lowest_mm for zone in item.zones)
    edges = [
        (zone.lowest_mm + zone.highest_mm) / 2 if zone.section == "round" else zone.lowest_mm for zone in item.zones
    ]
    return max(0.0, max(edges) - lowest)


@memo(rows=1024)
def saw_for(area: BaseGeometry) -> float | None:
    """Return the diameter of the hole saw or stencil whose circle lies within ROUND_WITHIN_MM of an opening's line."""
    parts = polygons_in(area)
    if len(parts) != 1:
        return None
    ring = shapely.get_coordinates(shapely.segmentize(parts[0].exterior, 1.0))
    middle = shapely.get_coordinates(parts[0].centroid)[0]
    radii = np.hypot(*(ring - middle).T)
    best = min(SAWS_MM, key=lambda saw: float(np.abs(radii - saw / 2).max()))
    return best if float(np.abs(radii - best / 2).max()) <= ROUND_WITHIN_MM else None


@memo(rows=1024)
def straight_mm(part: Polygon) -> tuple[float, float]:
    """Return (how much of a line runs straight enough for a rule, its whole length), in mm."""
    line = shapely.simplify(part.exterior, RUN_OFF_MM)
    points = shapely.get_coordinates(line)
    runs = np.hypot(*np.diff(points, axis=0).T)
    return float(runs[runs >= LEAST_RUN_MM].sum()), float(part.exterior.length)
