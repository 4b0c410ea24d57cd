"""What is taken out, gaps, sections, findings and their mends, cuts: all from the one ground."""

from __future__ import annotations

import math
import unittest
from unittest.mock import patch

import shapely
from msgspec.structs import replace
from shapely.errors import GEOSException
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.by_hand import align, spread, swap_ends
from cozy_burrow.core.bench.cuts import blade_settings, cutting_plan
from cozy_burrow.core.container.bay import bay_of
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.mend_kinds import LOWER_SEAT
from cozy_burrow.core.findings.mends import mended
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.findings.stages import progress
from cozy_burrow.core.foam.layers import layers_of
from cozy_burrow.core.geometry.placing import to_plan
from cozy_burrow.core.ground.gaps import edge_gap_of, gaps_round, neighbours, widest_wanted_mm, worst_gap
from cozy_burrow.core.ground.ground import Ground, ground_of, ground_soon
from cozy_burrow.core.ground.hits import pull_at, thing_at, within
from cozy_burrow.core.ground.section import cut_along, section_line
from cozy_burrow.core.keep.log import noted
from cozy_burrow.core.kit.zones import centre_of_mass
from cozy_burrow.core.model.edits import (
    add_pulls,
    change_insert,
    change_item,
    lay_in,
    lock_placements,
    move_placements,
    remove_items,
    take_out,
    turn_placements,
    unplaced,
)
from cozy_burrow.core.model.memo import forget_all
from cozy_burrow.core.model.records import FingerPull, Project, Rules, Sheet
from cozy_burrow.core.model.stages import STAGES
from cozy_burrow.core.pulls.choose import pulls_to_try
from cozy_burrow.core.pulls.trench import trench_for
from cozy_burrow.demo.shipped import demo_project
from tests.makers import DRIVER, box, drawer, laid, project, rod, stations

LINE = Rules(allowance_mm=0.0)


def ground(plan: Project) -> Ground:
    return ground_of(plan, plan.inserts[0])


def codes(plan: Project) -> list[str]:
    return [one.code for one in findings_of(plan)]


def find(plan: Project, code: str) -> Finding:
    return next(one for one in findings_of(plan) if one.code == code)


def two_boxes(gap: float, *, rules: Rules = LINE, thickness: float = 30) -> Project:
    """Two boxes of 60 x 20 side by side with a gap between them."""
    return laid(project(box(thickness=thickness), box(thickness=thickness), rules=rules), (150, 80), (150, 100 + gap))


