"""Moves on true shapes: against closed forms where there are some, and always valid."""

from __future__ import annotations

import math
import random
import unittest

import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from cozy_burrow.core.arrange.contacts import Body, contacts_of, shortfalls
from cozy_burrow.core.arrange.neaten import askew_deg, may_lie, straightened
from cozy_burrow.core.arrange.pieces import Bed, Form
from cozy_burrow.core.arrange.squeeze import Pulling, length_mm, pressed, separated, step
from cozy_burrow.core.arrange.strip import shortened
from cozy_burrow.core.progress import Quiet
from tests.core.arrange.shapes import random_shape

SQUARE = Form(shapely.box(-10, -10, 10, 10), 8.0)


class Squeeze(unittest.TestCase):
    def test_two_squares_too_near_part_until_their_wall_stands(self) -> None:
        bed = Bed(shapely.box(0, 0, 200, 60))
        now = separated([Body(SQUARE, 60, 30, 0), Body(SQUARE, 83, 30, 0)], bed, may_turn=False)
        assert now is not None
        self.assertGreaterEqual(now[1].x_mm - now[0].x_mm, 28.0)
        self.assertLessEqual(now[1].x_mm - now[0].x_mm, 28.0 + 2 * 5.0)  # one step of the trust radius
        self.assertEqual(shortfalls(now, bed), (0.0, 0.0))

    def test_squares_in_a_row_are_pressed_to_their_closed_form(self) -> None:
        bed = Bed(shapely.box(0, 0, 300, 24))
        bodies = [Body(SQUARE, 40 + 60 * n, 12, 0) for n in range(4)]
        best = shortened(bodies, [(0.0,)] * 4, bed, seed=1, token=Quiet(), may_turn=False)
        self.assertAlmostEqual(length_mm(best), 4 * 20 + 3 * 8, delta=0.3)
        self.assertEqual(shortfalls(best, bed), (0.0, 0.0))

    def test_a_bar_turns_where_it_must_to_lie_in_the_bed(self) -> None:
        bar = Form(shapely.box(-60, -4, 60, 4), 8.0)
        bed = Bed(shapely.box(0, 0, 130, 30))
        now = separated([Body(bar, 65, 15, 12)], bed, steps=20)
        assert now is not None
        angle = math.radians(now[0].angle_deg)
        reach = 60 * abs(math.sin(angle)) + 4 * abs(math.cos(angle))
        self.assertLessEqual(2 * reach, 30 + 1e-6)

    def test_a_held_body_does_not_move(self) -> None:
        bed = Bed(shapely.box(0, 0, 200, 60))
        import numpy as np

        bodies = [Body(SQUARE, 60, 30, 0), Body(SQUARE, 80, 30, 0)]
        moved = step(bodies, bed, pulling=Pulling(np.zeros((2, 2))), trust_mm=9.0, held=frozenset((0,)))
        assert moved is not None
        self.assertEqual((moved[0].x_mm, moved[0].y_mm), (60.0, 30.0))
        self.assertGreater(moved[1].x_mm, 87.9)

    @settings(derandomize=True, deadline=None, max_examples=25)
    @given(st.integers(0, 10_000))
    def test_pressing_keeps_every_wall_and_never_makes_it_longer(self, seed: int) -> None:
        chance = random.Random(seed)
        bed = Bed(shapely.box(0, 0, 900, 130).difference(shapely.box(0, 0, 40, 30)))
        bodies = [Body(Form(random_shape(chance), 9.0), 90 + 160 * n, 65, chance.uniform(0, 360)) for n in range(5)]
        if shortfalls(bodies, bed) != (0.0, 0.0):
            return
        import numpy as np

        toward = np.full((5, 2), 0.0)
        toward[:, 0] = -0.01
        best = pressed(bodies, bed, pulling=lambda _: Pulling(toward, shorten=1.0), worth=length_mm, steps=4)
        self.assertEqual(shortfalls(best, bed), (0.0, 0.0))
        self.assertLessEqual(length_mm(best), length_mm(bodies) + 1e-9)

    @settings(derandomize=True, deadline=None, max_examples=40)
    @given(st.integers(0, 10_000))
    def test_a_row_says_how_far_a_small_move_brings_two_shapes_apart(self, seed: int) -> None:
        chance = random.Random(seed)
        first = Body(Form(random_shape(chance), 6.0), 100, 100, chance.uniform(0, 360))
        second = Body(Form(random_shape(chance), 6.0), 190, 100 + chance.uniform(-30, 30), 0)
        contacts = contacts_of([first, second], Bed(shapely.box(-900, -900, 900, 900)), reach_mm=200)
        between = [n for n in range(len(contacts.distance)) if contacts.second[n] >= 0]
        self.assertTrue(between)
        gap = first.shape.distance(second.shape)
        if gap == 0.0:  # two large ones lie in each other: the row then says how deep, which is another question
            self.assertLessEqual(min(contacts.distance[n] for n in between), 0.0)
            return
        self.assertAlmostEqual(min(contacts.distance[n] for n in between), gap, delta=0.5)
        nearest = min(between, key=lambda n: contacts.distance[n])
        sign = 1.0 if contacts.first[nearest] == 0 else -1.0
        dx, dy = contacts.toward[nearest] * 0.2 * sign
        nearer = Body(first.form, first.x_mm + dx, first.y_mm + dy, first.angle_deg)
        self.assertAlmostEqual(gap - nearer.shape.distance(second.shape), 0.2, delta=0.05)


