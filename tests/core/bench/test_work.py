"""What is done at a sheet: lines that open exactly what is exported, passes, ways to cut, what to look out for."""

from __future__ import annotations

import random
import unittest

import shapely
from msgspec.structs import replace
from shapely.geometry import Point as Dot
from shapely.geometry import Polygon, box

from cozy_burrow.core.bench.cuts import cutting_plan
from cozy_burrow.core.bench.methods import METHODS, Method, Tools, has_tight_bend, method, passes_mm
from cozy_burrow.core.bench.work import bench_work
from cozy_burrow.core.foam.layers import layers_of
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.kit.shapes import disc_outline, outline_item
from cozy_burrow.core.model.pull_kinds import PULL_KINDS
from cozy_burrow.core.model.records import FingerPull, Rules, Sheet
from cozy_burrow.demo.shipped import demo_project
from tests.core.bench.test_route import line
from tests.makers import box as thing
from tests.makers import drawer, laid, project, rod, stations

PLAIN = Tools()


def grounds() -> list[Ground]:
    """Return the demo's inserts, and some plans of odd things at odd places."""
    demo = demo_project()
    found = [ground_of(demo, insert) for insert in demo.inserts]
    for seed in range(6):
        chance = random.Random(seed)
        things = [
            thing(chance.uniform(30, 90), chance.uniform(12, 30), chance.uniform(8, 30)),
            rod(chance.uniform(60, 120), chance.uniform(12, 34)),
            stations("0:30 80:30 80:8 150:8"),
        ]
        sheets = tuple(Sheet(thickness_mm=30.0, pitch_mm=pitch) for pitch in (chance.choice((3.2, 10.0)), 10.0))
        places = [(90.0, 50.0, chance.uniform(0, 20)), (90.0, 110.0, 90 * chance.random()), (215.0, 150.0, 5.0)]
        plan = project(*things, bay=drawer(sheets=sheets), rules=Rules(seat="flush"))
        laid_in = laid(plan, *places)
        found.append(ground_of(laid_in, laid_in.inserts[0]))
    return found


class Lines(unittest.TestCase):
    def test_cut_line_by_line_a_sheet_has_the_openings_of_its_plan_and_no_others(self) -> None:
        for ground in grounds():
            for plan in cutting_plan(ground):
                layers = [layer for layer in ground.layers if layer.sheet == plan.sheet]
                for layer in layers:
                    lines = [Polygon(c.line) for c in plan.cuts if c.from_layer <= layer.in_sheet <= c.to_layer]
                    opened = shapely.union_all([shapely.make_valid(one) for one in lines])
                    wanted = ground.taken_out(layer.number)
                    # What is less than a cut's least comes away with the pocket beside it.
                    off = opened.symmetric_difference(wanted).buffer(-0.06)
                    self.assertLess(off.area, 4.0, (ground.insert.name, plan.sheet, layer.in_sheet))

    def test_no_line_is_cut_twice(self) -> None:
        for ground in grounds():
            for plan in cutting_plan(ground):
                lines = [(shapely.normalize(Polygon(cut.line)).wkt, cut.to_layer) for cut in plan.cuts]
                self.assertEqual(len(lines), len(set(lines)))
                for cut in plan.cuts:
                    self.assertLessEqual(cut.straight_mm, cut.length_mm + 1e-6)


class Passes(unittest.TestCase):
    def test_they_go_by_whole_layers_and_end_at_the_line(self) -> None:
        for pitch, blade in ((10.0, 30.0), (3.2, 22.4), (3.2, 3.2), (3.2, 48.9), (5.0, 60.0), (25.0, 50.0)):
            sheet = Sheet(thickness_mm=120.0, pitch_mm=pitch)
            layer = layers_of((sheet,))[max(0, round(blade / pitch) - 1)]
            found = passes_mm(line("a", 0, 0, blade_mm=blade), METHODS["knife"], pitch, layer)
            self.assertEqual(found[-1], blade)
            for one in found[:-1]:
                self.assertAlmostEqual(one / pitch, round(one / pitch), places=6)
            steps = [b - a for a, b in zip((0.0, *found), found)]
            self.assertTrue(all(step > 0 for step in steps), found)
            self.assertLessEqual(max(steps), max(12.0, pitch) * 1.26, found)

    def test_plain_foam_is_cut_in_equal_steps_and_a_saw_at_once(self) -> None:
        layer = layers_of((Sheet(thickness_mm=30.0, pitch_mm=30.0, material="plain"),))[0]
        cut = line("a", 0, 0, blade_mm=30.0)
        self.assertEqual(passes_mm(cut, METHODS["through"], 30.0, layer), (10.0, 20.0, 30.0))
        self.assertEqual(passes_mm(cut, METHODS["saw"], 30.0, layer), (30.0,))


