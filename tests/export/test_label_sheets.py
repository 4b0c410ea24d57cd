"""Label sheets rasterised by another library: where labels begin, how large they are, from which place on."""

from __future__ import annotations

import unittest

import numpy as np
from shapely.geometry import Polygon, box

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.export.label_sheets_pdf import (
    FloorPiece,
    Label,
    LabelSheet,
    floor_labels_pdf,
    floor_places,
    label_sheets,
    label_sheets_pdf,
    place_of,
    tape_length_mm,
)
from cozy_burrow.export.paper import papers

DPI = 300
DOT_MM = 25.4 / DPI


def pages(pdf: bytes) -> list[np.ndarray]:
    """Return the pages of a PDF as another library paints them, 0 black to 1 white."""
    import pypdfium2

    document = pypdfium2.PdfDocument(pdf)
    return [
        np.asarray(page.render(scale=DPI / 72, grayscale=True).to_pil(), dtype=np.float32) / 255 for page in document
    ]


def inked(page: np.ndarray) -> tuple[float, float, float, float]:
    """Return the bounds of what is printed, mm from the left and from the top."""
    rows, columns = np.nonzero(page < 0.9)
    return tuple(float(v) * DOT_MM for v in (columns.min(), rows.min(), columns.max() + 1, rows.max() + 1))  # type: ignore[return-value]


class LabelSheets(unittest.TestCase):
    def test_every_sheet_fits_its_paper_and_labels_do_not_overlap(self) -> None:
        for name, sheet in label_sheets().items():
            if sheet.is_tape:
                continue
            with self.subTest(name):
                size = papers()[sheet.paper]
                places = [
                    box(x, y, x + sheet.width_mm, y + sheet.height_mm)
                    for x, y in (place_of(sheet, number) for number in range(sheet.count))
                ]
                page = box(-0.01, -0.01, size.width_mm + 0.01, size.height_mm + 0.01)
                for number, one in enumerate(places):
                    self.assertTrue(page.covers(one))
                    self.assertTrue(all(one.intersection(other).area < 1e-6 for other in places[:number]))
                left, right = places[0].bounds[0], size.width_mm - places[-1].bounds[2]
                self.assertAlmostEqual(left, right, delta=0.1)

    def test_a_picture_is_printed_where_its_label_lies(self) -> None:
        shape = box(0, 0, 30, 30)
        for name in ("sheet-21", "letter-30"):
            sheet = label_sheets()[name]
            for start in (1, 5, sheet.count):
                with self.subTest(name, start=start):
                    (page,) = pages(label_sheets_pdf([Label(name="", shape=shape)], sheet, start=start))
                    size = papers()[sheet.paper]
                    self.assertAlmostEqual(page.shape[1] * DOT_MM, size.width_mm, delta=0.2)
                    x, y = place_of(sheet, start - 1)
                    left, top, right, low = inked(page)
                    self.assertGreater(left, x)
                    self.assertGreater(top, y)
                    self.assertLess(right, x + sheet.width_mm)
                    self.assertLess(low, y + sheet.height_mm)
                    self.assertAlmostEqual((top + low) / 2, y + sheet.height_mm / 2, delta=0.2)
                    self.assertAlmostEqual(right - left, low - top, delta=0.2)

    def test_words_stay_on_their_label_however_long_they_are(self) -> None:
        sheet = label_sheets()["sheet-65"]
        for text in ("fork", "W" * 300, "Stimmgabel in einem sehr langen Kasten aus Birnenholz", "gjpqy Ä"):
            (page,) = pages(label_sheets_pdf([Label(name=text, second=text)], sheet, start=7))
            x, y = place_of(sheet, 6)
            left, top, right, low = inked(page)
            self.assertGreaterEqual(left, x)
            self.assertGreaterEqual(top, y)
            self.assertLessEqual(right, x + sheet.width_mm)
            self.assertLessEqual(low, y + sheet.height_mm)

    def test_sheets_are_filled_one_after_the_other(self) -> None:
        sheet = label_sheets()["sheet-14"]
        labels = [Label(name=f"No {n}") for n in range(20)]
        self.assertEqual(len(pages(label_sheets_pdf(labels, sheet))), 2)
        self.assertEqual(len(pages(label_sheets_pdf(labels, sheet, start=9))), 2)
        self.assertEqual(len(pages(label_sheets_pdf(labels, sheet, start=10))), 3)
        for start in (0, 15, -3):
            with self.assertRaises(UnusableInput):
                label_sheets_pdf(labels, sheet, start=start)

    def test_a_tape_is_as_long_as_its_words(self) -> None:
        tape = LabelSheet(height_mm=12.0)
        labels = [Label(name="fork"), Label(name="regulating screwdriver", second="210 mm"), Label(name="x" * 500)]
        found = pages(label_sheets_pdf(labels, tape))
        for label, page in zip(labels, found):
            self.assertAlmostEqual(page.shape[1] * DOT_MM, tape_length_mm(label, tape), delta=0.2)
            self.assertAlmostEqual(page.shape[0] * DOT_MM, 12.0, delta=0.2)
            left, _, right, _ = inked(page)
            self.assertGreater(left, 0.5)
            self.assertLess(right, page.shape[1] * DOT_MM - 0.5)


class FloorLabels(unittest.TestCase):
    def test_they_are_printed_at_their_true_size(self) -> None:
        piece = FloorPiece(text="fork", width_mm=47.0, height_mm=11.0, whose="Drawer")
        (page,) = pages(floor_labels_pdf([piece]))
        dark = page < 0.9
        frame_row = round((12.0 + 5.5) / DOT_MM)
        columns = np.flatnonzero(dark[frame_row])
        self.assertAlmostEqual((columns.max() - columns.min()) * DOT_MM, 47.0, delta=0.2)
        rows = np.flatnonzero(dark[:, round((12.0 + 47.0 / 2) / DOT_MM)])
        self.assertAlmostEqual(rows.min() * DOT_MM, 12.0, delta=0.2)

    def test_none_lies_on_another_and_all_are_there(self) -> None:
        pieces = [
            FloorPiece(text=f"t{n}", width_mm=20.0 + 3 * (n % 9), height_mm=4.0 + n % 11, whose="") for n in range(150)
        ]
        found = floor_places(pieces, 210.0, 297.0)
        self.assertEqual({one.text for one, *_ in found}, {one.text for one in pieces})
        page: list[Polygon] = []
        for piece, new, x, y in found:
            page = [] if new else page
            here = box(x, y, x + piece.width_mm, y + piece.height_mm)
            self.assertTrue(box(10, 10, 200, 287).covers(here))
            self.assertTrue(all(here.intersection(other).area < 1e-9 for other in page))
            page.append(here)
        self.assertEqual(len(pages(floor_labels_pdf(pieces))), 1 + sum(new for _, new, *_ in found))
