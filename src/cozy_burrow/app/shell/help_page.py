"""The help page: how the work goes here, and every key, from the same table that makes them work."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

from cozy_burrow.app.frame.command import Command, key_text
from cozy_burrow.assets.read import asset


def help_text(commands: tuple[Command, ...]) -> str:
    """Return the page as Markdown."""
    text = asset("help.md").read_text(encoding="utf-8")
    chapters: dict[str, list[str]] = {}
    for command in commands:
        if command.keys:
            where = " (on the plan)" if command.scope == "plan" else ""
            chapters.setdefault(command.chapter, []).append(f"| {key_text(command)} | {command.text}{where} |")
    keys = "\n\n".join(
        f"### {name}\n\n| Key | Does |\n|---|---|\n" + "\n".join(rows) for name, rows in chapters.items()
    )
    return f"{text}\n\n## Keys\n\n{keys}\n"


class HelpPage(QDialog):
    """Shows the page."""

    def __init__(self, commands: tuple[Command, ...], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("How this works")
        self.resize(760, 640)
        layout = QVBoxLayout(self)
        browser = QTextBrowser()
        browser.setAccessibleName("Help page")
        browser.setMarkdown(help_text(commands))
        layout.addWidget(browser)
