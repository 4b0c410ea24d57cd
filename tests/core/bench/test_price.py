"""The price of a job: the sum of its pieces, with a range that is narrower than all going wrong at once."""

from __future__ import annotations

import unittest

from msgspec.structs import replace
from shapely.geometry import box

from cozy_burrow.core.bench.forecast import forecast_from
from cozy_burrow.core.bench.price import LAYOUT_SLACK, price_of
from cozy_burrow.core.foam.purchase import Order, Purchase, Wanted
from cozy_burrow.core.model.records import Sheet
from cozy_burrow.core.model.vessels import Board, Stores
from tests.core.bench.test_forecast import ROUTINE, SIXTY, Fitter

FOAM = Purchase((), (Order(board=Board(id="a", name="a", price=31.0), packs=2),), (("yard", 9.5),), (), proven=True)
PAID = Stores(hour_rate=36.0, blade_price=0.5)


class PriceOfAJob(unittest.TestCase):
    def test_it_is_the_sum_of_its_pieces(self) -> None:
        """Against the pieces as they are told: hours and blades of the forecast, foam of the purchase."""
        forecast = forecast_from(())
        found = price_of(forecast, [ROUTINE, SIXTY], FOAM, PAID, inserts=2)
        self.assertEqual(found.foam, 71.5)
        hours = forecast.minutes([ROUTINE, SIXTY]).likely / 60.0
        self.assertAlmostEqual(found.bench_h.likely, hours, delta=1e-9)
        self.assertAlmostEqual(found.layout_h.likely, 2.0, delta=0.05)
        sum_ = 71.5 + 36.0 * (hours + 2.0) + 0.5 * found.blades.likely
        self.assertAlmostEqual(found.total.likely, sum_, delta=0.03 * sum_)
        self.assertLess(found.total.low, found.total.likely)

    def test_the_layout_is_off_by_its_slack_in_one_of_five(self) -> None:
        found = price_of(forecast_from(()), [ROUTINE], FOAM, replace(PAID, layout_h=3.0), inserts=1).layout_h
        self.assertAlmostEqual(found.high / found.likely, LAYOUT_SLACK, delta=0.05)
        self.assertAlmostEqual(found.likely / found.low, LAYOUT_SLACK, delta=0.05)

    def test_not_everything_turns_out_dear_at_once(self) -> None:
        found = price_of(forecast_from(()), [ROUTINE], FOAM, PAID, inserts=1)
        worst = 71.5 + 36.0 * (found.bench_h.high + found.layout_h.high) + 0.5 * found.blades.high
        self.assertLess(found.total.high, worst)
        self.assertGreater(found.total.high, found.total.likely)

    def test_a_log_narrows_it(self) -> None:
        fitter = Fitter(3)
        log = tuple(fitter.cut(day, may_err=False) for day in range(25))
        quick = replace(PAID, layout_h=0.0)
        before, after = (price_of(forecast_from(one), [ROUTINE], FOAM, quick, inserts=1).total for one in ((), log))
        self.assertLess((after.high - after.low) / after.likely, (before.high - before.low) / before.likely)

    def test_what_has_no_price_is_named(self) -> None:
        short = ((Wanted("Lid, sheet 1", Sheet(), box(0, 0, 9, 9)), "no_board"),)
        found = price_of(forecast_from(()), [], Purchase((), (), (), short, proven=True), PAID, inserts=0)
        self.assertEqual(found.lacking, ("Lid, sheet 1",))
        self.assertEqual((found.total.low, found.total.high), (0.0, 0.0))
