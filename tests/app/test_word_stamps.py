"""Names on the plan are pictures: as sharp as letters, and made some at a time."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPainterPath, QPen, QTransform

from cozy_burrow.app.look.theme.theme import type_font
from cozy_burrow.app.scene.word_stamps import Dress, WordStamps
from tests.app.qt import QtCase, wait_until
from tests.makers import van_drawer

INK, HALO = QColor(20, 30, 40), QColor(250, 240, 230, 191)


def paper(sharp: float) -> QImage:
    """A grey sheet of 160 by 100 pixels."""
    image = QImage(round(160 * sharp), round(100 * sharp), QImage.Format.Format_RGB32)
    image.setDevicePixelRatio(sharp)
    image.fill(QColor(128, 120, 110))
    return image


def pixels(image: QImage) -> np.ndarray:
    """What is painted on a sheet, (rows, columns, 4)."""
    rows = np.frombuffer(image.constBits(), dtype=np.uint8).reshape(image.height(), image.bytesPerLine())
    return rows[:, : image.width() * 4].reshape(image.height(), image.width(), 4).astype(int)


class Words(QtCase):
    def test_a_name_looks_as_if_it_were_written_there(self) -> None:
        font = type_font("small", 1.0)
        for sharp in (1.0, 2.0):
            for angle_deg in (0.0, -90.0, 17.0):
                with self.subTest(sharp=sharp, angle_deg=angle_deg):
                    metrics = QFontMetricsF(font)
                    path = QPainterPath()
                    base = (metrics.ascent() - metrics.descent()) / 2
                    path.addText(-metrics.horizontalAdvance("Tuning lever") / 2, base, font, "Tuning lever")
                    path = QTransform.fromTranslate(80, 50).rotate(angle_deg).map(path)
                    straight = paper(sharp)
                    with QPainter(straight) as painter:
                        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
                        painter.strokePath(path, QPen(HALO, 3.5, j=Qt.PenJoinStyle.RoundJoin))
                        painter.fillPath(path, INK)
                    stamped = paper(sharp)
                    words = WordStamps(font)
                    words.begin(all_at_once=True)
                    stamp = words.stamp("Tuning lever", angle_deg, Dress(INK, HALO, sharp))
                    assert stamp is not None
                    with QPainter(stamped) as painter:
                        painter.drawPixmap(QPointF(80, 50) + stamp.corner, stamp.picture)
                    self.assertGreater(int((pixels(straight) != pixels(paper(sharp))).any(axis=2).sum()), 200)
                    self.assertLessEqual(int(np.abs(pixels(straight) - pixels(stamped)).max()), 8)  # twice rounded
                    around = path.boundingRect().translated(-80, -50)
                    self.assertLess((stamp.place.center() - around.center()).manhattanLength(), 1e-6)

    def test_they_are_made_some_at_a_time_and_kept(self) -> None:
        words, dress = WordStamps(type_font("small", 1.0)), Dress(INK, HALO, 1.0)
        names = [f"item {n}" for n in range(15)]
        paintings = 0
        made: list[object] = []
        while True:
            words.begin(all_at_once=False)
            before, made = made, [words.stamp(name, 0.0, dress) for name in names]
            self.assertEqual([one for one in before if one], made[: len([one for one in before if one])])
            paintings += 1
            if not words.rest_is_due:
                break
        self.assertEqual(paintings, 3)
        self.assertNotIn(None, made)
        words.begin(all_at_once=False)
        self.assertIs(words.stamp("item 3", 0.0, dress), made[3])
        self.assertIsNot(words.stamp("item 3", 90.0, dress), made[3])

    def test_the_plan_is_still_once_all_names_are_written(self) -> None:
        window = self.window(van_drawer(), stage="lay-out")
        window.plan.look_named(True)
        self.assertTrue(wait_until(lambda: window.workspace.is_judged and window.plan.is_still))
        tags = window.plan._tags
        tags._words = WordStamps(tags._font)
        window.plan.viewport().grab()
        self.assertFalse(window.plan.is_still)
        self.assertTrue(wait_until(lambda: window.plan.is_still))
        after = pixels(window.plan.viewport().grab().toImage().convertToFormat(QImage.Format.Format_RGB32))
        written = set(tags._words._kept)
        tags.at_once = True  # whatever is not written yet would be now
        whole = pixels(window.plan.viewport().grab().toImage().convertToFormat(QImage.Format.Format_RGB32))
        self.assertTrue(np.array_equal(after, whole))
        self.assertEqual(written, set(tags._words._kept))
        self.assertGreaterEqual(len(written), 12)