class Gaps(unittest.TestCase):
    def test_a_gap_is_what_a_thumb_would_measure(self) -> None:
        gap = gaps_round(ground(two_boxes(9.0)), "item-1#1")[0]
        self.assertAlmostEqual(gap.gap_mm, 9.0, places=6)
        self.assertAlmostEqual(gap.wanted_mm, 12.0)
        self.assertAlmostEqual(gap.from_mm[1], 90.0, places=6)
        self.assertAlmostEqual(gap.to_mm[1], 99.0, places=6)

    def test_the_wall_grows_with_the_depth_of_both(self) -> None:
        deep = replace(LINE, seat="deep")
        gap = gaps_round(ground(two_boxes(9.0, rules=deep)), "item-1#1")[0]
        self.assertAlmostEqual(gap.wanted_mm, 12.0 + 0.2 * (40 - 25))
        self.assertEqual(gap.layer, 4)

    def test_only_the_depth_that_both_share_counts(self) -> None:
        plan = laid(project(box(thickness=70), box(thickness=8), rules=LINE), (150, 80), (150, 109))
        self.assertEqual(gaps_round(ground(plan), "item-1#1")[0].wanted_mm, 12.0)

    def test_walls_of_round_things_are_measured_where_they_are_thinnest(self) -> None:
        plan = laid(project(rod(100, 30), rod(100, 30), rules=replace(LINE, seat="flush")), (150, 80), (150, 120))
        self.assertAlmostEqual(gaps_round(ground(plan), "item-1#1")[0].gap_mm, 10.0, delta=0.01)

    def test_the_fitters_own_figure_holds_at_every_depth(self) -> None:
        own = replace(LINE, wall_mm=8.0, seat="deep")
        plan = two_boxes(9.0, rules=own)
        self.assertNotIn("THIN_WALL", codes(plan))
        self.assertIn("WALL_THIN_FOR_DEPTH", codes(plan))

    def test_the_edge_is_measured_inside_and_outside(self) -> None:
        plan = laid(project(box(thickness=8), rules=LINE), (150, 18))
        self.assertAlmostEqual(find(plan, "THIN_EDGE").value, 8.0, places=6)
        self.assertAlmostEqual(find(laid(plan, (150, 5)), "OUTSIDE_BLANK").value, -5.0, places=6)

    def test_the_tightest_are_those_of_all(self) -> None:
        plan = demo_project()
        for insert in plan.inserts:
            here = ground_of(plan, insert)
            for key in here.pockets:
                every = [edge_gap_of(here, one) for one in here.cutouts if key in one.owners]
                every += [
                    worst_gap(first, second, here.layers, here.rules, False)
                    for first, second in neighbours(here, within_mm=widest_wanted_mm(here) + 40.0)
                    if key in first.owners or key in second.owners
                ]
                wanted = sorted(round(-one.short_mm, 6) for one in every)[:4]
                self.assertEqual([round(-one.short_mm, 6) for one in gaps_round(here, key)], wanted, key)


class Soon(unittest.TestCase):
    def test_what_was_guessed_says_so_and_the_rest_is_the_truth(self) -> None:
        rules = replace(LINE, seat=None)
        plan = laid(
            project(box(), stations(DRIVER), replace(box(), seat="flush"), rules=rules),
            *[(150, y) for y in (60, 100, 140)],
        )
        forget_all()
        late = ground_soon(plan, plan.inserts[0], in_time=lambda: False)
        self.assertEqual(late.guessed, {"item-1#1", "item-2#1", "item-3#1"})
        true = ground(plan)
        self.assertEqual(late.pockets["item-3#1"].seating, true.pockets["item-3#1"].seating)  # it names its seat
        for key, pocket in late.pockets.items():
            self.assertEqual(len(pocket.layers), max(pocket.seating.zone_layers))
            apart = pocket.surface.symmetric_difference(true.pockets[key].surface)
            self.assertLess(apart.buffer(-1.1).area, 1e-6, key)  # a fit's breadth
        self.assertIs(ground_soon(plan, plan.inserts[0], in_time=lambda: False), true)  # known by now: nothing to guess

    def test_after_another_rule_what_lies_as_it_did_is_guessed_as_it_was_cut_till_now(self) -> None:
        plan = laid(project(box(), replace(box(), seat="flush"), rules=LINE), (150, 60), (150, 100))
        before = ground(plan)
        other = replace(plan, rules=replace(plan.rules, allowance_mm=0.4))
        moved = replace(other.inserts[0].placements[1], y_mm=120.0)
        other = replace(other, inserts=(replace(other.inserts[0], placements=(other.inserts[0].placements[0], moved)),))
        late = ground_soon(other, other.inserts[0], in_time=lambda: False, before=before)
        self.assertEqual(late.guessed, {"item-1#1", "item-2#1"})
        self.assertIs(late.pockets["item-1#1"], before.pockets["item-1#1"])
        self.assertAlmostEqual(late.pockets["item-2#1"].surface.centroid.y, 120.0, delta=0.1)  # it was moved
        true = ground(other)
        self.assertFalse(true.pockets["item-1#1"].layers[0].equals(before.pockets["item-1#1"].layers[0]))
        self.assertIs(ground_soon(other, other.inserts[0], in_time=lambda: False, before=late), true)

    def test_with_time_it_is_the_very_ground(self) -> None:
        plan = laid(project(box(), stations(DRIVER), rules=replace(LINE, seat=None)), (150, 60), (150, 100))
        forget_all()
        self.assertIs(ground_soon(plan, plan.inserts[0], in_time=lambda: True), ground(plan))


