"""The forecast against fitters whose speeds are known: how often its range holds, what one absurd row does to it."""

from __future__ import annotations

import unittest

import numpy as np
from msgspec.structs import replace

from cozy_burrow.core.bench.forecast import USUAL_MIN, LogRow, SheetWork, forecast_from

ROUTINE = SheetWork(metres_straight=5, metres_curved=5, pockets=10, layers_cm2=2500, pulls=8, settings=4)
SIXTY = SheetWork(metres_straight=2, metres_curved=26, pockets=60, layers_cm2=5000, pulls=50, settings=8)


class Fitter:
    """Somebody with speeds of their own, who learns, is distracted, and now and then writes down nonsense."""

    def __init__(self, seed: int) -> None:
        self.chance = np.random.default_rng(seed)
        usual = np.array([2.2, 0.6, 1.5, 0.5, 0.12, 0.2, 0.4])
        own = self.chance.normal(0.0, 0.35) + self.chance.normal(0.0, 0.35, 7)
        self.speeds = usual * np.exp(own)
        self.learning = 0.25 * np.exp(self.chance.normal(0.0, 0.6))
        self.noise = self.chance.uniform(0.06, 0.2)
        self.blades_a_metre = 0.2 * np.exp(self.chance.normal(0.0, 0.35))
        self.pockets = 0.0

    def work(self) -> SheetWork:
        chance, pockets = self.chance, float(self.chance.integers(2, 30))
        metres = pockets * chance.uniform(0.4, 1.6)
        straight = metres * chance.uniform(0.1, 0.8)
        return SheetWork(
            metres_straight=straight,
            metres_curved=metres - straight,
            pockets=pockets,
            layers_cm2=pockets * chance.uniform(80, 500),
            pulls=float(chance.integers(0, int(pockets) + 1)),
            settings=float(chance.integers(1, 9)),
        )

    def minutes(self, work: SheetWork) -> float:
        figures = [
            1.0, work.metres_straight, work.metres_curved, work.pockets, work.layers_cm2 / 100, work.pulls,
            work.settings,
        ]  # fmt: skip
        learnt = 1 + self.learning * np.exp(-(self.pockets + work.pockets / 2) / 60)
        return float(self.speeds @ figures * learnt * np.exp(self.chance.normal(0.0, self.noise)))

    def cut(self, day: int, *, may_err: bool = True) -> LogRow:
        work = self.work()
        minutes = self.minutes(work)
        if may_err and self.chance.random() < 0.06:
            minutes *= self.chance.choice((0.3, 3.0, 8.0))
        self.pockets += work.pockets
        blades = float(self.chance.poisson(self.blades_a_metre * work.metres))
        date = f"2026-{1 + day // 28:02}-{1 + day % 28:02}"
        return LogRow(date=date, sheet="s", work=work, minutes=minutes, blades=blades)


class BeforeAnyLog(unittest.TestCase):
    def test_what_is_usual_lies_in_its_range(self) -> None:
        nothing = forecast_from(())
        routine = nothing.minutes([ROUTINE])
        self.assertTrue(routine.low < 25 < routine.high)
        self.assertTrue(20 < routine.likely < 36, routine)
        blades = nothing.blades([ROUTINE])
        self.assertTrue(blades.low <= 2 <= blades.high and 1 <= blades.likely <= 3, blades)
        afternoon = nothing.minutes([SIXTY])
        self.assertTrue(afternoon.low < 210 < afternoon.high, afternoon)

    def test_several_sheets_take_as_long_as_each_after_the_other_within_a_narrower_share(self) -> None:
        nothing = forecast_from(())
        one, four = nothing.minutes([ROUTINE]), nothing.minutes([ROUTINE] * 4)
        self.assertTrue(3 * one.likely < four.likely < 4 * one.likely)  # the later ones go more quickly
        self.assertLess(four.high / four.low, one.high / one.low)

    def test_nothing_cut_takes_its_set_up_and_no_blade(self) -> None:
        nothing = forecast_from(())
        self.assertLess(nothing.minutes([SheetWork()]).high, 8)
        self.assertEqual(nothing.blades([SheetWork()]).high, 0)
        self.assertEqual(nothing.part_minutes(SheetWork()), 0.0)

    def test_the_same_log_gives_the_same_forecast(self) -> None:
        rows = tuple(Fitter(1).cut(day) for day in range(5))
        self.assertEqual(forecast_from(rows).minutes([ROUTINE]), forecast_from((*rows,)).minutes([ROUTINE]))


