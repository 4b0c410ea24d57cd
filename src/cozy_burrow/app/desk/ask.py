"""Questions that must be answered before anything is lost: which way to go, and where a file is to go."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QMessageBox, QWidget

from cozy_burrow.app.look.theme.dressing import Dressing
from cozy_burrow.core.tongue import tr


def which(parent: QWidget, title: str, text: str, choices: tuple[str, ...]) -> int:
    """Ask, and return the number of the answer; the last choice is the one that changes nothing, Escape gives it."""
    box = QMessageBox(parent)
    box.setIcon(QMessageBox.Icon.Question)
    box.setWindowTitle(title)
    box.setText(text)
    buttons = [box.addButton(choice, QMessageBox.ButtonRole.ActionRole) for choice in choices]
    box.setDefaultButton(buttons[0])
    box.setEscapeButton(buttons[-1])
    dressing = getattr(parent.window(), "dressing", None)
    if isinstance(dressing, Dressing):
        dressing.add(box)
    box.exec()
    pressed = box.clickedButton()
    box.deleteLater()
    return next((number for number, button in enumerate(buttons) if button is pressed), len(choices) - 1)


def target(parent: QWidget, title: str, name: str, kinds: str, ending: str) -> Path | None:
    """Ask where a file goes; None: nowhere. A name without the ending gets it *before* it is looked for.

    The ending is put behind what was typed, whatever dots are in it: `kit v1.5` becomes `kit v1.5.burrow`.
    """
    while True:
        text, _ = QFileDialog.getSaveFileName(
            parent, title, name, kinds, options=QFileDialog.Option.DontConfirmOverwrite
        )
        if not text:
            return None
        path = with_ending(Path(text), ending)
        try:
            taken = path.exists()
        except (OSError, ValueError):
            taken = False  # a name that cannot be: writing says so in words
        if not taken:
            return path
        answer = which(
            parent,
            title,
            tr("‘{name}’ is there already. What is in it will be replaced.", name=path.name),
            (tr("Replace it"), tr("Choose another name"), tr("Cancel")),
        )
        if answer == 0:
            return path
        if answer == 2:
            return None
        name = str(path)


def with_ending(path: Path, ending: str) -> Path:
    """Return a path that ends as wanted: with the ending put behind its name where it has not got it."""
    if path.name.lower().endswith(ending) and len(path.name) > len(ending):
        return path
    return path.with_name(path.name + ending)