class Findings(unittest.TestCase):
    def test_every_finding_points_at_what_it_speaks_of(self) -> None:
        """Beside its items at most as far as a hand or a wall reaches."""
        demo = demo_project()
        bare = replace(demo, inserts=tuple(replace(one, pulls=()) for one in demo.inserts))
        grounds = [ground_of(bare, one) for one in bare.inserts]
        pockets = {(one.insert.id, key): pocket for one in grounds for key, pocket in one.pockets.items()}
        looked = 0
        for finding in findings_of(bare):
            for one in grounds:
                spoken = [pockets[one.insert.id, key] for key in finding.placements if key in one.pockets]
                if finding.where_mm is None or len(spoken) < len(finding.placements) or not spoken:
                    continue
                shape = shapely.union_all([pocket.surface for pocket in spoken]).envelope
                with self.subTest(finding=finding.code):
                    self.assertLess(shape.distance(shapely.Point(finding.where_mm)), 12.0)
                looked += 1
        self.assertGreater(looked, 20)

    def test_a_thin_wall_is_found_named_and_mended(self) -> None:
        plan = two_boxes(7.5)
        finding = find(plan, "THIN_WALL")
        self.assertEqual((finding.severity, finding.placements), ("stop", ("item-1#1", "item-2#1")))
        self.assertAlmostEqual(finding.value, 7.5, places=6)
        assert finding.where_mm is not None
        self.assertAlmostEqual(finding.where_mm[1], 93.75, places=3)
        better = mended(plan, "insert-1", finding.mends[0])
        self.assertNotIn("THIN_WALL", codes(better))
        moved, stayed = better.inserts[0].placements[0], better.inserts[0].placements[1]
        self.assertLess(math.dist((moved.x_mm, moved.y_mm), (150, 80)), 8.0)
        self.assertEqual(stayed, plan.inserts[0].placements[1])

    def test_pockets_that_meet_are_told_apart_from_thin_walls(self) -> None:
        self.assertIn("POCKETS_MEET", codes(two_boxes(-3.0)))

    def test_a_locked_thing_is_not_moved_by_a_mend(self) -> None:
        plan = lock_placements(two_boxes(5.0), "insert-1", ["item-1#1"], locked=True)
        with self.assertRaises(UnusableInput):
            mended(plan, "insert-1", find(plan, "THIN_WALL").mends[0])

    def test_a_floor_cut_by_hand_is_found_and_put_back(self) -> None:
        plan = laid(project(box(thickness=30), rules=LINE), (150, 100))
        plan = change_insert(
            plan,
            "insert-1",
            placements=tuple(replace(one, zone_layers=(5,)) for one in plan.inserts[0].placements),
        )
        finding = find(plan, "FLOOR_GONE")
        self.assertEqual((finding.value, finding.limit), (0.0, 10.0))
        self.assertNotIn("FLOOR_GONE", codes(mended(plan, "insert-1", finding.mends[0])))

    def test_what_stands_too_high_is_sunk(self) -> None:
        plan = laid(project(box(thickness=60), rules=replace(LINE, seat="half")), (150, 100))
        finding = find(plan, "TOO_HIGH")
        self.assertEqual((finding.value, finding.limit), (30.0, 25.0))
        self.assertNotIn("TOO_HIGH", codes(mended(plan, "insert-1", finding.mends[0])))
        tall = laid(project(box(thickness=90), rules=LINE), (150, 100))
        self.assertEqual(find(tall, "TOO_HIGH").mends, ())
        with self.assertRaises(UnusableInput):
            mended(tall, "insert-1", LOWER_SEAT.at("item-1#1"))

    def test_a_stack_higher_than_the_drawer_is_found(self) -> None:
        plan = project(bay=drawer(height=60, sheets=(Sheet(), Sheet(thickness_mm=20.0))))
        finding = find(plan, "STACK_TOO_HIGH")
        self.assertEqual((finding.value, finding.limit), (70.0, 60.0))
        self.assertEqual(codes(mended(plan, "insert-1", finding.mends[0])), [])

    def test_a_flat_thing_without_a_pull_cannot_be_gripped(self) -> None:
        plan = laid(project(box(thickness=8), rules=LINE), (150, 100))
        finding = find(plan, "NO_GRIP")
        self.assertEqual(finding.severity, "care")
        self.assertEqual(codes(mended(plan, "insert-1", finding.mends[0])), [])

    def test_few_things_in_the_tray_are_named_each_and_many_together(self) -> None:
        self.assertEqual(codes(project(box(), box())), ["UNPLACED", "UNPLACED"])
        many = findings_of(project(replace(box(), quantity=7)))
        self.assertEqual([(one.code, len(one.placements)) for one in many], [("UNPLACED", 7)])

    def test_the_tray_is_mended_by_laying_in(self) -> None:
        plan = project(box(thickness=8), rules=LINE)
        done = mended(plan, "insert-1", find(plan, "UNPLACED").mends[0])
        self.assertEqual(codes(done), [])

    def test_stages_are_worked_out(self) -> None:
        def states(plan: Project) -> list[str]:
            return [one.state for one in progress(plan, findings_of(plan))]

        self.assertEqual(states(Project()), ["untouched"] * len(STAGES))
        self.assertEqual(states(project(box()))[:3], ["fine", "fine", "untouched"])
        thin = progress(two_boxes(5.0), findings_of(two_boxes(5.0)))
        self.assertEqual([(one.stage, one.stops) for one in thin if one.stops], [("lay-out", 1), ("cut", 1)])

    def test_an_insert_in_use_is_fine_while_everything_is_home(self) -> None:
        plan = laid(project(box()), (60, 60))
        key = plan.inserts[0].placements[0].id
        found = []
        for state in (None, "empty", "filled", "unsure"):
            if state is not None:
                plan = noted(plan, "insert-1", {key: state}, at="2026-11-29T16:40")  # type: ignore[dict-item]
            found.append(next(one.state for one in progress(plan, ()) if one.stage == "keep"))
        self.assertEqual(found, ["untouched", "under way", "fine", "under way"])

    def test_a_scrap_of_foam_between_pull_and_pocket_is_found(self) -> None:
        plan = laid(project(box(100, 20, 8), rules=LINE), (150, 100))
        beside = FingerPull(id="", kind="circle", serves=("item-1#1",), points_mm=((0.0, 31.0),), width_mm=40.0)
        self.assertIn("SLIVER", codes(add_pulls(plan, "insert-1", [beside])))


