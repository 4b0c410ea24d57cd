"""The window as a picture: painted without a display, something chosen that shows what the stage is for."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QBuffer, QThreadPool
from PySide6.QtWidgets import QApplication

from cozy_burrow.app.desk.aside import at_rest
from cozy_burrow.app.shell.window import Window
from cozy_burrow.storage.whole_file import write_whole


def paint(window: Window, app: QApplication, shot: Path) -> None:
    """Save the window's picture and close it. Raises UnusableInput where the picture cannot be written."""
    window.plan.wait_for_light()
    window.show()
    _choose(window)
    write_whole(shot, painted(window, app))


def painted(window: Window, app: QApplication) -> bytes:
    """Show the window, wait for all that is worked out for it, close it and return its picture as PNG."""
    window.plan.wait_for_light()
    window.show()
    _ = window.workspace.findings  # a picture waits for all of them
    for _ in range(4):  # layouts settle, then the scene fits itself
        app.processEvents()
    while not at_rest(window):  # advice is worked out beside the window
        QThreadPool.globalInstance().waitForDone()
        app.processEvents()
    if window.stage != "gather":
        window.plan.fit()
    window.navigator.screen.catch_up()
    app.processEvents()
    picture = QBuffer()
    window.grab().save(picture, "PNG")
    window.workspace.saved = window.workspace.project
    window.close()
    return bytes(picture.data().data())


def _choose(window: Window) -> None:
    """Select the thing with the most zones; before anything is laid in, the first of the kit."""
    workspace = window.workspace
    pockets = workspace.ground.pockets
    if not pockets:
        if workspace.project.items:
            workspace.choose_item(workspace.project.items[0].id)
    elif window.stage != "cut":
        richest = max(pockets, key=lambda key: (len(pockets[key].item.zones), pockets[key].item.thickness_mm))
        workspace.select((richest,))
