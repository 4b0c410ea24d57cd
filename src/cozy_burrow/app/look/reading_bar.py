"""How far a file is read, with a button that stops it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QHBoxLayout, QProgressBar, QPushButton, QWidget

from cozy_burrow.core.tongue import tr


class ReadingBar(QWidget):
    """Hidden until something is read."""

    def __init__(self, stop: Callable[[], object], what: str = "") -> None:
        """what: is read, for who hears it."""
        super().__init__()
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        self._bar = QProgressBar()
        self._bar.setRange(0, 100)
        self._bar.setAccessibleName(what or tr("Progress of reading the picture"))
        button = QPushButton(tr("Stop"))
        button.clicked.connect(stop)
        layout.addWidget(self._bar, 1)
        layout.addWidget(button)
        self.hide()

    def show_share(self, share: float) -> None:
        """Show how far it is, 0 to 1; at 1 there is nothing to be seen any more."""
        self._bar.setValue(round(share * 100))
        self.setVisible(share < 1.0)
