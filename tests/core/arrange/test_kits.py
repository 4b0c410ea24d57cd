"""Two thousand random kits: no rule is ever broken, whatever style, stop or start; what is fixed never moves."""

from __future__ import annotations

import random
import unittest

import shapely

from cozy_burrow.core.arrange.pieces import Bed
from cozy_burrow.core.arrange.search import Search
from cozy_burrow.core.arrange.way import Way
from cozy_burrow.core.arrange.wishes import STYLES, Aims
from cozy_burrow.core.errors import Cancelled
from tests.core.arrange.shapes import StopsAfter, judge, kit
from tests.many import many

KITS = many(2000, share=0.15)


def random_bed(chance: random.Random) -> Bed:
    """A rectangle, one with a notch, or one with a round hole; now and then with something fixed in it."""
    width, depth = chance.uniform(90, 200), chance.uniform(70, 150)
    area: shapely.Geometry = shapely.box(0, 0, width, depth)
    kind = chance.randrange(3)
    if kind == 1:
        area = area.difference(shapely.box(0, 0, chance.uniform(5, 50), chance.uniform(5, 40)))
    elif kind == 2:
        area = area.difference(shapely.Point(width / 2, depth / 2).buffer(12, quad_segs=4))
    fixed = [(shapely.box(width - 40, 10, width - 20, 30), 10.0)] if chance.random() < 0.3 else []
    return Bed(area, fixed)


class RandomKits(unittest.TestCase):
    def test_no_rule_is_ever_broken(self) -> None:
        laid = 0
        for seed in range(KITS):
            chance = random.Random(seed)
            bed = random_bed(chance)
            pieces = kit(chance, chance.randrange(2, 6), size=0.6)
            style = chance.choices(tuple(STYLES), (11, 1, 8))[0]  # pressing takes longest
            way = Way(STYLES[style], seed=seed, lanes=seed % 5 == 0 and style != "tight")
            search = Search(pieces, bed, Aims(bed.room), way, cell_mm=3.0)
            token = StopsAfter(chance.choice((0, 2, 5, 40)))
            try:
                for _ in range(2):
                    search.advance(token)
            except Cancelled:
                pass
            with self.subTest(seed=seed):
                judge(self, search.layout(), pieces, bed)
            laid += len(search.layout().spots)
        self.assertGreater(laid, KITS)
