"""The command line in this process: options, words on the terminal, refusals."""

from __future__ import annotations

import contextlib
import io
import json
import os
import subprocess
import sys
import tempfile
import unittest
from importlib.metadata import version
from pathlib import Path
from typing import get_args

from cozy_burrow.cli.main import VERBS, run
from cozy_burrow.cli.window import STAGES
from cozy_burrow.core.findings import stages
from cozy_burrow.core.kit.columns import COLUMNS
from cozy_burrow.core.model.records import SEATS, ContainerKind
from cozy_burrow.storage.project_file import load


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
        self.assertIn("2 of 2 items placed", out)
        self.assertIn("a.burrow", out)
        status, out, _ = call("check", self.folder / "a.burrow")
        self.assertEqual(status, 0)

    def test_negative_allowances_and_inches_are_values(self) -> None:
        self.assertEqual(self.plan("--allowance", "-1mm")[0], 0)
        self.assertEqual(self.plan("--wall", "1/2in", "--edge", "1 1/8in", "--floor", "2", "--seat", "flush")[0], 0)

    def test_what_cannot_be_got_out_is_named(self) -> None:
        status, out, _ = self.plan("--pulls", "none")
        self.assertEqual(status, 0)
        self.assertIn("warning", out)
        self.assertIn("‘Rule 1’ lies 6 mm below the surface", out)
        self.assertIn("none was asked for", out)

    def test_where_no_pull_fits_the_finding_says_so(self) -> None:
        words = ("--container", "132x52x75", "--foam", "50/10", "--edge", "14", "--steps", "0", "--seconds", "600")
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

    def test_a_longer_rule_takes_the_place_of_one(self) -> None:
        self.plan()
        new = self.folder / "new.csv"
        new.write_text("name,shape,length,width,thickness\nLong rule,box,104,20,4\n")
        words = ("refit", self.folder / "a.burrow", new, self.folder / "b.burrow", "--item", "long rule")
        status, out, err = call(*words, "--replaces", "Rule", "--json")
        self.assertEqual((status, err), (0, ""), out)
        first = json.loads(out)["proposals"][0]
        self.assertLess(first["fill_mm3"], 400.0)
        self.assertGreater(first["cut_mm3"], 500.0)  # four millimetres more of a pocket 20 wide and some layers deep
        self.assertEqual(first["moved"], [])
        before, after = (load(self.folder / name) for name in ("a.burrow", "b.burrow"))
        self.assertEqual([(one.name, one.quantity) for one in after.items], [("Rule", 1), ("Long rule", 1)])
        stayed = next(one for one in before.inserts[0].placements if one.copy == 1)
        self.assertIn(stayed, after.inserts[0].placements)
        for wrong, said in ((("--replaces", "Rul"), "did you mean Rule"), (("--replaces", "hammer"), "no item")):
            status, out, err = call(*words, *wrong)
            self.assertEqual((status, out), (2, ""))
            self.assertIn(said, err)

    def test_marks_are_written_in_the_size_that_is_asked_for(self) -> None:
        out = self.folder / "marks.pdf"
        status, told, err = call("marks", out, "--size", "3/4in")
        self.assertEqual((status, err), (0, ""))
        self.assertIn("19.05 mm", told)
        self.assertTrue(out.read_bytes().startswith(b"%PDF"))
        status, told, err = call("marks", out, "--size", "4mm")
        self.assertEqual((status, told), (2, ""))
        self.assertIn("8 to 60 mm", err)
        self.assertTrue(out.exists())

    def test_refusals_are_one_line_and_status_2(self) -> None:
        for words in (
            ("plan",),
            ("plan", self.kit),
            ("check",),
            ("export", self.folder / "no.burrow", self.folder),
            ("outlines", self.folder / "no.svg", self.folder / "out"),
            ("--size", "big"),
            ("--theme", "dark"),
            ("--stage", "polish"),
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

    def test_the_template_is_a_kit_that_can_be_planned_and_has_every_column(self) -> None:
        status, out, err = call("plan", "--template")
        self.assertEqual((status, err), (0, ""))
        header = next(line for line in out.splitlines() if not line.startswith("#"))
        self.assertEqual(tuple(header.split(",")), COLUMNS)
        self.kit.write_text(out)
        words = ("--container", "400x300x60", "--foam", "40/10", "--steps", "0", "--seconds", "600")
        status, out, err = call("plan", self.kit, self.folder / "t.burrow", *words)
        self.assertEqual((status, err), (0, ""))
        self.assertIn("12 of 12", out)

    def test_help_explains_kinds_seats_and_stations(self) -> None:
        _, out, _ = call("plan", "--help")
        for word in (*get_args(ContainerKind), *SEATS, "0:32 95:32 95:6 210:6", "--template", "--units", "burrow~"):
            self.assertIn(word, out)

    def test_the_version_is_that_of_the_package(self) -> None:
        self.assertEqual(call("--version"), (0, f"cozy-burrow {version('cozy-burrow')}\n", ""))

    def test_a_shell_is_offered_verbs_and_options(self) -> None:
        def offered(line: str) -> list[str]:
            words = {"COMP_WORDS": line, "COMP_CWORD": str(len(line.split(" ")) - 1)}
            words["_COZY_BURROW_COMPLETE"] = "bash_complete"
            command = [sys.executable, "-m", "cozy_burrow"]
            done = subprocess.run(command, env=os.environ | words, capture_output=True, text=True, check=False)
            self.assertEqual(done.stderr, "")
            out = done.stdout
            return [one.partition(",")[2] for one in out.split()]

        self.assertEqual(offered("cozy-burrow "), list(VERBS))
        self.assertEqual(offered("cozy-burrow pl"), ["plan"])
        self.assertIn("--shot", offered("cozy-burrow --s"))
        self.assertEqual(offered("cozy-burrow plan --se"), ["--seat", "--seconds", "--seed"])
        self.assertEqual(offered("cozy-burrow plan k o --kind "), list(get_args(ContainerKind)))

    def test_an_unknown_column_is_told_on_standard_error_and_the_plan_is_made(self) -> None:
        self.kit.write_text("name,quantiy,shape,length (in),width,thickness,shelf\nRule,2,box,4,20,4,red\n")
        status, out, err = self.plan("--json")
        self.assertEqual(status, 0)
        self.assertEqual(
            err.splitlines(),
            [
                "kit.csv: column 'quantiy' is not known; did you mean quantity? Its values are kept as notes",
                "kit.csv: column 'shelf' is not known; its values are kept as notes",
            ],
        )
        self.assertEqual(len(json.loads(out)["placed"]), 1)
        self.assertEqual(load(self.folder / "a.burrow").items[0].notes, "quantiy: 2; shelf: red")

    def test_a_kit_that_is_refused_says_only_that(self) -> None:
        self.kit.write_text("name,lenght,width,thickness,shelf\nRule,100,20,4,red\n")
        status, out, err = self.plan()
        self.assertEqual((status, out), (2, ""))
        self.assertEqual(len(err.splitlines()), 1)
        self.assertIn("call that length", err)

    def test_bare_figures_in_inches(self) -> None:
        self.kit.write_text("name,length,width,thickness\nRule,4,1/2,1/4\n")
        self.assertEqual(self.plan("--units", "inch")[0], 0)
        made = load(self.folder / "a.burrow")
        self.assertEqual((made.units, made.items[0].thickness_mm), ("inch", 6.35))

    def test_an_older_plan_is_kept_beside(self) -> None:
        self.plan("--seat", "flush")
        first = load(self.folder / "a.burrow")
        self.plan("--seat", "half")
        (self.folder / "a.burrow~").rename(self.folder / "older.burrow")
        self.assertEqual(load(self.folder / "older.burrow"), first)

    def test_why_something_lies_nowhere_comes_as_a_code(self) -> None:
        self.kit.write_text("name,length,width,thickness\nPlate,900,20,4\nTin,60,40,12\nLid,280,180,8\n")
        why = {one["name"]: one["code"] for one in json.loads(self.plan("--json", "--steps", "0")[1])["unplaced"]}
        self.assertEqual(why, {"Plate": "too_large", "Lid": "too_large"})
        status, out, _ = self.plan("--json", "--seconds", "0")
        self.assertEqual(status, 1)
        why = {one["name"]: one["code"] for one in json.loads(out)["unplaced"]}
        self.assertEqual(why, {"Plate": "too_large", "Tin": "no_time", "Lid": "too_large"})

    def test_where_a_kit_is_too_much_for_the_foam_it_is_said_once_and_what_would_hold_it(self) -> None:
        self.kit.write_text("name,length,width,thickness,quantity\nplate,120,60,12,16\nbar,900,20,4,1\n")
        status, out, _ = self.plan("--steps", "1")
        self.assertEqual(status, 1)
        (many,) = [line for line in out.splitlines() if "not placed, no room" in line]
        self.assertRegex(many, r"^  \d+ not placed, no room left that keeps walls and edges: plate \(\d+\)$")
        self.assertIn("  not placed: bar 1: too long", out)
        self.assertRegex(out, r"\n  The kit asks for \d\d\d% of the foam, with walls and edges\.\n")
        self.assertRegex(
            out, r"\n  It would take about \d inserts like this one, or a single one of about \d+ × \d+ mm inside\.\n"
        )
        self.kit.write_text("name,length,width,thickness,quantity\nplate,120,60,12,1\nbar,900,20,4,1\n")
        self.assertNotIn("asks for", self.plan("--steps", "1")[1])

    def test_the_stages_of_the_command_line_are_those_of_the_window(self) -> None:
        self.assertEqual(STAGES, stages.STAGES)

    def test_outlines_are_told_in_words(self) -> None:
        drawing = self.folder / "a.svg"
        drawing.write_text('<svg xmlns="http://www.w3.org/2000/svg"><rect width="96" height="48"/><text>x</text></svg>')
        status, out, err = call("outlines", drawing, self.folder / "out")
        self.assertEqual(status, 0)
        self.assertIn("a.svg: 25.4 x 12.7 mm, 0 holes", out)
        self.assertIn("left out: text", err)
