"""The change sheet rasterised by another library: what is glued in is grey at its true size; and what is said of it."""

from __future__ import annotations

import unittest

import numpy as np
from scipy import ndimage

from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.refit.compare import compared
from cozy_burrow.core.refit.refit import gone_for_good
from cozy_burrow.core.units import format_length
from cozy_burrow.jobs.change_sheet import change_sheet
from cozy_burrow.jobs.refit_words import change_lines, layer_lines, patch_words
from tests.export.test_label_sheets import DOT_MM, pages
from tests.makers import box, laid, project, rod


def length(mm: float) -> str:
    """Return a length as the window writes it."""
    return format_length(mm, "mm")


class ChangeSheets(unittest.TestCase):
    def setUp(self) -> None:
        self.before = laid(project(box(name="block"), rod(name="rod")), (60, 60), (180, 120, 30))
        self.after, _ = gone_for_good(self.before, "insert-1", "item-1#1")
        (self.change,) = compared(self.before, self.after)

    def test_what_is_glued_in_is_grey_at_its_true_size(self) -> None:
        assert self.change.patch is not None
        found = pages(change_sheet(self.before, self.after, self.change, since="drawer.burrow"))
        self.assertEqual(len(found), 1 + len(self.change.patch.layers))
        for page, layer in zip(found[1:], self.change.patch.layers):
            grey = ndimage.binary_opening(np.abs(page - 0.8) < 0.06, np.ones((5, 5)))  # no lines, no letters
            self.assertAlmostEqual(float(grey.sum()) * DOT_MM**2, layer.fill.area, delta=0.03 * layer.fill.area + 20)
            columns = np.flatnonzero(grey.any(axis=0))
            left, _, right, _ = layer.fill.bounds
            self.assertAlmostEqual((columns.max() - columns.min() + 1) * DOT_MM, right - left, delta=0.6)

    def test_words(self) -> None:
        assert self.change.patch is not None
        self.assertEqual(change_lines(self.before, self.after, self.change, length), ["Gone: block"])
        ground = ground_of(self.before, self.before.inserts[0])
        layers = len(ground.pockets["item-1#1"].layers)
        self.assertIn(f"Glue in {self.change.patch.pieces} piece", patch_words(self.change.patch))
        self.assertIn("Nothing is cut.", patch_words(self.change.patch))
        lines = layer_lines(self.change.patch, length)
        self.assertEqual(len(lines), layers)
        self.assertTrue(lines[0].startswith("Layer 1: glue in "))
        (back,) = compared(self.after, self.before)
        self.assertEqual(change_lines(self.after, self.before, back, length), ["New: block"])
        self.assertIn("Nothing is glued in.", patch_words(back.patch))  # type: ignore[arg-type]
        gone = compared(self.before, self.before)[0]
        self.assertEqual(change_lines(self.before, self.before, gone, length), ["Nothing has changed."])
