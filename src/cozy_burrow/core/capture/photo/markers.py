"""Finding the mat's markers in a picture, their corners to a fraction of a pixel, and how smeared their edges are.

Tone   a lens mixes the light of black and white before the camera brings it into values; halfway between two values
       is not halfway between two lights, and black squares seem too small. `toned` turns values back into light.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.capture.photo.mat import MARKER_CELLS, MARKER_MM, Marker, MatPage, mat_page, page_of_marker
from cozy_burrow.core.capture.photo.picture import Pixels

_COARSE_PX = 2200  # markers are looked for at this size first: quicker, and enough up to a metre away


@dataclass(frozen=True)
class Seen:
    """A marker in a picture. corners_px: (4, 2), clockwise from the top left one; smear across and down the page."""

    marker: Marker
    paper: str
    page: int
    corners_px: NDArray[np.float64]
    smear_mm: tuple[float, float]

    @property
    def mat(self) -> MatPage:
        """The page that the marker is printed on."""
        return mat_page(self.paper, self.page)


Grey = NDArray[np.float32]
MOST_TONE = 2.4


def tone_table(tone: float) -> NDArray[np.float32]:
    """Return the light, 0 to 1, of each of 256 values: 1 takes values as light, 2.2 undoes what cameras usually do."""
    return np.asarray(np.linspace(0.0, 1.0, 256) ** tone, dtype=np.float32)


def find_markers(pixels: Pixels) -> dict[int, NDArray[np.float64]]:
    """Return the rough corners (4, 2) in pixels of the markers of any mat page in a picture, none twice, by number."""
    import cv2

    grey = cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY)
    share = min(1.0, _COARSE_PX / max(grey.shape))
    found: dict[int, Any] = {}
    if share < 0.9:
        small = cv2.resize(grey, None, fx=share, fy=share, interpolation=cv2.INTER_AREA)
        found = {n: (c + 0.5) / share - 0.5 for n, c in _detected(cv2, small).items()}
    if len(found) < 24:
        found = {**found, **_detected(cv2, np.asarray(grey))}
    return {number: found[number] for number in sorted(found) if page_of_marker(number) is not None}


def measured(pixels: Pixels, rough: dict[int, NDArray[np.float64]], *, tone: float) -> list[Seen]:
    """Return markers with their corners measured in the picture, values taken as light by `tone`."""
    if not rough:
        return []
    corners, smear = corners_of(pixels, np.stack(list(rough.values())), tone=tone)
    seen = []
    for number, quad, spread in zip(rough, corners, smear):
        paper, page = page_of_marker(number) or ("", 0)
        marker = next(one for one in mat_page(paper, page).markers if one.number == number)
        seen.append(
            Seen(marker=marker, paper=paper, page=page, corners_px=quad, smear_mm=(float(spread[0]), float(spread[1])))
        )
    return seen


def corners_of(
    pixels: Pixels, quads: NDArray[np.float64], *, tone: float
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return the corners of rough quads (n, 4, 2) measured in a picture, and the smear of their sides (n, 2).

    A corner is where two sides cross, each a straight line through its own edge points; a corner looked at by itself
    would be drawn inwards by the blur.
    """
    import cv2

    left, top = (max(0, int(one)) for one in np.floor(quads.min(axis=(0, 1)) - 12))
    right, low = (int(one) for one in np.ceil(quads.max(axis=(0, 1)) + 12))
    grey = cv2.LUT(cv2.cvtColor(pixels[top:low, left:right], cv2.COLOR_RGB2GRAY), tone_table(tone))
    sides = _Sides(np.asarray(grey, dtype=np.float32), quads - np.array([left, top]))
    return sides.corners() + np.array([left, top]), sides.smear_mm()


def _detected(cv2: Any, grey: Any) -> dict[int, NDArray[np.float64]]:
    settings = cv2.aruco.DetectorParameters()
    settings.minMarkerPerimeterRate = 0.008
    settings.adaptiveThreshWinSizeMin = 7
    settings.adaptiveThreshWinSizeMax = 47
    settings.adaptiveThreshWinSizeStep = 20
    settings.errorCorrectionRate = 0.4
    return once_each(cv2, grey, cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_1000), settings)


def once_each(cv2: Any, grey: Any, dictionary: Any, settings: Any) -> dict[int, NDArray[np.float64]]:
    """Return the markers of a dictionary that are seen in a grey picture, but for those that are seen twice."""
    corners, numbers, _ = cv2.aruco.ArucoDetector(dictionary, settings).detectMarkers(grey)
    if numbers is None:
        return {}
    found: dict[int, NDArray[np.float64]] = {}
    twice = set()
    for number, quad in zip(np.ravel(numbers), corners):
        if int(number) in found:
            twice.add(int(number))
        found[int(number)] = np.asarray(quad, dtype=float).reshape(4, 2)
    return {number: quad for number, quad in found.items() if number not in twice}


