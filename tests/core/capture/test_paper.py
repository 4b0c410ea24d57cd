"""Scans and pen lines: drawn here with another library's rasteriser, read back, compared with what was drawn."""

from __future__ import annotations

import io
import math
import unittest

import numpy as np
from PIL import Image, ImageDraw
from shapely import affinity
from shapely.geometry import Point, Polygon, box

from cozy_burrow.core.capture.paper.pen import Pen, traced_on_scan
from cozy_burrow.core.capture.paper.scan import scanned_things
from cozy_burrow.core.capture.photo.picture import Picture, open_picture
from cozy_burrow.core.errors import UnusableInput
from tests.core.capture.scenes import apart_mm

DPI = 200
FINE = 4


def scan_of(
    shapes: list[tuple[Polygon, tuple[int, int, int]]], *, size_mm: tuple[float, float] = (160, 120), dpi: bool = True
) -> bytes:
    """A scan drawn four times as fine and reduced, with a little noise."""
    scale = DPI / 25.4 * FINE
    image = Image.new("RGB", tuple(round(one * scale) for one in size_mm), (244, 244, 240))
    draw = ImageDraw.Draw(image)
    for shape, colour in shapes:
        draw.polygon([(x * scale, y * scale) for x, y in shape.exterior.coords], fill=colour)
        for hole in shape.interiors:
            draw.polygon([(x * scale, y * scale) for x, y in hole.coords], fill=(244, 244, 240))
    small = image.resize((image.width // FINE, image.height // FINE), Image.Resampling.BOX)
    noise = np.random.default_rng(5).normal(0, 1.5, (small.height, small.width, 3))
    stream = io.BytesIO()
    out = Image.fromarray(np.clip(np.asarray(small) + noise, 0, 255).astype(np.uint8))
    out.save(stream, "PNG", **({"dpi": (DPI, DPI)} if dpi else {}))
    return stream.getvalue()


def tool() -> Polygon:
    """A handle with a blade, at an angle."""
    return affinity.rotate(box(20, 50, 70, 70).union(box(68, 56, 130, 63)), 11, origin=(75, 60))


class Scans(unittest.TestCase):
    def read(self, data: bytes) -> Picture:
        return open_picture(data, where="scan.png")

    def test_things_on_the_glass_come_true_to_size(self) -> None:
        ring = Point(40, 95).buffer(15, quad_segs=32).difference(Point(40, 95).buffer(7, quad_segs=32))
        found = scanned_things(self.read(scan_of([(tool(), (60, 60, 66)), (ring, (150, 40, 30))])), where="scan.png")
        self.assertEqual(len(found), 2)
        for one, true in zip(sorted(found, key=lambda one: -one.shape.bounds[3]), (ring, tool())):
            mean, _ = apart_mm(one.shape, true)
            self.assertLess(mean, 0.05)
        self.assertEqual(sorted(len(one.shape.interiors) for one in found), [0, 1])

    def test_a_scan_that_does_not_say_its_dpi_asks_for_it(self) -> None:
        picture = self.read(scan_of([(tool(), (60, 60, 66))], dpi=False))
        with self.assertRaisesRegex(UnusableInput, "dots to the inch"):
            scanned_things(picture, where="scan.png")
        self.assertEqual(len(scanned_things(picture, where="scan.png", dpi=DPI)), 1)

    def test_an_empty_glass_is_said(self) -> None:
        with self.assertRaisesRegex(UnusableInput, "no item"):
            scanned_things(self.read(scan_of([])), where="scan.png")


class PenLines(unittest.TestCase):
    """A tip 1.4 mm wide that leans 15 degrees over an edge 12 mm up: its line lies far outside the thing."""

    pen = Pen(tip_mm=1.4, lean_deg=15.0, touch_mm=12.0)

    def drawn(self) -> bytes:
        stand_off = 12.0 * math.tan(math.radians(15.0))
        line = tool().buffer(stand_off + 1.4, quad_segs=32).difference(tool().buffer(stand_off, quad_segs=32))
        return scan_of([(line, (40, 40, 120))])

    def test_tip_and_lean_are_taken_out(self) -> None:
        picture = open_picture(self.drawn(), where="sheet.png")
        for reading in ("middle", "inner", "outer"):
            pen = Pen(tip_mm=1.4, lean_deg=15.0, touch_mm=12.0, reading=reading)
            found = traced_on_scan(picture, pen, where="sheet.png")
            self.assertEqual(len(found), 1)
            mean, _ = apart_mm(found[0].shape, tool())
            self.assertLess(mean, 0.2, reading)

    def test_left_in_they_make_the_pocket_as_much_too_large_as_the_closed_form_says(self) -> None:
        picture = open_picture(self.drawn(), where="sheet.png")
        upright = traced_on_scan(picture, Pen(tip_mm=0.0), where="sheet.png")[0].shape
        mean = (upright.area - tool().area) / tool().length
        self.assertAlmostEqual(mean, self.pen.outside_mm, delta=0.1 * self.pen.outside_mm + 0.6)

    def test_a_line_with_a_small_gap_counts_and_an_open_one_does_not(self) -> None:
        line = tool().buffer(1.0).difference(tool())
        small = line.difference(box(40, 0, 40.8, 60))
        open_ = line.difference(box(40, 0, 50, 60))
        found = traced_on_scan(
            open_picture(scan_of([(part, (30, 30, 30)) for part in [small]]), where="a"), Pen(tip_mm=1.0), where="a"
        )
        self.assertLess(apart_mm(found[0].shape, tool())[0], 0.15)
        with self.assertRaisesRegex(UnusableInput, "no closed pen line"):
            traced_on_scan(open_picture(scan_of([(open_, (30, 30, 30))]), where="a"), Pen(tip_mm=1.0), where="a")

    def test_a_pen_that_cannot_be_is_refused(self) -> None:
        for pen in (Pen(tip_mm=-1), Pen(lean_deg=80), Pen(touch_mm=-2)):
            with self.subTest(pen=pen), self.assertRaises(UnusableInput):
                traced_on_scan(open_picture(self.drawn(), where="a"), pen, where="a")
