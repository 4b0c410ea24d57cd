"""What may be dropped on the window: items on the plan; projects, drawings, tables and pictures anywhere."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QBuffer, QIODevice, QMimeData, QPointF
from PySide6.QtGui import QDragEnterEvent, QDragMoveEvent, QDropEvent, QImage
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.desk.latest import Latest
from cozy_burrow.app.frame.handed import PROJECTS, Handed
from cozy_burrow.app.frame.house import House
from cozy_burrow.app.frame.screen import Screens
from cozy_burrow.app.screens.lay_out.tray import MIME
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.tongue import tr


class Drops:
    """Takes what is dropped on a window: the stage that is shown is asked first, then Gather."""

    def __init__(self, house: House, window: QWidget, screens: Screens) -> None:
        self._house, self._window, self._screens = house, window, screens
        house.plan.setAcceptDrops(False)  # all of it is the window's
        window.setAcceptDrops(True)
        self._latest = Latest(house.workspace, window)
        self._latest.refused.connect(lambda why: house.workspace.refused.emit(why) if why else None)

    def enter(self, event: QDragEnterEvent) -> None:
        """Items from the tray, files and pictures may be dropped here."""
        data = event.mimeData()
        if data.hasFormat(MIME) or data.hasUrls() or data.hasImage():
            event.acceptProposedAction()

    def move(self, event: QDragMoveEvent) -> None:
        """An item may be dropped on the plan only."""
        if event.mimeData().hasFormat(MIME) and self._on_plan(event.position()) is None:
            event.ignore()
        else:
            event.acceptProposedAction()

    def drop(self, event: QDropEvent) -> None:
        """Lay the item in where it was dropped, or take the files."""
        data, house = event.mimeData(), self._house
        if data.hasFormat(MIME):
            at = self._on_plan(event.position())
            if at is not None:
                house.laying_in.drop(bytes(data.data(MIME).data()).decode(), at)
                house.plan.setFocus()
        else:
            self.take(data)

    def take(self, data: QMimeData) -> None:
        """Open a project; hand anything else to the screens; say what nobody takes."""
        house = self._house
        handed = Handed(paths=tuple(Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()))
        if not handed.paths and data.hasImage():
            image = data.imageData()  # a large one takes a second to be put into bytes: beside the window
            self._latest.begin(lambda _: _png(image), lambda png: self._hand_on(Handed(picture=png)))
        elif projects := handed.ending(PROJECTS):
            if house.desk.may_leave():
                house.desk.open_path(projects[0])
        elif handed.others == handed.paths and handed.paths:
            house.workspace.refused.emit(
                tr(
                    "‘{name}’ is not read here; drop a project, a drawing (SVG, DXF), a table (CSV) or a picture",
                    name=handed.paths[0].name,
                )
            )
        elif handed.paths:
            self._hand_on(handed)
        else:
            house.workspace.refused.emit(tr("That is only a link; save what it leads to as a file, then drop the file"))

    def _hand_on(self, handed: Handed) -> None:
        if not self._screens[self._house.stage()].take_handed(handed):
            self._screens["gather"].take_handed(handed)

    def _on_plan(self, at: QPointF) -> Point | None:
        plan = self._house.plan
        if not plan.isVisible():
            return None
        local = plan.viewport().mapFrom(self._window, at.toPoint())
        return plan.plan_point(local) if plan.viewport().rect().contains(local) else None


def _png(image: object) -> bytes:
    """Return a picture that has no file as one would be written. Raises UnusableInput where it is none."""
    if not isinstance(image, QImage) or image.isNull():
        raise UnusableInput(tr("the picture can't be read"), remedy=tr("save it as a file, then drop the file"))
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")  # type: ignore[call-overload]  # it takes no bytes, whatever its stub says
    return bytes(buffer.data().data())
