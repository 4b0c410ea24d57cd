"""Blanks at every level against closed forms, and against an independent solid cut by another library."""

from __future__ import annotations

import math
import unittest

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import Manifold
from msgspec.structs import replace
from shapely.geometry import Polygon

from cozy_burrow.core.container.bay import Bay, bay_of, headroom_mm, lid_touch_mm
from cozy_burrow.core.container.blank import blanks_of, inside_polygon
from cozy_burrow.core.container.checks import checked_container
from cozy_burrow.core.container.level import base_inset_mm, chamfer_mm, level_polygon, moved_edges, stepped_in
from cozy_burrow.core.container.rim import rounded
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import rectangle
from cozy_burrow.core.model.records import Container, Insert, Outline, Project, Sheet
from cozy_burrow.core.model.vessels import Corner, Lid, Obstacle
from tests.makers import drawer

LEAN = 4.0
TAPERED = Container(
    kind="case",
    width_mm=400.0,
    depth_mm=300.0,
    height_mm=120.0,
    corner_radius_mm=45.0,
    base_corner_radius_mm=45.0 - 120.0 * math.tan(math.radians(LEAN)),
    draft_deg=(LEAN,) * 4,
    base_edge_radius_mm=18.0,
)


def apart_mm(first: Polygon, second: Polygon) -> float:
    """Return the largest distance between two outlines, both ways."""
    return float(max(shapely.hausdorff_distance(first.exterior, second.exterior, densify=0.02), 0.0))


