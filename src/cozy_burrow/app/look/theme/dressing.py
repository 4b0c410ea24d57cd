"""Dressing the window piece by piece: what is not seen is dressed when it is shown.

A style sheet on the application makes Qt look at every widget there is several times over: a change of theme took more
than a second once all pages were made. Here each piece (a bar, a page of a stack) has the sheet to itself.
"""

from __future__ import annotations

from PySide6.QtCore import QEvent, QObject, QSize, Qt
from PySide6.QtWidgets import QDialog, QLayout, QStackedWidget, QWidget
from shiboken6 import isValid


class Dressing(QObject):
    """Knows the pieces of a window and the sheet that they should wear."""

    def __init__(self, sheet: str, parent: QWidget) -> None:
        super().__init__(parent)
        self._sheet = sheet
        self._pieces: list[QWidget] = []

    def add(self, piece: QWidget) -> None:
        """Dress a piece from now on. Pieces don't lie in one another."""
        self._pieces.append(piece)
        piece.installEventFilter(self)
        self._dress(piece)
        # At once and down to the last button: what room it wants is asked, and remembered, before it is shown.
        for child in piece.findChildren(QWidget):
            child.ensurePolished()
        for layout in piece.findChildren(QLayout):
            layout.invalidate()

    def show_card(self, card: QDialog) -> None:
        """Show a card of its own over the window, dressed; it goes once it is closed."""
        card.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.add(card)
        card.show()

    def change(self, sheet: str) -> None:
        """Dress what is seen in another sheet; the rest follows when it is shown."""
        self._sheet = sheet
        self._pieces = [piece for piece in self._pieces if isValid(piece)]
        for piece in self._pieces:
            if piece.isVisible():
                self._dress(piece)

    def _dress(self, piece: QWidget) -> None:
        if piece.styleSheet() != self._sheet:
            piece.setStyleSheet(self._sheet)

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """A piece is about to be shown."""
        if isinstance(watched, QWidget) and event.type() in {QEvent.Type.Polish, QEvent.Type.Show}:
            self._dress(watched)
        return False


class Pages(QStackedWidget):
    """A stack whose pages are pieces, each dressed when it is first shown; `undressed` ones dress their own parts."""

    def __init__(self, dressing: Dressing) -> None:
        super().__init__()
        self._dressing = dressing
        self.currentChanged.connect(self.updateGeometry)

    def minimumSizeHint(self) -> QSize:
        """What the page that is shown needs: one that nobody looks at must not hold the others wide."""
        page = self.currentWidget()
        return super().minimumSizeHint() if page is None else page.minimumSizeHint()

    def addWidget(self, page: QWidget) -> int:
        """Add a page. One that has parts of its own says so by `dressed_parts`."""
        parts = getattr(page, "dressed_parts", None)
        for piece in (page,) if parts is None else parts():
            self._dressing.add(piece)
        return super().addWidget(page)
