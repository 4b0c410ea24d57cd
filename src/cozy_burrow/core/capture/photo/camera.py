"""Where a camera stood and how its lens draws: from pixels to the page and back, at any height above it.

Page coordinates: x right, y down, z up from the paper, in millimetres. Source of the model: a pinhole with two
terms of radial distortion (Brown 1966), as the vision library uses it.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.model.records import Record

Points = NDArray[np.float64]
Vector3 = tuple[float, float, float]
_UNBENT = (3, 60, 1e-10)  # steps and precision of taking the bend out of a ray


class Camera(Record, frozen=True, kw_only=True):
    """A solved camera. `turn` is a rotation vector, `shift_mm` the translation from page to camera axes.

    The page's z axis points up, against the vision library's page (x right, y down makes z point into the table):
    heights change their sign on the way in, here and nowhere else.
    """

    width_px: int
    height_px: int
    focal_px: float
    centre_px: tuple[float, float]
    bend: tuple[float, float]
    turn: Vector3
    shift_mm: Vector3

    @property
    def matrix(self) -> Points:
        """(3, 3) camera matrix."""
        cx, cy = self.centre_px
        return np.array([[self.focal_px, 0.0, cx], [0.0, self.focal_px, cy], [0.0, 0.0, 1.0]])

    @property
    def distortion(self) -> Points:
        """(4,) k1, k2, 0, 0."""
        return np.array([*self.bend, 0.0, 0.0])

    @property
    def rotation(self) -> Points:
        """(3, 3) from page axes (z into the table) to camera axes."""
        import cv2

        return np.asarray(cv2.Rodrigues(np.array(self.turn))[0], dtype=float)

    @property
    def eye_mm(self) -> Vector3:
        """Where the lens is, in page coordinates, z up."""
        x, y, z = -self.rotation.T @ np.array(self.shift_mm)
        return float(x), float(y), float(-z)

    @property
    def height_mm(self) -> float:
        """Height of the lens above the paper."""
        return self.eye_mm[2]

    @property
    def tilt_deg(self) -> float:
        """Angle between the view and the plumb line."""
        return math.degrees(math.acos(min(1.0, abs(float(self.rotation[2, 2])))))

    def pixels(self, points_mm: Points, *, height_mm: float | Points = 0.0) -> Points:
        """Return where page points (n, 2) at a height appear, (n, 2) in pixels."""
        import cv2

        above = np.broadcast_to(np.asarray(height_mm, dtype=float), (len(points_mm),))
        space = np.column_stack([points_mm, -above])
        seen = cv2.projectPoints(space, np.array(self.turn), np.array(self.shift_mm), self.matrix, self.distortion)[0]
        return np.asarray(seen, dtype=float).reshape(-1, 2)

    def page_points(self, pixels: Points, *, height_mm: float = 0.0) -> Points:
        """Return the page points (n, 2) at a height that appear at pixels (n, 2)."""
        import cv2

        given = np.ascontiguousarray(pixels, dtype=float).reshape(-1, 1, 2)
        flat = np.asarray(
            cv2.undistortPoints(given, self.matrix, self.distortion, criteria=_UNBENT), dtype=float
        ).reshape(-1, 2)
        rays = np.column_stack([flat, np.ones(len(flat))]) @ self.rotation
        eye = -self.rotation.T @ np.array(self.shift_mm)
        reach = (-height_mm - eye[2]) / rays[:, 2]
        return np.asarray(eye[:2] + rays[:, :2] * reach[:, None], dtype=float)
