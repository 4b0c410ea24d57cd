"""The bench without a window: its JSON, its words, the log that is read, refused, written, and what it changes."""

from __future__ import annotations

import csv
import io
import json
import tempfile
import unittest
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from cozy_burrow.core.bench.forecast import LogRow, SheetWork
from cozy_burrow.core.bench.methods import METHODS
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.jobs.bench import bench_answer
from cozy_burrow.jobs.bench_log import COLUMNS, add_to_log, kept_log, log_from, log_text, read_log
from cozy_burrow.jobs.bench_words import _STEPS
from cozy_burrow.storage.project_file import save
from tests.cli.test_cli import call

DEMO = demo_project()
ROW = "2026-03-01,Drawer 1,3.5,4.25,9,1800,6,5,31,2"
HEAD = ",".join(COLUMNS)


class Answer(unittest.TestCase):
    answer: dict

    @classmethod
    def setUpClass(cls) -> None:
        cls.answer = bench_answer(DEMO, ())

    def test_it_has_every_sheet_and_every_cut_in_order(self) -> None:
        sheets = self.answer["sheets"]
        self.assertEqual(len(sheets), sum(len(insert.sheets) for insert in DEMO.inserts))
        for sheet in sheets:
            self.assertEqual([cut["no"] for cut in sheet["cuts"]], list(range(1, len(sheet["cuts"]) + 1)))
            for cut in sheet["cuts"]:
                self.assertEqual(len(cut["passes_mm"]), cut["passes"])
                self.assertEqual(cut["passes_mm"][-1], cut["blade_mm"])
                self.assertTrue(cut["why"] and cut["method"] and cut["serves"] and cut["cautions"])
                self.assertLessEqual(cut["straight_mm"], cut["length_mm"] + 0.1)
                self.assertGreater(cut["minutes"], 0)
        json.dumps(self.answer)

    def test_the_cuts_of_a_sheet_take_what_the_sheet_takes(self) -> None:
        for sheet in self.answer["sheets"]:
            if sheet["cuts"]:
                of_cuts = sum(cut["minutes"] for cut in sheet["cuts"])
                self.assertTrue(0.7 < of_cuts / sheet["minutes"]["likely"] < 1.1, sheet["insert"])
            else:
                self.assertEqual(sheet["minutes"], {"low": 0.0, "likely": 0.0, "high": 0.0})

    def test_ranges_are_ranges_and_the_sum_is_no_wider_than_its_parts(self) -> None:
        for figures in (*self.answer["sheets"], self.answer):
            for name in ("minutes", "blades"):
                self.assertTrue(figures[name]["low"] <= figures[name]["likely"] <= figures[name]["high"])
        parts = sum(sheet["minutes"]["likely"] for sheet in self.answer["sheets"])
        self.assertTrue(0.75 * parts < self.answer["minutes"]["likely"] < 1.05 * parts)

    def test_a_quick_log_makes_it_quicker(self) -> None:
        work = SheetWork(metres_straight=5, metres_curved=5, pockets=10, layers_cm2=2500, pulls=8, settings=4)
        log = [LogRow(date=f"2026-02-{day:02}", sheet="x", work=work, minutes=11.0, blades=0.0) for day in range(1, 16)]
        quick = bench_answer(DEMO, log)
        self.assertLess(quick["minutes"]["high"], self.answer["minutes"]["likely"])
        self.assertLess(quick["blades"]["likely"], self.answer["blades"]["likely"])

    def test_every_way_to_cut_has_its_steps(self) -> None:
        self.assertEqual(set(_STEPS), set(METHODS))

    def test_nothing_laid_in_takes_nothing(self) -> None:
        from tests.makers import box, project

        empty = bench_answer(project(box()), ())
        self.assertEqual(empty["minutes"]["high"], 0.0)
        self.assertEqual(empty["sheets"][0]["cuts"], [])


