"""What a printer gets: true to size by its dots, only what was asked for, and nothing on a sheet that is too small."""

from __future__ import annotations

import io
import unittest

import numpy as np
from PIL import Image

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.progress import Quiet
from cozy_burrow.export.tiling import MARGIN_MM
from cozy_burrow.jobs.printing import DPI, PrintedPage, pages_to_print
from tests.makers import DRIVER, box, laid, project, stations

PX = DPI / 25.4


def bar_mm(grey: np.ndarray, px_per_mm: float, stretch: float = 1.0) -> float:
    """How long the check bar is on a page of grey dots, between the middles of its end ticks.

    stretch: by how much the page was made larger about its middle; so the bar is looked for where it went.
    """
    middle = np.array(grey.shape) / 2.0
    tick_mm = MARGIN_MM + 3.0 + 1.9  # above the tenths, where only end ticks reach
    row = round(middle[0] + (grey.shape[0] - tick_mm * px_per_mm - middle[0]) * stretch)
    dark = 1.0 - grey[row - 2 : row + 3].mean(axis=0) / 255.0
    ends = []
    for wanted in (MARGIN_MM, MARGIN_MM + 100.0):
        at = middle[1] + (wanted * px_per_mm - middle[1]) * stretch
        low, high = round(at - 2.5 * px_per_mm), round(at + 2.5 * px_per_mm)
        weight = np.where(dark[low:high] > 0.3, dark[low:high], 0.0)
        if not weight.any():
            raise AssertionError("no end of the bar is seen")
        ends.append(float((weight * np.arange(low, high)).sum() / weight.sum()) / px_per_mm)
    return ends[1] - ends[0]


def grey(page: PrintedPage) -> np.ndarray:
    return np.asarray(Image.open(io.BytesIO(page.dots_png)).convert("L"))


def two_things() -> Project:
    return laid(project(stations(DRIVER), box(60.0, 20.0, 12.0)), (20.0, 60.0), (200.0, 150.0))


class Pages(unittest.TestCase):
    def test_every_template_has_a_true_bar_on_every_paper(self) -> None:
        for size in ((210.0, 297.0), (215.9, 279.4), (297.0, 420.0)):
            found = pages_to_print(two_things(), ("templates",), *size, token=Quiet())
            self.assertTrue(found)
            for page in found:
                self.assertEqual(sorted((round(page.width_mm, 1), round(page.height_mm, 1))), sorted(size))
                picture = grey(page)
                self.assertAlmostEqual(picture.shape[1] / PX, page.width_mm, delta=0.1)
                self.assertAlmostEqual(bar_mm(picture, PX), 100.0, delta=0.2)

    def test_papers_come_in_the_order_in_which_they_were_asked_for(self) -> None:
        found = pages_to_print(two_things(), ("labels", "bench", "job"), 210.0, 297.0, token=Quiet())
        self.assertEqual(list(dict.fromkeys(page.paper for page in found)), ["labels", "bench", "job"])

    def test_a_lying_sheet_is_the_same_sheet(self) -> None:
        upright, lying = (
            pages_to_print(two_things(), ("bench",), *size, token=Quiet()) for size in ((210.0, 297.0), (297.0, 210.0))
        )
        self.assertEqual(upright, lying)

    def test_nothing_to_print_is_no_page_and_a_label_sheet_is_refused(self) -> None:
        self.assertEqual(pages_to_print(project(box()), ("job",), 210.0, 297.0, token=Quiet()), ())
        with self.assertRaisesRegex(UnusableInput, "no room for the check bar"):
            pages_to_print(two_things(), ("templates",), 148.0, 210.0, token=Quiet())
