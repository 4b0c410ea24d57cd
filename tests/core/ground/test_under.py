"""Under-pockets, stacks and slits."""

from __future__ import annotations

import math
import unittest

from msgspec.structs import replace
from shapely.geometry import LineString, Polygon

from cozy_burrow.core.bench.cuts import cutting_plan
from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.depth.sitting import sitting_of
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.finding import Mend
from cozy_burrow.core.findings.mends import mended
from cozy_burrow.core.findings.report import findings_of, insert_findings
from cozy_burrow.core.foam.layers import layers_of
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.ground.under import laid_under, under_pocket_for
from cozy_burrow.core.kit.several import as_one, on_edge, on_face, stacked, with_cable
from cozy_burrow.core.kit.shapes import drawn_item
from cozy_burrow.core.kit.zones import covers_outline
from cozy_burrow.core.model.edits import placement_of
from cozy_burrow.core.model.records import Item, Placement, Project, Rules, Sheet
from tests.makers import DRIVER, box, drawer, laid, project, rod, stations

SMALL = replace(box(40, 16, 8, name="spare key"), id="item-2", use="rare")


def one_shallow(upper: Item | None = None, *more: Item) -> Project:
    """Return a drawer with a wide shallow thing laid in, and a small one in the tray."""
    upper = upper or box(120, 60, 10, name="tin")
    return laid(project(upper, SMALL, *more, rules=Rules(allowance_mm=0.0, seat="flush")), (150, 100))


class UnderPockets(unittest.TestCase):
    def test_a_small_thing_goes_under_a_shallow_one_which_still_lies_level(self) -> None:
        plan = one_shallow()
        found = laid_under(plan, "insert-1", SMALL, 1)
        assert found is not None
        ground = ground_of(found, found.inserts[0])
        self.assertEqual(ground.under, {"item-2#1": "item-1#1"})
        lower, upper = ground.pockets["item-2#1"], ground.pockets["item-1#1"]
        self.assertGreaterEqual(lower.seating.datum_mm - 8.0, upper.seating.bottom_mm - 1e-6)
        self.assertTrue(upper.surface.buffer(-5.9).covers(lower.surface))
        self.assertTrue(sitting_in(ground, "item-1#1").level)
        self.assertFalse(sitting_in(ground, "item-1#1").rocks)
        self.assertLessEqual(lower.depth_layers, len(ground.layers) - ground.floor_layers)

    def test_no_wall_is_missed_between_them_and_the_order_is_said(self) -> None:
        found = laid_under(one_shallow(), "insert-1", SMALL, 1)
        assert found is not None
        codes = [one.code for one in insert_findings(ground_of(found, found.inserts[0]))]
        self.assertIn("UNDER", codes)
        self.assertFalse({"POCKETS_MEET", "THIN_WALL", "SLIVER"} & set(codes), codes)

    def test_it_is_cut_from_the_floor_of_the_upper_pocket(self) -> None:
        found = laid_under(one_shallow(), "insert-1", SMALL, 1)
        assert found is not None
        (plan,) = cutting_plan(ground_of(found, found.inserts[0]))
        mine = [cut for cut in plan.cuts if cut.name == "item-2#1"]
        self.assertEqual([(cut.from_layer, cut.to_layer) for cut in mine], [(2, 2)])

    def test_nothing_goes_under_what_is_too_small_or_too_deep(self) -> None:
        self.assertIsNone(under_pocket_for(one_shallow(box(42, 18, 10)), "insert-1", SMALL, 1))
        deep = one_shallow()
        deep = replace(deep, rules=replace(deep.rules, seat="deep"))
        self.assertIsNone(under_pocket_for(deep, "insert-1", SMALL, 1))

    def test_the_check_list_offers_it_for_what_has_no_place(self) -> None:
        plan = one_shallow()
        finding = next(one for one in findings_of(plan) if one.code == "UNPLACED")
        mend = next(one for one in finding.mends if one.kind == "lay_under")
        found = mended(plan, "insert-1", mend)
        self.assertEqual(placement_of(found.inserts[0], "item-2#1").zone_layers, (2,))
        with self.assertRaises(UnusableInput):
            mended(one_shallow(box(42, 18, 10)), "insert-1", mend)

    def test_a_thing_beside_is_not_under(self) -> None:
        plan = project(box(60, 20, 10), replace(box(60, 20, 10), id="item-2"), rules=Rules(allowance_mm=0.0))
        ground = ground_of(laid(plan, (80, 60), (200, 60)), laid(plan, (80, 60), (200, 60)).inserts[0])
        self.assertEqual(ground.under, {})


