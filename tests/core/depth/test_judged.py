"""The seat that nobody named: what a good fitter would choose, by known answers and by trying every layer."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from cozy_burrow.core.container.bay import Above, Bay, headroom_mm, lid_touch_mm
from cozy_burrow.core.depth.pocket import allowance_for, cut_pocket
from cozy_burrow.core.depth.seat import seat_for, seated_by_rule
from cozy_burrow.core.depth.seated import seating_of
from cozy_burrow.core.depth.sitting import sitting_of
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.mends import mended
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.foam.layers import layers_of
from cozy_burrow.core.model.records import Container, ContainerKind, Item, Project, Rules, Seat, Sheet
from cozy_burrow.core.model.vessels import Lid
from tests.makers import DRIVER, box, laid, project, rod, stations

THICK, THIN = Sheet(thickness_mm=50.0, pitch_mm=10.0), Sheet(thickness_mm=48.0, pitch_mm=3.2)
ON_THE_LINE = Rules(allowance_mm=0.0)


def bay(
    kind: ContainerKind,
    *,
    room: float = 20.0,
    sheet: Sheet = THICK,
    lid: Lid | None = None,
    above: Above | None = None,
) -> Bay:
    """Return one sheet in a container with so much room above the foam."""
    container = Container(
        kind=kind, width_mm=400, depth_mm=300, height_mm=sheet.thickness_mm + room, lid=lid, name="inside"
    )
    return Bay(container=container, sheets=(sheet,), above=above or ("lid" if lid is not None else "rim"))


def depth(item: Item, where: Bay, rules: Rules = ON_THE_LINE) -> tuple[int, float]:
    """Return (layers under its thickest zone, how far it stands out)."""
    found = seating_of(item, None, where, rules)
    thickest = max(range(len(item.zones)), key=lambda n: item.zones[n].thickness_mm)
    return found.zone_layers[thickest], round(found.proud_mm, 2)


class WhatAFitterWouldDo(unittest.TestCase):
    def test_in_a_drawer_half_of_it_can_be_held(self) -> None:
        self.assertEqual(depth(box(thickness=40), bay("drawer")), (2, 20.0))
        self.assertEqual(depth(box(thickness=25), bay("drawer")), (2, 5.0))
        self.assertEqual(depth(box(thickness=14), bay("drawer", sheet=THIN)), (3, 4.4))

    def test_in_a_shallow_drawer_it_goes_as_deep_as_the_frame_asks(self) -> None:
        self.assertEqual(depth(box(thickness=40), bay("drawer", room=10)), (3, 10.0))
        self.assertEqual(depth(box(thickness=40), bay("drawer", room=0)), (4, 0.0))

    def test_tenths_cost_no_layer(self) -> None:
        self.assertEqual(depth(box(thickness=30.15), bay("drawer", room=10)), (2, 10.15))
        self.assertEqual(depth(box(thickness=20.3), bay("drawer")), (1, 10.3))

    def test_a_camera_lies_in_the_case_and_not_on_it(self) -> None:
        tall = Sheet(thickness_mm=80.0, pitch_mm=3.2)
        layers, proud = depth(box(140, 100, 75, "camera"), bay("case", room=30, sheet=tall))
        self.assertAlmostEqual(layers * 3.2, 75, delta=5.0)  # flush but for the floor
        self.assertLess(abs(proud), 8.0)

    def test_the_lid_touches_what_it_can_reach(self) -> None:
        lid = Lid(depth_mm=30, foam_mm=25, give_mm=5)  # met from 5 mm above the foam on, pressed in up to 10
        where = bay("case", room=0, lid=lid)
        self.assertEqual((lid_touch_mm(where), headroom_mm(where)), (5.0, 10.0))
        self.assertEqual(depth(box(thickness=28), where), (2, 8.0))
        self.assertEqual(depth(box(thickness=12), where), (1, 2.0))  # half of it would be too little: flush
        self.assertEqual(depth(box(thickness=32), where), (3, 2.0))  # 12 mm is more than there is room for

    def test_under_a_tier_nothing_stands_out(self) -> None:
        for thickness, wanted in ((12, (2, -8.0)), (20, (2, 0.0)), (20.2, (2, 0.2)), (21, (3, -9.0))):
            with self.subTest(thickness):
                self.assertEqual(depth(box(thickness=thickness), bay("case", above="tier")), wanted)

    def test_on_a_wall_fingers_can_follow(self) -> None:
        self.assertEqual(depth(rod(120, 12, "marker"), bay("wall")), (1, 2.0))
        self.assertEqual(depth(rod(120, 26, "torch"), bay("wall")), (3, -4.0))

    def test_too_thick_for_the_foam_is_as_deep_as_it_goes(self) -> None:
        self.assertEqual(depth(box(thickness=120), bay("drawer", room=90)), (4, 80.0))

    def test_a_seat_that_is_named_keeps_its_meaning(self) -> None:
        item = replace(box(thickness=75), seat="half")
        self.assertEqual(seat_for(item, None, Rules(seat="deep")), "half")
        self.assertEqual(depth(item, bay("case", room=0)), (4, 35.0))
        self.assertEqual(depth(box(thickness=75), bay("case", room=0), Rules(seat="half")), (4, 35.0))
        self.assertEqual(depth(box(thickness=12), bay("wall"), Rules(seat="deep")), (4, -28.0))

    def test_plain_foam_gives_the_very_depth(self) -> None:
        plain = Sheet(thickness_mm=40.0, pitch_mm=40.0, material="plain")
        half = seating_of(box(thickness=25), None, bay("drawer", sheet=plain), ON_THE_LINE)
        self.assertAlmostEqual(half.bottom_mm, 12.5)
        flush = seating_of(box(thickness=25), None, bay("case", sheet=plain), ON_THE_LINE)
        self.assertAlmostEqual(flush.bottom_mm, 25.0)
        self.assertAlmostEqual(flush.risers_mm[0], 15.0)

    def test_plain_foam_under_a_lid_lets_it_be_touched_but_never_less_than_half_sunk(self) -> None:
        plain = Sheet(thickness_mm=40.0, pitch_mm=40.0, material="plain")
        where = bay("case", room=0, sheet=plain, lid=Lid(depth_mm=30, foam_mm=25, give_mm=5))
        # Pressed in by half a millimetre more than where the lid's foam is, which begins 5 mm above: 28 - 6 deep.
        for thickness, deep in ((28.0, 22.0), (12.0, 6.0), (10.0, 10.0), (8.0, 8.0)):
            found = seating_of(box(thickness=thickness), None, where, ON_THE_LINE)
            self.assertAlmostEqual(found.bottom_mm, deep, msg=thickness)

    def test_what_one_layer_more_would_mend_is_mended(self) -> None:
        # Handle and head as thick as each other, the head's underside 7 mm higher: at one depth it hangs on its handle.
        item = stations("0:30x24 60:30x24 60:8x6 120:8x6 120:44x12@0 160:44x12@0", "beater")
        where = bay("drawer")
        by_rule, found = seated_by_rule(item, "half", where, ON_THE_LINE), seating_of(item, None, where, ON_THE_LINE)
        self.assertFalse(_firm(item, by_rule, where))
        self.assertTrue(_firm(item, found, where))
        self.assertFalse(found.by_hand)


def _firm(item: Item, seating: object, where: Bay) -> bool:
    pocket = cut_pocket(item, seating, where, ON_THE_LINE)  # type: ignore[arg-type]
    sitting = sitting_of(pocket, layers_of(where.sheets), snug_mm=-allowance_for(item, ON_THE_LINE))
    return sitting.level and not sitting.rocks


class NamedSeats(unittest.TestCase):
    def told(
        self, item: Item, seat: Seat, kind: ContainerKind, lid: Lid | None = None
    ) -> tuple[Project, list[Finding]]:
        case = Container(kind=kind, width_mm=400, depth_mm=300, height_mm=70, lid=lid)
        plan = laid(project(item, rules=replace(ON_THE_LINE, seat=seat)), (200, 150))
        plan = replace(plan, containers=(case,))
        return plan, [one for one in findings_of(plan) if one.code == "SEAT_COSTS"]

    def test_a_named_seat_says_what_it_costs_and_can_be_set_aside(self) -> None:
        lid = Lid(depth_mm=0.0, foam_mm=15.0, give_mm=8.0)  # met from 5 mm above the foam on
        for item, seat, kind, roof, cost, value, limit in (
            (box(thickness=12), "deep", "wall", None, "buried", 28.0, 8.0),
            (box(thickness=38), "flush", "case", lid, "untouched", -2.0, 5.0),
            (box(thickness=24), "lid", "case", None, "shallow", 10.0, 12.0),
        ):
            with self.subTest(seat):
                plan, (finding,) = self.told(item, seat, kind, roof)
                self.assertEqual((finding.severity, finding.extra), ("note", cost))
                self.assertAlmostEqual(finding.value, value)
                self.assertAlmostEqual(finding.limit, limit)
                self.assertIn("At its seat", finding_text(plan, finding))
                self.assertNotIn("−", finding_text(plan, finding))
                mended_plan = mended(plan, "insert-1", finding.mends[0])
                self.assertEqual(mended_plan.inserts[0].placements[0].seat, "judged")
                self.assertEqual([one for one in findings_of(mended_plan) if one.code == "SEAT_COSTS"], [])

    def test_nothing_is_said_where_the_named_seat_is_what_judgement_would_take(self) -> None:
        self.assertEqual(self.told(box(thickness=20), "flush", "case")[1], [])
        self.assertEqual(self.told(box(thickness=20), "half", "drawer")[1], [])


class EveryLayerTried(unittest.TestCase):
    @settings(derandomize=True, deadline=None, max_examples=200)
    @given(
        st.floats(1.0, 90.0),
        st.sampled_from(("drawer", "case", "wall")),
        st.sampled_from((THICK, THIN)),
        st.floats(0.0, 40.0),
        st.one_of(st.none(), st.tuples(st.floats(0.0, 20.0), st.floats(0.5, 15.0))),
        st.booleans(),
    )
    def test_no_layer_would_do_better(
        self,
        thickness: float,
        kind: ContainerKind,
        sheet: Sheet,
        room: float,
        foam: tuple[float, float] | None,
        tier: bool,
    ) -> None:
        lid = None if foam is None else Lid(depth_mm=foam[0] + 20, foam_mm=20, give_mm=foam[1])
        where = bay(kind, room=room, sheet=sheet, lid=lid, above="tier" if tier else None)
        count, _ = depth(box(thickness=thickness), where)
        layers = layers_of(where.sheets)
        usable = [one.bottom_mm for one in layers if where.sheets[0].thickness_mm - one.bottom_mm >= 8.0 - 1e-6]
        above, touch = headroom_mm(where), lid_touch_mm(where)

        def may(deep: float) -> bool:
            return deep > thickness / 2 - 0.301 and thickness - deep < above + 0.301

        def touched(deep: float) -> bool:
            return touch is not None and touch + 0.5 < thickness - deep

        chosen = layers[count - 1].bottom_mm
        better = [deep for deep in usable if may(deep)]
        if not better:
            self.assertEqual(chosen, usable[-1])
            return
        self.assertTrue(may(chosen))
        if any(map(touched, better)):
            self.assertEqual(chosen, max(filter(touched, better)))
        elif tier or kind == "drawer":
            self.assertEqual(chosen, min(better))
        else:
            nearest = min(abs(deep - thickness) for deep in better)
            self.assertAlmostEqual(abs(chosen - thickness), nearest, places=5)

    def test_everyday_tools_lie_firm_wherever_whole_layers_let_them(self) -> None:
        for text in (
            DRIVER,
            "0:60x18 14:60x18 14:24x2 160:24x2",
            "0:24 90:30 90:12 200:10",
            "0:40x30 50:40x12 150:40x12",
        ):
            item = stations(text)
            for kind in ("drawer", "case", "wall"):
                where = bay(kind, sheet=THIN)  # type: ignore[arg-type]
                with self.subTest(text, kind=kind):
                    self.assertTrue(_firm(item, seating_of(item, None, where, ON_THE_LINE), where))


if __name__ == "__main__":
    unittest.main()
