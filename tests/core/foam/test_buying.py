"""Stacks, ways to cut and the cheapest buy against brute force on small problems."""

from __future__ import annotations

import functools
import itertools
import math
import random
import unittest

import shapely
from msgspec.structs import replace
from shapely.geometry import Polygon, box

from cozy_burrow.core.errors import Cancelled, UnusableInput
from cozy_burrow.core.foam.boards import (
    box_spot,
    checked_board,
    checked_piece,
    labelled_outline,
    measured_outline,
    serves,
    sheet_of,
    shipped_stores,
)
from cozy_burrow.core.foam.buying import plan_purchase
from cozy_burrow.core.foam.nesting import Nester
from cozy_burrow.core.foam.purchase import Purchase, Wanted, offcuts
from cozy_burrow.core.foam.stacks import StackWish, blanks_on, stacks_for
from cozy_burrow.core.model.records import Sheet
from cozy_burrow.core.model.vessels import Board, Piece, Stores, Supplier
from cozy_burrow.core.progress import Deadline


def board(name: str = "a", **fields: object) -> Board:
    """Return a board for a price."""
    return replace(Board(id=name, name=name, width_mm=100.0, depth_mm=60.0, price=10.0), **fields)


@functools.cache
def goes_on(rects: tuple[tuple[int, int], ...], width: int, depth: int) -> bool:
    """Return by trying every whole millimetre whether rectangles go on a board side by side; cells are bits."""

    def spots(w: int, d: int) -> list[int]:
        row = (1 << w) - 1
        shape = sum(row << (line * width) for line in range(d))
        return [shape << (y * width + x) for y in range(depth - d + 1) for x in range(width - w + 1)]

    def lay(rest: tuple[tuple[int, int], ...], taken: int) -> bool:
        if not rest:
            return True
        (w, d), more = rest[0], rest[1:]
        return any(not spot & taken and lay(more, taken | spot) for turn in {(w, d), (d, w)} for spot in spots(*turn))

    if sum(w * d for w, d in rects) > width * depth:
        return False
    return lay(tuple(sorted(rects, key=lambda r: -r[0] * r[1])), 0)


def cheapest(rects: list[tuple[int, int]], boards: list[Board], seller: Supplier) -> float:
    """Return the least cost over every way to spread blanks over boards, by trying all of them."""
    fits: dict[tuple[object, ...], list[int]] = {}

    def on(part: tuple[int, ...]) -> list[int]:
        shapes = tuple(sorted(rects[n] for n in part))
        if shapes not in fits:
            fits[shapes] = [i for i, one in enumerate(boards) if goes_on(shapes, int(one.width_mm), int(one.depth_mm))]
        return fits[shapes]

    def partitions(rest: list[int]) -> itertools.chain[list[tuple[int, ...]]]:
        if not rest:
            return itertools.chain([[]])
        return itertools.chain.from_iterable(
            ([(rest[0], *others), *more] for more in partitions([n for n in rest[1:] if n not in others]))
            for count in range(len(rest))
            for others in itertools.combinations(rest[1:], count)
            if on((rest[0], *others))
        )

    best = math.inf
    for parts in partitions(list(range(len(rects)))):
        for chosen in itertools.product(*(on(part) for part in parts)):
            packs = [math.ceil(chosen.count(i) / one.pack) for i, one in enumerate(boards)]
            # One more pack of anything may lift the order over the value from which delivery is free.
            for extra in itertools.product(range(3), repeat=len(boards)):
                value = sum((n + e) * (one.price or 0.0) for n, e, one in zip(packs, extra, boards))
                free = seller.free_from is not None and value >= seller.free_from
                best = min(best, value + (0.0 if free else seller.delivery))
    return best


