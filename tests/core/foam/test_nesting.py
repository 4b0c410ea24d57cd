"""Clusters of any outlines: nothing overlaps, boxes are as large as said, sliding touches and no more."""

from __future__ import annotations

import unittest
from collections.abc import Sequence
from itertools import pairwise

import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point, Polygon, box

from cozy_burrow.core.foam.nesting import Cluster, Nester
from cozy_burrow.core.foam.stacks import StackWish, stacks_for
from cozy_burrow.core.ground.stack_wish import deepest_wanted_mm, stack_wish
from cozy_burrow.core.model.records import Rules
from cozy_burrow.demo.build import demo_stores
from cozy_burrow.demo.shipped import demo_project
from tests.makers import box as thing
from tests.makers import laid, project

corner = st.tuples(st.integers(10, 60), st.integers(10, 60))
notched = st.tuples(st.integers(40, 90), st.integers(40, 90), st.integers(5, 35), st.integers(5, 35)).map(
    lambda n: box(0, 0, n[0], n[1]).difference(box(n[0] - n[2], n[1] - n[3], n[0], n[1]))
)
disc = st.integers(12, 40).map(lambda r: Point(0, 0).buffer(r, quad_segs=4))
shape = st.one_of(corner.map(lambda c: box(0, 0, *c)), notched, disc)


def nester(shapes: Sequence[Polygon], cutting: str = "knife", kerf: float = 0.0) -> Nester:
    return Nester(shapes, cutting=cutting, kerf_mm=kerf, may_turn=True, largest_mm=(900, 900))  # type: ignore[arg-type]


class Clusters(unittest.TestCase):
    def sound(self, cluster: Cluster, shapes: Sequence[Polygon], apart_mm: float = 0.0) -> None:
        outlines = [Polygon(ring) for _, ring in cluster.laid]
        self.assertEqual(sorted(n for n, _ in cluster.laid), list(range(len(shapes))))
        for (number, _), outline in zip(cluster.laid, outlines):
            self.assertAlmostEqual(outline.area, shapes[number].area, delta=1e-6)
        left, top, right, bottom = shapely.total_bounds(outlines)
        self.assertAlmostEqual(max(abs(left), abs(top)), 0.0, places=6)
        self.assertAlmostEqual(right, cluster.width_mm, places=6)
        self.assertAlmostEqual(bottom, cluster.depth_mm, places=6)
        for n, one in enumerate(outlines):
            for other in outlines[n + 1 :]:
                self.assertLess(one.intersection(other).area, 1e-3)
                self.assertGreaterEqual(one.distance(other), apart_mm - 1e-6)

    @settings(derandomize=True, deadline=None, max_examples=25)
    @given(st.lists(shape, min_size=2, max_size=3))
    def test_nothing_overlaps_and_no_box_is_beaten_by_another(self, shapes: list[Polygon]) -> None:
        frontier = nester(shapes).frontier((1 << len(shapes)) - 1)
        self.assertTrue(frontier)
        for cluster in frontier:
            self.sound(cluster, shapes)
        for before, after in pairwise(frontier):
            self.assertLess(before.width_mm, after.width_mm + 1e-6)
            self.assertGreater(before.depth_mm, after.depth_mm)

    def test_a_saw_keeps_its_kerf_between_all_blanks(self) -> None:
        shapes = [box(0, 0, 60, 40), box(0, 0, 50, 30), box(0, 0, 20, 20)]
        for cluster in nester(shapes, "saw", 3.0).frontier(0b111):
            self.sound(cluster, shapes, apart_mm=3.0)

    def test_two_angles_lie_in_each_other_under_a_knife(self) -> None:
        angle = Polygon([(0, 0), (100, 0), (100, 30), (30, 30), (30, 100), (0, 100)])
        best = min(one.width_mm * one.depth_mm for one in nester([angle, angle]).frontier(0b11))
        self.assertAlmostEqual(best, 130.0 * 100.0, delta=1.0)
        self.assertAlmostEqual(min(one.width_mm * one.depth_mm for one in nester([angle] * 2, "saw").frontier(3)), 2e4)


class Wishes(unittest.TestCase):
    def test_the_deepest_pocket_is_what_the_seats_ask_for(self) -> None:
        tall, flat = thing(60, 30, 48), thing(40, 40, 12, name="flat")
        plan = laid(project(tall, rules=Rules(seat="half")), (100, 100))
        self.assertEqual(deepest_wanted_mm(plan, plan.inserts[0]), 24.0)
        waiting = project(tall, flat, rules=Rules(seat="proud"))
        self.assertEqual(deepest_wanted_mm(waiting, waiting.inserts[0]), 40.0)
        wish = stack_wish(plan, plan.inserts[0])
        self.assertEqual((wish.height_mm, wish.blank_mm), (75.0, (300.0, 200.0)))

    def test_other_tiers_keep_their_height(self) -> None:
        demo = demo_project()
        wish = stack_wish(demo, demo.inserts[1])
        self.assertEqual(wish.height_mm, 118.0 - 50.0)
        self.assertEqual(wish.blank_mm, (433.0, 323.0))

    def test_a_whole_bottom_costs_depth_and_every_stack_fits(self) -> None:
        stores = demo_stores()
        free = stacks_for(StackWish(height_mm=75.0, needed_mm=20.0, blank_mm=(430.0, 320.0)), stores)
        whole = stacks_for(
            StackWish(height_mm=75.0, needed_mm=20.0, blank_mm=(430.0, 320.0), whole_bottom=True), stores
        )
        self.assertEqual(len(free), len(whole))
        by_ids = {tuple(b.id for b in one.stack.boards): one.stack for one in whole}
        for one in free:
            self.assertGreaterEqual(one.stack.gap_mm, -1e-6)
            kept = by_ids[tuple(b.id for b in one.stack.boards)]
            self.assertLessEqual(kept.deepest_mm, one.stack.deepest_mm)
