"""What an eye has first, judged the same whatever the order in which things are named."""

from __future__ import annotations

import random
import unittest

from cozy_burrow.core.arrange.tidiness import lines
from tests.core.arrange.test_wishes import AIMS, lying
from tests.makers import box


class Lines(unittest.TestCase):
    def test_the_score_is_the_same_in_any_order_of_things(self) -> None:
        """Two lines may be as full, and which is drawn first decides how many the rest needs."""
        for seed in range(40):
            chance = random.Random(seed)
            things = [
                lying(box(40, 20), 10.0 * chance.randrange(40), 5.0 * chance.randrange(40), copy=n) for n in range(14)
            ]
            whole = lines(things, AIMS).score
            for _ in range(4):
                chance.shuffle(things)
                self.assertEqual(lines(things, AIMS).score, whole, seed)


if __name__ == "__main__":
    unittest.main()
