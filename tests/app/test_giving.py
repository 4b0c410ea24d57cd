"""Giving away: paper at true size through Qt's own printer into a file, the bar asked for, pictures, the clipboard."""

from __future__ import annotations

from pathlib import Path
from unittest.mock import patch

import numpy as np
import pypdfium2
from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication, QImage
from PySide6.QtPrintSupport import QPrinter
from PySide6.QtTest import QTest

from cozy_burrow.app.shell.print_card import PrintCard
from cozy_burrow.app.shell.window import Window
from tests.app.qt import QtCase, wait_until
from tests.jobs.test_printing import bar_mm, two_things
from tests.makers import box, drawer, laid, project

DPI = 300


class Giving(QtCase):
    def printer(self, path: Path) -> QPrinter:
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
        printer.setOutputFileName(str(path))
        return printer

    def printed(self, path: Path) -> list[np.ndarray]:
        document = pypdfium2.PdfDocument(path.read_bytes())
        return [np.asarray(page.render(scale=DPI / 72.0, grayscale=True).to_pil().convert("L")) for page in document]

    def card(self, window: Window) -> PrintCard:
        window._command("project.print")
        self.app.processEvents()
        return next(one for one in window.findChildren(PrintCard) if one.isVisible())

    def at_rest(self, card: PrintCard) -> None:
        self.assertTrue(wait_until(lambda: not card.is_busy))
        self.app.processEvents()

    def test_templates_into_a_file_are_true_within_two_tenths(self) -> None:
        window = self.window(two_things(), stage="cut")
        card = self.card(window)
        for kind in ("bench", "labels"):
            card.choices[kind].setChecked(True)
        path = self.folder / "out.pdf"
        card.print_on(self.printer(path))
        self.at_rest(card)
        self.assertTrue(card._asking.isHidden())  # a file is as long as it says
        pages = self.printed(path)
        self.assertRegex(card.told.text(), f"{len(pages)} pages are printed")
        self.assertAlmostEqual(bar_mm(pages[0], DPI / 25.4), 100.0, delta=0.2)
        card.close()

    def first_page(self, path: Path) -> PrintCard:
        """A card that has printed the first template alone, as on paper, and asks for its bar."""
        card = self.card(self.window(two_things(), stage="cut"))
        with patch.object(PrintCard, "_asks", lambda *_: True):
            card.print_on(self.printer(path))
            self.at_rest(card)
        self.assertTrue(card._asking.isVisible())
        self.assertEqual(len(self.printed(path)), 1)
        return card

    def test_a_printer_that_shrinks_is_asked_for_the_bar_and_put_right(self) -> None:
        path = self.folder / "out.pdf"
        card = self.first_page(path)
        card.bar.setFocus()
        card.bar.selectAll()
        QTest.keyClicks(card.bar, "98.5")
        QTest.keyClick(card.bar, Qt.Key.Key_Return)
        card.rest_button.click()
        self.at_rest(card)
        pages = self.printed(path)
        self.assertGreater(len(pages), 1)  # page 1 was wrong, so it comes again
        for page in pages:
            self.assertAlmostEqual(bar_mm(page, DPI / 25.4, 100.0 / 98.5), 100.0 * 100.0 / 98.5, delta=0.2)
        card.close()

    def test_a_true_bar_prints_the_others_only(self) -> None:
        path = self.folder / "out.pdf"
        card = self.first_page(path)
        all_pages = len(card._pages)
        card.rest_button.click()
        self.at_rest(card)
        self.assertEqual(len(self.printed(path)), all_pages - 1)
        card.close()

    def test_a_single_page_is_measured_too_and_no_size_is_printed_at_that_is_not_known(self) -> None:
        small = laid(project(box(60.0, 20.0, 12.0), bay=drawer(width=150.0, depth=120.0)), (75.0, 60.0))
        card = self.card(self.window(small, stage="cut"))
        path = self.folder / "out.pdf"
        with patch.object(PrintCard, "_asks", lambda *_: True):
            card.print_on(self.printer(path))
            self.at_rest(card)
        self.assertEqual(len(card._pages), 1)
        self.assertTrue(card._asking.isVisible())
        card.bar.setFocus()
        card.bar.selectAll()
        QTest.keyClicks(card.bar, "a hundred")
        QTest.keyClick(card.bar, Qt.Key.Key_Return)
        card.rest_button.click()
        self.assertTrue(card._asking.isVisible())  # it still asks
        card.bar.setFocus()
        card.bar.selectAll()
        QTest.keyClicks(card.bar, "100")
        QTest.keyClick(card.bar, Qt.Key.Key_Return)
        card.rest_button.click()
        self.assertIn("true to size", card.told.text())
        self.assertFalse(card.is_busy)
        card.close()

    def test_nothing_chosen_or_nowhere_to_print_is_said(self) -> None:
        window = self.window(two_things(), stage="cut")
        card = self.card(window)
        card.choices["templates"].setChecked(False)
        self.assertFalse(card.choose_button.isEnabled())
        card.choices["templates"].setChecked(True)
        self.assertTrue(card.choose_button.isEnabled())
        card.print_on(self.printer(self.folder / "no" / "such" / "folder" / "out.pdf"))
        self.at_rest(card)
        self.assertIn("no file can be written there", card.told.text())
        self.assertTrue(card.choose_button.isEnabled())
        card.close()

    def copied(self) -> QImage:
        """The picture on the clipboard; a null one where there is none."""
        return QGuiApplication.clipboard().image()

    def test_the_picture_on_the_clipboard_is_what_the_plan_shows(self) -> None:
        window = self.window(two_things(), stage="lay-out")
        window.plan.look_named(False)
        seen = []
        for filled in (True, False):
            window.plan.look_filled(filled)
            QGuiApplication.clipboard().clear()
            window._command("project.copy_picture")
            self.assertTrue(wait_until(lambda: not self.copied().isNull()))
            image = self.copied()
            self.assertFalse(image.isNull())
            self.assertAlmostEqual(image.width() / image.height(), (300 + 20) / (200 + 20), delta=0.03)
            seen.append(image)
        self.assertNotEqual(seen[0], seen[1])

    def test_pictures_go_into_a_folder(self) -> None:
        window = self.window(two_things(), stage="lay-out")
        said: list[str] = []
        window.workspace.said.connect(said.append)
        window.desk.export_to(self.folder / "pictures", ("png",))
        self.assertTrue(wait_until(lambda: any("files written" in one for one in said)))
        names = sorted(path.name for path in (self.folder / "pictures").iterdir())
        self.assertEqual(names, ["drawer-empty-names.png", "drawer-empty.png", "drawer-filled.png", "drawer-names.png"])
