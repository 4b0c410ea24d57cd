"""Where ways cross outlines, against shapely's own intersections of each way."""

from __future__ import annotations

import math
import unittest

import numpy as np
import shapely
from shapely.geometry import Point

from cozy_burrow.core.capture.photo.crossings import crossings, met_by
from tests.core.capture.scenes import DRIVER, RING, SQUARE, laid


class Crossings(unittest.TestCase):
    def test_every_meeting_is_found_on_its_way(self) -> None:
        chance = np.random.default_rng(8)
        for shape in (DRIVER, RING, SQUARE, laid(SQUARE, 30, 10, 33), laid(RING, 0, 0).buffer(3)):
            start, end = chance.uniform(-40, 90, (2, 300, 2))
            rings = [shape.exterior, *shape.interiors]
            way, share = met_by(start, end, rings)
            for number in range(len(start)):
                line = shapely.LineString([start[number], end[number]])
                due = shapely.get_coordinates(line.intersection(shape.boundary))
                far = sorted(math.dist(start[number], one) / line.length for one in due)
                np.testing.assert_allclose(np.unique(np.round(share[way == number], 9)), far, atol=1e-8)

    def test_the_nearest_way_in_or_out_is_taken_and_none_beyond_reach(self) -> None:
        ring = Point(0, 0).buffer(20.0, quad_segs=256).exterior
        points = np.array([[19.0, 0.0], [0.0, 21.5], [5.0, 0.0], [18.0, 1.0]])
        outward = np.array([[1.0, 0.0], [0.0, 1.0], [1.0, 0.0], [-1.0, 0.0]])
        found = crossings(points, outward, ring, 4.0)
        np.testing.assert_allclose(found[:2], [1.0, -1.5], atol=1e-3)
        self.assertTrue(math.isnan(found[2]))
        self.assertAlmostEqual(found[3], 18.0 - math.sqrt(400 - 1), delta=1e-3)
