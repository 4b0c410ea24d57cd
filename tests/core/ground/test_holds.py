"""Findings of hold, of what strikes obstacles, and of what stands on the wrong side of a limit."""

from __future__ import annotations

import math
import unittest

from msgspec.structs import replace

from cozy_burrow.core.findings.holds import hold_findings, strike_findings
from cozy_burrow.core.findings.mends import mended
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.ground.holding import holding_of, thinnest_wall_mm
from cozy_burrow.core.model.records import Container, Item, Project, Rules
from cozy_burrow.core.model.vessels import Lid, Obstacle
from cozy_burrow.jobs.wording import mend_text
from tests.makers import box, laid, project, rod


def cased(item: Item, *, rules: Rules | None = None, lid: Lid | None = None, **fields: object) -> Project:
    """Return a case, 75 mm high with 50 mm of foam, and one thing in it."""
    plan = laid(project(item, rules=rules or Rules(seat="half")), (150, 100))
    case = Container(kind="case", width_mm=300, depth_mm=200, height_mm=75, lid=lid, **fields)  # type: ignore[arg-type]
    return replace(plan, containers=(case,))


class Holds(unittest.TestCase):
    def codes(self, plan: Project) -> list[str]:
        return [one.code for one in hold_findings(ground_of(plan, plan.inserts[0]))]

    def test_a_box_on_the_line_comes_loose_and_a_snug_pocket_mends_it(self) -> None:
        plan = cased(replace(box(80, 40, 20), mass_g=300.0))
        (finding,) = hold_findings(ground_of(plan, plan.inserts[0]))
        self.assertEqual((finding.code, finding.extra), ("LOOSE", "jolt"))
        self.assertIn("held with nothing to 3.8 N; a jolt pulls with 8.8 N. A snug pocket", finding_text(plan, finding))
        (mend,) = finding.mends
        self.assertEqual(mend_text(plan, mend), "Cut its pocket snug")
        self.assertEqual(self.codes(mended(plan, "insert-1", mend)), [])

    def test_what_is_too_heavy_to_be_held_is_said_without_a_mend(self) -> None:
        plan = cased(replace(box(80, 40, 20), mass_g=60_000.0, fit="snug"))
        (finding,) = hold_findings(ground_of(plan, plan.inserts[0]))
        self.assertEqual((finding.code, finding.mends), ("LOOSE", ()))

    def test_too_tight_is_a_note_that_the_line_mends(self) -> None:
        plan = cased(replace(box(200, 100, 40), mass_g=200.0, fit="snug"), rules=Rules(seat="deep", snug_mm=3.0))
        (finding,) = hold_findings(ground_of(plan, plan.inserts[0]))
        self.assertEqual((finding.code, finding.severity), ("TOO_TIGHT", "note"))
        better = mended(plan, "insert-1", finding.mends[0])
        self.assertNotIn("TOO_TIGHT", self.codes(better))

    def test_a_drawer_asks_nothing_and_a_pressing_lid_holds(self) -> None:
        drawer = laid(project(replace(box(80, 40, 20), mass_g=300.0)), (150, 100))
        self.assertEqual(self.codes(drawer), [])
        pressed = cased(replace(box(80, 40, 20), mass_g=300.0), lid=Lid(depth_mm=5.0, foam_mm=26.0, give_mm=10.0))
        self.assertEqual(self.codes(pressed), [])

    def test_the_foam_beside_it_is_the_thinnest_all_round(self) -> None:
        two = (box(60, 20, 12), replace(box(60, 20, 12), id="item-2"))
        plan = laid(project(*two, rules=Rules(allowance_mm=0.0)), (150, 80), (150, 107))
        ground = ground_of(plan, plan.inserts[0])
        self.assertAlmostEqual(thinnest_wall_mm(ground, "item-1#1"), 7.0)
        # 7 mm pressed in; 10 deep and 60 long it bends as 42 mm of foam would be pressed in; 15 mm on the other side.
        bends = 1 / (1 / (1.5 * 10**4 / 7**3) + 32 * 7**3 / 60**4)
        self.assertAlmostEqual(holding_of(ground, "item-2#1").hold.strained_mm, (7.0 + bends + 15.0) / 2, places=6)

    def test_captive_and_squeezed_are_said_once_each_with_what_helps(self) -> None:
        lens = replace(rod(80, 60), mass_g=900.0, fit="snug")
        plan = cased(lens, rules=Rules(seat="flush"))
        one = replace(plan.inserts[0].placements[0], zone_layers=(1,))
        plan = replace(plan, inserts=(replace(plan.inserts[0], placements=(one,)),))
        (squeezed,) = hold_findings(ground_of(plan, plan.inserts[0]))
        self.assertEqual((squeezed.code, squeezed.value), ("SQUEEZED", 10.0))
        self.assertAlmostEqual(squeezed.limit, 30 * (1 - 0.5 / math.hypot(1, 0.5)))
        self.assertIn("Sink it deeper", finding_text(plan, squeezed))
        deep = cased(
            replace(box(80, 40, 35), mass_g=90_000.0), rules=Rules(seat="deep"), lid=Lid(foam_mm=12, give_mm=4)
        )
        (captive,) = hold_findings(ground_of(deep, deep.inserts[0]))
        self.assertEqual((captive.code, captive.severity), ("CAPTIVE", "note"))
        self.assertIn("40 mm deep, with 18 mm of air", finding_text(deep, captive))


class Strikes(unittest.TestCase):
    def rib(self, low_mm: float) -> Obstacle:
        ring = ((140.0, 85.0), (160.0, 85.0), (160.0, 115.0), (140.0, 115.0))
        return Obstacle(name="latch", kind="latch", ring=ring, low_mm=low_mm)

    def test_what_stands_proud_under_a_bulge_is_a_stop(self) -> None:
        # 20 mm thick, one layer deep: it stands 10 mm out of foam that ends at 50.
        for low, strikes in ((52.0, True), (61.0, False)):
            plan = cased(box(80, 40, 20), obstacles=(self.rib(low),))
            found = list(strike_findings(ground_of(plan, plan.inserts[0])))
            self.assertEqual([one.code for one in found], ["STRIKES"] if strikes else [])
            if strikes:
                self.assertAlmostEqual(found[0].limit, 2.0)
                self.assertIn("under ‘latch’", finding_text(plan, found[0]))

    def test_sunk_below_the_surface_it_strikes_nothing(self) -> None:
        plan = cased(box(80, 40, 8), obstacles=(self.rib(51.0),))
        self.assertEqual(list(strike_findings(ground_of(plan, plan.inserts[0]))), [])


if __name__ == "__main__":
    unittest.main()
