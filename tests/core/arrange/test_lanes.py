"""Lanes: everything on base lines, nearest to the hand first; and the two wishes that see it."""

from __future__ import annotations

import contextlib
import itertools
import random
import unittest

import shapely

from cozy_burrow.core.arrange.contacts import Body, shortfalls
from cozy_burrow.core.arrange.facts import Facts
from cozy_burrow.core.arrange.lanes import Lanes
from cozy_burrow.core.arrange.pieces import Bed, Form, Part, Piece
from cozy_burrow.core.arrange.search import Search
from cozy_burrow.core.arrange.tidiness import gaps, lines
from cozy_burrow.core.arrange.way import Way
from cozy_burrow.core.arrange.wishes import STYLES, Aims, Lying
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.progress import Quiet
from tests.core.arrange.shapes import StopsAfter, judge

ROOM = (10.0, 20.0, 410.0, 300.0)
BED = Bed(shapely.box(*ROOM))


def stick(name: str, long: float, wide: float = 16.0, *, use: str = "weekly", group: str = "") -> Piece:
    """Return a stick whose handle is its left end."""
    pocket = shapely.box(-long / 2, -wide / 2, long / 2, wide / 2)
    facts = Facts(
        name=name,
        group=group,
        use=use,  # type: ignore[arg-type]
        mass_g=50.0,
        balance=(-long / 6, 0.0),
        length_mm=long,
        width_mm=wide,
        axis_deg=0.0,
        handle=(-1.0, 0.0),
    )
    form = Form(pocket, 10.0, parts=(Part((name, 1), pocket, facts),))
    return Piece((name, 1), [form], group=group, angles_deg=(0.0, 90.0, 180.0, 270.0))


def sticks() -> list[Piece]:
    lengths = (150, 140, 130, 120, 110, 100, 90, 80, 70, 60)
    return [stick(f"stick {long}", long, group="long" if long > 100 else "short") for long in lengths]


def laid_out(lanes: Lanes, seed: int = 1) -> list[Body]:
    order, beyond = lanes.found(random.Random(seed), Quiet())
    assert beyond == 0
    return [Body(piece.forms[form], x, y, angle) for piece, form, x, y, angle in lanes.spots(order)]


class InLanes(unittest.TestCase):
    def test_all_stand_on_base_lines_and_keep_their_walls(self) -> None:
        for hand, corner in itertools.product(("front", "back", "left", "right"), (-1.0, 1.0)):
            aims = Aims(ROOM, hand=hand)  # type: ignore[arg-type]
            bodies = laid_out(Lanes(sticks(), BED, aims, corner=corner))
            self.assertEqual(shortfalls(bodies, BED), (0.0, 0.0), hand)
            end = {"front": 3, "back": 1, "left": 0, "right": 2}[hand]
            bases = {round(float(body.shape.bounds[end]), 1) for body in bodies}
            self.assertLessEqual(len(bases), 5, hand)
            at_hand = min(abs(base - ROOM[end]) for base in bases)
            self.assertLess(at_hand, 0.05)  # the first lane lies at the hand's side

    def test_handles_point_to_the_hand(self) -> None:
        lanes = Lanes(sticks(), BED, Aims(ROOM))
        bodies = laid_out(lanes)
        # The handle is the left end: turned by 270 degrees it points to the front, where y grows.
        self.assertGreaterEqual(sum(abs(body.angle_deg - 270.0) < 1 for body in bodies), 8)

    def test_daily_things_lie_nearer_to_the_hand(self) -> None:
        pieces = [stick(f"d{n}", 90, use="daily", group="d") for n in range(12)]
        pieces += [stick(f"r{n}", 90, use="rare", group="r") for n in range(12)]
        bodies = laid_out(Lanes(pieces, BED, Aims(ROOM)))
        y = {body.form.parts[0].key[0]: body.y_mm for body in bodies}
        daily = sum(y[f"d{n}"] for n in range(12)) / 12
        self.assertGreater(daily, sum(y[f"r{n}"] for n in range(12)) / 12)

    def test_what_does_not_fit_is_said_and_the_same_seed_gives_the_same(self) -> None:
        many = [stick(f"s{n}", 180, 30.0) for n in range(40)]
        self.assertGreater(Lanes(many, BED, Aims(ROOM)).found(random.Random(1), Quiet())[1], 100.0)
        asked = StopsAfter(10_000)
        crowded = [stick(f"s{n}", 180, 60.0) for n in range(40)]  # more than the room by its area: nobody searches
        self.assertEqual(Lanes(crowded, BED, Aims(ROOM)).found(random.Random(1), asked)[1], float("inf"))
        self.assertEqual(asked.left, 10_000 - 1)
        with self.assertRaises(ValueError):
            Lanes([stick("long", 600)], BED, Aims(ROOM))
        lanes = Lanes(sticks(), BED, Aims(ROOM))
        self.assertEqual(lanes.found(random.Random(4), Quiet()), lanes.found(random.Random(4), Quiet()))

    def test_a_search_that_is_stopped_among_lanes_that_do_not_fit_keeps_those_that_do(self) -> None:
        many = [stick(f"s{n}", 180, 30.0) for n in range(20)]
        way = Way(STYLES["tidy"], seed=1, lanes=True)
        search = Search(many, BED, Aims(ROOM), way)
        with contextlib.suppress(Cancelled):
            search.first(StopsAfter(3))
        layout = search.layout()
        self.assertGreater(len(layout.spots), 4)
        self.assertGreater(len(layout.left_over), 0)
        self.assertEqual({*layout.left_over, *(spot.key for spot in layout.spots)}, {piece.key for piece in many})
        self.assertEqual(layout.untried, set(layout.left_over))
        judge(self, layout, many, BED)


class Tidiness(unittest.TestCase):
    def lying(self, *places: tuple[float, float]) -> list[Lying]:
        facts = Facts(
            name="box", group="", use="weekly", mass_g=1.0, balance=(0.0, 0.0), length_mm=20.0, width_mm=20.0,
            axis_deg=None, handle=None,
        )  # fmt: skip
        return [
            Lying((f"box {n}", 1), facts, shapely.box(x, y, x + 20, y + 20), x, y, 0.0)
            for n, (x, y) in enumerate(places)
        ]

    def test_things_on_a_line_are_counted_and_those_beside_it_shown(self) -> None:
        wish = lines(self.lying((0, 0), (40, 0.3), (80, 7), (120, 14)), Aims(ROOM))
        self.assertEqual(wish.figure, 0.5)
        self.assertAlmostEqual(wish.score or 0, (0.5 + 1 / 3) / 2)  # four things on no fewer than three lines
        self.assertEqual([fine for _, _, fine in wish.lines].count(False), 2)
        self.assertEqual(lines(self.lying((0, 0)), Aims(ROOM)).score, None)
        self.assertEqual(lines(self.lying((0, 0), (300, 200)), Aims(ROOM)).score, None)  # nobody is beside anybody

    def test_gaps_are_even_or_not(self) -> None:
        self.assertEqual(gaps(self.lying((0, 0), (30, 0), (60.5, 0)), Aims(ROOM)).score, 1.0)
        uneven = gaps(self.lying((0, 0), (30, 0), (66, 0)), Aims(ROOM))
        self.assertAlmostEqual(uneven.score or 0, 0.5)
        self.assertEqual(uneven.figure, 0.0)
        self.assertEqual(len(uneven.lines), 2)
        self.assertEqual(gaps(self.lying((0, 0), (30, 0)), Aims(ROOM)).score, None)


if __name__ == "__main__":
    unittest.main()
