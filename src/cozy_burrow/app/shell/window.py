"""The window: puts document, stages, plan, section and checks together; what they mean is worked out elsewhere."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, Qt, QThreadPool
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDragMoveEvent, QDropEvent, QKeyEvent
from PySide6.QtWidgets import QAbstractButton, QApplication, QMainWindow, QVBoxLayout, QWidget

from cozy_burrow.app.checks.check_list import CheckList
from cozy_burrow.app.desk.arranging import Arranging
from cozy_burrow.app.desk.autosave import Autosave
from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.laying_in import LayingIn
from cozy_burrow.app.desk.project_desk import ProjectDesk
from cozy_burrow.app.desk.retouching import Retouching
from cozy_burrow.app.desk.settings import LAST_THEME, PLAN_LOOK, PLAN_NAMES, THEME, Settings
from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.tasks import stop_all
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.frame.command import install, run
from cozy_burrow.app.frame.house import House
from cozy_burrow.app.frame.screen import Screen
from cozy_burrow.app.look.busy import busy
from cozy_burrow.app.look.theme.dressing import Dressing
from cozy_burrow.app.look.theme.theme import Theme, ThemeName, apply_theme, load_theme, sheet_of
from cozy_burrow.app.scene.plan_view import PlanView
from cozy_burrow.app.section.section_view import SectionView
from cozy_burrow.app.shell.banner import NoticeStrip, RecoveryBanner
from cozy_burrow.app.shell.bars import Bar, StatusLine
from cozy_burrow.app.shell.commands import COMMANDS
from cozy_burrow.app.shell.drops import Drops
from cozy_burrow.app.shell.insert_chooser import InsertChooser
from cozy_burrow.app.shell.navigator import Frame, Navigator
from cozy_burrow.app.shell.pointing import Pointing
from cozy_burrow.app.shell.spoken import Spoken
from cozy_burrow.app.shell.stage_path import StagePath
from cozy_burrow.core.model.records import Point, Project
from cozy_burrow.core.model.stages import STAGES, Stage
from cozy_burrow.core.tongue import tr
from cozy_burrow.storage.recovery import RecoveryStore

if TYPE_CHECKING:
    from cozy_burrow.app.shell.command_list import CommandList


LONGEST_END_MS = 700  # what is still at work then is cut off with the process, which ends within a second


class Window(QMainWindow):
    """One window, one document."""

    def __init__(
        self, project: Project, settings: Settings, *, theme: ThemeName, scale: float, stage: Stage | None = None
    ) -> None:
        super().__init__()
        self.settings = settings
        self.theme_name: ThemeName = theme
        self._theme: Theme = load_theme(theme)
        self.type_scale = scale
        self._has_left = False
        self.dressing = Dressing(sheet_of(self._theme, scale=scale), self)
        self._open_desks(project)
        self.setWindowTitle(tr("Cozy Burrow"))
        self._build()
        self.actions_by_id = install(self, self, self.plan, COMMANDS)
        self._connect()
        self.show_stage(stage or ("gather" if not project.items else "lay-out"))
        self._follow()
        self.workspace.judge()

    # Building

    def _open_desks(self, project: Project) -> None:
        """Make what knows the document, without a face yet."""
        self.workspace: Workspace = Workspace(project, self)
        self.stores: StoresDesk = StoresDesk(self.settings, self)
        self.retouch: RetouchSession = RetouchSession(self)
        self.autosave = Autosave(self.workspace, self.retouch, RecoveryStore(self.settings.state_folder), self)
        self.retouching: Retouching = Retouching(self.retouch, self.workspace, self)
        self.desk: ProjectDesk = ProjectDesk(
            self.workspace, self.settings, self.autosave, self, may_clear=self.retouching.may_clear, stores=self.stores
        )
        self.laying_in: LayingIn = LayingIn(self.workspace, self)
        self.arranging: Arranging = Arranging(self.workspace, self)

    def _build(self) -> None:
        workspace, theme, scale = self.workspace, self._theme, self.type_scale
        self.path = StagePath(workspace, theme, scale)
        self.plan: PlanView = PlanView(
            workspace,
            theme,
            scale,
            lit=self.settings.text(PLAN_LOOK) != "drawing",
            named=self.settings.text(PLAN_NAMES) != "no",
        )
        self.section: SectionView = SectionView(workspace, theme, scale)
        self.checks: CheckList = CheckList(workspace, theme, scale)
        self.banner = RecoveryBanner(self.desk.bring_back)
        self.notices = NoticeStrip()
        self.bar = Bar(workspace, self.path, scale, self._command)
        self.frame = Frame(self.plan, self.section, self.checks, self.dressing, scale)
        central = QWidget()
        column = QVBoxLayout(central)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        for strip in (self.bar, self.banner, self.notices):
            column.addWidget(strip)
            self.dressing.add(strip)
        column.addWidget(self.frame.middle, 1)
        self.setCentralWidget(central)
        house = House(
            workspace=workspace,
            settings=self.settings,
            stores=self.stores,
            retouch=self.retouch,
            retouching=self.retouching,
            desk=self.desk,
            laying_in=self.laying_in,
            arranging=self.arranging,
            plan=self.plan,
            section=self.section,
            dressing=self.dressing,
            scale=scale,
            theme=lambda: self._theme,
            stage=lambda: self.stage,
            show_stage=self.show_stage,
            set_out=lambda: self.navigator.set_out(),
            command=self._command,
            action=lambda name: self.actions_by_id[name],
        )
        self.navigator = Navigator(house, self.frame, self.path, self._follow)
        self.drops: Drops = Drops(house, self, self.navigator.screens)
        self.pointing = Pointing(house, self.checks, self.frame.middle)
        self._line = StatusLine(
            self.statusBar(), self.dressing, flip_units=self.flip_units, flip_theme=self.flip_theme, plan=self.plan
        )
        self._spoken = Spoken(workspace, self.arranging, self.checks, self, plan=self.plan, section=self.section)

    def _connect(self) -> None:
        self.bar.menu.aboutToShow.connect(self._fill_menu)
        self.checks.headed.connect(lambda rail, about: self.frame.middle.label("right", rail, about))
        self.checks.asked.connect(self.show_help)
        self.plan.cursor_moved.connect(self._show_cursor)
        self.plan.look_changed.connect(self._keep_look)
        self.path.chosen.connect(self._go)
        self.desk.opened.connect(self._show_opened)
        self.desk.demo_shown.connect(self.stores.show_demo)
        self.desk.bench_found.connect(lambda left: self.retouching.restore(left.bench, left.picture))
        self.desk.noticed.connect(self.notices.tell)
        self.banner.look_for_copies(self.autosave.store)
        self.autosave.failed.connect(self._say_recovery_is_off)
        if self.autosave.store.trouble:
            self._say_recovery_is_off(self.autosave.store.trouble, str(self.autosave.store.folder))
        self.workspace.document_changed.connect(self._follow)
        self.workspace.selection_changed.connect(self.section.update)
        self.workspace.insert_shown.connect(self._show_insert)
        for said in (self.workspace.said, self.workspace.refused, self.retouch.said):
            said.connect(self.say)
        self.retouch.changed.connect(self._follow)
        for turned in (self.retouch.opened, self.retouch.closed):
            turned.connect(lambda: self.show_stage("gather"))

    @cached_property
    def commands(self) -> CommandList:
        """Everything that can be done, over the window."""
        from cozy_burrow.app.shell.command_list import CommandList

        commands = CommandList(self, self, COMMANDS)
        self.dressing.add(commands)
        return commands

    def _command(self, name: str) -> None:
        run(self, next(command for command in COMMANDS if command.id == name))

    def _fill_menu(self) -> None:
        recent = [path for path in self.settings.recent() if path != self.workspace.path]
        self.bar.fill_menu(lambda name: self.actions_by_id[name], recent, self.desk.open_path)

    # What commands find here

    @property
    def inserts(self) -> InsertChooser:
        """The inserts of the project."""
        return self.bar.inserts

    @property
    def stage(self) -> Stage:
        """The stage that is shown."""
        return self.navigator.stage

    @property
    def undo_label(self) -> str | None:
        """Name of what undo would take back."""
        return self.navigator.screen.undoes.undo_label

    @property
    def redo_label(self) -> str | None:
        """Name of what redo would do again."""
        return self.navigator.screen.undoes.redo_label

    def undo(self) -> None:
        """Take the last change back."""
        self.navigator.screen.undoes.undo()

    def redo(self) -> None:
        """Do again what was taken back."""
        self.navigator.screen.undoes.redo()

    def fit(self) -> None:
        """Show everything of what is in the middle."""
        self.navigator.screen.lens.fit()

    def zoom(self, times: float) -> None:
        """Look closer, or from farther off."""
        self.navigator.screen.lens.zoom(times)

    def screen_of(self, stage: Stage) -> Screen:
        """Return a stage's screen, made now if it was not yet."""
        return self.navigator.screens[stage]

    def show_stage(self, stage: Stage) -> None:
        """Look at the document as a stage does."""
        self.navigator.show(stage)

    def next_finding(self) -> None:
        """Choose the next check and go where it is mended."""
        self.pointing.next()

    def flip_units(self) -> None:
        """Show lengths in the other unit."""
        self.workspace.set_unit("inch" if self.workspace.unit == "mm" else "mm")

    def flip_theme(self) -> None:
        """Change between light and dark."""
        self.set_theme("lamp" if self.theme_name == "light" else "light")

    def set_theme(self, name: ThemeName, *, chosen: bool = True) -> None:
        """Dress the window. chosen: by a person, for good; otherwise the desktop is followed on."""
        with busy():
            self.theme_name, self._theme = name, load_theme(name)
            app = QApplication.instance()
            assert isinstance(app, QApplication)
            apply_theme(app, self._theme, scale=self.type_scale)
            self.dressing.change(sheet_of(self._theme, scale=self.type_scale))
            for part in (self.path, self.plan, self.section, self.checks, self.navigator):
                part.set_theme(self._theme)
            for setting in (LAST_THEME, THEME) if chosen else (LAST_THEME,):
                self.settings.set(setting, name)
            self._follow()

    def show_help(self, topic: str = "") -> None:
        """Show the help where it tells of a check or of a chapter; of this stage where nothing is named."""
        from cozy_burrow.app.help.opening import show_help

        show_help(self, self, COMMANDS, topic or (self.stage if self.workspace.project.items else ""))

    def say(self, text: str) -> None:
        """Say something on the status line."""
        self.statusBar().showMessage(text, 12_000)

    # Following the document

    def _say_recovery_is_off(self, why: str, where: str) -> None:
        self.notices.tell(
            "recovery",
            tr("Recovery is off, save often: {why}.", why=why),
            tr("No copy of unsaved work can be kept, so after a crash it would be gone. {where}", where=where),
        )

    def _keep_look(self) -> None:
        self.settings.set(PLAN_LOOK, "picture" if self.plan.is_lit else "drawing")
        self.settings.set(PLAN_NAMES, "yes" if self.plan.is_named else "no")

    def _follow(self) -> None:
        workspace = self.workspace
        dirty, title = workspace.is_dirty or self.retouch.has_work, workspace.project.title
        self.bar.show_project(title, dirty=dirty, undo=self.undo_label, redo=self.redo_label)
        self.setWindowTitle(tr("{how}{title} · Cozy Burrow", how="* " if dirty else "", title=title))
        self._line.show_choices(unit=workspace.unit, is_light=self.theme_name == "light")

    def _show_opened(self) -> None:
        """Another document lies here: what was begun for the one before ends, what was to be kept was asked for."""
        self.navigator.document_opened()
        self.retouch.close()
        self.show_stage("lay-out" if self.workspace.project.items else "gather")

    def _go(self, name: str) -> None:
        stage = next((one for one in STAGES if one == name), None)
        if stage is not None:
            self.show_stage(stage)

    def _show_insert(self) -> None:
        self.show_stage(self.stage)
        self.plan.fit()

    def _show_cursor(self, point: Point) -> None:
        self._line.show_cursor(point, self.workspace.length, self.plan.px_per_mm / (self.logicalDpiX() / 25.4))

    # Qt's own

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter presses the button that has the focus, as the space bar does; every other key is Qt's."""
        button = self.focusWidget()
        if event.key() in {Qt.Key.Key_Return, Qt.Key.Key_Enter} and isinstance(button, QAbstractButton):
            button.click()
            return
        super().keyPressEvent(event)

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        """Items from the tray, files and pictures may be dropped here."""
        self.drops.enter(event)

    def dragMoveEvent(self, event: QDragMoveEvent) -> None:
        """An item may be dropped on the plan only."""
        self.drops.move(event)

    def dropEvent(self, event: QDropEvent) -> None:
        """Lay the item in where it was dropped, or take the files."""
        self.drops.drop(event)

    def changeEvent(self, event: QEvent) -> None:
        """Back from another window: prices and shelf may have been changed there."""
        super().changeEvent(event)
        if event.type() == QEvent.Type.ActivationChange and self.isActiveWindow():
            self.stores.look_again()

    def closeEvent(self, event: QCloseEvent) -> None:
        """Leave in order: ask about unsaved work, stop the search, take the recovery copy away."""
        if self._has_left:
            return
        if not self.desk.may_leave():
            event.ignore()
            return
        self._has_left = True
        self.hide()  # nobody looks at a window that waits for what is still at work
        self.arranging.abandon()
        stop_all()
        QThreadPool.globalInstance().waitForDone(LONGEST_END_MS)
        self.workspace.document_changed.disconnect(self.autosave.follow)  # nothing is kept any more
        self.retouch.changed.disconnect(self.autosave.follow)
        self.autosave.store.close()
        self.desk.close()
        self.settings.write()
        event.accept()
