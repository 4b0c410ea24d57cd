"""Every wish against layouts whose score is known by hand."""

from __future__ import annotations

import unittest

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from cozy_burrow.core.arrange.facts import facts_of, sets_of
from cozy_burrow.core.arrange.spare import largest_rectangle, room
from cozy_burrow.core.arrange.symmetry import symmetry
from cozy_burrow.core.arrange.wishes import (
    STYLES,
    WISHES,
    Aims,
    Lying,
    Wish,
    aligned,
    at_hand,
    balance,
    handles,
    rows,
    together,
    weighed,
)
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Item
from tests.makers import DRIVER, box, rod, stations

AIMS = Aims((0.0, 0.0, 400.0, 200.0), least_mm=10.0)


def lying(item: Item, x: float, y: float, angle: float = 0.0, *, copy: int = 1, **facts: object) -> Lying:
    shape = placed(polygon_of(item.outline), x_mm=x, y_mm=y, angle_deg=angle)
    return Lying((item.id, copy), replace(facts_of(item), **facts), shape, x, y, angle)


def boxes(count: int, *places: tuple[float, float], **facts: object) -> list[Lying]:
    return [lying(box(40, 20), x, y, copy=n, **facts) for n, (x, y) in enumerate(places[:count])]


class Facts(unittest.TestCase):
    def test_the_handle_is_the_end_that_the_balance_point_is_near(self) -> None:
        facts = facts_of(stations(DRIVER))
        assert facts.handle is not None and facts.axis_deg is not None
        self.assertAlmostEqual(abs(facts.handle[0]), 1.0, places=6)
        self.assertLess(facts.handle[0] * 1.0, 0.0)  # the 32 mm end comes first, at the left
        self.assertLess(facts.balance[0], 0.0)
        self.assertIsNone(facts_of(box(60, 20)).handle)
        self.assertIsNone(facts_of(box(30, 25)).axis_deg)

    def test_what_is_round_has_a_direction_though_it_is_short_and_a_disc_has_none(self) -> None:
        self.assertAlmostEqual(facts_of(rod(30, 24)).axis_deg or 0.0, 0.0, places=6)
        self.assertIsNone(facts_of(rod(42, 55)).axis_deg)  # a reel on its rim
        self.assertIsNone(facts_of(box(30, 24)).axis_deg)
        sockets = [replace(rod(26 + n, 14 + 2 * n), id=f"s{n}", group="sockets") for n in range(5)]
        self.assertEqual(set(sets_of(sockets)), {f"s{n}" for n in range(5)})

    def test_a_set_is_three_long_things_of_a_group_that_are_long_alike(self) -> None:
        items = [replace(box(length, 10), id=f"i{length}", group="bars") for length in (50, 60, 90, 400)]
        self.assertEqual(sets_of(items), {"i50": "bars", "i60": "bars", "i90": "bars"})
        self.assertEqual(sets_of(items[:2]), {})
        twins = [replace(box(50, 10), id="t", group="bars", quantity=3)]
        self.assertEqual(sets_of(twins), {"t": "bars"})
        self.assertEqual(sets_of([replace(one, group="") for one in items]), {})


