"""Variations side by side: a small plan of each with what it comes to, and how the best one grew; a press takes one."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPainterPath, QPen, QPixmap, QPolygonF, QTransform
from PySide6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from cozy_burrow.app.desk.arranging import ARRANGE_SECONDS, Arranging
from cozy_burrow.app.look.fields import head, panel, soft
from cozy_burrow.app.look.painting import drawing_on, paints, saved, sharpness
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.app.scene.paths import area_path, coarse_paths
from cozy_burrow.app.scene.relief import look_of
from cozy_burrow.app.scene.small_pictures import SmallReliefs
from cozy_burrow.core.ground.arranging import Arranged
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.edits import insert_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.tongue import tr

CARDS = 4
_SEEN_PX = 0.3  # of a line's place


@memo(rows=32)
def _small(ground: Ground, within_mm: float) -> tuple[list[QPainterPath], list[QPainterPath]]:
    """Return the paths of the pulls and of the pockets for a small picture."""
    areas = [pull.area for pull in ground.pulls], [pocket.surface for pocket in ground.pockets.values()]
    pulls, pockets = (coarse_paths(some, within_mm) for some in areas)
    return pulls, pockets


@dataclass(frozen=True)
class _Drawn:
    """The plan of a card as it was drawn last: a card is painted again for a mark or the keyboard's rim, too."""

    ground: Ground
    where: QTransform
    sharp: float
    picture: QPixmap

    def is_of(self, ground: Ground, where: QTransform, sharp: float) -> bool:
        """Return whether this is the picture that would be drawn."""
        return self.ground is ground and self.where == where and self.sharp == sharp


class Card(QPushButton):
    """One variation as a small plan."""

    def __init__(self, number: int, theme: Theme, scale: float) -> None:
        super().__init__()
        self.number, self._theme, self._scale = number, theme, scale
        self._reliefs = SmallReliefs(self, most=2)
        self._reliefs.changed.connect(self.update)
        self._is_lit = False
        self._drawn: _Drawn | None = None
        self._result: Arranged | None = None
        self._insert_id = ""
        self._text = ""
        self.setCheckable(True)
        self.setMinimumWidth(round(96 * scale))
        self.show_result(None, "", 0.0, False)

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme, self._drawn = theme, None
        self.update()

    def show_result(
        self, result: Arranged | None, insert_id: str, total: float, chosen: bool, *, lit: bool = False
    ) -> None:
        """Show a layout; None: it is still being made. lit: as a picture; while a search runs, it is soon another."""
        self._result, self._insert_id, self._is_lit = result, insert_id, lit
        self.setEnabled(result is not None)
        self.setChecked(chosen)
        if result is None:
            self._text = tr("being laid…")
            self.setAccessibleName(tr("Variation {number}: being laid", number=self.number + 1))
            self.setToolTip("")
        else:
            left = tr(", {count} left over", count=len(result.left_over)) if result.left_over else ""
            self._text = (
                tr("{total:.0f} of 100 in all{left}", total=total, left=left)
                if result.over
                else tr("{total:.0f} of 100{left}", total=total, left=left)
            )
            self.setAccessibleName(
                tr("Variation {number}: {text}, {name}", number=self.number + 1, text=self._text, name=result.name)
            )
            self.setToolTip(tr("Laid {name}. Press to lay the plan out like this", name=result.name))
        self.update()

    def sizeHint(self) -> QSize:
        """Wide enough for a plan."""
        return QSize(round(150 * self._scale), round(150 * self._scale))

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint foam, pockets and what it comes to."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        theme = self._theme
        room = QRectF(self.rect()).adjusted(2, 2, -2, -2)
        strong = self.isChecked() or self.hasFocus() or self.underMouse()
        painter.setPen(QPen(theme.colour("accent" if strong else "line"), 3 if self.isChecked() else 1.5))
        painter.setBrush(theme.colour("paper"))
        painter.drawRoundedRect(room, 6, 6)
        painter.setFont(type_font("small", self._scale))
        line = painter.fontMetrics().height() + 4
        words = QRectF(room.left(), room.bottom() - line, room.width(), line)
        painter.setPen(theme.colour("ink" if self._result is not None else "ink_soft"))
        mark = "✓ " if self.isChecked() else ""
        painter.drawText(words, Qt.AlignmentFlag.AlignCenter, mark + self._text)
        if self._result is not None:
            self._paint_plan(painter, room.adjusted(6, 6, -6, -line))

    def _paint_plan(self, painter: QPainter, room: QRectF) -> None:
        assert self._result is not None
        project = self._result.project
        ground = ground_of(project, insert_of(project, self._insert_id))
        left, top, right, bottom = ground.extent
        scale = min(room.width() / max(1.0, right - left), room.height() / max(1.0, bottom - top))
        where = QTransform()
        where.translate(room.center().x(), room.center().y())
        where.scale(scale, scale)
        where.translate(-(left + right) / 2, -(top + bottom) / 2)
        if self._is_lit and self._put_relief(painter, ground, where, room):
            return
        sharp = sharpness(painter)
        if self._drawn is None or not self._drawn.is_of(ground, where, sharp):
            picture = QPixmap((self.size() * sharp).expandedTo(QSize(1, 1)))
            picture.setDevicePixelRatio(sharp)
            picture.fill(Qt.GlobalColor.transparent)
            with drawing_on(picture) as brush:
                self._draw_plan(brush, ground, where)
            self._drawn = _Drawn(ground, where, sharp, picture)
        painter.drawPixmap(0, 0, self._drawn.picture)

    def _draw_plan(self, painter: QPainter, ground: Ground, where: QTransform) -> None:
        theme = self._theme
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.colour("foam_top"))
        painter.drawPath(where.map(area_path(ground.blank)))
        painter.setBrush(theme.colour("pull"))
        pulls, pockets = _small(ground, round(_SEEN_PX / where.m11(), 2))
        for path in pulls:
            painter.drawPath(where.map(path))
        painter.setBrush(theme.colour("tool"))
        painter.setPen(QPen(theme.colour("tool_line"), 1))
        for path in pockets:
            painter.drawPath(where.map(path))

    def _put_relief(self, painter: QPainter, ground: Ground, where: QTransform, room: QRectF) -> bool:
        with saved(painter):
            painter.setClipRect(room)
            painter.setTransform(where, True)
            return self._reliefs.put(painter, ground, look_of(self._theme))


