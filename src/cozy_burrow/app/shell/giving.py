"""What is given away from the window: paper, pictures in a folder, a picture on the clipboard."""

from __future__ import annotations

import math
from collections.abc import Callable

from PySide6.QtGui import QGuiApplication, QImage
from PySide6.QtWidgets import QDialog, QWidget

from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.app.frame.front import Front
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.apart import run_apart

_CLIPBOARD_DPI = 110  # as sharp as a screen
_MOST_PX = 5_000_000  # so that a large insert can be pasted into a letter, and stays small in memory


def open_print_card(front: Front) -> None:
    """Ask what is printed, and where."""
    from cozy_burrow.app.shell.print_card import PrintCard

    show_card(front, lambda parent: PrintCard(front.workspace, parent, workshop=front.desk.workshop()))


def show_card(front: Front, make: Callable[[QWidget | None], QDialog]) -> None:
    """Show a card over a window, dressed as it is; it goes once it is closed."""
    front.dressing.show_card(make(front if isinstance(front, QWidget) else None))


def copy_picture(front: Front) -> None:
    """Put a picture of the insert that is shown on the clipboard: filled or empty, named or not, as the plan is."""
    from cozy_burrow.jobs.insert_pictures import picture_apart

    workspace, plan = front.workspace, front.plan
    left, top, right, bottom = workspace.ground.extent
    dpi = min(_CLIPBOARD_DPI, round(25.4 * math.sqrt(_MOST_PX / max(1.0, (right - left + 20) * (bottom - top + 20)))))
    project, insert_id, filled, named = workspace.project, workspace.insert_id, plan.is_filled, plan.is_named
    task = Task(
        lambda token: run_apart(picture_apart, project, insert_id, filled, named, dpi, token=token),
        workspace,
        elsewhere=True,
    )

    def take(png: bytes) -> None:
        # The picture itself: an object of ours on the clipboard would be taken away when there is no Python any more.
        QGuiApplication.clipboard().setImage(QImage.fromData(png))
        front.say(tr("A picture of the insert is on the clipboard"))

    task.done.connect(take)
    task.failed.connect(_raise)
    front.say(tr("Making the picture…"))
    task.begin()


def _raise(error: Exception) -> None:
    raise error  # on the interface's thread, where the crash guard keeps the work
