"""The window: puts stages, scene, section and care list together; what they mean is worked out elsewhere."""

from __future__ import annotations

from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QPointF, Qt, QThreadPool
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDragMoveEvent, QDropEvent, QKeyEvent
from PySide6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QSplitter,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.actions.registry import install, run
from cozy_burrow.app.actions.table import COMMANDS
from cozy_burrow.app.checks.care_list import CareList
from cozy_burrow.app.desk.autosave import Autosave
from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.project_desk import ProjectDesk
from cozy_burrow.app.desk.settings import THEME, TYPE_SCALE, Settings
from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.tasks import stop_all
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.busy import busy
from cozy_burrow.app.look.fields import shortened, soft
from cozy_burrow.app.look.theme.dressing import Dressing, Pages
from cozy_burrow.app.look.theme.theme import Theme, ThemeName, apply_theme, load_theme, sheet_of
from cozy_burrow.app.scene.plan_view import PlanView
from cozy_burrow.app.screens.lay_out.arranging import Arranging
from cozy_burrow.app.screens.lay_out.tray import MIME
from cozy_burrow.app.screens.measure.scenes import SCENES
from cozy_burrow.app.screens.retouch.retouching import Retouching
from cozy_burrow.app.section.section_view import SectionView
from cozy_burrow.app.shell.banner import NoticeStrip, RecoveryBanner
from cozy_burrow.app.shell.insert_chooser import InsertChooser
from cozy_burrow.app.shell.late_panels import LatePanels
from cozy_burrow.app.shell.laying_in import LayingIn
from cozy_burrow.app.shell.sides import Middle
from cozy_burrow.app.shell.stage_path import StagePath
from cozy_burrow.core.bench.cuts import Cut
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.stages import stage_of
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import insert_of, remove_items
from cozy_burrow.core.model.records import Point, Project
from cozy_burrow.core.model.stages import ABOUT, STAGES, Stage
from cozy_burrow.storage.recovery import RecoveryStore

if TYPE_CHECKING:
    from cozy_burrow.app.actions.command_list import CommandList


LONGEST_END_MS = 1_000  # what is still at work then is cut off with the process