class Curve(QWidget):
    """The best score over the time of the search."""

    def __init__(self, theme: Theme, scale: float) -> None:
        super().__init__()
        self._theme, self._scale = theme, scale
        self._points: list[tuple[float, float]] = []
        self.setMinimumSize(round(110 * scale), round(60 * scale))
        self.setAccessibleName(tr("Best score over time"))

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self.update()

    def show_points(self, points: list[tuple[float, float]]) -> None:
        """Show (seconds, score) pairs."""
        self._points = list(points)
        if points:
            text = tr("Best {points:.0f} of 100 after {points_2:.0f} s", points=points[-1][1], points_2=points[-1][0])
            self.setAccessibleDescription(text)
            self.setToolTip(text)
        self.update()

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint the steps with both axes' ends named."""
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(type_font("small", self._scale))
        line = painter.fontMetrics().height()
        room = QRectF(self.rect()).adjusted(2, line + 2, -2, -line - 2)
        painter.setPen(QPen(self._theme.colour("line_strong"), 1))
        painter.drawLine(room.bottomLeft(), room.bottomRight())
        painter.setPen(self._theme.colour("ink_soft"))
        foot = QRectF(room.left(), room.bottom() + 1, room.width(), line)
        painter.drawText(foot, Qt.AlignmentFlag.AlignLeft, "0 s")
        painter.drawText(foot, Qt.AlignmentFlag.AlignRight, f"{ARRANGE_SECONDS:.0f} s")
        if not self._points:
            return
        low = min(score for _, score in self._points) - 2.0
        high = max(score for _, score in self._points) + 1.0
        painter.drawText(
            QRectF(room.left(), 0, room.width(), line),
            Qt.AlignmentFlag.AlignLeft,
            tr("best {points:.0f} of 100", points=self._points[-1][1]),
        )
        trail = QPolygonF()
        before: float | None = None
        for seconds, score in self._points:
            x = room.left() + room.width() * min(1.0, seconds / ARRANGE_SECONDS)
            y = room.bottom() - room.height() * (score - low) / max(1e-6, high - low)
            if before is not None:
                trail.append(QPointF(x, before))
            trail.append(QPointF(x, y))
            before = y
        painter.setPen(QPen(self._theme.colour("accent"), 2))
        painter.drawPolyline(trail)


class VariationsView(QWidget):
    """Curve and cards; below the plan while there are variations."""

    close_wanted = Signal()

    def __init__(self, arranging: Arranging, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._arranging = arranging
        panel(self)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 4, 8, 6)
        column.setSpacing(4)
        top = QHBoxLayout()
        self.title = head("")
        self.title.setWordWrap(False)
        top.addWidget(self.title, 1)
        self.close_button = QPushButton(tr("Show the section again"))
        self.close_button.clicked.connect(self.close_wanted)
        top.addWidget(self.close_button)
        column.addLayout(top)
        row = QHBoxLayout()
        column.addLayout(row, 1)
        side = QVBoxLayout()
        row.addLayout(side)
        self.curve = Curve(theme, scale)
        side.addWidget(self.curve, 1)
        self._hint: QLabel = soft("")
        side.addWidget(self._hint)
        self.cards = [Card(number, theme, scale) for number in range(CARDS)]
        for card in self.cards:
            card.clicked.connect(lambda _=False, card=card: self._press(card))
            row.addWidget(card, 1)
        arranging.gained.connect(self.follow)
        arranging.progressed.connect(lambda share: self.follow() if share is None else self._say())
        self.follow()

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self.curve.set_theme(theme)
        for card in self.cards:
            card.set_theme(theme)

    def _press(self, card: Card) -> None:
        if self._arranging.is_arranging:
            self._arranging.stop()
            self._arranging.wanted = card.number
        else:
            self._arranging.pick(card.number)
        self.follow()

    def follow(self) -> None:
        """Show what there is."""
        arranging = self._arranging
        insert_id = arranging.insert_id
        for card in self.cards:
            result = arranging.results.get(card.number)
            total = arranging.total(result) if result is not None else 0.0
            chosen = arranging.chosen == card.number
            card.show_result(result, insert_id, total, chosen, lit=not arranging.is_arranging)
            card.setVisible(result is not None or arranging.is_arranging)
        self.curve.show_points(arranging.curve)
        self._say()

    def _say(self) -> None:
        running = self._arranging.is_arranging
        self.close_button.setVisible(not running)  # a search is ended by its own button, which keeps the best
        self.title.setText(tr("Laying out in four ways…") if running else tr("Variations: press one to take it"))
        self._hint.setText(
            tr("Press one to stop\nand take it.") if running else tr("All of this is\none step of undo.")
        )
