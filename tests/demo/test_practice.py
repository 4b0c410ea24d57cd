"""The practice piece: sound, without anything to mend, done in about half an hour, and a coupon from tight to loose."""

from __future__ import annotations

import unittest

from cozy_burrow.core.bench.forecast import forecast_from
from cozy_burrow.core.bench.methods import OWNED
from cozy_burrow.core.bench.work import bench_work
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.coherence import check_coherent
from cozy_burrow.demo.practice import COUPON_MM, practice_project


class Practice(unittest.TestCase):
    def test_nothing_has_to_be_mended_and_it_takes_about_half_an_hour(self) -> None:
        plan = practice_project()
        check_coherent(plan)
        wrong = [finding_text(plan, one) for one in findings_of(plan) if one.severity == "stop"]
        self.assertEqual(wrong, [])
        (sheet,) = bench_work(ground_of(plan, plan.inserts[0]), OWNED)
        took = forecast_from(()).minutes([sheet.work])
        self.assertTrue(12 < took.likely < 40, took)
        self.assertTrue(took.low < 30 < took.high, took)
        self.assertTrue({"rule", "knife"} & {one.method for one in sheet.cuts})

    def test_the_coupon_goes_from_tight_to_loose(self) -> None:
        ground = ground_of(practice_project(), practice_project().inserts[0])
        widths = []
        for copy in range(2, 2 + len(COUPON_MM)):
            left, _, right, _ = ground.pockets[f"item-2#{copy}"].surface.bounds
            widths.append(round(right - left, 2))
        self.assertEqual(widths, [37.0, 38.0, 39.0, 40.0, 41.0])
