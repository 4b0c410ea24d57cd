"""Order: runs and bounds against brute force by Shapely, lines and gaps in cases a hand can work out."""

from __future__ import annotations

import itertools
import random
import unittest

import numpy as np
import shapely
from shapely import affinity

from cozy_burrow.core.arrange.beside import gaps_along, in_rows
from cozy_burrow.core.arrange.contacts import Body, shortfalls
from cozy_burrow.core.arrange.order import WIDEST_MM, ordered
from cozy_burrow.core.arrange.pieces import Bed, Form, wanted_between
from cozy_burrow.core.arrange.sliding import Sliding, run_between, segments_of
from tests.core.arrange.shapes import random_shape

WALL_MM = 8.0
SQUARE = Form(shapely.box(-10, -10, 10, 10), WALL_MM)


def row(*places: tuple[float, float]) -> list[Body]:
    return [Body(SQUARE, x, y, 0.0) for x, y in places]


def scattered(chance: random.Random, count: int, bed: Bed) -> list[Body]:
    """Return bodies by chance that keep every wall."""
    left, top, right, bottom = bed.room
    found: list[Body] = []
    for _ in range(count * 30):
        form = Form(random_shape(chance), chance.choice((4.0, 8.0, 12.0)))
        body = Body(form, chance.uniform(left, right), chance.uniform(top, bottom), chance.choice((0, 90, 180, 33)))
        if len(found) < count and shortfalls([*found, body], bed) == (0.0, 0.0):
            found.append(body)
    return found


class Runs(unittest.TestCase):
    def test_a_run_is_how_far_a_shape_slides_until_it_meets_another(self) -> None:
        """Against moves of a tenth of a millimetre, which Shapely judges."""
        chance = random.Random(7)
        tried = 0
        while tried < 40:
            still = random_shape(chance)
            moving = affinity.translate(random_shape(chance), chance.uniform(-90, 90), chance.uniform(-90, 90))
            if still.distance(moving) < 0.5:
                continue
            tried += 1
            axis = chance.randrange(2)
            back, on = run_between(segments_of(still, axis), segments_of(moving, axis))
            for run, sign in ((back, -1.0), (on, 1.0)):
                free = min(run, 200.0)
                for share in (0.2, 0.5, 0.8, 0.999):
                    by = sign * free * share
                    moved = affinity.translate(moving, *((by, 0.0) if axis == 0 else (0.0, by)))
                    self.assertFalse(moved.intersects(still))
                if run < 200.0:
                    by = sign * (run + 0.1)
                    moved = affinity.translate(moving, *((by, 0.0) if axis == 0 else (0.0, by)))
                    self.assertTrue(moved.distance(still) < 0.11)

    def test_two_discs_meet_where_a_circle_says(self) -> None:
        discs = [shapely.Point(x, y).buffer(10, quad_segs=64) for x, y in ((0, 0), (12, 50))]
        back, on = run_between(segments_of(discs[0], 1), segments_of(discs[1], 1))
        self.assertAlmostEqual(back, 50 - (20**2 - 12**2) ** 0.5, delta=0.02)
        self.assertEqual(on, float("inf"))


class Bounds(unittest.TestCase):
    def test_whatever_keeps_all_bounds_keeps_all_walls(self) -> None:
        for seed in range(12):
            chance = random.Random(seed)
            bed = Bed(shapely.box(0, 0, 320, 220), [(shapely.box(150, 90, 170, 110), 6.0)])
            if seed % 3 == 0:
                bed = Bed(shapely.Polygon([(0, 0), (320, 0), (320, 120), (200, 220), (0, 220)]))
            bodies = scattered(chance, 9, bed)
            axis = seed % 2
            sliding = Sliding(bodies, bed, axis=axis)
            slides = np.zeros(len(bodies) + 1)
            for n in chance.sample(range(len(bodies)), len(bodies)):  # one after the other as far as it may go
                least = max(slides[m] - sliding.most[n, m] for m in range(len(slides)))
                most = min(slides[m] + sliding.most[m, n] for m in range(len(slides)))
                slides[n] = chance.choice((least, most, (least + most) / 2)) if np.isfinite([least, most]).all() else 0
            moved = [
                Body(one.form, one.x_mm + by * (axis == 0), one.y_mm + by * (axis == 1), one.angle_deg)
                for one, by in zip(bodies, slides.tolist())
            ]
            missing, beyond = shortfalls(moved, bed)
            self.assertLess(missing, 0.02, seed)
            self.assertLess(beyond, 0.001, seed)

    def test_a_tie_that_goes_against_another_is_refused(self) -> None:
        sliding = Sliding(row((30, 30), (90, 34), (150, 28)), Bed(shapely.box(0, 0, 300, 120)), axis=1)
        self.assertTrue(sliding.may_tie(0, 1, -4.0))
        sliding.tie(0, 1, -4.0)
        sliding.tie(1, 2, 6.0)
        self.assertTrue(sliding.may_tie(0, 2, 2.0))
        self.assertFalse(sliding.may_tie(0, 2, 3.0))
        self.assertFalse(sliding.may_tie(3, 0, 200.0))  # beyond the bed