class Levels(unittest.TestCase):
    def test_a_tapered_rounded_case_at_three_levels_is_as_the_closed_form_says(self) -> None:
        slope = math.tan(math.radians(LEAN))
        centre = 120.0 - 18.0
        middle = (18.0 + centre * math.sin(math.radians(LEAN))) / math.cos(math.radians(LEAN))
        for depth in (25.0, 70.0, 112.0):
            inset = depth * slope
            if depth > centre + 18.0 * math.sin(math.radians(LEAN)):
                inset = middle - math.sqrt(18.0**2 - (depth - centre) ** 2)
            radius = 45.0 - inset
            found = level_polygon(TAPERED, depth)
            with self.subTest(depth):
                left, top, right, bottom = found.bounds
                self.assertAlmostEqual(right - left, 400.0 - 2 * inset, delta=0.03)
                self.assertAlmostEqual(bottom - top, 300.0 - 2 * inset, delta=0.03)
                flat = (400.0 - 2 * inset) * (300.0 - 2 * inset) - (4 - math.pi) * radius**2
                self.assertLess(abs(found.area - flat) / found.length, 0.03)

    def test_an_independent_solid_cut_at_three_levels_has_the_same_outline(self) -> None:
        # The inside as the hull of the rim and of balls that roll along the floor; another library cuts it.
        lean = math.radians(LEAN)
        angles = np.arange(0, 2 * math.pi, math.pi / 180)
        centres = np.array([(45.0, 45.0), (355.0, 45.0), (355.0, 255.0), (45.0, 255.0)])
        rim = np.concatenate([c + 45.0 * np.column_stack([np.cos(angles), np.sin(angles)]) for c in centres])
        # Where the arcs' middles stay, the ball's middle is as far from them as the arc's radius less what it needs.
        away = 45.0 - (18.0 + (120.0 - 18.0) * math.sin(lean)) / math.cos(lean)
        ball_path = np.concatenate([c + away * np.column_stack([np.cos(angles), np.sin(angles)]) for c in centres])
        down = np.linspace(0, math.pi / 2, 61)
        out = 18.0 * np.cos(down)
        low = 120.0 - 18.0 + 18.0 * np.sin(down)
        side = np.concatenate([c + np.column_stack([np.cos(angles), np.sin(angles)]) * 0 for c in centres])
        rings = [np.column_stack([rim, np.zeros(len(rim))])]
        heading = np.tile(np.column_stack([np.cos(angles), np.sin(angles)]), (4, 1))
        for reach, depth in zip(out, low):
            rings.append(np.column_stack([ball_path + heading * reach, np.full(len(side), depth)]))
        above = np.linspace(-lean, 0, 9)  # the ball touches the leaning wall above its middle's height
        for angle in above:
            ring = ball_path + heading * (18.0 * math.cos(angle))
            rings.append(np.column_stack([ring, np.full(len(ring), 102.0 - 18.0 * math.sin(-angle) * -1.0)]))
        solid = Manifold.hull_points(np.concatenate(rings))
        for depth in (25.0, 70.0, 112.0):
            cut = solid.slice(depth).to_polygons()
            with self.subTest(depth):
                self.assertEqual(len(cut), 1)
                self.assertLess(apart_mm(level_polygon(TAPERED, depth), Polygon(cut[0])), 0.2)

    def test_walls_may_lean_each_by_its_own_draft(self) -> None:
        case = replace(TAPERED, corner_radius_mm=0.0, base_corner_radius_mm=None, base_edge_radius_mm=0.0)
        case = replace(case, draft_deg=(0.0, 5.0, 2.0, -1.0))
        right, front, left = (100 * math.tan(math.radians(a)) for a in (5.0, 2.0, -1.0))
        np.testing.assert_allclose(level_polygon(case, 100.0).bounds, (left, 0.0, 400 - right, 300 - front), atol=1e-9)

    def test_a_free_outline_leans_like_its_corners_would(self) -> None:
        ring = ((0.0, 0.0), (200.0, 0.0), (200.0, 80.0), (120.0, 80.0), (120.0, 150.0), (0.0, 150.0))
        free = Container(outline=Outline(outer=ring), height_mm=100.0, draft_deg=(3.0,) * 4)
        named = Container(
            corners=tuple(Corner(name=n, x_mm=x, y_mm=y) for n, (x, y) in zip("ABCDEF", ring)),
            height_mm=100.0,
            draft_deg=(3.0,) * 4,
        )
        one, other = level_polygon(free, 80.0), level_polygon(named, 80.0)
        # Only at the corner that points inwards do they differ: a ball there, a mitre here.
        self.assertLess(
            one.symmetric_difference(other).area, (1 - math.pi / 4) * (80 * math.tan(math.radians(3))) ** 2 + 0.1
        )

    def test_a_draft_that_closes_the_box_leaves_an_empty_level_and_no_crash(self) -> None:
        closed = replace(TAPERED, draft_deg=(40.0, 40.0, 40.0, 40.0), height_mm=400.0, base_edge_radius_mm=0.0)
        self.assertTrue(level_polygon(closed, 390.0).is_empty)
        bay = Bay(container=closed, sheets=(Sheet(),))
        self.assertTrue(blanks_of(bay)[0].polygon.is_empty)

    @settings(derandomize=True, deadline=None, max_examples=60)
    @given(st.lists(st.floats(0, 8), min_size=4, max_size=4), st.floats(0, 40), st.floats(0, 30), st.floats(1, 118))
    def test_with_a_draft_every_level_lies_within_the_one_above(
        self, lean: list[float], corner: float, base: float, depth: float
    ) -> None:
        case = replace(
            TAPERED,
            draft_deg=tuple(lean),
            corner_radius_mm=corner,
            base_corner_radius_mm=None,
            base_edge_radius_mm=base,
        )
        upper, lower = level_polygon(case, depth * 0.6), level_polygon(case, depth)
        self.assertLess(lower.difference(upper.buffer(0.05)).area, 0.5)

    def test_edges_that_vanish_are_told_and_bands_take_over(self) -> None:
        ring = np.array([(0.0, 0.0), (100.0, 0.0), (100.0, 60.0), (97.0, 63.0), (0.0, 63.0)])
        self.assertIsNone(moved_edges(ring, np.full(5, 20.0)))
        self.assertAlmostEqual(stepped_in(ring, np.full(5, 20.0)).area, 60.0 * 23.0, delta=12.0)