class Neaten(unittest.TestCase):
    def test_what_is_a_little_askew_lies_straight_and_a_diagonal_stays(self) -> None:
        bar = Form(shapely.box(-40, -5, 40, 5), 8.0)
        bed = Bed(shapely.box(0, 0, 400, 300))
        now = straightened([Body(bar, 80, 80, 3.0), Body(bar, 250, 200, 40.0)], bed)
        self.assertEqual([body.angle_deg for body in now], [0.0, 40.0])

    def test_others_make_way_for_what_lies_straight_only_so(self) -> None:
        """A bar leans between two squares that hug it: straight, it is too near to both, wherever it moves."""
        bar = Form(shapely.box(-60, -5, 60, 5), 8.0)
        leaning = [Body(bar, 80, 60, 8.0), Body(SQUARE, 130, 42.4, 0.0), Body(SQUARE, 30, 77.6, 0.0)]
        wide, narrow = Bed(shapely.box(0, 0, 160, 120)), Bed(shapely.box(15, 32.3, 145, 87.7))
        for bed, token, off_deg in ((wide, None, 8.0), (wide, Quiet(), 0.0), (narrow, Quiet(), 8.0)):
            with self.subTest(bed=bed.room, token=token):
                self.assertEqual(shortfalls(leaning, bed), (0.0, 0.0))
                now = straightened(leaning, bed, token)
                self.assertEqual([round(askew_deg(one), 6) for one in now], [off_deg, 0.0, 0.0])
                self.assertEqual(shortfalls(now, bed), (0.0, 0.0))

    def test_a_wall_that_would_break_keeps_a_body_where_it_is(self) -> None:
        bed = Bed(shapely.box(0, 0, 300, 120))
        body = Body(SQUARE, 30, 60, 0)
        self.assertTrue(may_lie(body, [Body(SQUARE, 58.1, 60, 0)], bed))
        self.assertFalse(may_lie(body, [Body(SQUARE, 57.9, 60, 0)], bed))
        self.assertFalse(may_lie(Body(SQUARE, 9, 60, 0), [], bed))
        fixed = Bed(bed.area, [(shapely.box(50, 50, 60, 70), 4.0)])
        self.assertTrue(may_lie(Body(SQUARE, 35.9, 60, 0), [], fixed))
        self.assertFalse(may_lie(Body(SQUARE, 36.1, 60, 0), [], fixed))
