"""Every text passes through a catalogue, and lives with 40 % more length: seen in the language that nobody speaks."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import unittest
from pathlib import Path
from tempfile import TemporaryDirectory

from cozy_burrow.app.desk.settings import LANGUAGE, Settings
from cozy_burrow.app.shell.next_start import step_language
from cozy_burrow.cli.language import chosen
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import LANGUAGE_NAMES, languages
from tests.app.qt import QtCase

SCRIPT = Path(__file__).with_name("words_seen.py")


class Words(unittest.TestCase):
    maxDiff = None

    def test_nothing_is_said_in_plain_english_and_nothing_is_cut_off(self) -> None:
        done = subprocess.run(
            [sys.executable, str(SCRIPT)], env=dict(os.environ), capture_output=True, encoding="utf-8", check=False
        )
        self.assertEqual(done.returncode, 0, done.stderr[-2000:])
        seen = json.loads(done.stdout)
        self.assertEqual(seen["plain"], {})
        self.assertEqual(seen["cut off"], {})

    def test_every_language_has_a_name(self) -> None:
        self.assertLessEqual(set(languages()), LANGUAGE_NAMES.keys())


class Chosen(unittest.TestCase):
    def test_settings_come_before_the_system_and_english_is_last(self) -> None:
        with TemporaryDirectory() as name:
            path = Path(name) / "settings.ini"
            self.assertEqual(chosen(path, {}), "en")
            self.assertEqual(chosen(path, {"LANG": "de_AT.UTF-8"}), "de")
            self.assertEqual(chosen(path, {"LANG": "C", "LC_ALL": ""}), "en")
            path.write_text("[look]\nlanguage=en\n", encoding="utf-8")
            self.assertEqual(chosen(path, {"LANG": "de_DE.UTF-8"}), "en")

    def test_settings_that_make_no_sense_are_passed_by(self) -> None:
        with TemporaryDirectory() as name:
            for number, data in enumerate(
                (b"\xff\xfe", b"[look\n", b"[look]\nlanguage=%(x)s\n", b"language=de\n", b"\x00")
            ):
                path = Path(name) / f"{number}.ini"
                path.write_bytes(data)
                self.assertEqual(chosen(path, {"LANG": "de"}), "de", data)
            self.assertEqual(chosen(Path(name), {}), "en")


class Another(QtCase):
    def test_another_language_is_taken_from_the_next_start_on(self) -> None:
        window = self.window(Project())
        step_language(window)
        self.assertEqual(window.settings.get(LANGUAGE), "de")
        self.assertIn("Deutsch", window.statusBar().currentMessage())
        assert window.settings._file is not None
        window.settings._file.write()
        self.assertEqual(chosen(window.settings.folder / "settings.ini", {}), "de")
        self.assertEqual(Settings(window.settings.folder).get(LANGUAGE), "de")


if __name__ == "__main__":
    unittest.main()