class Each(unittest.TestCase):
    def test_neighbours_of_a_group_at_their_wall_are_fully_together(self) -> None:
        close = boxes(3, (30, 30), (80, 30), (130, 30), group="a")
        self.assertAlmostEqual(together(close, AIMS).score or 0, 1.0)
        self.assertAlmostEqual(together(close, AIMS).figure, 10.0)
        apart = boxes(2, (30, 30), (140, 30), group="a")  # 60 mm more than the wall: half
        self.assertAlmostEqual(together(apart, AIMS).score or 0, 0.5)
        self.assertIsNone(together(boxes(2, (30, 30), (90, 30)), AIMS).score)

    def test_a_row_sorted_by_size_is_a_row_and_one_out_of_order_is_not(self) -> None:
        sizes = (40, 55, 70, 85)
        items = [replace(box(length, 12), id=f"b{length}") for length in sizes]
        row = [lying(item, 100, 30 + 24 * n, set_name="s") for n, item in enumerate(items)]
        self.assertEqual(rows(row, AIMS).score, 1.0)
        mixed = [lying(item, 100, 30 + 24 * n, set_name="s") for n, item in zip((0, 2, 1, 3), items)]
        self.assertLess(rows(mixed, AIMS).score or 0, 0.7)
        turned = [lying(item, 100, 30 + 24 * n, 90 * (n == 1), set_name="s") for n, item in enumerate(items)]
        self.assertAlmostEqual(rows(turned, AIMS).score or 0, 1 / 3)
        self.assertIsNone(rows(row[:1], AIMS).score)

    def test_directions_count_by_length_and_two_of_them_are_few(self) -> None:
        long = box(100, 10)
        three = [lying(long, 50, 30 * n, angle, copy=n) for n, angle in enumerate((0, 0, 90, 45))]
        self.assertAlmostEqual(aligned(three, AIMS).score or 0, 0.75)
        self.assertAlmostEqual(aligned(three[:3], AIMS).score or 0, 1.0)
        self.assertAlmostEqual(aligned([three[0], lying(long, 0, 0, 181.0)], AIMS).score or 0, 1.0)

    def test_what_is_used_daily_lies_nearer_to_the_hand(self) -> None:
        front, back = lying(box(), 100, 180, use="daily"), lying(box(), 100, 20, use="rare")
        wish = at_hand([front, back], AIMS)
        self.assertGreater(wish.score or 0, 0.99)
        self.assertEqual(wish.figure, 1.0)
        self.assertEqual(at_hand([replace_use(front, "rare"), replace_use(back, "daily")], AIMS).figure, 0.0)
        self.assertIsNone(at_hand([front], AIMS).score)
        self.assertEqual(at_hand([lying(box(), 30, 100, use="daily"), lying(box(), 100, 100)], AIMS).figure, 1.0)
        left = Aims(AIMS.room, hand="left")
        sides = [lying(box(), 30, 100, use="daily"), lying(box(), 300, 100, use="weekly")]
        self.assertEqual(at_hand(sides, left).figure, 1.0)

    def test_a_handle_to_the_front_is_met_and_one_across_is_half_met(self) -> None:
        driver = stations(DRIVER)  # its handle points to the left as drawn
        self.assertAlmostEqual(handles([lying(driver, 0, 0, 270.0)], AIMS).score or 0, 1.0, places=5)
        self.assertAlmostEqual(handles([lying(driver, 0, 0, 90.0)], AIMS).score or 0, 0.0, places=5)
        self.assertAlmostEqual(handles([lying(driver, 0, 0, 0.0)], AIMS).score or 0, 0.5, places=5)

    def test_weight_under_the_handle_is_balanced_and_other_tiers_count(self) -> None:
        heavy, light = lying(box(), 100, 100, mass_g=300.0), lying(box(), 300, 100, mass_g=100.0)
        wish = balance([heavy, light], AIMS)
        self.assertAlmostEqual(wish.figure, 50.0)
        handle = Aims(AIMS.room, target=(150.0, 0.0), along="x")
        self.assertAlmostEqual(balance([heavy, light], handle).figure, 0.0)
        carried = Aims(AIMS.room, others=[(200.0, (300.0, 100.0))])
        self.assertAlmostEqual(balance([heavy, light], carried).figure, 0.0)
        self.assertIsNone(balance([], carried).score)

    def test_styles_weigh_every_wish_and_what_does_not_apply_does_not_count(self) -> None:
        for weights in STYLES.values():
            self.assertEqual(set(weights), set(WISHES))
        wishes = [Wish("rows", None), Wish("aligned", 0.5), Wish("together", 1.0)]
        self.assertAlmostEqual(weighed(wishes, {"rows": 9, "aligned": 1, "together": 3}), 87.5)
        self.assertEqual(weighed([Wish("rows", None)], {"rows": 1}), 100.0)


def replace_use(one: Lying, use: str) -> Lying:
    return Lying(one.key, replace(one.facts, use=use), one.shape, one.x_mm, one.y_mm, one.angle_deg)


