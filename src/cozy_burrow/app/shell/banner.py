"""Strips above the scene: work that a killed program left behind, and what else must be known and stays true."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton

from cozy_burrow.app.desk import ask
from cozy_burrow.app.look.long_words import Words
from cozy_burrow.core.tongue import tr
from cozy_burrow.storage.recovery import RecoveryStore


def _time_of(copy: Path) -> str:
    try:
        return f"{datetime.fromtimestamp(copy.stat().st_mtime):%d.%m. %H:%M}"
    except OSError:
        return tr("an unknown time")


class RecoveryBanner(QFrame):
    """Hidden while there is nothing to restore."""

    def __init__(self, bring_back: Callable[[Path], object]) -> None:
        super().__init__()
        self.setObjectName("banner")
        self._store: RecoveryStore | None = None
        self._bring_back = bring_back
        self._copies: list[Path] = []
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 4, 12, 4)
        self._text = Words()
        row.addWidget(self._text, 1)
        self.bring = QPushButton(tr("Restore"))
        self.bring.setToolTip(tr("Shows the copy in place of what is open now; undo brings that back"))
        self.bring.clicked.connect(self._take)
        self.drop = QPushButton(tr("Discard…"))
        self.drop.setToolTip(tr("Deletes the copy"))
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
        more = tr(" {count} older ones come after it.", count=len(self._copies) - 1) if len(self._copies) > 1 else ""
        self._text.setText(
            tr(
                "The program ended without saving. There is a copy from {time_of}.{more}",
                time_of=_time_of(self._copies[0]),
                more=more,
            )
        )
        self.show()

    def _take(self) -> None:
        self._bring_back(self._copies[0])
        if self._store is not None:
            self.look_for_copies(self._store)

    def _discard(self) -> None:
        if self._store is None:
            return
        answer = ask.which(
            self,
            tr("Discard the copy"),
            tr(
                "The copy from {time_of} is deleted for good. Nothing else holds what is in it.",
                time_of=_time_of(self._copies[0]),
            ),
            (tr("Discard"), tr("Keep it")),
        )
        if answer == 0:
            self._store.discard(self._copies[0])
            self.look_for_copies(self._store)


class NoticeStrip(QFrame):
    """Says what stays true until somebody changes it; each notice has a name, so that it can be taken back."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("banner")
        self._notices: dict[str, tuple[str, str]] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(12, 4, 12, 4)
        self._text = Words()
        self._text.setAccessibleName(tr("Notices"))
        row.addWidget(self._text, 1)
        self.seen = QPushButton(tr("Understood"))
        self.seen.clicked.connect(self._clear)
        row.addWidget(self.seen)
        self.hide()

    @property
    def text(self) -> str:
        """What is said now."""
        return self._text.text()

    @property
    def detail(self) -> str:
        """What is said on hover."""
        return self._text.toolTip()

    def tell(self, name: str, sentence: str, detail: str = "") -> None:
        """Say a notice, and more of it on hover; an empty sentence takes it back."""
        if sentence:
            self._notices[name] = (sentence, detail)
        else:
            self._notices.pop(name, None)
        self._show()

    def _clear(self) -> None:
        self._notices.clear()
        self._show()

    def _show(self) -> None:
        self._text.setText("\n".join(sentence for sentence, _ in self._notices.values()))
        detail = "\n".join(detail for _, detail in self._notices.values() if detail)
        self._text.setToolTip(detail)
        self._text.setAccessibleDescription(detail)
        self.setVisible(bool(self._notices))
