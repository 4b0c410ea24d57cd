"""A real window under Xvfb as a screen reader meets it, over a bus of its own."""

from __future__ import annotations

import shutil
import unittest
from pathlib import Path

from tests.real_window.at_hand import RealWindow

HAS_BUS = Path("/usr/share/dbus-1/services/org.a11y.Bus.service").exists() and shutil.which("dbus-run-session")


@unittest.skipUnless(HAS_BUS and shutil.which("dbus-send"), "at-spi2-core and dbus are not installed")
class Read(RealWindow):
    def test_everything_has_a_name_and_items_can_be_pressed(self) -> None:
        self.done("reader", within=("dbus-run-session", "--"))
