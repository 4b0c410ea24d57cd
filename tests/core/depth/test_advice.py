"""Depth advice against trying every combination, and on things whose answer is known."""

from __future__ import annotations

import itertools
import math
import unittest

import numpy as np
from scipy.spatial import ConvexHull

from cozy_burrow.core.depth.advice import Advice, Case, advice_for, best_of, with_risers
from cozy_burrow.core.depth.pocket import allowance_for
from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.depth.sitting import sitting_of
from cozy_burrow.core.foam.layers import layers_of
from cozy_burrow.core.kit.stations import parse_stations, station_item
from cozy_burrow.core.model.records import Item, Placement, Rules, Sheet
from tests.core.depth.floors import thing
from tests.makers import box, drawer, rod, stations
from tests.many import many

THIN = (Sheet(thickness_mm=32.0, pitch_mm=3.2),)
THICK = (Sheet(thickness_mm=50.0, pitch_mm=10.0),)
MIXED = (Sheet(thickness_mm=16.0, pitch_mm=3.2), Sheet(thickness_mm=30.0, pitch_mm=10.0))
RULES = Rules(allowance_mm=0.0)


def random_item(chance: np.random.Generator) -> Item:
    """Return two or three flat parts side by side, thick and thin, high and low."""
    zones, edge = [], 0.0
    for _ in range(int(chance.integers(2, 4))):
        end = edge + float(chance.integers(8, 90))
        half = float(chance.integers(5, 20))
        low = -float(chance.integers(1, 16))
        zones.append(((edge, -half, end, half), low, low + float(chance.integers(2, 22))))
        edge = end
    return thing(*zones)


def every(case: Case) -> list[Advice]:
    """Return what every combination of layers gives; those that lie askew by another library's hull are left out."""
    counts = range(1, len(case.bottoms_mm) + 1)
    return [
        case.judged(layers)
        for layers in itertools.product(counts, repeat=len(case.item.zones))
        if case.rising or _near_level(case, layers)
    ]


def _near_level(case: Case, layers: tuple[int, ...]) -> bool:
    """Return whether it tilts by at most 1.1 degree: it lies on the facet of the lower hull under its weight."""
    xy = np.concatenate([xy for xy, _ in case.places]) - np.array(case.centre)
    depth = np.concatenate([h + case.bottoms_mm[n - 1] for (_, h), n in zip(case.places, layers)])
    if np.ptp(depth) < 1e-9:
        return True
    hull = ConvexHull(np.column_stack([xy, depth]))
    lower = hull.equations[hull.equations[:, 2] < -1e-12]
    under = lower[int(np.argmax(-lower[:, 3] / lower[:, 2]))]
    return bool(np.hypot(under[0], under[1]) / -under[2] <= math.tan(math.radians(1.1)))


class Exhaustive(unittest.TestCase):
    def test_never_worse_than_every_combination_on_three_hundred_items(self) -> None:
        good = 0
        tried = many(300)
        for seed in range(tried):
            chance = np.random.default_rng(seed)
            item = random_item(chance)
            sheets = THIN if len(item.zones) == 2 and seed % 3 == 0 else (MIXED if len(item.zones) == 2 else THICK)
            seat = ("half", "flush", "proud", "deep")[seed % 4]
            case = Case(item, seat, drawer(sheets=sheets), RULES)  # type: ignore[arg-type]
            best = best_of(case)
            others = [one for one in every(case) if one.good]
            with self.subTest(seed=seed):
                self.assertEqual(best.good, bool(others))
                if others:
                    self.assertLessEqual(best.cost, min(one.cost for one in others))
                    good += 1
        self.assertGreater(good, tried / 2)

    def test_never_worse_on_round_and_sloping_things_either(self) -> None:
        for seed in range(6):
            chance = np.random.default_rng(seed)
            thick, thin = (float(n) for n in chance.integers(8, 34, 2))
            text = f"0:{thick - 4} 60:{thick} 60:{thin} {100 + 10 * int(chance.integers(0, 9))}:{thin}"
            item = station_item("item-1", "driver", parse_stations(text))
            case = Case(item, "half", drawer(sheets=THICK), RULES)
            best = best_of(case)
            near = [one for one in every(case) if one.good and one.off_mm <= 8.0]
            with self.subTest(text):
                if near:
                    self.assertTrue(best.good)
                    self.assertLessEqual(best.cost, min(one.cost for one in near))


class KnownAnswers(unittest.TestCase):
    def test_a_box_goes_down_by_at_least_half(self) -> None:
        advice = advice_for(box(60, 20, 22), None, drawer(sheets=THICK), RULES)
        self.assertEqual((advice.zone_layers, advice.good, advice.steps), ((2,), True, 1))

    def test_a_square_gets_a_step_where_its_blade_lies_higher(self) -> None:
        square = thing(((0, 0, 20, 100), -10, 10), ((20, 0, 180, 30), 0, 3))
        advice = advice_for(square, None, drawer(sheets=THICK), Rules(allowance_mm=0.0, seat="flush"))
        self.assertTrue(advice.good)
        self.assertEqual(advice.zone_layers, (2, 1))
        self.assertEqual(advice.sitting.tilt_deg, 0.0)

    def test_what_it_says_is_what_the_pocket_then_does(self) -> None:
        for seed in range(40):
            item = random_item(np.random.default_rng(seed))
            bay = drawer(sheets=THICK)
            advice = advice_for(item, None, bay, RULES)
            by_hand = Placement(id="", item_id="", copy=1, x_mm=0, y_mm=0, zone_layers=advice.zone_layers)
            pocket = local_pocket(item, by_hand, bay, RULES)
            sits = sitting_of(pocket, layers_of(bay.sheets), snug_mm=-allowance_for(item, RULES))
            with self.subTest(seed=seed):
                self.assertAlmostEqual(sits.tilt_deg, advice.sitting.tilt_deg, delta=0.25)
                self.assertAlmostEqual(sits.proud_mm, advice.sitting.proud_mm, delta=0.3)

    def test_a_slice_put_back_carries_what_would_hang(self) -> None:
        # A head far from the weight: alone it tips, and the shaft's floor is 6 mm too low to help.
        mallet = thing(((0, -20, 30, 20), -10, 10), ((30, -5, 120, 5), -4, 4))
        case = Case(mallet, "half", drawer(sheets=THICK), RULES)
        self.assertFalse(best_of(case).good)
        risen = with_risers(case)
        assert risen is not None
        self.assertTrue(risen.good)
        self.assertEqual(risen.risers_mm, (0.0, 6.0))
        self.assertLess(risen.sitting.tilt_deg, 0.2)

    def test_plain_foam_is_cut_through_and_slices_carry_every_zone(self) -> None:
        plain = (Sheet(thickness_mm=50.0, pitch_mm=50.0, material="plain"), Sheet(thickness_mm=20.0, pitch_mm=10.0))
        advice = advice_for(
            box(60, 20, 22), None, drawer(sheets=plain, height=90), Rules(allowance_mm=0.0, seat="half")
        )
        self.assertTrue(advice.good)
        self.assertEqual(advice.zone_layers, (1,))
        self.assertAlmostEqual(advice.risers_mm[0], 50.0 - 11.0)
        self.assertLess(advice.off_mm, 0.1)

    def test_nothing_is_advised_into_the_floor(self) -> None:
        for item in (rod(100, 60), stations("0:60 90:60 90:10 200:10")):
            advice = advice_for(item, None, drawer(sheets=THICK), Rules(allowance_mm=0.0, seat="deep"))
            self.assertLessEqual(max(advice.zone_layers), 4)


if __name__ == "__main__":
    unittest.main()
