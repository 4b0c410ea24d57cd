"""Telling a screen reader, where there is one, what changed in a scene that is painted by hand."""

from __future__ import annotations

from PySide6.QtGui import QAccessible, QAccessibleAnnouncementEvent
from PySide6.QtWidgets import QWidget


def announce(widget: QWidget, text: str, *, at_once: bool = False) -> None:
    """Say a text; at once: in place of what is being said, for what stands in the way of somebody."""
    if not text or not QAccessible.isActive():
        return
    event = QAccessibleAnnouncementEvent(widget, text)
    politeness = QAccessible.AnnouncementPoliteness
    event.setPoliteness(politeness.Assertive if at_once else politeness.Polite)
    QAccessible.updateAccessibility(event)
