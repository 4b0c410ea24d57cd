"""The log of roll calls as a table that a spreadsheet opens."""

from __future__ import annotations

import csv
import io
import unittest

from msgspec.structs import replace

from cozy_burrow.core.keep.log import noted
from cozy_burrow.jobs.roll_call import absent_words
from cozy_burrow.jobs.roll_log import COLUMNS, log_text
from tests.makers import box, laid, project, rod


class RollLog(unittest.TestCase):
    def test_a_row_for_what_was_missing_and_one_for_a_good_call(self) -> None:
        plan = laid(project(box(name='block, "long"'), rod(name="rod")), (60, 60), (180, 120, 30))
        plan = noted(plan, "insert-1", {"item-1#1": "empty", "item-2#1": "turned"}, at="2026-11-28T17:02", note="a\nb")
        plan = noted(plan, "insert-1", {"item-1#1": "filled", "item-2#1": "filled"}, at="2026-11-29T16:40")
        rows = list(csv.reader(io.StringIO(log_text(plan))))
        self.assertEqual(tuple(rows[0]), COLUMNS)
        self.assertEqual(rows[1], ["2026-11-28", "17:02", "Drawer", "2", 'block, "long"', "empty", "a\nb"])
        self.assertEqual(rows[2][4:6], ["rod", "turned"])
        self.assertEqual(rows[3], ["2026-11-29", "16:40", "Drawer", "2", "", "all filled", ""])
        self.assertEqual(absent_words(plan.roll_calls[0]), 'missing: block, "long"; there, but end for end: rod')
        self.assertEqual(absent_words(plan.roll_calls[1]), "everything home")
        gone = replace(plan, inserts=(replace(plan.inserts[0], id="insert-9"),))
        self.assertIn("an insert that is gone", log_text(gone))
