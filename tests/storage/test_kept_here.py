"""What is kept beside projects is listed whole, and goes by its kind alone."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.storage.kept_here import KINDS, Home, delete, held


class KeptHere(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        root = Path(folder.name)
        self.homes: dict[Home, Path] = {"settings": root / "a", "state": root / "b", "cache": root / "c"}

    def put(self, home: Home, place: str, text: str = "12345") -> Path:
        path = self.homes[home] / place
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text)
        return path

    def test_nothing_is_nothing_and_no_folder_is_made(self) -> None:
        self.assertEqual([one.size_bytes for one in held(self.homes)], [0] * len(KINDS))
        self.assertFalse(any(path.exists() for path in self.homes.values()))

    def test_each_kind_goes_alone_and_unsaved_work_not_at_all(self) -> None:
        log = self.put("state", "bench-log.csv")
        items = [self.put("state", f"things/{n}.json") for n in range(3)]
        gone = self.put("state", "things/removed/old.json")
        copy = self.put("state", "recovery/a.burrow")
        link = self.homes["state"] / "things" / "elsewhere.json"
        link.symlink_to(log)
        by_name = {one.kind.name: one for one in held(self.homes)}
        mine = by_name["My items and containers"]
        self.assertEqual((len(mine.files), mine.size_bytes), (4, 20))
        self.assertEqual(delete(mine), 4)
        self.assertFalse(any(path.exists() for path in (*items, gone)))
        self.assertTrue(log.exists() and copy.exists() and link.is_symlink())
        with self.assertRaises(UnusableInput):
            delete(by_name["Recovery copies"])
        self.assertTrue(copy.exists())

    def test_what_cannot_be_deleted_is_said(self) -> None:
        self.put("cache", "first-sight/a.png")
        (one,) = [one for one in held(self.homes) if one.files]
        path = one.files[0]
        path.unlink()
        path.mkdir()  # something else stands in its place by then
        with self.assertRaisesRegex(UnusableInput, "cannot be deleted"):
            delete(one)