class Fitters(unittest.TestCase):
    def test_four_of_five_sheets_of_three_hundred_fitters_lie_in_their_range(self) -> None:
        inside, errors, blades_inside = [], [], []
        for seed in range(300):
            fitter = Fitter(seed)
            count = 5 + seed % 36
            rows = [fitter.cut(day) for day in range(count)]
            forecast = forecast_from(tuple(rows))
            for _ in range(4):
                work = fitter.work()
                said, took = forecast.minutes([work]), fitter.minutes(work)
                inside.append(said.low <= took <= said.high)
                told, worn = forecast.blades([work]), fitter.chance.poisson(fitter.blades_a_metre * work.metres)
                blades_inside.append(told.low <= worn <= told.high)
                if count >= 10:
                    errors.append(abs(said.likely / took - 1))
        self.assertTrue(0.75 <= np.mean(inside) <= 0.85, np.mean(inside))
        self.assertLess(float(np.median(errors)), 0.12)
        self.assertGreater(float(np.mean(blades_inside)), 0.75)  # blades come whole: the range holds at least so often

    def test_a_fitter_who_always_takes_five_times_as_long_is_believed(self) -> None:
        fitter = Fitter(7)
        works = [fitter.work() for _ in range(41)]
        speeds = 5.0 * np.array(USUAL_MIN)

        def minutes(work: SheetWork) -> float:
            metres = (1.0, work.metres_straight, work.metres_curved)
            return float(speeds @ [*metres, work.pockets, work.layers_cm2 / 100, work.pulls, work.settings])

        days = (f"2026-{1 + day // 28:02}-{1 + day % 28:02}" for day in range(40))
        log = tuple(LogRow(date=day, sheet="s", work=work, minutes=minutes(work)) for day, work in zip(days, works))
        self.assertAlmostEqual(forecast_from(log).minutes(works[40:]).likely / minutes(works[40]), 1.0, delta=0.02)

    def test_the_range_narrows_as_the_log_grows(self) -> None:
        widths = []
        for count in (0, 5, 20, 40):
            each = []
            for seed in range(12):
                fitter = Fitter(seed)
                said = forecast_from(tuple(fitter.cut(day) for day in range(count))).minutes([ROUTINE])
                each.append(np.log(said.high / said.low))
            widths.append(float(np.median(each)))
        self.assertEqual(widths[:3], sorted(widths[:3], reverse=True))
        self.assertLess(widths[3], widths[1])  # in the end what is left is how much sheets differ
        self.assertLess(widths[-1], 0.6 * widths[0])

    def test_one_absurd_row_moves_what_is_likely_by_less_than_three_per_cent(self) -> None:
        for seed in range(20):
            fitter = Fitter(1000 + seed)
            rows = [fitter.cut(day, may_err=False) for day in range(10)]
            plain = forecast_from(tuple(rows)).minutes([ROUTINE]).likely
            for factor in (100.0, 0.01):
                absurd = [*rows[:4], replace(rows[4], minutes=rows[4].minutes * factor), *rows[5:]]
                without = forecast_from((*rows[:4], *rows[5:])).minutes([ROUTINE]).likely
                moved = forecast_from(tuple(absurd)).minutes([ROUTINE]).likely
                self.assertLess(abs(moved / without - 1), 0.03, (seed, factor, plain))
            many = [*rows[:4], replace(rows[4], blades=500.0), *rows[5:]]
            usual, seen = (forecast_from(tuple(one)).blades([ROUTINE]).likely for one in (rows, many))
            self.assertLessEqual(seen - usual, 1.0)
