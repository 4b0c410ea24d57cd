"""Tables and arguments that mean harm: refused by their cell, in a sentence, at once."""

from __future__ import annotations

import os
import tempfile
import unittest
from pathlib import Path
from unittest.mock import patch

from hypothesis import given, settings
from hypothesis import strategies as st

from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.units import parse_length, parse_size
from cozy_burrow.jobs import kit_file
from cozy_burrow.jobs.kit_file import read_kit
from tests.acceptance.command import burrow

MANY = "9" * 5_000  # more digits than Python turns into a number


class Figures(unittest.TestCase):
    def refuse(self, text: str) -> str:
        with self.assertRaises(UnusableInput) as caught:
            parse_length(text, where="column length")
        sentence = str(caught.exception)
        self.assertLess(len(sentence), 300)
        self.assertIn("column length", sentence)
        return sentence

    def test_endless_figures_are_refused_in_a_short_sentence(self) -> None:
        for text in (MANY, f"1/{MANY}", f"{MANY}/3", f"{MANY} 1/2", f"1.{MANY}", f"{MANY}mm", "9" * 90, f"-{MANY}"):
            self.refuse(text)
        self.refuse(f"{'9' * 40}/7")
        self.assertEqual(parse_size("570x390x75", parts=3), (570.0, 390.0, 75.0))
        with self.assertRaises(UnusableInput):
            parse_size("x".join([MANY] * 3), parts=3)

    def test_what_is_quoted_is_cut_short(self) -> None:
        self.assertEqual(quoted("  12\tmm "), "'12 mm'")
        self.assertEqual(len(quoted("x" * 900)), 43)

    @settings(derandomize=True, deadline=None, max_examples=300)
    @given(st.text(alphabet="0123456789/.,-+ x@:minINE½²٣\u202e\"'", max_size=60))
    def test_no_figure_is_more_than_refused(self, text: str) -> None:
        try:
            self.assertLessEqual(abs(parse_length(text)), 10_000.0)
        except UnusableInput as error:
            self.assertNotIn("\n", str(error))


class Tables(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def refuse(self, text: str, says: str) -> None:
        path = self.folder / "kit.csv"
        path.write_text(text, encoding="utf-8")
        with self.assertRaises(UnusableInput) as caught:
            read_kit(path)
        self.assertIn(says, str(caught.exception))
        self.assertLess(len(str(caught.exception)), 500)

    def test_endless_cells_are_refused_by_their_column(self) -> None:
        head = "name,quantity,shape,length,width,thickness,stations,mass_g\n"
        self.refuse(f"{head}a,{MANY},box,1,1,1,,\n", "column quantity")
        self.refuse(f"{head}a,²,box,1,1,1,,\n", "column quantity")
        self.refuse(f"{head}a,1,box,{MANY}/3,1,1,,\n", "column length")
        self.refuse(f"{head}a,1,,,,,0:32 {MANY}:32,\n", "column stations")
        self.refuse(f"{head}a,1,,,,,0:32 95:{MANY}x3,\n", "column stations")
        self.refuse(f"{head}a,1,box,1,1,1,,{MANY}\n", "column mass_g")
        self.refuse(f"{head}a,1,{MANY},1,1,1,,\n", "column shape")

    def test_a_million_columns_are_counted_and_refused(self) -> None:
        for head in (
            ",".join(f"c{n}" for n in range(1_000_000)),
            ",".join(["name"] * 30_000),
            "name," + ",".join(f'"c\n{n}"' for n in range(300)),
        ):
            self.refuse(head + "\n", "200 at most")

    def test_two_columns_of_one_name_are_named(self) -> None:
        self.refuse("name,width,width\na,1,1\n", "'width' comes twice")

    def test_what_a_cell_names_is_looked_at_like_any_other_file(self) -> None:
        os.mkfifo(self.folder / "pipe.svg")
        (self.folder / "endless.svg").symlink_to("/dev/zero")
        (self.folder / "folder.svg").mkdir()
        for name in ("pipe.svg", "endless.svg", "folder.svg", "none.svg"):
            self.refuse(f"name,outline,thickness\na,{name},5\n", name)

    def test_a_drawing_that_ten_rows_name_is_read_once(self) -> None:
        (self.folder / "a.svg").write_text(
            '<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="9mm" viewBox="0 0 40 9">'
            '<path d="M0 0H40V9H0Z"/></svg>'
        )
        path = self.folder / "kit.csv"
        path.write_text("name,outline,thickness\n" + "".join(f"a{n},a.svg,{5 + n}\n" for n in range(10)))
        with patch.object(kit_file, "read_one_outline", side_effect=kit_file.read_one_outline) as read:
            items = read_kit(path).items
        self.assertEqual((len(items), read.call_count), (10, 1))


class Arguments(unittest.TestCase):
    def test_every_figure_of_plan_is_refused_in_one_line(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            (folder / "kit.csv").write_text("name,shape,length,width,thickness\na,box,30,20,10\n")
            plain = {"--container": "200x150x60", "--foam": "50/10"}
            for option, value in (
                ("--container", f"{MANY}x1x1"),
                ("--container", f"1/{MANY}x1x1"),
                ("--foam", f"{MANY}/10"),
                ("--wall", MANY),
                ("--edge", f"{MANY}/{MANY}"),
                ("--corner-radius", MANY),
                ("--allowance", f"-{MANY}"),
                ("--floor", "9" * 400),
            ):
                words = [part for pair in (plain | {option: value}).items() for part in pair]
                done = burrow("plan", folder / "kit.csv", folder / "out.burrow", *words)
                with self.subTest(option):
                    self.assertEqual(done.status, 2, done.err)
                    self.assertEqual(len(done.err.strip().splitlines()), 1)
                    self.assertNotIn("Traceback", done.err)
                    self.assertLess(len(done.err), 600)
            self.assertEqual([path.name for path in folder.iterdir()], ["kit.csv"])


if __name__ == "__main__":
    unittest.main()
