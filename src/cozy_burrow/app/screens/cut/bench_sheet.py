"""What is read at the bench from two metres: the line in hand, the blade, what to look out for here."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QPainter
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.look.painting import paints
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene.relief import Relief
from cozy_burrow.app.screens.cut.bench_picture import Scene, paint_knife, paint_line
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import trn

_FOAM_PX_PER_MM = 3.0  # of the lit foam: looked at from nearer it is shown larger
_HIGH = 720.0  # of a picture for which sizes are given: they grow with it
# Capitals of 7 mm are read from two metres without effort; that is 36 pixels of type on a usual screen.
_HUGE, _LARGE, _PLAIN, _SMALL = 72, 40, 28, 22


class Said(Record, frozen=True, kw_only=True):
    """Everything that is written: where one is, the line, how it is cut, the blade, care, why, the time."""

    where: str
    what: str
    how: str = ""
    blade: str = ""
    passes: str = ""
    care: tuple[str, ...] = ()
    why: str = ""
    clock: str = ""
    glue: str = ""


class BenchSheet(QWidget):
    """Paints one line of a sheet, or that all are cut."""

    def __init__(self, theme: Theme, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._theme = theme
        self._relief = Relief(theme, self)
        self._relief.changed.connect(self.update)
        self._scene: Scene | None = None
        self._said = Said(where="", what="")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(640, 400)

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self._relief.set_theme(theme)
        self.update()

    def wait_for_light(self) -> None:
        """Light the foam whenever it is painted, however long that takes: for a picture of the window."""
        self._relief.at_once = True

    def show_line(self, scene: Scene, said: Said) -> None:
        """Show a line and what is said of it."""
        self._scene, self._said = scene, said
        self.setAccessibleName(f"{said.where}: {said.what}")
        told = (said.blade, said.passes, said.how, *said.care, said.why)
        self.setAccessibleDescription(". ".join(filter(None, told)))
        self.update()

    def tell_clock(self, text: str, glue: str) -> None:
        """Show another time, and what the glue is at."""
        self._said = replace(self._said, clock=text, glue=glue)
        self.update()

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint the picture at the left, the words at the right."""
        theme, scene = self._theme, self._scene
        painter.fillRect(self.rect(), theme.colour("panel"))
        if scene is None:
            return
        grow = max(0.6, min(self.height() / _HIGH, self.width() / 1240.0))
        whole = QRectF(self.rect()).adjusted(14, 10, -14, -10)
        head = self._font(_PLAIN, grow, bold=True)
        line = QFontMetricsF(head).height()
        self._write(painter, QRectF(whole.left(), whole.top(), whole.width(), line), self._said.where, head, "ink_soft")
        painter.drawText(
            QRectF(whole.left(), whole.top(), whole.width(), line), Qt.AlignmentFlag.AlignRight, self._said.clock
        )
        below = whole.adjusted(0, line + 8, 0, 0)
        picture = QRectF(below.left(), below.top(), below.width() * 0.56, below.height())
        foam = self._relief.shown_bare(scene.ground, _FOAM_PX_PER_MM)
        paint_line(painter, picture, scene, theme, foam)
        if self._said.glue:
            foot = QRectF(picture.left() + 8, picture.bottom() - line - 10, picture.width() - 16, line + 4)
            painter.fillRect(foot, theme.colour("care_soft"))
            self._write(
                painter, foot.adjusted(8, 2, -8, 0), self._said.glue, self._font(_SMALL, grow, bold=True), "ink"
            )
        self._paint_words(painter, below.adjusted(picture.width() + 22, 0, 0, 0), grow)

    def _paint_words(self, painter: QPainter, place: QRectF, grow: float) -> None:
        said, scene = self._said, self._scene
        assert scene is not None
        top = place.top()
        top += self._write(painter, _from(place, top), said.what, self._font(_LARGE, grow, bold=True), "ink") + 6 * grow
        if scene.in_hand is not None:
            one = scene.in_hand
            faces = [layer for layer in scene.ground.layers if layer.sheet == scene.sheet]
            layers = tuple(layer.bottom_mm - faces[0].top_mm for layer in faces)
            px_per_mm = self.screen().physicalDotsPerInchY() / 25.4
            tall = min(place.height() * 0.36, 60 + (layers[-1] + 4) * px_per_mm)
            knife = QRectF(place.right() - 110 * grow, top, 110 * grow, tall)
            paint_knife(painter, knife, one, layers, self._theme, px_per_mm=px_per_mm)
            beside = QRectF(place.left(), top, knife.left() - place.left() - 14, tall)
            down = beside.top()
            down += self._write(painter, _from(beside, down), said.blade, self._font(_HUGE, grow, bold=True), "accent")
            down += self._write(painter, _from(beside, down), said.passes, self._font(_PLAIN, grow), "ink")
            top = max(top + tall, down) + 10 * grow
        for care in said.care:
            top += self._warn(painter, _from(place, top), care, grow) + 6 * grow
        top += self._write(painter, _from(place, top), said.how, self._font(_PLAIN, grow), "ink") + 6 * grow
        self._write(painter, _from(place, top), said.why, self._font(_SMALL, grow), "ink_soft")

    def _warn(self, painter: QPainter, place: QRectF, text: str, grow: float) -> float:
        """Write what to look out for, with a bar and a mark beside it: colour is not the only sign."""
        font = self._font(_PLAIN, grow, bold=True)
        mark = QFontMetricsF(font).horizontalAdvance("! ") + 12
        high = self._write(painter, place.adjusted(mark, 0, 0, 0), text, font, "ink")
        painter.fillRect(QRectF(place.left(), place.top(), 6, high), self._theme.colour("care"))
        self._write(painter, place.adjusted(12, 0, 0, 0), "!", font, "care")
        return high

    def _write(self, painter: QPainter, place: QRectF, text: str, font: QFont, role: str) -> float:
        """Write a text into a place and return how high it came out."""
        if not text:
            return 0.0
        flags = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignTop | Qt.TextFlag.TextWordWrap
        painter.setFont(font)
        painter.setPen(QColor(self._theme.colour(role)))
        box = QFontMetricsF(font).boundingRect(QRectF(place.left(), place.top(), place.width(), 4000), flags, text)
        painter.drawText(QRectF(place.left(), place.top(), place.width(), box.height() + 2), flags, text)
        return box.height()

    @staticmethod
    def _font(size: float, grow: float, *, bold: bool = False) -> QFont:
        font = type_font("head" if bold else "body")
        font.setPixelSize(max(12, round(size * grow)))
        return font


def _from(place: QRectF, top: float) -> QRectF:
    return QRectF(QPointF(place.left(), top), place.bottomRight())


def finished_text(minutes: str, blades: int) -> str:
    """Return what is said once every line of a sheet is cut."""
    return trn("All cut: {minutes}, {count} blade", "All cut: {minutes}, {count} blades", blades, minutes=minutes)
