"""The command list: everything that can be done, found by typing a few letters."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QFrame, QLineEdit, QListWidget, QListWidgetItem, QVBoxLayout, QWidget

from cozy_burrow.app.frame.command import Command, key_text, run
from cozy_burrow.core.tongue import tr

if TYPE_CHECKING:
    from cozy_burrow.app.frame.front import Front


class CommandList(QFrame):
    """A card over the window: a line to type in, the commands that match below it."""

    def __init__(self, front: Front, window: QWidget, commands: tuple[Command, ...]) -> None:
        super().__init__(window)
        self._front, self._window, self._commands = front, window, commands
        self.setObjectName("panel")
        layout = QVBoxLayout(self)
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("What do you want to do?"))
        self.line.setAccessibleName(tr("Find a command"))
        self.line.textEdited.connect(lambda _: self._fill())
        self.line.installEventFilter(self)
        layout.addWidget(self.line)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Commands"))
        self.list.itemActivated.connect(lambda _: self._run())
        self.list.itemClicked.connect(lambda _: self._run())
        layout.addWidget(self.list)
        self.hide()

    def open(self) -> None:
        """Show the list, empty line first."""
        width = min(620, self._window.width() - 80)
        self.setGeometry((self._window.width() - width) // 2, 64, width, min(460, self._window.height() - 140))
        self.line.clear()
        self._fill()
        self.show()
        self.raise_()
        self.line.setFocus()

    def matches(self) -> list[Command]:
        """Return the commands in which every typed word occurs."""
        words = self.line.text().lower().split()
        return [
            command
            for command in self._commands
            if all(word in f"{command.chapter} {command.text} {key_text(command)}".lower() for word in words)
        ]

    def _fill(self) -> None:
        self.list.clear()
        for command in self.matches():
            keys = key_text(command)
            entry = QListWidgetItem(f"{command.chapter}:  {command.text}" + (f"    [{keys}]" if keys else ""))
            entry.setData(Qt.ItemDataRole.UserRole, command)
            if not command.when(self._front):
                entry.setForeground(self.palette().placeholderText())
            self.list.addItem(entry)
        self.list.setCurrentRow(0)

    def _run(self) -> None:
        entry = self.list.currentItem()
        self.hide()
        self._front.plan.setFocus()
        if entry is not None:
            run(self._front, entry.data(Qt.ItemDataRole.UserRole))

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """Arrows go through the list while the line is typed in; Enter does it, Escape leaves."""
        if watched is self.line and isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
            match event.key():
                case Qt.Key.Key_Down | Qt.Key.Key_Up:
                    step = 1 if event.key() == Qt.Key.Key_Down else -1
                    self.list.setCurrentRow(min(max(0, self.list.currentRow() + step), self.list.count() - 1))
                    return True
                case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                    self._run()
                    return True
                case Qt.Key.Key_Escape:
                    self.hide()
                    self._front.plan.setFocus()
                    return True
        return super().eventFilter(watched, event)
