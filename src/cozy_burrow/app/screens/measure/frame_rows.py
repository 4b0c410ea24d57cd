"""The boards round a wall panel or a tray, for those who build them: how thick, how joined, and what is sawn."""

from __future__ import annotations

from typing import Any

from msgspec.structs import replace
from PySide6.QtWidgets import QCheckBox, QVBoxLayout, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Form, verdict
from cozy_burrow.app.look.fold import Fold
from cozy_burrow.app.screens.measure.page import Page, shown_container
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.vessels import Frame
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.frame_words import boards_text

JOINTS = ((tr("butt, screwed"), "butt"), (tr("rebate, screwed"), "rebate"), (tr("mitre, glued"), "mitre"))


class FrameRows(QWidget):
    """Whether there are boards, their figures, and what comes of them."""

    def __init__(self, workspace: Workspace, page: Page) -> None:
        super().__init__(page)
        self._workspace, self._page = workspace, page
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        self.fold = Fold(tr("A frame of boards"))
        outer.addWidget(self.fold)
        layout = self.fold.column
        self.builds = QCheckBox(tr("I build boards round it"))
        self.builds.clicked.connect(lambda on: page.change_box(tr("frame"), frame=Frame() if on else None))
        layout.addWidget(self.builds)
        self._figures = QWidget()
        inner = QVBoxLayout(self._figures)
        inner.setContentsMargins(0, 0, 0, 0)
        form = Form()
        self.board = page.length(
            form,
            tr("Boards, thick"),
            lambda: self._frame.board_mm,
            lambda mm: self._change(board_mm=mm),
            least_mm=3.0,
            most_mm=60.0,
        )
        self.joint = page.choice(
            form, tr("Corners"), JOINTS, lambda: self._frame.joint, lambda joint: self._change(joint=joint)
        )
        self.back = page.length(
            form,
            tr("Back, thick"),
            lambda: self._frame.back_mm,
            lambda mm: self._change(back_mm=mm),
            most_mm=40.0,
            tip=tr("Of the sheet behind it; 0: it has none."),
        )
        inner.addLayout(form)
        self.told = verdict(tip=tr("With every screw, where it is fixed and what to look out for: frame.pdf"))
        inner.addWidget(self.told)
        layout.addWidget(self._figures)

    @property
    def _frame(self) -> Frame:
        return self._workspace.container.frame or Frame()

    def _change(self, **figures: Any) -> None:
        self._page.change_box(tr("frame"), frame=replace(self._frame, **figures))

    def follow(self) -> None:
        """Show the frame as it is now; a case has none."""
        container = self._workspace.container
        self.setVisible(container.kind != "case")
        self.fold.follow(container.frame is not None, of=shown_container(self._workspace))
        self.fold.tell("" if container.frame is None else self._workspace.length(container.frame.board_mm))
        self.builds.setChecked(container.frame is not None)
        self._figures.setVisible(container.frame is not None)
        if container.frame is None or container.kind == "case":
            return
        try:
            self.told.setText(boards_text(container, self._workspace.unit))
        except UnusableInput as error:
            self.told.setText(error.sentence())