class Pulls(unittest.TestCase):
    def test_a_pair_sits_at_the_balance_point_on_the_pockets_edge(self) -> None:
        plan = laid(project(stations(DRIVER), rules=LINE), (150, 100))
        pocket = ground(plan).pockets["item-1#1"]
        from cozy_burrow.core.depth.seated import local_pocket

        bay = bay_of(plan, plan.inserts[0])
        local = local_pocket(plan.items[0], None, bay, plan.rules)
        pair = pulls_to_try(local, layers_of(bay.sheets), 3, plan.rules)[0]
        self.assertAlmostEqual(pair.points_mm[0][0], pair.points_mm[1][0])
        self.assertAlmostEqual(abs(pair.points_mm[0][1]), 16.0, delta=0.05)
        self.assertTrue(pocket.seating.proud_mm > 8)

    def test_a_trench_crosses_every_thing_of_the_row_as_deep_as_the_deepest(self) -> None:
        plan = laid(
            project(box(80, 14, 8), box(80, 14, 8), box(80, 14, 28), rules=LINE),
            (60, 100, 90),
            (100, 100, 90),
            (140, 100, 90),
        )
        pockets = list(ground(plan).pockets.values())
        plan = add_pulls(
            plan, "insert-1", [trench_for(list(zip(pockets, plan.inserts[0].placements)), id_="", rules=plan.rules)]
        )
        trench = ground(plan).pulls[0]
        self.assertEqual(len(trench.reaches), 3)
        self.assertEqual(trench.layers, max(pocket.depth_layers for pocket in pockets))
        self.assertEqual([code for code in codes(plan) if code not in {"SLIVER"}], [])
        away = move_placements(plan, "insert-1", ["item-1#1"], dx_mm=0, dy_mm=60)
        self.assertIn("PULL_ASTRAY", codes(away))

    def test_a_trench_across_a_selection_runs_where_the_things_balance(self) -> None:
        """Drivers are heavy at their handles: the middle of their area lies elsewhere than their centre of mass."""
        driver = stations(DRIVER)
        plan = laid(project(driver, stations(DRIVER), rules=LINE), (80, 130, 90), (140, 130, 90))
        here = ground(plan)
        things = [(here.pockets[one.id], one) for one in plan.inserts[0].placements]
        trench = trench_for(things, id_="", rules=plan.rules)
        balance = [to_plan(placement, centre_of_mass(pocket.item)) for pocket, placement in things]
        line = shapely.LineString(trench.points_mm)
        for at in balance:
            self.assertLess(line.distance(shapely.Point(at)), 0.01)
        self.assertGreater(line.distance(things[0][0].surface.centroid), 8.0)

    def test_a_pull_moves_with_its_thing_and_goes_with_it(self) -> None:
        plan = laid(project(box(thickness=8), rules=LINE), (150, 100))
        plan = mended(plan, "insert-1", find(plan, "NO_GRIP").mends[0])
        before = ground(plan).pulls[0].area
        moved = move_placements(plan, "insert-1", ["item-1#1"], dx_mm=20, dy_mm=5)
        self.assertAlmostEqual(ground(moved).pulls[0].area.centroid.x, before.centroid.x + 20)
        self.assertEqual(take_out(plan, "insert-1", ["item-1#1"]).inserts[0].pulls, ())

    def test_a_pull_never_goes_into_the_floor(self) -> None:
        plan = laid(project(box(thickness=8), rules=LINE), (150, 100))
        pull = FingerPull(id="", kind="circle", serves=("item-1#1",), points_mm=((0.0, 10.0),), width_mm=40.0, layers=9)
        self.assertEqual(ground(add_pulls(plan, "insert-1", [pull])).pulls[0].layers, 4)

    def test_a_small_pull_is_found(self) -> None:
        plan = laid(project(box(thickness=8), rules=LINE), (150, 100))
        pull = FingerPull(id="", kind="circle", serves=("item-1#1",), points_mm=((0.0, 0.0),), width_mm=22.0)
        self.assertIn("PULL_SMALL", codes(add_pulls(plan, "insert-1", [pull])))


