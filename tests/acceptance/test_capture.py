"""`mat` and `trace` as a person calls them: the printed page is rasterised, photographed, traced and measured."""

from __future__ import annotations

import subprocess
import tempfile
import unittest
from pathlib import Path
from typing import ClassVar

import numpy as np
from PIL import Image
from shapely.geometry import Polygon, box

from cozy_burrow.core.capture.drawing.svg import read_svg
from cozy_burrow.core.capture.photo.mat import PAPERS, mat_page, papers
from cozy_burrow.devices.simulated_camera import PrintedPage, SimulatedCamera
from cozy_burrow.devices.simulated_scene import Light, Stand, Subject
from tests.acceptance.command import burrow
from tests.core.capture.scenes import RED, RING, STEEL, apart_mm, laid

DPI = 254  # a texel of the simulated page is a tenth of a millimetre


def rasterised(
    pdf: Path, page: int = 1, *, dpi: int = DPI, part: tuple[int, int, int, int] | None = None
) -> np.ndarray:
    """Return a page of a PDF as another library paints it, 0 black to 1 white. part: left, top, width, height of it."""
    stem = pdf.with_suffix("")
    words = ["pdftoppm", "-r", str(dpi), "-gray", "-png", "-singlefile", "-f", str(page)]
    if part is not None:
        words += [word for name, value in zip(("-x", "-y", "-W", "-H"), part) for word in (name, str(value))]
    subprocess.run([*words, str(pdf), str(stem)], check=True)
    return np.asarray(Image.open(f"{stem}.png").convert("L"), dtype=np.float32) / 255


