"""Laying a photo of an open drawer onto its plan: where the camera stood, from the four marks on the foam.

The marks lie on the foam's surface, which is nought of the plan's heights. How large they were printed and how they
were stuck (sticker at the foam's corner, pattern at it, or beside it on the frame) is found out along: the foam's size
is known. That all corners fit is what says that the photo is one of an insert of this size.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import Polygon

from cozy_burrow.core.capture.photo.camera import Camera
from cozy_burrow.core.capture.photo.markers import corners_of, once_each
from cozy_burrow.core.capture.photo.picture import Picture
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.keep.marks import (
    FIRST_NUMBER,
    LEAST_MM,
    MOST_MM,
    USUAL_MM,
    Point,
    box_corners,
    foam_corners,
    rim_mm,
    stuck,
)
from cozy_burrow.core.tongue import tr

_FEWEST = 3
_WIDE_PX = (1800, 3600, 6000)
_MOST_LARGER = 2.5  # a mark of 20 mm may be some 25 pixels wide in a small picture
_MOST_WRONG_BITS = 3
_TONE = 2.2
_USUAL_FOCAL = 0.62  # of the diagonal
_MOST_OFF_MM = 1.5  # of a corner, in the mean: stickers are put on by hand
_MOST_OFF_SHARE = 0.006  # of the foam's diagonal
_STUCK = ("rim", "pattern", "frame")


@dataclass(frozen=True)
class DrawerSight:
    """A photo of an insert, understood. camera: in the plan's coordinates, heights from the foam's surface up.

    off_mm: how far the marks' corners are seen beside where they should be, in the mean.
    """

    camera: Camera
    found: int
    size_mm: float
    off_mm: float


def drawer_sight(picture: Picture, foam: Polygon, *, where: str) -> DrawerSight:
    """Return where the camera stood. foam: its outline in the plan. Raises UnusableInput where it can't be told."""
    rough = _rough(picture)
    if len(rough) < _FEWEST:
        raise UnusableInput(
            tr("{found} of the four corner marks are seen", found=len(rough))
            if rough
            else tr("no corner mark is seen"),
            where=where,
            remedy=tr("photograph the whole insert with its four marks, from above, in focus"),
        )
    quads, _ = corners_of(picture.pixels, np.stack(list(rough.values())), tone=_TONE)
    numbers = list(rough)
    boxed, own = box_corners(foam), foam_corners(foam)
    ways = [(boxed, how) for how in _STUCK] + ([(own, how) for how in _STUCK] if own != boxed else [])
    sights = [_solved(picture, numbers, quads, corners, how) for corners, how in ways]
    best = min(sights, key=lambda one: one.off_mm)
    diagonal = math.hypot(*(np.array(boxed[2]) - np.array(boxed[0])))
    if best.off_mm > max(_MOST_OFF_MM, _MOST_OFF_SHARE * diagonal):
        raise UnusableInput(
            tr("the marks are seen up to {off:.0f} mm beside the corners of this insert", off=math.ceil(best.off_mm)),
            where=where,
            remedy=tr("take the photo of this insert, its marks in the corners that they name"),
        )
    return best


def _rough(picture: Picture) -> dict[int, NDArray[np.float64]]:
    """Return the rough corners (4, 2) of the marks that are seen, by their number.

    They are looked for where they are large enough, then in the whole picture, and a small picture is made larger.
    """
    import cv2

    grey = cv2.cvtColor(picture.pixels, cv2.COLOR_RGB2GRAY)
    found: dict[int, NDArray[np.float64]] = {}
    for wide_px in _WIDE_PX:
        share = wide_px / max(grey.shape)
        if share > _MOST_LARGER:
            break
        looked = cv2.resize(
            grey, None, fx=share, fy=share, interpolation=cv2.INTER_AREA if share < 1 else cv2.INTER_CUBIC
        )
        found = {number: (quad + 0.5) / share - 0.5 for number, quad in _seen_in(looked).items()} | found
        if len(found) == 4:
            break
    return {number: found[number] for number in sorted(found)}


