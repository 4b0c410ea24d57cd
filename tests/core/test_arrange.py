"""The arrangement: every result is valid, repeatable, stoppable; judged by Shapely on true shapes."""

from __future__ import annotations

import random
import unittest

import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from cozy_burrow.core.arrange.pieces import Bed, Form, Piece, longest_mm, tidy_angles
from cozy_burrow.core.arrange.by_itself import nearest_spot
from cozy_burrow.core.arrange.search import Layout, arrange
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.ground.arranging import arranged
from cozy_burrow.core.model.edits import lock_placements
from cozy_burrow.core.model.records import Rules
from cozy_burrow.core.progress import Deadline, Quiet
from tests.makers import DRIVER, L_STOP, box, drawer, laid, project, rod, stations


def random_shape(chance: random.Random) -> shapely.Polygon:
    """A box, a driver, a disc or a ragged star."""
    kind = chance.randrange(4)
    if kind == 0:
        return shapely.box(-chance.uniform(8, 50), -chance.uniform(4, 20), 20, 10)
    if kind == 1:
        return shapely.union(shapely.box(-50, -12, 0, 12), shapely.box(0, -3, chance.uniform(20, 60), 3))
    if kind == 2:
        return shapely.Point(0, 0).buffer(chance.uniform(6, 25))
    import math

    count = chance.randrange(5, 11)
    radii = [chance.uniform(8, 34) for _ in range(count)]
    ring = [(r * math.cos(math.tau * n / count), r * math.sin(math.tau * n / count)) for n, r in enumerate(radii)]
    return shapely.Polygon(ring)


def lie(layout: Layout, pieces: list[Piece]) -> list[tuple[shapely.Polygon, float]]:
    by_key = {piece.key: piece for piece in pieces}
    return [
        (
            placed(by_key[spot.key].forms[spot.form].shape, x_mm=spot.x_mm, y_mm=spot.y_mm, angle_deg=spot.angle_deg),
            by_key[spot.key].forms[spot.form].wall_mm,
        )
        for spot in layout.spots
    ]


class Search(unittest.TestCase):
    def assert_valid(self, layout: Layout, pieces: list[Piece], bed: Bed) -> None:
        shapes = [*lie(layout, pieces), *bed.fixed]
        for index, (shape, wall) in enumerate(shapes):
            if index < len(layout.spots):
                self.assertTrue(bed.area.buffer(1e-6).covers(shape))
            for other, other_wall in shapes[index + 1 :]:
                if index >= len(layout.spots):
                    continue
                # What the shallower of the two asks for is what must stand at every layer that both reach.
                self.assertGreaterEqual(shape.distance(other), min(wall, other_wall) - 1e-6)
        keys = [spot.key for spot in layout.spots] + list(layout.left_over)
        self.assertEqual(sorted(keys), sorted(piece.key for piece in pieces))

    @settings(derandomize=True, deadline=None, max_examples=25)
    @given(st.integers(0, 10_000))
    def test_no_rule_is_broken_whatever_the_kit(self, seed: int) -> None:
        chance = random.Random(seed)
        pieces = [
            Piece((f"p{n}", 1), [Form(random_shape(chance), chance.choice((6.0, 10.0, 14.0)))]) for n in range(12)
        ]
        area = shapely.box(0, 0, 260, 180).difference(shapely.box(0, 0, chance.uniform(5, 80), 60))
        fixed = [(shapely.Point(200, 120).buffer(15), 10.0)]
        bed = Bed(area, fixed)
        self.assert_valid(arrange(pieces, bed, seed=seed, token=Deadline(1.5)), pieces, bed)

    def test_the_same_seed_gives_the_same_layout(self) -> None:
        chance = random.Random(5)
        pieces = [Piece((f"p{n}", 1), [Form(random_shape(chance), 8.0)]) for n in range(8)]
        bed = Bed(shapely.box(0, 0, 300, 200))
        first, second = (arrange(pieces, bed, seed=3, token=Quiet()) for _ in range(2))
        self.assertEqual(first, second)
        self.assertEqual(first.left_over, ())

    def test_a_stop_gives_a_valid_part_of_a_layout(self) -> None:
        class After:
            def __init__(self, steps: int) -> None:
                self.left = steps

            def step(self, fraction: float) -> None:
                self.left -= 1
                if self.left < 0:
                    raise Cancelled

        pieces = [Piece((f"p{n}", 1), [Form(shapely.box(-20, -5, 20, 5), 8.0)]) for n in range(6)]
        bed = Bed(shapely.box(0, 0, 300, 200))
        for steps in (0, 1, 3):
            layout = arrange(pieces, bed, seed=1, token=After(steps))
            self.assertEqual(len(layout.spots), steps)
            self.assert_valid(layout, pieces, bed)

    def test_what_is_too_long_is_left_over_at_once(self) -> None:
        pieces = [Piece(("long", 1), [Form(shapely.box(-200, -3, 200, 3), 8.0)])]
        layout = arrange(pieces, Bed(shapely.box(0, 0, 300, 200)), seed=1, token=Quiet())
        self.assertEqual(layout.left_over, (("long", 1),))

    def test_an_empty_bed_holds_nothing(self) -> None:
        pieces = [Piece(("p", 1), [Form(shapely.box(-2, -2, 2, 2), 8.0)])]
        layout = arrange(pieces, Bed(shapely.Polygon()), seed=1, token=Quiet())
        self.assertEqual(layout.spots, ())

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
        result = arranged(plan, "insert-1", seed=1, token=Deadline(20))
        self.assertEqual(result.left_over, ())
        stops = [one for one in findings_of(result.project) if one.severity in {"stop", "care"}]
        self.assertEqual([one for one in stops if one.code != "WALL_THIN_FOR_DEPTH"], [])

    def test_locked_things_stay_and_what_is_left_over_says_why(self) -> None:
        plan = laid(project(box(80, 40, 20), box(70, 30, 20), rules=Rules(allowance_mm=0.0)), (120, 90), (40, 150))
        plan = lock_placements(plan, "insert-1", ["item-1#1"], locked=True)
        result = arranged(plan, "insert-1", seed=2, token=Deadline(10))
        kept = next(one for one in result.project.inserts[0].placements if one.id == "item-1#1")
        self.assertEqual((kept.x_mm, kept.y_mm), (120, 90))
        huge = project(box(900, 5, 5), replace(box(180, 150, 20), quantity=3))
        left = arranged(huge, "insert-1", seed=1, token=Deadline(10)).left_over
        self.assertEqual({one.why for one in left}, {"too_large", "no_room"})
