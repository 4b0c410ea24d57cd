"""Six drawers like this one."""

from __future__ import annotations

import unittest

from msgspec.structs import replace

from cozy_burrow.core.container.bay import bay_of
from cozy_burrow.core.container.blank import blanks_of
from cozy_burrow.core.container.cabinet import MOST_ROWS, add_like, rows_of
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.coherence import check_coherent
from tests.makers import box, laid, project


class Cabinet(unittest.TestCase):
    def test_lines_are_names_and_places(self) -> None:
        self.assertEqual(
            rows_of("Top; left, first\n\n  Second ;\nThird"), (("Top", "left, first"), ("Second", ""), ("Third", ""))
        )
        for text in ("", " \n;left", "a\n" * (MOST_ROWS + 1)):
            with self.assertRaises(UnusableInput):
                rows_of(text)

    def test_each_has_its_own_container_and_the_same_blank(self) -> None:
        plan = laid(project(box()), (60, 60))
        after = add_like(plan, "insert-1", [(f"Drawer {n}", f"row {n}") for n in range(2, 8)])
        check_coherent(after)
        self.assertEqual([one.name for one in after.inserts], ["Drawer", *(f"Drawer {n}" for n in range(2, 8))])
        self.assertEqual(len({one.container_id for one in after.inserts}), 7)
        first, *others = (blanks_of(bay_of(after, one))[0].polygon for one in after.inserts)
        self.assertTrue(all(one.equals(first) for one in others))
        self.assertEqual(after.containers[3].place, "row 4")
        self.assertEqual(after.inserts[0], plan.inserts[0])
        self.assertFalse(any(one.placements for one in after.inserts[1:]))

    def test_like_another_container(self) -> None:
        plan = project(box())
        other = replace(plan.containers[0], width_mm=444.0, name="kept")
        after = add_like(plan, "insert-1", [("A", "")], like=other)
        self.assertEqual((after.containers[-1].width_mm, after.containers[-1].name), (444.0, "A"))