class Captured(unittest.TestCase):
    root: ClassVar[Path]

    @classmethod
    def setUpClass(cls) -> None:
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.root = Path(folder.name)

    def photo_of(self, paper: str, *, name: str = "photo.jpg", empty: bool = False) -> Path:
        """Print the mat, lay two things on it, photograph it."""
        pdf = self.root / f"{paper}.pdf"
        self.assertEqual(burrow("mat", pdf, "--paper", paper).status, 0)
        size = papers()[paper]
        image = rasterised(pdf)
        self.assertAlmostEqual(image.shape[1] / 10, size.width_mm, delta=0.2)
        things = (
            ()
            if empty
            else (
                Subject(laid(box(0, 0, 70, 24), 100, 90, 20), 8.0, "straight", RED),
                Subject(laid(RING, 120, 180), 8.0, "straight", STEEL),
            )
        )
        stand = Stand(
            aim_mm=(size.width_mm / 2, size.height_mm / 2),
            height_mm=620.0 if size.height_mm > 350 else 480.0,
            tilt_deg=9.0,
            towards_deg=20.0,
            width_px=2100,
            height_px=2800,
            noise=0.01,
        )
        photo = self.root / name
        printed = PrintedPage(image.shape[1] / 10, image.shape[0] / 10, image=image)
        photo.write_bytes(SimulatedCamera(printed, things, stand, Light()).take_photo())
        return photo

    def test_the_printed_scales_are_true(self) -> None:
        for paper in PAPERS:
            with self.subTest(paper):
                pdf = self.root / f"scale-{paper}.pdf"
                said = burrow("mat", pdf, "--paper", paper)
                self.assertEqual(said.status, 0)
                page = mat_page(paper)
                self.assertIn(f"{page.scale_x_mm:g} mm", said.out)
                at, long = round(25.0 * 20), 500 * 20  # twenty dots to the millimetre; longer than every paper
                across = rasterised(pdf, dpi=508, part=(0, at, long, 1))[0]
                down = rasterised(pdf, dpi=508, part=(at, 0, 1, long))[:, 0]
                for line, length in ((across, page.scale_x_mm), (down, page.scale_y_mm)):
                    dark = np.flatnonzero(line < 0.5) / 20.0
                    ticks = dark[(dark > 26.0) & (dark < 27.0 + length)]
                    self.assertAlmostEqual(float(ticks.max() - ticks.min()), length + 0.2, delta=0.12)

    def test_a_photo_of_the_printed_page_gives_true_outlines(self) -> None:
        for paper in ("a4", "tabloid"):
            with self.subTest(paper):
                out = self.root / f"out-{paper}"
                words = ("trace", self.photo_of(paper), out, "--thickness", "8", "--sides", "straight")
                answer = burrow(*words, "--json")
                self.assertEqual((answer.status, answer.err), (0, ""))
                said = answer.json()
                self.assertEqual(set(said), {"items", "mat", "camera"})
                self.assertEqual(said["mat"]["paper"], paper)
                self.assertLess(said["mat"]["residual_mm"], 0.1)
                self.assertAlmostEqual(said["camera"]["tilt_deg"], 9.0, delta=1.0)
                self.assertEqual([one["file"] for one in said["items"]], ["item-1.svg", "item-2.svg"])
                true = (laid(box(0, 0, 70, 24), 100, 90, 20), laid(RING, 120, 180))
                for one, shape in zip(said["items"], true):
                    found = Polygon(one["outline_mm"], one["holes_mm"])
                    self.assertLess(apart_mm(found, shape)[0], 0.15)
                    self.assertAlmostEqual(one["area_mm2"], found.area, delta=0.1)
                    (drawn, *rest), _ = read_svg((out / one["file"]).read_bytes(), where=one["file"])
                    self.assertEqual(rest, [])
                    self.assertAlmostEqual(drawn.area, found.area, delta=0.5)

    def test_words_are_refused_in_one_line_and_nothing_is_written(self) -> None:
        empty = self.photo_of("letter", name="empty.jpg", empty=True)
        text = self.root / "text.jpg"
        text.write_text("no picture at all")
        for words, said in (
            (("trace", empty, self.root / "o1"), "no item lies on it"),
            (("trace", text, self.root / "o2"), "no picture"),
            (("trace", self.root / "none.jpg", self.root / "o3"), "no such file"),
            (("trace", empty, self.root / "o4", "--thickness", "-3"), "thickness"),
            (("trace", empty, self.root / "o5", "--scale-across", "20"), "100 %"),
            (("mat", self.root / "m.pdf", "--paper", "a7"), "a7"),
        ):
            with self.subTest(said):
                answer = burrow(*words)
                self.assertEqual(answer.status, 2, answer.out)
                self.assertRegex(answer.err, said)
                self.assertEqual(answer.err.count("\n"), 1)
                self.assertNotIn("Traceback", answer.err)
        self.assertFalse(any((self.root / f"o{n}").exists() for n in range(1, 6)))

    def test_two_pages_laid_anyhow_are_found_as_one_mat(self) -> None:
        """Page 2 lies to the right of page 1, 7 mm off and turned by 3 degrees; a ruler lies over both."""
        from shapely import affinity

        from cozy_burrow.core.capture.photo.picture import open_picture
        from cozy_burrow.core.capture.photo.trace import look_at, outlines

        pdf = self.root / "pages.pdf"
        self.assertEqual(burrow("mat", pdf, "--paper", "a4", "--pages", "2").status, 0)
        canvas = Image.new("L", (4600, 3300), 90)
        for page, x, y, angle in ((1, 60, 60, 0.0), (2, 2230, 100, 3.0)):
            sheet = Image.fromarray((rasterised(pdf, page) * 255).astype(np.uint8)).convert("LA")
            turned = sheet.rotate(angle, expand=True, resample=Image.Resampling.BICUBIC)
            canvas.paste(turned.convert("L"), (x, y), turned.getchannel("A"))
        ruler = laid(box(0, 0, 300, 28), 215, 150, 2.0)
        stand = Stand(aim_mm=(230, 165), height_mm=640.0, tilt_deg=6.0, width_px=3200, height_px=2400, noise=0.01)
        printed = PrintedPage(460.0, 330.0, image=np.asarray(canvas, dtype=np.float32) / 255)
        data = SimulatedCamera(printed, (Subject(ruler, 3.0, "straight", RED),), stand, Light()).take_photo()
        trace = look_at(open_picture(data, where="photo"), where="photo")
        self.assertEqual(len(trace.sight.pages), 2)
        (found,) = outlines(trace, height_mm=3.0, sides="straight", where="photo")
        rectangle = found.shape.minimum_rotated_rectangle
        sides = sorted(
            np.hypot(*np.diff(np.array(rectangle.exterior.coords)[:3], axis=0).T)  # type: ignore[arg-type]
        )
        self.assertAlmostEqual(sides[1], 300.0, delta=0.7)
        self.assertAlmostEqual(found.shape.area / sides[1], 28.0, delta=0.3)
        moved = affinity.translate(ruler, -6.0, -6.0)  # page 1 lies 6 mm from the canvas's corner
        self.assertLess(found.shape.centroid.distance(moved.centroid), 0.5)
