"""The order of the cuts: its rules on random sheets, the shortest way against all ways."""

from __future__ import annotations

import itertools
import math
import random
import unittest

import numpy as np
from msgspec.structs import replace

from cozy_burrow.core.bench import route
from cozy_burrow.core.bench.cut import Cut
from cozy_burrow.core.bench.cuts import cutting_plan
from cozy_burrow.core.bench.ordering import as_advised, cut_moved, is_own
from cozy_burrow.core.bench.route import belts_of, is_ruled, routed, shortest, start_of
from cozy_burrow.core.errors import Gone
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.storage.project_file import from_bytes, to_bytes
from tests.makers import van_drawer

EXTENT = (0.0, 0.0, 500.0, 380.0)


def line(name: str, x: float, y: float, *, blade_mm: float = 10.0, kind: str = "pocket", straight: float = 0.0) -> Cut:
    """Return a square line of 30 mm about (x, y)."""
    corners = ((x - 15, y - 15), (x + 15, y - 15), (x + 15, y + 15), (x - 15, y + 15))
    return Cut(
        number=0, sheet=1, kind=kind, name=name, owners=(name,), from_layer=1, to_layer=round(blade_mm / 10),
        blade_mm=blade_mm, from_ledge_mm=blade_mm, length_mm=120.0, straight_mm=straight, through=False, slit=False,
        label_mm=(x, y), line=corners,
    )  # fmt: skip


def sheet(seed: int) -> tuple[list[Cut], frozenset[str], dict[str, str]]:
    """Return the lines of a random sheet, what floats in it, and what lies under what."""
    chance = random.Random(seed)
    cuts: list[Cut] = []
    for number in range(chance.randint(1, 22)):
        x, y = chance.uniform(20, 480), chance.uniform(20, 360)
        kind = "pull" if chance.random() < 0.35 else "pocket"
        for blade in chance.sample((10.0, 20.0, 30.0), chance.randint(1, 2)):
            straight = chance.choice((0.0, 120.0))
            cuts.append(line(f"{kind}-{number}", x, y, blade_mm=blade, kind=kind, straight=straight))
    pockets = sorted({cut.name for cut in cuts if cut.kind == "pocket"})
    chance.shuffle(pockets)
    under = {pockets[0]: pockets[1]} if len(pockets) > 3 else {}
    floats = frozenset(pockets[2:5])
    chance.shuffle(cuts)
    return cuts, floats, under


def way_mm(cuts: list[Cut], start: tuple[float, float]) -> float:
    """Return how far the hand goes from line to line."""
    spots = [start, *(start_of(cut) for cut in cuts)]
    return sum(math.dist(a, b) for a, b in itertools.pairwise(spots))


