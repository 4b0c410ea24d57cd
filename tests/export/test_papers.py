"""The printed papers, looked at as pictures: the check bar, and neighbouring pages laid together."""

from __future__ import annotations

import shutil
import subprocess
import tempfile
import unittest
from pathlib import Path

import numpy as np
from msgspec.structs import replace
from numpy.typing import NDArray
from PIL import Image

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.mends import mended
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.model.records import Project, Rules
from cozy_burrow.demo.build import demo_stores
from cozy_burrow.export.boards_pdf import boards_pdf
from cozy_burrow.export.paper import papers
from cozy_burrow.export.tiling import FOOT_MM, MARGIN_MM, mark_points, tiling
from cozy_burrow.jobs.boards import purchase_for
from cozy_burrow.jobs.export import export_files, parse_only, unasked
from cozy_burrow.jobs.export_writers import WRITERS
from tests.makers import DRIVER, box, drawer, laid, project, stations

DPI = 300
PX = DPI / 25.4


def small_project() -> Project:
    plan = laid(
        project(stations(DRIVER), box(80, 50, 30), box(60, 14, 8), rules=Rules(), bay=drawer(width=300, depth=200)),
        (140, 40),
        (80, 120),
        (200, 140),
    )
    while grips := [one for one in findings_of(plan) if one.code == "NO_GRIP"]:
        plan = mended(plan, "insert-1", grips[0].mends[0])
    return plan


def pages(data: bytes, folder: Path, *, dpi: int = DPI) -> list[NDArray[np.float64]]:
    """Return the pages of a PDF as grey pictures, 0 black to 1 white."""
    path = folder / "a.pdf"
    path.write_bytes(data)
    subprocess.run(["pdftoppm", "-r", str(dpi), "-gray", "-png", str(path), str(folder / "p")], check=True)
    found = sorted(folder.glob("p-*.png"))
    return [np.asarray(Image.open(one).convert("L"), dtype=float) / 255 for one in found]


class Boards(unittest.TestCase):
    def test_the_cutting_plan_shows_every_blank_to_scale_with_its_place(self) -> None:
        purchase = purchase_for(small_project(), demo_stores())
        with tempfile.TemporaryDirectory() as name:
            path = Path(name) / "b.pdf"
            path.write_bytes(boards_pdf(purchase, title="Job", words="1 board"))
            text = subprocess.run(["pdftotext", str(path), "-"], capture_output=True, text=True, check=True).stdout
            self.assertIn("Drawer, sheet 1", text)
            self.assertIn("0.6 from left, 0.0 from back, 300.0 × 200.0", text)
            self.assertIn("cut away from the body", text)
            picture = pages(path.read_bytes(), Path(name), dpi=100)[1]
        # The piece fills the page's height: 210 mm less margins and head. Its back edge is painted at the top.
        dark = picture < 0.5
        rows = np.flatnonzero(dark[:, round(14 * 100 / 25.4) : round(80 * 100 / 25.4)].sum(axis=1) > 150) / (100 / 25.4)
        self.assertAlmostEqual(rows.min(), 14.0 + 24.0, delta=0.8)
        self.assertAlmostEqual(rows.max(), 210.0 - 14.0, delta=0.8)


def cross(page: NDArray[np.float64], x_mm: float, y_mm: float) -> tuple[float, float]:
    """Return where the lines of a cross near (x, y) from the lower left really are, in mm."""
    height = page.shape[0]
    column, row = round(x_mm * PX), height - round(y_mm * PX)
    reach = round(3.6 * PX)
    patch = 1 - page[row - reach : row + reach + 1, column - reach : column + reach + 1]
    # Away from the ring round the cross, only its arms are dark.
    outer = round(2.6 * PX)
    across = np.concatenate([patch[: reach - outer], patch[reach + outer :]]).sum(axis=0)
    down = np.concatenate([patch[:, : reach - outer], patch[:, reach + outer :]], axis=1).sum(axis=1)

    def middle(profile: NDArray[np.float64]) -> float:
        peak = int(profile.argmax())
        low, high = max(0, peak - 3), peak + 4
        weight = profile[low:high]
        return float((weight * np.arange(low, low + len(weight))).sum() / weight.sum())

    return (column - reach + middle(across)) / PX, (height - (row - reach + middle(down))) / PX


