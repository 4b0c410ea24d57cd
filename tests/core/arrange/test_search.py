"""The arrangement: every result is valid, repeatable, stoppable; judged by Shapely on true shapes."""

from __future__ import annotations

import random
import unittest

import shapely
from msgspec.structs import replace

from cozy_burrow.core.arrange.by_itself import nearest_spot
from cozy_burrow.core.arrange.pieces import Bed, Form, Piece, longest_mm, tidy_angles
from cozy_burrow.core.arrange.search import arrange
from cozy_burrow.core.arrange.wishes import STYLES
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.ground.arranging import arranged
from cozy_burrow.core.model.edits import lock_placements
from cozy_burrow.core.model.records import Rules
from cozy_burrow.core.progress import Quiet
from tests.core.arrange.shapes import StopsAfter, judge, random_shape
from tests.makers import DRIVER, L_STOP, box, drawer, laid, project, rod, stations


class Search(unittest.TestCase):
    def test_the_same_seed_gives_the_same_layout(self) -> None:
        chance = random.Random(5)
        pieces = [Piece((f"p{n}", 1), [Form(random_shape(chance), 8.0)]) for n in range(8)]
        bed = Bed(shapely.box(0, 0, 300, 200))
        first, second = (arrange(pieces, bed, seed=3, token=Quiet()) for _ in range(2))
        self.assertEqual(first, second)
        self.assertEqual(first.left_over, ())

    def test_a_stop_gives_a_valid_part_of_a_layout(self) -> None:
        pieces = [Piece((f"p{n}", 1), [Form(shapely.box(-20, -5, 20, 5), 8.0)]) for n in range(6)]
        bed = Bed(shapely.box(0, 0, 300, 200))
        for steps in (0, 1, 3):
            layout = arrange(pieces, bed, seed=1, token=StopsAfter(steps))
            self.assertEqual(len(layout.spots), steps)
            judge(self, layout, pieces, bed)

    def test_what_is_too_long_is_left_over_at_once(self) -> None:
        pieces = [Piece(("long", 1), [Form(shapely.box(-200, -3, 200, 3), 8.0)])]
        layout = arrange(pieces, Bed(shapely.box(0, 0, 300, 200)), seed=1, token=Quiet())
        self.assertEqual(layout.left_over, (("long", 1),))

    def test_an_empty_bed_holds_nothing(self) -> None:
        pieces = [Piece(("p", 1), [Form(shapely.box(-2, -2, 2, 2), 8.0)])]
        layout = arrange(pieces, Bed(shapely.Polygon()), seed=1, token=Quiet())
        self.assertEqual(layout.spots, ())

    def test_what_lies_alone_is_pressed_into_a_corner(self) -> None:
        """A search for the least room lets two pieces change places; one by itself has none to change with."""
        bed = Bed(shapely.box(0, 0, 300, 200))
        for form in (shapely.box(-20, -5, 20, 5), random_shape(random.Random(4))):
            pieces = [Piece(("p", 1), [Form(form, 8.0)])]
            layout = arrange(pieces, bed, seed=2, token=Quiet(), weights=STYLES["tight"])
            judge(self, layout, pieces, bed)
            self.assertEqual(layout.left_over, ())

    def test_a_smaller_form_is_taken_where_the_best_does_not_fit(self) -> None:
        forms = [Form(shapely.box(-30, -30, 30, 30), 4.0), Form(shapely.box(-30, -6, 30, 6), 4.0)]
        layout = arrange([Piece(("p", 1), forms)], Bed(shapely.box(0, 0, 100, 40)), seed=1, token=Quiet())
        self.assertEqual([spot.form for spot in layout.spots], [1])

    def test_the_nearest_clear_spot_is_near(self) -> None:
        piece = Piece(("p", 1), [Form(shapely.box(-10, -10, 10, 10), 10.0)])
        bed = Bed(shapely.box(0, 0, 200, 100), [(shapely.box(60, 0, 80, 100), 10.0)])
        spot = nearest_spot(piece, bed, x_mm=95, y_mm=50, angle_deg=0.0)
        assert spot is not None
        self.assertAlmostEqual(spot.x_mm, 100, delta=2.6)
        self.assertGreaterEqual(spot.x_mm, 100)
        self.assertAlmostEqual(spot.y_mm, 50, delta=1.1)

    def test_angles_lay_things_along_the_drawer_and_turn_ends_where_that_differs(self) -> None:
        self.assertEqual(len(tidy_angles(shapely.box(-30, -5, 30, 5))), 2)
        self.assertEqual(len(tidy_angles(shapely.union(shapely.box(-30, -5, 0, 5), shapely.box(0, -2, 30, 2)))), 4)
        self.assertAlmostEqual(longest_mm(shapely.box(0, 0, 30, 40)), 50.0)


class ArrangedProject(unittest.TestCase):
    def test_everything_is_laid_with_pulls_and_nothing_to_mend(self) -> None:
        kit = [stations(DRIVER), stations(L_STOP, "stop"), rod(80, 26), box(70, 40, 20), box(60, 14, 6, "wedge")]
        plan = project(*kit, rules=Rules(allowance_mm=1.0, wall_mm=10.0), bay=drawer(width=400, depth=260))
        result = arranged(plan, "insert-1", seed=1, token=Quiet(), steps=12)
        self.assertEqual(result.left_over, ())
        stops = [one for one in findings_of(result.project) if one.severity in {"stop", "care"}]
        # How a thing sits by its seat is no matter of where it lies.
        elsewhere = {"WALL_THIN_FOR_DEPTH", "LIES_ASKEW", "ROCKS"}
        self.assertEqual([one for one in stops if one.code not in elsewhere], [])

    def test_locked_things_stay_and_what_is_left_over_says_why(self) -> None:
        plan = laid(project(box(80, 40, 20), box(70, 30, 20), rules=Rules(allowance_mm=0.0)), (120, 90), (40, 150))
        plan = lock_placements(plan, "insert-1", ["item-1#1"], locked=True)
        result = arranged(plan, "insert-1", seed=2, token=Quiet(), steps=12)
        kept = next(one for one in result.project.inserts[0].placements if one.id == "item-1#1")
        self.assertEqual((kept.x_mm, kept.y_mm), (120, 90))
        huge = project(box(900, 5, 5), replace(box(180, 150, 20), quantity=3))
        left = arranged(huge, "insert-1", seed=1, token=Quiet(), steps=12).left_over
        self.assertEqual({one.why for one in left}, {"too_large", "no_room"})