class Blanks(unittest.TestCase):
    def test_without_a_press_fit_the_blank_is_the_inside(self) -> None:
        bay = drawer(width=570, depth=390)
        self.assertEqual(blanks_of(bay)[0].polygon.bounds, (0, 0, 570, 390))
        self.assertTrue(blanks_of(bay)[0].polygon.equals(inside_polygon(bay.container)))

    def test_a_press_fit_is_added_on_every_side(self) -> None:
        blank = blanks_of(replace(drawer(width=570, depth=390), press_fit_mm=2.0))[0].polygon
        self.assertEqual(blank.bounds, (-2, -2, 572, 392))
        self.assertAlmostEqual(blank.area, 574 * 394)
        self.assertEqual(len(blank.exterior.coords), 5)  # a square corner stays square

    def test_rounded_corners_grow_with_the_press_fit_and_stay_parallel(self) -> None:
        bay = replace(
            drawer(), container=Container(width_mm=300.0, depth_mm=200.0, corner_radius_mm=20.0), press_fit_mm=2.0
        )
        inside, blank = inside_polygon(bay.container), blanks_of(bay)[0].polygon
        self.assertAlmostEqual(inside.area, 300 * 200 - (4 - math.pi) * 400, delta=1.5)
        self.assertLess(blank.symmetric_difference(inside.buffer(2.0, quad_segs=64)).area, 3.0)

    def test_a_radius_of_half_the_side_is_a_stadium(self) -> None:
        for shape in (
            rectangle(100, 60, radius_mm=30),
            rounded(np.array([(0, 0), (100, 0), (100, 60), (0, 60.0)]), [30] * 4),
        ):
            self.assertAlmostEqual(shape.area, 40 * 60 + math.pi * 900, delta=6)

    def test_each_sheet_is_cut_at_its_own_height_and_says_how_far_the_wall_leans(self) -> None:
        bay = Bay(container=TAPERED, sheets=(Sheet(thickness_mm=40.0), Sheet(thickness_mm=60.0)))
        slope = math.tan(math.radians(LEAN))
        upper, lower = blanks_of(bay)
        self.assertEqual((upper.depth_mm, lower.depth_mm), (40.0, 90.0))
        self.assertAlmostEqual(upper.polygon.bounds[0], 40.0 * slope, delta=0.01)
        self.assertAlmostEqual(lower.polygon.bounds[0], 90.0 * slope, delta=0.01)
        self.assertAlmostEqual(upper.loose_mm, 20.0 * slope, delta=0.03)
        self.assertAlmostEqual(lower.tight_mm, 30.0 * slope, delta=0.03)
        self.assertEqual(upper.chamfer_mm, 0.0)

    def test_the_chamfer_clears_the_round_of_the_floor_and_no_more(self) -> None:
        upright = replace(TAPERED, draft_deg=(0.0,) * 4, base_corner_radius_mm=None)
        self.assertAlmostEqual(chamfer_mm(upright, 90.0), 18.0, places=9)
        rest = []
        for share in np.linspace(0, 1, 400):
            depth, inset = 120.0 - 18.0 * (1 - share), 18.0 * share
            rest.append(inset - base_inset_mm(0.0, depth, height_mm=120.0, radius_mm=18.0))
        self.assertGreaterEqual(min(rest), -1e-9)
        self.assertAlmostEqual(rest[0], 0.0)
        self.assertAlmostEqual(rest[-1], 0.0, delta=1e-6)
        lean = math.radians(LEAN)
        middle = (18.0 + 102.0 * math.sin(lean)) / math.cos(lean)
        leg, side = chamfer_mm(TAPERED, 90.0), 90.0 * math.tan(lean)
        self.assertLess(math.dist((side + leg, 120.0), (middle, 102.0)), 18.0 + 1e-6)

    def test_where_the_round_is_higher_than_the_lowest_sheet_every_sheet_that_it_reaches_is_bevelled(self) -> None:
        upright = replace(TAPERED, draft_deg=(0.0,) * 4, base_corner_radius_mm=None, base_edge_radius_mm=30.0)
        sheets = tuple(Sheet(thickness_mm=thick, pitch_mm=5.0) for thick in (60.0, 40.0, 10.0, 10.0))
        top, second, third, lowest = blanks_of(Bay(container=upright, sheets=sheets))
        self.assertEqual((top.bevel_mm, top.chamfer_mm, lowest.chamfer_mm), (0.0, 0.0, 0.0))
        whole = top.polygon.bounds

        def arc(
            depth: float,
        ) -> float:  # how far the round stands in: a quarter circle about a point 30 above the floor
            return 30.0 - math.sqrt(30.0**2 - max(0.0, depth - 90.0) ** 2)

        for blank in (second, third, lowest):
            inset = blank.polygon.bounds[0] - whole[0]
            self.assertAlmostEqual(inset, arc(blank.top_mm), delta=0.02)
            self.assertAlmostEqual(inset + blank.bevel_mm, arc(blank.bottom_mm), delta=0.02)
            for share in np.linspace(0, 1, 50):  # nowhere does foam stand in the wall
                depth = blank.top_mm + share * (blank.bottom_mm - blank.top_mm)
                self.assertGreaterEqual(inset + share * blank.bevel_mm, arc(depth) - 0.02)
        self.assertAlmostEqual(lowest.bevel_mm, math.sqrt(900 - 400), delta=0.02)  # 20 mm below the middle of the round

    def test_ribs_are_notched_at_their_height_only_and_thin_ones_slit(self) -> None:
        rib = Obstacle(name="rib", kind="rib", ring=((190, 0), (210, 0), (210, 12), (190, 12)), high_mm=50.0)
        thin = Obstacle(name="web", kind="rib", ring=((100, 280), (103, 280), (103, 300), (100, 300)))
        box = Container(width_mm=400.0, depth_mm=300.0, height_mm=100.0, obstacles=(rib, thin))
        upper, lower = blanks_of(Bay(container=box, sheets=(Sheet(), Sheet()), press_fit_mm=2.0))
        self.assertAlmostEqual(upper.polygon.area, 404 * 304)
        self.assertAlmostEqual(lower.polygon.area, 404 * 304 - 20 * 14, delta=3.0)
        self.assertEqual(len(upper.slits), 1)
        self.assertAlmostEqual(math.dist(*upper.slits[0]), 20.0, delta=0.05)

    def test_a_post_leaves_a_hole(self) -> None:
        post = Obstacle(name="post", kind="post", ring=((100, 100), (120, 100), (120, 120), (100, 120)))
        box = Container(width_mm=400.0, depth_mm=300.0, height_mm=50.0, obstacles=(post,))
        blank = blanks_of(Bay(container=box, sheets=(Sheet(),)))[0].polygon
        self.assertEqual(len(blank.interiors), 1)


