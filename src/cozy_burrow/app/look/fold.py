"""A part of a panel under a heading that opens and closes it: what is rarely used waits folded."""

from __future__ import annotations

from PySide6.QtWidgets import QPushButton, QVBoxLayout, QWidget


class Fold(QWidget):
    """`column` takes what is in it. It opens by itself once there is something in it that was not there before."""

    def __init__(self, title: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._title, self._was_used = title, False
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

    def _show(self, is_open: bool) -> None:
        self.button.setText(f"{'▾' if is_open else '▸'}  {self._title}")
        self._body.setVisible(is_open)

    def follow(self, is_used: bool) -> None:
        """Open where it is used now and was not before."""
        if is_used and not self._was_used:
            self.button.setChecked(True)
        self._was_used = is_used