class Ways(unittest.TestCase):
    def test_bends_are_told_from_corners_and_wide_rounds(self) -> None:
        def of(area: Polygon) -> bool:
            return has_tight_bend(tuple(area.exterior.coords[:-1]))

        self.assertFalse(of(box(0, 0, 80, 40)))
        self.assertFalse(of(Dot(0, 0).buffer(30, quad_segs=64)))
        self.assertTrue(of(Dot(0, 0).buffer(7, quad_segs=64)))
        self.assertTrue(of(box(0, 0, 80, 10).buffer(5, quad_segs=32)))
        self.assertFalse(of(Polygon([(0, 0), (60, 0), (90, 40), (30, 60)])))
        for turn in (0, 17, 45, 80):
            self.assertFalse(of(shapely.affinity.rotate(box(0, 0, 80, 40), turn)), turn)

    def test_the_way_goes_by_the_line_and_by_what_is_owned(self) -> None:
        disc = outline_item("item-1", "disc", disc_outline(40.0), thickness_mm=20.0, way="drawn")
        plan = laid(project(disc, thing(90, 40, 20)), (60, 60), (180, 100))
        ground = ground_of(plan, plan.inserts[0])
        by_name = {one.cut.name: one.method for one in bench_work(ground, PLAIN)[0].cuts}
        self.assertEqual(by_name[plan.inserts[0].placements[0].id], "knife")
        self.assertIn("rule", by_name.values())
        saws = {one.cut.name: one for one in bench_work(ground, Tools(saws_mm=(40.0,)))[0].cuts}
        round_one = saws[plan.inserts[0].placements[0].id]
        self.assertEqual(round_one.method, "saw")
        self.assertEqual(round_one.work.metres, 0.0)
        self.assertIn("TURNS", round_one.care)
        warm = bench_work(ground, Tools(saws_mm=(40.0,), warms_saws=True))[0].cuts
        self.assertIn("HOT", next(one for one in warm if one.method == "warm-saw").care)
        self.assertNotIn("saw", {one.method for one in bench_work(ground, Tools(saws_mm=(64.0,)))[0].cuts})
        with self.assertRaises(ValueError):
            method(Method("saw", "again", lambda *_: True))

    def test_a_hot_pin_makes_what_is_melted_and_nothing_else(self) -> None:
        plan = laid(project(thing(90, 40, 20)), (150, 100))
        for kind in ("notch", "circle"):
            pull = FingerPull(
                id="p", kind=kind, serves=("item-1#1",), points_mm=((0.0, 20.0),), width_mm=24.0, layers=1
            )
            cut = replace(plan.inserts[0], pulls=(pull,))
            ground = ground_of(replace(plan, inserts=(cut,)), cut)
            ways = {one.method for one in bench_work(ground, Tools(hot_pin=True))[0].cuts if one.cut.kind == "pull"}
            self.assertEqual(ways == {"hot-pin"}, PULL_KINDS[kind].melted)
            self.assertNotIn("hot-pin", {one.method for one in bench_work(ground, PLAIN)[0].cuts})

    def test_care_is_told_where_it_counts(self) -> None:
        sheets = (Sheet(thickness_mm=30.0, pitch_mm=10.0, contrast_layers=1),)
        plan = project(thing(60, 20, 20), thing(60, 20, 20), bay=drawer(sheets=sheets), rules=Rules(seat="flush"))
        near = laid(plan, (60, 60), (60, 85))
        cares = bench_work(ground_of(near, near.inserts[0]), PLAIN)[0].cuts
        self.assertTrue(all("BASE_STOPS" in one.care for one in cares))
        for one in cares:
            assert one.wall_mm is not None
            self.assertAlmostEqual(one.wall_mm, 5.0, delta=0.1)
        far = laid(plan, (60, 60), (200, 140))
        walls = [one.wall_mm for one in bench_work(ground_of(far, far.inserts[0]), PLAIN)[0].cuts]
        self.assertEqual(walls, [None, None])

    def test_figures_of_a_sheet_are_those_of_its_lines(self) -> None:
        plan = laid(project(thing(100, 50, 20), rules=Rules(seat="flush", allowance_mm=0.0)), (150, 100))
        work = bench_work(ground_of(plan, plan.inserts[0]), PLAIN)[0].work
        self.assertEqual((work.pockets, work.pulls, work.settings), (1.0, 0.0, 2.0))
        self.assertAlmostEqual(work.metres_straight, 2 * 0.3, delta=0.01)  # two passes of ten millimetres
        self.assertAlmostEqual(work.metres_curved, 0.0, delta=0.01)
        self.assertAlmostEqual(work.layers_cm2, 2 * 50.0, delta=0.5)