@unittest.skipUnless(shutil.which("pdftoppm"), "pdftoppm is not installed")
class Templates(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.files = dict(export_files(small_project(), kinds=unasked()))
        cls.folder = tempfile.TemporaryDirectory()
        cls.pages = pages(cls.files["templates.pdf"], Path(cls.folder.name))
        cls.spread = tiling(300, 200, papers()["a4"])

    @classmethod
    def tearDownClass(cls) -> None:
        cls.folder.cleanup()

    def test_the_check_bar_is_100_mm_on_every_page(self) -> None:
        self.assertEqual(len(self.pages), self.spread.columns * self.spread.rows)
        for page in self.pages:
            row = page.shape[0] - round((MARGIN_MM + 3.0 + 1.9) * PX)  # above the tenths, where only end ticks reach
            dark = 1 - page[row - 2 : row + 3].mean(axis=0)
            left, right = MARGIN_MM, MARGIN_MM + 100.0
            ends = []
            for wanted in (left, right):
                low, high = round((wanted - 1) * PX), round((wanted + 1) * PX)
                weight = dark[low:high]
                self.assertGreater(weight.max(), 0.5)
                ends.append(float((weight * np.arange(low, high)).sum() / weight.sum()) / PX)
            self.assertAlmostEqual(ends[1] - ends[0], 100.0, delta=0.2)

    def test_neighbouring_pages_meet_at_their_marks(self) -> None:
        spread = self.spread
        self.assertGreaterEqual(spread.columns, 2)
        left_page, right_page = self.pages[0], self.pages[1]
        edge = MARGIN_MM + spread.tile_width_mm
        left_marks = sorted(y for x, y in mark_points(spread, 0, 0) if abs(x - edge) < 1e-6)
        right_marks = sorted(y for x, y in mark_points(spread, 0, 1) if abs(x - MARGIN_MM) < 1e-6)
        self.assertEqual(len(left_marks), 2)
        for y_left, y_right in zip(left_marks, right_marks):
            xa, ya = cross(left_page, edge, y_left)
            xb, yb = cross(right_page, MARGIN_MM, y_right)
            # In plan millimetres both are the same place.
            self.assertAlmostEqual(xa - MARGIN_MM, (xb - MARGIN_MM) + spread.tile_width_mm, delta=0.3)
            self.assertAlmostEqual(ya, yb, delta=0.3)

    def test_what_both_pages_show_of_the_common_edge_is_the_same(self) -> None:
        from scipy.ndimage import binary_dilation

        edge = MARGIN_MM + self.spread.tile_width_mm
        strips = []
        for page, start in ((self.pages[0], edge - 5.0), (self.pages[1], MARGIN_MM - 5.0)):
            left, width = round(start * PX), round(10.0 * PX)
            strips.append(page[: -round((MARGIN_MM + FOOT_MM) * PX), left : left + width] < 0.5)
        self.assertGreater(strips[0].sum(), 500)
        near = np.ones((7, 7), dtype=bool)  # 3 dots at 300 dpi: 0.25 mm
        for one, other in (strips, strips[::-1]):
            alone = one & ~binary_dilation(other, near)
            self.assertLess(alone.sum(), 0.01 * one.sum())

    def test_the_blank_is_drawn_at_true_size(self) -> None:
        page = self.pages[0]
        x = round((MARGIN_MM + 40) * PX)
        top_mm = self.spread.page_height_mm - (MARGIN_MM + FOOT_MM + self.spread.tile_height_mm)
        column = 1 - page[: round((top_mm + 12) * PX), x - 2 : x + 3].mean(axis=1)
        rows = np.flatnonzero(column > 0.5)
        self.assertAlmostEqual(rows.mean() / PX, top_mm, delta=0.3)

    def test_other_papers_print_too_and_every_export_is_there(self) -> None:
        names = set(self.files)
        wanted = {"drawer-sheet-1.dxf", "drawer-sheet-1.svg", "drawer-layout.json", "templates.pdf", "bench.pdf"}
        self.assertEqual(names, wanted | {"job.pdf", "labels.pdf", "items.csv", "cuts.csv"})
        counts = []
        for paper in ("a4", "a3", "letter", "tabloid"):
            data = dict(export_files(small_project(), kinds=("pdf",), paper=paper))["templates.pdf"]
            counts.append(data.count(b"/Type /Page\n") or data.count(b"/Type /Page "))
        self.assertTrue(all(counts))

    def test_the_same_project_gives_the_same_bytes(self) -> None:
        again = dict(export_files(small_project(), kinds=unasked()))
        for name, data in self.files.items():
            with self.subTest(name):
                self.assertEqual(again[name] == data, True)

    def test_the_bench_plan_names_the_cuts_and_the_cautions(self) -> None:
        path = Path(self.folder.name) / "bench.pdf"
        path.write_bytes(self.files["bench.pdf"])
        done = subprocess.run(["pdftotext", "-layout", str(path), "-"], capture_output=True, text=True, check=True)
        for word in ("scalpel", "driver", "Layers out", "10 mm", "20 mm", "pull for box"):
            self.assertIn(word, done.stdout)


class LongNames(unittest.TestCase):
    def test_a_name_that_fills_pages_is_cut_short_and_everything_is_printed(self) -> None:
        for character in ("W", "e ", "مفك ", "螺"):
            with self.subTest(character):
                plan = small_project()
                long = character * 5000
                plan = replace(
                    plan,
                    title=long,
                    items=tuple(replace(item, name=long, notes=long, group=long) for item in plan.items),
                )
                self.assertTrue(dict(export_files(plan, kinds=unasked()))["bench.pdf"].startswith(b"%PDF"))


class Kinds(unittest.TestCase):
    def test_kinds_are_chosen_by_name(self) -> None:
        self.assertEqual(parse_only("pdf, svg"), ("pdf", "svg"))
        self.assertEqual(parse_only(None), unasked())
        self.assertEqual(set(WRITERS) - set(unasked()), {"png"})
        for text in ("gif", "", ","):
            with self.subTest(text), self.assertRaises(UnusableInput):
                parse_only(text)

    def test_a_spreadsheet_never_takes_a_name_for_a_formula(self) -> None:
        plan = laid(project(box(name="=1+1"), rules=Rules()), (150, 100))
        data = dict(export_files(plan, kinds=("csv",)))["items.csv"].decode()
        self.assertIn("'=1+1", data)

    def test_names_that_no_file_system_takes_are_tamed(self) -> None:
        from msgspec.structs import replace

        plan = laid(project(box(), rules=Rules()), (150, 100))
        odd = replace(plan, inserts=(replace(plan.inserts[0], name="../Étui / 1\n"),))
        self.assertEqual([name for name, _ in export_files(odd, kinds=("dxf",))], ["étui-1-sheet-1.dxf"])
