"""The help: chapters in every language, words found in them, and the ways in and out of it."""

from __future__ import annotations

import re
import unittest

import numpy as np
from PySide6.QtCore import Qt, QUrl
from PySide6.QtGui import QImage, QPainter
from PySide6.QtTest import QTest

from cozy_burrow.app.help.chapters import CHECKS, KEYS, Chapter, chapters, help_file, places_in, plain, sayings
from cozy_burrow.app.help.page import HelpPage
from cozy_burrow.app.help.pictures import PICTURES, SCHEME
from cozy_burrow.app.look.draft import Draft, Drawing
from cozy_burrow.app.look.theme.theme import load_theme
from cozy_burrow.app.shell.commands import COMMANDS
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.findings.telling import all_kinds
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.model.stages import STAGES
from cozy_burrow.core.tongue import languages
from tests.app.qt import QtCase, application, key
from tests.makers import van_drawer

DEMO = van_drawer()
OURS = [one for one in all_kinds() if one.says.__module__.startswith("cozy_burrow.")]


class Texts(unittest.TestCase):
    def test_every_language_tells_of_the_same_chapters_pictures_and_checks(self) -> None:
        marks = re.compile(rf"\{{#[\w-]+\}}|{SCHEME}[\w-]+")
        english = marks.findall(help_file("en").read_text(encoding="utf-8"))
        for code in languages():
            with self.subTest(code):
                self.assertEqual(help_file(code).stem, code)
                self.assertEqual(marks.findall(help_file(code).read_text(encoding="utf-8")), english)
                said = sayings(code)
                self.assertEqual(set(said), {"", *(one.code for one in OURS)})
                self.assertEqual([one for one, text in said.items() if not text], [])

    def test_every_stage_key_and_check_has_its_place(self) -> None:
        found = {one.key: one for one in chapters(COMMANDS)}
        self.assertLessEqual({*STAGES, CHECKS, KEYS}, found.keys())
        for command in COMMANDS:
            if command.keys:
                self.assertIn(command.text, found[KEYS].text)
        for one in OURS:
            self.assertIn(f"#### {one.title}\n", found[CHECKS].text)
            self.assertIn(one.why, found[CHECKS].text)
        self.assertNotIn("{#", "".join(one.text for one in found.values()))

    def test_every_picture_that_is_named_is_there_and_the_other_way_round(self) -> None:
        text = "".join(one.text for one in chapters(COMMANDS))
        self.assertEqual(set(re.findall(rf"{SCHEME}([\w-]+)", text)), PICTURES.keys())

    def test_words_are_counted_where_they_are_read(self) -> None:
        chapter = Chapter(
            "x",
            "X",
            "## X\n\nA *press fit* of `2` mm.\n\n- [Go](stage:sink) on\n- the fit\n- press it\n\n| press | fit |\n",
        )
        self.assertEqual(places_in(chapter, ["PRESS", "fit"]), 2)
        self.assertEqual(places_in(chapter, ["press"]), 3)
        self.assertEqual(places_in(chapter, ["stage"]), 0)
        self.assertEqual(places_in(chapter, []), 0)
        self.assertEqual(plain("![](picture:x) **a** [b](#c)"), "a b")


class Pictures(unittest.TestCase):
    def test_each_paints_a_good_part_of_its_place_and_nothing_beyond(self) -> None:
        application()
        for name, drawing in PICTURES.items():
            for theme in ("light", "lamp", "contrast"):
                with self.subTest(name, theme=theme):
                    inside, outside = self.painted(drawing, theme)
                    self.assertEqual(outside, 0)
                    self.assertGreater(inside, 0.08)

    def painted(self, drawing: Drawing, theme: str) -> tuple[float, int]:
        """Return the share of its place that a drawing paints, and the pixels that it paints beside it."""
        beside = 30
        high, wide = round(drawing.high), round(drawing.wide)
        picture = QImage(wide + 2 * beside, high + 2 * beside, QImage.Format.Format_Alpha8)
        picture.fill(0)
        painter = QPainter(picture)
        painter.translate(beside, beside)
        drawing.paint(Draft(painter, load_theme(theme)))  # type: ignore[arg-type]
        painter.end()
        rows = np.frombuffer(picture.constBits(), dtype=np.uint8).reshape(picture.height(), picture.bytesPerLine())
        seen = rows[:, : picture.width()] > 0
        inside = int(seen[beside : beside + high, beside : beside + wide].sum())
        return inside / (wide * high), int(seen.sum()) - inside


