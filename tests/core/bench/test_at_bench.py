"""The work at one sheet: lines on and back, rests that are not counted, blades, tears."""

from __future__ import annotations

import random
import unittest

from cozy_burrow.core.bench.at_bench import back, begun, onward, rested, spent_s, torn, with_new_blade


class AtTheBench(unittest.TestCase):
    def test_time_counts_at_the_line_in_hand_and_not_while_it_rests(self) -> None:
        work = begun((100.0, 200.0, 50.0), 1000.0)
        work = onward(work, 1010.0)
        work = rested(work, 1015.0)
        self.assertEqual(spent_s(work, 5000.0), 15.0)
        work = rested(work, 5000.0)
        work = onward(work, 5020.0)
        work = back(work, 5021.0)
        work = onward(onward(work, 5031.0), 5032.0)
        self.assertEqual(work.spent_s, (10.0, 35.0, 2.0))
        self.assertTrue(work.is_done)
        self.assertEqual(spent_s(work, 9999.0), 47.0)
        self.assertEqual(onward(work, 9999.0), work)
        self.assertEqual(rested(work, 9999.0), work)
        self.assertEqual(torn(work), work)

    def test_a_blade_has_gone_as_far_as_the_lines_since_it_was_new(self) -> None:
        work = begun((100.0, 200.0, 50.0), 0.0)
        work = onward(onward(work, 1.0), 2.0)
        self.assertEqual((work.blades, work.since_blade_mm), (1, 300.0))
        self.assertEqual(back(work, 3.0).since_blade_mm, 100.0)
        work = onward(with_new_blade(work), 3.0)
        self.assertEqual((work.blades, work.since_blade_mm), (2, 50.0))
        self.assertEqual(back(back(work, 4.0), 4.0).since_blade_mm, 0.0)

    def test_what_tore_is_noted_and_taken_back(self) -> None:
        work = torn(begun((1.0, 1.0), 0.0))
        self.assertEqual(work.torn, {0})
        self.assertEqual(torn(work).torn, frozenset())
        self.assertEqual(back(work, 1.0), work)
        self.assertTrue(begun((), 0.0).is_done)

    def test_whatever_is_pressed_no_time_is_lost_or_counted_twice(self) -> None:
        for seed in range(50):
            chance, now, worked = random.Random(seed), 0.0, 0.0
            work = begun(tuple(chance.uniform(10, 500) for _ in range(chance.randint(1, 8))), now)
            for _ in range(60):
                gone = chance.uniform(0.0, 30.0)
                now += gone
                worked += 0.0 if work.rests else gone
                press = chance.choice((onward, onward, back, rested))
                work = press(work, now)
                work = chance.choice((torn, with_new_blade, lambda same: same))(work)
                self.assertAlmostEqual(spent_s(work, now), worked)
                self.assertGreaterEqual(work.since_blade_mm, 0.0)
                self.assertTrue(0 <= work.at <= len(work.spent_s))
