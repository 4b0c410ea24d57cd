"""The sitting model against closed forms, and against looking at every tilt on random floors."""

from __future__ import annotations

import math
import unittest
from unittest.mock import patch

import numpy as np
import shapely
from shapely.geometry import box as rectangle

from cozy_burrow.core.depth import settling
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.sits import UNKNOWN_REST
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.kit.zones import centre_of_mass
from cozy_burrow.core.model.memo import forget_all
from cozy_burrow.core.model.records import Rules
from tests.core.depth.floors import by_looking, on_floor, thing
from tests.makers import L_STOP, laid, project, rod, stations
from tests.many import many

CELL = 7  # mm; wider than any strip that is pressed aside


class ClosedForms(unittest.TestCase):
    """What can be worked out on paper."""

    def test_a_box_on_a_level_floor_lies_level_and_steady(self) -> None:
        sits = on_floor(thing(((-30, -10, 30, 10), 0, 12)), [rectangle(-31, -11, 31, 11)], [20.0])
        self.assertAlmostEqual(sits.pose.datum_mm, 20.0, places=6)
        self.assertEqual((sits.tilt_deg, sits.tips), (0.0, False))
        self.assertAlmostEqual(sits.steady, 1.0, places=3)
        self.assertAlmostEqual(sits.proud_mm, -8.0, places=6)

    def test_a_box_over_a_step_tips_about_the_step_onto_its_far_edge(self) -> None:
        # The ledge ends at x = -6; the far edge, at x = 30, goes down to the deeper floor.
        box = thing(((-30, -10, 30, 10), 0, 12))
        sits = on_floor(box, [rectangle(-31, -11, 31, 11), rectangle(-6, -11, 31, 11)], [10.0, 14.0])
        slope = 4.0 / 36.0
        self.assertTrue(sits.tips)
        self.assertAlmostEqual(sits.pose.slope_x, slope, places=6)
        self.assertAlmostEqual(sits.pose.slope_y, 0.0, places=6)
        self.assertAlmostEqual(sits.pose.datum_mm, 10.0 + 6.0 * slope, places=6)
        self.assertAlmostEqual(sits.tilt_deg, math.degrees(math.atan(slope)), places=6)
        self.assertAlmostEqual(sits.proud_mm, 12.0 - 10.0 + 24.0 * slope, places=6)

    def test_a_box_with_its_weight_over_the_ledge_stays_level(self) -> None:
        box = thing(((-30, -10, 30, 10), 0, 12))
        sits = on_floor(box, [rectangle(-31, -11, 31, 11), rectangle(6, -11, 31, 11)], [10.0, 14.0])
        self.assertEqual((sits.tips, sits.tilt_deg), (False, 0.0))
        self.assertAlmostEqual(sits.steady, 6.0 / 30.0, places=3)  # to the ledge's end, of the way to its own end
        self.assertAlmostEqual(sits.push_share, 0.25, places=3)

    def test_a_cylinder_sinks_into_a_slot_by_its_arc(self) -> None:
        radius, slot = 15.0, 18.0
        areas = [rectangle(-60, -20, 60, 20), rectangle(-60, -slot / 2, 60, slot / 2)]
        sits = on_floor(rod(100, 2 * radius), [*areas, areas[1], areas[1]], [10.0, 20.0, 30.0, 40.0])
        keel = 10.0 + radius - math.sqrt(radius**2 - (slot / 2) ** 2)
        self.assertAlmostEqual(sits.bottom_mm, keel, delta=0.01)
        self.assertLess(sits.tilt_deg, 0.01)

    def test_a_beam_over_two_supports_takes_their_slope(self) -> None:
        beam = thing(((-50, -5, 50, 5), 0, 8))
        deep = rectangle(-51, -6, 51, 6)
        first, second = rectangle(-45, -6, -35, 6), rectangle(30, -6, 40, 6)
        sits = on_floor(beam, [deep, deep.difference(first), deep.difference(first).difference(second)], [5.0, 8.0, 40])
        # Falling to the right, it rests on the right edge of both.
        slope = 3.0 / (40.0 + 35.0)
        self.assertAlmostEqual(sits.pose.slope_x, slope, places=6)
        self.assertAlmostEqual(sits.pose.datum_mm, 5.0 + 35.0 * slope, places=6)

    def test_an_l_shape_tips_exactly_when_its_weight_leaves_the_ledge(self) -> None:
        arms = thing(((0, 0, 60, 12), 0, 10), ((0, 12, 12, 60), 0, 10))
        x, y = centre_of_mass(arms)
        self.assertAlmostEqual(x, (720 * 30 + 576 * 6) / 1296)
        whole = rectangle(-1, -1, 61, 61)
        # The weight lies between the arms; what carries it ends at the line from the long arm's corner (60, 12) to
        # the end of the ledge under the other arm (12, t).
        t = 12 + (y - 12) * 48 / (60 - x)
        for beyond, tips in ((0.05, False), (-0.05, True)):
            ledge = rectangle(-1, -1, 61, t + beyond)
            sits = on_floor(arms, [whole, whole.difference(ledge)], [10.0, 30.0])
            self.assertEqual(sits.tips, tips)
        self.assertGreater(sits.pose.slope_y, 0.2)

    def test_a_round_thing_is_cradled_as_wide_as_it_lies_in_the_foam(self) -> None:
        sits = on_floor(rod(100, 30), [rectangle(-60, -20, 60, 20)], [9.0])
        width = max(y for _, y in sits.support) - min(y for _, y in sits.support)
        self.assertAlmostEqual(width, 2 * math.sqrt(15.0**2 - 6.0**2), delta=0.01)


