"""Finding items by words and by shape."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from shapely import affinity
from shapely.geometry import Polygon

from cozy_burrow.core.geometry.rings import outline_of
from cozy_burrow.core.kit.alike import alike, by_shape, by_words
from cozy_burrow.core.kit.shapes import box_item, outline_item, round_item
from cozy_burrow.core.model.records import Item

HOOK = Polygon([(0, 0), (80, 0), (80, 12), (20, 12), (20, 40), (0, 40)])


def named(*names: str) -> list[Item]:
    """Return boxes of these names."""
    return [box_item(f"item-{n}", name, length_mm=50, width_mm=20, thickness_mm=10) for n, name in enumerate(names)]


def hook(shape: Polygon) -> Item:
    """Return an item of a shape."""
    return outline_item("item-9", "hook", outline_of(shape), thickness_mm=8, way="drawn")


class ByWords(unittest.TestCase):
    def test_what_begins_with_it_comes_first(self) -> None:
        items = named("Felt strip", "Voicing tool", "Tool for felt", "Stift-Zange", "Prüfgerät")
        self.assertEqual(by_words(items, "felt"), (0, 2))
        self.assertEqual(by_words(items, "to"), (2, 1))
        self.assertEqual(by_words(items, "zange st"), (3,))
        self.assertEqual(by_words(items, "pruf"), (4,))
        self.assertEqual(by_words(items, "rufge"), (4,))
        self.assertEqual(by_words(items, "felt xyz"), ())
        self.assertEqual(len(by_words(items, " ")), 5)

    def test_groups_and_notes_are_read_too_after_names(self) -> None:
        items = named("Case", "Spring hook")
        items[0] = replace(items[0], notes="spring: strapped shut", group="Clips")
        self.assertEqual(by_words(items, "spring"), (1, 0))
        self.assertEqual(by_words(items, "clips"), (0,))

    @given(st.lists(st.text(max_size=12), max_size=8), st.text(max_size=6))
    def test_whatever_is_typed_finds_each_item_once_at_most(self, names: list[str], text: str) -> None:
        items = named(*names)
        found = by_words(items, text)
        self.assertEqual(len(set(found)), len(found))
        if not text.strip():
            self.assertEqual(len(found), len(items))


class ByShape(unittest.TestCase):
    @given(turn=st.floats(0, 360), x=st.floats(-200, 200), over=st.booleans())
    def test_a_shape_is_itself_whichever_way_round_it_lies(self, turn: float, x: float, over: bool) -> None:
        moved = affinity.rotate(affinity.scale(HOOK, yfact=-1.0 if over else 1.0), turn)
        moved = affinity.translate(moved, x, -x)
        self.assertGreater(alike(outline_of(HOOK), outline_of(moved)), 0.99)

    def test_the_likest_comes_first_and_what_is_another_thing_not_at_all(self) -> None:
        items = [
            round_item("item-1", "rod", length_mm=100, diameter_mm=30),
            hook(affinity.scale(HOOK, 1.06, 1.06)),
            hook(affinity.rotate(HOOK, 77)),
            box_item("item-4", "ruler", length_mm=82, width_mm=40, thickness_mm=3),
            box_item("item-5", "tin", length_mm=400, width_mm=300, thickness_mm=30),
        ]
        found = by_shape(items, hook(HOOK))
        self.assertEqual([number for number, _ in found[:2]], [2, 1])
        self.assertNotIn(4, [number for number, _ in found])
        self.assertNotIn(0, [number for number, _ in found])
        # An L and a larger one share less than their areas say: they are no nested shapes.
        self.assertTrue(0.8 < found[1][1] < 1 / 1.06**2)
        self.assertGreater(found[0][1], 0.999)
        self.assertEqual(by_shape([], hook(HOOK)), ())

    def test_shared_area_of_boxes_by_hand(self) -> None:
        one = named("a")[0]
        other = box_item("item-1", "b", length_mm=40, width_mm=20, thickness_mm=5)
        self.assertAlmostEqual(alike(one.outline, other.outline), 800 / 1000, places=6)
