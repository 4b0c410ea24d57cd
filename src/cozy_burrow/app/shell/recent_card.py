"""A project as a small picture of its first insert with its name, to be opened by a press."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

import numpy as np
from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QPainter, QPen
from PySide6.QtWidgets import QPushButton

from cozy_burrow.app.look.painting import paints
from cozy_burrow.app.look.theme.theme import type_font
from cozy_burrow.app.scene.small_pictures import Made, Shown, SmallPictures
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.relief.finish import daylight
from cozy_burrow.core.relief.picture import picture_of
from cozy_burrow.core.tongue import tr
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.storage.project_file import load

_STEP_PX = 64


class Reliefs(SmallPictures):
    """Small pictures of projects in files; of one that cannot be opened, an empty one."""

    def of(self, path: Path | None, wide_px: int) -> Shown | None:
        """Return the picture of a project, of the demo without a path; None while there is none."""
        wide_px = -(-wide_px // _STEP_PX) * _STEP_PX  # not another one for every pixel that a window is pulled larger

        def make() -> Made:
            try:
                project = demo_project() if path is None else load(path)
            except UnusableInput:
                return np.zeros((1, 1, 4), dtype=np.uint8), (0.0, 0.0, 1.0, 1.0)
            # What most lies in says most.
            insert = max(project.inserts, key=lambda one: len(one.placements))
            ground = ground_of(project, insert)
            left, top, right, bottom = ground.extent
            picture = picture_of(ground, wide_px / max(1.0, right - left, bottom - top), daylight(), soon=True)
            return picture.pixels, picture.grid.bounds

        return self.get((path, wide_px), path, make)


class RecentCard(QPushButton):
    """One project; path None: the demo."""

    def __init__(self, path: Path | None, reliefs: Reliefs, scale: float, *, high_px: float = 180.0) -> None:
        super().__init__()
        self._path, self._reliefs, self._scale, self._high_px = path, reliefs, scale, high_px
        self._name = tr("Open the demo") if path is None else path.stem
        self._about = tr("A piano technician's drawer, concert case and wall") if path is None else _when(path)
        self.setObjectName("card")
        self.setAccessibleName(self._name)
        self.setAccessibleDescription(self._about)
        self.setToolTip(str(path) if path is not None else self._about)
        reliefs.changed.connect(self.update)

    def sizeHint(self) -> QSize:
        """Room for a picture and two lines."""
        return QSize(round(230 * self._scale), round(self._high_px * self._scale))

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint the picture, the name below it, and when it was saved."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        colours = self.palette()
        room = QRectF(self.rect()).adjusted(2, 2, -2, -2)
        strong = self.hasFocus() or self.underMouse()
        painter.setPen(QPen(colours.highlight().color() if strong else colours.mid().color(), 3 if strong else 1))
        painter.setBrush(colours.base())
        painter.drawRoundedRect(room, 8, 8)
        painter.setFont(type_font("small", self._scale))
        line = painter.fontMetrics().height()
        words = room.adjusted(10, 0, -10, -6)
        painter.setPen(colours.text().color())
        low = QRectF(words.left(), words.bottom() - line, words.width(), line)
        painter.drawText(low, Qt.AlignmentFlag.AlignLeft, self._fitted(painter, self._about, words.width()))
        painter.setFont(type_font("figure", self._scale))
        high = painter.fontMetrics().height()
        name = QRectF(words.left(), low.top() - high, words.width(), high)
        painter.drawText(name, Qt.AlignmentFlag.AlignLeft, self._fitted(painter, self._name, words.width()))
        self._picture(painter, QRectF(room.left() + 8, room.top() + 8, room.width() - 16, name.top() - room.top() - 12))

    def _fitted(self, painter: QPainter, text: str, width: float) -> str:
        return painter.fontMetrics().elidedText(text, Qt.TextElideMode.ElideMiddle, round(width))

    def _picture(self, painter: QPainter, room: QRectF) -> None:
        shown = self._reliefs.of(self._path, round(max(room.width(), room.height()) * self.devicePixelRatioF()))
        if shown is None or shown[0].width() < 2:
            return
        share = min(room.width() / shown[0].width(), room.height() / shown[0].height())
        place = QRectF(0, 0, shown[0].width() * share, shown[0].height() * share)
        place.moveCenter(room.center())
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawPixmap(place, shown[0], QRectF(shown[0].rect()))


def _when(path: Path) -> str:
    try:
        return tr("saved {when}", when=f"{datetime.fromtimestamp(path.stat().st_mtime):%Y-%m-%d %H:%M}")
    except (OSError, OverflowError, ValueError):
        return ""
