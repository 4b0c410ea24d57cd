"""Solving where the camera stood: pose, lens and the places of the pages, from the corners of markers.

Sight   the solved camera, the pages that lie there, and how well the marks fit (the residual)
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from cozy_burrow.core.capture.photo.camera import Camera, Points
from cozy_burrow.core.capture.photo.markers import Seen
from cozy_burrow.core.capture.photo.mat import MatPage
from cozy_burrow.core.capture.photo.picture import Picture
from cozy_burrow.core.model.records import Record

FEWEST_MARKERS = 6
_USUAL_FOCAL = 0.62  # of the diagonal: a phone's main camera, as a 27 mm lens on full frame
_TERMS = 11  # three turns, three shifts, focal length, two of the centre, two of the bend


class PagePlace(Record, frozen=True, kw_only=True):
    """Where a page lies among the pages of a mat: turned, then shifted; stretched as its printer did."""

    page: MatPage
    x_mm: float = 0.0
    y_mm: float = 0.0
    angle_deg: float = 0.0
    stretch: tuple[float, float] = (1.0, 1.0)

    @property
    def corners_mm(self) -> Points:
        """(4, 2) corners of the page in coordinates of the mat."""
        w, h = self.page.width_mm, self.page.height_mm
        return self.to_mat(np.array([[0.0, 0.0], [w, 0.0], [w, h], [0.0, h]]))

    def to_mat(self, points_mm: Points) -> Points:
        """Return points of the page as printed (n, 2) in coordinates of the mat, which are those of its first page."""
        turn = math.radians(self.angle_deg)
        x, y = (points_mm * np.array(self.stretch)).T
        return np.column_stack(
            [
                self.x_mm + math.cos(turn) * x - math.sin(turn) * y,
                self.y_mm + math.sin(turn) * x + math.cos(turn) * y,
            ]
        )

    def to_page(self, points_mm: Points) -> Points:
        """Return points of the mat (n, 2) in coordinates of the page as printed."""
        turn = math.radians(self.angle_deg)
        x, y = points_mm[:, 0] - self.x_mm, points_mm[:, 1] - self.y_mm
        back = np.column_stack([math.cos(turn) * x + math.sin(turn) * y, math.cos(turn) * y - math.sin(turn) * x])
        return np.asarray(back / np.array(self.stretch))


class Sight(Record, frozen=True, kw_only=True):
    """A photo of the mat, understood. `focal_sure` is the relative standard deviation of focal length and height."""

    camera: Camera
    pages: tuple[PagePlace, ...]
    residual_mm: float
    residual_px: float
    blur_mm: float
    focal_sure: float
    markers: int
    tone: float = 1.0

    @property
    def paper(self) -> str:
        """The paper of the pages."""
        return self.pages[0].page.paper


def solved(seen: list[Seen], picture: Picture, stretch: tuple[float, float], *, start: Sight | None = None) -> Sight:
    """Return the best camera: started from the lens that the file names, or from several, then refined."""
    diagonal = math.hypot(picture.width_px, picture.height_px)
    named = picture.focal_px
    starts = [share * diagonal for share in (0.45, _USUAL_FOCAL, 0.9, 1.4)]
    if start is not None or named:
        starts = [start.camera.focal_px if start is not None else named or 0.0]
    tries = [_Fit(seen, picture, focal, named, stretch) for focal in starts]
    if len(tries) > 1:  # which start is best shows after a few steps
        tries = [min((one.run(rounds=1, most=12) for one in tries), key=lambda one: one.cost)]
    best = tries[0].run()
    for _ in range(2):  # a marker that is half covered pulls: those far off go, and all is solved again
        kept = best.without_strays()
        if kept is None:
            break
        best = kept.run()
    return best.sight()


class _Fit:
    """A least-squares fit of camera and page places to the corners of markers."""

    def __init__(
        self, seen: list[Seen], picture: Picture, focal: float, named: float | None, stretch: tuple[float, float]
    ) -> None:
        self.seen, self.picture, self.named, self.stretch = seen, picture, named, stretch
        self.pages = sorted({one.page for one in seen})
        self.mats = {one.page: one.mat for one in seen}
        self.observed = np.concatenate([one.corners_px for one in seen])
        self.printed = np.concatenate([one.marker.corners_mm for one in seen])
        self.of_page = np.repeat([self.pages.index(one.page) for one in seen], 4)
        self.focal_start = focal
        self.middle = ((picture.width_px - 1) / 2, (picture.height_px - 1) / 2)
        self.sure_px = 0.2
        self.cost = math.inf
        self.terms: Points = np.zeros(0)
        self.slope: Points = np.zeros((0, 0))

    def camera(self, terms: Points) -> Camera:
        cx, cy = self.middle
        return Camera(
            width_px=self.picture.width_px,
            height_px=self.picture.height_px,
            focal_px=float(self.focal_start * math.exp(min(3.0, max(-3.0, terms[6])))),
            centre_px=(cx + float(terms[7]), cy + float(terms[8])),
            bend=(float(terms[9]), float(terms[10])),
            turn=(float(terms[0]), float(terms[1]), float(terms[2])),
            shift_mm=(float(terms[3]), float(terms[4]), float(terms[5])),
        )

    def places(self, terms: Points) -> list[PagePlace]:
        found = [PagePlace(page=self.mats[self.pages[0]], stretch=self.stretch)]
        for index, page in enumerate(self.pages[1:]):
            x, y, turn = terms[_TERMS + 3 * index : _TERMS + 3 * index + 3]
            found.append(
                PagePlace(
                    page=self.mats[page],
                    x_mm=float(x),
                    y_mm=float(y),
                    angle_deg=math.degrees(float(turn)),
                    stretch=self.stretch,
                )
            )
        return found

    def on_mat(self, terms: Points) -> Points:
        mat = np.empty_like(self.printed)
        for index, place in enumerate(self.places(terms)):
            mat[self.of_page == index] = place.to_mat(self.printed[self.of_page == index])
        return mat

    def misses(self, terms: Points) -> Points:
        """(n, 2) in pixels: where corners are seen less where they should be."""
        return self.observed - self.camera(terms).pixels(self.on_mat(terms))

    def residuals(self, terms: Points) -> Points:
        # What is known of lenses beforehand keeps the fit sound where one picture cannot tell: a file's focal length
        # is good to 3 %, a phone's otherwise within 25 %; the axis within half a per cent of the middle; bends small.
        wide = self.picture.width_px
        start = math.log((self.named or _USUAL_FOCAL * math.hypot(wide, self.picture.height_px)) / self.focal_start)
        beliefs = [
            (terms[6] - start) / (0.015 if self.named else 0.25),
            terms[7] / (0.003 * wide),
            terms[8] / (0.003 * wide),
            terms[9] / 0.06,
            terms[10] / 0.06,
        ]
        return np.concatenate([self.misses(terms).ravel() / self.sure_px, beliefs])

    def run(self, *, rounds: int = 2, most: int = 60) -> _Fit:
        """Solve, once with a guessed reading error of the corners and once with the one that it shows."""
        from scipy.optimize import least_squares

        terms = self._start() if not len(self.terms) else self.terms
        for _ in range(rounds):
            answer = least_squares(
                self.residuals, terms, loss="huber", f_scale=3.0, x_scale=self._steps(len(terms)), max_nfev=most
            )
            terms = answer.x
            spread = np.hypot(*self.misses(terms).T)
            self.sure_px = max(0.05, float(np.median(spread)) / 1.18)  # the median of a Rayleigh spread is 1.18 sigma
        self.terms, self.slope = terms, np.asarray(answer.jac)
        self.cost = float(np.mean(np.minimum(spread, 20.0) ** 2)) + 1e-4 * float(
            np.sum(self.residuals(terms)[-5:] ** 2)
        )
        return self

    def _steps(self, count: int) -> Points:
        steps = [0.01, 0.01, 0.01, 1.0, 1.0, 5.0, 0.02, 5.0, 5.0, 0.02, 0.05]
        return np.array(steps + [1.0, 1.0, 0.01] * ((count - _TERMS) // 3))

    def _start(self) -> Points:
        import cv2

        cx, cy = self.middle
        matrix = np.array([[self.focal_start, 0, cx], [0, self.focal_start, cy], [0, 0, 1.0]])
        first = self.of_page == 0
        flat = np.column_stack([self.printed[first] * np.array(self.stretch), np.zeros(int(first.sum()))])
        _, turn, shift = cv2.solvePnP(flat, self.observed[first], matrix, None, flags=cv2.SOLVEPNP_IPPE)
        terms = np.concatenate([np.ravel(turn), np.ravel(shift), np.zeros(5)])
        camera = self.camera(terms)
        for index in range(1, len(self.pages)):
            chosen = self.of_page == index
            printed = self.printed[chosen] * np.array(self.stretch)
            there = camera.page_points(self.observed[chosen])
            a, b = printed - printed.mean(axis=0), there - there.mean(axis=0)
            angle = math.atan2(float(np.sum(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])), float(np.sum(a * b)))
            middle = printed.mean(axis=0)
            turned = np.array(
                [
                    math.cos(angle) * middle[0] - math.sin(angle) * middle[1],
                    math.sin(angle) * middle[0] + math.cos(angle) * middle[1],
                ]
            )
            terms = np.concatenate([terms, there.mean(axis=0) - turned, [angle]])
        return np.asarray(terms, dtype=float)

    def without_strays(self) -> _Fit | None:
        """Return the fit without markers that lie far off the rest, None where there are none."""
        far = np.hypot(*self.misses(self.terms).T).reshape(-1, 4).max(axis=1)
        limit = max(1.0, 5.0 * self.sure_px)
        kept = [one for one, off in zip(self.seen, far) if off <= limit]
        if len(kept) == len(self.seen) or len(kept) < FEWEST_MARKERS or len(kept) < 0.6 * len(self.seen):
            return None
        if sorted({one.page for one in kept}) != self.pages:
            return None
        fewer = _Fit(kept, self.picture, self.focal_start, self.named, self.stretch)
        fewer.terms = self.terms
        return fewer

    def sight(self) -> Sight:
        camera = self.camera(self.terms)
        back = camera.page_points(self.observed) - self.on_mat(self.terms)
        # In steps of like effect, or a direction that one picture cannot tell is taken for one that is sure.
        steps = self._steps(len(self.terms))
        _, strengths, directions = np.linalg.svd(self.slope * steps, full_matrices=False)
        spread = directions.T / np.maximum(strengths, 1e-9)
        focal_sure = float(np.hypot.reduce(spread[6] * steps[6]))
        return Sight(
            camera=camera,
            pages=tuple(self.places(self.terms)),
            residual_mm=float(np.sqrt(np.mean(np.sum(back**2, axis=1)))),
            residual_px=float(np.sqrt(np.mean(np.sum(self.misses(self.terms) ** 2, axis=1)))),
            blur_mm=_blur(self.seen),
            focal_sure=focal_sure,
            markers=len(self.seen),
        )


def _blur(seen: Sequence[Seen]) -> float:
    """Return how wide an edge of the print is smeared, as a standard deviation in mm: the blurrier direction counts."""
    across = [one.smear_mm[0] for one in seen if math.isfinite(one.smear_mm[0])]
    down = [one.smear_mm[1] for one in seen if math.isfinite(one.smear_mm[1])]
    if not across or not down:
        return math.nan
    return max(float(np.median(across)), float(np.median(down)))
