"""The command line in this process: options, words on the terminal, refusals."""

from __future__ import annotations

import contextlib
import io
import tempfile
import unittest
from pathlib import Path

from cozy_burrow.cli.main import VERBS, run
from cozy_burrow.cli.window import STAGES
from cozy_burrow.core.findings import stages


def call(*words: object) -> tuple[int, str, str]:
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        status = run([str(word) for word in words])
    return status, out.getvalue(), err.getvalue()


class Words(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.kit = self.folder / "kit.csv"
        self.kit.write_text("name,quantity,shape,length,width,thickness\nRule,2,box,100,20,4\n")

    def plan(self, *words: object) -> tuple[int, str, str]:
        out = self.folder / "a.burrow"
        return call("plan", self.kit, out, "--container", "300x200x75", "--foam", "50/10", "--seconds", "600", *words)

    def test_a_plan_is_told_in_words(self) -> None:
        status, out, err = self.plan()
        self.assertEqual((status, err), (0, ""))
        self.assertIn("2 of 2 things laid in", out)
        self.assertIn("a.burrow", out)
        status, out, _ = call("check", self.folder / "a.burrow")
        self.assertEqual(status, 0)

    def test_negative_allowances_and_inches_are_values(self) -> None:
        self.assertEqual(self.plan("--allowance", "-1mm")[0], 0)
        self.assertEqual(self.plan("--wall", "1/2in", "--edge", "1 1/8in", "--floor", "2", "--seat", "flush")[0], 0)

    def test_what_cannot_be_got_out_is_named(self) -> None:
        status, out, _ = self.plan("--pulls", "none")
        self.assertEqual(status, 0)
        self.assertIn("care", out)
        self.assertIn("‘Rule 1’ stands out", out)
        self.assertIn("none was asked for", out)

    def test_where_no_pull_fits_the_finding_says_so(self) -> None:
        words = ("--container", "132x52x75", "--foam", "50/10", "--edge", "14", "--seconds", "3")
        self.kit.write_text("name,shape,length,width,thickness\nRule,box,100,20,4\n")
        status, out, _ = call("plan", self.kit, self.folder / "t.burrow", *words)
        self.assertEqual(status, 0, out)
        self.assertIn("no room beside it", out)

    def test_an_export_names_its_files(self) -> None:
        self.plan()
        status, out, _ = call(
            "export", self.folder / "a.burrow", self.folder / "x", "--only", "csv,labels", "--paper", "a3"
        )
        self.assertEqual(status, 0)
        self.assertEqual(sorted(Path(line).name for line in out.split()), ["cuts.csv", "items.csv", "labels.pdf"])

    def test_refusals_are_one_line_and_status_2(self) -> None:
        for words in (
            ("plan",),
            ("plan", self.kit),
            ("check",),
            ("export", self.folder / "no.burrow", self.folder),
            ("outlines", self.folder / "no.svg", self.folder / "out"),
            ("--size", "big"),
            ("--theme", "dark"),
            ("--stage", "keep"),
            ("--demo", "x.burrow"),
            ("nonsense.txt",),
            ("--scale", "9"),
        ):
            with self.subTest(words):
                status, out, err = call(*words)
                self.assertEqual((status, out), (2, ""))
                self.assertEqual(len(err.strip().splitlines()), 1, err)
                self.assertTrue(err.startswith("cozy-burrow: "))

    def test_help_lists_every_verb(self) -> None:
        for word in ("--help", "-h", "help"):
            status, out, _ = call(word)
            self.assertEqual(status, 0)
            for verb in VERBS:
                self.assertIn(verb, out)

    def test_the_stages_of_the_command_line_are_those_of_the_window(self) -> None:
        self.assertEqual(STAGES, stages.STAGES)

    def test_outlines_are_told_in_words(self) -> None:
        drawing = self.folder / "a.svg"
        drawing.write_text('<svg xmlns="http://www.w3.org/2000/svg"><rect width="96" height="48"/><text>x</text></svg>')
        status, out, err = call("outlines", drawing, self.folder / "out")
        self.assertEqual(status, 0)
        self.assertIn("a.svg: 25.4 x 12.7 mm, 0 holes", out)
        self.assertIn("left out: text", err)
