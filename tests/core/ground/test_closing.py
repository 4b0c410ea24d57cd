"""Closing, the thin-wall map and advice for whole inserts."""

from __future__ import annotations

import unittest

from msgspec.structs import replace
from shapely.geometry import box as rectangle

from cozy_burrow.core.findings.mends import mended
from cozy_burrow.core.findings.report import insert_findings
from cozy_burrow.core.ground.advising import advised_all, needs_advice
from cozy_burrow.core.ground.closing import closing_of
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.ground.section import cut_along
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.ground.thinness import thin_foam
from cozy_burrow.core.model.edits import add_pulls
from cozy_burrow.core.model.records import Container, FingerPull, Item, Project, Rules
from cozy_burrow.core.model.vessels import Lid
from tests.core.depth.floors import thing
from tests.makers import box, drawer, laid, project

MALLET = ((0, -20, 30, 20), -10, 10), ((30, -5, 120, 5), -4, 4)


def in_case(item: Item, lid: Lid, *, seat: str = "half") -> Project:
    """Return a case of 55 mm with 50 mm of foam and one thing in it."""
    plan = laid(project(item, rules=Rules(seat=seat, allowance_mm=0.0)), (150, 100))  # type: ignore[arg-type]
    case = Container(kind="case", width_mm=300, depth_mm=200, height_mm=55, lid=lid)
    return replace(plan, containers=(case,))


class Closing(unittest.TestCase):
    def test_room_touch_and_what_is_met_first(self) -> None:
        # 5 mm of rim and 10 of lid, 12 of foam in it: 3 mm proud is untouched, 3 + 4 with the foam pressed.
        lid = Lid(depth_mm=10.0, foam_mm=12.0, give_mm=4.0)
        for thick, touched, open_mm in ((12.0, False, 0.0), (16.0, True, 0.0), (20.0, True, 3.0)):
            plan = in_case(box(60, 20, thick), lid)
            closing = closing_of(ground_of(plan, plan.inserts[0]))
            assert closing is not None
            self.assertEqual((closing.touch_mm, closing.room_mm), (3.0, 7.0))
            self.assertEqual(closing.first is not None, touched)
            self.assertAlmostEqual(closing.open_mm, open_mm)
            if closing.first is not None:
                self.assertAlmostEqual(closing.first.into_mm, thick - 10.0 - 3.0)

    def test_the_zone_that_is_met_first_is_named(self) -> None:
        item = thing(((0, -20, 40, 20), 0, 14), ((40, -10, 100, 10), 0, 18))
        plan = in_case(item, Lid(depth_mm=10.0, foam_mm=12.0, give_mm=4.0), seat="half")
        closing = closing_of(ground_of(plan, plan.inserts[0]))
        assert closing is not None and closing.first is not None
        self.assertEqual(closing.first.zone, 1)
        self.assertEqual([one.zone for one in closing.pressed], [1, 0])  # 8 and 4 mm proud; 3 go untouched

    def test_a_thing_that_lies_askew_meets_the_lid_with_its_high_end(self) -> None:
        plan = in_case(thing(*MALLET), Lid(depth_mm=10.0, foam_mm=0.0), seat="half")
        ground = ground_of(plan, plan.inserts[0])
        closing = closing_of(ground)
        assert closing is not None
        sits = sitting_in(ground, "thing#1")
        self.assertAlmostEqual(closing.touch_mm - closing.spare_mm, sits.proud_mm)

    def test_nothing_closes_over_an_open_wall(self) -> None:
        plan = in_case(box(), Lid())
        wall = replace(plan.containers[0], kind="wall", lid=None)
        self.assertIsNone(closing_of(ground_of(replace(plan, containers=(wall,)), plan.inserts[0])))


