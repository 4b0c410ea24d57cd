"""Pulls for whole inserts, judged by geometry alone: walls, edges, reach, balance, straight trenches."""

from __future__ import annotations

import json
import math
import unittest

import numpy as np
import shapely
from msgspec.structs import replace
from shapely.geometry import LineString, Point
from shapely.geometry import box as rectangle

from cozy_burrow.core.arrange.facts import facts_of
from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.findings.grips import grip_findings
from cozy_burrow.core.geometry.placing import to_plan
from cozy_burrow.core.geometry.rings import outline_of, polygon_of
from cozy_burrow.core.ground.carry_along import body_of
from cozy_burrow.core.ground.gripping import gripped
from cozy_burrow.core.ground.grips import grip_of
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.hits import pull_points
from cozy_burrow.core.kit.shapes import box_item, round_item
from cozy_burrow.core.kit.stations import parse_stations, station_item
from cozy_burrow.core.kit.zones import GRAVITY_N_G, centre_of_mass
from cozy_burrow.core.model.edits import add_pulls
from cozy_burrow.core.model.records import Insert, Item, Placement, Project, Rules, Zone
from cozy_burrow.core.pulls.by_kind import pull_of_kind
from cozy_burrow.core.pulls.forms import form_of_placed
from cozy_burrow.core.pulls.reach import HOOK_MOMENT_NMM, PINCH_MOMENT_NMM, reach_of, wanted_depth
from cozy_burrow.export.layout_json import layout_json
from tests.makers import box, drawer, laid, project, van_drawer
from tests.many import many


def a_thing(chance: np.random.Generator, number: int) -> Item:
    """Return a box, a rod or a driver of some size, weighed or not."""
    length, width = float(chance.integers(40, 150)), float(chance.integers(8, 34))
    mass = float(chance.integers(20, 600)) if chance.random() < 0.7 else None
    kind = int(chance.integers(3))
    name = f"thing {number}"
    if kind == 0:
        item = box_item(
            f"item-{number}", name, length_mm=length, width_mm=width, thickness_mm=float(chance.integers(4, 30))
        )
    elif kind == 1:
        item = round_item(f"item-{number}", name, length_mm=length, diameter_mm=width)
    else:
        text = f"0:{width} {length / 2:g}:{width} {length / 2:g}:6 {length + 30:g}:6"
        item = station_item(f"item-{number}", name, parse_stations(text))
    return replace(item, mass_g=mass)


