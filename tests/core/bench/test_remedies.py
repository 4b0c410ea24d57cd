"""After a fit was tried: the plan has the pockets that the insert has, and what is found follows."""

from __future__ import annotations

import unittest

from cozy_burrow.core.bench.cuts import cutting_plan
from cozy_burrow.core.bench.remedies import SLICE_MM, STRIP_MM, lies_on_riser, mended_fit, usual_mm
from cozy_burrow.core.depth.pocket import allowance_in
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.ground.sits import sitting_in
from cozy_burrow.core.model.records import Project, Rules, Sheet
from cozy_burrow.storage.project_file import from_bytes, to_bytes
from tests.core.depth.floors import thing
from tests.makers import box, drawer, laid, project

KEY = "item-1#1"
BOX = laid(project(box(80, 30, 22), rules=Rules(seat="flush", allowance_mm=0.0)), (150, 100))
STEPS = laid(
    project(thing(((-60, -15, 0, 15), 0, 30), ((0, -5, 60, 5), 10, 20)), rules=Rules(seat="half", allowance_mm=0.0)),
    (150, 100),
)


def size(plan: Project) -> tuple[float, float]:
    left, top, right, bottom = ground_of(plan, plan.inserts[0]).pockets[KEY].surface.bounds
    return round(right - left, 2), round(bottom - top, 2)


