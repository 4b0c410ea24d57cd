"""Where the camera stood: the mat's markers found in a photo, pose and lens solved, and whether that can be trusted.

Tone   the exponent between light and values, from how large the black squares are
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
from msgspec.structs import replace

from cozy_burrow.core.capture.photo.camera import Points
from cozy_burrow.core.capture.photo.markers import MOST_TONE, Seen, find_markers, measured
from cozy_burrow.core.capture.photo.picture import Picture
from cozy_burrow.core.capture.photo.pose import FEWEST_MARKERS, Sight, solved
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr

MOST_TILT_DEG = 45.0
MOST_RESIDUAL_MM = 0.45  # a flat page fits to 0.1 mm; a curled corner shows at once
_USUAL_TONE = 2.2


def see_mat(picture: Picture, *, where: str, stretch: Callable[[str], tuple[float, float]] | None = None) -> Sight:
    """Return camera and mat of a photo.

    stretch: for a paper, how much larger than drawn the printer made its pages, across and down; as drawn if None.
    Raises UnusableInput where no mat is found, or what is found cannot be trusted; says why.
    """
    rough = find_markers(picture.pixels)
    first = _believable(measured(picture.pixels, rough, tone=1.0), where)
    kept = {one.marker.number: rough[one.marker.number] for one in first}
    stretched = stretch(first[0].paper) if stretch else (1.0, 1.0)
    sight = solved(first, picture, stretched)
    tone = _tone(sight, first, measured(picture.pixels, kept, tone=_USUAL_TONE))
    if tone > 1.05:
        sight = solved(measured(picture.pixels, kept, tone=tone), picture, stretched, start=sight)
    return _checked(replace(sight, tone=tone), where)


def _tone(sight: Sight, as_light: list[Seen], undone: list[Seen]) -> float:
    """Return the tone at which the markers are as large as they were printed.

    They are measured with values taken as light and with the usual tone undone; in between the size goes straight.
    """
    growth = [_growth_px(sight, seen) for seen in (as_light, undone)]
    if abs(growth[1] - growth[0]) < 0.02:
        return 1.0
    tone = 1.0 + (_USUAL_TONE - 1.0) * growth[0] / (growth[0] - growth[1])
    return min(MOST_TONE, max(1.0, tone))


def _growth_px(sight: Sight, seen: list[Seen]) -> float:
    """Return how far the sides of markers lie outside where they were printed, the median in pixels."""
    grown = []
    for one in seen:
        place = next((place for place in sight.pages if place.page.page == one.page), None)
        if place is not None:
            due = sight.camera.pixels(place.to_mat(one.marker.corners_mm))
            area, printed = (_area(corners) for corners in (one.corners_px, due))
            grown.append((math.sqrt(area) - math.sqrt(printed)) / 2)
    return float(np.median(grown)) if grown else 0.0


def _area(corners: Points) -> float:
    x, y = corners.T
    return 0.5 * abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1)))


def _believable(seen: list[Seen], where: str) -> list[Seen]:
    """Return the markers of one kind of paper; raises UnusableInput where they are too few."""
    if not seen:
        raise UnusableInput(
            tr("no reference mat is seen in it"),
            where=where,
            remedy=tr("print the mat, lay the items on it and photograph the whole page in sharp focus"),
        )
    papers = {one.paper for one in seen}
    counts = {paper: sum(one.paper == paper for one in seen) for paper in papers}
    paper = max(counts, key=lambda name: counts[name])
    if sum(count >= 3 for count in counts.values()) > 1:
        raise UnusableInput(
            tr("mats of different papers lie together ({list})", list=", ".join(sorted(counts))),
            where=where,
            remedy=tr("use pages of one paper"),
        )
    kept = [one for one in seen if one.paper == paper]
    pages = sorted({one.page for one in kept})
    enough = [page for page in pages if sum(one.page == page for one in kept) >= FEWEST_MARKERS]
    if not enough:
        raise UnusableInput(
            tr(
                "only {count} markers of the mat can be read, {fewest_markers} of a page are needed",
                count=len(kept),
                fewest_markers=FEWEST_MARKERS,
            ),
            where=where,
            remedy=tr("photograph the whole page, in focus, with nothing on its border"),
        )
    kept = [one for one in kept if one.page in enough]
    corners = np.concatenate([one.marker.corners_mm for one in kept if one.page == enough[0]])
    size = next(one.mat for one in kept if one.page == enough[0])
    spread = np.ptp(corners, axis=0) / np.array([size.width_mm, size.height_mm])
    if spread.min() < 0.35:
        raise UnusableInput(
            tr("only one side of the mat is seen"),
            where=where,
            remedy=tr("photograph the whole page with all four sides of its border"),
        )
    return kept


MOST_BLUR_MM = 0.6


def _checked(sight: Sight, where: str) -> Sight:
    """Return the sight, or raise UnusableInput with the reason why it cannot be trusted."""
    if sight.camera.tilt_deg > MOST_TILT_DEG:
        raise UnusableInput(
            tr(
                "the photo is taken too obliquely ({tilt:.0f} degrees, {most_tilt:.0f} are the most)",
                tilt=sight.camera.tilt_deg,
                most_tilt=MOST_TILT_DEG,
            ),
            where=where,
            remedy=tr("hold the camera more nearly above the mat"),
        )
    if math.isfinite(sight.blur_mm) and sight.blur_mm > MOST_BLUR_MM:
        raise UnusableInput(
            tr("the photo is blurred: edges of the print are smeared by {blur:.1f} mm", blur=sight.blur_mm),
            where=where,
            remedy=tr("hold the camera still, with more light, and focus on the mat"),
        )
    if sight.residual_mm > MOST_RESIDUAL_MM:
        raise UnusableInput(
            tr("the marks do not fit a flat page by {residual:.1f} mm", residual=sight.residual_mm),
            where=where,
            remedy=tr("lay the page flat (tape its corners down) and take the photo again"),
        )
    return sight
