"""Frames against carpentry in closed form: what is sawn closes round the inside, screws are where boards are."""

from __future__ import annotations

import itertools
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace
from shapely.geometry import MultiPolygon, Point, box
from shapely.ops import unary_union

from cozy_burrow.core.bench.frames import FramePlan, frame_of, hung
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Container
from cozy_burrow.core.model.vessels import Corner, Frame, Obstacle

WALL = Container(name="Wall", kind="wall", width_mm=460, depth_mm=380, height_mm=50, frame=Frame(board_mm=12))
TRAY = Container(name="Tray", kind="drawer", width_mm=300, depth_mm=200, height_mm=75, frame=Frame(board_mm=10))
JOINTS = ("butt", "rebate", "mitre")
KINDS = st.sampled_from([WALL, TRAY])


def put_together(plan: FramePlan) -> MultiPolygon:
    """Return the boards laid round the inside as their lengths and joints say, seen from the front."""
    board, (wide, high) = plan.boards[0].thick_mm, plan.outside_mm
    across, upright = plan.boards
    low = (wide - across.length_mm) / 2
    left = (high - upright.length_mm) / 2
    pieces = [box(low, 0, wide - low, board), box(low, high - board, wide - low, high)]
    pieces += [box(0, left, board, high - left), box(wide - board, left, wide, high - left)]
    return unary_union(pieces)


class Boards(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(KINDS, st.sampled_from(JOINTS), st.integers(6, 24), st.integers(120, 900), st.integers(120, 900))
    def test_they_close_round_the_inside(self, kind: Container, joint: str, board: int, wide: int, deep: int) -> None:
        frame = Frame(board_mm=float(board), joint=joint)  # type: ignore[arg-type]
        plan = frame_of(replace(kind, width_mm=float(wide), depth_mm=float(deep), frame=frame))
        self.assertEqual(plan.outside_mm, (wide + 2 * board, deep + 2 * board))
        whole = put_together(plan)
        ring = box(0, 0, *plan.outside_mm).difference(box(board, board, board + wide, board + deep))
        self.assertLess(whole.symmetric_difference(ring).area, 1e-6)
        through = [one.is_through for one in plan.boards]
        self.assertEqual(
            through,
            [True, True] if joint == "mitre" else [False, True] if kind is WALL or deep > wide else [True, False],
        )

    def test_lengths_by_each_joint(self) -> None:
        lengths = {}
        for joint in JOINTS:
            plan = frame_of(replace(WALL, frame=Frame(board_mm=12, joint=joint)))  # type: ignore[arg-type]
            lengths[joint] = [one.length_mm for one in plan.boards]
            self.assertEqual({one.width_mm for one in plan.boards}, {50.0})
        self.assertEqual(lengths, {"butt": [460, 404], "rebate": [472, 404], "mitre": [484, 404]})
        self.assertEqual([one.length_mm for one in frame_of(TRAY).boards], [320, 200])

    def test_a_panel_hangs_on_its_uprights_however_it_is_turned(self) -> None:
        plan = frame_of(replace(WALL, down="left"))
        self.assertEqual(plan.inside_mm, (380, 460))
        self.assertEqual([(one.pair, one.length_mm) for one in plan.boards], [("top_bottom", 380), ("sides", 484)])
        for down, lowest in (("front", (0, 380)), ("back", (460, 0)), ("left", (0, 0)), ("right", (460, 380))):
            box_ = replace(WALL, down=down)
            self.assertEqual(hung(box_, *lowest), (0, 0), down)
            seen = {hung(box_, x, y) for x, y in itertools.product((0, 460), (0, 380))}
            self.assertEqual(len(seen), 4)
            self.assertTrue(all(x >= 0 and y >= 0 for x, y in seen))

    def test_the_back_stands_out_nowhere_and_its_screws_meet_the_boards(self) -> None:
        for container in (WALL, TRAY, replace(WALL, width_mm=900.0)):
            plan = frame_of(container)
            assert plan.back_mm is not None and plan.back is not None and container.frame is not None
            self.assertTrue(all(back < out for back, out in zip(plan.back_mm, plan.outside_mm)))
            self.assertEqual(plan.back.count, len(plan.back_at))
            ring = put_together(plan)
            for at in plan.back_at:
                self.assertGreater(Point(at).distance(ring.boundary), container.frame.board_mm / 2 - 0.1, at)
            for side in (0, 1):
                rows = sorted(at[side] for at in plan.back_at if at[1 - side] == container.frame.board_mm / 2)
                self.assertTrue(all(b - a <= 150.0 + 0.1 for a, b in itertools.pairwise(rows)))
        self.assertIsNone(frame_of(replace(WALL, frame=Frame(back_mm=0))).back_mm)

    def test_screws_hold_and_split_nothing(self) -> None:
        for board, size in ((9, (2.5, 25)), (12, (3.0, 30)), (15, (3.5, 40)), (18, (4.0, 45))):
            corner = frame_of(replace(WALL, frame=Frame(board_mm=float(board)))).corner
            assert corner is not None
            self.assertEqual((corner.across_mm, corner.length_mm), size)
            self.assertLess(corner.across_mm, board / 3)
            self.assertLess(corner.drill_mm, corner.across_mm)
        self.assertEqual(frame_of(WALL).corner_at_mm, (12.5, 37.5))
        self.assertEqual(len(frame_of(replace(WALL, height_mm=100.0)).corner_at_mm), 3)
        self.assertIsNone(frame_of(replace(WALL, frame=Frame(joint="mitre"))).corner)

    def test_no_screw_comes_out_and_all_of_it_is_weighed(self) -> None:
        back = frame_of(replace(WALL, height_mm=16.0, frame=Frame(back_mm=6.0))).back
        assert back is not None
        self.assertLess(back.length_mm, 6.0 + 16.0)
        plan = frame_of(WALL)
        boards = 2 * (460 + 404) * 50 * 12 * 600e-6
        self.assertAlmostEqual(plan.boards_g, boards)
        self.assertAlmostEqual(plan.mass_g, boards + 483 * 403 * 4 * 600e-6)
        self.assertEqual(frame_of(replace(WALL, frame=Frame(back_mm=0.0))).mass_g, plan.boards_g)

    def test_it_is_fixed_where_the_container_says_or_near_its_corners(self) -> None:
        plan = frame_of(WALL)
        self.assertEqual(set(plan.fixings), {(40, 40), (420, 40), (40, 340), (420, 340)})
        wide = frame_of(replace(WALL, width_mm=900.0))
        self.assertEqual(len(wide.fixings), 8)
        self.assertEqual(frame_of(TRAY).fixings, ())
        spot = Obstacle(name="f", kind="fixing", ring=((90, 40), (110, 40), (110, 60), (90, 60)))
        self.assertEqual(frame_of(replace(WALL, obstacles=(spot,))).fixings, ((100, 330),))

    def test_what_cannot_be_framed_is_refused(self) -> None:
        odd = tuple(Corner(name=n, x_mm=x, y_mm=y) for n, x, y in (("A", 0, 0), ("B", 300, 0), ("C", 0, 200)))
        for wrong, said in (
            (replace(WALL, frame=None), "no frame is planned"),
            (replace(WALL, kind="case"), "straight rectangle"),
            (replace(WALL, corners=odd), "straight rectangle"),
            (replace(WALL, draft_deg=(2.0, 2.0, 2.0, 2.0)), "straight rectangle"),
        ):
            with self.assertRaisesRegex(UnusableInput, said):
                frame_of(wrong)
