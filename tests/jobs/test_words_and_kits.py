"""Findings and mends in words, kit files as people save them, files written whole or not at all."""

from __future__ import annotations

import random
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.finding import Finding, Mend
from cozy_burrow.core.findings.kinds import KINDS
from cozy_burrow.core.findings.mend_kinds import MENDS
from cozy_burrow.core.findings.mends import _CARRIED
from cozy_burrow.core.findings.stages import stage_of
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.model.names import named, placement_name
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.model.stages import STAGES
from cozy_burrow.jobs.files import write_all
from cozy_burrow.jobs.kit_file import read_kit
from cozy_burrow.jobs.plan import make_rules, parse_container, parse_foam
from cozy_burrow.jobs.report import report
from cozy_burrow.jobs.wording import mend_text
from tests.makers import box, laid, project


def finding(code: str, count: int = 1) -> Finding:
    return Finding(
        severity="stop",
        code=code,
        placements=tuple(f"item-{n}#1" for n in range(1, count + 1)),
        value=7.5,
        limit=12.0,
        unit="mm",
        layer=2,
        extra="jolt" if code == "LOOSE" else "",  # what it comes loose by belongs to it
    )


class Words(unittest.TestCase):
    plan = project(box(name="Rule"), box(name="Square"), replace(box(name="Pin"), quantity=3))

    def test_every_finding_has_a_title_a_reason_a_sentence_and_a_stage(self) -> None:
        for code in KINDS:
            with self.subTest(code):
                self.assertTrue(KINDS[code].title and KINDS[code].why)
                text = finding_text(self.plan, finding(code, 2))
                self.assertTrue(text.endswith("."))
                self.assertIn(stage_of(finding(code)), STAGES)

    def test_every_mend_says_what_it_does(self) -> None:
        for kind in MENDS:
            self.assertTrue(mend_text(self.plan, Mend(kind=kind, target="item-1#1")))
        self.assertEqual(set(_CARRIED), set(MENDS))

    def test_figures_follow_the_unit_that_is_shown(self) -> None:
        self.assertIn("7.5 mm", finding_text(self.plan, finding("THIN_WALL", 2)))
        inches = replace(self.plan, units="inch")
        self.assertIn("15/32 in", finding_text(inches, finding("THIN_EDGE")))

    def test_copies_bear_numbers_and_long_lists_are_cut(self) -> None:
        self.assertEqual(placement_name(self.plan, "item-3#2"), "Pin 2")
        self.assertEqual(placement_name(self.plan, "item-1#1"), "Rule")
        self.assertEqual(placement_name(self.plan, "ghost#1"), "ghost#1")
        self.assertEqual(named(self.plan, ("item-1#1", "item-2#1")), "‘Rule’ and ‘Square’")
        keys = ("item-1#1", "item-2#1", "item-3#1", "item-3#2")
        self.assertEqual(named(self.plan, keys), "‘Rule’, ‘Square’ and 2 others")

    def test_a_report_holds_what_the_contract_names(self) -> None:
        answer = report(laid(self.plan, (100, 60)), seconds=1.0)
        self.assertEqual(set(answer), {"placed", "unplaced", "used_area_mm2", "insert_area_mm2", "seconds", "findings"})
        self.assertEqual(answer["placed"], [{"name": "Rule", "copy": 1}])
        self.assertEqual(len(answer["unplaced"]), 4)
        self.assertAlmostEqual(answer["used_area_mm2"], 1200, delta=1)
        keys = {"severity", "code", "items", "text", "value", "limit", "unit", "where_mm"}
        self.assertTrue(all(set(one) == keys for one in answer["findings"]))


