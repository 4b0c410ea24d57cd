"""What is said: filled in, in the right form, in another language where that is asked for."""

from __future__ import annotations

import os
import subprocess
import sys
import unittest
from string import Formatter

from hypothesis import given
from hypothesis import strategies as st
from tools.words import plain_refusals

from cozy_burrow.core import tongue
from cozy_burrow.core.tongue import pseudo, tr, trn

IMPORTS = "from cozy_burrow.core.tongue import tr, trn; from cozy_burrow.core.units import format_length, parse_length"


def said_in(language: str, code: str) -> str:
    """Return what a process prints that speaks a language."""
    done = subprocess.run(
        [sys.executable, "-c", f"{IMPORTS}; print({code})"],
        env=os.environ | {tongue.LANGUAGE: language, "PYTHONIOENCODING": "utf-8"},
        capture_output=True,
        encoding="utf-8",
        check=True,
    )
    return done.stdout.rstrip("\n")


class English(unittest.TestCase):
    def test_fields_are_filled_in_and_braces_stay_where_there_are_none(self) -> None:
        self.assertEqual(tr("{depth:.1f} mm deep", depth=12.34), "12.3 mm deep")
        self.assertEqual(tr("Save"), "Save")
        self.assertEqual(tr("{}"), "{}")

    def test_one_and_many(self) -> None:
        self.assertEqual(trn("{count} layer", "{count} layers", 1), "1 layer")
        self.assertEqual(trn("{count} layer of {name}", "{count} layers of {name}", 3, name="foam"), "3 layers of foam")


class German(unittest.TestCase):
    def test_it_is_spoken_where_it_is_asked_for(self) -> None:
        self.assertEqual(said_in("de", 'tr("Save")'), "Speichern")
        self.assertEqual(said_in("de", 'trn("{count} layer", "{count} layers", 1)'), "1 Lage")
        self.assertEqual(said_in("de", 'trn("{count} layer", "{count} layers", 2)'), "2 Lagen")

    def test_figures_have_a_comma_and_are_read_back(self) -> None:
        code = 'tr("{tilt:.1f}° schief", tilt=1.25), format_length(12.5), parse_length(format_length(12.5))'
        self.assertEqual(said_in("de", code), "1,2° schief 12,5 mm 12.5")

    def test_a_text_without_translation_and_a_language_that_is_not_known_are_english(self) -> None:
        self.assertEqual(said_in("de", 'tr("Nobody says this {way}", way="here")'), "Nobody says this here")
        self.assertEqual(said_in("tlh", 'tr("Save")'), "Save")


class Pseudo(unittest.TestCase):
    @given(st.text("abc {}xyz:.1f", max_size=40))
    def test_whatever_can_be_filled_in_still_can(self, text: str) -> None:
        try:
            before = [field for _, field, _, _ in Formatter().parse(text)]
        except ValueError:
            return
        after = [field for _, field, _, _ in Formatter().parse(pseudo(text))]
        self.assertEqual([one for one in after if one is not None], [one for one in before if one is not None])

    def test_it_is_forty_per_cent_longer_and_nothing_is_as_it_was(self) -> None:
        text = "Gather an item from a photo"
        self.assertGreaterEqual(len(pseudo(text)), 1.38 * len(text))
        self.assertNotIn("a", pseudo(text))
        self.assertEqual(pseudo("{length} deep").count("{length}"), 1)
        self.assertEqual(pseudo("{a:{b}}"), "{a:{b}}")  # a field in a field
        self.assertEqual(pseudo(""), "")


if __name__ == "__main__":
    unittest.main()


class Past(unittest.TestCase):
    def test_a_refusal_that_passes_by_the_catalogue_is_found(self) -> None:
        source = """
raise UnusableInput("the file is empty", remedy=tr("choose another"))
raise UnusableInput(tr("the file is empty"), where="a file", remedy=f"take one of at least {least} lines")
raise UnusableInput(tr("fine"), where=f"{path}", remedy=tr("fine"))
raise Gone(f"'{name}' is gone")
raise ValueError("for programmers only")
"""
        self.assertEqual(plain_refusals(source), [2, 3, 5])
