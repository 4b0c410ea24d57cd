"""Heights out of two views, against views that are worked out from the similar triangles themselves."""

from __future__ import annotations

import math
import unittest
from unittest.mock import patch

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import Polygon, box

from cozy_burrow.core.capture.photo.heights import Height, View, Walls, height_of, mixed, step_of, walls_of
from cozy_burrow.core.capture.photo.sides import true_outline
from cozy_burrow.core.geometry.rings import polygons_in
from tests.core.capture.scenes import DRIVER, RING, SQUARE, laid
from tests.core.capture.test_photo import camera_at

EYES = ((60.0, 120.0, 560.0), (250.0, 170.0, 610.0))


def covered(shape: Polygon, eye: tuple[float, float, float], edge_mm: float, *, upright: bool) -> Polygon:
    """What a thing covers on the paper: its edge swollen, with all levels below where walls are upright."""
    x, y, high = eye
    levels = np.linspace(0.0, edge_mm, 120) if upright else [edge_mm]
    swollen = [affinity.scale(shape, high / (high - z), high / (high - z), origin=(x, y, 0)) for z in levels]
    return shapely.union_all(swollen)


def seen(shape: Polygon, edge_mm: float, *, upright: bool, noise_mm: float = 0.0) -> tuple[View, View]:
    chance = np.random.default_rng(3)
    views = []
    for eye in EYES:
        whole = shapely.segmentize(covered(shape, eye, edge_mm, upright=upright), 1.0)
        points = shapely.get_coordinates(whole.exterior)[:-1]
        points = points + noise_mm * chance.standard_normal(points.shape)
        parts = polygons_in(shapely.make_valid(Polygon(points)))
        views.append(View(max(parts, key=lambda one: one.area), camera_at(*eye), 0.02))
    return views[0], views[1]