class Buying(unittest.TestCase):
    def test_the_buy_costs_what_the_cheapest_of_all_buys_costs(self) -> None:
        chance = random.Random(3)
        for number in range(100):
            boards = [
                board(
                    name,
                    width_mm=float(chance.randrange(5, 10)),
                    depth_mm=float(chance.randrange(4, 8)),
                    price=float(chance.randrange(3, 12)),
                    pack=chance.choice((1, 1, 2, 3)),
                    supplier="yard",
                )
                for name in "ab"
            ]
            boards = [replace(one, thickness_mm=50.0) for one in boards]
            seller = Supplier(
                name="yard", delivery=float(chance.randrange(0, 8)), free_from=chance.choice((None, 20.0))
            )
            smallest = [min(b.width_mm, b.depth_mm) for b in boards]
            rects = [
                (chance.randrange(2, int(max(smallest)) + 1), chance.randrange(2, int(max(smallest)) + 1))
                for _ in range(chance.randrange(1, 5))
            ]
            wanted = [Wanted(str(n), Sheet(), box(0, 0, w, d)) for n, (w, d) in enumerate(rects)]
            found = plan_purchase(wanted, Stores(boards=tuple(boards), suppliers=(seller,)))
            with self.subTest(number, rects=rects):
                self.assertEqual(found.short, ())
                self.assertAlmostEqual(found.cost, cheapest(rects, boards, seller), places=6)
                self.sound(found, wanted)

    def sound(self, found: Purchase, wanted: list[Wanted]) -> None:
        """Every blank once, none over another, none beyond its board."""
        names = sorted(one.name for cut in found.boards for one, _ in cut.laid)
        self.assertEqual(names, sorted(one.name for one in wanted))
        for cut in found.boards:
            outlines = [outline for _, outline in cut.laid]
            self.assertTrue(all(cut.outline.buffer(1e-4).covers(one) for one in outlines))
            self.assertLess(sum(one.area for one in outlines) - shapely.union_all(outlines).area, 1e-3)

    def test_the_shelf_comes_first_and_its_pieces_are_used_once(self) -> None:
        one = board(width_mm=500.0, depth_mm=400.0, price=30.0)
        piece = Piece(id="p", board=one, sides_mm=(300.0, 220.0, 300.0, 220.0))
        wanted = [Wanted(str(n), Sheet(), box(0, 0, 280, 210)) for n in range(3)]
        both = plan_purchase(wanted, Stores(boards=(one,), shelf=(piece,)))
        self.assertEqual((both.cost, sorted(b.piece is not None for b in both.boards)), (30.0, [False, True]))
        first = plan_purchase(wanted[:1], Stores(boards=(one,), shelf=(piece,)))
        self.assertEqual((first.cost, len(first.orders)), (0.0, 0))
        self.assertAlmostEqual(first.waste_share, 1 - 280 * 210 / (300 * 220))
        self.assertEqual(first.kept_share, 0.0)

    def test_a_piece_out_of_square_is_taken_as_it_is(self) -> None:
        square = Piece(id="p", board=board(), sides_mm=(400.0, 300.0, 400.0, 300.0))
        leaning = replace(square, diagonal_mm=math.dist((0, 0), (430.0, math.sqrt(300**2 - 30**2))))
        self.assertAlmostEqual(measured_outline(square).area, 120_000, delta=1)
        self.assertAlmostEqual(measured_outline(leaning).area, 400 * math.sqrt(300**2 - 30**2), delta=30)
        self.assertIsNotNone(box_spot(measured_outline(square), 399.0, 299.0))
        self.assertIsNone(box_spot(measured_outline(leaning), 399.0, 299.0))
        self.assertIsNotNone(box_spot(measured_outline(leaning), 365.0, 298.0))
        hollow = replace(square, bow_mm=(6.0, 0.0, 0.0, 0.0))
        self.assertIsNone(box_spot(measured_outline(hollow), 390.0, 296.0))
        self.assertIsNotNone(box_spot(measured_outline(hollow), 390.0, 293.5))

    def test_what_can_not_be_cut_says_why(self) -> None:
        stores = Stores(boards=(board(width_mm=300.0, depth_mm=200.0),))
        wanted = [Wanted("long", Sheet(), box(0, 0, 350, 20)), Wanted("other", Sheet(pitch_mm=5.0), box(0, 0, 9, 9))]
        found = plan_purchase(wanted, stores)
        self.assertEqual({one.name: why for one, why in found.short}, {"long": "too_large", "other": "no_board"})
        with self.assertRaises(Cancelled):
            plan_purchase(wanted, stores, token=Deadline(0))

    def test_a_saw_loses_its_kerf_and_grain_keeps_blanks_from_turning(self) -> None:
        one = board(width_mm=200.0, depth_mm=100.0)
        pair = [Wanted(str(n), Sheet(), box(0, 0, 100, 100)) for n in range(2)]
        knife = plan_purchase(pair, Stores(boards=(one,)))
        saw = plan_purchase(pair, Stores(boards=(one,), cutting="saw", kerf_mm=3.0))
        self.assertEqual((len(knife.boards), len(saw.boards)), (1, 2))
        turned = [Wanted("t", Sheet(), box(0, 0, 90, 190))]
        self.assertEqual(plan_purchase(turned, Stores(boards=(one,))).short, ())
        grained = plan_purchase(turned, Stores(boards=(replace(one, grain=True),)))
        self.assertEqual([why for _, why in grained.short], ["too_large"])

    def test_a_knife_lays_notched_blanks_into_each_other(self) -> None:
        shape = Polygon([(0, 0), (200, 0), (200, 60), (80, 60), (80, 150), (0, 150)])
        wanted = [Wanted(str(n), Sheet(), shape) for n in range(2)]
        stores = Stores(boards=(board(width_mm=285.0, depth_mm=160.0),))
        found = plan_purchase(wanted, stores)
        self.assertEqual(len(found.boards), 1)
        self.sound(found, wanted)
        self.assertEqual(len(plan_purchase(wanted, replace(stores, cutting="saw", kerf_mm=0.0)).boards), 2)

    def test_many_small_blanks_lie_in_rows_on_few_boards(self) -> None:
        wanted = [Wanted(str(n), Sheet(), box(0, 0, 140 - n, 100 + n)) for n in range(10)]
        found = plan_purchase(wanted, Stores(boards=(board(width_mm=1200.0, depth_mm=600.0),), cutting="saw"))
        self.sound(found, wanted)
        self.assertEqual(len(found.boards), 1)
        self.assertFalse(found.proven)

    def test_a_thousand_tiny_blanks_on_a_board_are_counted_at_once(self) -> None:
        wish = StackWish(height_mm=60.0, needed_mm=0.0, blank_mm=(7.0, 5.0))
        large = board(width_mm=9000.0, depth_mm=8000.0)
        piece = Piece(id="p", board=large, sides_mm=(9000.0, 8000.0, 9000.0, 8000.0))
        self.assertEqual(stacks_for(wish, Stores(boards=(large,), shelf=(piece,)))[0].stack.price, 0.0)
        self.assertGreater(blanks_on(large, (7.0, 5.0)), 2_000_000)

    def test_offcuts_worth_keeping_are_told(self) -> None:
        wanted = [Wanted("w", Sheet(), box(0, 0, 300, 200))]
        found = plan_purchase(wanted, Stores(boards=(board(width_mm=500.0, depth_mm=240.0),)))
        self.assertEqual(offcuts(found.boards[0]), ((200, 240),))


