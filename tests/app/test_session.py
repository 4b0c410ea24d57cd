"""The retouch session without its widgets: steps, choices, marks."""

from __future__ import annotations

import numpy as np
from msgspec.structs import replace
from shapely.geometry import box

from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.core.capture.retouch.draft import Draft, Table, plain_draft, with_thickness
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import outline_of
from cozy_burrow.jobs.capture import Backdrop, Capture
from tests.app.qt import QtCase


def draft(x: float) -> Draft:
    return plain_draft(outline_of(box(x, 0, x + 40, 20)), name=f"at {x:g}", way="scan", source="a", sure_mm=0.1)


class Session(QtCase):
    def setUp(self) -> None:
        super().setUp()
        self.session = RetouchSession()
        self.heard: list[str] = []
        self.session.said.connect(self.heard.append)
        pixels = np.full((200, 400, 3), 240, dtype=np.uint8)
        table = Table(drafts=(draft(0), draft(60)))
        self.session.open(Capture(table=table, backdrop=Backdrop(pixels, (0.0, 0.0), 0.25), trace=None, told="a scan"))

    def thicker(self, mm: float) -> bool:
        return self.session.do_draft(f"{mm:g} thick", lambda one: with_thickness(one, None, thickness_mm=mm))

    def test_steps_are_named_and_go_both_ways(self) -> None:
        self.assertIsNone(self.session.undo_label)
        self.thicker(12.0)
        self.thicker(14.0)
        self.assertEqual(self.session.undo_label, "14 thick")
        self.session.undo()
        self.assertEqual(self.session.draft.thickness_mm, 12.0)
        self.assertEqual(self.session.redo_label, "14 thick")
        self.session.redo()
        self.assertEqual(self.session.draft.thickness_mm, 14.0)
        self.session.undo()
        self.thicker(20.0)
        self.assertIsNone(self.session.redo_label)
        self.assertEqual(self.heard[-1], "20 thick")

    def test_a_change_that_changes_nothing_is_no_step(self) -> None:
        self.assertFalse(self.session.do("Nothing", lambda table: replace(table)))
        self.assertIsNone(self.session.undo_label)

    def test_a_change_that_cannot_be_is_said_and_leaves_history_alone(self) -> None:
        def impossible(table: Table) -> Table:
            raise UnusableInput("no", where="bench", remedy="leave it")

        before = self.session.table
        self.assertFalse(self.session.do("Never", impossible))
        self.assertIs(self.session.table, before)
        self.assertEqual(self.heard, ["bench: no; leave it"])

    def test_choosing_is_no_step_and_takes_the_marks_along(self) -> None:
        self.session.choose(1)
        self.assertEqual(self.session.table.chosen, 1)
        self.assertIsNone(self.session.undo_label)
        self.assertTrue(all(60 <= x <= 100 for x, _ in self.session.marks))
        self.session.choose(7)
        self.assertEqual(self.session.table.chosen, 1)

    def test_marks_snap_walk_and_are_nudged(self) -> None:
        self.session.put_next_mark((20.0, -0.4), snap_mm=1.0)
        self.assertEqual(self.session.marks[0], (20.0, 0.0))
        self.assertEqual(self.session.active_mark, 1)
        self.session.put_next_mark((20.0, 30.0), snap_mm=1.0)
        self.assertEqual(self.session.marks[1], (20.0, 30.0))
        self.session.walk_mark(5.0)
        x, y = self.session.marks[0]
        self.assertEqual(y, 0.0)
        self.assertAlmostEqual(abs(x - 20.0), 5.0)
        self.session.switch_mark()
        self.session.nudge_mark(-1.0, 0.5)
        self.assertEqual(self.session.marks[1], (19.0, 30.5))

    def test_closing_clears_the_bench_and_a_new_picture_begins_anew(self) -> None:
        self.thicker(12.0)
        capture = self.session.capture
        assert capture is not None
        self.session.close()
        self.assertFalse(self.session.is_open)
        self.session.open(capture)
        self.assertIsNone(self.session.undo_label)
        self.assertEqual(self.session.draft.thickness_mm, 10.0)

    def test_history_is_bounded(self) -> None:
        for step in range(400):
            self.thicker(1.0 + step * 0.1)
        steps = 0
        while self.session.undo_label is not None:
            self.session.undo()
            steps += 1
        self.assertLess(steps, 300)
        self.assertGreater(steps, 250)