class Heights(unittest.TestCase):
    def test_upright_walls_give_their_height_from_any_guess(self) -> None:
        for shape in (laid(SQUARE, 150, 140, 25), laid(box(0, 0, 90, 14), 120, 150, 40)):
            for edge in (2.0, 11.0, 30.0):
                for guess in (0.0, 5.0, 40.0):
                    found = height_of(*seen(shape, edge, upright=True), sides="straight", guess_mm=guess)
                    assert found is not None
                    self.assertAlmostEqual(found.edge_mm, edge, delta=0.15)

    def test_what_is_said_of_an_error_holds(self) -> None:
        """Noise at every point by itself: well within what is said, which reckons with errors that hang together."""
        found = height_of(*seen(laid(SQUARE, 150, 140, 25), 11.0, upright=True, noise_mm=0.1), sides="straight")
        assert found is not None
        self.assertLess(abs(found.edge_mm - 11.0), 3 * found.sigma_mm)
        self.assertLess(found.sigma_mm, 0.6)

    def test_outlines_that_no_height_brings_together_are_believed_less(self) -> None:
        first, second = seen(laid(SQUARE, 150, 140, 25), 11.0, upright=True)
        agreed = height_of(first, second, sides="straight")
        ring = shapely.get_coordinates(shapely.segmentize(second.seen.exterior, 1.0))[:-1]
        turn = np.arctan2(*(ring - ring.mean(axis=0)).T)
        waves = Polygon(ring + 0.9 * np.column_stack([np.sin(9 * turn), np.cos(7 * turn)]))
        odd = height_of(first, View(waves, second.camera, second.unsure_mm), sides="straight")
        assert agreed is not None and odd is not None
        self.assertGreater(odd.sigma_mm, 3 * agreed.sigma_mm)
        self.assertLess(abs(odd.edge_mm - 11.0), 2 * odd.sigma_mm)

    def test_cameras_in_one_place_can_not_tell(self) -> None:
        first, _ = seen(laid(SQUARE, 150, 140, 25), 11.0, upright=True)
        self.assertIsNone(height_of(first, first, sides="straight"))
        for usual in ("round", "straight"):
            self.assertEqual(walls_of([(first, first)], usual=usual), (Walls(usual, 1.0, (None,)),))

    def test_how_walls_stand_is_told_where_it_can_be(self) -> None:
        for shape in (laid(SQUARE, 120, 170, 25), laid(box(0, 0, 90, 14), 120, 150, 40)):
            for upright in (True, False):
                for usual in ("round", "straight"):
                    with self.subTest(upright=upright, usual=usual):
                        views = seen(shape, 11.0, upright=upright, noise_mm=0.1)
                        first, second = walls_of([views], usual=usual)
                        self.assertAlmostEqual(first.share + second.share, 1.0)
                        self.assertEqual(first.sides, "straight" if upright else "round")
                        self.assertGreater(first.share, 0.99)
                        self.assertEqual(first.heights, (height_of(*views, sides=first.sides),))
        # A ring 2 mm high looks much the same either way: neither is sure.
        first, _ = walls_of([seen(laid(RING, 160, 120), 2.0, upright=True)], usual="round")
        self.assertLess(first.share, 0.95)

    def test_a_way_that_gives_no_height_does_not_hide_the_one_that_does(self) -> None:
        views = seen(laid(SQUARE, 150, 140, 25), 11.0, upright=True)
        known = Height(11.0, 0.3)
        for gives, usual in (("straight", "round"), ("round", "straight"), ("round", "round")):

            def told(first: View, second: View, *, sides: str, guess_mm: float, gives: str = gives) -> Height | None:
                return known if sides == gives else None

            with patch("cozy_burrow.core.capture.photo.heights.height_of", told):
                self.assertEqual(walls_of([views], usual=usual), (Walls(gives, 1.0, (known,)),))

    def test_a_height_of_two_likely_ways_says_how_far_they_lie_apart(self) -> None:
        whole = mixed([(0.5, Height(3.0, 0.3)), (0.5, Height(5.0, 0.3))])
        self.assertAlmostEqual(whole.edge_mm, 4.0)
        self.assertAlmostEqual(whole.sigma_mm, math.hypot(0.3, 1.0))
        self.assertEqual(mixed([(1.0, Height(3.0, 0.3))]), Height(3.0, 0.3))

    def test_a_fat_handle_and_a_thin_shaft_are_told_apart(self) -> None:
        handle, shaft = laid(box(0, 0, 60, 24), 110, 140), laid(box(0, 0, 90, 8), 184, 140)
        views = []
        for eye in EYES:
            parts = [covered(part, eye, edge, upright=True) for part, edge in ((handle, 20.0), (shaft, 6.0))]
            views.append(View(shapely.union_all(parts), camera_at(*eye), 0.02))
        whole = height_of(*views, sides="straight")
        assert whole is not None
        step = step_of(*views, whole, sides="straight")
        assert step is not None
        low, high = sorted((step.before.edge_mm, step.after.edge_mm))
        self.assertAlmostEqual(high, 20.0, delta=1.0)
        self.assertAlmostEqual(low, 6.0, delta=1.0)
        self.assertAlmostEqual(step.at_mm[0], 140.0, delta=8.0)

    def test_one_height_is_not_parted(self) -> None:
        views = seen(laid(DRIVER, 150, 140, 12), 9.0, upright=True, noise_mm=0.08)
        whole = height_of(*views, sides="straight")
        assert whole is not None
        self.assertIsNone(step_of(*views, whole, sides="straight"))


class Curves(unittest.TestCase):
    def test_a_rod_seen_from_the_side_is_as_wide_as_it_is(self) -> None:
        """The two rays that touch the circle, worked out from the eye: their feet on the paper are what is seen."""
        for radius, far in ((4.0, 80.0), (10.0, 250.0), (10.0, 420.0)):
            high = 560.0
            reach = math.hypot(far, high - radius)
            towards, half = math.atan2(far, high - radius), math.asin(radius / reach)
            near, away = (high * math.tan(towards + side * half) - far for side in (-1, 1))
            length = 400.0
            rod = box(0.0, near, length, away)  # across the page in y, its axis at y = 0
            camera = camera_at(length / 2, -far, high)
            (found,) = true_outline(rod, camera, height_mm=radius, sides="round")
            low, top = (
                shapely.get_coordinates(found.exterior.intersection(box(190, y0, 210, y1)))[:, 1].mean()
                for y0, y1 in ((-60, 0), (0, 60))
            )
            # Half of a full round is reckoned with: half of what the curve hides is left.
            left = 0.52 * radius * (math.hypot(1.0, (far + radius) / (high - radius)) - 1) + 0.02
            self.assertAlmostEqual(top, radius, delta=left)
            self.assertAlmostEqual(low, -radius, delta=left)

    def test_from_straight_above_nothing_is_hidden(self) -> None:
        camera = camera_at(100.0, 100.0, 500.0)
        (found,) = true_outline(box(95, 95, 105, 105), camera, height_mm=5.0, sides="round")
        self.assertAlmostEqual(found.area, (10 * 0.99) ** 2, delta=0.05)


if __name__ == "__main__":
    unittest.main()