class Rules(unittest.TestCase):
    def test_every_rule_holds_on_two_hundred_sheets(self) -> None:
        for seed in range(200):
            with self.subTest(seed=seed):
                cuts, floats, under = sheet(seed)
                order = routed(cuts, EXTENT, floats=floats, under=under)
                self.assertEqual([cut.number for cut in order], list(range(1, len(cuts) + 1)))
                self.assertEqual(
                    sorted((c.name, c.blade_mm) for c in order), sorted((c.name, c.blade_mm) for c in cuts)
                )
                kinds = [cut.kind for cut in order]
                self.assertEqual(kinds, sorted(kinds))  # a pocket is before a pull in any alphabet
                belts = belts_of(cuts, EXTENT)
                for lower, upper in under.items():
                    belts[lower] = max(belts[lower], belts[upper])
                for kind in ("pocket", "pull"):
                    mine = [cut for cut in order if cut.kind == kind]
                    self.assertEqual([belts[cut.name] for cut in mine], sorted(belts[cut.name] for cut in mine))
                at = {name: [n for n, cut in enumerate(order) if cut.name == name] for name in belts}
                for lower, upper in under.items():
                    self.assertGreater(min(at[lower]), max(at[upper]))
                for name in floats - set(under):
                    depths = [order[n].blade_mm for n in at[name]]
                    self.assertEqual(depths, sorted(depths, reverse=True))
                self.check_runs([c for c in order if c.name not in floats and c.name not in under], belts)
                for last, cut in itertools.pairwise(order):
                    self.assertEqual("SAME_BLADE" in cut.why, last.blade_mm == cut.blade_mm)
                    self.assertEqual("ALONG_RULE" in cut.why, is_ruled(last) and is_ruled(cut))

    def check_runs(self, order: list[Cut] | tuple[Cut, ...], belts: dict[str, int]) -> None:
        """In every belt a setting comes once, and in it what is ruled lies together."""
        runs = [key for key, _ in itertools.groupby(order, lambda c: (c.kind, belts[c.name], c.blade_mm))]
        self.assertEqual(len(runs), len(set(runs)))
        ruled = [key for key, _ in itertools.groupby(order, lambda c: (c.kind, belts[c.name], c.blade_mm, is_ruled(c)))]
        self.assertEqual(len(ruled), len(set(ruled)))

    def test_corners_lie_in_the_outer_belt_and_the_middle_in_the_inner_one(self) -> None:
        belts = belts_of([line("corner", 25, 25), line("side", 250, 30), line("middle", 250, 190)], EXTENT)
        self.assertEqual((belts["corner"], belts["middle"]), (0, route.BELTS - 1))
        self.assertGreaterEqual(belts["side"], 1)

    def test_the_knife_is_set_on_farthest_back_and_leftmost_of_what_lies_level(self) -> None:
        level = replace(line("a", 30, 30), line=((40.0, 10.0), (20.0, 10.0004), (20.0, 30.0)))
        self.assertEqual(start_of(level), (20.0, 10.0004))
        askew = replace(level, line=((40.0, 10.0), (20.0, 10.004), (20.0, 30.0)))
        self.assertEqual(start_of(askew), (40.0, 10.0))

    def test_why_says_what_is_so(self) -> None:
        pull = line("pull", 60, 40, kind="pull")
        first, second = line("a", 30, 30), line("b", 90, 30)
        order = routed([pull, second, first], EXTENT)
        self.assertEqual([cut.name for cut in order], ["a", "b", "pull"])
        self.assertEqual([cut.why[0] for cut in order], ["OUTSIDE_IN", "SAME_BLADE", "PULLS_LAST"])
        handle, shaft = line("tool", 100, 100, blade_mm=30.0), line("tool", 100, 100)
        order = routed([shaft, handle], EXTENT, floats=frozenset({"tool"}))
        self.assertEqual([cut.blade_mm for cut in order], [30.0, 10.0])
        self.assertIn("SINK_FIRST", order[0].why)
        self.assertEqual(order[1].why[0], "MARK_NOW")
        order = routed([line("lower", 30, 30), line("upper", 300, 200)], EXTENT, under={"lower": "upper"})
        self.assertEqual([cut.name for cut in order], ["upper", "lower"])
        self.assertIn("UNDER_LATER", order[1].why)
        self.assertEqual(routed([], EXTENT), ())


