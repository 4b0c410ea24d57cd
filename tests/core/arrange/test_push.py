"""Neighbours make way: never through a wall, home again when they can; locked ones and the edge stop the hand."""

from __future__ import annotations

import random
import unittest

import shapely

from cozy_burrow.core.arrange.contacts import Body
from cozy_burrow.core.arrange.pieces import Bed, Form
from cozy_burrow.core.arrange.push import Sleds
from tests.core.arrange.shapes import random_shape

BLOCK = Form(shapely.box(-10, -10, 10, 10), 10.0)
BED = Bed(shapely.box(0, 0, 200, 60))


def row(*xs: float) -> list[Body]:
    return [Body(BLOCK, x, 30, 0) for x in xs]


class Push(unittest.TestCase):
    def test_a_neighbour_moves_by_what_the_wall_lacks_and_goes_home_afterwards(self) -> None:
        sleds = Sleds(row(30, 70), BED)
        self.assertTrue(sleds.carry((25, 0)))
        self.assertAlmostEqual(sleds.shifts[1][0], 15.2, delta=0.3)
        self.assertAlmostEqual(sleds.shifts[1][1], 0.0, delta=0.01)
        self.assertTrue(sleds.carry((0, 0)))
        self.assertEqual(sleds.shifts[1].tolist(), [0.0, 0.0])

    def test_a_chain_is_pushed_until_something_locked_and_then_nothing_gives(self) -> None:
        narrow = Bed(shapely.box(0, 18, 240, 42))  # no way round above or below
        sleds = Sleds(row(30, 70, 110, 190), narrow, locked=frozenset((3,)))
        for n in range(1, 7):
            self.assertTrue(sleds.carry((10 * n, 0)))
        self.assertGreater(sleds.shifts[2][0], 39.9)
        before = sleds.shifts.copy()
        self.assertFalse(Sleds(row(30, 70, 110), narrow, locked=frozenset((2,))).carry((25, 0)))
        self.assertFalse(sleds.carry((160, 0)))
        self.assertEqual(sleds.shifts[0].tolist(), [160.0, 0.0])  # where the hand holds it
        self.assertEqual(sleds.shifts[1:].tolist(), before[1:].tolist())
        sleds.put(before)
        self.assertEqual(sleds.shifts.tolist(), before.tolist())

    def test_one_that_was_run_over_goes_home_behind_the_hand(self) -> None:
        sleds = Sleds(row(30, 70), Bed(shapely.box(0, 18, 240, 42)))
        for n in range(1, 5):
            self.assertTrue(sleds.carry((10 * n, 0)))
        self.assertGreater(sleds.shifts[1][0], 20)
        self.assertTrue(sleds.carry((75, 0)))
        self.assertEqual(sleds.shifts[1].tolist(), [0.0, 0.0])

    def test_a_locked_neighbour_and_something_fixed_do_not_give_way(self) -> None:
        self.assertFalse(Sleds(row(30, 70), BED, locked=frozenset((1,))).carry((25, 0)))
        fixed = Bed(BED.area, [(shapely.box(80, 0, 90, 60), 10.0)])
        self.assertTrue(Sleds(row(30), fixed).carry((30, 0)))
        self.assertFalse(Sleds(row(30), fixed).carry((31, 0)))
        self.assertFalse(Sleds(row(30), BED).carry((-21, 0)))

    def test_two_that_stand_too_near_from_the_start_are_left_in_peace(self) -> None:
        sleds = Sleds(row(30, 90, 112), BED)
        self.assertTrue(sleds.carry((5, 0)))
        self.assertEqual(sleds.shifts[1:].tolist(), [[0.0, 0.0], [0.0, 0.0]])

    def test_an_edge_snaps_to_the_line_of_a_neighbour_when_it_is_near(self) -> None:
        sleds = Sleds([Body(BLOCK, 30, 30, 0), Body(BLOCK, 90, 36, 0)], BED)
        there, catches = sleds.snapped((4.0, 5.0))
        self.assertEqual(there, (4.0, 6.0))
        self.assertEqual([one.gap_mm for one in catches], [None])
        self.assertEqual(sleds.snapped((4.0, 3.0)), ((4.0, 3.0), ()))

    def test_a_gap_catches_that_is_nearly_like_its_neighbours(self) -> None:
        """Blocks of 20 mm: one between two, and one beside a row whose gaps are 20 and 20."""
        sleds = Sleds([Body(BLOCK, 70, 35, 0), Body(BLOCK, 30, 30, 0), Body(BLOCK, 112, 30, 0)], BED)
        (x, _), catches = sleds.snapped((0.3, 1.0))
        self.assertAlmostEqual(x, 1.0)
        self.assertEqual([one.gap_mm for one in catches], [21.0, 21.0])
        sleds = Sleds([Body(BLOCK, 112.8, 36, 0), Body(BLOCK, 30, 30, 0), Body(BLOCK, 70, 30, 0)], BED)
        (x, _), catches = sleds.snapped((-1.5, 0.0))
        self.assertAlmostEqual(112.8 + x, 110.0)
        self.assertEqual([one.gap_mm for one in catches], [20.0, 20.0])
        self.assertEqual({one.start[0] for one in catches}, {40.0, 80.0})

    def test_whatever_is_carried_anywhere_walls_hold_where_it_was_accepted(self) -> None:
        chance = random.Random(8)
        accepted = 0
        for _ in range(25):
            area = shapely.box(0, 0, 320, 240)
            if chance.random() < 0.5:
                area = area.difference(shapely.box(0, 0, 60, 50))
            bodies: list[Body] = []
            for _ in range(60):
                body = Body(Form(random_shape(chance), 8.0), chance.uniform(40, 280), chance.uniform(40, 200), 0)
                if area.covers(body.shape) and all(body.shape.distance(other.shape) >= 8.0 for other in bodies):
                    bodies.append(body)
            sleds = Sleds(bodies, Bed(area))
            for _ in range(20):
                if not sleds.carry((chance.uniform(-160, 160), chance.uniform(-120, 120))):
                    continue
                accepted += 1
                shapes = [
                    shapely.transform(body.shape, lambda points, shift=shift: points + shift)
                    for body, shift in zip(bodies, sleds.shifts)
                ]
                for n, shape in enumerate(shapes):
                    self.assertTrue(area.buffer(1e-6).covers(shape))
                    for other in shapes[:n]:
                        self.assertGreaterEqual(shape.distance(other), 8.0 - 1e-6)
        self.assertGreater(accepted, 100)
