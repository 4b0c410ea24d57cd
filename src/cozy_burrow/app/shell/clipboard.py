"""Items from one window to another by the clipboard; pictures and files from it come in as if they were dropped."""

from __future__ import annotations

from typing import cast

from PySide6.QtCore import QByteArray, QMimeData
from PySide6.QtGui import QGuiApplication

from cozy_burrow.app.frame.front import Front, chosen, some_selected
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.edits import add_items
from cozy_burrow.core.model.records import Item, Project
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.storage.project_file import from_bytes, to_bytes

MIME = "application/x-cozy-burrow"
_LETS_GO = "cozy_lets_go"


def may_copy(front: Front) -> bool:
    """Return whether there is something to copy."""
    return some_selected(front) or chosen(front)


def copy_items(front: Front) -> None:
    """Copy the kinds of items that are selected on the plan, or the one that is chosen in the kit."""
    workspace = front.workspace
    wanted = {one.item_id for one in workspace.insert.placements if one.id in workspace.selection}
    items = [one for one in workspace.project.items if one.id in wanted] or [
        one for one in (workspace.item,) if one is not None
    ]
    if not items:
        return
    data = QMimeData()
    # As a project that holds nothing else: whoever pastes looks at it as closely as at a file.
    data.setData(MIME, QByteArray(to_bytes(Project(items=tuple(items)))))
    data.setText("\n".join(item.name for item in items))
    QGuiApplication.clipboard().setMimeData(data)
    app = QGuiApplication.instance()
    if app is not None and not app.property(_LETS_GO):
        app.setProperty(_LETS_GO, True)
        app.aboutToQuit.connect(_let_go)
    front.say(trn("{count} item is on the clipboard", "{count} items are on the clipboard", len(items)))


def _let_go() -> None:
    """Take what is ours off the clipboard: an object of Python's must not be left there when there is no Python."""
    # Without a display nobody else can own it, though Qt says that we do not.
    if QGuiApplication.clipboard().ownsClipboard() or QGuiApplication.platformName() == "offscreen":
        QGuiApplication.clipboard().clear()


def paste(front: Front) -> None:
    """Put the items of the clipboard into the kit; what else lies on it comes in as if it were dropped."""
    data = cast("QMimeData | None", QGuiApplication.clipboard().mimeData())  # its stub forgets the empty clipboard
    if data is None or not data.hasFormat(MIME):
        if data is not None and (data.hasUrls() or data.hasImage()):
            front.drops.take(data)
        else:
            front.workspace.refused.emit(tr("There is no item, picture or file on the clipboard"))
        return
    try:
        items = from_bytes(bytes(data.data(MIME).data()), where=tr("the clipboard")).items
    except UnusableInput as error:
        front.workspace.refused.emit(error.sentence())
        return
    if items:
        _take_in(front, items)


def _take_in(front: Front, items: tuple[Item, ...]) -> None:
    workspace = front.workspace
    project = add_items(workspace.project, items)
    named = f"‘{items[0].name}’" if len(items) == 1 else tr("{count} items", count=len(items))
    workspace.do(tr("Paste {named}", named=named), project)
    workspace.choose_item(project.items[-1].id)
