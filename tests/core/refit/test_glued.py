"""Foam that was put back is remembered, counted as it is held, and warned of where hardly anything holds it."""

from __future__ import annotations

import unittest

import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace
from shapely.geometry import box as area

from cozy_burrow.core.findings.report import insert_findings
from cozy_burrow.core.geometry.rings import outline_of, polygon_of
from cozy_burrow.core.ground.gluing import glued_share, held_pieces
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.holding import holding_of
from cozy_burrow.core.kit.shapes import box_item
from cozy_burrow.core.model.edits import add_items, change_insert
from cozy_burrow.core.model.kept import GluedIn
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.refit.refit import gone_for_good, refits
from cozy_burrow.jobs.grip_words import hold_text
from tests.makers import box, laid, project

KEY = "item-1#1"


def one_box() -> Project:
    """A box of 60 x 20 x 12 in the middle of a drawer; a shorter one waits."""
    plan = laid(project(box(name="block")), (150, 100))
    return add_items(plan, [box_item("item-2", "shorter", length_mm=50, width_mm=20, thickness_mm=12)])


def glued(plan: Project, *pieces: tuple[int, shapely.Polygon]) -> Project:
    """Return a project with pieces glued into its insert."""
    told = tuple(GluedIn(layer=layer, outline=outline_of(shape)) for layer, shape in pieces)
    return change_insert(plan, "insert-1", glued=told)


def glued_in(ground: Ground, layer: int) -> shapely.Geometry:
    """Return all that was glued into one layer and is still there."""
    return shapely.union_all([one.area for one in held_pieces(ground) if one.layer == layer])


class Glued(unittest.TestCase):
    def test_a_place_that_is_filled_is_glued_in_whole(self) -> None:
        plan = one_box()
        before = ground_of(plan, plan.inserts[0])
        after, patch = gone_for_good(plan, "insert-1", KEY)
        ground = ground_of(after, after.inserts[0])
        for number in range(1, len(before.layers) + 1):
            self.assertLess(glued_in(ground, number).symmetric_difference(before.taken_out(number)).area, 0.05)
        self.assertAlmostEqual(patch.fill_mm3, sum(before.taken_out(n).area * 10 for n in range(1, 6)), delta=0.01)
        (piece, *_) = held_pieces(ground)
        outline = before.taken_out(1).geoms[0]
        self.assertAlmostEqual(piece.glued_mm2, outline.length * 10 + outline.area, delta=1.0)
        self.assertEqual(piece.bare_mm2, 0.0)

    def test_a_shorter_one_leaves_a_piece_and_cutting_there_again_takes_it_out(self) -> None:
        plan = one_box()
        way = refits(plan, "insert-1", KEY, plan.items[1])[0]
        self.assertGreater(way.patch.fill_mm3, 0.0)
        insert = way.project.inserts[0]
        kept = shapely.union_all([polygon_of(one.outline) for one in insert.glued if one.layer == 1])
        fill = next(one.fill for one in way.patch.layers if one.layer == 1)
        self.assertLess(kept.symmetric_difference(fill).area, 0.05)
        back = add_items(way.project, [box_item("item-3", "block", length_mm=60, width_mm=20, thickness_mm=12)])
        new = next(one for one in insert.placements)
        again = refits(back, "insert-1", new.id, back.items[-1])[0]
        left = [polygon_of(one.outline) for one in again.project.inserts[0].glued]
        self.assertTrue(
            all(
                one.area < 1e-6
                or one.intersection(ground_of(again.project, again.project.inserts[0]).taken_out(1)).area < 0.1
                for one in left
            )
        )

    @settings(max_examples=30)
    @given(wide=st.floats(2.0, 15.0), long=st.floats(5.0, 19.0))
    def test_seam_and_bare_face_are_what_one_measures(self, wide: float, long: float) -> None:
        plan = one_box()
        ground = ground_of(plan, plan.inserts[0])
        _, top, right, _ = ground.taken_out(1).bounds
        # Beside the pocket's right end, its whole left side bare, the other three glued, foam below.
        plan = glued(plan, (1, area(right, top + 0.5, right + wide, top + 0.5 + long)))
        (piece,) = held_pieces(ground_of(plan, plan.inserts[0]))
        self.assertAlmostEqual(piece.bare_mm2, 10 * long, delta=2.5)
        self.assertAlmostEqual(piece.glued_mm2, 10 * (2 * wide + long) + wide * long, delta=2.5)
        self.assertEqual(piece.beside, {KEY})

    def test_into_other_foam_nothing_has_been_glued_yet(self) -> None:
        plan = glued(one_box(), (1, area(20, 20, 40, 40)))
        (sheet,) = plan.inserts[0].sheets
        dyed = change_insert(plan, "insert-1", sheets=(replace(sheet, colour="red"),))
        self.assertEqual(dyed.inserts[0].glued, plan.inserts[0].glued)
        for other in ((replace(sheet, pitch_mm=5.0),), (sheet, sheet)):
            self.assertEqual(change_insert(plan, "insert-1", sheets=other).inserts[0].glued, ())

    def test_what_lies_beside_glued_in_foam_is_held_less_and_less_surely(self) -> None:
        """A 60 x 20 block 12 mm thick, snug: glued-in foam along one long side, in each of its two layers."""
        plan = one_box()
        plan = replace(plan, rules=replace(plan.rules, allowance_mm=-1.0))
        ground = ground_of(plan, plan.inserts[0])
        left, _, right, low = ground.taken_out(1).bounds
        deep = range(1, ground.pockets[KEY].depth_layers + 1)
        plan = glued(plan, *((number, area(left, low, right, low + 9)) for number in deep))
        patched = ground_of(plan, plan.inserts[0])
        share = (right - left) / (2 * (right - left) + 2 * (low - ground.taken_out(1).bounds[1]))
        self.assertAlmostEqual(glued_share(patched, KEY), share, delta=0.005)
        before, after = holding_of(ground, KEY).hold, holding_of(patched, KEY).hold
        self.assertAlmostEqual(after.grip_n / before.grip_n, 1 - share / 2, delta=0.005)
        self.assertAlmostEqual(after.low_n / before.low_n, 1 - share, delta=0.005)
        self.assertEqual(after.high_n, before.high_n)
        self.assertIn("% of its sides is glued-in foam", hold_text(holding_of(patched, KEY)))
        self.assertNotIn("glued", hold_text(holding_of(ground, KEY)))

    def test_a_piece_that_is_bare_on_most_sides_is_warned_of(self) -> None:
        """A wall 50 mm long between two pockets, glued at its ends and underneath, bare on both long sides."""
        for between, is_told in ((10.0, True), (30.0, False)):
            with self.subTest(between):
                plan = laid(project(box(name="block"), box(name="other")), (100, 60), (100, 80 + between))
                first, second = (one.areas[0].bounds for one in ground_of(plan, plan.inserts[0]).cutouts)
                wall = glued(plan, (1, area(first[0] + 5, first[3], first[2] - 5, second[1])))
                codes = [one.code for one in insert_findings(ground_of(plan, plan.inserts[0]))]
                self.assertNotIn("GLUED_BARE", codes)
                found = insert_findings(ground_of(wall, wall.inserts[0]))
                told = [one for one in found if one.code == "GLUED_BARE"]
                self.assertEqual(len(told), is_told)
                if told:
                    self.assertAlmostEqual(told[0].value, (2 * between * 10 + 50 * between) / 100, delta=0.1)
                    self.assertAlmostEqual(told[0].limit, 2 * 50 * 10 / 100, delta=0.1)
                    self.assertEqual(told[0].placements, ("item-1#1", "item-2#1"))
