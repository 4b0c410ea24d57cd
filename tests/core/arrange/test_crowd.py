"""A crowd: overlaps at every shift against Shapely, and pieces that only fit together one way."""

from __future__ import annotations

import random
import unittest

import shapely

from cozy_burrow.core.arrange.crowd import Crowd, Lair
from cozy_burrow.core.arrange.crowding import wider_angles
from cozy_burrow.core.arrange.pieces import Bed, Form, Piece, diagonals
from cozy_burrow.core.arrange.search import arrange
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.progress import Quiet
from tests.core.arrange.shapes import judge, random_shape


class Overlap(unittest.TestCase):
    def test_it_is_zero_just_where_grown_shapes_are_apart(self) -> None:
        chance = random.Random(3)
        bed = Bed(shapely.box(0, 0, 160, 120))
        lair = Lair(bed, cell_mm=1.0)
        forms = [Form(random_shape(chance), 6.0) for _ in range(6)]
        crowd = Crowd(lair, forms, [(0.0, 90.0)] * 6, chance)
        for n in range(6):
            crowd.lay_at(n, chance.uniform(40, 120), chance.uniform(30, 90), chance.choice((0.0, 90.0)))
        grown = [
            placed(form.shape, x_mm=x, y_mm=y, angle_deg=angle).buffer(3.0)
            for form, (x, y, angle) in zip(forms, crowd.positions())
        ]
        overlaps = crowd.overlaps()
        for i in range(6):
            for j in range(i):
                area = grown[i].intersection(grown[j]).area
                self.assertEqual(overlaps[i, j], overlaps[j, i])
                if area > 30:
                    self.assertGreater(overlaps[i, j], 0)
                if grown[i].distance(grown[j]) > 1.5:
                    self.assertEqual(overlaps[i, j], 0)

    def test_a_piece_goes_to_the_only_free_place(self) -> None:
        bed = Bed(shapely.box(0, 0, 150, 60))
        wide = Form(shapely.box(-25, -28, 25, 28), 4.0)
        crowd = Crowd(
            Lair(bed, cell_mm=1.0),
            [wide, wide, Form(shapely.box(-15, -20, 15, 20), 4.0)],
            [(0.0,)] * 3,
            random.Random(1),
        )
        crowd.lay_at(0, 26, 30, 0.0)
        crowd.lay_at(1, 122, 30, 0.0)
        crowd.lay_at(2, 40, 30, 0.0)
        crowd.move(2)
        x, _, _ = crowd.positions()[2]
        self.assertGreater(x, 69)
        self.assertLess(x, 79)
        self.assertEqual(float(crowd.overlaps().sum()), 0.0)

    def test_what_goes_in_aslant_only_begins_aslant_and_what_is_larger_than_the_grid_does_no_harm(self) -> None:
        bed = Bed(shapely.box(0, 0, 100, 100), [(shapely.box(0, 0, 5, 5), 2.0)])
        stick, pole = Form(shapely.box(-65, -2, 65, 2), 4.0), Form(shapely.box(-90, -2, 90, 2), 4.0)
        block = Form(shapely.box(-10, -10, 10, 10), 4.0)
        crowd = Crowd(
            Lair(bed, cell_mm=1.0), [stick, pole, block], [(0.0, 90.0, 45.0), (0.0,), (0.0,)], random.Random(2)
        )
        self.assertEqual([one.angle_deg for one in crowd.prints], [45.0, 0.0, 0.0])
        for n in (2, 0, 1):
            crowd.move(n)
        self.assertEqual(crowd.kept_overlaps().shape, (3,))
        self.assertEqual(crowd.positions()[0][2], 45.0)
        found = crowd.overlaps()
        self.assertEqual(found[0, 2], 0.0)

    def test_a_strip_that_is_shorter_bars_what_reaches_beyond(self) -> None:
        lair = Lair(Bed(shapely.box(0, 0, 100, 50)), cell_mm=1.0)
        lair.right_mm = 60.0
        crowd = Crowd(lair, [Form(shapely.box(-10, -10, 10, 10), 2.0)], [(0.0,)], random.Random(2))
        for _ in range(8):
            crowd.move(0)
            self.assertLess(crowd.positions()[0][0], 51.0)


class Together(unittest.TestCase):
    def test_everything_lies_where_one_after_the_other_would_leave_something_over(self) -> None:
        # Seven boxes that fill their bed to 84 % with walls: a first pass leaves some over.
        sizes = [(62, 40), (62, 40), (30, 84), (46, 30), (46, 30), (46, 30), (60, 26)]
        pieces = [
            Piece((f"p{n}", 1), [Form(shapely.box(-w / 2, -h / 2, w / 2, h / 2), 6.0)])
            for n, (w, h) in enumerate(sizes)
        ]
        bed = Bed(shapely.box(0, 0, 178, 106))
        layout = arrange(pieces, bed, seed=2, token=Quiet())
        judge(self, layout, pieces, bed)
        self.assertEqual(layout.left_over, ())

    def test_a_long_bar_lies_on_the_diagonal_and_a_longer_one_nowhere(self) -> None:
        bed = Bed(shapely.box(0, 0, 160, 120))
        bar = Piece(("bar", 1), [Form(shapely.box(-90, -4, 90, 4), 6.0)])
        self.assertTrue(diagonals(bar, bed))
        self.assertFalse(set(diagonals(bar, bed)) & set(bar.angles_deg))
        layout = arrange([bar], bed, seed=1, token=Quiet())
        judge(self, layout, [bar], bed)
        self.assertEqual(len(layout.spots), 1)
        longer = Piece(("bar", 1), [Form(shapely.box(-101, -4, 101, 4), 6.0)])
        self.assertEqual(diagonals(longer, bed), ())
        self.assertEqual(arrange([longer], bed, seed=1, token=Quiet()).left_over, (("bar", 1),))
        self.assertGreater(len(wider_angles(bar, bed)), len(bar.angles_deg))