class Beside(unittest.TestCase):
    def test_gaps_are_between_next_neighbours_that_face_each_other(self) -> None:
        shapes = [shapely.box(x, y, x + 20, y + 40) for x, y in ((0, 0), (30, 5), (65, 0), (0, 60))]
        across = {(one.first, one.second): one.gap_mm for one in gaps_along(shapes, 0)}
        self.assertEqual(across, {(0, 1): 10.0, (1, 2): 15.0})
        down = {(one.first, one.second): one.gap_mm for one in gaps_along(shapes, 1)}
        self.assertEqual(down, {(0, 3): 20.0})

    def test_a_gap_is_taken_on_the_true_shape(self) -> None:
        disc = shapely.Point(0, 0).buffer(20, quad_segs=64)
        hollow = shapely.box(22, -30, 70, 30).difference(shapely.Point(22, 0).buffer(15, quad_segs=64))
        (gap,) = gaps_along([disc, hollow], 0)
        bent = min(
            22 + max(0.0, (15**2 - y**2)) ** 0.5 * (abs(y) < 15) - (20**2 - y**2) ** 0.5
            for y in np.linspace(-20, 20, 4001)
        )
        self.assertAlmostEqual(gap.gap_mm, bent, delta=0.05)

    def test_what_lies_behind_another_is_not_in_its_row(self) -> None:
        shapes = [shapely.box(0, 0, 40, 20), shapely.box(60, 3, 90, 20), shapely.box(0, 40, 40, 60)]
        self.assertEqual(np.argwhere(np.triu(in_rows(shapes, 1))).tolist(), [[0, 1], [1, 2]])


class Order(unittest.TestCase):
    BED = Bed(shapely.box(0, 0, 300, 120))

    def test_ends_that_nearly_share_a_line_come_to_share_it(self) -> None:
        now = ordered(row((30, 60), (90, 64), (150, 57)), self.BED, spread="no")
        self.assertEqual(len({round(float(body.shape.bounds[3]), 2) for body in now}), 1)
        self.assertEqual(shortfalls(now, self.BED), (0.0, 0.0))

    def test_gaps_of_a_row_become_equal(self) -> None:
        bodies = row((20, 60), (55, 60), (95, 60), (180, 60), (250, 60))
        for spread in ("no", "gaps", "all"):
            now = ordered(bodies, self.BED, spread=spread)  # type: ignore[arg-type]
            xs = sorted(body.x_mm for body in now)
            steps = [second - first for first, second in itertools.pairwise(xs)]
            self.assertLess(max(steps) - min(steps), 0.1, spread)
            self.assertEqual(shortfalls(now, self.BED), (0.0, 0.0))

    def test_where_room_is_dear_nothing_reaches_farther(self) -> None:
        bodies = row((12, 60), (44, 60), (76, 66))
        now = ordered(bodies, self.BED, spread="no")
        self.assertLessEqual(max(body.shape.bounds[2] for body in now), 86.001)

    def test_four_things_in_much_foam_are_spread_and_stand_in_its_middle(self) -> None:
        now = ordered(row((11, 12), (40, 12), (69, 12), (98, 12)), Bed(shapely.box(0, 0, 600, 400)), spread="gaps")
        left, right = min(body.shape.bounds[0] for body in now), max(body.shape.bounds[2] for body in now)
        self.assertAlmostEqual(left, 600 - right, delta=0.1)
        self.assertGreater(right - left, 300)

    def test_a_half_full_bed_keeps_its_rest_in_one_piece(self) -> None:
        bodies = [Body(SQUARE, x, y, 0.0) for x in range(11, 200, 29) for y in (12, 41, 70, 99)]
        now = ordered(bodies, self.BED, spread="gaps")
        gaps = [one.gap_mm for one in gaps_along([body.shape for body in now], 0)]
        self.assertLessEqual(max(gaps), WIDEST_MM + 0.1)
        self.assertLess(max(gaps) - min(gaps), 1.0)
        self.assertEqual(shortfalls(now, self.BED), (0.0, 0.0))

    def test_no_rule_is_broken_whatever_lies_there(self) -> None:
        for seed in range(12):
            chance = random.Random(100 + seed)
            area = shapely.box(0, 0, 340, 240)
            if seed % 3 == 0:
                area = area.difference(shapely.Point(340, 240).buffer(60))
            bed = Bed(area, [(shapely.box(150, 90, 170, 110), 6.0)] if seed % 2 else [])
            bodies = scattered(chance, 10, bed)
            spread = ("no", "gaps", "all")[seed % 3]
            now = ordered(bodies, bed, spread=spread)  # type: ignore[arg-type]
            self.assertEqual(shortfalls(now, bed), (0.0, 0.0), seed)
            self.assertEqual([one.form for one in now], [one.form for one in bodies])
            self.assertEqual([one.angle_deg for one in now], [one.angle_deg for one in bodies])
            for one, other in itertools.combinations(now, 2):
                self.assertGreaterEqual(one.shape.distance(other.shape), wanted_between(one.form, other.form) - 1e-9)


if __name__ == "__main__":
    unittest.main()