def an_insert(seed: int) -> Project:
    """Return a drawer with up to ten things in a loose grid, some rows of the same way."""
    chance = np.random.default_rng(seed)
    items = [a_thing(chance, number) for number in range(1, int(chance.integers(4, 11)))]
    plan = project(*items, bay=drawer(width=560, depth=420), rules=Rules(seat="flush"))
    same_way = chance.random() < 0.5
    places = []
    for number in range(len(items)):
        x = 90 + (48 if same_way else 95) * (number % 5)
        y = 110 + 200 * (number // 5)
        turn = 90.0 if same_way else float(chance.integers(0, 180))
        places.append((x, y, turn))
    return laid(plan, *places)


class Properties(unittest.TestCase):
    """On fifty random inserts."""

    def test_pulls_keep_walls_and_edges_reach_what_they_serve_and_lift_level(self) -> None:
        kinds: dict[str, int] = {}
        tried = many(50, share=0.5)
        for seed in range(tried):
            plan = an_insert(seed)
            pulled, given = gripped(plan, "insert-1")
            before, after = (ground_of(one, one.inserts[0]) for one in (plan, pulled))
            for placed in after.pulls:
                kinds[placed.pull.kind] = kinds.get(placed.pull.kind, 0) + 1
                with self.subTest(seed=seed, pull=placed.pull.id):
                    self._stands(before, after, placed.area, placed.layers, set(placed.pull.serves))
                    self.assertEqual(set(placed.reaches) & set(placed.pull.serves), set(placed.pull.serves))
            for one in given:
                if one.pull is not None and one.why != "room":
                    self._lifts_level(after, one.key, seed)
        self.assertGreater(kinds.get("circle_pair", 0), 0.8 * tried)
        self.assertGreater(kinds.get("trench", 0), 0.06 * tried)

    def _stands(self, before: Ground, after: Ground, area: shapely.Geometry, layers: int, serves: set[str]) -> None:
        rules = after.rules
        inside = after.blank.buffer(-rules.edge_mm + 0.02, join_style="mitre")
        if not any(pull.pull.kind == "press" and set(pull.pull.serves) == serves for pull in after.pulls):
            self.assertTrue(inside.covers(area), "too near to the edge")
        self.assertLessEqual(layers, len(after.layers) - after.floor_layers, "into the floor")
        for key, pocket in before.pockets.items():
            if key not in serves:
                shared = min(layers, pocket.depth_layers)
                wall = wanted_wall_mm(after.layers[shared - 1].bottom_mm, rules)
                self.assertGreaterEqual(area.distance(pocket.surface), wall - 0.02, f"wall to {key}")

    def _lifts_level(self, ground: Ground, key: str, seed: int) -> None:
        """The middle between the fingers pulls at them by no more than they hold: worked out from the points alone."""
        grip = grip_of(ground, key)
        if grip.how != "pull" or grip.reach is None:
            return
        placement = next(one for one in ground.insert.placements if one.id == key)
        item = ground.pockets[key].item
        balance = np.array(to_plan(placement, centre_of_mass(item)))
        pull = next(one.pull for one in ground.pulls if one.pull.id == grip.pull)
        ends = np.array(pull_points(ground, pull.id))
        if pull.kind == "trench":
            line = ends[1] - ends[0]
            away = balance - ends[0]
            off = abs(float(line[0] * away[1] - line[1] * away[0])) / float(np.hypot(*line))
            limit = PINCH_MOMENT_NMM
        else:
            along = np.array([math.cos(math.radians(placement.angle_deg)), math.sin(math.radians(placement.angle_deg))])
            off = abs(float((ends.mean(axis=0) - balance) @ along))
            limit = PINCH_MOMENT_NMM if len(ends) == 2 else HOOK_MOMENT_NMM
        moment = facts_of(item).mass_g * GRAVITY_N_G * max(0.0, off - 3.0)  # grips sit where the outline is met
        self.assertLessEqual(moment, limit * 1.02, f"{key} in {seed} is lifted {off:.0f} mm off its balance")

    def test_trenches_are_straight_bands_across_every_thing_of_the_row(self) -> None:
        found = 0
        for seed in range(30):
            pulled, _ = gripped(an_insert(seed), "insert-1")
            ground = ground_of(pulled, pulled.inserts[0])
            for placed in ground.pulls:
                if placed.pull.kind == "trench":
                    found += 1
                    band = LineString(placed.pull.points_mm).buffer(placed.pull.width_mm / 2)
                    self.assertLess(band.symmetric_difference(placed.area).area, 1.0)
                    for key in placed.pull.serves:
                        self.assertTrue(LineString(placed.pull.points_mm).intersects(ground.pockets[key].surface))
        self.assertGreater(found, 2)


class Choosing(unittest.TestCase):
    def row(self, gap: float, *, count: int = 4, **fields: object) -> Project:
        items = tuple(replace(box(120, 18, 12, name=f"file {n}"), id=f"item-{n}") for n in range(1, count + 1))
        items = tuple(replace(item, mass_g=60.0, **fields) for item in items)  # type: ignore[arg-type]
        plan = project(*items, bay=drawer(width=420, depth=260), rules=Rules(seat="flush", allowance_mm=0.0))
        return laid(plan, *((60 + n * (18 + gap), 130, 90.0) for n in range(count)))

    def test_a_row_of_files_shares_one_trench_at_their_balance(self) -> None:
        pulled, given = gripped(self.row(14.0), "insert-1")
        self.assertEqual({one.why for one in given}, {"row"})
        (pull,) = pulled.inserts[0].pulls
        self.assertEqual((pull.kind, len(pull.serves)), ("trench", 4))
        self.assertAlmostEqual(pull.points_mm[0][1], 130, delta=0.1)
        self.assertAlmostEqual(pull.points_mm[1][1], 130, delta=0.1)

    def test_a_trench_that_others_share_stays_when_one_of_them_is_given_another_pull(self) -> None:
        pulled, _ = gripped(self.row(14.0), "insert-1")
        again, _ = gripped(pulled, "insert-1", ["item-1#1"])
        self.assertIn("trench", {one.kind for one in again.inserts[0].pulls})
        ground = ground_of(again, again.inserts[0])
        self.assertEqual([key for key in ground.pockets if not grip_of(ground, key).good], [])

    def test_two_neighbours_get_pairs_in_one_line(self) -> None:
        plan = self.row(64.0, count=2)
        second = replace(plan.inserts[0].placements[1], y_mm=141.0)
        insert = replace(plan.inserts[0], placements=(plan.inserts[0].placements[0], second))
        pulled, given = gripped(replace(plan, inserts=(insert,)), "insert-1")
        self.assertIn("line", {one.why for one in given})
        ground = ground_of(pulled, pulled.inserts[0])
        heights = {round(y, 1) for one in ground.pulls for _, y in pull_points(ground, one.pull.id)}
        self.assertEqual(len(heights), 1)

    def test_hooks_hollow_handles_and_what_stands_proud_get_none(self) -> None:
        for held in ("hook", "hollow"):
            _, given = gripped(self.row(40.0, count=1, held_by=held), "insert-1")
            self.assertEqual(given, ())
        proud = project(box(60, 20, 30), rules=Rules(seat="half"))
        self.assertEqual(gripped(laid(proud, (100, 100)), "insert-1")[1], ())

    def test_where_nothing_fits_beside_it_its_end_is_pressed_down(self) -> None:
        # Hemmed in on all sides by walls that must stand.
        plan = self.row(13.0, count=3)
        pulled, given = gripped(plan, "insert-1", ["item-2#1"])
        (one,) = given
        self.assertEqual(one.why, "press")
        grip = grip_of(ground_of(pulled, pulled.inserts[0]), "item-2#1")
        assert grip.press is not None
        self.assertTrue(grip.good)
        self.assertLess(grip.press.push_n, 10.0)
        pull = pulled.inserts[0].pulls[0]
        self.assertGreater(pull.layers or 0, ground_of(plan, plan.inserts[0]).pockets["item-2#1"].depth_layers)

    def test_a_press_point_obeys_the_lever(self) -> None:
        plan = self.row(13.0, count=1)
        item = plan.items[0]
        from cozy_burrow.core.model.records import FingerPull
        from cozy_burrow.core.pulls.press import press_of

        ground = ground_of(plan, plan.inserts[0])
        # The floor is one layer deeper from the end (-60) to -24: about that edge the file turns.
        pull = FingerPull(id="", kind="press", serves=(), points_mm=((-60.0, 0.0), (-24.0, 0.0)), width_mm=40.0)
        press = press_of(ground.pockets["item-1#1"], pull, 2, ground.layers, ground.rules)
        slope = 10.0 / 36.0
        self.assertAlmostEqual(press.turn_deg, math.degrees(math.atan(slope)), delta=0.2)
        self.assertAlmostEqual(press.rise_mm, slope * (60 + 24), delta=0.2)
        self.assertAlmostEqual(press.push_n, item.mass_g * GRAVITY_N_G * 24 / (36 - 8), delta=0.02)  # type: ignore[operator]


class Kinds(unittest.TestCase):
    """Press points and ribbons beside what is cut: in the layout's file, in the pocket's own wall, in the hand."""

    def given(self, kind: str) -> Ground:
        plan = Choosing().row(40.0, count=1)
        ground = ground_of(plan, plan.inserts[0])
        most = len(ground.layers) - ground.floor_layers
        pull = pull_of_kind(ground.pockets["item-1#1"], kind, ground.layers, most, ground.rules)
        assert pull is not None
        plan = add_pulls(plan, "insert-1", [replace(pull, serves=("item-1#1",))])
        return ground_of(plan, plan.inserts[0])

    def test_a_ribbon_cuts_nothing_and_a_press_point_nothing_beside(self) -> None:
        for kind, kinds in (("ribbon", []), ("press", ["press"]), ("notch_pair", ["notch", "notch"])):
            ground = self.given(kind)  # type: ignore[arg-type]
            written = json.loads(layout_json(ground, {"item-1#1": ("file 1", 1)}))
            self.assertEqual([one["kind"] for one in written["pulls"]], kinds)
            pocket = ground.pockets["item-1#1"]
            beside = ground.taken_out(1).difference(pocket.surface).area
            self.assertEqual(beside > 100.0, kind == "notch_pair")
            form = form_of_placed(pocket.local, ground.insert.pulls, ground.bay, ground.rules)
            self.assertEqual(form.shape.area > pocket.surface.area + 100.0, kind == "notch_pair")
            self.assertTrue(grip_of(ground, "item-1#1").good)

    def test_a_ribbon_asks_for_no_wall_while_its_thing_is_carried(self) -> None:
        plan = Choosing().row(40.0, count=1)
        bare = body_of(ground_of(plan, plan.inserts[0]), ("item-1#1",))
        ground = self.given("ribbon")
        body = body_of(ground, ("item-1#1",))
        self.assertEqual(body.form.wall_mm, bare.form.wall_mm)
        self.assertAlmostEqual(body.form.shape.area, bare.form.shape.area)


class Depths(unittest.TestCase):
    def test_a_wedge_is_reached_as_deep_as_it_is_thick_there(self) -> None:
        region = outline_of(rectangle(-45, -10, 45, 10))
        wedge = Zone(
            name="wedge",
            region=region,
            section="tapered",
            under_mm=0.0,
            top_mm=40.0,
            under_end_mm=0.0,
            top_end_mm=4.0,
            axis=((-45.0, 0.0), (45.0, 0.0)),
        )
        item = replace(box(90, 20, 40), outline=region, zones=(wedge,))
        pocket = local_pocket(item, None, drawer(), Rules(allowance_mm=0.0, seat="flush"))
        deep = pocket.seating.datum_mm  # its underside
        # 8 mm of side, or all of it: at the thick end below its top, at the thin end down to its floor.
        self.assertAlmostEqual(wanted_depth(pocket, (-45.0, 0.0)), deep - 40.0 + 8.0)
        self.assertAlmostEqual(wanted_depth(pocket, (0.0, 0.0)), deep - 22.0 + 8.0)
        self.assertAlmostEqual(wanted_depth(pocket, (45.0, 0.0)), deep)
        self.assertAlmostEqual(wanted_depth(pocket, (70.0, 3.0)), deep)  # beside it, the nearest place counts

    def test_the_second_finger_goes_to_the_other_side_though_two_openings_on_one_are_wider(self) -> None:
        item = replace(box(120, 18, 12), mass_g=50.0)
        pocket = local_pocket(item, None, drawer(), Rules(allowance_mm=0.0, seat="flush"))
        discs = [Point(x, y).buffer(width / 2) for x, y, width in ((-22, 9, 40), (22, 9, 40), (0, -9, 28))]
        reach = reach_of(pocket, discs, pocket.seating.bottom_mm, mass_g=50.0, finger_mm=16.0)
        self.assertEqual((reach.sides, reach.troubles), (2, ()))
        self.assertAlmostEqual(reach.opening_mm, 14.0, delta=0.1)

    def test_a_thin_rule_on_the_floor_is_taken_from_below_its_edge(self) -> None:
        rule = replace(box(150, 25, 1, "rule"), mass_g=30.0)
        pocket = local_pocket(rule, None, drawer(), Rules(allowance_mm=0.0))
        self.assertEqual((pocket.depth_layers, pocket.seating.bottom_mm), (1, 10.0))
        discs = [Point(0, side * 12.5).buffer(20) for side in (-1, 1)]
        as_deep = reach_of(pocket, discs, 10.0, mass_g=30.0, finger_mm=16.0)
        self.assertEqual(as_deep.troubles, ("shallow",))
        self.assertAlmostEqual(as_deep.past_mm, -3.0)  # 4 mm below its top at 9
        self.assertEqual(reach_of(pocket, discs, 20.0, mass_g=30.0, finger_mm=16.0).troubles, ())
        plan = laid(project(rule, rules=Rules(allowance_mm=0.0)), (150, 100))
        made, _ = gripped(plan, "insert-1")
        ground = ground_of(made, made.inserts[0])
        self.assertEqual([pull.layers for pull in ground.pulls], [2])  # one more than the pocket, and not the floor
        self.assertTrue(grip_of(ground, "item-1#1").good)

    def test_a_finger_does_not_reach_far_down_a_narrow_hole(self) -> None:
        block = replace(box(90, 50, 10), mass_g=200.0)
        seated = local_pocket(block, None, drawer(), Rules(allowance_mm=0.0, seat="deep"))
        self.assertEqual(seated.seating.bottom_mm, 40.0)
        hole = [rectangle(-19, 25, 19, 45)]  # 38 along it, 20 beside it
        self.assertEqual(reach_of(seated, hole, 40.0, mass_g=200.0, finger_mm=16.0).troubles, ("deep",))
        shallow = local_pocket(block, None, drawer(), Rules(allowance_mm=0.0))
        self.assertEqual(reach_of(shallow, hole, 10.0, mass_g=200.0, finger_mm=16.0).troubles, ())
        wide = [rectangle(-35, 25, 35, 60)]
        self.assertEqual(reach_of(seated, wide, 40.0, mass_g=200.0, finger_mm=16.0).troubles, ())


class Verdicts(unittest.TestCase):
    def one(self, *points: tuple[float, float], width: float = 40.0, mass: float = 60.0) -> Project:
        from cozy_burrow.core.model.edits import add_pulls
        from cozy_burrow.core.model.records import FingerPull

        item = replace(box(120, 18, 12), mass_g=mass)
        plan = laid(project(item, rules=Rules(seat="flush", allowance_mm=0.0)), (150, 100))
        kind = "circle_pair" if len(points) == 2 else "circle"
        pull = FingerPull(id="", kind=kind, serves=("item-1#1",), points_mm=points, width_mm=width)  # type: ignore[arg-type]
        return add_pulls(plan, "insert-1", [pull])

    def troubles(self, plan: Project) -> tuple[str, ...]:
        grip = grip_of(ground_of(plan, plan.inserts[0]), "item-1#1")
        assert grip.reach is not None
        return grip.reach.troubles

    def test_a_pair_at_the_balance_is_good(self) -> None:
        plan = self.one((0, -9), (0, 9))
        self.assertEqual(self.troubles(plan), ())
        grip = grip_of(ground_of(plan, plan.inserts[0]), "item-1#1")
        assert grip.reach is not None
        self.assertAlmostEqual(grip.reach.opening_mm, 20.0, delta=0.1)
        self.assertAlmostEqual(grip.reach.span_mm, 18.0, delta=0.1)

    def test_far_from_the_balance_a_heavy_thing_tips_out_of_the_fingers(self) -> None:
        self.assertEqual(self.troubles(self.one((40, -9), (40, 9), mass=60)), ())
        self.assertIn("askew", self.troubles(self.one((40, -9), (40, 9), mass=600)))

    def test_a_small_opening_lets_no_finger_in(self) -> None:
        self.assertIn("narrow", self.troubles(self.one((0, -9), (0, 9), width=16)))

    def test_a_shallow_pull_ends_above_the_middle_of_a_rod(self) -> None:
        from cozy_burrow.core.model.edits import add_pulls
        from cozy_burrow.core.model.records import FingerPull

        item = round_item("item-1", "rod", length_mm=120, diameter_mm=30)
        plan = laid(project(item, rules=Rules(seat="flush", allowance_mm=0.0)), (150, 100))
        for layers, shallow in ((1, True), (2, False)):
            pull = FingerPull(
                id="",
                kind="circle_pair",
                serves=("item-1#1",),
                points_mm=((0, -15), (0, 15)),
                width_mm=40,
                layers=layers,
            )
            self.assertEqual("shallow" in self.troubles(add_pulls(plan, "insert-1", [pull])), shallow)

    def test_moving_a_pull_changes_the_verdict_and_the_findings(self) -> None:
        good, bad = self.one((0, -9), (0, 9), mass=600), self.one((35, -9), (35, 9), mass=600)
        self.assertEqual(list(grip_findings(ground_of(good, good.inserts[0]))), [])
        (finding,) = grip_findings(ground_of(bad, bad.inserts[0]))
        self.assertEqual((finding.code, finding.extra), ("GRIP_POOR", "askew"))
        self.assertAlmostEqual(finding.value, 600 * GRAVITY_N_G * 35, delta=1.0)

    def test_the_whole_demo_drawer_comes_out(self) -> None:
        plan = van_drawer()
        pulled, given = gripped(plan, plan.inserts[0].id)
        ground = ground_of(pulled, pulled.inserts[0])
        self.assertEqual([key for key in ground.pockets if not grip_of(ground, key).good], [])
        self.assertGreater(sum(one.why == "row" for one in given), 5)

    def test_the_opening_is_measured_from_the_outline_and_not_from_the_pocket(self) -> None:
        # A snug pocket is a millimetre smaller all round: the fingers still meet the thing, not the pocket.
        item = replace(box(120, 18, 12), fit="snug", mass_g=50.0)
        insert = Insert(
            id="insert-1",
            name="D",
            placements=(Placement(id="item-1#1", item_id="item-1", copy=1, x_mm=150, y_mm=100),),
        )
        plan = Project(items=(item,), inserts=(insert,), rules=Rules(seat="flush"))
        pulled, _ = gripped(plan, "insert-1")
        ground = ground_of(pulled, pulled.inserts[0])
        grip = grip_of(ground, "item-1#1")
        assert grip.reach is not None
        disc = Point(0, 8).buffer(20)
        outline = polygon_of(item.outline)
        away = max(outline.distance(Point(p)) for p in disc.exterior.coords)
        self.assertAlmostEqual(grip.reach.opening_mm, away, delta=0.1)


if __name__ == "__main__":
    unittest.main()
