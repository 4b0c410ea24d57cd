"""Light or dark as the desktop has it, where nobody chose here."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QGuiApplication

from cozy_burrow.app.look.theme.theme import ThemeName


def desktop_theme() -> ThemeName:
    """Return the theme of the desktop; light where it does not say."""
    is_dark = QGuiApplication.styleHints().colorScheme() == Qt.ColorScheme.Dark
    return "lamp" if is_dark else "light"