class Sections(unittest.TestCase):
    def test_a_section_shows_layers_bites_and_bodies_to_scale(self) -> None:
        plan = laid(project(stations(DRIVER), rules=LINE), (150, 100))
        cut = cut_along(ground(plan), (0.0, 100.0), (300.0, 100.0))
        self.assertEqual(cut.foam, ((0.0, 300.0),))
        spans = {bite.layer: bite.span for bite in cut.bites}
        self.assertAlmostEqual(spans[1][0], 45.0, places=3)
        self.assertAlmostEqual(spans[1][1], 255.0, places=3)
        self.assertAlmostEqual(spans[2][1], 140.0, delta=0.01)
        handle = next(body for body in cut.bodies if body.zone == 0)
        self.assertAlmostEqual(max(z for _, z in handle.ring), 20.0, places=2)
        self.assertAlmostEqual(min(z for _, z in handle.ring), -12.0, places=2)

    def test_a_section_across_a_rod_is_a_circle_standing_on_its_floor(self) -> None:
        plan = laid(project(rod(100, 40), rules=LINE), (150, 100))
        body = cut_along(ground(plan), (150.0, 20.0), (150.0, 180.0)).bodies[0]
        middle = 80.0
        for s, z in body.ring:
            self.assertAlmostEqual(math.hypot(s - middle, z), 20.0, delta=0.05)

    def test_a_turned_thing_is_cut_where_the_line_meets_it(self) -> None:
        plan = turn_placements(
            laid(project(box(60, 20, 20), rules=LINE), (150, 100)), "insert-1", ["item-1#1"], by_deg=90
        )
        body = cut_along(ground(plan), (0.0, 100.0), (300.0, 100.0)).bodies[0]
        self.assertAlmostEqual(body.span[0], 140.0, places=4)
        self.assertAlmostEqual(body.span[1], 160.0, places=4)

    def test_the_line_lies_across_the_middle_until_somebody_moves_it(self) -> None:
        plan = project()
        self.assertEqual(section_line(ground(plan))[0][1], 100.0)
        moved = change_insert(plan, "insert-1", section_line=((0.0, 5.0), (9.0, 5.0)))
        self.assertEqual(section_line(ground(moved))[0][1], 5.0)

    def test_where_exact_arithmetic_fails_a_line_is_met_all_the_same(self) -> None:
        plan = laid(project(box(100, 40, 20), rules=Rules(wall_mm=5)), (150.0, 100.0))
        there = ground(plan)
        exact = cut_along(there, (0.0, 100.0), (300.0, 117.0))
        failing = GEOSException("Edge direction cannot be determined because endpoints are equal")
        with patch.object(BaseGeometry, "intersection", side_effect=failing):
            met = cut_along(there, (0.0, 100.0), (300.0, 117.0))
        self.assertGreater(len(exact.bites), 0)
        self.assertEqual([one.layer for one in met.bites], [one.layer for one in exact.bites])
        for one, other in zip(
            (*met.foam, *(one.span for one in met.bites)), (*exact.foam, *(one.span for one in exact.bites))
        ):
            self.assertAlmostEqual(one[0], other[0], places=4)
            self.assertAlmostEqual(one[1], other[1], places=4)