class StacksAndSlits(unittest.TestCase):
    def test_copies_lie_on_each_other_as_one_thing(self) -> None:
        card = replace(box(80, 50, 3, name="card"), quantity=5, mass_g=20.0)
        pile = stacked(card)
        self.assertEqual((pile.quantity, pile.thickness_mm, pile.mass_g), (1, 15.0, 100.0))
        self.assertEqual(pile.outline, card.outline)
        self.assertIn("5 × card", pile.name)

    def test_what_rolls_or_steps_or_topples_is_not_stacked(self) -> None:
        for item in (
            replace(rod(), quantity=3),
            replace(stations("0:60x18 14:60x18 14:24x2 160:24x2"), quantity=3),
            replace(box(60, 20, 50), quantity=3),
            box(),
        ):
            with self.assertRaises(UnusableInput):
                stacked(item)

    def test_a_rule_stands_upright_in_a_slit_as_wide_as_it_is_thick(self) -> None:
        rule = box(200, 30, 2, name="rule")
        upright = on_edge(rule)
        plan = laid(project(upright, bay=drawer(), rules=Rules(allowance_mm=0.0, seat="half")), (150, 100))
        ground = ground_of(plan, plan.inserts[0])
        pocket = ground.pockets["item-1#1"]
        left, top, right, bottom = pocket.surface.bounds
        self.assertAlmostEqual(right - left, 200.0)
        self.assertAlmostEqual(bottom - top, 2.0)
        self.assertEqual(upright.thickness_mm, 30.0)
        self.assertEqual(pocket.depth_layers, 1 if pocket.seating.bottom_mm <= 10 else 2)

    def test_it_stands_along_the_middle_of_where_it_lay(self) -> None:
        slanted = Polygon([(40, 10), (140, 110), (130, 120), (30, 20)])
        flat = drawn_item("item-1", "rule", slanted, thickness_mm=1.0)
        stood = polygon_of(on_edge(flat).outline)
        self.assertAlmostEqual(stood.area, 100 * 2**0.5 * 1.0, delta=0.05)
        lay = polygon_of(flat.outline).centroid
        middle = LineString([(lay.x - 50, lay.y - 50), (lay.x + 50, lay.y + 50)])
        self.assertLess(stood.hausdorff_distance(middle), 0.51)
        self.assertAlmostEqual(on_edge(flat).thickness_mm, 10 * 2**0.5, delta=0.01)

    def test_a_disc_that_stands_too_high_may_lie_on_its_face(self) -> None:
        dial, near = rod(25, 58, "dial"), box(60, 20, 12, "near")
        plan = laid(project(dial, near, bay=drawer(height=60)), (100, 100, 90), (100, 145, 0))
        (found,) = (one for one in findings_of(plan) if one.code == "TOO_HIGH")
        self.assertIn("on_face", [mend.kind for mend in found.mends])
        after = mended(plan, "insert-1", Mend(kind="on_face", target=found.placements[0]))
        item = after.items[0]
        self.assertAlmostEqual(polygon_of(item.outline).area, math.pi * 29**2, delta=5.0)
        self.assertEqual((item.thickness_mm, item.zones[0].section), (25.0, "flat"))
        self.assertEqual([one.code for one in findings_of(after) if one.severity == "stop"], [])
        long = laid(project(rod(70, 58, "tin"), bay=drawer(height=60)), (100, 100))
        (high,) = (one for one in findings_of(long) if one.code == "TOO_HIGH")
        self.assertNotIn("on_face", [mend.kind for mend in high.mends])
        for other in (box(), rod(58, 25), stations(DRIVER)):
            with self.assertRaises(UnusableInput):
                on_face(other)

    def test_a_disc_that_finds_no_room_on_its_face_says_so(self) -> None:
        plan = laid(project(rod(25, 58, "dial"), bay=drawer(width=80, depth=120, height=60)), (40, 60, 90))
        (found,) = (one for one in findings_of(plan) if one.code == "TOO_HIGH")
        with self.assertRaisesRegex(UnusableInput, "no room on its face"):
            mended(plan, "insert-1", Mend(kind="on_face", target=found.placements[0]))

    def test_a_thin_flat_thing_that_no_hand_gets_hold_of_may_stand_on_edge(self) -> None:
        rule = box(200, 30, 1, name="rule")
        beside = (box(200, 20, 24), box(200, 20, 24))
        plan = laid(project(rule, *beside, bay=drawer(), rules=Rules()), (150, 100), (150, 60), (150, 140))
        key = plan.inserts[0].placements[0].id
        (found,) = (one for one in findings_of(plan) if one.code == "NO_GRIP" and one.placements == (key,))
        self.assertEqual([one.kind for one in found.mends], ["add_pull", "on_edge"])
        stood = mended(plan, "insert-1", found.mends[1])
        ground = ground_of(stood, stood.inserts[0])
        left, back, right, front = ground.pockets[key].surface.bounds
        self.assertAlmostEqual((left + right) / 2, 150.0, delta=0.01)
        self.assertAlmostEqual((back + front) / 2, 100.0, delta=0.01)
        self.assertAlmostEqual(front - back, 1.0, delta=0.01)
        self.assertGreaterEqual(ground.pockets[key].seating.bottom_mm, 14.7)  # half of 30 mm, less what foam gives
        self.assertFalse([one for one in findings_of(stood) if key in one.placements and one.severity != "note"])
        shallow = laid(
            project(rule, bay=drawer(sheets=(Sheet(thickness_mm=10.0, pitch_mm=5.0),)), rules=Rules()), (150, 100)
        )
        for one in findings_of(shallow):
            self.assertNotIn("on_edge", [mend.kind for mend in one.mends])
            with self.assertRaises(UnusableInput):
                mended(shallow, "insert-1", Mend(kind="on_edge", target=shallow.inserts[0].placements[0].id))

    def test_thick_things_lie(self) -> None:
        for item in (box(60, 20, 12), rod(), box(60, 10, 8)):
            with self.assertRaises(UnusableInput):
                on_edge(item)