class Page(QtCase):
    def page_of(self, window: Window) -> HelpPage:
        """Return the help page that is open over a window."""
        (page,) = [one for one in window.findChildren(HelpPage) if one.isVisible()]
        return page

    def test_it_opens_where_one_is_and_there_is_one_of_it(self) -> None:
        window = self.window(DEMO)
        for stage in STAGES:
            window.show_stage(stage)
            window._command("help.page")
            self.assertEqual(self.page_of(window).chapter.key, stage)
        page = self.page_of(window)
        self.assertIs(page.focusWidget(), page.line)

    def test_with_nothing_gathered_it_begins_at_the_beginning(self) -> None:
        window = self.window(Project())
        window._command("help.page")
        self.assertEqual(self.page_of(window).list.currentRow(), 0)
        self.assertIn("Cozy Burrow", self.page_of(window).browser.toPlainText())

    def test_a_check_leads_to_what_is_written_of_it(self) -> None:
        window = self.window(DEMO)
        window.checks.asked.emit("SLIVER")
        page = self.page_of(window)
        self.assertEqual(page.chapter.key, CHECKS)
        self.assertEqual(page.browser.textCursor().block().text(), "Sliver of foam")
        self.assertGreater(page.browser.verticalScrollBar().value(), 0)

    def test_words_are_found_over_all_chapters_and_enter_goes_on(self) -> None:
        window = self.window(DEMO)
        window._command("help.page")
        page = self.page_of(window)
        QTest.keyClicks(page.line, "kerf")
        self.assertIn("Nothing here speaks of", page.told.text())
        page.line.clear()
        QTest.keyClicks(page.line, "riser")
        told = [row for row in range(page.list.count()) if "·" in page.list.item(row).text()]
        self.assertGreater(len(told), 2)
        seen = set()
        for _ in range(40):
            block = page.browser.textCursor().block()
            self.assertIn("riser", block.text().casefold())
            seen.add((page.chapter.key, block.blockNumber()))
            key(page.line, Qt.Key.Key_Return)
        self.assertEqual({one for one, _ in seen}, {page._chapters[row].key for row in told})
        self.assertTrue(page.browser.extraSelections())
        self.assertTrue(page.isVisible())

    def test_escape_lets_go_of_the_words_first(self) -> None:
        window = self.window(DEMO)
        window._command("help.page")
        page = self.page_of(window)
        QTest.keyClicks(page.line, "glue")
        key(page.line, Qt.Key.Key_Escape)
        self.assertEqual(page.line.text(), "")
        self.assertFalse(page.browser.extraSelections())
        key(page.line, Qt.Key.Key_Escape)
        self.assertEqual([one for one in window.findChildren(HelpPage) if one.isVisible()], [])

    def test_a_chapter_leads_back_to_its_stage(self) -> None:
        window = self.window(DEMO)
        window.show_stage("lay-out")
        window.show_help("grip")
        page = self.page_of(window)
        self.assertIn("stage:grip", page.browser.toHtml())
        page.browser.anchorClicked.emit(QUrl("stage:grip"))
        self.assertEqual(window.stage, "grip")
        page.browser.anchorClicked.emit(QUrl("#figures"))
        self.assertEqual(page.chapter.key, "figures")
        page.browser.anchorClicked.emit(QUrl("https://example.org"))
        self.assertEqual(page.chapter.key, "figures")

    def test_drawings_are_dressed_anew_in_other_colours(self) -> None:
        window = self.window(DEMO)
        window.show_help("sink")
        page = self.page_of(window)
        before = page.browser.grab().toImage()
        window.set_theme("lamp")
        self.app.processEvents()
        lamp = page.browser.grab().toImage()
        ink = load_theme("lamp").colour("strata_b").rgb()
        painted = {lamp.pixel(x, y) for x in range(0, lamp.width(), 3) for y in range(0, lamp.height(), 3)}
        self.assertNotEqual(before, lamp)
        self.assertIn(ink, painted)


if __name__ == "__main__":
    unittest.main()