class Log(unittest.TestCase):
    def test_what_is_written_is_read_again(self) -> None:
        rows = log_from(f'{HEAD}\n{ROW}\n\n2026-03-04,"Case, lower 2",0,1,2,3,0,1,12.5,\n', where="log.csv")
        self.assertEqual(rows[0].work.metres, 7.75)
        self.assertEqual((rows[1].sheet, rows[1].blades), ("Case, lower 2", 0.0))
        self.assertEqual(log_from(log_text(rows), where="again"), rows)
        bare = log_text(rows[:1], head=False) + log_text(rows[1:], head=False)  # as `--log-row … >> log.csv` makes it
        self.assertEqual(log_from(bare, where="again"), rows)
        with self.assertRaisesRegex(UnusableInput, "row 2, minutes"):
            log_from(bare.replace(",12.5,", ",soon,"), where="log.csv")
        head, cells = ";".join(reversed(COLUMNS)), ";".join(reversed(ROW.split(",")))
        other = f"{head};note\n{cells.replace('4.25', '4,25')};in a hurry"
        self.assertEqual(log_from(other, where="log.csv"), rows[:1])

    def test_what_cannot_be_is_refused_in_one_sentence_with_its_place(self) -> None:
        for text, said in (
            ("", "no column"),
            ("date,sheet\n", "metres_straight"),
            (f"{HEAD}\n{ROW.replace('2026-03-01', 'yesterday')}", "row 2, column date: 'yesterday' is not a date"),
            (f"{HEAD}\n{ROW}\n{ROW.replace(',31,', ',0,')}", "row 3, minutes"),
            (f"{HEAD}\n{ROW.replace('3.5', '-1')}", "metres_straight: '-1' is not a number"),
            (f"{HEAD}\n{ROW.replace('3.5', 'nan')}", "is not a number"),
            (f"{HEAD}\n{ROW.replace('3.5', '1e300')}", "is not a number"),
            (f"{HEAD}\n2026-03-01,short", "metres_straight"),
            (HEAD + "\n" + f"{ROW}\n" * 20_001, "more than 20000 rows"),
        ):
            with self.assertRaises(UnusableInput) as caught:
                log_from(text, where="log.csv")
            self.assertIn(said, str(caught.exception))
            self.assertNotIn("\n", str(caught.exception))

    def test_rows_are_put_at_its_end_and_a_place_that_cannot_be_is_a_sentence(self) -> None:
        (row,) = log_from(f"{HEAD}\n{ROW}", where="x")
        with tempfile.TemporaryDirectory() as name:
            path = Path(name) / "new" / "log.csv"
            self.assertEqual(kept_log(path), ())
            add_to_log(path, row)
            self.assertEqual(add_to_log(path, row), (row, row))
            self.assertEqual(read_log(path), (row, row))
            (Path(name) / "file").write_text("")
            for bad in (Path(name) / "file" / "log.csv", Path(name)):
                with self.assertRaises(UnusableInput):
                    add_to_log(bad, row)
            path.write_text("damaged")
            with self.assertRaises(UnusableInput):
                add_to_log(path, row)
            self.assertEqual(path.read_text(), "damaged")

    @settings(derandomize=True, deadline=None, max_examples=200)
    @given(st.text(max_size=300))
    def test_no_text_ends_in_anything_but_a_sentence(self, text: str) -> None:
        for whole in (text, f"{HEAD}\n{text}", f"{HEAD}\n{ROW}\n{text},{text}"):
            try:
                log_from(whole, where="log.csv")
            except UnusableInput as refused:
                self.assertTrue(refused.sentence())


class CommandLine(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.file = self.folder / "demo.burrow"
        save(DEMO, self.file)

    def test_it_prints_json_and_words(self) -> None:
        log = self.folder / "log.csv"
        log.write_text(f"{HEAD}\n{ROW}\n")
        status, out, err = call("bench", self.file, "--log", log, "--json")
        self.assertEqual((status, err), (0, ""))
        self.assertEqual(set(json.loads(out)), {"sheets", "minutes", "blades"})
        status, out, err = call("bench", self.file)
        self.assertEqual((status, err), (0, ""))
        self.assertIn("in four of five cases", out)
        self.assertIn("blade", out)

    def test_a_row_of_the_log_is_that_of_the_sheet_and_is_read_back(self) -> None:
        insert = DEMO.inserts[0]
        words = ("bench", "--log-row", self.file, insert.name, "1", "--minutes", "27", "--blades", "2")
        status, out, err = call(*words)
        self.assertEqual((status, err), (0, ""))
        (cells,) = csv.reader(io.StringIO(out))
        row = dict(zip(COLUMNS, cells))
        self.assertEqual((row["minutes"], row["blades"]), ("27", "2"))
        ground = ground_of(DEMO, insert)
        self.assertEqual(float(row["pockets"]), len(ground.pockets))
        log = self.folder / "log.csv"
        log.write_text(HEAD + "\n" + out)
        self.assertEqual(len(read_log(log)), 1)

    def test_what_is_not_there_is_said_in_a_line(self) -> None:
        insert = DEMO.inserts[0].name
        for words, said in (
            (("bench", self.folder / "no.burrow"), "no.burrow"),
            (("bench", self.file, "--log", self.folder / "no.csv"), "no.csv"),
            (("bench", "--log-row", self.file, "Attic", "1", "--minutes", "3"), "there is no insert 'Attic'"),
            (("bench", "--log-row", self.file, insert, "77", "--minutes", "3"), "has no sheet 77"),
            (("bench", "--log-row", self.file, insert, "one", "--minutes", "3"), "--log-row takes"),
            (("bench", "--log-row", self.file, insert, "1"), "--minutes"),
            (("bench", "--log-row", self.file, insert, "1", "--minutes", "-3"), "--minutes"),
            (("bench", self.file, insert), "INSERT"),
        ):
            status, out, err = call(*words)
            self.assertEqual((status, out), (2, ""), words)
            self.assertIn(said, err)
            self.assertEqual(err.count("\n"), 1)
