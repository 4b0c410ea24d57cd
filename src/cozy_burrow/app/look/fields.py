"""Entry fields: lengths in any way that people write them, Enter goes on to the next, as a calliper types."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QObject, QRect, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import (
    QFormLayout,
    QGridLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.look.long_words import Words
from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit, format_length, parse_length

_LEAST_PX = 56  # of a field for a length
MOST_ROOM = 1000  # stretch of a list over a spring of 1: the spring has only what a list leaves that is hidden or short


class NextOnEnter(QLineEdit):
    """A line that hands the focus on at Enter."""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter finishes this field and goes to the next."""
        super().keyPressEvent(event)
        if event.key() in {Qt.Key.Key_Return, Qt.Key.Key_Enter}:
            if self.hasFocus():  # whoever heard the Enter may have sent the focus elsewhere
                self.focusNextChild()
            event.accept()


def show_whole(field: QLineEdit, text: str) -> None:
    """Show a figure and see to it that none of it is cut off: without its minus it would be another."""
    field.setText(text)
    field.setCursorPosition(0)
    field.setMinimumWidth(max(_LEAST_PX, room_of(field)))


def room_of(field: QLineEdit) -> int:
    """Return how wide a field must be for what it says, in pixels."""
    metrics = field.fontMetrics()
    round_it = field.sizeHint().width() - 17 * metrics.horizontalAdvance("x")  # Qt's hint has room for so many
    return round_it + metrics.horizontalAdvance(field.text()) + 1  # a cursor at its end


class LengthField(NextOnEnter):
    """A length. `entered` comes with millimetres once the figure is whole and holds; what does not is marked.

    optional: an empty field says that there is none, and `entered` comes with None.
    """

    entered = Signal(object)
    refused = Signal(str)

    def __init__(
        self, name: str, *, least_mm: float = -10_000.0, most_mm: float = 10_000.0, optional: bool = False
    ) -> None:
        super().__init__()
        self._unit: Unit = "mm"
        self._shown: float | None = None
        self._least_mm, self._most_mm, self._optional = least_mm, most_mm, optional
        self.trouble = ""
        self.setAccessibleName(name)
        self.setMinimumWidth(_LEAST_PX)
        self.editingFinished.connect(self._finish)
        self.textEdited.connect(lambda _: self._mark(""))

    def show_length(self, length_mm: float | None, unit: Unit) -> None:
        """Show a length, unless somebody is writing here."""
        self._unit, self._shown = unit, length_mm
        if not (self.hasFocus() and self.isModified()):
            text = "" if length_mm is None else format_length(length_mm, unit, digits=2)
            if text != self.text():
                show_whole(self, text)
            self._mark("")

    def set_unit(self, unit: Unit) -> None:
        """Say what a bare number means here."""
        self._unit = unit

    def value(self) -> float | None:
        """Return the length in mm, None where an optional field is empty. Raises UnusableInput."""
        text = self.text().replace("−", "-").strip()
        if not text and self._optional:
            return None
        length = parse_length(text, unit=self._unit, where=self.accessibleName())
        if length < self._least_mm:
            raise UnusableInput(
                tr("'{text}' is too small", text=text),
                where=self.accessibleName(),
                remedy=tr("give at least {least}", least=format_length(self._least_mm, self._unit)),
            )
        if length > self._most_mm:
            raise UnusableInput(
                tr("'{text}' is too large", text=text),
                where=self.accessibleName(),
                remedy=tr("give at most {most}", most=format_length(self._most_mm, self._unit)),
            )
        return length

    @property
    def is_wanting(self) -> bool:
        """Whether what stands here is no length that is taken."""
        try:
            self.value()
        except UnusableInput:
            return True
        return False

    def _finish(self) -> None:
        if not self.isModified():
            return
        self.setModified(False)
        try:
            length = self.value()
        except UnusableInput as error:
            self._mark(error.sentence())
            return
        self._mark("")
        self.entered.emit(length)

    def _mark(self, trouble: str) -> None:
        if trouble == self.trouble:
            return
        self.trouble = trouble
        self.setToolTip(trouble)
        self.refused.emit(trouble)
        self.setProperty("refused", "true" if trouble else "false")
        self.style().unpolish(self)
        self.style().polish(self)


class NumberField(NextOnEnter):
    """A plain number: degrees, kilograms, a price. `entered` comes once it is whole and in range; None where empty."""

    entered = Signal(object)
    refused = Signal(str)

    def __init__(self, name: str, *, least: float, most: float, unit: str = "", optional: bool = False) -> None:
        super().__init__()
        self._least, self._most, self._unit, self._optional = least, most, unit, optional
        self.trouble = ""
        self.setAccessibleName(name)
        self.setMinimumWidth(48)
        self.editingFinished.connect(self._finish)

    def show_number(self, value: float | None) -> None:
        """Show a number, unless somebody is writing here."""
        if not (self.hasFocus() and self.isModified()):
            text = "" if value is None else f"{value:g}{self._unit}"
            if text != self.text():
                show_whole(self, text)
            if self.trouble:
                self._mark("")

    def _mark(self, trouble: str) -> None:
        self.trouble = trouble
        self.refused.emit(trouble)

    def _finish(self) -> None:
        if not self.isModified():
            return
        self.setModified(False)
        text = self.text().replace("−", "-").replace(",", ".").removesuffix(self._unit).strip()
        try:
            if not text and self._optional:
                self._mark("")
                self.entered.emit(None)
                return
            value = float(text)
            if not self._least <= value <= self._most:
                raise ValueError
        except ValueError:
            self._mark(
                tr(
                    "{accessiblename}: {text} is not a number here; give {least:g} to {most:g}{unit}",
                    accessiblename=self.accessibleName(),
                    text=quoted(text),
                    least=self._least,
                    most=self._most,
                    unit=self._unit,
                )
            )
            return
        self._mark("")
        self.entered.emit(value)


