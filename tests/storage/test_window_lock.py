"""Which window has a project open: told to the second one, free again once the first is gone."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path

from cozy_burrow.storage.window_lock import WindowLock


class Locks(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.project = self.folder / "kit.burrow"

    def test_the_second_window_hears_of_the_first(self) -> None:
        first, second = WindowLock(self.folder), WindowLock(self.folder)
        self.assertIsNone(first.take(self.project, since="14:02"))
        holder = second.take(self.project, since="15:00")
        assert holder is not None
        self.assertEqual((holder.process, holder.since), (os.getpid(), "14:02"))
        first.release()
        self.assertIsNone(second.take(self.project, since="15:01"))
        self.assertIsNotNone(first.take(self.project, since="15:02"))
        second.release()

    def test_one_window_holds_one_project(self) -> None:
        first, second = WindowLock(self.folder), WindowLock(self.folder)
        first.take(self.project, since="1")
        first.take(self.folder / "other.burrow", since="1")
        self.assertIsNone(second.take(self.project, since="2"))
        first.release()
        second.release()

    def test_a_link_names_the_same_project(self) -> None:
        self.project.write_bytes(b"")
        link = self.folder / "link.burrow"
        link.symlink_to(self.project)
        first, second = WindowLock(self.folder), WindowLock(self.folder)
        first.take(self.project, since="1")
        self.assertIsNotNone(second.take(link, since="2"))
        first.release()

    def test_where_nothing_can_be_locked_the_window_works(self) -> None:
        (self.folder / "open").write_text("a file in its place")
        lock = WindowLock(self.folder)
        self.assertIsNone(lock.take(self.project, since="1"))
        lock.release()

    def test_a_lock_with_rubbish_in_it_is_still_a_lock(self) -> None:
        first, second = WindowLock(self.folder), WindowLock(self.folder)
        first.take(self.project, since="1")
        for file in (self.folder / "open").iterdir():
            file.write_bytes(b"\xff{")
        holder = second.take(self.project, since="2")
        assert holder is not None
        self.assertEqual(holder.process, 0)
        first.release()


if __name__ == "__main__":
    unittest.main()
