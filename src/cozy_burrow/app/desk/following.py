"""Panels follow the document only while they are seen: a drag must not pay for what another stage shows."""

from __future__ import annotations

from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.workspace import Workspace


class FollowingPanel(QWidget):
    """A panel whose `follow` is called for every change while it is seen, and once when it is shown."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace = workspace
        workspace.document_changed.connect(self._follow_if_seen)
        workspace.selection_changed.connect(self._follow_if_seen)

    def follow(self) -> None:
        """Show the document as it is now."""
        raise NotImplementedError

    def _follow_if_seen(self) -> None:
        if self.isVisible():
            self.follow()

    def showEvent(self, event: QShowEvent) -> None:
        """Catch up with what changed while the panel was hidden."""
        self.follow()
        super().showEvent(event)