class Window(LatePanels):
    """One window, one document."""

    def __init__(
        self, project: Project, settings: Settings, *, theme: ThemeName, scale: float, stage: Stage | None = None
    ) -> None:
        super().__init__()
        self.settings = settings
        self.theme_name: ThemeName = theme
        self._theme: Theme = load_theme(theme)
        self.type_scale = scale
        self.dressing = Dressing(sheet_of(self._theme, scale=scale), self)
        self.workspace: Workspace = Workspace(project, self)
        self.stores: StoresDesk = StoresDesk(settings, self)
        self.retouch: RetouchSession = RetouchSession(self)
        self.autosave = Autosave(self.workspace, self.retouch, RecoveryStore(settings.state_folder), self)
        self.retouching: Retouching = Retouching(
            self.retouch, self.workspace, self, printed=lambda: self.add.pictures.printed_mm()
        )
        self.desk: ProjectDesk = ProjectDesk(
            self.workspace, settings, self.autosave, self, may_clear_bench=self.retouching.may_clear
        )
        self.desk.opened.connect(self._show_opened)
        self.desk.demo_shown.connect(self.stores.show_demo)
        self.desk.bench_found.connect(lambda left: self.retouching.restore(left.bench, left.picture))
        self.laying_in: LayingIn = LayingIn(self.workspace, self)
        self.arranging: Arranging = Arranging(self.workspace, self)
        self.stage: Stage = "gather"
        self._is_deep = False
        self.setWindowTitle("Cozy Burrow")
        self._build()
        self.actions_by_id = install(self, self, self.plan, COMMANDS)
        self.arranging.gained.connect(self._show_below)
        self.arranging.gained.connect(self._show_ghost)
        self.arranging.progressed.connect(lambda _: self._show_ghost())
        self.arranging.closed.connect(self._show_below)
        self.banner.look_for_copies(self.autosave.store)
        self.desk.noticed.connect(self.notices.tell)
        self.autosave.failed.connect(self._say_recovery_is_off)
        if self.autosave.store.trouble:
            self._say_recovery_is_off(self.autosave.store.trouble, str(self.autosave.store.folder))
        self.workspace.document_changed.connect(self._follow)
        self.workspace.selection_changed.connect(self._follow_selection)
        self.workspace.insert_shown.connect(self._show_insert)
        self.workspace.said.connect(self.say)
        self.workspace.refused.connect(self.say)
        self.retouch.said.connect(self.say)
        self.retouch.changed.connect(self._follow)
        self.retouch.opened.connect(lambda: self.show_stage("gather"))
        self.retouch.closed.connect(lambda: self.show_stage("gather"))
        self.show_stage(stage or ("gather" if not project.items else "lay-out"))
        self._follow()
        self.workspace.judge()

    # Building

    def _build(self) -> None:
        workspace, theme, scale = self.workspace, self._theme, self.type_scale
        self.path = StagePath(workspace, theme, scale)
        self.plan: PlanView = PlanView(workspace, theme, scale)
        self.section = SectionView(workspace, theme, scale)
        self.care: CareList = CareList(workspace, theme, scale)
        self.banner = RecoveryBanner(self.desk.bring_back)
        self.notices = NoticeStrip()
        central = QWidget()
        column = QVBoxLayout(central)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for strip in (self._bar(), self.banner, self.notices):
            column.addWidget(strip)
            self.dressing.add(strip)
        column.addWidget(self._middle(), 1)
        self.setCentralWidget(central)
        self._status()
        self.plan.cursor_moved.connect(self._show_cursor)
        self.plan.setAcceptDrops(False)
        self.setAcceptDrops(True)
        self.path.chosen.connect(self._go)
        self.care.chosen.connect(self._point_to)

    @cached_property
    def commands(self) -> CommandList:
        """Everything that can be done, over the window."""
        from cozy_burrow.app.actions.command_list import CommandList

        commands = CommandList(self, self, COMMANDS)
        self.dressing.add(commands)
        return commands

    def _bar(self) -> QWidget:
        bar = QWidget()
        bar.setObjectName("bar")
        bar.setAttribute(Qt.WidgetAttribute.WA_StyledBackground, True)
        row = QHBoxLayout(bar)
        row.setContentsMargins(10, 2, 10, 2)
        self.project_button = QToolButton()
        self.project_button.setToolTip("Open, save, write papers")
        self.project_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.project_button)
        menu.aboutToShow.connect(lambda: self._fill_menu(menu))
        self.project_button.setMenu(menu)
        row.addWidget(self.project_button)
        self.inserts: InsertChooser = InsertChooser(self.workspace, self.type_scale)
        row.addWidget(self.inserts)
        row.addWidget(self.path, 1)
        self.undo_button, self.redo_button = QPushButton("Undo"), QPushButton("Redo")
        for button, command in (
            (self.undo_button, "edit.undo"),
            (self.redo_button, "edit.redo"),
            (QPushButton("Commands"), "help.commands"),
        ):
            button.clicked.connect(lambda _=False, command=command: self._command(command))
            button.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            row.addWidget(button)
        return bar

    def _middle(self) -> Middle:
        self.left = Pages(self.dressing)
        self.below = Pages(self.dressing)
        self.below.addWidget(self.section)
        self.above = Pages(self.dressing)
        self.above.addWidget(self.plan)
        self.scene = QSplitter(Qt.Orientation.Vertical)
        self.scene.addWidget(self.above)
        self.scene.addWidget(self.below)
        self.scene.setStretchFactor(0, 3)
        self.scene.setStretchFactor(1, 1)
        self.scene.setSizes([480, round(215 * self.type_scale)])
        self.scene.setChildrenCollapsible(False)
        self.scene.setHandleWidth(8)
        self.dressing.add(self.care)
        self.middle = Middle(self.left, self.scene, self.care, self.type_scale)
        for side in self.middle.sides.values():
            self.dressing.add(side.rail)
        self.care.headed.connect(lambda rail, about: self.middle.label("right", rail, about))
        return self.middle

    def _status(self) -> None:
        self._cursor_text, self._scale_text = QLabel(), QLabel()
        self._unit_button = QPushButton()
        self._unit_button.setToolTip("Millimetres or inches. Ctrl+U")
        self._unit_button.clicked.connect(self.flip_units)
        self._theme_button = QPushButton("Dark" if self.theme_name == "light" else "Light")
        self._theme_button.clicked.connect(self.flip_theme)
        for widget in (self._cursor_text, self._scale_text, self._unit_button, self._theme_button):
            self.statusBar().addPermanentWidget(widget)
        self.statusBar().setSizeGripEnabled(False)
        keys = soft("Alt+1 to 6: stages   Ctrl+Space: find a command   F8: next finding   F1: help")
        keys.setWordWrap(False)
        self.statusBar().addWidget(keys)
        self.dressing.add(self.statusBar())
        # Its dress changes its height, upon which it lays itself out anew and shows what a message hid: do so now.
        QApplication.sendEvent(self.statusBar(), QEvent(QEvent.Type.LayoutRequest))

    def _fill_menu(self, menu: QMenu) -> None:
        menu.clear()
        for name in ("new", "open", "save", "save_as", "export", "demo"):
            menu.addAction(self.actions_by_id[f"project.{name}"])
        recent = [path for path in self.settings.recent() if path != self.workspace.path]
        if recent:
            menu.addSeparator()
            for path in recent:
                menu.addAction(f"Open {path.name}").triggered.connect(
                    lambda _=False, path=path: self.desk.open_path(path)
                )
        menu.addSeparator()
        menu.addAction(self.actions_by_id["help.page"])
        menu.addAction(self.actions_by_id["project.quit"])

    # Following the document

    def _say_recovery_is_off(self, why: str, where: str) -> None:
        self.notices.tell(
            "recovery",
            f"Recovery is off, save often: {why}.",
            f"No copy of unsaved work can be kept, so after a crash it would be gone. {where}",
        )

    def say(self, text: str) -> None:
        """Say something on the status line."""
        self.statusBar().showMessage(text, 12_000)

    def _follow(self) -> None:
        workspace = self.workspace
        dirty = "* " if workspace.is_dirty or self.retouch.has_work else ""
        self.project_button.setText(f"{dirty}{shortened(workspace.project.title, 24, self.type_scale)} ▾")
        self.setWindowTitle(f"{dirty}{workspace.project.title} · Cozy Burrow")
        for button, word, label in (
            (self.undo_button, "Undo", self.undo_label),
            (self.redo_button, "Redo", self.redo_label),
        ):
            button.setEnabled(label is not None)
            button.setToolTip(f"{word}: {label}" if label else f"Nothing to {word.lower()}")
        self._unit_button.setText("mm" if workspace.unit == "mm" else "inches")

    def _show_insert(self) -> None:
        self.show_stage(self.stage)
        self.plan.fit()

    def _follow_selection(self) -> None:
        self.section.update()

    def _show_cursor(self, point: Point) -> None:
        length = self.workspace.length
        self._cursor_text.setText(f"{length(point[0])} right, {length(point[1])} from the back")
        dots = self.plan.px_per_mm / (self.logicalDpiX() / 25.4)
        self._scale_text.setText(f"{dots:.0%} of true size")

    def _point_to(self, finding: Finding | None) -> None:
        if finding is not None:
            self._show_insert_of(finding)
        self.plan.point_to(finding)
        if finding is not None:
            laid = {one.id for one in self.workspace.insert.placements}
            self.workspace.select([key for key in finding.placements if key in laid])

    def _show_insert_of(self, finding: Finding) -> None:
        """Turn to the insert that a finding speaks of, where it speaks of one."""
        if finding.subject == self.workspace.insert.container_id:
            return
        for insert in self.workspace.project.inserts:
            mine = {one.id for one in insert.placements}
            if mine.intersection(finding.placements) or finding.subject in {insert.id, insert.container_id}:
                self.workspace.show_insert(insert.id)
                return

    def _peel(self, layer: int) -> None:
        if self.stage == "cut":
            self.plan.show_layer(layer)

    def _show_cuts(self, cuts: tuple[Cut, ...]) -> None:
        self.plan.cuts = cuts
        self.plan.viewport().update()

    # Stages

    def _show_opened(self) -> None:
        """Another document lies here: what was begun for the one before ends, what was to be kept was asked for."""
        if "add" in self.__dict__:
            self.add.pictures.stop()
        self.retouch.close()
        self.show_stage("lay-out" if self.workspace.project.items else "gather")

    def show_way(self, name: str) -> None:
        """Turn to a way in at Gather."""
        self.show_stage("gather")
        self.add.show_way(name)

    def write_mat(self) -> None:
        """Ask where the reference mat goes."""
        self.show_way("Photo")
        self.add.pictures.print_mat.click()

    def _go(self, name: str) -> None:
        stage = next((one for one in STAGES if one == name), None)
        if stage is not None:
            self.show_stage(stage)

    def show_stage(self, stage: Stage) -> None:
        """Look at the document as a stage does."""
        with busy():  # the first time its pages are made
            self._show_stage(stage)

    def _show_stage(self, stage: Stage) -> None:
        self.stage = stage
        self.path.show_stage(stage)
        self._follow()
        left: QWidget
        above: QWidget
        below: QWidget
        match stage:
            case "gather" if self.retouch.is_open:
                left, above, below = self.retouch_tools, self.retouch_canvas, self.section
            case "gather":
                left, above, below = self.add, self.gallery, self.bench
            case "measure":
                left, above, below = self.measure, self.measure_scene() or self.plan, self.section
            case "lay-out":
                left, above, below = self.tray, self.plan, self._below_plan()
            case "sink":
                left, below = self.sink, self.section
                above = self.peel if self.sink.peel_button.isChecked() else self.plan
            case "grip":
                left, above, below = self.grip, self.plan, self.section
            case "cut":
                left, above, below = self.cut, self.plan, self.cut.view
        self.left.setCurrentWidget(left)
        self.above.setCurrentWidget(above)
        self.below.setCurrentWidget(below)
        self.below.setVisible(not self._is_retouching and not self.is_measuring_widely)
        self.middle.open("left", wanted=False)
        self.middle.label("left", "▸", f"{ABOUT[stage].panel}: opens over the scene")
        self.middle.want("right", not self._is_retouching)
        self._share_middle(stage)
        if stage != "gather":
            self.plan.set_mode(stage)
            self.plan.fit()
        if stage == "cut":
            self.cut.peel()

    def _share_middle(self, stage: Stage) -> None:
        """Where depths are the matter the section gets more of the room, and looks at the chosen thing from near."""
        deep = stage in {"sink", "grip"}
        self.section.look_near(deep)
        if stage != "sink":
            self.section.raise_lid(0.0)
        if deep == self._is_deep:
            return
        self._is_deep = deep
        whole = sum(self.scene.sizes()) or 700
        below = round(whole * 0.46) if deep else round(215 * self.type_scale)
        self.scene.setSizes([whole - below, below])

    def close_lid(self) -> None:
        """Turn to Sink and bring the lid down, or raise it."""
        self.show_stage("sink")
        self.sink.closing.toggle()

    def show_peel(self) -> None:
        """Turn to Sink with a picture a layer, or with the plan again."""
        self.show_stage("sink")
        self.sink.peel_button.toggle()

    def _below_plan(self) -> QWidget:
        return self.variations if self.arranging.is_open else self.section

    def _show_below(self) -> None:
        if self.stage == "lay-out":
            self.below.setCurrentWidget(self._below_plan())

    def _show_ghost(self) -> None:
        """While a search runs, its best so far lies on the plan itself, not to be mistaken for what is there."""
        best = self.arranging.best if self.arranging.is_arranging else None
        if best is None or self.arranging.insert_id != self.workspace.insert_id:
            self.plan.show_ghost(None)
            return
        self.plan.show_ghost(ground_of(best.project, insert_of(best.project, self.arranging.insert_id)))

    def _show_measure_stage(self) -> None:
        self.show_stage("measure")

    # Undo belongs to what is in front: the retouch bench while it is seen, else the project.

    @property
    def _is_retouching(self) -> bool:
        return self.stage == "gather" and self.retouch.is_open

    @property
    def undo_label(self) -> str | None:
        """Name of what undo would take back."""
        if self._is_retouching and self.retouch.undo_label is not None:
            return self.retouch.undo_label
        return self.workspace.history.undo_label

    @property
    def redo_label(self) -> str | None:
        """Name of what redo would bring back."""
        if self._is_retouching:
            return self.retouch.redo_label
        return self.workspace.history.redo_label

    def undo(self) -> None:
        """Take the last change back."""
        if self._is_retouching and self.retouch.undo_label is not None:
            self.retouch.undo()
        else:
            self.workspace.undo()

    def redo(self) -> None:
        """Bring back what was taken back."""
        if self._is_retouching:
            self.retouch.redo()
        else:
            self.workspace.redo()

    def fit(self) -> None:
        """Show everything of what is in the middle."""
        if self._is_retouching:
            self.retouch_canvas.fit()
        else:
            self.plan.fit()

    def zoom(self, times: float) -> None:
        """Come nearer, or step back."""
        if self._is_retouching:
            self.retouch_canvas.zoom(times)
        else:
            self.plan.zoom(times)

    def next_finding(self) -> None:
        """Choose the next finding and go where it is mended."""
        findings = self.workspace.findings_seen
        if not findings:
            self.say("There is nothing to fix")
            return
        row = (self.care.position + 1) % len(findings)
        self.care.choose(row)
        if self.stage in {"gather", "measure"}:
            self.show_stage(stage_of(findings[row]))
        if self.middle.sides["right"].is_folded:  # the list does not say it
            self.say(finding_text(self.workspace.project, findings[row]))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter presses the button that has the focus, as the space bar does; every other key is Qt's."""
        button = self.focusWidget()
        if event.key() in {Qt.Key.Key_Return, Qt.Key.Key_Enter} and isinstance(button, QAbstractButton):
            button.click()
            return
        super().keyPressEvent(event)

    def _command(self, name: str) -> None:
        run(self, next(command for command in COMMANDS if command.id == name))

    # Dropping

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Things from the tray and project files may be dropped here."""
        if event.mimeData().hasFormat(MIME) or event.mimeData().hasUrls():
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent) -> None:
        """A thing may be dropped on the plan only."""
        if event.mimeData().hasFormat(MIME) and self._on_plan(event.position()) is None:
            event.ignore()
        else:
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Lay the thing in where it was dropped, or open the file."""
        data = event.mimeData()
        if data.hasFormat(MIME):
            at = self._on_plan(event.position())
            if at is not None:
                self.laying_in.drop(bytes(data.data(MIME).data()).decode(), at)
                self.plan.setFocus()
        elif data.hasUrls() and self.desk.may_leave():
            self.desk.open_path(Path(data.urls()[0].toLocalFile()))

    def _on_plan(self, at: QPointF) -> Point | None:
        if not self.plan.isVisible():
            return None
        local = self.plan.viewport().mapFrom(self, at.toPoint())
        return self.plan.plan_point(local) if self.plan.viewport().rect().contains(local) else None

    # Project

    def remove_item(self) -> None:
        """Take the chosen thing out of the kit."""
        item = self.workspace.item
        if item is not None:
            self.workspace.do(f"Take ‘{item.name}’ out of the kit", remove_items(self.workspace.project, [item.id]))

    def flip_units(self) -> None:
        """Show lengths in the other unit."""
        self.workspace.set_unit("inch" if self.workspace.unit == "mm" else "mm")

    def flip_theme(self) -> None:
        """Change between daylight and lamp light."""
        self.set_theme("lamp" if self.theme_name == "light" else "light")

    def set_theme(self, name: ThemeName) -> None:
        """Dress the window."""
        with busy():
            self._dress(name)

    def _dress(self, name: ThemeName) -> None:
        self.theme_name, self._theme = name, load_theme(name)
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        apply_theme(app, self._theme, scale=self.type_scale)
        self.dressing.change(sheet_of(self._theme, scale=self.type_scale))
        for part in (self.path, self.plan, self.section, self.care):
            part.set_theme(self._theme)
        if "gallery" in self.__dict__:
            self.gallery.set_theme(self._theme)
            self.bench.set_theme(self._theme)
        for late in ("retouch_canvas", "variations", "peel", *SCENES):
            if late in self.__dict__:
                getattr(self, late).set_theme(self._theme)
        self._theme_button.setText("Dark" if name == "light" else "Light")
        self.settings.set(THEME, name)

    def step_type_scale(self) -> None:
        """Make type and controls larger, after twice the size the first again; takes effect at the next start."""
        scale = self.type_scale + 0.25
        scale = 1.0 if scale > 2.0 else scale
        self.settings.set(TYPE_SCALE, scale)
        self.say(f"Type at {scale:.0%} from the next start on")

    def show_help(self) -> None:
        """Show the help page."""
        from cozy_burrow.app.shell.help_page import HelpPage

        page = HelpPage(COMMANDS, self)
        page.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.dressing.add(page)
        page.show()

    def changeEvent(self, event: QEvent) -> None:
        """Back from another window: prices and shelf may have been changed there."""
        super().changeEvent(event)
        if event.type() == QEvent.Type.ActivationChange and self.isActiveWindow():
            self.stores.look_again()

    def closeEvent(self, event: QCloseEvent) -> None:
        """Leave in order: ask about unsaved work, stop the search, take the recovery copy away."""
        if not self.desk.may_leave():
            event.ignore()
            return
        self.arranging.abandon()
        stop_all()
        QThreadPool.globalInstance().waitForDone(LONGEST_END_MS)
        self.workspace.document_changed.disconnect(self.autosave.follow)  # nothing is kept any more
        self.retouch.changed.disconnect(self.autosave.follow)
        self.autosave.store.close()
        self.desk.close()
        event.accept()
