"""Stacks side by side, drawn to scale in the height that is free for them: the best first, each with its figures."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QFontMetricsF, QKeyEvent, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.painting import paints
from cozy_burrow.app.look.theme.theme import Theme, type_font
from cozy_burrow.core.foam.boards import sheet_of
from cozy_burrow.core.foam.layers import layers_of
from cozy_burrow.core.foam.stacks import Ranked
from cozy_burrow.core.ground.stack_wish import stack_wish
from cozy_burrow.core.tongue import tr, trn

MOST_SHOWN = 60
WHY_WORDS = {
    "best": tr("the advice"),
    "shallow": tr("too shallow"),
    "unpriced": tr("no price, not on the shelf"),
    "gap": tr("a wide gap stays"),
    "price": tr("dearer"),
    "gap_small": tr("a little more gap"),
    "layers": tr("fewer layers"),
    "sheets": tr("more sheets"),
    "name": tr("as good"),
}


class StackView(QWidget):
    """One column a stack. Left and right go from column to column, Enter uses the chosen one."""

    used = Signal(object)

    def __init__(self, workspace: Workspace, theme: Theme, scale: float, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace, self._theme, self._type_scale = workspace, theme, scale
        self._ranked: tuple[Ranked, ...] = ()
        self.currency = "€"
        self.current = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(tr("Stacks that fit the height"))

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self._theme = theme
        self.update()

    def show_stacks(self, ranked: tuple[Ranked, ...], currency: str) -> None:
        """Show stacks, the best first."""
        self._ranked, self.currency = ranked[:MOST_SHOWN], currency
        self.current = 0
        self._describe()
        self.update()

    def sizeHint(self) -> QSize:
        """As wide as a few columns."""
        return QSize(600, 400)

    def _describe(self) -> None:
        if self._ranked:
            self.setAccessibleDescription("; ".join(self._lines(self._ranked[self.current])))

    def _width(self) -> float:
        return 168.0 * self._type_scale

    def column(self, index: int) -> QRectF:
        """Return where a column is painted; the current one is always in view."""
        fit = self._fit()
        each = self.width() / fit  # as many as are whole, and all of the room
        first = self._first()
        return QRectF((index - first) * each + 6, self._head(), each - 12, self.height() - self._head() - 6)

    def _fit(self) -> int:
        return max(1, min(len(self._ranked) or 1, int(self.width() // self._width())))

    def _first(self) -> int:
        """Return the number of the leftmost column that is seen."""
        return max(0, min(self.current - self._fit() // 2, len(self._ranked) - self._fit()))

    def _head(self) -> float:
        return 40.0 * self._type_scale

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint the columns."""
        theme = self._theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surface"))
        painter.setFont(type_font("body", self._type_scale))
        if not self._ranked:
            painter.setPen(theme.colour("ink"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, tr("No stack fits this height yet."))
            return
        wish = stack_wish(self._workspace.project, self._workspace.insert)
        painter.setFont(type_font("small", self._type_scale))
        painter.setPen(theme.colour("ink"))
        legend = tr(
            "Dashed: the {height} that are free. Open: the deepest pocket. Line in it: the {needed} "
            "that are wanted. Enter uses the chosen stack.",
            height=self._workspace.length(wish.height_mm),
            needed=self._workspace.length(wish.needed_mm),
        )
        if len(self._ranked) > self._fit():
            legend += " " + tr(
                "Stacks {first} to {last} of {count}: arrow keys show the others.",
                first=self._first() + 1,
                last=self._first() + self._fit(),
                count=len(self._ranked),
            )
        painter.drawText(
            QRectF(8, 2, self.width() - 16, self._head() - 2),
            Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextWordWrap,
            legend,
        )
        first = self._first()
        for index in range(first, min(len(self._ranked), first + self._fit())):
            chosen = index == self.current
            self._paint(painter, self.column(index), self._ranked[index], wish.height_mm, wish.needed_mm, chosen=chosen)

    def _lines(self, one: Ranked) -> list[str]:
        stack, length = one.stack, self._workspace.length
        price = tr("no price") if stack.price is None else f"{self.currency}{stack.price:.2f}"
        if stack.from_shelf:
            price += tr(", {from_shelf} on the shelf", from_shelf=stack.from_shelf)
        lines = [
            WHY_WORDS[one.why],
            *(board.name for board in stack.boards),
            tr("gap {gap}", gap=length(stack.gap_mm)),
            tr("pockets to {deepest}", deepest=length(stack.deepest_mm)),
            tr("{layers} layers", layers=stack.layers),
            price,
        ]
        if stack.left_over:
            lines.append(trn("{count} more blank in it", "{count} more blanks in it", stack.left_over))
        return lines

    def _paint(
        self, painter: QPainter, rect: QRectF, one: Ranked, height_mm: float, needed_mm: float, *, chosen: bool
    ) -> None:
        theme, lines = self._theme, self._lines(one)
        painter.setBrush(theme.colour("panel"))
        edge = theme.colour("accent") if chosen else theme.colour("line")
        painter.setPen(QPen(edge, 3 if chosen and self.hasFocus() else 2 if chosen else 1))
        painter.drawRoundedRect(rect, 8, 8)
        metrics = QFontMetricsF(type_font("small", self._type_scale))
        text_high = metrics.height() * 1.05 * max(len(self._lines(each)) for each in self._ranked) + 16
        box = rect.adjusted(14, 14, -14, -text_high)
        scale = box.height() / max(1.0, height_mm)
        painter.setPen(QPen(theme.colour("line_strong"), 1.5, Qt.PenStyle.DashLine))
        painter.setBrush(theme.colour("paper"))
        painter.drawRect(box)
        floor = box.bottom()
        top = floor - one.stack.height_mm * scale
        sheets = tuple(sheet_of(board) for board in one.stack.boards)
        for layer in layers_of(sheets):
            role = "foam_contrast" if layer.contrast else ("strata_a" if layer.number % 2 else "strata_b")
            bar = QRectF(box.left(), top + layer.top_mm * scale, box.width(), (layer.bottom_mm - layer.top_mm) * scale)
            painter.fillRect(bar, theme.colour(role))
            if layer.in_sheet == 1:
                painter.setPen(QPen(theme.colour("shade"), 2))
                painter.drawLine(bar.topLeft(), bar.topRight())
        if one.stack.deepest_mm > 0:  # a pocket as deep as can be, and the depth that is wanted
            middle = box.center().x()
            pocket = QRectF(middle - box.width() * 0.2, top, box.width() * 0.4, one.stack.deepest_mm * scale)
            painter.fillRect(pocket, theme.colour("paper"))
            painter.setPen(QPen(theme.colour("care" if one.why == "shallow" else "accent"), 2))
            wanted = top + needed_mm * scale
            painter.drawLine(int(pocket.left()), int(wanted), int(pocket.right()), int(wanted))
        y = box.bottom() + 6
        for number, line in enumerate(lines):
            font = type_font("figure" if number == 0 else "small", self._type_scale)
            painter.setFont(font)
            colour = "care" if number == 0 and one.why in {"shallow", "unpriced"} else "ink"
            painter.setPen(theme.colour(colour))
            text = QFontMetricsF(font).elidedText(line, Qt.TextElideMode.ElideRight, rect.width() - 20)
            row = QRectF(rect.left() + 10, y, rect.width() - 20, metrics.height())
            painter.drawText(row, Qt.AlignmentFlag.AlignVCenter, text)
            y += metrics.height() * 1.05
        painter.setFont(type_font("body", self._type_scale))

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Choose a column."""
        first = self._first()
        for index in range(first, min(len(self._ranked), first + self._fit())):
            if self.column(index).contains(event.position()):
                self.current = index
                self._describe()
                self.update()
                return

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        """Use the stack under the pointer."""
        self.mousePressEvent(event)
        self._use()

    def _use(self) -> None:
        if self._ranked:
            self.used.emit(self._ranked[self.current].stack)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Left and right choose, Enter uses."""
        match event.key():
            case Qt.Key.Key_Left | Qt.Key.Key_Right if self._ranked:
                step = 1 if event.key() == Qt.Key.Key_Right else -1
                self.current = min(max(0, self.current + step), len(self._ranked) - 1)
                self._describe()
                self.update()
            case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                self._use()
            case _:
                event.ignore()
