"""Small sections that show what the reserved words mean: loose, too tight, captive, squeezed out, not level."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, QSize
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QSizePolicy, QWidget

from cozy_burrow.app.look.draft import Draft, Drawing
from cozy_burrow.app.look.painting import paints
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.core.findings.holds import CAPTIVE, LOOSE, SQUEEZED, TOO_TIGHT
from cozy_burrow.core.findings.sits import LIES_ASKEW
from cozy_burrow.core.tongue import tr

WIDE, HIGH = 132.0, 66.0
_TOP = 24.0  # of the foam; above it there is air


class Sketch(QWidget):
    """One of the drawings, as high as a few lines of text."""

    def __init__(self, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme, self._scale = theme, scale
        self._drawing: Drawing | None = None
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setVisible(False)

    def show_code(self, code: str | None) -> None:
        """Show what a finding's word means; nothing where it has no drawing."""
        self._drawing = DRAWINGS.get(code) if code is not None else None
        self.setVisible(self._drawing is not None)
        self.setAccessibleName(tr("Drawing: {shows}", shows=self._drawing.shows) if self._drawing is not None else "")
        self.update()

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self.update()

    def sizeHint(self) -> QSize:
        """As large as the drawing."""
        return QSize(round(WIDE * self._scale), round(HIGH * self._scale))

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint foam, pocket, thing and what happens to it."""
        painter.scale(self._scale, self._scale)
        if self._drawing is not None:
            self._drawing.paint(Draft(painter, self._theme))


def _foam(draft: Draft, pocket: tuple[float, float], floor: float) -> None:
    left, right = pocket
    top = [(4, _TOP), (left, _TOP), (left, floor), (right, floor), (right, _TOP), (WIDE - 4, _TOP)]
    draft.foam([*top, (WIDE - 4, HIGH - 1), (4, HIGH - 1)])


def _loose(draft: Draft) -> None:
    _foam(draft, (44, 88), 56)
    draft.box(QRectF(50, 30, 32, 26))
    draft.arrow(QPointF(66, 28), QPointF(66, 4))


def _too_tight(draft: Draft) -> None:
    _foam(draft, (50, 82), 56)
    draft.box(QRectF(48, 18, 36, 38))
    draft.arrow(QPointF(22, 42), QPointF(46, 42))
    draft.arrow(QPointF(110, 42), QPointF(86, 42))


def _captive(draft: Draft) -> None:
    _foam(draft, (44, 88), 60)
    draft.box(QRectF(47, 40, 38, 20))
    draft.lid(QRectF(4, 4, WIDE - 8, 10))
    draft.arrow(QPointF(66, 38), QPointF(66, 16))
    draft.arrow(QPointF(66, 16), QPointF(66, 38))


def _squeezed(draft: Draft) -> None:
    _foam(draft, (54, 78), 33)
    draft.ball(QPointF(66, 16.5), 15)
    draft.arrow(QPointF(41, 38), QPointF(53, 26))
    draft.arrow(QPointF(91, 38), QPointF(79, 26))


def _not_level(draft: Draft) -> None:
    _foam(draft, (28, 104), 50)
    tilt_deg = -math.degrees(math.atan2(18, 76))
    draft.turned(QPointF(66, 34), tilt_deg, lambda: draft.box(QRectF(-40, -7, 80, 14)))


DRAWINGS = {
    LOOSE.code: Drawing(WIDE, HIGH, _loose, shows=tr("an item with air on both sides, and an arrow out of its pocket")),
    TOO_TIGHT.code: Drawing(
        WIDE, HIGH, _too_tight, shows=tr("foam that presses an item from both sides harder than fingers pull")
    ),
    CAPTIVE.code: Drawing(
        WIDE, HIGH, _captive, shows=tr("an item deep in its pocket under a lid that is nearer than the pocket is deep")
    ),
    SQUEEZED.code: Drawing(
        WIDE, HIGH, _squeezed, shows=tr("a shallow round item that the edges of its pocket press upwards")
    ),
    LIES_ASKEW.code: Drawing(
        WIDE, HIGH, _not_level, shows=tr("an item with one end on the floor of its pocket and the other on its edge")
    ),
}
