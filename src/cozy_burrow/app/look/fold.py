"""A part of a panel under a heading that opens and closes it: what is rarely used waits folded."""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget


class Fold(QWidget):
    """`column` takes what is in it. It opens by itself once something comes into it that was not there before."""

    def __init__(self, title: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._title, self._told = title, ""
        self._last: tuple[str, bool] | None = None
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self.button = QPushButton()
        self.button.setObjectName("fold")
        self.button.setCheckable(True)
        self.button.setAccessibleName(title)
        self.button.toggled.connect(self._show)
        outer.addWidget(self.button)
        self._body = QWidget()
        self.column = QVBoxLayout(self._body)
        self.column.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(self._body)
        self._show(False)

    def tell(self, short: str) -> None:
        """Say in a few letters what is in it, while it is closed."""
        self._told = short
        self.button.setAccessibleDescription(short)
        self._show(self.button.isChecked())

    def _show(self, is_open: bool) -> None:
        told = f": {self._told}" if self._told and not is_open else ""
        self.button.setText(f"{'▾' if is_open else '▸'}  {self._title}{told}")
        self._body.setVisible(is_open)

    def follow(self, is_used: bool, *, of: str = "") -> None:
        """Open where it is used now and was not before. of: what it tells of; another one waits folded, used or not."""
        if is_used and self._last == (of, False):
            self.button.setChecked(True)
        self._last = of, is_used
