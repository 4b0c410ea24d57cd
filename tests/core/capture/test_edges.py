"""Where an edge is found in light that is made up: nothing of camera, mat or dots in it."""

from __future__ import annotations

import math
import unittest

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.capture.photo.edges import Ground, refined
from cozy_burrow.core.capture.photo.ink import Ink

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


def _shaded_disc(colour: tuple[float, float, float]) -> Ground:
    """Return the light of an even disc with a shadow 1.2 mm wide all round on the paper."""
    import cv2

    size = round(2 * _MIDDLE * _PX_PER_MM)
    row, column = np.mgrid[0:size, 0:size] / _PX_PER_MM - _MIDDLE
    out = (np.hypot(row, column) - 12.0)[..., None]
    paper = np.where(out < 1.2, 0.25, 0.85) * np.array([1.0, 0.95, 0.85])
    light = np.where(out < 0, np.array(colour), paper).astype(np.float32)
    return Ground(cv2.GaussianBlur(light, (0, 0), 0.12 * _PX_PER_MM), (0, 0), _Straight(), 0.12)


def _disc_on_a_mark(ring_mm: float) -> Ground:
    """Return the light of a grey disc of 12 mm that lies on a black one, on white paper; the print is known."""
    import cv2

    size = round(2 * _MIDDLE * _PX_PER_MM)
    row, column = np.mgrid[0:size, 0:size] / _PX_PER_MM - _MIDDLE
    out = np.hypot(row, column)
    blur_px = 0.12 * _PX_PER_MM
    white = cv2.GaussianBlur((out > ring_mm).astype(np.float32), (0, 0), blur_px)
    light = np.where(out < 12.0, 0.3, 0.05 + 0.85 * (out > ring_mm)).astype(np.float32)
    light = np.repeat(cv2.GaussianBlur(light, (0, 0), blur_px)[..., None], 3, axis=2)
    return Ground(light, (0, 0), _Straight(), 0.12, None, Ink(white, white < 0.5, 0.05, (0.0, 0.0), 1 / _PX_PER_MM))


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

    def test_the_edge_of_a_narrow_shadow_is_not_that_of_a_coloured_thing(self) -> None:
        """The paper keeps its colour in it; the shadow's edge is by far the clearer one in light alone."""
        for rough_mm in (12.0, 12.6, 13.2):
            with self.subTest(rough_mm=rough_mm):
                ground = _shaded_disc((0.45, 0.06, 0.30))
                self.assertAlmostEqual(_found_mm(ground, rough_mm), 12.0, delta=0.08)


class Print(unittest.TestCase):
    def test_the_edge_of_a_mark_beside_a_thing_is_no_edge_of_it(self) -> None:
        for ring_mm in (12.9, 13.3):
            with self.subTest(ring_mm=ring_mm):
                ground = _disc_on_a_mark(ring_mm)
                self.assertAlmostEqual(_found_mm(ground, 12.5), 12.0, delta=0.08)
                blind = Ground(ground.light, ground.first, ground.view, ground.blur_mm)
                self.assertAlmostEqual(_found_mm(blind, 12.5), ring_mm, delta=0.1)


if __name__ == "__main__":
    unittest.main()
