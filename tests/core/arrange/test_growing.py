"""A bed that is nearly full: laid in a larger one, pushed together into the true one, walls kept, rows whole."""

from __future__ import annotations

import random
import unittest

import shapely
from msgspec.structs import replace

from cozy_burrow.core.arrange.contacts import Body, shortfalls
from cozy_burrow.core.arrange.growing import is_worth_it, larger, pushed_together
from cozy_burrow.core.arrange.moves import gather_row
from cozy_burrow.core.arrange.pieces import Bed, Form, Piece, taken_apart
from cozy_burrow.core.arrange.search import Search
from cozy_burrow.core.arrange.way import Way
from cozy_burrow.core.arrange.wishes import STYLES, Aims
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.ground.arranging import Arranger, first_way
from cozy_burrow.core.model.records import Item, Rules
from cozy_burrow.core.progress import Quiet
from tests.core.arrange.shapes import StopsAfter, judge
from tests.makers import box, drawer, project, rod, stations

NOTCHED = shapely.box(0, 0, 300, 200).difference(shapely.box(0, 0, 60, 50))


def kit() -> list[Item]:
    """Return tools of four kinds, some of them several times."""
    turned = (
        ("mandrel", 1, "forming", "0:26 20:26 20:12 300:24"),
        ("mallet", 1, "forming", "0:45x45 70:45x45 70:18 250:22"),
        ("pliers", 2, "pliers", "0:8x9 30:18x12 60:22x12 140:38x10"),
        ("gravers", 5, "cutting", "0:14 40:22 50:8 110:3"),
        ("dividers", 1, "marking", "0:20x9 30:14x8 130:5x5"),
        ("tweezers", 2, "solder", "0:11x8 100:9x5 160:2x2"),
    )
    boxes = (
        ("saw frame", "cutting", 165.0, 75.0, 16.0),
        ("bench pin", "cutting", 120.0, 60.0, 22.0),
        ("flux jar", "solder", 60.0, 60.0, 48.0),
        ("solder tin", "solder", 80.0, 52.0, 18.0),
        ("gauge", "marking", 230.0, 40.0, 6.0),
    )
    found = [replace(stations(text, name=name), quantity=count, group=group) for name, count, group, text in turned] + [
        replace(box(long, wide, thick, name=name), group=group) for name, group, long, wide, thick in boxes
    ]
    return [*found, replace(rod(150.0, 8.0, name="scribe"), group="marking")]


def block(name: str, wide: float, deep: float) -> Piece:
    return Piece((name, 1), [Form(shapely.box(-wide / 2, -deep / 2, wide / 2, deep / 2), 10.0)], angles_deg=(0.0, 90.0))


class Larger(unittest.TestCase):
    def test_it_grows_round_its_middle_with_what_is_fixed(self) -> None:
        bed = Bed(NOTCHED, [(shapely.box(250, 150, 270, 170), 6.0)])
        grown = larger(bed, 1.1)
        self.assertAlmostEqual(grown.area.area, NOTCHED.area * 1.21, places=6)
        self.assertEqual([round(one, 6) for one in grown.room], [-15.0, -10.0, 315.0, 210.0])
        ((area, wall),) = grown.fixed
        self.assertAlmostEqual(area.area, 400.0, places=6)  # it is moved, not larger
        self.assertAlmostEqual(area.centroid.x, 150 + 1.1 * 110, places=6)
        self.assertEqual(wall, 6.0)

    def test_what_is_pushed_together_keeps_every_wall_or_is_refused(self) -> None:
        bed = Bed(shapely.box(0, 0, 300, 200))
        form = Form(shapely.box(-40, -40, 40, 40), 10.0)
        grown = larger(bed, 1.08)
        rows = [(x, y) for x in (40, 130, 220) for y in (40, 130)]
        bodies = [Body(form, grown.room[0] + x + n, grown.room[1] + y + n, 0.0) for n, (x, y) in enumerate(rows)]
        self.assertEqual(shortfalls(bodies, grown), (0.0, 0.0))
        pushed = pushed_together(bodies, bed, 1.08, Quiet())
        assert pushed is not None
        self.assertEqual(shortfalls(pushed, bed), (0.0, 0.0))
        self.assertIsNone(pushed_together(bodies, Bed(shapely.box(0, 0, 250, 150)), 1.08, Quiet()))

    def test_more_than_the_bed_is_not_tried(self) -> None:
        bed = Bed(shapely.box(0, 0, 300, 200))
        self.assertTrue(is_worth_it([block(f"b{n}", 60, 60) for n in range(10)], bed))
        self.assertFalse(is_worth_it([block(f"b{n}", 60, 60) for n in range(13)], bed))


