"""Commands as data: what each is called, its key, when it can be done and what it does.

Buttons, shortcuts, the command list and the key page are made from the same table; two commands on one key in
one place are refused at the start, since Qt would fire neither.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QWidget

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr

if TYPE_CHECKING:
    from cozy_burrow.app.frame.front import Front

Scope = Literal["window", "plan"]


@dataclass(frozen=True)
class Command:
    """One thing that can be done. scope plan: its key holds while the plan has the focus."""

    id: str
    text: str
    chapter: str
    run: Callable[[Front], object]
    keys: str = ""
    scope: Scope = "window"
    when: Callable[[Front], bool] = lambda _: True


def check_keys(commands: tuple[Command, ...]) -> None:
    """Raise ValueError where two commands claim one key in one place, or bear one id."""
    seen: dict[tuple[str, Scope], str] = {}
    ids: set[str] = set()
    for command in commands:
        if command.id in ids:
            raise ValueError(f"two commands are called {command.id}")
        ids.add(command.id)
        if not command.keys:
            continue
        keys = QKeySequence(command.keys).toString()
        scopes: tuple[Scope, ...] = ("window", "plan") if command.scope == "window" else ("plan",)
        for scope in scopes:
            if (keys, scope) in seen:
                raise ValueError(f"{command.id} and {seen[keys, scope]} claim {keys}")
            seen[keys, scope] = command.id


def install(front: Front, window: QWidget, plan: QWidget, commands: tuple[Command, ...]) -> dict[str, QAction]:
    """Make a QAction of every command on the window, or on the plan; it acts on what is in front."""
    check_keys(commands)
    made: dict[str, QAction] = {}
    for command in commands:
        home = window if command.scope == "window" else plan
        action = QAction(command.text, home)
        if command.keys:
            action.setShortcut(QKeySequence(command.keys))
        if command.scope == "plan":
            action.setShortcutContext(Qt.ShortcutContext.WidgetWithChildrenShortcut)
        action.triggered.connect(lambda _=False, command=command: run(front, command))
        home.addAction(action)
        made[command.id] = action
    return made


def run(front: Front, command: Command) -> None:
    """Do a command if it can be done now; say so if it cannot."""
    if command.when(front):
        try:
            command.run(front)
        except UnusableInput as error:  # a refusal that the command has no words of its own for
            front.workspace.refused.emit(error.sentence())
    else:
        front.say(tr("{text}: nothing to do it with", text=command.text))


def key_text(command: Command) -> str:
    """Return a command's key as a person reads it."""
    return QKeySequence(command.keys).toString(QKeySequence.SequenceFormat.NativeText) if command.keys else ""
