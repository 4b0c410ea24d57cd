"""Pieces, forms, beds and the way one piece is laid: what fits, what leans where, what a footprint asks for."""

from __future__ import annotations

import random
import unittest

import numpy as np
import shapely
from msgspec.structs import replace

from cozy_burrow.core.arrange.by_hand import mirrored, runs_down, spread
from cozy_burrow.core.arrange.by_itself import best_spot
from cozy_burrow.core.arrange.facts import facts_of
from cozy_burrow.core.arrange.pieces import (
    Bed,
    Form,
    Part,
    Piece,
    diagonals,
    goes_in_straight,
    taken_apart,
    wanted_among,
    wanted_between,
)
from cozy_burrow.core.arrange.placing_in import Leaning, best_place, nearest_place
from cozy_burrow.core.arrange.plan import Plan
from cozy_burrow.core.arrange.raster import Grid
from cozy_burrow.core.arrange.wishes import STYLES, Aims
from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.edits import lock_placements
from cozy_burrow.core.model.records import Rules
from cozy_burrow.core.pulls.forms import APART_MM, footprint, wall_of
from tests.makers import box, drawer, laid, project, rod

BLOCK = shapely.box(-10, -6, 10, 6)
LINE = Rules(allowance_mm=0.0)


def piece(name: str, shape: shapely.Geometry = BLOCK, wall: float = 6.0, **facts: object) -> Piece:
    known = replace(facts_of(box(20, 12)), **facts)
    form = Form(shape, wall, parts=(Part((name, 1), shape, known),))
    return Piece((name, 1), [form], group=known.group)


class Walls(unittest.TestCase):
    def test_the_shallower_of_two_says_what_must_stand_between(self) -> None:
        shallow, deep = Form(BLOCK, 12.0), Form(BLOCK, 19.0)
        self.assertEqual(wanted_between(shallow, deep), 12.0)
        self.assertEqual(wanted_between(deep, shallow), 12.0)

    def test_what_snapping_to_cubes_may_eat_is_kept_from_either_side(self) -> None:
        cubed = Form(BLOCK, 12.0 + 16.0, snap_mm=16.0)
        self.assertEqual(wanted_between(cubed, cubed), 12.0 + 16.0)
        self.assertEqual(wanted_between(cubed, Form(BLOCK, 12.0)), 12.0 + 8.0)
        forms = [cubed, Form(BLOCK, 12.0), Form(BLOCK, 20.0, snap_mm=4.0)]
        apart = [[wanted_between(one, other) for other in forms] for one in forms]
        np.testing.assert_allclose(wanted_among(forms), apart)
        self.assertEqual(Bed(shapely.box(0, 0, 9, 9)).wanted(cubed, 12.0), 12.0 + 8.0)

    def test_things_that_bulge_above_the_foam_keep_apart_there(self) -> None:
        bay = drawer()
        rules = replace(LINE, seat="half", wall_mm=6.0)
        item = replace(rod(80, 40), seat="half")
        pocket = local_pocket(item, None, bay, replace(rules, floor_layers=4))  # one layer deep: a chord
        self.assertLess(pocket.surface.bounds[3], 19.0)
        wall, _ = wall_of(pocket, bay, rules)
        shape = footprint(pocket, wall)
        self.assertTrue(shape.covers(pocket.surface))
        across = shape.bounds[3] - shape.bounds[1]
        other = placed(polygon_of(item.outline), x_mm=0.0, y_mm=across + wall, angle_deg=0.0)
        self.assertGreaterEqual(polygon_of(item.outline).distance(other), APART_MM - 1e-6)
        flat = local_pocket(box(60, 30, 12), None, bay, LINE)
        self.assertIs(footprint(flat, 12.0), flat.surface)


