"""What may be dropped on the window: items on the plan, project files anywhere."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QPointF
from PySide6.QtGui import QDragEnterEvent, QDragMoveEvent, QDropEvent
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.frame.house import House
from cozy_burrow.app.screens.lay_out.tray import MIME
from cozy_burrow.core.model.records import Point


class Drops:
    """Takes what is dropped on a window."""

    def __init__(self, house: House, window: QWidget) -> None:
        self._house, self._window = house, window

    def enter(self, event: QDragEnterEvent) -> None:
        """Items from the tray and project files may be dropped here."""
        if event.mimeData().hasFormat(MIME) or event.mimeData().hasUrls():
            event.acceptProposedAction()

    def move(self, event: QDragMoveEvent) -> None:
        """An item may be dropped on the plan only."""
        if event.mimeData().hasFormat(MIME) and self._on_plan(event.position()) is None:
            event.ignore()
        else:
            event.acceptProposedAction()

    def drop(self, event: QDropEvent) -> None:
        """Lay the item in where it was dropped, or open the file."""
        data, house = event.mimeData(), self._house
        if data.hasFormat(MIME):
            at = self._on_plan(event.position())
            if at is not None:
                house.laying_in.drop(bytes(data.data(MIME).data()).decode(), at)
                house.plan.setFocus()
        elif data.hasUrls() and house.desk.may_leave():
            house.desk.open_path(Path(data.urls()[0].toLocalFile()))

    def _on_plan(self, at: QPointF) -> Point | None:
        plan = self._house.plan
        if not plan.isVisible():
            return None
        local = plan.viewport().mapFrom(self._window, at.toPoint())
        return plan.plan_point(local) if plan.viewport().rect().contains(local) else None
