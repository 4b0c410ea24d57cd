"""Settings in a file: they come back whatever they hold, another program's stay, older files are read."""

from __future__ import annotations

import os
import tempfile
import threading
import unittest
from pathlib import Path
from unittest.mock import patch

from hypothesis import given
from hypothesis import strategies as st

from cozy_burrow.storage import ini as ini_module
from cozy_burrow.storage.ini import Ini, decoded, encoded

_NAME = st.from_regex(r"[a-z_]{1,8}", fullmatch=True)
_TEXT = st.text(st.characters(codec="utf-8"), max_size=30)


class Values(unittest.TestCase):
    @given(st.one_of(_TEXT, st.lists(_TEXT, max_size=4)))
    def test_a_value_comes_back_as_it_was(self, value: str | list[str]) -> None:
        text = encoded(value)
        self.assertNotIn("\n", text)
        self.assertEqual(decoded(text), value)

    @given(
        st.dictionaries(st.from_regex(r"[a-z_]{1,8}", fullmatch=True), st.one_of(_TEXT, st.lists(_TEXT)), max_size=4)
    )
    def test_a_file_comes_back_as_it_was(self, values: dict[str, str | list[str]]) -> None:
        with tempfile.TemporaryDirectory() as name:
            path = Path(name) / "settings.ini"
            first = Ini(path)
            for key, value in values.items():
                first.set(f"look/{key}", value)
            first.write()
            again = Ini(path)
            self.assertEqual({key: again.get(f"look/{key}") for key in values}, values)

    def test_what_earlier_versions_wrote_is_understood(self) -> None:
        for text, value in (
            ("lamp", "lamp"),
            ("1.5", "1.5"),
            ("arrange, gather", ["arrange", "gather"]),
            ('/home/a/kit.burrow, "/home/a/b, c.burrow"', ["/home/a/kit.burrow", "/home/a/b, c.burrow"]),
            ("/home/werkst\\xe4tte/kit.burrow", "/home/werkstätte/kit.burrow"),
            ("@Invalid()", []),
            ("", ""),
        ):
            self.assertEqual(decoded(text), value, text)


class Files(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "state" / "settings.ini"

    def test_two_programs_keep_each_others_values(self) -> None:
        mine, theirs = Ini(self.path), Ini(self.path)
        mine.set("look/theme", "lamp")
        theirs.set("mat/paper", "a3")
        mine.write()
        theirs.write()
        self.assertEqual((Ini(self.path).get("look/theme"), Ini(self.path).get("mat/paper")), ("lamp", "a3"))
        self.assertEqual(theirs.get("look/theme"), "lamp")

    def test_it_is_written_by_itself_a_little_later_and_no_second_time_for_nothing(self) -> None:
        one = Ini(self.path)
        written = threading.Event()
        with patch.object(ini_module, "write_whole", lambda *_, **__: written.set()):
            one.set("look/theme", "lamp")
            self.assertTrue(written.wait(3_600))
            self.assertFalse(one._is_due)
            one.set("look/theme", "lamp")
            self.assertFalse(one._is_due)

    def test_who_sets_a_value_waits_neither_for_the_disk_nor_for_a_thread(self) -> None:
        one = Ini(self.path)
        held: list[bool] = []
        write = ini_module.write_whole

        def slow(path: Path, data: bytes, *, flushed: bool) -> None:
            held.append(one._turn.locked())
            if not held[0] and len(held) == 1:
                one.set("mat/paper", "a3")  # in the middle of it
            write(path, data, flushed=flushed)

        with patch.object(ini_module, "write_whole", slow), patch("threading.Thread.start") as started:
            one.set("look/theme", "lamp")
            one.write()
            self.assertEqual(one.get("mat/paper"), "a3")
            one.write()
        self.assertEqual(set(held), {False})
        started.assert_not_called()
        there = Ini(self.path)
        self.assertEqual((there.get("look/theme"), there.get("mat/paper")), ("lamp", "a3"))

    def test_parts_of_one_program_share_what_is_not_written_yet(self) -> None:
        first, second = Ini.at(self.path), Ini.at(self.path)
        first.set("look/theme", "lamp")
        self.assertEqual(second.get("look/theme"), "lamp")
        first.write()

    def test_a_link_stays_a_link_a_private_file_private_and_nobody_waits_for_the_disk(self) -> None:
        self.path.parent.mkdir()
        elsewhere = self.path.with_name("kept-elsewhere.ini")
        elsewhere.write_text("[look]\ntheme = light\n")
        elsewhere.chmod(0o600)
        self.path.symlink_to(elsewhere)
        one = Ini(self.path)
        one.set("look/theme", "lamp")
        with patch("os.fsync") as flushed:
            one.write()
        flushed.assert_not_called()
        self.assertTrue(self.path.is_symlink())
        self.assertEqual(elsewhere.stat().st_mode & 0o777, 0o600)
        self.assertEqual(Ini(elsewhere).get("look/theme"), "lamp")
        self.assertEqual([one.name for one in self.path.parent.glob("*.ini-*")], [])

    def test_what_cannot_be_read_or_written_is_no_trouble(self) -> None:
        self.path.parent.mkdir()
        os.mkfifo(self.path)
        one = Ini(self.path)
        one.set("look/theme", "lamp")
        one.write()
        self.assertIsNone(one.get("look/theme"))
        self.path.unlink()
        self.path.write_bytes(b"\xff\xfe no settings [[[\n= =\n")
        self.assertIsNone(Ini(self.path).get("look/theme"))
        self.path.unlink()
        gone = Ini(self.path)
        gone.set("look/theme", "lamp")
        self.path.parent.rmdir()
        gone.write()
        self.assertFalse(self.path.parent.exists())
