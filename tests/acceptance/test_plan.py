"""plan, check, export: the main job, as the contract has it."""

from __future__ import annotations

import csv
import json
import re
import subprocess
import sys
import tempfile
import unittest
from itertools import combinations
from pathlib import Path

import ezdxf
import shapely
from shapely.geometry import Polygon

from tests.acceptance.command import DEMO_KIT, burrow
from tests.acceptance.dxf_walls import look

DRAWER = ("--container", "570x390x75", "--foam", "50/10")


class MainJob(unittest.TestCase):
    """A kit of 26 things, six of them from SVG outlines, into one drawer; everything is read from this one run."""

    @classmethod
    def setUpClass(cls) -> None:
        cls.folder = tempfile.TemporaryDirectory()
        cls.root = Path(cls.folder.name)
        cls.file = cls.root / "out.burrow"
        words = ("--wall", "10", "--edge", "15", "--seconds", "600", "--json")
        cls.plan = burrow("plan", DEMO_KIT, cls.file, *DRAWER, *words)
        cls.out = cls.root / "papers"
        cls.export = burrow("export", cls.file, cls.out)

    @classmethod
    def tearDownClass(cls) -> None:
        cls.folder.cleanup()

    def test_everything_is_placed_with_nothing_to_mend(self) -> None:
        self.assertEqual((self.plan.status, self.plan.err), (0, ""))
        answer = self.plan.json()
        self.assertEqual((len(answer["placed"]), answer["unplaced"]), (26, []))
        self.assertEqual([one for one in answer["findings"] if one["severity"] == "stop"], [])
        self.assertLess(answer["used_area_mm2"], answer["insert_area_mm2"])

    def test_an_independent_look_at_the_dxf_finds_walls_and_edges_kept(self) -> None:
        self.assertEqual((self.export.status, self.export.err), (0, ""))
        seen = look(self.out / "drawer-sheet-1.dxf")
        self.assertGreaterEqual(seen.wall_mm, 10.0 - 0.01)
        self.assertGreaterEqual(seen.edge_mm, 15.0 - 0.01)
        self.assertLessEqual(seen.deepest, 4)
        # What one trench serves is one opening; the walls between its pockets are looked at one by one.
        layout = json.loads((self.out / "drawer-layout.json").read_text())
        pockets = [Polygon(item["pocket_mm"]) for item in layout["items"]]
        self.assertEqual(len(pockets), 26)
        joined = shapely.union_all([*pockets, *(Polygon(pull["outline_mm"]) for pull in layout["pulls"])])
        self.assertEqual(seen.places, len(shapely.get_parts(joined)))
        for one, other in combinations(pockets, 2):
            self.assertGreaterEqual(one.distance(other), 10.0 - 0.01)

    def test_the_dxf_is_the_union_of_the_layout(self) -> None:
        layout = json.loads((self.out / "drawer-layout.json").read_text())
        self.assertEqual(layout["units"], "mm")
        document = ezdxf.readfile(self.out / "drawer-sheet-1.dxf")
        for layer in range(1, 5):
            drawn = [
                Polygon([(x, y) for x, y, *_ in one.get_points()])
                for one in document.modelspace().query(f'LWPOLYLINE[layer=="POCKET_{layer}"]')
            ]
            wanted = []
            for item in layout["items"]:
                if item["layers"] >= layer:
                    rings = item["by_layer_mm"][layer - 1] if "by_layer_mm" in item else [item["pocket_mm"]]
                    wanted += [Polygon(ring) for ring in rings]
            wanted += [Polygon(pull["outline_mm"]) for pull in layout["pulls"] if pull["layers"] >= layer]
            left, right = shapely.union_all(drawn), shapely.union_all(wanted)
            self.assertEqual(bool(drawn), bool(wanted))
            if drawn:
                self.assertLess(shapely.hausdorff_distance(left, right), 0.1)

    def test_pulls_open_enough_beside_what_they_serve_and_every_flat_thing_has_one(self) -> None:
        layout = json.loads((self.out / "drawer-layout.json").read_text())
        pockets = {(item["name"], item["copy"]): Polygon(item["pocket_mm"]) for item in layout["items"]}
        for pull in layout["pulls"]:
            for name, copy in pull["serves"]:
                beside = Polygon(pull["outline_mm"]).difference(pockets[name, copy])
                self.assertGreaterEqual(beside.area, 100)
            for key, pocket in pockets.items():
                if list(key) not in pull["serves"]:
                    self.assertGreaterEqual(Polygon(pull["outline_mm"]).distance(pocket), 10 - 0.01)
        with (self.out / "items.csv").open() as stream:
            flat = [row for row in csv.DictReader(stream) if float(row["stands_out_mm"]) < 8]
        served = {(name, copy) for pull in layout["pulls"] for name, copy in pull["serves"]}
        named = {name for one in self.plan.json()["findings"] if one["code"] == "NO_GRIP" for name in one["items"]}
        for row in flat:
            self.assertTrue((row["name"], int(row["copy"])) in served or row["name"] in str(named), row["name"])

    def test_check_says_the_same_without_the_search(self) -> None:
        answer = burrow("check", self.file, "--json")
        self.assertEqual(answer.status, 0)
        for key in ("placed", "unplaced", "used_area_mm2", "insert_area_mm2", "findings"):
            self.assertEqual(answer.json()[key], self.plan.json()[key])

    def test_the_svg_has_the_same_groups_and_shapes(self) -> None:
        svg = (self.out / "drawer-sheet-1.svg").read_text()
        document = ezdxf.readfile(self.out / "drawer-sheet-1.dxf")
        for name in ("BLANK", "POCKET_1", "POCKET_2"):
            group = re.search(rf'<g id="{name}".*?</g>', svg, re.DOTALL)
            assert group is not None
            rings = document.modelspace().query(f'LWPOLYLINE[layer=="{name}"]')
            self.assertEqual(group[0].count("<path"), len(rings))
            first = [float(v) for v in re.search(r"M(\S+) (\S+) L", group[0]).groups()]  # type: ignore[union-attr]
            x, y, *_ = rings[0].get_points()[0]
            self.assertAlmostEqual(first[0], x, delta=0.001)
            self.assertAlmostEqual(first[1], 390 - y, delta=0.001)


