"""What the simulated camera finds in the drawer at the end of a day: something missing, turned, or swapped."""

from __future__ import annotations

import random
import unittest

from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.demo.drawer import evening
from cozy_burrow.demo.shipped import demo_project


class Evenings(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        project = demo_project()
        cls.ground = ground_of(project, project.inserts[0])

    def test_something_is_missing_and_by_turns_one_is_turned_or_two_are_swapped(self) -> None:
        swapped = 0
        for seed in range(1, 13):
            gone, turned, instead = evening(self.ground, seed, random.Random(seed))
            self.assertIn(len(gone), (1, 2))
            self.assertFalse(set(gone) & {*turned, *instead})
            self.assertEqual(len(turned), 1 if seed % 3 == 2 else 0)
            self.assertTrue(not instead or seed % 3 == 0)
            for key, item in instead.items():
                own = self.ground.pockets[key].item
                self.assertNotEqual(item.id, own.id)
                self.assertIn(own.id, {one.id for one in instead.values()})
            swapped += bool(instead)
        self.assertGreater(swapped, 0)

    def test_what_is_selected_is_missing_and_nothing_else_is_wrong(self) -> None:
        key = next(iter(self.ground.pockets))
        for seed in range(1, 4):
            self.assertEqual(evening(self.ground, seed, random.Random(seed), missing=(key,)), ([key], [], {}))
