"""The strip that offers work which a killed program left behind."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from PySide6.QtWidgets import QFrame, QHBoxLayout, QLabel, QPushButton

from cozy_burrow.storage.recovery import RecoveryStore


class RecoveryBanner(QFrame):
    """Hidden while there is nothing to bring back."""

    def __init__(self, bring_back: Callable[[Path], None]) -> None:
        super().__init__()
        self.setObjectName("banner")
        self._store: RecoveryStore | None = None
        self._bring_back = bring_back
        self._copies: list[Path] = []
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 4, 12, 4)
        self._text = QLabel()
        self._text.setWordWrap(True)
        row.addWidget(self._text, 1)
        self.bring = QPushButton("Bring it back")
        self.bring.clicked.connect(self._take)
        self.drop = QPushButton("Drop it")
        self.drop.clicked.connect(self._discard)
        row.addWidget(self.bring)
        row.addWidget(self.drop)
        self.hide()

    def look_for_copies(self, store: RecoveryStore) -> None:
        """Offer the newest copy that was left behind."""
        self._store = store
        self._copies = store.left_behind()
        if not self._copies:
            self.hide()
            return
        when = datetime.fromtimestamp(self._copies[0].stat().st_mtime)
        more = f" ({len(self._copies) - 1} older ones after it)" if len(self._copies) > 1 else ""
        self._text.setText(f"The program ended without saving. There is a copy from {when:%d.%m. %H:%M}{more}.")
        self.show()

    def _take(self) -> None:
        self._bring_back(self._copies[0])
        if self._store is not None:
            self.look_for_copies(self._store)

    def _discard(self) -> None:
        if self._store is not None:
            self._store.discard(self._copies[0])
            self.look_for_copies(self._store)