class HandsAndHits(unittest.TestCase):
    def test_things_are_aligned_spread_and_turned_about(self) -> None:
        plan = laid(project(box(), box(40, 10), box(), rules=LINE), (60, 50), (130, 90), (240, 60))
        surfaces = {key: pocket.surface for key, pocket in ground(plan).pockets.items()}
        back = ground(align(plan, "insert-1", surfaces, side="back"))
        self.assertEqual(len({round(p.surface.bounds[1], 6) for p in back.pockets.values()}), 1)
        even = [pocket.surface.bounds for pocket in ground(spread(plan, "insert-1", surfaces)).pockets.values()]
        self.assertAlmostEqual(even[1][0] - even[0][2], even[2][0] - even[1][2], places=6)
        turned = swap_ends(plan, "insert-1", ["item-1#1", "item-2#1", "item-3#1"]).inserts[0].placements
        self.assertEqual([one.angle_deg for one in turned], [0.0, 180.0, 0.0])

    def test_four_quarter_turns_change_nothing(self) -> None:
        plan = laid(project(stations(DRIVER), rules=LINE), (150, 100, 30))
        turned = plan
        for _ in range(4):
            turned = turn_placements(turned, "insert-1", ["item-1#1"], by_deg=90)
        self.assertTrue(ground(plan).taken_out(1).equals_exact(ground(turned).taken_out(1), 1e-9))

    def test_the_smallest_thing_under_a_finger_is_meant(self) -> None:
        plan = laid(project(box(100, 60), box(20, 10), rules=LINE), (150, 100), (150, 100))
        self.assertEqual(thing_at(ground(plan), (150, 100)), "item-2#1")
        self.assertEqual(thing_at(ground(plan), (115, 100)), "item-1#1")
        self.assertIsNone(thing_at(ground(plan), (30, 30)))
        self.assertEqual(within(ground(plan), 135, 90, 165, 110), ("item-2#1",))

    def test_a_pull_is_taken_hold_of_by_its_nearest_point(self) -> None:
        plan = laid(project(box(thickness=8), rules=LINE), (150, 100))
        plan = mended(plan, "insert-1", find(plan, "NO_GRIP").mends[0])
        held = pull_at(ground(plan), (150, 118))
        self.assertEqual(held[0] if held else None, "pull-1")

    def test_copies_go_in_one_by_one_until_none_is_left(self) -> None:
        plan = project(replace(box(), quantity=2))
        for _ in range(2):
            plan = lay_in(plan, "insert-1", "item-1", x_mm=100, y_mm=100)
        self.assertEqual([one.id for one in plan.inserts[0].placements], ["item-1#1", "item-1#2"])
        self.assertEqual(unplaced(plan), ())
        with self.assertRaises(UnusableInput):
            lay_in(plan, "insert-1", "item-1", x_mm=10, y_mm=10)
        fewer = change_item(plan, replace(plan.items[0], quantity=1))
        self.assertEqual(len(fewer.inserts[0].placements), 1)
        self.assertEqual(remove_items(plan, ["item-1"]).inserts[0].placements, ())


