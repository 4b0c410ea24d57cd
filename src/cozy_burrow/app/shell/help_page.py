"""The help page: how the work goes here, and every key, from the same table that makes them work."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

from cozy_burrow.app.frame.command import Command, key_text
from cozy_burrow.assets.read import asset
from cozy_burrow.core.tongue import language, tr


def help_file(code: str) -> Path:
    """Return the page in a language, in English where there is none in it."""
    own = asset(f"help.{code}.md")
    return own if own.exists() else asset("help.md")


def help_text(commands: tuple[Command, ...]) -> str:
    """Return the page as Markdown."""
    text = help_file(language()).read_text(encoding="utf-8")
    chapters: dict[str, list[str]] = {}
    for command in commands:
        if command.keys:
            where = tr(" (on the plan)") if command.scope == "plan" else ""
            chapters.setdefault(command.chapter, []).append(f"| {key_text(command)} | {command.text}{where} |")
    keys = "\n\n".join(
        tr("### {name}\n\n| Key | Does |\n|---|---|\n", name=name) + "\n".join(rows) for name, rows in chapters.items()
    )
    return tr("{text}\n\n## Keys\n\n{keys}\n", text=text, keys=keys)


class HelpPage(QDialog):
    """Shows the page."""

    def __init__(self, commands: tuple[Command, ...], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("How this works"))
        self.resize(760, 640)
        layout = QVBoxLayout(self)
        browser = QTextBrowser()
        browser.setAccessibleName(tr("Help page"))
        browser.setMarkdown(help_text(commands))
        layout.addWidget(browser)
