"""Pictures of items and inserts in lists: made beside the window, kept, and never in a circle where one fails."""

from __future__ import annotations

from unittest.mock import patch

import numpy as np
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPixmap

from cozy_burrow.app.look.theme.theme import load_theme
from cozy_burrow.app.scene.relief import look_of
from cozy_burrow.app.scene.small_pictures import Made, Portraits, SmallPictures, SmallReliefs
from cozy_burrow.core.ground.ground import ground_of
from tests.app.qt import QtCase, wait_until
from tests.app.screens import at_lay_out
from tests.makers import DRIVER, box, laid, project, stations


def one_made() -> Made:
    return np.full((4, 6, 4), 200, dtype=np.uint8), (0.0, 0.0, 6.0, 4.0)


class Small(QtCase):
    def setUp(self) -> None:
        super().setUp()
        beside = patch.object(SmallPictures, "at_once", False)
        beside.start()
        self.addCleanup(beside.stop)

    def painted(self, paint: object) -> np.ndarray:
        picture = QPixmap(200, 120)
        picture.fill(Qt.GlobalColor.white)
        painter = QPainter(picture)
        painter.translate(100, 60)
        paint(painter)  # type: ignore[operator]
        painter.end()
        image = picture.toImage()
        return np.array([[image.pixelColor(x, y).getRgb()[:3] for x in range(200)] for y in range(120)])

    def test_they_come_beside_the_window_and_are_kept(self) -> None:
        known = SmallPictures()
        asked: list[int] = []

        def make() -> Made:
            asked.append(1)
            return one_made()

        of = object()
        self.assertIsNone(known.get("a", of, make))
        self.assertTrue(wait_until(lambda: not known.is_busy))
        self.app.processEvents()
        shown = known.get("a", of, make)
        assert shown is not None
        self.assertEqual(shown[1], QRectF(0, 0, 6, 4))
        self.assertEqual(len(asked), 1)

    def test_more_than_a_dozen_come_in_turns_and_the_oldest_go(self) -> None:
        known = SmallPictures(most=20)
        keys = list(range(30))

        def ask() -> bool:
            return not known.is_busy and all(known.get(key, key, one_made) is not None for key in keys[-20:])

        self.assertTrue(wait_until(ask))
        self.assertLessEqual(len(known._known), 20)

    def test_one_that_fails_is_told_and_not_asked_for_for_ever(self) -> None:
        known = SmallPictures()

        def broken() -> Made:
            raise ZeroDivisionError

        known.get("a", None, broken)
        self.assertTrue(wait_until(lambda: bool(self.uncaught)))
        self.assertIsInstance(self.uncaught.pop(), ZeroDivisionError)
        self.assertTrue(wait_until(lambda: not known.is_busy))
        self.assertIsNone(known.get("a", None, broken))
        self.assertFalse(known.is_busy)

    def test_an_item_is_drawn_and_then_lit(self) -> None:
        item, theme = stations(DRIVER), load_theme("light")
        with patch.object(SmallPictures, "at_once", False):
            portraits = Portraits()
            drawn = self.painted(lambda painter: portraits.paint(painter, item, theme))
            self.assertTrue(wait_until(lambda: not portraits.is_busy))
            self.app.processEvents()
            lit = self.painted(lambda painter: portraits.paint(painter, item, theme))
        self.assertGreater(float(np.abs(drawn.astype(int) - lit.astype(int)).max()), 30.0)
        # Both cover the same place.
        for one in (drawn, lit):
            self.assertTrue((one[60, 20] != 255).any())
            self.assertTrue((one[5, 5] == 255).all())

    def test_an_insert_is_lit_in_its_colours(self) -> None:
        plan = laid(project(box(60.0, 20.0, 24.0)), (150.0, 100.0))
        ground, look = ground_of(plan, plan.inserts[0]), look_of(load_theme("light"))
        with patch.object(SmallPictures, "at_once", True):
            reliefs = SmallReliefs()

            def paint(painter: QPainter) -> None:
                painter.scale(0.5, 0.5)
                painter.translate(-150, -100)
                self.assertTrue(reliefs.put(painter, ground, look))

            seen = self.painted(paint)
        foam = seen[100, 170]
        self.assertLess(float(np.abs(foam.astype(int) - np.array(look.foam)).max()), 45)

    def test_the_tray_shows_what_waits(self) -> None:
        with patch.object(SmallPictures, "at_once", True):
            plan = project(box(90.0, 40.0, 20.0))
            window = self.window(plan, stage="lay-out")
            tray = at_lay_out(window).panel.list
            self.assertEqual(tray.count(), 1)
            image = tray.viewport().grab().toImage()
            row = tray.visualItemRect(tray.item(0))
            colours = {
                QColor(image.pixel(x, row.center().y())).name()
                for x in range(row.left(), row.left() + tray.iconSize().width())
            }
            self.assertGreater(len(colours), 4)