class Frontiers(unittest.TestCase):
    def test_small_boxes_for_three_rectangles_are_all_of_them(self) -> None:
        chance = random.Random(8)
        for _ in range(12):
            rects = tuple((chance.randrange(1, 7), chance.randrange(1, 7)) for _ in range(3))
            nester = Nester(
                [box(0, 0, w, d) for w, d in rects], cutting="saw", kerf_mm=0, may_turn=True, largest_mm=(30, 30)
            )
            found = [(one.width_mm, one.depth_mm) for one in nester.frontier(0b111)]
            for width, depth in itertools.product(range(3, 12), range(3, 12)):
                expected = goes_on(rects, width, depth)
                self.assertEqual(any(w <= width + 1e-6 and d <= depth + 1e-6 for w, d in found), expected)


class Stacks(unittest.TestCase):
    def test_advice_is_the_best_of_all_combinations(self) -> None:
        chance = random.Random(4)
        for number in range(100):
            boards = tuple(
                board(
                    name,
                    thickness_mm=float(chance.randrange(2, 8) * 10),
                    pitch_mm=chance.choice((5.0, 10.0)),
                    width_mm=float(chance.randrange(40, 90)),
                    depth_mm=float(chance.randrange(30, 60)),
                    price=chance.choice((None, 5.0, 8.0, 12.0)),
                    pack=chance.choice((1, 2)),
                    supplier=chance.choice(("x", "y")),
                )
                for name in "abcd"
            )
            stores = Stores(boards=boards, suppliers=(Supplier(name="x", delivery=4.0, free_from=15.0),))
            whole = chance.random() < 0.4
            wish = StackWish(
                height_mm=float(chance.randrange(40, 140)),
                needed_mm=float(chance.randrange(0, 60)),
                blank_mm=(30.0, 20.0),
                whole_bottom=whole,
                most_sheets=3,
            )
            found = stacks_for(wish, stores)
            expected = self.by_brute_force(wish, stores)
            with self.subTest(number):
                self.assertEqual(len(found), len(expected))
                if expected:
                    best = found[0].stack
                    price = best.price if best.price is not None else math.inf
                    shallow = best.deepest_mm < wish.needed_mm
                    self.assertEqual((shallow, price == math.inf, best.gap_mm > 10, price), min(expected)[:4])

    def by_brute_force(self, wish: StackWish, stores: Stores) -> list[tuple[bool, bool, bool, float]]:
        found = set()
        for count in (1, 2, 3):
            for order in itertools.product(stores.boards, repeat=count):
                height = sum(one.thickness_mm for one in order)
                if height > wish.height_mm:
                    continue
                # Finest layers on top, as the advice lays them.
                order = tuple(sorted(order, key=lambda one: (one.pitch_mm, one.id)))
                bottoms = []
                top = 0.0
                for one in order:
                    bottoms += [top + k * one.pitch_mm for k in range(1, round(one.thickness_mm / one.pitch_mm) + 1)]
                    top += one.thickness_mm
                keep = order[-1].thickness_mm if wish.whole_bottom and count > 1 else 0.0
                deepest = max([b for b in bottoms if height - b >= max(8.0, keep) - 1e-9], default=0.0)
                price, orders = 0.0, {"x": 0.0, "y": 0.0}
                for one in set(order):
                    each = self.equal_rects(one)
                    need = math.ceil(order.count(one) / each) if each else math.inf
                    if one.price is None or not each:
                        price = math.inf
                        break
                    orders[one.supplier] += math.ceil(need / one.pack) * one.price
                price += sum(orders.values()) + (4.0 if 0 < orders["x"] < 15.0 else 0.0)
                shallow, gap = deepest < wish.needed_mm, wish.height_mm - height > 10
                found.add((shallow, price == math.inf, gap, price, tuple(one.id for one in order)))
        return [one[:4] for one in found]

    def equal_rects(self, one: Board) -> int:
        """Return how many 30 x 20 go on a board, from a raster of ten millimetres (all sides are multiples of it)."""
        count = 0
        while goes_on(((3, 2),) * (count + 1), int(one.width_mm // 10), int(one.depth_mm // 10)):
            count += 1
        return count

    def test_equal_blanks_fill_a_board_both_ways_round(self) -> None:
        self.assertEqual(blanks_on(board(width_mm=50.0, depth_mm=30.0), (30.0, 20.0)), 2)
        self.assertEqual(blanks_on(board(width_mm=70.0, depth_mm=60.0), (30.0, 20.0)), 7)
        self.assertEqual(blanks_on(board(width_mm=70.0, depth_mm=60.0, grain=True), (70.0, 31.0)), 1)

    def test_reasons_say_where_a_stack_is_behind(self) -> None:
        boards = (board("thin", thickness_mm=30.0), board("thick", thickness_mm=60.0, price=12.0))
        wish = StackWish(height_mm=62.0, needed_mm=35.0, blank_mm=(90.0, 50.0))
        found = {tuple(b.id for b in one.stack.boards): one.why for one in stacks_for(wish, Stores(boards=boards))}
        self.assertEqual(found, {("thick",): "best", ("thin", "thin"): "price", ("thin",): "shallow"})


class Boards(unittest.TestCase):
    def test_the_shipped_foams_are_sound_and_serve_their_own_sheets(self) -> None:
        boards = shipped_stores().boards
        self.assertEqual({one.material for one in boards}, {"layered", "cubed", "plain"})
        for one in boards:
            checked_board(one, where=one.id)
            self.assertTrue(serves(one, sheet_of(one)))
            self.assertTrue(serves(one, replace(sheet_of(one), board_id="")))
            self.assertGreater(labelled_outline(one).area, 1e5)

    def test_what_no_dealer_sells_is_refused_by_name(self) -> None:
        for change, word in (
            ({"name": " "}, "price without a sheet"),
            ({"pitch_mm": 0.0}, "layers"),
            ({"thickness_mm": math.nan}, "thick"),
            ({"price": -2.0}, "price"),
            ({"pack": 0}, "pack"),
            ({"width_mm": 0.0}, "width"),
            ({"density_kg_m3": 0.0}, "density"),
        ):
            with self.subTest(change), self.assertRaises(UnusableInput) as caught:
                checked_board(board(**change), where="board")
            self.assertIn(word, str(caught.exception))
        for change in ({"sides_mm": (100.0, 100.0, 900.0, 100.0)}, {"diagonal_mm": 800.0}, {"bow_mm": (90.0, 0, 0, 0)}):
            with self.subTest(change), self.assertRaises(UnusableInput):
                checked_piece(replace(Piece(id="p", board=board(), sides_mm=(300.0,) * 4), **change), where="shelf")
