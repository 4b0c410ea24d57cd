"""Where a box fits on a board as measured: against sampling and closed forms; what a purchase adds up to."""

from __future__ import annotations

import math
import unittest

import numpy as np
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from shapely import affinity
from shapely.geometry import Polygon, box

from cozy_burrow.core.foam.boards import box_spot, measured_outline, serves, sheet_of
from cozy_burrow.core.foam.purchase import CutBoard, Order, Purchase, Wanted, offcuts
from cozy_burrow.core.model.records import Sheet
from cozy_burrow.core.model.vessels import Board, Piece

corner = st.tuples(st.floats(-30, 30), st.floats(-30, 30))


def leaning(shifts: list[tuple[float, float]]) -> Polygon:
    """Return a board of about 400 x 300 with its corners shifted."""
    base = ((0, 0), (400, 0), (400, 300), (0, 300))
    return Polygon([(x + dx, y + dy) for (x, y), (dx, dy) in zip(base, shifts)])


class Spots(unittest.TestCase):
    @settings(derandomize=True, deadline=None, max_examples=60)
    @given(st.lists(corner, min_size=4, max_size=4), st.floats(40, 420), st.floats(40, 320))
    def test_a_spot_holds_the_box_and_no_spot_means_no_place_along_any_edge(
        self, shifts: list[tuple[float, float]], wide: float, deep: float
    ) -> None:
        outline = leaning(shifts)
        assume(outline.is_valid and outline.convex_hull.area - outline.area < 1e-6)
        spot = box_spot(outline, wide, deep)
        if spot is not None:
            x, y, angle = spot
            laid = affinity.translate(affinity.rotate(box(0, 0, wide, deep), angle, origin=(0, 0)), x, y)
            self.assertLess(laid.difference(outline.buffer(0.01)).area, 1e-3)
            return
        for n in range(4):
            (x0, y0), (x1, y1) = outline.exterior.coords[n], outline.exterior.coords[n + 1]
            angle = math.degrees(math.atan2(y1 - y0, x1 - x0)) % 90.0  # quarter turns are the nester's: there is grain
            turned = affinity.rotate(outline, -angle, origin=(0, 0))
            left, top, right, bottom = turned.bounds
            for x in np.arange(left, right - wide, 4.0):
                for y in np.arange(top, bottom - deep, 4.0):
                    self.assertFalse(turned.buffer(-0.01).covers(box(x, y, x + wide, y + deep)))

    def test_a_piece_turned_out_of_square_keeps_its_sides(self) -> None:
        for diagonal in (480.0, 500.0, 515.0):
            piece = Piece(id="p", board=Board(id="b", name="b"), sides_mm=(400, 300, 400, 300), diagonal_mm=diagonal)
            ring = shapely.get_coordinates(measured_outline(piece))
            sides = np.hypot(*np.diff(ring, axis=0).T)
            np.testing.assert_allclose(sides, [400, 300, 400, 300], atol=0.01)
            self.assertAlmostEqual(math.dist(ring[0], ring[2]), diagonal, delta=0.01)

    def test_a_hollow_edge_takes_what_a_triangle_says(self) -> None:
        straight = Piece(id="p", board=Board(id="b", name="b"), sides_mm=(400, 300, 400, 300))
        hollow = Piece(id="q", board=straight.board, sides_mm=straight.sides_mm, bow_mm=(5.0, 0.0, 0.0, 2.0))
        lost = measured_outline(straight).area - measured_outline(hollow).area
        self.assertAlmostEqual(lost, 400 * 5 / 2 + 300 * 2 / 2, delta=0.1)

    def test_the_offcut_of_a_leaning_piece_lies_on_the_piece(self) -> None:
        leaning = Piece(
            id="p",
            board=Board(id="b", name="b"),
            sides_mm=(400, 300, 400, 300),
            diagonal_mm=520.0,
            bow_mm=(0, 3.0, 0, 0),
        )
        outline = measured_outline(leaning)
        spot = box_spot(outline, 150.0, 250.0)
        assert spot is not None
        laid = affinity.translate(affinity.rotate(box(0, 0, 150, 250), spot[2], origin=(0, 0)), spot[0], spot[1])
        cut = CutBoard(leaning.board, leaning, outline, ((Wanted("w", Sheet(), laid), laid),))
        found = offcuts(cut)
        self.assertTrue(found)
        for wide, deep in found:
            self.assertIsNotNone(box_spot(outline, wide, deep))
            self.assertLess(wide * deep, outline.area - laid.area)


class Serving(unittest.TestCase):
    def test_a_named_board_serves_its_own_sheets_only(self) -> None:
        one, other = Board(id="a", name="a"), Board(id="b", name="b")
        self.assertTrue(serves(one, sheet_of(one)))
        self.assertFalse(serves(other, sheet_of(one)))
        self.assertTrue(serves(one, Sheet(thickness_mm=50.6)))
        self.assertFalse(serves(one, Sheet(thickness_mm=52.0)))
        self.assertFalse(serves(one, Sheet(contrast_layers=1)))
        self.assertFalse(serves(one, Sheet(material="plain", pitch_mm=50.0)))


class Purchases(unittest.TestCase):
    def test_shares_of_used_kept_and_wasted_foam_make_a_whole(self) -> None:
        board = Board(id="a", name="a", width_mm=500.0, depth_mm=300.0, price=12.0, pack=2)
        blank = Wanted("w", Sheet(), box(0, 0, 420, 180))
        cut = CutBoard(board, None, box(0, 0, 500, 300), ((blank, box(0, 0, 420, 180)),))
        plan = Purchase((cut,), (Order(board=board, packs=1),), (("yard", 4.0),), (), proven=True)
        self.assertEqual(plan.cost, 16.0)
        used = 420 * 180 / (500 * 300)
        self.assertAlmostEqual(used + plan.kept_share + plan.waste_share, 1.0)
        self.assertEqual(offcuts(cut), ((500, 120), (80, 180)))
        self.assertEqual(Purchase((), (), (), (), proven=True).waste_share, 0.0)