class Cables(unittest.TestCase):
    def test_a_nest_holds_the_coil_and_a_channel_leads_there(self) -> None:
        lamp = box(80, 40, 30, name="lamp")
        wired = with_cable(lamp, length_mm=1500, diameter_mm=5)
        nest = polygon_of(wired.zones[-1].region)
        self.assertGreaterEqual(nest.area * 30, 1.9 * 1500 * 25)  # twice the cable's own room
        self.assertTrue(nest.touches(polygon_of(lamp.outline)) or nest.distance(polygon_of(lamp.outline)) < 0.1)
        self.assertTrue(covers_outline(wired))
        pocket = local_pocket(wired, None, drawer(), Rules(allowance_mm=0.0, seat="half"))
        self.assertTrue(pocket.surface.buffer(0.1).covers(nest))

    def test_what_is_no_cable_is_refused(self) -> None:
        for length, thick in ((0.0, 5.0), (1500.0, 0.0), (3.0, 5.0), (1e6, 5.0)):
            with self.assertRaises(UnusableInput):
                with_cable(box(), length_mm=length, diameter_mm=thick)


class TwoInOne(unittest.TestCase):
    def test_two_things_side_by_side_share_a_pocket_on_one_floor(self) -> None:
        at = Placement(id="", item_id="", copy=1, x_mm=0.0, y_mm=22.0, angle_deg=0.0)
        both = as_one(box(60, 20, 12, name="cap"), rod(60, 20, name="pen"), at)
        self.assertEqual(both.name, "cap with pen")
        self.assertEqual({zone.lowest_mm for zone in both.zones}, {0.0})
        pocket = local_pocket(both, None, drawer(), Rules(allowance_mm=0.0, seat="half"))
        self.assertEqual(len(pocket.surface.geoms), 1)
        sits = sitting_of(pocket, layers_of(drawer().sheets), snug_mm=0.0)
        self.assertTrue(sits.level)

    def test_apart_they_keep_their_own_pockets(self) -> None:
        at = Placement(id="", item_id="", copy=1, x_mm=0.0, y_mm=60.0, angle_deg=0.0)
        with self.assertRaises(UnusableInput):
            as_one(box(60, 20, 12), box(60, 20, 12), at)


class ByHandSeats(unittest.TestCase):
    def test_risers_by_hand_raise_the_thing(self) -> None:
        plan = laid(project(box(60, 20, 12), rules=Rules(allowance_mm=0.0)), (150, 100))
        lies = replace(plan.inserts[0].placements[0], zone_layers=(2,), risers_mm=(4.0,))
        raised = replace(plan, inserts=(replace(plan.inserts[0], placements=(lies,)),))
        ground = ground_of(raised, raised.inserts[0])
        self.assertAlmostEqual(ground.pockets["item-1#1"].seating.bottom_mm, 16.0)
        self.assertAlmostEqual(sitting_in(ground, "item-1#1").bottom_mm, 16.0)
        self.assertEqual(Placement(id="a", item_id="b", copy=1, x_mm=0, y_mm=0).risers_mm, None)


if __name__ == "__main__":
    unittest.main()