class RandomFloors(unittest.TestCase):
    """500 random things on random steps: height, tilt and tipping as found by looking."""

    def test_five_hundred_random_stepped_floors(self) -> None:
        tipped = ties = 0
        tried = many(500)
        for seed in range(tried):
            tips, tie = self._one(np.random.default_rng(seed))
            tipped, ties = tipped + tips, ties + tie
        self.assertTrue(0.2 * tried < tipped < 0.96 * tried, tipped)
        self.assertLess(ties, 0.05 * tried)

    def _one(self, chance: np.random.Generator) -> tuple[bool, bool]:
        """Return whether the thing tips, and whether two tilts are equally deep: it may rest in either."""
        rows = int(chance.integers(2, 6))
        zones, edge = [], 0
        for _ in range(int(chance.integers(1, 4))):
            end = edge + int(chance.integers(1, 5)) * CELL
            low, high = sorted(int(n) * CELL for n in chance.choice(rows + 1, 2, replace=False))
            low, high = (0, rows * CELL) if not zones else (low, high)
            zones.append(((edge, low, end, high), float(chance.integers(-8, 9)), 9.0 + float(chance.integers(0, 20))))
            edge = end
        item = thing(*zones)
        cells = [(x, y) for x in range(-CELL, edge + CELL, CELL) for y in range(-CELL, (rows + 1) * CELL, CELL)]
        steps = np.cumsum(chance.choice([3.2, 5.0, 10.0], 5))
        floor = dict.fromkeys(cells, 0)  # patches of deeper floor, one on the other
        for level in range(1, 5):
            for _ in range(2):
                x, y = cells[int(chance.integers(len(cells)))]
                w, h = (int(n) * CELL for n in chance.integers(1, 6, 2))
                for cx, cy in cells:
                    if x <= cx < x + w and y <= cy < y + h and floor[cx, cy] >= level - 1:
                        floor[cx, cy] = level
        areas = [
            shapely.union_all(
                [rectangle(x, y, x + CELL, y + CELL) for (x, y), level in floor.items() if level >= wanted]
            )
            for wanted in range(5)
        ]
        areas = [area for area in areas if not area.is_empty]
        sits = on_floor(item, areas, [float(step) for step in steps[: len(areas)]])
        # By looking: all four corners of every cell that a zone covers, cell by cell.
        xy, places = [], []
        for x, y in cells:
            for (left, back, right, front), under, _ in zones:
                if left <= x < right and back <= y < front:
                    xy += [(x, y), (x + CELL, y), (x, y + CELL), (x + CELL, y + CELL)]
                    places += [float(steps[floor[x, y]]) + under] * 4
        points, depths = np.array(xy, dtype=float), np.array(places)
        centre = centre_of_mass(item)
        deep, slope_x, slope_y = by_looking(points, depths, centre)
        mine = sits.pose.datum_mm + sits.pose.slope_x * centre[0] + sits.pose.slope_y * centre[1]
        self.assertAlmostEqual(mine, deep, delta=0.05)
        self.assertLessEqual(float((sits.pose.depth_at(points) - depths).max()), 1e-6, "it goes through its floor")
        tips = deep > float(depths.min()) + 1e-4
        self.assertEqual(sits.tips, tips)
        tilt = math.degrees(math.atan(math.hypot(slope_x, slope_y)))
        tie = abs(mine - deep) < 1e-3 and abs(sits.tilt_deg - tilt) > 0.05
        if not tie:
            self.assertAlmostEqual(sits.tilt_deg, tilt, delta=0.05)
        return tips, tie


class Unsolved(unittest.TestCase):
    def test_a_solver_that_finds_nothing_is_told_and_not_taken_for_level(self) -> None:
        plan = laid(project(stations(L_STOP), rules=Rules(seat="half")), (150, 100))
        forget_all()
        self.addCleanup(forget_all)
        before = {one.code for one in findings_of(plan)}
        forget_all()
        with patch.object(settling, "_solved", lambda rows, most: None):
            told = {one.code: one for one in findings_of(plan)}
        self.assertNotIn(UNKNOWN_REST.code, before)
        self.assertIn(UNKNOWN_REST.code, told)
        self.assertIn("could not be computed", finding_text(plan, told[UNKNOWN_REST.code]))
        self.assertFalse({"LIES_ASKEW", "ROCKS"} & set(told))
        where = told[UNKNOWN_REST.code].where_mm
        (pocket,) = ground_of(plan, plan.inserts[0]).pockets.values()
        left, top, right, bottom = pocket.surface.bounds
        self.assertEqual(where, ((left + right) / 2, (top + bottom) / 2))


if __name__ == "__main__":
    unittest.main()