class InTheGround(unittest.TestCase):
    def test_a_pull_under_a_thing_takes_its_floor_away(self) -> None:
        plan = laid(project(box(100, 20, 10), rules=Rules(allowance_mm=0.0)), (150, 100))
        ground = ground_of(plan, plan.inserts[0])
        self.assertEqual(sitting_in(ground, "item-1#1").tilt_deg, 0.0)
        # Deeper by two layers under all but one end: its weight is over the hole.
        pull = FingerPull(
            id="",
            kind="trench",
            serves=("item-1#1",),
            points_mm=((155.0, 100.0), (230.0, 100.0)),
            width_mm=60.0,
            layers=3,
        )
        deeper = add_pulls(plan, "insert-1", [pull])
        sits = sitting_in(ground_of(deeper, deeper.inserts[0]), "item-1#1")
        self.assertTrue(sits.tips)
        self.assertGreater(sits.tilt_deg, 5.0)

    def test_the_section_shows_the_tilt(self) -> None:
        plan = laid(project(thing(*MALLET), rules=Rules(allowance_mm=0.0)), (100, 100))
        ground = ground_of(plan, plan.inserts[0])
        sits = sitting_in(ground, "thing#1")
        cut = cut_along(ground, (50.0, 100.0), (280.0, 100.0))
        shaft = next(body for body in cut.bodies if body.zone == 1)
        lower = sorted((s, z) for s, z in shaft.ring)
        rise = lower[-1][1] - lower[1][1]
        run = lower[-1][0] - lower[1][0]
        self.assertAlmostEqual(rise / run, sits.pose.slope_x, delta=0.01)

    def test_what_rocks_is_found_and_the_advised_riser_mends_it(self) -> None:
        plan = laid(project(thing(*MALLET), rules=Rules(allowance_mm=0.0)), (100, 100))
        ground = ground_of(plan, plan.inserts[0])
        (finding,) = [one for one in insert_findings(ground) if one.code in {"ROCKS", "LIES_ASKEW"}]
        (mend,) = finding.mends
        better = mended(plan, "insert-1", mend)
        after = ground_of(better, better.inserts[0])
        sits = sitting_in(after, "thing#1")
        self.assertTrue(sits.level and not sits.rocks)
        self.assertEqual(after.pockets["thing#1"].seating.risers_mm, (0.0, 6.0))
        self.assertEqual([one for one in insert_findings(after) if one.code in {"ROCKS", "LIES_ASKEW"}], [])

    def test_everything_that_lies_askew_is_seated_at_once(self) -> None:
        plan = laid(project(thing(*MALLET), rules=Rules(allowance_mm=0.0)), (100, 100))
        self.assertEqual(len(needs_advice(ground_of(plan, plan.inserts[0]))), 1)
        seated, left = advised_all(plan, "insert-1")
        self.assertEqual((left, needs_advice(ground_of(seated, seated.inserts[0]))), ((), ()))


class ThinWalls(unittest.TestCase):
    def test_the_map_names_the_foam_between_and_nothing_else(self) -> None:
        boxes = (box(60, 20, 10), replace(box(60, 20, 10), id="item-2"))
        for gap, thin in ((5.0, True), (30.0, False)):
            plan = laid(project(*boxes, rules=Rules(allowance_mm=0.0)), (150, 80), (150, 100 + gap))
            ground = ground_of(plan, plan.inserts[0])
            bands = thin_foam(ground)
            self.assertEqual(bool(bands[0].area.area), thin)
            if thin:
                between = rectangle(120, 90, 180, 90 + gap)
                self.assertGreater(bands[0].area.intersection(between).area, 0.8 * between.area)
                self.assertLess(bands[0].area.difference(between.buffer(3)).area, 5.0)

    def test_a_thinner_limit_is_not_named_twice(self) -> None:
        boxes = (box(60, 20, 10), replace(box(60, 20, 10), id="item-2"))
        plan = laid(project(*boxes, rules=Rules(allowance_mm=0.0), bay=drawer()), (150, 80), (150, 105))
        first, *others = thin_foam(ground_of(plan, plan.inserts[0]))
        for other in others:
            self.assertLess(other.area.intersection(first.area).area, 1e-6)


if __name__ == "__main__":
    unittest.main()