def _seen_in(grey: object) -> dict[int, NDArray[np.float64]]:
    import cv2

    settings = cv2.aruco.DetectorParameters()
    settings.minMarkerPerimeterRate = 0.008
    settings.adaptiveThreshWinSizeMin, settings.adaptiveThreshWinSizeMax = 7, 127
    settings.adaptiveThreshWinSizeStep = 20
    settings.errorCorrectionRate = 0.6
    settings.perspectiveRemovePixelPerCell = 8
    whole = cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_1000)
    # Four patterns of a thousand are hardly taken for each other, whatever lies over a part of them.
    four = cv2.aruco.Dictionary(whole.bytesList[FIRST_NUMBER : FIRST_NUMBER + 4], 5, _MOST_WRONG_BITS)
    return {number + 1: quad for number, quad in once_each(cv2, grey, four, settings).items()}


def _solved(
    picture: Picture, numbers: list[int], quads: NDArray[np.float64], corners: tuple[Point, ...], how: str
) -> DrawerSight:
    """Return the best camera for marks that are stuck in one way: a least-squares fit of their corners."""
    from scipy.optimize import least_squares

    seen = quads.reshape(-1, 2)
    named = picture.focal_px
    diagonal_px = math.hypot(picture.width_px, picture.height_px)

    def places(size_mm: float) -> NDArray[np.float64]:
        inset = {"rim": rim_mm(size_mm), "pattern": 0.0, "frame": -size_mm}[how]
        return np.concatenate([stuck(one, corners[one - 1], size_mm=size_mm, inset_mm=inset) for one in numbers])

    def camera(terms: NDArray[np.float64], focal: float) -> Camera:
        return Camera(
            width_px=picture.width_px,
            height_px=picture.height_px,
            focal_px=focal * math.exp(float(np.clip(terms[6], -2, 2))),
            centre_px=((picture.width_px - 1) / 2, (picture.height_px - 1) / 2),
            bend=(float(terms[7]), 0.0),
            turn=(float(terms[0]), float(terms[1]), float(terms[2])),
            shift_mm=(float(terms[3]), float(terms[4]), float(terms[5])),
        )

    def size_of(terms: NDArray[np.float64]) -> float:
        return float(np.clip(USUAL_MM * math.exp(float(np.clip(terms[8], -2, 2))), LEAST_MM / 2, 2 * MOST_MM))

    best: tuple[float, NDArray[np.float64], float] | None = None
    for focal in [named] if named else [share * diagonal_px for share in (0.45, _USUAL_FOCAL, 0.9, 1.4)]:

        def residuals(terms: NDArray[np.float64], focal: float = focal) -> NDArray[np.float64]:
            off = (seen - camera(terms, focal).pixels(places(size_of(terms)))) / 0.5
            start = math.log((named or _USUAL_FOCAL * diagonal_px) / focal)
            beliefs = [(terms[6] - start) / (0.015 if named else 0.3), terms[7] / 0.06, terms[8] / 0.5]
            return np.concatenate([off.ravel(), beliefs])

        start = np.concatenate([*_start(picture, seen, places(USUAL_MM), focal), np.zeros(3)])
        steps = np.array([0.01, 0.01, 0.01, 1.0, 1.0, 5.0, 0.02, 0.02, 0.05])
        answer = least_squares(residuals, start, loss="huber", f_scale=4.0, x_scale=steps, max_nfev=200)
        if best is None or answer.cost < best[0]:
            best = (float(answer.cost), np.asarray(answer.x), focal)
    assert best is not None
    _, terms, focal = best
    found, size = camera(terms, focal), size_of(terms)
    off = found.page_points(seen) - places(size)
    return DrawerSight(
        camera=found, found=len(numbers), size_mm=size, off_mm=float(np.sqrt(np.mean(np.sum(off**2, axis=1))))
    )


def _start(
    picture: Picture, seen: NDArray[np.float64], places: NDArray[np.float64], focal: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return turn and shift of a camera without bend."""
    import cv2

    cx, cy = (picture.width_px - 1) / 2, (picture.height_px - 1) / 2
    matrix = np.array([[focal, 0, cx], [0, focal, cy], [0, 0, 1.0]])
    flat = np.column_stack([places, np.zeros(len(places))])
    _, turn, shift = cv2.solvePnP(flat, seen, matrix, None, flags=cv2.SOLVEPNP_IPPE)
    return np.ravel(turn).astype(float), np.ravel(shift).astype(float)
