"""Which stage is shown, and what stands left of, in and below the middle for it; what is in front of somebody."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QSplitter, QWidget

from cozy_burrow.app.look.busy import busy
from cozy_burrow.app.shell.house import House
from cozy_burrow.app.shell.parts import Parts
from cozy_burrow.app.shell.sides import Middle
from cozy_burrow.app.shell.stage_path import StagePath
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import insert_of
from cozy_burrow.core.model.stages import ABOUT, Stage

SECTION_PX = 215  # high, where depths are not the matter
_DEEP_SHARE = 0.46  # of the middle that the section gets where they are


class Navigator:
    """Goes from stage to stage. turned: told once another one is shown, before its parts are."""

    def __init__(
        self,
        house: House,
        parts: Parts,
        *,
        path: StagePath,
        middle: Middle,
        scene: QSplitter,
        turned: Callable[[], object],
    ) -> None:
        self._house, self._parts = house, parts
        self._path, self._middle, self._scene, self._turned = path, middle, scene, turned
        self.stage: Stage = "gather"
        self._is_deep = False

    @property
    def is_retouching(self) -> bool:
        """Whether the retouch bench is in front."""
        return self.stage == "gather" and self._house.retouch.is_open

    def show(self, stage: Stage) -> None:
        """Look at the document as a stage does."""
        with busy():  # the first time its pages are made
            self._show(stage)

    def _show(self, stage: Stage) -> None:
        house, parts = self._house, self._parts
        self.stage = stage
        self._path.show_stage(stage)
        self._turned()
        left, above, below = self._surroundings(stage)
        house.left.setCurrentWidget(left)
        house.above.setCurrentWidget(above)
        house.below.setCurrentWidget(below)
        takes_all = stage == "measure" and parts.scenes.takes_all
        house.below.setVisible(not self.is_retouching and not takes_all)
        self._middle.open("left", wanted=False)
        self._middle.label("left", "▸", f"{ABOUT[stage].panel}: opens over the scene")
        self._middle.want("right", not self.is_retouching)
        self._share_middle(stage)
        if stage != "gather":
            house.plan.set_mode(stage)
            house.plan.fit()
        if stage == "cut":
            parts.cut.peel()

    def _surroundings(self, stage: Stage) -> tuple[QWidget, QWidget, QWidget]:
        """Return what stands left, in the middle and below."""
        parts, plan, section = self._parts, self._house.plan, self._house.section
        match stage:
            case "gather" if self._house.retouch.is_open:
                return parts.retouch_tools, parts.retouch_canvas, section
            case "gather":
                return parts.add, parts.gallery, parts.bench
            case "measure":
                return parts.measure, parts.scenes.shown() or plan, section
            case "lay-out":
                return parts.tray, plan, self._below_plan()
            case "sink":
                return parts.sink, parts.peel if parts.sink.peel_button.isChecked() else plan, section
            case "grip":
                return parts.grip, plan, section
            case "cut":
                return parts.cut, plan, parts.cut.view

    def _share_middle(self, stage: Stage) -> None:
        """Where depths are the matter the section gets more of the room, and looks at the chosen thing from near."""
        deep = stage in {"sink", "grip"}
        self._house.section.look_near(deep)
        if stage != "sink":
            self._house.section.raise_lid(0.0)
        if deep == self._is_deep:
            return
        self._is_deep = deep
        whole = sum(self._scene.sizes()) or 700
        below = round(whole * _DEEP_SHARE) if deep else round(SECTION_PX * self._house.scale)
        self._scene.setSizes([whole - below, below])

    # A search

    def _below_plan(self) -> QWidget:
        return self._parts.variations if self._house.arranging.is_open else self._house.section

    def show_below(self) -> None:
        """Show layouts side by side under the plan while there are some, else the section."""
        if self.stage == "lay-out":
            self._house.below.setCurrentWidget(self._below_plan())

    def show_ghost(self) -> None:
        """While a search runs, its best so far lies on the plan itself, not to be mistaken for what is there."""
        arranging, plan = self._house.arranging, self._house.plan
        best = arranging.best if arranging.is_arranging else None
        if best is None or arranging.insert_id != self._house.workspace.insert_id:
            plan.show_ghost(None)
            return
        plan.show_ghost(ground_of(best.project, insert_of(best.project, arranging.insert_id)))

    # What is in front: the retouch bench while it is seen, else the project and its plan

    @property
    def undo_label(self) -> str | None:
        """Name of what undo would take back."""
        if self.is_retouching and self._house.retouch.undo_label is not None:
            return self._house.retouch.undo_label
        return self._house.workspace.history.undo_label

    @property
    def redo_label(self) -> str | None:
        """Name of what redo would do again."""
        return self._house.retouch.redo_label if self.is_retouching else self._house.workspace.history.redo_label

    def undo(self) -> None:
        """Take the last change back."""
        if self.is_retouching and self._house.retouch.undo_label is not None:
            self._house.retouch.undo()
        else:
            self._house.workspace.undo()

    def redo(self) -> None:
        """Do again what was taken back."""
        if self.is_retouching:
            self._house.retouch.redo()
        else:
            self._house.workspace.redo()

    def fit(self) -> None:
        """Show everything of what is in the middle."""
        if self.is_retouching:
            self._parts.retouch_canvas.fit()
        else:
            self._house.plan.fit()

    def zoom(self, times: float) -> None:
        """Look closer, or from farther off."""
        if self.is_retouching:
            self._parts.retouch_canvas.zoom(times)
        else:
            self._house.plan.zoom(times)