class Fitting(unittest.TestCase):
    def test_straight_where_it_goes_and_on_the_diagonal_where_it_must(self) -> None:
        bed = Bed(shapely.box(0, 0, 100, 60))
        self.assertTrue(goes_in_straight(shapely.box(0, 0, 59, 99), bed))
        self.assertFalse(goes_in_straight(shapely.box(0, 0, 5, 105), bed))
        bar = Piece(("bar", 1), [Form(shapely.box(-53, -2, 53, 2), 6.0)])
        angles = diagonals(bar, bed)
        self.assertTrue(angles)
        for angle in angles:
            left, top, right, bottom = placed(bar.forms[0].shape, x_mm=0, y_mm=0, angle_deg=angle).bounds
            self.assertLessEqual((right - left, bottom - top), (100.0, 60.0))
        self.assertFalse(goes_in_straight(BLOCK, Bed(shapely.Polygon())))

    def test_a_row_is_made_of_its_things_only_when_it_falls_apart(self) -> None:
        asked: list[int] = []

        def things() -> list[Piece]:
            asked.append(1)
            return [piece("a"), piece("b")]

        row = Piece(("row", 1), [Form(BLOCK, 6.0)], instead=things)
        self.assertEqual([one.key for one in row.known], [("row", 1)])
        self.assertEqual((row.is_whole, asked), (False, []))
        self.assertEqual([one.key for one in taken_apart([row, piece("c")])], [("a", 1), ("b", 1), ("c", 1)])
        self.assertEqual(len(row.instead), 2)
        self.assertEqual((asked, len(list(row.known))), ([1], 3))

    def test_a_plan_takes_a_row_apart_and_remembers_what_it_had(self) -> None:
        bed = Bed(shapely.box(0, 0, 60, 40))
        plan = Plan(bed, Aims(bed.room), STYLES["tidy"], grid=Grid(bed, cell_mm=1.0))
        long = Form(shapely.box(-40, -6, 40, 6), 6.0)
        row = Piece(("row", 1), [long], angles_deg=(0.0,), instead=lambda: [piece("a"), piece("b")])
        kept = plan.remember()
        self.assertTrue(plan.lay(row, None))
        self.assertEqual({one.piece.key for one in plan.laid}, {("a", 1), ("b", 1)})
        self.assertFalse(plan.lay(piece("c", shapely.box(-25, -15, 25, 15)), None))
        self.assertEqual(plan.worth()[0], 1)
        taken = int(plan.grid.taken.sum())
        plan.recall(kept)
        self.assertEqual((plan.laid, plan.left), ([], []))
        self.assertLess(int(plan.grid.taken.sum()), taken)

    def test_a_window_of_any_shape_covers_what_a_stamp_of_it_covers(self) -> None:
        bed = Bed(shapely.box(0, 0, 80, 60))
        grid = Grid(bed, cell_mm=1.0)
        form = Form(BLOCK, 6.0)
        found = nearest_place(Piece(("p", 1), [form]), 0, grid, 90.0, (40, 30))
        assert found is not None
        stamped = grid.taken.copy()
        row, column, cells = found.window
        stamped[row : row + cells.shape[0], column : column + cells.shape[1]] |= cells
        shape = placed(form.shape, x_mm=found.x_mm, y_mm=found.y_mm, angle_deg=90.0)
        grid.take(grid.window_of(shape, 6.0))
        np.testing.assert_array_equal(grid.taken, stamped)
        grid.take(grid.window_of(shapely.box(-90, -90, -80, -80), 6.0))  # off the grid: nothing happens
        np.testing.assert_array_equal(grid.taken, stamped)


class Leans(unittest.TestCase):
    """Where a piece goes on an empty bed says which wish leans how."""

    BED = Bed(shapely.box(0, 0, 300, 200))

    def place(self, one: Piece, style: str, *, hand: str = "front", corner: tuple[float, float] = (-1.0, 1.0)):  # type: ignore[no-untyped-def]
        aims = Aims(self.BED.room, hand=hand)  # type: ignore[arg-type]
        leaning = Leaning(aims, STYLES[style], corner=corner)  # type: ignore[index]
        return best_place(one, Grid(self.BED, cell_mm=2.0), leaning, ())

    def test_daily_things_go_to_the_hand_and_rare_ones_away_from_it(self) -> None:
        for hand, axis, sign in (("front", 1, 1), ("back", 1, -1), ("left", 0, -1), ("right", 0, 1)):
            near = self.place(piece("p", use="daily"), "tidy", hand=hand, corner=(0.0, 0.0))
            far = self.place(piece("p", use="rare"), "tidy", hand=hand, corner=(0.0, 0.0))
            places = [(one.x_mm, one.y_mm)[axis] for one in (near, far)]
            self.assertGreater(sign * (places[0] - places[1]), 50, hand)

    def test_the_tight_style_fills_its_corner(self) -> None:
        left = self.place(piece("p"), "tight")
        right = self.place(piece("p"), "tight", corner=(1.0, 1.0))
        self.assertLess(left.x_mm, 60)
        self.assertGreater(right.x_mm, 240)

    def test_a_member_of_a_group_goes_to_its_group(self) -> None:
        grid = Grid(self.BED, cell_mm=2.0)
        aims = Aims(self.BED.room)
        leaning = Leaning(aims, STYLES["tidy"], corner=(0.0, 0.0))
        there = nearest_place(piece("a", group="g"), 0, grid, 0.0, (220, 60))
        assert there is not None
        grid.take(there.window)
        joined = best_place(piece("b", group="g"), grid, leaning, [there])
        assert joined is not None
        alone = best_place(piece("c", group="h"), grid, leaning, [there])
        assert alone is not None
        near, far = (np.hypot(one.x_mm - there.x_mm, one.y_mm - there.y_mm) for one in (joined, alone))
        self.assertLess(near, 100)  # a corner that nestles may be a little off
        self.assertLess(near, far)

    def test_weight_is_laid_against_weight(self) -> None:
        grid = Grid(self.BED, cell_mm=2.0)
        aims = Aims(self.BED.room, target=(150.0, 100.0))
        leaning = Leaning(aims, STYLES["balanced"], corner=(0.0, 0.0))
        there = nearest_place(piece("a", mass_g=500.0), 0, grid, 0.0, (60, 100))
        assert there is not None
        grid.take(there.window)
        against = best_place(piece("b", mass_g=500.0), grid, leaning, [there])
        assert against is not None
        self.assertAlmostEqual(against.x_mm, 300 - there.x_mm, delta=60)  # an edge that nestles is near

    def test_noise_moves_no_piece_where_it_may_not_lie(self) -> None:
        chance = random.Random(3)
        for _ in range(10):
            found = best_place(
                piece("p"),
                Grid(self.BED, cell_mm=2.0),
                Leaning(Aims(self.BED.room), STYLES["tidy"]),
                (),
                chance=chance,
                noise=0.5,
            )
            assert found is not None
            shape = placed(BLOCK, x_mm=found.x_mm, y_mm=found.y_mm, angle_deg=found.angle_deg)
            self.assertTrue(self.BED.area.covers(shape))
        self.assertIsNone(best_spot(piece("p", shapely.box(0, 0, 400, 5)), self.BED))


