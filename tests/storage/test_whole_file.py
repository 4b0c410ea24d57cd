"""Files whole or not at all: links followed, permissions kept, pipes refused, changes by others seen."""

from __future__ import annotations

import os
import stat
import tempfile
import unittest
from pathlib import Path

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.storage.whole_file import is_changed, mark_of, read_marked, read_whole, write_together, write_whole


class Folder(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def mode(self, path: Path) -> int:
        return stat.S_IMODE(path.stat().st_mode)


class Writing(Folder):
    def test_a_link_is_followed_and_stays_a_link(self) -> None:
        (self.folder / "real").mkdir()
        real, link = self.folder / "real" / "kit.burrow", self.folder / "kit.burrow"
        real.write_bytes(b"old")
        link.symlink_to(real)
        write_whole(link, b"new")
        self.assertTrue(link.is_symlink())
        self.assertEqual(real.read_bytes(), b"new")
        dangling = self.folder / "later"
        dangling.symlink_to(self.folder / "real" / "later")
        write_whole(dangling, b"first")
        self.assertEqual((self.folder / "real" / "later").read_bytes(), b"first")

    def test_a_link_in_a_circle_is_said_and_left(self) -> None:
        one, other = self.folder / "one", self.folder / "other"
        one.symlink_to(other)
        other.symlink_to(one)
        with self.assertRaises(UnusableInput):
            write_whole(one, b"x")
        self.assertTrue(one.is_symlink())

    def test_a_file_keeps_the_permissions_it_has(self) -> None:
        path = self.folder / "private"
        path.write_bytes(b"old")
        for mode in (0o600, 0o640, 0o644):
            path.chmod(mode)
            write_whole(path, b"new")
            self.assertEqual(self.mode(path), mode)

    def test_a_new_file_gets_what_the_mask_leaves(self) -> None:
        before = os.umask(0o027)
        try:
            write_whole(self.folder / "fresh", b"x")
        finally:
            os.umask(before)
        self.assertEqual(self.mode(self.folder / "fresh"), 0o640)

    def test_what_bears_the_name_and_is_no_file_stays(self) -> None:
        (self.folder / "a").mkdir()
        os.mkfifo(self.folder / "b")
        for name, what in (("a", "folder"), ("b", "pipe")):
            with self.assertRaises(UnusableInput) as caught:
                write_whole(self.folder / name, b"x")
            self.assertIn(what, str(caught.exception))
        self.assertEqual(sorted(path.name for path in self.folder.iterdir()), ["a", "b"])

    def test_several_are_written_all_or_none(self) -> None:
        (self.folder / "b").mkdir()
        with self.assertRaises(UnusableInput):
            write_together({self.folder / "a": b"1", self.folder / "b": b"2"})
        self.assertEqual([path.name for path in self.folder.iterdir()], ["b"])

    def test_names_that_cannot_be_are_said(self) -> None:
        for name in ("x" * 300, "a\0b"):
            with self.subTest(name[:3]), self.assertRaises(UnusableInput):
                write_whole(self.folder / name, b"x")
        with self.assertRaises(UnusableInput):
            write_whole(Path("/proc/none/a"), b"x")


class Reading(Folder):
    def test_pipes_and_devices_are_not_waited_for(self) -> None:
        os.mkfifo(self.folder / "pipe")
        for path in (self.folder / "pipe", Path("/dev/zero"), self.folder, self.folder / "none", Path("a\0b")):
            with self.subTest(str(path)), self.assertRaises(UnusableInput) as caught:
                read_whole(path)
            self.assertNotIn("\n", str(caught.exception))

    def test_what_is_too_large_is_refused_by_its_size(self) -> None:
        path = self.folder / "a"
        path.write_bytes(b"x" * 101)
        with self.assertRaises(UnusableInput):
            read_whole(path, most=100)
        self.assertEqual(read_whole(path, most=101), b"x" * 101)


class Marks(Folder):
    def test_only_what_holds_something_else_is_changed(self) -> None:
        path = self.folder / "kit"
        mark = write_whole(path, b"mine")
        self.assertEqual(mark, mark_of(path))
        self.assertEqual(read_marked(path), (b"mine", mark))
        self.assertFalse(is_changed(path, mark))
        os.utime(path, ns=(1, 1))  # touched by a copy tool, the same inside
        self.assertFalse(is_changed(path, mark))
        path.write_bytes(b"them")  # as long as before
        os.utime(path, ns=(mark.written_ns, mark.written_ns))
        other = self.folder / "moved"
        path.rename(other)
        other.rename(path)
        self.assertTrue(is_changed(path, mark_of(self.folder / "none")))
        path.write_bytes(b"longer than before")
        self.assertTrue(is_changed(path, mark))

    def test_a_file_that_is_gone_holds_nothing_to_lose(self) -> None:
        path = self.folder / "kit"
        mark = write_whole(path, b"mine")
        path.unlink()
        self.assertFalse(is_changed(path, mark))
        self.assertFalse(is_changed(path, None))
        path.write_bytes(b"back")
        self.assertTrue(is_changed(path, None))


if __name__ == "__main__":
    unittest.main()