class OwnOrder(unittest.TestCase):
    def cuts(self) -> list[Cut]:
        made = [line("a", 30, 30), line("b", 250, 190), line("c", 90, 30), line("pull", 60, 40, kind="pull")]
        return [replace(cut, key=cut.name) for cut in made]

    def test_it_goes_before_all_rules_and_what_breaks_one_says_so(self) -> None:
        order = routed(self.cuts(), EXTENT, own=("pull", "b", "a", "c"))
        self.assertEqual([cut.name for cut in order], ["pull", "b", "a", "c"])
        self.assertEqual([cut.breaks for cut in order], [("PULLS_LAST",), ("OUTSIDE_IN",), (), ()])
        self.assertTrue(all(not cut.breaks for cut in routed(self.cuts(), EXTENT)))
        deep, shallow = (replace(line("t", 90, 90, blade_mm=b), key=f"t{b:.0f}") for b in (30.0, 10.0))
        order = routed([deep, shallow], EXTENT, floats=frozenset({"t"}), own=("t10", "t30"))
        self.assertEqual(order[0].breaks, ("SINK_FIRST",))
        low, up = (replace(line(name, 90, 90), key=name) for name in ("low", "up"))
        self.assertEqual(routed([low, up], EXTENT, under={"low": "up"}, own=("low", "up"))[0].breaks, ("UNDER_LATER",))

    def test_what_it_does_not_name_follows_what_it_would_follow(self) -> None:
        usual = [cut.name for cut in routed(self.cuts(), EXTENT)]
        self.assertEqual(usual, ["a", "c", "b", "pull"])
        order = routed(self.cuts(), EXTENT, own=("b", "gone", "a"))
        self.assertEqual([cut.name for cut in order], ["b", "pull", "a", "c"])
        first = routed(self.cuts(), EXTENT, own=("b",))
        self.assertEqual([cut.name for cut in first], ["a", "c", "b", "pull"])

    def test_a_cut_is_moved_in_the_plan_and_all_go_back(self) -> None:
        plan = van_drawer()
        first = cutting_plan(ground_of(plan, plan.inserts[0]))[0].cuts
        moved = cut_moved(plan, plan.inserts[0].id, first[4].key, 1)
        order = cutting_plan(ground_of(moved, moved.inserts[0]))[0].cuts
        self.assertEqual([c.key for c in order], [first[4].key, *(c.key for n, c in enumerate(first) if n != 4)])
        self.assertEqual(len({cut.key for cut in order}), len(order))
        self.assertTrue(is_own(moved, moved.inserts[0].id))
        self.assertEqual(from_bytes(to_bytes(moved), where="x"), moved)
        back = as_advised(moved, moved.inserts[0].id)
        self.assertEqual(cutting_plan(ground_of(back, back.inserts[0]))[0].cuts, first)
        with self.assertRaises(Gone):
            cut_moved(plan, plan.inserts[0].id, "1:nobody:1:1", 1)


class Ways(unittest.TestCase):
    def cells(self, seed: int, sizes: tuple[int, ...]) -> list[list[Cut]]:
        chance = random.Random(seed)
        names = itertools.count()
        return [
            [line(f"{next(names)}", chance.uniform(0, 500), chance.uniform(0, 380)) for _ in range(size)]
            for size in sizes
        ]

    def test_on_small_sheets_no_other_order_is_shorter(self) -> None:
        start = (0.0, 0.0)
        for seed in range(25):
            cells = self.cells(seed, (3, 1, 4))
            found = [cut for cell in shortest(cells, start) for cut in cell]
            best = min(
                way_mm([*one, *two, *three], start)
                for one in itertools.permutations(cells[0])
                for two in itertools.permutations(cells[1])
                for three in itertools.permutations(cells[2])
            )
            self.assertAlmostEqual(way_mm(found, start), best, places=6)

    def test_where_not_all_orders_are_tried_the_way_is_hardly_longer(self) -> None:
        start, ratios = (0.0, 0.0), []
        for seed in range(12):
            cells = self.cells(seed, (10,))
            quick = way_mm([cut for cell in shortest(cells, start) for cut in cell], start)
            spots = [start_of(cut) for cut in cells[0]]
            exact = min(way for way, _ in route._all_orders(*_distances(start, spots)))
            ratios.append(quick / exact)
            self.assertEqual(sorted(c.name for c in cells[0]), sorted(c.name for c in shortest(cells, start)[0]))
            way, order = route._bettered(*_distances(start, spots))
            self.assertEqual(sorted(order), list(range(10)))
            self.assertAlmostEqual(way, quick)
        self.assertLess(max(ratios), 1.10)
        self.assertGreaterEqual(min(ratios), 1.0 - 1e-9)


def _distances(start: tuple[float, float], spots: list[tuple[float, float]]) -> tuple[np.ndarray, np.ndarray]:
    at = np.array(spots)
    return np.hypot(*(at - start).T), np.hypot(*(at[:, None, :] - at).transpose(2, 0, 1))
