"""Shapes to start from, tiers, card templates, and what a survey says in words."""

from __future__ import annotations

import math
import unittest

from msgspec.structs import replace
from shapely.geometry import Point, Polygon

from cozy_burrow.core.container.bay import bay_of, headroom_mm, strap_mm, tiers_of
from cozy_burrow.core.container.blank import as_outline, blanks_of
from cozy_burrow.core.container.checks import checked_container
from cozy_burrow.core.container.rim import rim_polygon
from cozy_burrow.core.container.starts import (
    SKETCHES,
    STARTS,
    add_container,
    add_tier,
    remove_insert,
    sketched,
)
from cozy_burrow.core.container.survey import solve_survey, with_corner_after, with_taped, without_corner
from cozy_burrow.core.errors import Gone, UnusableInput
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.edits import change_container, unplaced
from cozy_burrow.core.model.records import Container, Project
from cozy_burrow.core.model.vessels import Corner, Taped
from cozy_burrow.jobs.survey_words import survey_words
from tests.makers import box, laid, project


class Starts(unittest.TestCase):
    def test_every_start_is_a_container_with_blanks_and_nothing_to_mend(self) -> None:
        plan = Project()
        for start in STARTS:
            checked_container(STARTS[start], where=start)
            plan, key = add_container(plan, start)
            insert = next(one for one in plan.inserts if one.id == key)
            with self.subTest(start):
                self.assertTrue(all(not blank.polygon.is_empty for blank in blanks_of(bay_of(plan, insert))))
        self.assertEqual(len({one.name for one in plan.containers}), len(plan.containers))
        self.assertEqual([one.code for one in findings_of(plan) if one.severity == "stop"], [])

    def test_tiers_are_put_on_top_and_taken_away_with_their_things_in_the_tray(self) -> None:
        plan = laid(project(box(60, 30, 20)), (100, 100))
        taller = change_container(plan, replace(plan.containers[0], height_mm=90.0))
        two, key = add_tier(taller, "insert-1")
        tiers = tiers_of(two, "container-1")
        self.assertEqual([one.id for one in tiers], [key, "insert-1"])
        self.assertEqual(bay_of(two, tiers[0]).below_mm, 50.0)
        self.assertEqual(headroom_mm(bay_of(two, tiers[0])), 20.0)
        self.assertEqual(strap_mm(bay_of(two, tiers[0])), 200.0 + 2 * (20.0 + 90.0))
        gone = remove_insert(two, "insert-1")
        self.assertEqual([one.id for one in gone.inserts], [key])
        self.assertEqual(len(unplaced(gone)), 1)
        self.assertEqual(len(gone.containers), 1)
        with self.assertRaises(UnusableInput):
            remove_insert(gone, key)
        other, second = add_container(gone, "a drawer")
        self.assertEqual(len(remove_insert(other, second).containers), 1)

    def test_sketches_go_round_once_and_carry_letters(self) -> None:
        for name, ring in SKETCHES.items():
            with self.subTest(name):
                corners = sketched(name)
                self.assertEqual([one.name for one in corners], list("ABCDEF"[: len(ring)]))
                self.assertGreater(rim_polygon(with_taped(Container(), corners, ())).area, 50_000)

    def test_corners_come_half_way_along_a_wall_and_go_with_their_distances(self) -> None:
        box_of_four = with_taped(
            Container(), sketched("four corners"), (Taped(first="A", second="B", length_mm=400.0),)
        )
        five = with_corner_after(box_of_four, "A")
        self.assertEqual([one.name for one in five.corners], list("AEBCD"))
        self.assertAlmostEqual(five.corners[1].x_mm, 200.0, delta=0.1)
        self.assertEqual(without_corner(five, "E").corners, box_of_four.corners)
        self.assertEqual(without_corner(five, "B").taped, ())
        with self.assertRaises(UnusableInput):
            without_corner(without_corner(box_of_four, "A"), "B")
        with self.assertRaisesRegex(Gone, "corner E"):
            with_corner_after(box_of_four, "E")
        with self.assertRaisesRegex(Gone, "corner E"):
            with_taped(box_of_four, box_of_four.corners, (Taped(first="A", second="E", length_mm=90.0),))
        with self.assertRaisesRegex(Gone, "survey"):
            with_taped(box_of_four, (), ())
        full = box_of_four
        with self.assertRaises(UnusableInput):
            for _ in range(30):
                full = with_corner_after(full, "A")

    def test_a_card_template_begins_at_the_corner_of_its_bounds(self) -> None:
        rim = as_outline(Polygon([(50, 60), (350, 60), (340, 260), (60, 250)]))
        self.assertEqual(polygon_of(rim).bounds, (0.0, 0.0, 300.0, 200.0))
        round_box = Container(outline=as_outline(Point(0, 0).buffer(120, quad_segs=64)), width_mm=240, depth_mm=240)
        bay = bay_of(Project(containers=(round_box,)), Project().inserts[0])
        self.assertAlmostEqual(blanks_of(replace(bay, press_fit_mm=2.0))[0].polygon.area, math.pi * 122**2, delta=60)


class Words(unittest.TestCase):
    SQUARE = {"A": (0.0, 0.0), "B": (400.0, 0.0), "C": (400.0, 300.0), "D": (0.0, 300.0)}

    def words(self, points: dict[str, tuple[float, float]], pairs: str, **odd: float) -> str:
        corners = tuple(Corner(name=n, x_mm=x, y_mm=y) for n, (x, y) in points.items())
        taped = tuple(
            Taped(first=p[0], second=p[1], length_mm=math.dist(points[p[0]], points[p[1]]) + odd.get(p, 0.0))
            for p in pairs.split()
        )
        surveyed = with_taped(Container(), corners, taped)
        return survey_words(surveyed, solve_survey(surveyed.corners, taped), "mm")

    def test_what_is_missing_next_and_unchecked(self) -> None:
        self.assertIn("One more distance", self.words(self.SQUARE, "AB BC CD DA"))
        five = self.words(self.SQUARE, "AB BC CD DA AC")
        self.assertIn("nothing checks the tape", five)
        self.assertIn("Next: B to D", five)
        self.assertIn("square to a millimetre", five)

    def test_slips_rivals_and_impossible_ways(self) -> None:
        pairs = "AB BC CD DA AC BD AB BC CD DA AC BD"
        slip = self.words(self.SQUARE, pairs)
        self.assertNotIn("again", slip)
        lone = self.words(self.SQUARE, "AB BC CD DA AC BD AC CD DA", BC=9.0)
        self.assertIn("again", lone)
        self.assertIn("may as well be", lone)
        self.assertIn("cannot be", self.words(self.SQUARE, "AB BC AC", AC=300.0))

    def test_out_of_square_and_bowed_walls(self) -> None:
        leaning = self.SQUARE | {"C": (406.0, 300.0)}
        text = self.words(leaning, "AB BC CD DA AC BD")
        self.assertIn("Corner B is wide", text)
        self.assertIn("6 mm out of square", text)
        bowed = {"A": (0.0, 0.0), "B": (400.0, 0.0), "C": (400.0, 300.0), "D": (200.0, 307.0), "E": (0.0, 300.0)}
        text = self.words(bowed, "AB BC CD DE EA AC AD BD BE CE")
        self.assertIn("bows outwards by 7 mm at D", text)
