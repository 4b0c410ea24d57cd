"""Blanks against closed forms."""

from __future__ import annotations

import math
import unittest

from msgspec.structs import replace

from cozy_burrow.core.container.blank import blank_polygon, checked_container, inside_polygon
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import rectangle
from cozy_burrow.core.model.records import Container
from tests.makers import drawer


class Blanks(unittest.TestCase):
    def test_without_a_press_fit_the_blank_is_the_inside(self) -> None:
        insert = drawer(width=570, depth=390)
        self.assertEqual(blank_polygon(insert).bounds, (0, 0, 570, 390))
        self.assertTrue(blank_polygon(insert).equals(inside_polygon(insert.container)))

    def test_a_press_fit_is_added_on_every_side(self) -> None:
        insert = replace(drawer(width=570, depth=390), press_fit_mm=2.0)
        self.assertEqual(blank_polygon(insert).bounds, (-2, -2, 572, 392))
        self.assertAlmostEqual(blank_polygon(insert).area, 574 * 394)

    def test_rounded_corners_grow_with_the_press_fit_and_stay_parallel(self) -> None:
        insert = replace(
            drawer(), container=Container(width_mm=300.0, depth_mm=200.0, corner_radius_mm=20.0), press_fit_mm=2.0
        )
        inside, blank = inside_polygon(insert.container), blank_polygon(insert)
        self.assertAlmostEqual(inside.area, 300 * 200 - (4 - math.pi) * 400, delta=1.5)
        self.assertLess(blank.symmetric_difference(inside.buffer(2.0, quad_segs=64)).area, 3.0)

    def test_a_square_corner_stays_square_under_a_press_fit(self) -> None:
        insert = replace(drawer(), press_fit_mm=3.0)
        self.assertEqual(len(blank_polygon(insert).exterior.coords), 5)

    def test_a_radius_of_half_the_side_is_a_stadium(self) -> None:
        shape = rectangle(100, 60, radius_mm=30)
        self.assertAlmostEqual(shape.area, 40 * 60 + math.pi * 900, delta=6)

    def test_containers_that_hold_nothing_are_refused_by_name(self) -> None:
        for change, word in (
            ({"width_mm": 0.0}, "width"),
            ({"depth_mm": -3.0}, "depth"),
            ({"height_mm": math.nan}, "height"),
            ({"width_mm": 1e9}, "width"),
            ({"corner_radius_mm": 500.0}, "radius"),
            ({"corner_radius_mm": -1.0}, "radius"),
        ):
            with self.subTest(change), self.assertRaises(UnusableInput) as caught:
                checked_container(replace(Container(), **change), where="drawer")
            self.assertIn(word, str(caught.exception))