class NearlyFull(unittest.TestCase):
    def test_what_finds_no_place_one_by_one_is_laid_all_the_same(self) -> None:
        """Nine tenths of the bed are taken; where one by one leaves something over, a larger bed may help."""
        grown = 0
        for seed in range(3, 8):
            chance = random.Random(seed)
            pieces = [block(f"b{n}", chance.uniform(30, 110), chance.uniform(25, 50)) for n in range(14)]
            area = sum((piece.forms[0].shape.buffer(5.0)).area for piece in pieces)
            side = (area / 0.9 / 1.5) ** 0.5
            bed = Bed(shapely.box(0, 0, 1.5 * side, side))
            search = Search(pieces, bed, Aims(bed.room), Way(STYLES["tidy"], seed=seed))
            plan = search.plan
            assert plan is not None
            search._laying.lay_left(plan, pieces, search.leaning, Quiet())
            if not plan.left:
                continue
            before = len(plan.left)
            while search._laying.may_grow:
                search._laying.grow(Quiet())
            judge(self, search.layout(), pieces, bed)
            grown += len(plan.left) < before
        self.assertGreaterEqual(grown, 1)

    def test_a_row_of_several_kinds_keeps_what_is_alike_together_where_it_falls_apart(self) -> None:
        arranger = Arranger(project(*kit(), bay=drawer(width=520.0, depth=360.0), rules=Rules()), "insert-1")
        (cutting,) = [piece for piece in arranger.pieces if piece.copies == 7]
        gravers, rest = cutting.instead
        self.assertEqual({item for item, _ in gravers.keys}, {"item-4"})
        self.assertEqual((gravers.copies, rest.copies), (5, 2))
        found = [key for piece in taken_apart([cutting]) for key in piece.keys]
        self.assertEqual(sorted(found), sorted(cutting.keys))

    def test_a_row_that_lies_apart_is_gathered_where_there_is_room(self) -> None:
        sticks = replace(stations("0:14 40:22 50:8 110:3", name="graver"), quantity=4)
        arranger = Arranger(project(sticks, box(60.0, 60.0), bay=drawer(width=420.0, depth=300.0)), "insert-1")
        search = arranger.search(Way(STYLES["tidy"], seed=3))
        plan = search.plan
        assert plan is not None
        (row,) = plan.rows
        search._laying.lay_left(plan, taken_apart(arranger.pieces), None, Quiet())
        self.assertTrue(plan.is_apart(row))
        self.assertTrue(gather_row(plan, search.leaning, random.Random(1)))
        self.assertFalse(plan.is_apart(row))
        self.assertEqual(sum(one.piece.copies for one in plan.laid), 5)
        self.assertFalse(gather_row(plan, search.leaning, random.Random(1)))  # it lies whole by now

    def test_a_stop_in_the_larger_bed_leaves_what_lay_before(self) -> None:
        pieces = [block(f"b{n}", 60, 60) for n in range(9)]
        bed = Bed(shapely.box(0, 0, 290, 190))
        search = Search(pieces, bed, Aims(bed.room), Way(STYLES["tidy"], seed=1))
        plan = search.plan
        assert plan is not None
        search._laying.lay_left(plan, pieces[:4], search.leaning, Quiet())
        plan.left = search._laying.untried = pieces[4:]
        with self.assertRaises(Cancelled):
            search._laying.grow(StopsAfter(2))
        self.assertEqual((len(plan.laid), plan.left, search.untried), (4, pieces[4:], pieces[4:]))

    def test_rows_stay_whole_in_a_drawer_that_is_nearly_full(self) -> None:
        """Eighteen things of a jeweller's: laid one by one in this drawer, all of its rows fell apart."""
        for wide, deep in ((520.0, 360.0), (512.0, 356.0)):
            plan = project(*kit(), bay=drawer(width=wide, depth=deep), rules=Rules())
            arranger = Arranger(plan, "insert-1")
            search = arranger.search(first_way(STYLES["tidy"], seed=1))
            search.first(Quiet())
            assert search.plan is not None
            for _ in range(5):  # where everything lies, but a row not as a whole, a larger bed is tried between moves
                if search._laying.may_grow:
                    search.advance(Quiet())
            self.assertEqual(search.layout().left_over, ())
            self.assertEqual(len(search.plan.rows), 4)
            self.assertEqual([row.key for row in search.plan.rows if search.plan.is_apart(row)], [])
            judge(self, search.layout(), arranger.pieces, arranger.bed)