class OtherKits(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.root = Path(self.folder.name)
        self.addCleanup(self.folder.cleanup)

    def kit(self, *rows: str, name: str = "kit.csv") -> Path:
        path = self.root / name
        path.write_text("name,quantity,shape,length,width,thickness,stations,seat\n" + "\n".join(rows) + "\n")
        return path

    def test_without_pulls_each_pocket_is_one_closed_line(self) -> None:
        kit = self.kit("Driver,2,,,,,0:32 95:32 95:6 210:6,", "Box,1,box,80,50,30,,flush")
        out = self.root / "a.burrow"
        words = ("--pulls", "none", "--allowance", "1", "--wall", "12", "--seconds", "600", "--json")
        answer = burrow("plan", kit, out, "--container", "400x300x75", "--foam", "20/10,30/10", *words)
        self.assertEqual(answer.status, 0, answer.err + answer.out)
        burrow("export", out, self.root / "x", "--only", "dxf,json")
        self.assertEqual(
            sorted(path.name for path in (self.root / "x").iterdir()),
            ["drawer-layout.json", "drawer-sheet-1.dxf", "drawer-sheet-2.dxf"],
        )
        first = ezdxf.readfile(self.root / "x" / "drawer-sheet-1.dxf").modelspace()
        self.assertEqual(len(first.query('LWPOLYLINE[layer=="POCKET_1"]')), 3)
        self.assertEqual(len(first.query('LWPOLYLINE[layer=="POCKET_2"]')), 3)
        second = ezdxf.readfile(self.root / "x" / "drawer-sheet-2.dxf").modelspace()
        self.assertEqual(len(second.query('LWPOLYLINE[layer=="POCKET_1"]')), 1)
        driver = next(one for one in json.loads((self.root / "x" / "drawer-layout.json").read_text())["items"])
        self.assertEqual(driver["layers"], 2)
        self.assertEqual(len(driver["by_layer_mm"]), 2)

    def test_the_same_seed_and_steps_give_the_same_project_to_the_byte(self) -> None:
        rows = [f"Driver {n},2,,,,,0:{20 + n} {60 + 9 * n}:{20 + n} {60 + 9 * n}:6 {140 + 9 * n}:6," for n in range(4)]
        kit = self.kit(*rows, "Box,2,box,80,50,30,,flush", "Reel,1,round,60,44,,,")
        written = []
        for seed in ("3", "3", "4"):
            out = self.root / "a.burrow"
            words = ("--container", "400x300x75", "--foam", "50/10", "--steps", "6", "--seconds", "600", "--seed", seed)
            answer = burrow("plan", kit, out, *words)
            self.assertIn(answer.status, (0, 1), answer.err)
            written.append(out.read_bytes())
        self.assertEqual(written[0], written[1])
        self.assertNotEqual(written[0], written[2])

    def test_what_does_not_fit_is_named_with_the_reason(self) -> None:
        kit = self.kit("Long bar,1,box,900,20,10,,", "Box,9,box,150,120,20,,")
        answer = burrow(
            "plan",
            kit,
            self.root / "a.burrow",
            "--container",
            "400x300x75",
            "--foam",
            "50/10",
            "--steps",
            "3",
            "--seconds",
            "600",
            "--json",
        )
        self.assertEqual(answer.status, 1)
        why = {one["name"]: one["why"] for one in answer.json()["unplaced"]}
        self.assertIn("too long for this drawer even on the diagonal", why["Long bar"])
        self.assertIn("no room", why["Box"])
        codes = {one["name"]: one["code"] for one in answer.json()["unplaced"]}
        self.assertEqual(codes, {"Long bar": "too_large", "Box": "no_room"})
        self.assertEqual(burrow("check", self.root / "a.burrow").status, 1)

    def test_a_kit_too_large_for_its_time_is_planned_in_part_and_nothing_is_forgotten(self) -> None:
        rows = [f"Thing {n},10,,,,,0:{10 + n % 9} {20 + n}:{8 + n % 7} {30 + n}:5," for n in range(60)]
        answer = burrow("plan", self.kit(*rows), self.root / "a.burrow", *DRAWER, "--seconds", "2", "--json")
        self.assertEqual(answer.status, 1)
        self.assertEqual(len(answer.json()["placed"]) + len(answer.json()["unplaced"]), 600)

    def test_walls_and_cases_are_planned_too(self) -> None:
        kit = self.kit("Box,2,box,80,50,30,,")
        for kind in ("wall", "case"):
            out = self.root / f"{kind}.burrow"
            words = ("--kind", kind, "--corner-radius", "20", "--seconds", "600")
            self.assertEqual(burrow("plan", kit, out, "--container", "300x200x70", "--foam", "60/10", *words).status, 0)
            self.assertEqual(burrow("export", out, self.root / kind, "--only", "dxf").status, 0)
            self.assertTrue((self.root / kind / f"{kind}-sheet-1.dxf").exists())


class Refused(unittest.TestCase):
    """Exit 2, one line that says what, where and what to do, and nothing written."""

    def setUp(self) -> None:
        self.folder = tempfile.TemporaryDirectory()
        self.root = Path(self.folder.name)
        self.addCleanup(self.folder.cleanup)

    def refuse(self, *words: object, says: str) -> None:
        before = sorted(path for path in self.root.rglob("*"))
        answer = burrow(*words)
        self.assertEqual(answer.status, 2, answer)
        self.assertEqual(answer.out, "")
        self.assertEqual(len(answer.err.strip().splitlines()), 1, answer.err)
        self.assertNotIn("Traceback", answer.err)
        self.assertIn(says, answer.err)
        self.assertEqual(sorted(path for path in self.root.rglob("*")), before)

    def test_bad_kits(self) -> None:
        good = "name,length,width,thickness,outline,quantity\n"
        for text, says in (
            ("", "empty"),
            ("length,width\n1,2\n", "no column name"),
            (good + "Box,0,20,10,,\n", "row 2, column length"),
            (good + "Box,50,20,10,,\nBad,nan,20,10,,\n", "row 3"),
            (good + "Box,50,20,10,none.svg,\n", "none.svg"),
            (good + 'Box,"50,20,10,,\n', "cannot be read"),
            (good + "Box,50,20,10,,,,,9\n", "9 cells"),
            (good + "Box,50,20,10,,10000\n", "quantity"),
            (good.replace("width", "length") + "Box,50,20,10,,\n", "twice"),
            (good + "".join(f"Box {n},50,20,10,,\n" for n in range(10_000)), "more than 1000"),
            ("\0\1\2", "no text"),
        ):
            with self.subTest(says):
                kit = self.root / "kit.csv"
                kit.write_text(text)
                self.refuse("plan", kit, self.root / "o.burrow", *DRAWER, says=says)
                kit.unlink()

    def test_bad_outlines_in_a_kit(self) -> None:
        crossing = '<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0 L50 50 L50 0 L0'
        (self.root / "half.svg").write_text(crossing)
        kit = self.root / "kit.csv"
        kit.write_text("name,outline,thickness\nTool,half.svg,5\n")
        self.refuse("plan", kit, self.root / "o.burrow", *DRAWER, says="half.svg")

    def test_bad_words(self) -> None:
        kit = self.root / "kit.csv"
        kit.write_text("name,length,width,thickness\nBox,50,20,10\n")
        out = self.root / "o.burrow"
        for words, says in (
            (("--container", "570x390", "--foam", "50/10"), "--container"),
            (("--container", "0x390x75", "--foam", "50/10"), "--container"),
            (("--container", "570x390x75", "--foam", "50"), "--foam"),
            (("--container", "570x390x75", "--foam", "50/0"), "--foam"),
            (("--container", "570x390x75", "--foam", "50/60"), "--foam"),
            ((*DRAWER, "--wall", "abc"), "--wall"),
            ((*DRAWER, "--wall", "-5"), "--wall"),
            ((*DRAWER, "--floor", "5"), "--floor"),
            ((*DRAWER, "--seat", "upright"), "--seat"),
            ((*DRAWER, "--corner-radius", "400"), "radius"),
            ((*DRAWER, "--seconds", "-1"), "--seconds"),
            ((*DRAWER, "--nothing"), "--nothing"),
            (("--foam", "50/10"), "--container"),
        ):
            with self.subTest(words):
                self.refuse("plan", kit, out, *words, says=says)
        self.refuse("plan", kit, self.root / "o.txt", *DRAWER, says=".burrow")
        self.refuse("plan", self.root / "no.csv", out, *DRAWER, says="no such file")
        self.refuse("nonsense", says="nonsense")

    def test_bad_projects(self) -> None:
        path = self.root / "p.burrow"
        for data, says in ((b"", "unpacked"), (b"PK\3\4half", "unpacked"), (b"{}", "unpacked")):
            path.write_bytes(data)
            self.refuse("check", path, says=says)
            self.refuse("export", path, self.root / "out", says=says)
        self.refuse("check", self.root / "none.burrow", says="no such file")
        self.refuse("export", path, self.root / "out", "--only", "gif", says="--only")
        self.refuse(self.root / "none.burrow", says="no such file")


class Outlines(unittest.TestCase):
    def test_drawings_become_clean_outlines_and_bad_ones_are_named(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            root = Path(name)
            head = '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">'
            ring = '<path fill-rule="evenodd" d="M5 5 H45 V45 H5 Z M15 15 H35 V35 H15 Z"/>'
            (root / "a.svg").write_text(f'{head}{ring}<rect x="60" y="60" width="20" height="10"/></svg>')
            (root / "sub").mkdir()
            (root / "sub" / "a.svg").write_text(f'{head}<circle cx="50" cy="50" r="10"/><text>x</text></svg>')
            (root / "bad.svg").write_text(head)
            words = [root / "a.svg", root / "sub" / "a.svg", root / "bad.svg"]
            answer = burrow("outlines", *words, root / "out", "--json")
            self.assertEqual(answer.status, 0, answer.err)
            found = answer.json()
            self.assertEqual([one["file"] for one in found["outlines"]], ["a.svg", "a-2.svg", "a-3.svg"])
            self.assertEqual([one["holes"] for one in found["outlines"]], [1, 0, 0])
            self.assertAlmostEqual(found["outlines"][0]["area_mm2"], 1200, delta=0.1)
            self.assertEqual(len(found["skipped"]), 2)
            again = burrow("outlines", root / "out" / "a.svg", root / "again", "--json").json()
            self.assertAlmostEqual(again["outlines"][0]["area_mm2"], 1200, delta=0.1)
            self.assertEqual(again["outlines"][0]["holes"], 1)
            none = burrow("outlines", root / "bad.svg", root / "none")
            self.assertEqual((none.status, (root / "none").exists()), (2, False))


class Imports(unittest.TestCase):
    def test_a_verb_needs_no_graphics_library(self) -> None:
        code = (
            "import sys; from cozy_burrow.cli.main import run; run(['check', 'none.burrow']);"
            "print([name for name in sys.modules if name.startswith(('PySide6', 'shiboken'))])"
        )
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
        self.assertEqual(done.stdout.strip(), "[]")