class Room(unittest.TestCase):
    def test_an_empty_bed_is_one_area_and_two_halves_are_not(self) -> None:
        free = np.ones((100, 150), dtype=bool)
        whole = room(free, (0.0, 0.0), 2.0, picture=True)
        self.assertGreater(whole.score or 0, 0.9)  # corners are rounded, the rim is a cell wide
        self.assertAlmostEqual(whole.figure, 100 * 150 * 4, delta=100 * 150 * 4 * 0.1)
        free[:, 74:76] = False
        half = room(free, (0.0, 0.0), 2.0, picture=True)
        self.assertAlmostEqual(half.score or 0, 0.5, delta=0.08)
        rectangle = next(area for area, name in half.areas if name == "rectangle")
        self.assertAlmostEqual(rectangle.bounds[2] - rectangle.bounds[0], 148, delta=8)

    def test_a_strip_too_narrow_for_things_is_no_room(self) -> None:
        free = np.zeros((100, 150), dtype=bool)
        free[:, 10:20] = True
        self.assertEqual(room(free, (0.0, 0.0), 2.0, picture=False).score, 0.0)
        self.assertEqual(room(np.zeros((9, 9), dtype=bool), (0.0, 0.0), 2.0, picture=True).score, 0.0)

    @settings(derandomize=True, deadline=None, max_examples=60)
    @given(st.integers(1, 7), st.integers(1, 7), st.integers(0, 2**49 - 1))
    def test_the_largest_rectangle_is_that_of_trying_all(self, rows: int, columns: int, bits: int) -> None:
        cells = np.array([bool(bits >> n & 1) for n in range(rows * columns)]).reshape(rows, columns)
        row, column, high, wide = largest_rectangle(cells)
        self.assertTrue(cells[row : row + high, column : column + wide].all())
        best = max(
            (
                (b - a) * (d - c)
                for a in range(rows)
                for b in range(a + 1, rows + 1)
                for c in range(columns)
                for d in range(c + 1, columns + 1)
                if cells[a:b, c:d].all()
            ),
            default=0,
        )
        self.assertEqual(high * wide, best)

    def test_the_picture_of_the_area_is_as_large_as_its_figure_says(self) -> None:
        free = np.ones((60, 60), dtype=bool)
        free[:20, :20] = False
        wish = room(free, (10.0, 20.0), 3.2, picture=True)
        area = next(area for area, name in wish.areas if name == "area")
        self.assertLess(area.area, 60 * 60 * 3.2**2)
        self.assertGreater(area.area, wish.figure)
        self.assertTrue(shapely.box(10, 20, 10 + 60 * 3.2, 20 + 60 * 3.2).buffer(0.01).covers(area))


class Symmetry(unittest.TestCase):
    """In a room of 400 x 200: boxes of 40 x 20, each a hundredth of it."""

    def test_what_has_its_like_across_the_middle_is_mirrored(self) -> None:
        pair = symmetry([lying(box(40, 20), 100, 50), lying(box(40, 20), 300, 50, copy=2)], AIMS)
        self.assertAlmostEqual(pair.figure, 1.0, places=9)
        self.assertAlmostEqual(pair.score or 0, 1.0, places=9)
        self.assertEqual([fine for _, _, fine in pair.lines], [True])  # the middle, and nobody alone

    def test_what_lies_on_the_middle_is_its_own_like(self) -> None:
        found = symmetry([lying(box(40, 20), 200, 50), lying(box(40, 20), 200, 150, copy=2)], AIMS)
        self.assertAlmostEqual(found.figure, 1.0, places=9)

    def test_one_side_alone_is_not_mirrored_at_all(self) -> None:
        found = symmetry([lying(box(40, 20), 60, 50), lying(box(40, 20), 60, 150, copy=2)], AIMS)
        self.assertEqual((found.figure, found.score), (0.0, 0.0))
        self.assertEqual(
            found.lines[1:], ((((60.0, 50.0), (340.0, 50.0), False)), ((60.0, 150.0), (340.0, 150.0), False))
        )

    def test_a_pair_that_misses_by_half_its_width_is_half_mirrored(self) -> None:
        found = symmetry([lying(box(40, 20), 100, 50), lying(box(40, 20), 320, 50, copy=2)], AIMS)
        self.assertAlmostEqual(found.figure, 0.5, places=9)
        self.assertAlmostEqual(found.score or 0, (0.5 - 0.02) / 0.98, places=9)

    def test_one_thing_alone_has_nothing_to_be_like(self) -> None:
        self.assertIsNone(symmetry([lying(box(40, 20), 200, 50)], AIMS).score)

    @given(st.lists(st.tuples(st.floats(30, 370), st.floats(20, 180), st.floats(0, 180)), min_size=2, max_size=6))
    @settings(max_examples=40, deadline=None)
    def test_a_mirror_changes_nothing(self, places: list[tuple[float, float, float]]) -> None:
        def found(flip: bool) -> Wish:
            return symmetry(
                [
                    lying(box(40, 20), 400 - x if flip else x, y, -angle if flip else angle, copy=n)
                    for n, (x, y, angle) in enumerate(places)
                ],
                AIMS,
                picture=False,
            )

        self.assertAlmostEqual(found(False).figure, found(True).figure, places=6)
        self.assertTrue(0.0 <= found(False).figure <= 1.0)
