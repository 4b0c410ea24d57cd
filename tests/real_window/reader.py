"""What a screen reader finds, asked over its own bus: the tree of the window, its names, roles and states, a press.

Run within `dbus-run-session` and Xvfb: the bus of the accessible things is started by whoever asks for it first.
"""

from __future__ import annotations

import os
import re
import subprocess
from collections.abc import Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path
from typing import Any, NamedTuple

from PySide6.QtCore import Qt
from PySide6.QtGui import QAccessible
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractButton

from tests.app.qt import application, settle, wait_until
from tests.makers import van_drawer
from tests.real_window.at_hand import at_hand, bring_to_front, go_through, put_away

os.environ["QT_LINUX_ACCESSIBILITY_ALWAYS_ON"] = "1"
ACCESSIBLE = "org.a11y.atspi.Accessible"
MOST = 3_000  # things that one looks at
CHECKED = 1 << 4


class Thing(NamedTuple):
    """One thing of the tree: where it is asked, its name and what it is."""

    bus: str
    path: str
    name: str
    role: str


class Reader:
    """Asks as a screen reader does."""

    def __init__(self) -> None:
        said = _send("--session", "org.a11y.Bus", "/org/a11y/bus", "org.a11y.Bus.GetAddress")
        self._bus = "--bus=" + re.findall(r'string "([^"]*)"', said)[0]

    def ask(self, bus: str, path: str, method: str, *words: str) -> str:
        """Return the answer of one thing, as text."""
        return _send(self._bus, bus, path, method, *words)

    def children(self, bus: str, path: str) -> list[tuple[str, str]]:
        """Return where the children of a thing are."""
        said = self.ask(bus, path, f"{ACCESSIBLE}.GetChildren")
        return re.findall(r'string "([^"]*)"\s*object path "([^"]*)"', said)

    def look(self, bus: str, path: str) -> Thing:
        """Return one thing."""
        name = self.ask(bus, path, "org.freedesktop.DBus.Properties.Get", f"string:{ACCESSIBLE}", "string:Name")
        role = self.ask(bus, path, f"{ACCESSIBLE}.GetRoleName")
        return Thing(bus, path, *(("".join(re.findall(r'string "((?:[^"]|\n)*)"', said))) for said in (name, role)))

    def walk(self) -> Iterator[Thing]:
        """Yield everything that is below the root, programs first."""
        waiting = self.children("org.a11y.atspi.Registry", "/org/a11y/atspi/accessible/root")
        seen: set[tuple[str, str]] = set()
        while waiting and len(seen) < MOST:
            at = waiting.pop(0)
            if at in seen or at[1].endswith("/null"):
                continue
            seen.add(at)
            yield self.look(*at)
            waiting += self.children(*at)

    def states(self, thing: Thing) -> int:
        """Return the first word of its states, a bit each."""
        said = self.ask(thing.bus, thing.path, f"{ACCESSIBLE}.GetState")
        return int(re.findall(r"uint32 (\d+)", said)[0])


def _send(which: str, bus: str, path: str, method: str, *words: str) -> str:
    patient = "--reply-timeout=3600000"  # ms; its own 25 s are not enough for a window that gets no processor
    command = ["dbus-send", which, "--print-reply", patient, f"--dest={bus}", path, method, *words]
    return subprocess.run(command, capture_output=True, text=True, check=True).stdout


def beside(work: Any, pool: ThreadPoolExecutor) -> Any:
    """Do work in a thread while the window answers."""
    future: Future[Any] = pool.submit(work)
    assert wait_until(future.done)
    return future.result()


def read_aloud(folder: Path) -> None:
    """Walk the tree, find stages, items, section, checks; press an item; hear its state."""
    reader = Reader()  # whoever asks first starts the bus; the window joins one that is there
    window = at_hand(van_drawer(), folder)
    bring_to_front(window)
    QTest.keyClick(window, Qt.Key.Key_4, Qt.KeyboardModifier.AltModifier)
    settle(window)
    assert wait_until(QAccessible.isActive)
    parts = len(window.workspace.ground.pockets)
    viewport = window.plan.viewport()
    assert wait_until(lambda: len(viewport.findChildren(QAbstractButton)) >= parts)
    with ThreadPoolExecutor(1) as pool:
        things: list[Thing] = beside(lambda: list(reader.walk()), pool)
        names = {one.name for one in things}
        for wanted in ("Plan of the insert", "Section under the line across the plan"):
            assert wanted in names, sorted(names)
        items = {one.name for one in window.workspace.project.items}
        unheard = {name for name in items if not any(thing.name.startswith(name) for thing in things)}
        assert not unheard, unheard
        to_press = {"push button", "check box", "combo box", "text"}
        unnamed = [one for one in things if not one.name and one.role in to_press]
        assert not unnamed, unnamed
        first = next(one for one in things if one.role == "check box" and one.name in items)
        beside(lambda: reader.ask(first.bus, first.path, "org.a11y.atspi.Action.DoAction", "int32:0"), pool)
        assert wait_until(lambda: len(window.workspace.selection) == 1)
        button = next(one for one in viewport.findChildren(QAbstractButton) if one.accessibleName() == first.name)
        assert wait_until(button.isChecked)
        assert beside(lambda: reader.states(first), pool) & CHECKED
    application().processEvents()
    put_away(window)


if __name__ == "__main__":
    go_through(read_aloud)
