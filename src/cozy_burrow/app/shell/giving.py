"""What is given away from the window: paper, pictures in a folder, a picture on the clipboard."""

from __future__ import annotations

from PySide6.QtCore import QMimeData, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.frame.front import Front
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.apart import run_apart

_CLIPBOARD_DPI = 110  # as sharp as a screen; large inserts stay small enough to be pasted into a letter


def open_print_card(front: Front) -> None:
    """Ask what is printed, and where."""
    from cozy_burrow.app.shell.print_card import PrintCard

    parent = front if isinstance(front, QWidget) else None
    card = PrintCard(front.workspace, parent)
    card.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    dressing = getattr(front, "dressing", None)
    if dressing is not None:
        dressing.add(card)
    card.show()


def copy_picture(front: Front) -> None:
    """Put a picture of the insert that is shown on the clipboard: filled or empty, named or not, as the plan is."""
    from cozy_burrow.jobs.insert_pictures import picture_apart

    workspace, plan = front.workspace, front.plan
    project, insert_id, filled, named = workspace.project, workspace.insert_id, plan.is_filled, plan.is_named
    task = Task(
        lambda token: run_apart(picture_apart, project, insert_id, filled, named, _CLIPBOARD_DPI, token=token),
        workspace,
        elsewhere=True,
    )

    def take(png: bytes) -> None:
        data = QMimeData()
        data.setData("image/png", png)
        QGuiApplication.clipboard().setMimeData(data)
        front.say(tr("A picture of the insert is on the clipboard"))

    task.done.connect(take)
    task.failed.connect(_raise)
    front.say(tr("Making the picture…"))
    task.begin()


def _raise(error: Exception) -> None:
    raise error  # on the interface's thread, where the crash guard keeps the work
