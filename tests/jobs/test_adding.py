"""What a successor adds, added here from outside: a format, a kind of finding, a kind of pull (docs/adding.md)."""

from __future__ import annotations

import ast
import json
import tempfile
import unittest
from collections.abc import Iterator
from contextlib import redirect_stdout
from io import StringIO
from pathlib import Path
from unittest.mock import patch

from msgspec.structs import replace
from tools.kinds_as_text import compared, main

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings import report
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.kinds import KINDS, kind
from cozy_burrow.core.findings.stages import stage_of
from cozy_burrow.core.findings.telling import brief, finding_text, kind_of
from cozy_burrow.core.ground.grips import grip_of
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.edits import add_pulls
from cozy_burrow.core.model.memo import forget_all
from cozy_burrow.core.model.pull_kinds import PULL_KINDS, PullKind, pull_kind
from cozy_burrow.core.model.records import Rules
from cozy_burrow.core.pulls.by_kind import pull_of_kind
from cozy_burrow.jobs.export import parse_only, write_export
from cozy_burrow.jobs.export_job import ExportJob
from cozy_burrow.jobs.export_writers import WRITERS, Files, writes
from cozy_burrow.storage.project_file import from_bytes, to_bytes
from tests.makers import box, laid, project

PLAN = laid(project(replace(box(80, 40, 24, "pot"), notes="goes away hot"), box(60, 30, 24)), (100, 60), (200, 140))


class AFormat(unittest.TestCase):
    def test_a_writer_is_asked_for_by_its_word_like_any_other(self) -> None:
        with patch.dict(WRITERS), tempfile.TemporaryDirectory() as name:

            @writes("list")
            def names_of(job: ExportJob) -> Files:
                yield (
                    "names.txt",
                    "\n".join(sorted(one for each in job.inserts for one in each.names.values())).encode(),
                )

            written = write_export(PLAN, Path(name), kinds=parse_only("list"))
            self.assertEqual(written, ["names.txt"])
            self.assertEqual((Path(name) / "names.txt").read_text(), "box\npot")
        with self.assertRaises(UnusableInput):
            parse_only("list")


class AFinding(unittest.TestCase):
    def test_a_kind_says_all_of_itself_where_it_is_worked_out(self) -> None:
        with patch.dict(KINDS):
            hot = kind(
                "HOT_BESIDE_FOAM",
                "Goes away hot",
                "Foam melts from about 70 °C on.",
                stage="sink",
                against="above",
                says=lambda one: f"{one.who} goes away at {one.value}, {one.limit} allowed.",
            )

            def judge(ground: Ground) -> Iterator[Finding]:
                for key, pocket in ground.pockets.items():
                    if "hot" in pocket.item.notes:
                        yield Finding(
                            severity="care", code=hot.code, placements=(key,), value=120.0, limit=70.0, unit="°C"
                        )

            with patch.object(report, "_JUDGES", (*report._JUDGES, judge)):
                (found,) = (one for one in report.findings_of(PLAN) if one.code == hot.code)
            self.assertEqual(finding_text(PLAN, found), "‘pot’ goes away at 120 °C, 70 °C allowed.")
            self.assertEqual(brief(PLAN, found), "120 °C, 70 °C allowed")
            self.assertEqual((stage_of(found), kind_of(found).title), ("sink", "Goes away hot"))

    def test_no_code_is_given_twice(self) -> None:
        taken = next(iter(KINDS.values()))
        with self.assertRaises(ValueError):
            kind(taken.code, taken.title, taken.why, stage=taken.stage, says=taken.says)


class APull(unittest.TestCase):
    def setUp(self) -> None:
        forget_all()
        self.addCleanup(forget_all)

    def test_a_kind_is_chosen_cut_judged_saved_and_written_by_what_it_declares(self) -> None:
        with patch.dict(PULL_KINDS):
            thumb = pull_kind(PullKind("thumb", "thumb hole", points=1, cost=-0.5, size="notch_mm", out=0.2))
            ground = ground_of(PLAN, PLAN.inserts[0])
            pocket, most = ground.pockets["item-1#1"], len(ground.layers) - 1
            pull = pull_of_kind(pocket, thumb.name, ground.layers, most, Rules())
            assert pull is not None
            self.assertEqual((pull.kind, pull.width_mm), ("thumb", Rules().notch_mm))
            plan = add_pulls(PLAN, "insert-1", [replace(pull, serves=("item-1#1",))])
            cut = ground_of(plan, plan.inserts[0])
            self.assertEqual(cut.pulls[0].layers, pocket.depth_layers)
            self.assertEqual(grip_of(cut, "item-1#1").how, "pull")
            self.assertEqual(from_bytes(to_bytes(plan), where="a"), plan)
            with tempfile.TemporaryDirectory() as name:
                (file,) = write_export(plan, Path(name), kinds=("json",))
                written = json.loads((Path(name) / file).read_text())["pulls"]
            self.assertEqual([one["kind"] for one in written], ["thumb"])
        with self.assertRaisesRegex(UnusableInput, "of no kind known here: 'thumb'"):
            from_bytes(to_bytes(plan), where="a")

    def test_no_name_is_given_twice(self) -> None:
        with self.assertRaises(ValueError):
            pull_kind(PullKind("trench", "trench"))

    def test_a_kind_to_choose_says_how_wide_it_is(self) -> None:
        with patch.dict(PULL_KINDS), self.assertRaises(ValueError):
            pull_kind(PullKind("groove", "groove", cost=0.1))


class ByItsObject(unittest.TestCase):
    def test_a_kind_that_is_compared_as_text_is_found_and_there_is_none(self) -> None:
        self.assertEqual(list(compared(ast.parse('a\nif pull.kind in {"trench", "x"}: pass'))), [2])
        self.assertEqual(list(compared(ast.parse('match finding.code:\n case "LOOSE": pass'))), [2])
        self.assertEqual(list(compared(ast.parse('if grip.how == "press" or pull.kind == TRENCH.name: pass'))), [])
        with patch("sys.argv", ["kinds_as_text"]), redirect_stdout(StringIO()):
            self.assertEqual(main(), 0)


if __name__ == "__main__":
    unittest.main()