class Spread(unittest.TestCase):
    def test_gaps_become_equal_either_way_and_a_locked_one_stays(self) -> None:
        plan = laid(project(*(box(30, 20) for _ in range(3)), rules=LINE), (60, 40), (90, 90), (200, 160))
        surfaces = {
            one.id: placed(shapely.box(-15, -10, 15, 10), x_mm=one.x_mm, y_mm=one.y_mm, angle_deg=0.0)
            for one in plan.inserts[0].placements
        }
        across = spread(plan, "insert-1", surfaces).inserts[0].placements
        self.assertEqual([one.x_mm for one in across], [60, 130, 200])
        self.assertEqual([one.y_mm for one in across], [40, 90, 160])
        down = spread(plan, "insert-1", surfaces, down=True).inserts[0].placements
        self.assertEqual([one.y_mm for one in down], [40, 100, 160])
        locked = lock_placements(plan, "insert-1", [plan.inserts[0].placements[1].id], locked=True)
        self.assertEqual(spread(locked, "insert-1", surfaces), locked)
        two = dict(list(surfaces.items())[:2])
        self.assertEqual(spread(plan, "insert-1", two), plan)

    def test_a_gap_is_typed_and_taken_where_two_face_each_other(self) -> None:
        """Two in a row, and one behind that faces the second over 20 mm: so wide between their true sides."""
        plan = laid(project(*(box(30, 20) for _ in range(3)), rules=LINE), (60, 40), (120, 45), (200, 50))
        surfaces = {
            one.id: placed(shapely.box(-15, -10, 15, 10), x_mm=one.x_mm, y_mm=one.y_mm, angle_deg=0.0)
            for one in plan.inserts[0].placements
        }
        self.assertFalse(runs_down(surfaces))
        spaced = spread(plan, "insert-1", surfaces, gap_mm=12.5).inserts[0].placements
        self.assertEqual([one.x_mm for one in spaced], [60, 102.5, 145])
        self.assertEqual([one.y_mm for one in spaced], [40, 45, 50])
        behind = {key: shape for key, shape in surfaces.items() if key != "item-3#1"}
        down = spread(plan, "insert-1", behind, down=True, gap_mm=8.0).inserts[0].placements
        self.assertEqual(down[1].y_mm, 68.0)

    def test_places_are_mirrored_about_the_middle_of_a_selection(self) -> None:
        plan = laid(project(*(box(30, 20) for _ in range(2)), rules=LINE), (60, 40, 30), (200, 90))
        surfaces = {
            one.id: placed(shapely.box(-15, -10, 15, 10), x_mm=one.x_mm, y_mm=one.y_mm, angle_deg=one.angle_deg)
            for one in plan.inserts[0].placements
        }
        across = mirrored(plan, "insert-1", surfaces)
        left, top, right, bottom = shapely.union_all(list(surfaces.values())).bounds
        first, second = across.inserts[0].placements
        self.assertAlmostEqual(first.x_mm, left + right - 60, places=3)
        self.assertEqual((first.y_mm, first.angle_deg), (40, 150))
        self.assertAlmostEqual(second.x_mm, left + right - 200, places=3)
        again = {
            one.id: placed(shapely.box(-15, -10, 15, 10), x_mm=one.x_mm, y_mm=one.y_mm, angle_deg=one.angle_deg)
            for one in across.inserts[0].placements
        }
        for one, two in zip(mirrored(across, "insert-1", again).inserts[0].placements, plan.inserts[0].placements):
            self.assertAlmostEqual(one.x_mm, two.x_mm, places=3)
            self.assertAlmostEqual(one.angle_deg % 180.0, two.angle_deg % 180.0)
        down = mirrored(plan, "insert-1", surfaces, down=True).inserts[0].placements[0]
        self.assertAlmostEqual(down.y_mm, top + bottom - 40, places=3)
        self.assertEqual(down.angle_deg, 330)