_PLACES = np.linspace(0.12, 0.88, 16)  # along a side, away from its corners
_OFFSETS = np.linspace(-1.0, 1.0, 41)  # across it, in shares of the reach


class _Sides:
    """The four sides of many quads (n, 4, 2) at once: the light across them, read at places along each."""

    def __init__(self, grey: Grey, quads: NDArray[np.float64]) -> None:
        import cv2

        self.quads = quads
        start = quads
        along = np.roll(quads, -1, axis=1) - quads
        self.length = np.hypot(along[..., 0], along[..., 1])
        self.normal = np.stack([along[..., 1], -along[..., 0]], axis=-1) / self.length[..., None]
        self.reach = np.clip(1.1 * self.length / MARKER_CELLS, 2.0, 6.0)
        self.places = start[:, :, None] + _PLACES[:, None] * along[:, :, None]
        self.offsets = self.reach[..., None] * _OFFSETS
        spots = self.places[:, :, :, None] + self.offsets[:, :, None, :, None] * self.normal[:, :, None, None]
        flat = np.ascontiguousarray(spots.reshape(-1, len(_OFFSETS), 2), dtype=np.float32)
        found = cv2.remap(
            grey, flat[..., 0].copy(), flat[..., 1].copy(), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
        )
        self.light = np.asarray(found, dtype=float).reshape(spots.shape[:-1])

    def corners(self) -> NDArray[np.float64]:
        """Return (n, 4, 2) corners; where sides are not seen the rough ones."""
        rise = np.clip(np.gradient(self.light, axis=-1), 0.0, None)
        # Only the slope that hangs together with the steepest place near the side counts, not the pattern's.
        near = 1 / (1 + (2.0 * _OFFSETS) ** 2)
        top = (rise * near).argmax(axis=-1)
        window = np.abs(np.arange(len(_OFFSETS)) - top[..., None]) <= 9
        rise = np.where(window, rise, 0.0)
        weight = rise.sum(axis=-1)
        at = (rise * self.offsets[:, :, None, :]).sum(axis=-1) / np.maximum(weight, 1e-9)
        points = self.places + at[..., None] * self.normal[:, :, None, :]
        usable = weight > 0.3 * np.maximum(np.median(weight, axis=-1, keepdims=True), 0.05)
        usable = usable.astype(float)
        for _ in range(3):
            total = np.maximum(usable.sum(axis=-1), 1e-9)[..., None]
            middle = (points * usable[..., None]).sum(axis=-2) / total
            apart = points - middle[:, :, None]
            spread = np.einsum("nspi,nspj,nsp->nsij", apart, apart, usable)
            across = np.linalg.eigh(spread)[1][..., 0]
            off = np.abs(np.einsum("nspi,nsi->nsp", apart, across))
            limit = np.maximum(0.12, 2.5 * np.median(off, axis=-1, keepdims=True))
            usable = usable * (off <= limit)
        seen = usable.sum(axis=-1) >= 5
        constant = np.einsum("nsi,nsi->ns", across, middle)
        before, line_before, seen_before = (np.roll(one, 1, axis=1) for one in (across, constant, seen))
        matrix = np.stack([before, across], axis=-2)
        good = seen & seen_before & (np.abs(np.linalg.det(matrix)) > 0.2)
        matrix[~good] = np.eye(2)
        crossing = np.linalg.solve(matrix, np.stack([line_before, constant], axis=-1)[..., None])[..., 0]
        good &= np.hypot(*np.moveaxis(crossing - self.quads, -1, 0)) < 4.0
        whole = good.all(axis=1)
        return np.where(whole[:, None, None], crossing, self.quads)

    def smear_mm(self) -> NDArray[np.float64]:
        """Return (n, 2) the smear of the sides crossed going across and going down the page.

        The spread of an edge's slope is the standard deviation of the blur: the derivative of a blurred step is the
        blur.
        """
        profile = np.median(self.light, axis=2)
        rise = np.clip(np.gradient(profile, axis=-1), 0.0, None)
        rise = np.where(rise > 0.08 * rise.max(axis=-1, keepdims=True), rise, 0.0)
        total = np.maximum(rise.sum(axis=-1), 1e-9)
        middle = (rise * self.offsets).sum(axis=-1) / total
        spread = np.sqrt((rise * (self.offsets - middle[..., None]) ** 2).sum(axis=-1) / total)
        smear = np.where(total > 0.04, spread * MARKER_MM / self.length, np.nan)
        return np.stack([smear[:, 1::2].mean(axis=1), smear[:, 0::2].mean(axis=1)], axis=-1)