class Tiers(unittest.TestCase):
    def test_tiers_stand_on_each_other_and_each_has_its_own_level(self) -> None:
        case = replace(TAPERED, lid=Lid(depth_mm=30.0, foam_mm=25.0, give_mm=8.0))
        top = Insert(id="top", name="Top", sheets=(Sheet(thickness_mm=50.0),))
        low = Insert(id="low", name="Low", sheets=(Sheet(thickness_mm=60.0),))
        project = Project(containers=(case,), inserts=(top, low))
        upper, lower = bay_of(project, top), bay_of(project, low)
        self.assertEqual((upper.below_mm, upper.above, lower.below_mm, lower.above), (60.0, "lid", 0, "tier"))
        self.assertEqual(headroom_mm(lower), 0.0)
        self.assertAlmostEqual(headroom_mm(upper), 120 - 110 + 30 - 25 + 8)
        self.assertAlmostEqual(lid_touch_mm(upper) or 0.0, 15.0)
        self.assertIsNone(lid_touch_mm(lower))
        self.assertGreater(blanks_of(upper)[0].polygon.area, blanks_of(lower)[0].polygon.area)
        self.assertEqual(blanks_of(upper)[0].chamfer_mm, 0.0)
        self.assertGreater(blanks_of(lower)[0].chamfer_mm, 5.0)


class Refusals(unittest.TestCase):
    def test_containers_that_hold_nothing_are_refused_by_name(self) -> None:
        rib = Obstacle(name="rib", kind="rib", ring=((0, 0), (1, 0), (1, 1)), low_mm=9.0, high_mm=3.0)
        for change, word in (
            ({"width_mm": 0.0}, "width"),
            ({"depth_mm": -3.0}, "depth"),
            ({"height_mm": math.nan}, "height"),
            ({"width_mm": 1e9}, "width"),
            ({"corner_radius_mm": 500.0}, "radius"),
            ({"corner_radius_mm": -1.0}, "radius"),
            ({"base_edge_radius_mm": 900.0}, "base edge"),
            ({"draft_deg": (0.0, 80.0, 0.0, 0.0)}, "leans"),
            ({"front_lip_mm": 300.0}, "lip"),
            ({"obstacles": (rib,)}, "rib"),
            ({"lid": Lid(foam_mm=10.0, give_mm=20.0)}, "lid foam"),
            ({"corners": (Corner(name="A", x_mm=0, y_mm=0),)}, "corners"),
        ):
            with self.subTest(change), self.assertRaises(UnusableInput) as caught:
                checked_container(replace(Container(), **change), where="drawer")
            self.assertIn(word, str(caught.exception))