class Cuts(unittest.TestCase):
    def test_a_driver_is_two_cuts_shallow_first(self) -> None:
        plan = laid(project(stations(DRIVER), rules=LINE), (150, 100))
        (sheet,) = cutting_plan(ground(plan))
        self.assertEqual(
            [(cut.from_layer, cut.to_layer, cut.blade_mm, cut.from_ledge_mm) for cut in sheet.cuts],
            [(1, 1, 10.0, 10.0), (2, 2, 20.0, 10.0)],
        )
        self.assertAlmostEqual(sheet.cuts[0].length_mm, 2 * 210 + 2 * 32, delta=2)
        self.assertEqual(blade_settings(sheet), ((10.0, 1), (20.0, 1)))
        self.assertFalse(sheet.cuts[1].through)

    def test_a_pocket_through_the_first_sheet_goes_on_in_the_second(self) -> None:
        sheets = (Sheet(thickness_mm=20.0, pitch_mm=10.0), Sheet(thickness_mm=30.0, pitch_mm=10.0))
        plan = laid(project(box(thickness=60), rules=replace(LINE, seat="half"), bay=drawer(sheets=sheets)), (150, 100))
        first, second = cutting_plan(ground(plan))
        self.assertEqual([(cut.to_layer, cut.blade_mm, cut.through) for cut in first.cuts], [(2, 20.0, True)])
        self.assertEqual([(cut.to_layer, cut.blade_mm, cut.through) for cut in second.cuts], [(1, 10.0, False)])

    def test_corners_come_before_the_middle_and_pulls_last(self) -> None:
        plan = laid(
            project(box(thickness=30), box(thickness=30), box(thickness=8), rules=LINE),
            (150, 100),
            (60, 40),
            (245, 165),
        )
        plan = mended(plan, "insert-1", find(plan, "NO_GRIP").mends[0])
        (sheet,) = cutting_plan(ground(plan))
        self.assertEqual([cut.name for cut in sheet.cuts][:3], ["item-3#1", "item-2#1", "item-1#1"])
        self.assertTrue(all(cut.kind == "pull" for cut in sheet.cuts[3:]))

    def test_a_pull_is_cut_only_where_the_pocket_is_not_open_yet(self) -> None:
        plan = laid(project(box(100, 30, 8), rules=LINE), (150, 100))
        plan = mended(plan, "insert-1", find(plan, "NO_GRIP").mends[0])
        (sheet,) = cutting_plan(ground(plan))
        pocket = ground(plan).pockets["item-1#1"].surface
        for cut in sheet.cuts[1:]:
            self.assertLess(shapely.Polygon(cut.line).intersection(pocket).area, 0.1)