class Options(unittest.TestCase):
    def test_foam_is_read_top_first(self) -> None:
        sheets = parse_foam("20/10, 1in/3.2")
        self.assertEqual([(one.thickness_mm, one.pitch_mm) for one in sheets], [(20.0, 10.0), (25.4, 3.2)])
        for text in ("", "50", "50/", "a/b", "50/10,", "/10", ",".join(["20/10"] * 21)):
            with self.subTest(text), self.assertRaises(UnusableInput):
                parse_foam(text)

    def test_rules_have_bounds(self) -> None:
        sheets = parse_foam("50/10")
        free = {"wall_mm": None, "edge_mm": None, "floor_layers": None, "allowance_mm": None, "seat": None}
        rules = make_rules(**free, sheets=sheets)  # type: ignore[arg-type]
        self.assertEqual((rules.wall_mm, rules.edge_mm), (None, 15.0))
        for change in ({"wall_mm": -1.0}, {"edge_mm": 900.0}, {"allowance_mm": -30.0}, {"floor_layers": 5}):
            with self.subTest(change), self.assertRaises(UnusableInput):
                make_rules(**(free | change), sheets=sheets)  # type: ignore[arg-type]

    def test_a_container_is_read_in_any_unit(self) -> None:
        box_ = parse_container("22in x 39cm x 75", kind="drawer", corner_radius_mm=3.0)
        self.assertEqual((round(box_.width_mm, 1), box_.depth_mm, box_.height_mm), (558.8, 390.0, 75.0))


class KitFiles(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def read(self, data: bytes) -> list[str]:
        path = self.folder / "kit.csv"
        path.write_bytes(data)
        return [f"{item.name} {item.thickness_mm:g}" for item in read_kit(path).items]

    def test_tables_as_spreadsheets_save_them(self) -> None:
        rows = "name,length,width,thickness\r\nRule,100,20,3\r\n"
        self.assertEqual(self.read(rows.encode()), ["Rule 3"])
        self.assertEqual(self.read(b"\xef\xbb\xbf" + rows.encode()), ["Rule 3"])
        self.assertEqual(self.read(rows.replace(",", ";").encode()), ["Rule 3"])
        self.assertEqual(self.read(rows.replace(",", "\t").encode()), ["Rule 3"])
        self.assertEqual(self.read(b' Name , LENGTH,width ,thickness\nRule,100,20,"3,5"\n'), ["Rule 3.5"])
        self.assertEqual(self.read(rows.encode() + b",,,\r\n\r\n"), ["Rule 3"])

    def test_no_bytes_break_the_reader(self) -> None:
        chance = random.Random(2)
        whole = b"name,quantity,shape,length,width,thickness,stations\nA,1,box,50,20,5,\nB,2,,,,,0:5 9:5\n"
        for _ in range(400):
            data = bytearray(whole)
            for _ in range(chance.randrange(1, 8)):
                data[chance.randrange(len(data))] = chance.choice(b'",;\n\r\t0-9.:xNaN\x00\xff/')
            try:
                self.assertTrue(self.read(bytes(data)))
            except UnusableInput as error:
                self.assertIn("kit.csv", str(error))
                self.assertNotIn("\n", str(error))

    def test_outlines_are_looked_for_beside_the_table(self) -> None:
        (self.folder / "a.svg").write_text(
            '<svg xmlns="http://www.w3.org/2000/svg"><rect width="96" height="48"/></svg>'
        )
        self.assertEqual(self.read(b"name,outline,thickness\nPlate,a.svg,5\n"), ["Plate 5"])
        with self.assertRaises(UnusableInput) as caught:
            self.read(b"name,outline,thickness\nPlate,a.svg,\n")
        self.assertIn("thickness", str(caught.exception))
        with self.assertRaisesRegex(UnusableInput, "'Box' is no file") as caught:
            self.read(b"name,outline,length,width,thickness\nPlate,Box,60,40,5\n")
        self.assertIn("column shape", str(caught.exception))


class Files(unittest.TestCase):
    def test_a_folder_is_written_whole_or_not_at_all(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            write_all(folder / "deep" / "er", {"a": b"1", "b": b"2"})
            self.assertEqual(sorted(path.name for path in (folder / "deep" / "er").iterdir()), ["a", "b"])
            (folder / "c").mkdir()
            (folder / "c" / "in the way").mkdir()
            with self.assertRaises(UnusableInput):
                write_all(folder / "c", {"in the way": b"x"})
            self.assertEqual([path.name for path in (folder / "c").iterdir()], ["in the way"])

    def test_an_empty_project_reports_nothing(self) -> None:
        self.assertEqual(report(Project(), seconds=0.0)["findings"], [])
