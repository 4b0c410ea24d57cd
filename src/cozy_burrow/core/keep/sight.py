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

from cozy_burrow.core.capture.photo.camera import Camera
from cozy_burrow.core.capture.photo.markers import corners_of, find_markers
from cozy_burrow.core.capture.photo.picture import Picture
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.keep.marks import LEAST_MM, MOST_MM, USUAL_MM, Bounds, mark_of_pattern, rim_mm, stuck
from cozy_burrow.core.tongue import tr

_FEWEST = 3
_SMALL_PX = 8_000_000  # of a picture: a mark of 20 mm may be some 25 pixels wide in it
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


def drawer_sight(picture: Picture, bounds: Bounds, *, where: str) -> DrawerSight:
    """Return where the camera stood. bounds: of the foam, in the plan. Raises UnusableInput where it can't be told."""
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
    numbers = [mark_of_pattern(pattern) or 0 for pattern in rough]
    sights = [_solved(picture, numbers, quads, bounds, how) for how in _STUCK]
    best = min(sights, key=lambda one: one.off_mm)
    diagonal = math.hypot(bounds[2] - bounds[0], bounds[3] - bounds[1])
    if best.off_mm > max(_MOST_OFF_MM, _MOST_OFF_SHARE * diagonal):
        raise UnusableInput(
            tr("the marks are seen up to {off:.0f} mm beside the corners of this insert", off=math.ceil(best.off_mm)),
            where=where,
            remedy=tr("take the photo of this insert, its marks in the corners that they name"),
        )
    return best


def _rough(picture: Picture) -> dict[int, NDArray[np.float64]]:
    """Return the rough corners of the marks that are seen; small ones are looked for in a larger picture too."""
    import cv2

    found = find_markers(picture.pixels, mark_of_pattern, enough=4)
    if len(found) < 4 and picture.width_px * picture.height_px < _SMALL_PX:
        large = cv2.resize(picture.pixels, None, fx=2.0, fy=2.0, interpolation=cv2.INTER_CUBIC)
        more = find_markers(np.asarray(large, dtype=np.uint8), mark_of_pattern, enough=4)
        found = {number: (quad + 0.5) / 2 - 0.5 for number, quad in more.items()} | found
    return {number: found[number] for number in sorted(found)}


def _solved(picture: Picture, numbers: list[int], quads: NDArray[np.float64], bounds: Bounds, how: str) -> DrawerSight:
    """Return the best camera for marks that are stuck in one way: a least-squares fit of their corners."""
    from scipy.optimize import least_squares

    seen = quads.reshape(-1, 2)
    named = picture.focal_px
    diagonal_px = math.hypot(picture.width_px, picture.height_px)

    def places(size_mm: float) -> NDArray[np.float64]:
        inset = {"rim": rim_mm(size_mm), "pattern": 0.0, "frame": -size_mm}[how]
        return np.concatenate([stuck(one, bounds, size_mm=size_mm, inset_mm=inset) for one in numbers])

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
