"""Where an edge is found in light that is made up: nothing of camera, mat or dots in it."""

from __future__ import annotations

import math
import unittest

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.capture.photo.edges import Ground, refined

_PX_PER_MM = 8.0
_MIDDLE = 20.0


class _Straight:
    """Sees every place of the mat from right above."""

    def pixels(self, points: NDArray[np.float64]) -> NDArray[np.float64]:
        """Return where places (n, 2) are seen."""
        return np.asarray(points * _PX_PER_MM, dtype=float)


def _disc(radius_mm: float, *, face: float, rim: float, paper: float, turns_mm: float) -> Ground:
    """Return the light of a disc whose face gets dark towards its rim over some millimetres, on even paper."""
    import cv2

    size = round(2 * _MIDDLE * _PX_PER_MM)
    row, column = np.mgrid[0:size, 0:size] / _PX_PER_MM - _MIDDLE
    out = np.hypot(row, column) - radius_mm
    within = rim + (face - rim) * np.clip(-(out + 0.3) / turns_mm, 0, 1)
    light = np.where(out < 0, within, paper).astype(np.float32)
    light = cv2.GaussianBlur(light, (0, 0), 0.12 * _PX_PER_MM)
    return Ground(np.repeat(light[..., None], 3, axis=2), (0, 0), _Straight(), 0.12)


def _found_mm(ground: Ground, rough_mm: float) -> float:
    """Return how large a circle is found, in the median, from a rough one."""
    turn = np.linspace(0, 2 * math.pi, 240, endpoint=False)
    rough = _MIDDLE + rough_mm * np.column_stack([np.cos(turn), np.sin(turn)])
    return float(np.median(np.hypot(*(refined(ground, rough).points_mm - _MIDDLE).T)))


class Faces(unittest.TestCase):
    def test_a_face_that_turns_away_is_no_edge_beside_its_own_shadow(self) -> None:
        """It falls by a half where the edge is a step of a sixth: steeper, but over more than the lens blurs."""
        for rough_mm in (11.2, 11.6, 12.0):
            with self.subTest(rough_mm=rough_mm):
                ground = _disc(12.0, face=0.75, rim=0.3, paper=0.36, turns_mm=1.2)
                self.assertAlmostEqual(_found_mm(ground, rough_mm), 12.0, delta=0.12)

    def test_a_plain_edge_is_found_from_a_rough_contour_on_either_side(self) -> None:
        for rough_mm in (11.0, 12.0, 13.0):
            with self.subTest(rough_mm=rough_mm):
                ground = _disc(12.0, face=0.4, rim=0.4, paper=0.9, turns_mm=1.0)
                self.assertAlmostEqual(_found_mm(ground, rough_mm), 12.0, delta=0.05)


if __name__ == "__main__":
    unittest.main()