class Form(QFormLayout):
    """Rows of label and field with a sentence for what was refused; a label stands on the middle line of its field."""

    def __init__(self) -> None:
        super().__init__()
        self.setLabelAlignment(Qt.AlignmentFlag.AlignLeft)
        self.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        self.setVerticalSpacing(6)

    def setGeometry(self, room: QRect) -> None:
        """Lay the rows out, and give each label the height of its field."""
        super().setGeometry(room)
        for row in range(self.rowCount()):
            label, field = (self.itemAt(row, role) for role in (self.ItemRole.LabelRole, self.ItemRole.FieldRole))
            one, other = (item.widget() if item is not None else None for item in (label, field))
            if isinstance(one, QLabel) and other is not None:
                one.setAlignment(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
                place, beside = one.geometry(), other.geometry()
                one.setGeometry(place.x(), beside.y(), place.width(), beside.height())

    def add_length(
        self, label: str, entered: Callable[[float], object], *, least_mm: float, tip: str = ""
    ) -> LengthField:
        """Add a row for a length."""
        field = LengthField(label, least_mm=least_mm)
        field.setStatusTip(tip)
        field.entered.connect(entered)
        self.addRow(label, field)
        return field


def clear_grid(grid: QGridLayout) -> None:
    """Take every widget out of a grid."""
    while grid.count():
        item = grid.takeAt(0)
        widget = item.widget() if item is not None else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()


def head(text: str) -> QLabel:
    """Return a heading."""
    label = Words(text)
    label.setObjectName("head")
    return label


def soft(text: str) -> QLabel:
    """Return a quiet line of text."""
    label = Words(text)
    label.setObjectName("soft")
    return label


def verdict(*, tip: str = "") -> QLabel:
    """Return a plate for what the program says of the selection."""
    label = Words()
    label.setObjectName("verdict")
    label.setToolTip(tip)
    return label


def rows(name: str, *, least_px: int) -> QListWidget:
    """Return a list whose rows end in dots where they are too long, and are not pushed aside. name: for readers."""
    found = QListWidget()
    found.setAccessibleName(name)
    found.setMinimumHeight(least_px)
    found.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    found.setTextElideMode(Qt.TextElideMode.ElideRight)
    return found


def shortened(text: str, most: int, scale: float) -> str:
    """Return a text cut to so many letters, fewer at large type."""
    most = max(6, round(most / scale**1.6))
    return text if len(text) <= most else text[: most - 1].rstrip() + "…"


def panel(widget: QWidget) -> QWidget:
    """Dress a widget as a raised panel."""
    widget.setObjectName("panel")
    widget.setAttribute(Qt.WidgetAttribute.WA_StyledBackground, True)
    return widget


class Column(QScrollArea):
    """A column that scrolls down where it must, and is always as wide as what is in it."""

    def __init__(self) -> None:
        super().__init__()
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)  # what is in it has the focus, and comes into sight with it

    def minimumSizeHint(self) -> QSize:
        """As wide as the column with its scroll bar."""
        held = self.widget()
        inner = held.minimumSizeHint().width() if held is not None else 0
        return QSize(inner + self.verticalScrollBar().sizeHint().width() + 4, 120)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """What is in it wants other room than before, so it does."""
        if event.type() == QEvent.Type.LayoutRequest and watched is self.widget():
            self.updateGeometry()
        return super().eventFilter(watched, event)


def grow(card: QWidget) -> None:
    """Make a card as high as what is written in it needs; it does not get lower again under somebody's hand."""
    layout = card.layout()
    if layout is not None:
        layout.activate()
        needed = layout.totalHeightForWidth(card.width())
        if needed > card.height():
            card.resize(card.width(), needed)


def scrolled(widget: QWidget) -> tuple[QVBoxLayout, QVBoxLayout]:
    """Dress a widget as a raised panel that scrolls; return the layout inside, and one for what stays at its foot."""
    outer = QVBoxLayout(panel(widget))
    outer.setContentsMargins(2, 4, 2, 2)  # the panel's own line and round corners stay seen
    scroll = Column()
    inside = QWidget()
    inside.setObjectName("inside")
    scroll.setWidget(inside)
    outer.addWidget(scroll, 1)
    foot = QVBoxLayout()
    foot.setContentsMargins(6, 4, 6, 6)
    outer.addLayout(foot)
    layout = QVBoxLayout(inside)
    layout.setContentsMargins(6, 4, 6, 0)
    return layout, foot
