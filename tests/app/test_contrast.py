"""Text can be read: the contrast of every word in the window, measured from pictures of it, in both themes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QWidget

from cozy_burrow.app.look.theme.theme import ThemeName
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.stages import STAGES
from tests.app.qt import QtCase, settle
from tests.makers import van_drawer

LEAST = 4.5  # of large and small text alike
WORDY = (QLabel, QAbstractButton, QLineEdit, QComboBox)


def pixels(widget: QWidget) -> NDArray[np.uint8]:
    """What a widget looks like on what lies behind it, (rows, columns, 3)."""
    window = widget.window()
    at = widget.mapTo(window, widget.rect().topLeft())
    picture = window.grab(widget.rect().translated(at)).toImage().convertToFormat(QImage.Format.Format_RGB888)
    rows = np.frombuffer(picture.constBits(), dtype=np.uint8).reshape(picture.height(), picture.bytesPerLine())
    return rows[:, : 3 * picture.width()].reshape(picture.height(), picture.width(), 3).copy()


def luminance(colour: NDArray[np.uint8]) -> NDArray[np.float64]:
    """Relative luminance by WCAG 2, of (..., 3)."""
    share = colour.astype(float) / 255.0
    linear = np.where(share <= 0.04045, share / 12.92, ((share + 0.055) / 1.055) ** 2.4)
    return np.asarray(linear @ np.array([0.2126, 0.7152, 0.0722]))


def contrast(widget: QWidget) -> float:
    """The contrast of the strongest ink in a widget against what there is most of in it."""
    seen = pixels(widget).reshape(-1, 3)
    colours, counts = np.unique(seen, axis=0, return_counts=True)
    light = luminance(colours)
    ground = light[int(counts.argmax())]
    return float(((np.maximum(light, ground) + 0.05) / (np.minimum(light, ground) + 0.05)).max())


def words(widget: QWidget) -> str:
    """What is written on a widget; nothing where it is a picture."""
    if isinstance(widget, QComboBox):
        return widget.currentText()
    text = widget.text() if isinstance(widget, (QLabel, QAbstractButton, QLineEdit)) else ""
    return text if text.strip() and not text.startswith("<img") else ""


class Contrast(QtCase):
    def weak(self, window: Window) -> set[str]:
        found = set()
        for widget in window.findChildren(QWidget):
            if isinstance(widget, WORDY) and widget.isVisible() and widget.isEnabled() and words(widget):
                if widget.visibleRegion().boundingRect() != widget.rect():
                    continue  # scrolled out, or half of it
                measured = contrast(widget)
                if measured < LEAST:
                    found.add(f"{type(widget).__name__} {words(widget)[:40]!r} {measured:.1f}")
        return found

    def test_every_word_of_every_stage(self) -> None:
        names: tuple[ThemeName, ...] = ("light", "lamp")
        for theme in names:
            window = self.window(van_drawer(), theme=theme)
            seen = 0
            for stage in STAGES:
                with self.subTest(theme=theme, stage=stage):
                    window.show_stage(stage)
                    settle(window)
                    self.assertEqual(self.weak(window), set())
                    seen += sum(isinstance(one, WORDY) and one.isVisible() for one in window.findChildren(QWidget))
            self.assertGreater(seen, 100)
            window.workspace.saved = window.workspace.project
            window.close()

    def test_it_would_see_grey_on_grey(self) -> None:
        label = QLabel("hardly to be read")
        label.setStyleSheet("color: #888888; background: #aaaaaa")
        label.show()
        self.app.processEvents()
        self.assertLess(contrast(label), 2.0)
        label.setStyleSheet("color: #111111; background: #eeeeee")
        self.app.processEvents()
        self.assertGreater(contrast(label), 12.0)
