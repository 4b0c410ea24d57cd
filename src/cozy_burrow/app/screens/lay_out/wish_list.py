"""The wishes of a layout: name, how far each is met, its figure; a press lays its picture over the plan."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPainter, QPalette
from PySide6.QtWidgets import (
    QButtonGroup,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QSlider,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.look.fields import soft
from cozy_burrow.app.look.painting import paints
from cozy_burrow.core.arrange.wishes import WISHES, Scores, Wish, WishName
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit
from cozy_burrow.jobs.wish_words import WISH_NAMES, WISH_WHY, wish_figure

HEAVIEST = 8
_TARGET_PX = 32  # what a finger or an unsteady hand meets


class WishRow(QPushButton):
    """One wish: a bar behind its name, the figure at the right."""

    def __init__(self, name: WishName) -> None:
        super().__init__()
        self.name = name
        self.wish: Wish | None = None
        self._figure = ""
        self.setCheckable(True)
        self.setObjectName("wish")
        self.setToolTip(WISH_WHY[name])
        self.setAccessibleName(WISH_NAMES[name])
        self.setFixedHeight(self.sizeHint().height())

    def show_wish(self, wish: Wish | None, unit: Unit) -> None:
        """Show how far the wish is met."""
        self.wish = wish
        self._figure = "" if wish is None else wish_figure(wish, unit)
        met = tr("does not apply") if wish is None or wish.score is None else tr("{score:.0%} met", score=wish.score)
        self.setAccessibleName(f"{WISH_NAMES[self.name]}: {met}, {self._figure}")
        self.setEnabled(wish is not None and wish.score is not None)
        self.update()

    def sizeHint(self) -> QSize:
        """As high as a line of text with a little room."""
        return QSize(200, max(_TARGET_PX, self.fontMetrics().height() + 13))

    def minimumSizeHint(self) -> QSize:
        """The same."""
        return self.sizeHint()

    @paints
    def paintEvent(self, painter: QPainter) -> None:
        """Paint bar, name and figure."""
        palette = self.palette()
        room = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.fillRect(room, palette.color(QPalette.ColorRole.Base))
        if self.wish is not None and self.wish.score is not None:
            bar = QRectF(room.left(), room.bottom() - 4, room.width() * self.wish.score, 4)
            painter.fillRect(bar, palette.color(QPalette.ColorRole.Highlight))
        if self.isChecked() or self.hasFocus() or self.underMouse():
            painter.setPen(palette.color(QPalette.ColorRole.Highlight))
            painter.drawRect(room)
            if self.isChecked():
                painter.fillRect(
                    QRectF(room.left(), room.top(), 4, room.height()), palette.color(QPalette.ColorRole.Highlight)
                )
        role = QPalette.ColorRole.Text if self.isEnabled() else QPalette.ColorRole.PlaceholderText
        painter.setPen(palette.color(role))
        text = room.adjusted(9, 0, -6, -3)
        painter.drawText(text, int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignLeft), WISH_NAMES[self.name])
        painter.drawText(text, int(Qt.AlignmentFlag.AlignVCenter | Qt.AlignmentFlag.AlignRight), self._figure)


class WishList(QWidget):
    """All wishes, or the weights behind them."""

    picture_wanted = Signal(object)
    weighed = Signal(str, float)

    def __init__(self) -> None:
        super().__init__()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(3)
        self.total = soft("")
        self.total.setToolTip(tr("The mean of all wishes that apply, by the weights of the style"))
        top = QHBoxLayout()
        layout.addLayout(top)
        top.addWidget(self.total, 1)
        self.weights_button = QPushButton(tr("Weights"))
        self.weights_button.setCheckable(True)
        self.weights_button.setToolTip(tr("How much each wish counts when items are arranged"))
        top.addWidget(self.weights_button)
        self._pages = QStackedWidget()
        layout.addWidget(self._pages)
        self._scores, self._weights = self._scores_page(), self._weights_page()
        self._pages.addWidget(self._scores)
        self._pages.addWidget(self._weights)
        self.weights_button.toggled.connect(self._turn_page)
        self._turn_page(False)

    def fold(self, folded: bool) -> None:
        """Show the total alone, unless somebody is at the weights or looks at a wish on the plan."""
        busy = self.weights_button.isChecked() or any(row.isChecked() for row in self.rows.values())
        self._pages.setVisible(not folded or busy)

    def _turn_page(self, weights: bool) -> None:
        """Show scores or weights; the page that is hidden takes no room."""
        for page, shown in ((self._scores, not weights), (self._weights, weights)):
            policy = QSizePolicy.Policy.Preferred if shown else QSizePolicy.Policy.Ignored
            page.setSizePolicy(QSizePolicy.Policy.Preferred, policy)
        self._pages.setCurrentIndex(int(weights))
        self._pages.show()

    def _scores_page(self) -> QWidget:
        page = QWidget()
        layout = QVBoxLayout(page)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(2)
        self._group = QButtonGroup(self)
        self._group.setExclusive(False)
        self.rows: dict[WishName, WishRow] = {}
        for name in WISHES:
            row = WishRow(name)
            row.toggled.connect(lambda on, row=row: self._turn(row, on))
            self.rows[name] = row
            layout.addWidget(row)
        layout.addStretch(1)
        return page

    def _weights_page(self) -> QWidget:
        page = QWidget()
        grid = QGridLayout(page)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setVerticalSpacing(0)
        self.sliders: dict[WishName, QSlider] = {}
        self._figures: dict[WishName, QLabel] = {}
        for number, name in enumerate(WISHES):
            label = soft(WISH_NAMES[name])
            label.setToolTip(WISH_WHY[name])
            slider = QSlider(Qt.Orientation.Horizontal)
            slider.setRange(0, 2 * HEAVIEST)
            slider.setAccessibleName(tr("Weight of: {wish_names}", wish_names=WISH_NAMES[name]))
            slider.valueChanged.connect(lambda value, name=name: self.weighed.emit(name, value / 2))
            figure = soft("")
            figure.setWordWrap(False)
            figure.setMinimumWidth(figure.fontMetrics().horizontalAdvance("0.5"))
            grid.addWidget(label, number, 0)
            grid.addWidget(slider, number, 1)
            grid.addWidget(figure, number, 2)
            self.sliders[name], self._figures[name] = slider, figure
        return page

    def _turn(self, row: WishRow, on: bool) -> None:
        if on:
            for other in self.rows.values():
                if other is not row:
                    other.setChecked(False)
        chosen = next((one.wish for one in self.rows.values() if one.isChecked()), None)
        self.picture_wanted.emit(chosen)

    def show_weights(self, weights: dict[WishName, float]) -> None:
        """Show how much each wish counts; those that count for nothing are no rows."""
        for name, row in self.rows.items():
            counts = weights.get(name, 0.0) > 0.0
            row.setVisible(counts)
            if row.isChecked() and not counts:
                row.setChecked(False)
        for name, slider in self.sliders.items():
            slider.blockSignals(True)
            slider.setValue(round(2 * weights.get(name, 0.0)))
            self._figures[name].setText(f"{weights.get(name, 0.0):g}")
            slider.blockSignals(False)

    def show_scores(self, scores: Scores | None, unit: Unit, style: str) -> None:
        """Show how far all wishes are met; None: not worked out."""
        self.total.setText(
            "" if scores is None else tr("{total:.0f} of 100 for ‘{style}’", total=scores.total, style=style)
        )
        known = {} if scores is None else {wish.name: wish for wish in scores.wishes}
        for name, row in self.rows.items():
            row.show_wish(known.get(name), unit)
            if row.isChecked():
                self.picture_wanted.emit(row.wish)
