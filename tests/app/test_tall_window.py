"""A window as large as a large screen: what room there is goes to pictures and lists, and pulls no words apart."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QLabel, QScrollArea, QStyle, QStyleOptionComboBox, QTableView, QWidget

from cozy_burrow.app.look.count_box import CountBox
from cozy_burrow.app.screens.measure.pages import PAGES
from cozy_burrow.app.section import line
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.stages import STAGES
from tests.app.qt import QtCase
from tests.app.screens import at_cut, at_measure
from tests.app.settled import settle_whole
from tests.makers import van_drawer

SPARE_PX = 24  # a line beside a field or a button is as high as they


def too_high(label: QLabel) -> bool:
    """Whether a line of words has far more room than it needs, so that they stand in the middle of nothing."""
    needed = label.heightForWidth(label.width()) if label.wordWrap() else label.sizeHint().height()
    return bool(label.text()) and label.height() > max(needed, label.minimumHeight()) + SPARE_PX


def cut_off(box: QComboBox) -> bool:
    """Whether a choice has less room than what it says needs."""
    option = QStyleOptionComboBox()
    box.initStyleOption(option)
    field = box.style().subControlRect(
        QStyle.ComplexControl.CC_ComboBox, option, QStyle.SubControl.SC_ComboBoxEditField, box
    )
    icon = 0 if box.itemIcon(box.currentIndex()).isNull() else box.iconSize().width()
    return box.fontMetrics().horizontalAdvance(box.currentText()) + icon > field.width()


class TallWindow(QtCase):
    def setUp(self) -> None:
        super().setUp()
        self.tall = self.window(van_drawer())
        self.tall.resize(1920, 1080)
        self.places = [one.id for one in self.tall.workspace.insert.placements]

    def amiss(self, window: Window) -> list[str]:
        """What stands apart or is cut off by now."""
        settle_whole(window)
        seen = [one for one in window.findChildren(QWidget) if one.isVisible()]
        return [
            *(f"apart: {one.text()}" for one in seen if isinstance(one, QLabel) and too_high(one)),
            *(f"cut off: {one.currentText()}" for one in seen if isinstance(one, QComboBox) and cut_off(one)),
        ]

    def test_words_keep_together_at_every_stage(self) -> None:
        for stage in STAGES:
            self.tall.show_stage(stage)
            for count in (0, 1, 3):
                self.tall.workspace.select(tuple(self.places[:count]))
                with self.subTest(stage=stage, selected=count):
                    self.assertEqual(self.amiss(self.tall), [])

    def test_words_keep_together_on_every_page_of_measure(self) -> None:
        self.tall.show_stage("measure")
        for page in PAGES:
            at_measure(self.tall).show_page(page)
            with self.subTest(page=page):
                self.assertEqual(self.amiss(self.tall), [])


class Shares(QtCase):
    def test_a_section_is_as_high_as_it_needs_whatever_window_it_begins_in(self) -> None:
        for size, scale in (((1280, 800), 1.0), ((1920, 1080), 1.0), ((2560, 1600), 2.0), ((2200, 1300), 1.5)):
            window = self.window(van_drawer(), stage="lay-out", size=size, scale=scale)
            with self.subTest(size=size, scale=scale):
                self.assertAlmostEqual(window.section.height(), 215 * scale, delta=12 * scale)
            window.close()

    def test_a_near_section_uses_the_room_up_to_the_ends_of_its_line(self) -> None:
        window = self.window(van_drawer(), stage="sink", size=(1920, 1080))
        side = 84
        for one in window.workspace.insert.placements:
            window.workspace.select((one.id,))
            line.section_along(window.workspace, across=True)
            frame, cut = window.section.frame(), window.section.cut
            start, end = frame.point(0.0, 0.0).x(), frame.point(cut.length_mm, 0.0).x()
            with self.subTest(item=one.item_id):
                self.assertFalse(start > side + 1 and end > window.section.width() - side + 1, (start, end))
                self.assertFalse(start < side - 1 and end < window.section.width() - side - 1, (start, end))
            spans = [body.span for body in cut.bodies if body.placement == one.id]
            self.assertTrue(all(0 <= frame.point(s, 0.0).x() <= window.section.width() for span in spans for s in span))


class SmallWindow(QtCase):
    def test_no_panel_scrolls_whatever_is_chosen(self) -> None:
        window = self.window(van_drawer())
        self.assertEqual((window.width(), window.height()), (1280, 800))
        places = [one.id for one in window.workspace.insert.placements]
        for stage in ("lay-out", "sink", "grip", "cut"):
            window.show_stage(stage)
            panel = window.screen_of(stage).left
            for chosen in ((), *((place,) for place in places)):
                window.workspace.select(chosen)
                settle_whole(window)
                areas = [one for one in panel.findChildren(QScrollArea) if one.isVisible()]
                self.assertGreater(len(areas), 0)
                with self.subTest(stage=stage, chosen=chosen):
                    self.assertEqual([one.verticalScrollBar().maximum() for one in areas], [0] * len(areas))


class Tables(QtCase):
    def test_rows_are_as_high_as_letters_of_any_scale_want(self) -> None:
        for scale in (1.0, 2.0):
            window = self.window(van_drawer(), scale=scale, stage="cut")
            settle_whole(window)
            cuts = [one for one in window.findChildren(QTableView) if one.isVisible()]
            self.assertEqual(len(cuts), 1)
            with self.subTest(scale=scale):
                self.assertGreater(cuts[0].rowHeight(0), 1.4 * cuts[0].fontMetrics().height())
                self.assertLess(cuts[0].rowHeight(0), 2.2 * cuts[0].fontMetrics().height())

    def test_on_a_wide_window_what_a_cut_is_and_how_it_is_made_stand_near_each_other(self) -> None:
        window = self.window(van_drawer(), stage="cut")
        table = at_cut(window).panel.view
        window.resize(1920, 1080)
        settle_whole(window)
        wide = table.columnWidth(1), table.columnWidth(2)
        needed = table.sizeHintForColumn(1), table.sizeHintForColumn(2)
        self.assertAlmostEqual(wide[0] - needed[0], wide[1] - needed[1], delta=12)
        self.assertGreater(wide[1], needed[1] + 100)
        filled = sum(table.columnWidth(column) for column in range(table.model().columnCount()))
        self.assertEqual(filled, table.viewport().width())


class Counts(QtCase):
    def test_a_count_stands_as_far_from_its_frame_as_the_text_of_other_fields(self) -> None:
        for scale in (1.0, 2.0):
            window = self.window(van_drawer(), scale=scale, stage="gather")
            window.workspace.select((window.workspace.insert.placements[0].id,))
            settle_whole(window)
            boxes = [one for one in window.findChildren(CountBox) if one.isVisible()]
            self.assertGreater(len(boxes), 0)
            for box in boxes:
                self.assertAlmostEqual(box.lineEdit().textMargins().left(), 8 * scale, delta=2 * scale)
