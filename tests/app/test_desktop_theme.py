"""Light or dark as the desktop is, until somebody chooses; a picture asks no desktop."""

from __future__ import annotations

import os
from unittest.mock import patch

from cozy_burrow.app import opening
from cozy_burrow.app.desk.settings import LAST_THEME, THEME
from cozy_burrow.app.opening import open_window
from cozy_burrow.app.shell import commands
from cozy_burrow.app.start import Start
from tests.app.qt import QtCase


class DesktopTheme(QtCase):
    def setUp(self) -> None:
        super().setUp()
        own = patch.dict(os.environ, {f"XDG_{name}_HOME": str(self.folder) for name in ("CONFIG", "STATE", "CACHE")})
        own.start()
        self.addCleanup(own.stop)
        self.desktop = "lamp"
        for module in (opening, commands):
            asked = patch.object(module, "desktop_theme", lambda: self.desktop)
            asked.start()
            self.addCleanup(asked.stop)

    def test_the_window_follows_the_desktop_until_somebody_chooses(self) -> None:
        wanted = Start(stage="gather")
        window = open_window(wanted)[1]
        self.assertEqual((window.theme_name, window.settings.text(THEME)), ("lamp", ""))
        self.desktop = "light"
        opening._follow_desktop(wanted, window)
        self.assertEqual((window.theme_name, window.settings.text(THEME)), ("light", ""))
        self.assertEqual(window.settings.text(LAST_THEME), "light")
        window.flip_theme()
        opening._follow_desktop(wanted, window)
        self.assertEqual((window.theme_name, window.settings.text(THEME)), ("lamp", "lamp"))
        window._command("view.desktop_theme")
        self.assertEqual((window.theme_name, window.settings.text(THEME)), ("light", ""))

    def test_what_was_asked_for_at_the_start_holds(self) -> None:
        wanted = Start(stage="gather", theme="contrast")
        window = open_window(wanted)[1]
        opening._follow_desktop(wanted, window)
        self.assertEqual(window.theme_name, "contrast")

    def test_a_picture_is_the_same_on_every_desktop(self) -> None:
        window = open_window(Start(stage="gather", shot=self.folder / "a.png"), folder=self.folder)[1]
        self.assertEqual(window.theme_name, "light")
