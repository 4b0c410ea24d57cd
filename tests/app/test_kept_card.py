"""What is kept on this computer is told, and deleted only after asking."""

from __future__ import annotations

import os
from unittest.mock import patch

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from cozy_burrow.app.shell.kept_card import KeptCard
from cozy_burrow.core.model.records import Project
from tests.app.qt import QtCase


class Kept(QtCase):
    def setUp(self) -> None:
        super().setUp()
        own = patch.dict(os.environ, {"XDG_CACHE_HOME": str(self.folder / "cache")})
        own.start()
        self.addCleanup(own.stop)

    def card(self) -> KeptCard:
        window = self.window(Project(), stage="gather")
        window._command("help.kept")
        return next(one for one in window.findChildren(KeptCard) if one.isVisible())

    def test_each_kind_has_a_row_and_goes_after_a_question(self) -> None:
        (self.folder / "bench-log.csv").write_text("x" * 3_000)
        card = self.card()
        texts = [card.list.item(row).text() for row in range(card.list.count())]
        row = next(n for n, text in enumerate(texts) if text.startswith("My log"))
        self.assertIn("1 file, 3 kB", texts[row])
        card.list.setCurrentRow(row)
        self.assertIn(str(self.folder), card.told.text())
        self.answers = ["Keep it"]
        QTest.mouseClick(card.delete_button, Qt.MouseButton.LeftButton)
        self.assertTrue((self.folder / "bench-log.csv").exists())
        self.answers = ["Delete it"]
        QTest.mouseClick(card.delete_button, Qt.MouseButton.LeftButton)
        self.assertFalse((self.folder / "bench-log.csv").exists())
        self.assertIn("nothing", card.list.item(row).text())
        self.assertFalse(card.delete_button.isEnabled())

    def test_copies_of_unsaved_work_are_told_and_not_deleted(self) -> None:
        card = self.card()
        row = next(n for n, one in enumerate(card._held) if not one.kind.may_go)
        card.list.setCurrentRow(row)
        self.assertFalse(card.delete_button.isEnabled())
