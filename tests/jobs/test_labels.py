"""What stands on labels: names, sizes where they tell items apart, notes; and what finds room on a floor."""

from __future__ import annotations

import unittest

from msgspec.structs import replace

from cozy_burrow.core.model.edits import change_container, change_item
from cozy_burrow.jobs.labels import floor_pieces, labels_of, size_marks
from tests.makers import box, laid, project


class Labels(unittest.TestCase):
    def setUp(self) -> None:
        things = (box(name="gouge 6"), box(length=80, name="gouge 8"), box(10, 5, 6, name="needle"))
        plan = laid(project(*things), (60, 60), (60, 120), (200, 60))
        for item in plan.items[:2]:
            plan = change_item(plan, replace(item, group="Gouges"))
        self.plan = change_item(plan, replace(plan.items[1], group="Gouges", notes="goes away cold"))

    def test_places_bear_sizes_where_a_group_is_told_apart_by_them(self) -> None:
        labels = labels_of(self.plan, "places")
        self.assertEqual([one.name for one in labels], ["gouge 6", "gouge 8", "needle"])
        self.assertEqual([one.second for one in labels], ["60 mm", "80 mm · goes away cold", ""])
        self.assertIsNone(labels[0].shape)
        self.assertIsNotNone(labels_of(self.plan, "places", with_picture=True)[0].shape)

    def test_size_marks_are_what_the_names_of_a_group_have_not_in_common(self) -> None:
        self.assertEqual([one.name for one in labels_of(self.plan, "marks")], ["6", "8"])
        self.assertEqual({one.second for one in labels_of(self.plan, "marks")}, {""})

        def marks(*names: str, lengths: tuple[float, ...] = (60, 80, 100)) -> list[str]:
            things = [replace(box(length=long, name=name), group="G") for name, long in zip(names, lengths)]
            return list(size_marks(project(*things)).values())

        self.assertEqual(marks("Hook 3/8 long", "hook 1/2 long"), ["3/8", "1/2"])
        self.assertEqual(marks("Round reamer", "Fork", "Old lever"), ["60 mm", "80 mm", "100 mm"])
        self.assertEqual(marks("Pin", "Pin", lengths=(60, 60)), [])
        self.assertEqual(marks("Lonely 7"), [])

    def test_inserts_and_containers_are_labelled_once(self) -> None:
        self.assertEqual([(one.name, one.second) for one in labels_of(self.plan, "inserts")], [("Drawer", "3 items")])
        place = change_container(self.plan, replace(self.plan.containers[0], name="Van", place="left, third"))
        (label,) = labels_of(place, "containers")
        self.assertEqual((label.name, label.second), ("Van", "left, third · Drawer"))
        self.assertEqual(labels_of(place, "containers", insert_id="insert-9"), [])

    def test_floors_without_room_are_named(self) -> None:
        pieces, without = floor_pieces(self.plan, "insert-1")
        self.assertEqual([one.text for one in pieces], ["gouge 6", "gouge 8"])
        self.assertEqual(without, ["needle"])
        self.assertGreater(pieces[1].height_mm, 4.0)
