"""Slits: parts of a pocket too thin for a strip to be cut out, against rectangles whose sides are known."""

from __future__ import annotations

import math
import unittest

import shapely
import shapely.affinity
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from cozy_burrow.core.bench.cuts import cutting_plan
from cozy_burrow.core.depth.slits import is_slit, slits_in
from cozy_burrow.core.findings.report import insert_findings
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import add_pulls
from cozy_burrow.core.model.records import FingerPull, Rules
from tests.makers import box, laid, project, stations


class Slits(unittest.TestCase):
    @settings(derandomize=True, deadline=None, max_examples=60)
    @given(st.floats(0.3, 4.0), st.floats(30.0, 200.0), st.floats(0, 180))
    def test_a_strip_that_a_knife_cannot_cut_out_is_a_slit(self, wide: float, long: float, angle: float) -> None:
        strip = shapely.affinity.rotate(shapely.box(0, 0, long, wide), angle)
        head = shapely.affinity.rotate(shapely.box(-20, -9, 0, 9), angle, origin=strip.centroid)
        assume(abs(wide - 1.5) > 1e-6)  # at the very limit a turned strip is either
        self.assertEqual(is_slit(strip), wide < 1.5)
        self.assertFalse(is_slit(strip.union(head)))
        found = slits_in(strip)
        if wide > 1.56:
            self.assertEqual(found, ())
        elif wide < 1.5:
            self.assertAlmostEqual(found[0].width_mm, wide, delta=0.05)
            self.assertAlmostEqual(found[0].length_mm, long, delta=0.2)
            self.assertLess(strip.distance(shapely.Point(found[0].at)), 1e-6)

    def test_no_corner_of_a_thick_thing_is_a_slit(self) -> None:
        for area in (
            shapely.box(0, 0, 60, 20),
            shapely.Point(0, 0).buffer(12),
            shapely.Polygon([(0, 0), (90, 4), (0, 8)]),
        ):
            with self.subTest(area.area):
                long = [one for one in slits_in(area) if one.length_mm > 20]
                self.assertEqual(long, [])

    def test_a_card_is_cut_with_one_slit_and_that_is_said(self) -> None:
        plan = laid(
            project(box(85, 0.8, 54, "card"), stations("0:20 60:20 60:1.2x1.2 100:1.2x1.2", "awl")), (90, 60), (90, 120)
        )
        plan = project(*plan.items, rules=Rules())
        plan = laid(plan, (90, 60), (90, 120))
        ground = ground_of(plan, plan.inserts[0])
        notes = {one.placements[0]: one for one in insert_findings(ground) if one.code == "SLIT"}
        self.assertEqual(set(notes), set(ground.pockets))
        card = [cut for sheet in cutting_plan(ground) for cut in sheet.cuts if cut.slit]
        self.assertEqual({cut.name for cut in card}, {plan.inserts[0].placements[0].id})
        self.assertAlmostEqual(card[0].length_mm, 85.8, delta=0.1)  # along it, not round it

    def test_a_pull_is_cut_where_foam_is_and_not_along_the_pocket(self) -> None:
        plan = laid(project(box(120, 30, 12, "bar"), rules=Rules(allowance_mm=0.0)), (150, 100))
        pull = FingerPull(
            id="", kind="circle_pair", serves=("item-1#1",), points_mm=((0.0, -15.0), (0.0, 15.0)), width_mm=40.0
        )
        ground = ground_of(made := add_pulls(plan, "insert-1", [pull]), made.inserts[0])
        cuts = [cut for sheet in cutting_plan(ground) for cut in sheet.cuts if cut.kind == "pull"]
        self.assertEqual(len(cuts), 2)
        for cut in cuts:  # half a circle each: the other side of its line is the pocket's own
            self.assertAlmostEqual(cut.length_mm, math.pi * 20, delta=0.4)


if __name__ == "__main__":
    unittest.main()