class Remedies(unittest.TestCase):
    def test_shaved_and_narrowed_pockets_are_wider_and_narrower_all_round(self) -> None:
        self.assertEqual(size(BOX), (80.0, 30.0))
        shaved = mended_fit(BOX, "insert-1", KEY, "tight")
        self.assertEqual(size(shaved), (81.0, 31.0))
        self.assertEqual(size(mended_fit(shaved, "insert-1", KEY, "tight", by_mm=1.0)), (83.0, 33.0))
        self.assertEqual(size(mended_fit(shaved, "insert-1", KEY, "loose", by_mm=0.5)), (80.0, 30.0))
        line = cutting_plan(ground_of(shaved, shaved.inserts[0]))[0].cuts[0].line
        self.assertAlmostEqual(max(x for x, _ in line) - min(x for x, _ in line), 81.0, places=2)  # templates too

    def test_one_side_is_shaved_or_has_a_strip_and_turns_with_the_item(self) -> None:
        for angle, width, depth in ((0.0, 80.0, 30.0), (90.0, 30.0, 80.0)):
            plan = laid(project(box(80, 30, 22), rules=Rules(seat="flush", allowance_mm=0.0)), (150, 100, angle))
            strip = mended_fit(plan, "insert-1", KEY, "loose", side="right")
            left, top, right, bottom = ground_of(strip, strip.inserts[0]).pockets[KEY].surface.bounds
            self.assertAlmostEqual(right, 150 + width / 2 - STRIP_MM, places=2)
            self.assertAlmostEqual(left, 150 - width / 2, places=2)
            self.assertAlmostEqual(bottom - top, depth, places=2)
            line = cutting_plan(ground_of(strip, strip.inserts[0]))[0].cuts[0].line
            self.assertAlmostEqual(max(x for x, _ in line), right, places=2)
            both = mended_fit(strip, "insert-1", KEY, "tight", side="front", by_mm=0.5)
            self.assertEqual(size(both), (width - STRIP_MM, depth + 0.5))
            self.assertEqual(from_bytes(to_bytes(both), where="b"), both)
            # Shaved off again, it is as it was.
            again = mended_fit(strip, "insert-1", KEY, "tight", side="right", by_mm=STRIP_MM)
            self.assertEqual(again, plan)
        wide = mended_fit(BOX, "insert-1", KEY, "tight", side="left", by_mm=9.0)
        with self.assertRaisesRegex(UnusableInput, "out of range"):
            mended_fit(wide, "insert-1", KEY, "tight", side="left", by_mm=2.0)

    def test_a_strip_holds_tighter_and_a_shave_looser(self) -> None:
        strip, shaved = (mended_fit(BOX, "insert-1", KEY, fault, side="front") for fault in ("loose", "tight"))
        allowed = [
            allowance_in(ground_of(plan, plan.inserts[0]).pockets[KEY], plan.rules) for plan in (strip, BOX, shaved)
        ]
        self.assertEqual(allowed, sorted(allowed))
        self.assertLess(allowed[0], allowed[2])

    def test_a_riser_lifts_it_and_a_layer_more_sinks_it(self) -> None:
        for plan in (BOX, STEPS):
            key = plan.inserts[0].placements[0].id
            before = ground_of(plan, plan.inserts[0]).pockets[key].seating
            raised = mended_fit(plan, "insert-1", key, "deep", by_mm=4.0)
            ground = ground_of(raised, raised.inserts[0])
            self.assertAlmostEqual(ground.pockets[key].seating.proud_mm, before.proud_mm + 4.0)
            self.assertAlmostEqual(sitting_in(ground, key).proud_mm, before.proud_mm + 4.0, delta=0.2)
            self.assertEqual(ground.pockets[key].depth_layers, max(before.zone_layers))  # cut as it was
            deeper = mended_fit(plan, "insert-1", key, "shallow")
            after = ground_of(deeper, deeper.inserts[0]).pockets[key]
            self.assertAlmostEqual(after.seating.proud_mm, before.proud_mm - 10.0)
            self.assertEqual(after.depth_layers, max(before.zone_layers) + 1)
            # A riser that was put in goes first.
            self.assertTrue(lies_on_riser(raised, "insert-1", key))
            again = mended_fit(raised, "insert-1", key, "shallow", by_mm=4.0)
            self.assertAlmostEqual(ground_of(again, again.inserts[0]).pockets[key].seating.proud_mm, before.proud_mm)

    def test_plain_foam_is_sliced_and_not_taken_out_by_the_sheet(self) -> None:
        sheets = tuple(Sheet(thickness_mm=30.0, pitch_mm=30.0, material="plain") for _ in range(2))
        plan = laid(project(box(80, 30, 22), bay=drawer(sheets=sheets), rules=Rules(seat="flush")), (150, 100))
        before = ground_of(plan, plan.inserts[0]).pockets[KEY].seating
        self.assertTrue(any(before.risers_mm))
        self.assertEqual(usual_mm(plan, "insert-1", KEY, "deep"), SLICE_MM)
        for fault, by in (("deep", SLICE_MM), ("shallow", -SLICE_MM)):
            after = mended_fit(plan, "insert-1", KEY, fault)  # type: ignore[arg-type]
            self.assertAlmostEqual(
                ground_of(after, after.inserts[0]).pockets[KEY].seating.proud_mm, before.proud_mm + by
            )
        # With no riser left, the sheet below is cut, and what it is not to sink by is put back.
        bare = mended_fit(plan, "insert-1", KEY, "shallow", by_mm=before.risers_mm[0])
        deeper = mended_fit(bare, "insert-1", KEY, "shallow")
        seats = [ground_of(one, one.inserts[0]).pockets[KEY].seating for one in (bare, deeper)]
        self.assertAlmostEqual(seats[1].proud_mm, seats[0].proud_mm - SLICE_MM)
        self.assertEqual(seats[1].risers_mm, (30.0 - SLICE_MM,))

    def test_in_a_stack_of_two_pitches_a_layer_is_one_of_where_it_lies(self) -> None:
        sheets = (Sheet(thickness_mm=20.0, pitch_mm=10.0), Sheet(thickness_mm=30.0, pitch_mm=5.0))
        plan = laid(project(box(80, 30, 20), bay=drawer(sheets=sheets), rules=Rules(seat="flush")), (150, 100))
        before = ground_of(plan, plan.inserts[0]).pockets[KEY].seating.proud_mm
        for fault, by in (("deep", 10.0), ("shallow", -5.0)):
            after = mended_fit(plan, "insert-1", KEY, fault)  # type: ignore[arg-type]
            self.assertAlmostEqual(ground_of(after, after.inserts[0]).pockets[KEY].seating.proud_mm, before + by)

    def test_a_wrong_place_is_another_place(self) -> None:
        moved = mended_fit(BOX, "insert-1", KEY, "place", by_mm=-3.0, dy_mm=2.5)
        place = moved.inserts[0].placements[0]
        self.assertEqual((place.x_mm, place.y_mm), (147.0, 102.5))

    def test_what_was_done_is_kept_in_the_file(self) -> None:
        shaved = mended_fit(BOX, "insert-1", KEY, "tight", by_mm=0.7)
        self.assertEqual(from_bytes(to_bytes(shaved), where="x"), shaved)

    def test_what_cannot_be_is_said(self) -> None:
        deep = BOX
        for _ in range(20):
            try:
                deep = mended_fit(deep, "insert-1", KEY, "shallow")
            except UnusableInput as refused:
                self.assertIn("no layer left", str(refused))
                break
        else:
            self.fail("a pocket deeper than the stack")
        for fault, by in (("tight", 99.0), ("loose", -1.0), ("deep", 0.0), ("deep", 500.0), ("tight", float("nan"))):
            with self.assertRaises(UnusableInput):
                mended_fit(BOX, "insert-1", KEY, fault, by_mm=by)  # type: ignore[arg-type]
        narrow = BOX
        with self.assertRaises(UnusableInput):
            for _ in range(9):
                narrow = mended_fit(narrow, "insert-1", KEY, "loose", by_mm=5.0)
        with self.assertRaises(UnusableInput):
            mended_fit(BOX, "insert-1", "item-9#1", "tight")
