"""What a monkey can do to the window: commands, clicks, drags, keys, rubbish, files, searches, storms of undo.

Each action is a name and a number: the number seeds its chances, so the same action on the same window does the same.
"""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from unittest.mock import patch

from PySide6.QtCore import QEventLoop, QMimeData, QPoint, QPointF, Qt, QTimer, QUrl
from PySide6.QtGui import QDesktopServices, QDropEvent, QWheelEvent
from PySide6.QtPrintSupport import QPrintDialog
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QAbstractScrollArea,
    QAbstractSlider,
    QApplication,
    QCheckBox,
    QComboBox,
    QDialog,
    QFileDialog,
    QGraphicsView,
    QLineEdit,
    QMenu,
    QMessageBox,
    QSpinBox,
    QWidget,
)

from cozy_burrow.app.desk import ask
from cozy_burrow.app.frame.command import run
from cozy_burrow.app.screens.gather.screen import GatherScreen
from cozy_burrow.app.screens.lay_out.tray import MIME
from cozy_burrow.app.shell.commands import COMMANDS
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.model.stages import STAGES

NOT_HERE = {"project.quit"}
NO_ACTION = {"Quit"}
RUBBISH = (
    "0", "-1", "1e9", "nan", "inf", "-0.0001", "1/0", "1 1/8in", "12", "3.2", "50", "400", "1e-59", "½", "９",
    "x" * 5_000, "1" * 400, "7/" + "9" * 5_000, "\u202e12 mm\u202c", "🪛🔨", "مفتاح", "a\x00b", "\t\n", "−5", "", " ",
    "<b>bold</b>", "%s %d {0}", "../../etc", "'; --",
)  # fmt: skip
ODD_KEYS = (
    Qt.Key.Key_Escape, Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Backtab, Qt.Key.Key_Space, Qt.Key.Key_Delete,
    Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Home, Qt.Key.Key_End,
    Qt.Key.Key_PageUp, Qt.Key.Key_PageDown, Qt.Key.Key_Backspace, Qt.Key.Key_A, Qt.Key.Key_5, Qt.Key.Key_F2,
)  # fmt: skip
LEFT = Qt.MouseButton.LeftButton
MODIFIERS = (
    Qt.KeyboardModifier.NoModifier,
    Qt.KeyboardModifier.NoModifier,
    Qt.KeyboardModifier.ControlModifier,
    Qt.KeyboardModifier.ShiftModifier,
)


class Hands:
    """The monkey's hands on one window. folder: where its files lie; beat: hears that the window lives, in a wait."""

    def __init__(self, window: Window, folder: Path, beat: Callable[[], None], *, heavy: bool = True) -> None:
        self.window, self.folder, self.beat = window, folder, beat
        self.kept: list[Finding] = []  # checks that were seen once and may hold no more
        self.keys: list[str] = []  # things that were in the tray once
        self.chance = random.Random(0)
        self._popups = QTimer()  # a menu that a key opened runs a loop of its own until somebody answers
        self._popups.timeout.connect(self._answer_popup)
        self._popups.start(20)
        self._kinds: list[tuple[float, str, Callable[[], None]]] = [
            (26, "command", self._command),
            (14, "plan", self._plan),
            (12, "scene", self._scene),
            (14, "field", self._field),
            (12, "button", self._button),
            (6, "mend", self._mend),
            (3, "stale", self._stale_mend),
            (3, "drop", self._drop),
            (3, "storm", self._storm),
            (3, "search", self._search),
            (3, "stage", self._stage),
            (2, "key", self._key),
            (2, "insert", self._insert),
            (1.5, "file", self._file),
            (1, "shape", self._shape),
            (1, "list", self._list),
            (0.6, "photo", self._photo) if heavy else (0.0, "photo", self._photo),
        ]

    @property
    def names(self) -> list[str]:
        """What this monkey can do."""
        return [name for _, name, _ in self._kinds]

    def choose(self, chance: random.Random) -> tuple[str, int]:
        """Return an action by chance."""
        weights = [weight for weight, _, _ in self._kinds]
        return chance.choices(self.names, weights)[0], chance.randrange(1 << 30)

    def act(self, name: str, number: int) -> None:
        """Do one action, and let the window follow."""
        self.chance = random.Random(number)
        next(do for _, one, do in self._kinds if one == name)()
        self._take_turn()
        if "commands" in self.window.__dict__:
            self.window.commands.hide()
        for other in QApplication.topLevelWidgets():
            if isinstance(other, QMenu | QDialog) or (other is not self.window and other.isWindow()):
                other.close()

    def _take_turn(self) -> None:
        """Give the event loop its turn, as it has between two moves of a hand: what comes after is timed anew."""
        self.beat()
        QApplication.processEvents()
        self.beat()

    def _answer_popup(self) -> None:
        popup = QApplication.activePopupWidget()
        if isinstance(popup, QMenu) and popup.actions() and self.chance.random() < 0.5:
            action = self.chance.choice(popup.actions())
            popup.close()
            if action.menu() is None and action.text() not in NO_ACTION:
                action.trigger()
        elif popup is not None:
            popup.close()

    def _run_a_while(self, ms: int) -> None:
        """Let the window live for a while."""
        loop, beats, end = QEventLoop(), QTimer(), QTimer()
        beats.timeout.connect(self.beat)
        end.timeout.connect(loop.quit)
        beats.start(20)
        end.start(ms)
        loop.exec()
        beats.stop()
        end.stop()

    # One kind of action each

    def _command(self) -> None:
        run(self.window, self.chance.choice([one for one in COMMANDS if one.id not in NOT_HERE]))

    def _stage(self) -> None:
        self.window.show_stage(self.chance.choice(STAGES))

    def _shape(self) -> None:
        self.window.resize(self.chance.randrange(700, 1800), self.chance.randrange(500, 1200))

    def _plan(self) -> None:
        view = self.window.plan
        if not view.isVisible():
            self.window.show_stage(self.chance.choice(("lay-out", "sink", "grip", "measure")))
        self._pester(view.viewport(), near=self._place_of_a_thing())

    def _place_of_a_thing(self) -> QPointF | None:
        placements = self.window.workspace.insert.placements
        if not placements or self.chance.random() < 0.35:
            return None
        one = self.chance.choice(placements)
        return QPointF(self.window.plan.viewportTransform().map(QPointF(one.x_mm, one.y_mm)))

    def _scenes(self) -> list[QWidget]:
        """Return every visible widget that paints itself by this program's own hand."""
        found = []
        for widget in self.window.findChildren(QWidget):
            if not widget.isVisible() or type(widget).__module__.startswith("PySide6"):
                continue
            if isinstance(widget, QGraphicsView | QAbstractScrollArea):
                found.append(widget.viewport())
            elif "paintEvent" in type(widget).__dict__:
                found.append(widget)
        return found

    def _scene(self) -> None:
        scenes = self._scenes()
        if scenes:
            self._pester(self.chance.choice(scenes))

    def _pester(self, widget: QWidget, *, near: QPointF | None = None) -> None:
        """Click, drag, hover, turn the wheel or press a key on a widget."""
        chance = self.chance
        width, height = max(1, widget.width()), max(1, widget.height())
        start = near if near is not None else QPointF(chance.uniform(0, width), chance.uniform(0, height))
        far = chance.choice((8.0, 60.0, 400.0, 3000.0))
        end = start + QPointF(chance.uniform(-far, far), chance.uniform(-far, far))
        button = chance.choice(
            (Qt.MouseButton.LeftButton,) * 5 + (Qt.MouseButton.MiddleButton, Qt.MouseButton.RightButton)
        )
        modifier = chance.choice(MODIFIERS)
        at, to = start.toPoint(), end.toPoint()
        match chance.choice(("drag", "drag", "drag", "click", "click", "double", "hover", "wheel", "key", "half")):
            case "drag":
                QTest.mousePress(widget, button, modifier, at)
                for step in (0.3, 0.7, 1.0):
                    QTest.mouseMove(widget, (start + (end - start) * step).toPoint())
                    self._take_turn()
                if chance.random() < 0.15:
                    self._meanwhile()
                QTest.mouseRelease(widget, button, modifier, to)
            case "click":
                QTest.mouseClick(widget, button, modifier, at)
            case "double":
                QTest.mouseDClick(widget, button, modifier, at)
            case "hover":
                QTest.mouseMove(widget, at)
            case "wheel":
                event = QWheelEvent(
                    start, widget.mapToGlobal(start), QPoint(), QPoint(0, chance.choice((-1200, -120, 120, 1200))),
                    Qt.MouseButton.NoButton, modifier, Qt.ScrollPhase.NoScrollPhase, False,
                )  # fmt: skip
                QApplication.sendEvent(widget, event)
            case "key":
                widget.setFocus()
                QTest.keyClick(widget, chance.choice(ODD_KEYS), modifier)
            case "half":  # pressed and never let go: the window may lose the mouse
                QTest.mousePress(widget, button, modifier, at)
                QTest.mouseMove(widget, to)

    def _meanwhile(self) -> None:
        """Pull the ground away from under what is being done."""
        window = self.window
        match self.chance.randrange(4):
            case 0:
                window.undo()
            case 1:
                window._command("gather.forget")
            case 2:
                window.inserts.remove()
            case 3:
                window.show_stage(self.chance.choice(STAGES))

    def _field(self) -> None:
        chance = self.chance
        fields = [
            one for kind in (QLineEdit, QSpinBox, QComboBox, QCheckBox, QAbstractSlider)
            for one in self.window.findChildren(kind) if one.isVisible() and one.isEnabled()
        ]  # fmt: skip
        if not fields:
            return
        field = chance.choice(fields)
        if isinstance(field, QLineEdit):
            field.setFocus()
            field.selectAll()
            text = chance.choice(RUBBISH) if chance.random() < 0.7 else f"{chance.uniform(0.1, 700):.1f}"
            field.insert(text)
            field.setModified(True)
            if chance.random() < 0.15:
                self._meanwhile()
            QTest.keyClick(field, chance.choice((Qt.Key.Key_Return, Qt.Key.Key_Return, Qt.Key.Key_Tab)))
        elif isinstance(field, QSpinBox):
            field.setValue(chance.choice((field.minimum(), field.maximum(), chance.randint(0, 12))))
        elif isinstance(field, QComboBox) and field.count():
            field.setCurrentIndex(chance.randrange(field.count()))
            field.activated.emit(field.currentIndex())
        elif isinstance(field, QCheckBox):
            field.click()
        elif isinstance(field, QAbstractSlider):
            field.setValue(chance.choice((field.minimum(), field.maximum(), chance.randint(0, 100))))

    def _button(self) -> None:
        buttons = [
            one for one in self.window.findChildren(QAbstractButton)
            if one.isVisible() and one.isEnabled() and not getattr(one, "menu", lambda: None)()
        ]  # fmt: skip
        if buttons:
            self.chance.choice(buttons).click()

    def _list(self) -> None:
        views = [one for one in self.window.findChildren(QAbstractItemView) if one.isVisible() and one.model()]
        if views:
            view = self.chance.choice(views)
            rows = view.model().rowCount()
            if rows:
                view.setCurrentIndex(view.model().index(self.chance.randrange(rows), 0))

    def _mend(self) -> None:
        findings = self.window.workspace.findings_seen
        if findings:
            self.kept = [*self.kept, *self.chance.sample(findings, min(3, len(findings)))][-40:]
            self.window.checks.choose(self.chance.randrange(len(findings)))
            self.window.checks.mend_current()

    def _stale_mend(self) -> None:
        """Take a check that was seen some time ago."""
        if self.kept:
            finding = self.chance.choice(self.kept)
            self.window.checks.mending.take(finding, finding.mends)
            self.window.plan.point_to(finding)
            self.window.pointing.point_to(finding)

    def _drop(self) -> None:
        """Drop something from the tray on the plan, now and then something that is not there any more, or files."""
        window, chance = self.window, self.chance
        if chance.random() < 0.2:
            self._drop_files()
            return
        window.show_stage("lay-out")
        here = [f"{item.id}#{copy}" for item in window.workspace.project.items for copy in (1, item.quantity)]
        self.keys = [*self.keys, *here[:3]][-30:]
        keys = [*here, *self.keys, "item-99#1", "#", "nonsense", ""]
        data = QMimeData()
        data.setData(MIME, chance.choice(keys).encode())
        view = window.plan.viewport()
        spot = QPointF(chance.uniform(0, view.width()), chance.uniform(0, view.height()))
        at = QPointF(view.mapTo(window, spot.toPoint()))
        event = QDropEvent(at, Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, MODIFIERS[0])
        window.dropEvent(event)
        if chance.random() < 0.5:
            window.laying_in.lay_in_best(chance.choice(keys))

    def _drop_files(self) -> None:
        data = QMimeData()
        data.setUrls([QUrl.fromLocalFile(str(path)) for path in self.chance.choices(self.files(), k=3)])
        at, window = QPointF(self.window.rect().center()), self.window
        window.dropEvent(QDropEvent(at, Qt.DropAction.CopyAction, data, LEFT, MODIFIERS[0]))

    def _storm(self) -> None:
        for _ in range(self.chance.choice((2, 5, 30))):
            (self.window.undo if self.chance.random() < 0.65 else self.window.redo)()
            self.beat()
            if self.chance.random() < 0.2:
                QApplication.processEvents()

    def _search(self) -> None:
        """Begin a search, let it run a little, pull something away under it, stop it or not."""
        window, chance = self.window, self.chance
        window.arranging.begin(chance.choice(("all", "improve", "selection", "inserts")))
        self._run_a_while(chance.choice((10, 120, 400)))
        if chance.random() < 0.6:
            self._meanwhile()
        if chance.random() < 0.6:
            window.arranging.stop()
        self._run_a_while(60)

    def _key(self) -> None:
        """Press a key wherever the focus is."""
        focus = QApplication.focusWidget() or self.window
        for _ in range(self.chance.choice((1, 1, 4))):
            QTest.keyClick(focus, self.chance.choice(ODD_KEYS), self.chance.choice(MODIFIERS))

    def _insert(self) -> None:
        window, chance = self.window, self.chance
        match chance.randrange(3):
            case 0 if len(window.workspace.project.inserts) < 8:
                window.inserts.add_tier()
            case 1:
                window.inserts.remove()
            case _:
                window.inserts.step(chance.choice((-1, 1)))

    def _file(self) -> None:
        window, chance = self.window, self.chance
        match chance.randrange(6):
            case 0:
                window.desk.save_to(self.folder / "mine.burrow")
            case 1:
                window.desk.open_path(chance.choice(self.files()))
            case 2:
                window.autosave.keep_aside()
            case 3:
                for copy in window.autosave.store.left_behind():
                    window.desk.bring_back(copy)
            case 4:
                window.desk.new_project() if chance.random() < 0.3 else window.desk.open_demo()
            case 5:
                window.desk.ask_save()

    def _photo(self) -> None:
        window = self.window
        if window.retouch.is_open and self.chance.random() < 0.5:
            return
        GatherScreen.of(window).show_way("Photo")
        GatherScreen.of(window).add.pictures.take_demo_photo()
        self._run_a_while(self.chance.choice((100, 4_000)))

    def files(self) -> list[Path]:
        """Return files to be opened: good ones, broken ones, none at all."""
        return [self.folder / name for name in ("mine.burrow", "broken.burrow", "kit.csv", "missing.svg", "tool.svg")]

    @contextmanager
    def no_dialogs(self) -> Iterator[None]:
        """Answer every dialog by chance, at once."""

        def opened(*_: object, **__: object) -> tuple[str, str]:
            return (str(self.chance.choice(self.files())), "") if self.chance.random() < 0.6 else ("", "")

        def saved(*_: object, **__: object) -> tuple[str, str]:
            name = self.chance.choice(("", "kit", "kit v1.5", "mine.burrow", "a/b/c", "x" * 300, "out.pdf"))
            return (str(self.folder / name) if name else "", "")

        with (
            patch.object(QFileDialog, "getOpenFileName", opened),
            patch.object(QFileDialog, "getSaveFileName", saved),
            patch.object(QFileDialog, "getExistingDirectory", lambda *_, **__: str(self.folder / "papers")),
            patch.object(ask, "which", lambda *asked: self.chance.randrange(len(asked[-1]))),
            patch.object(QMessageBox, "warning", lambda *_, **__: QMessageBox.StandardButton.Ok),
            patch.object(QDialog, "exec", lambda *_: 0),
            patch.object(QPrintDialog, "exec", lambda *_: 0),
            patch.object(QMenu, "exec", lambda *_, **__: None),
            patch.object(QDesktopServices, "openUrl", lambda *_: True),
        ):
            yield


def fill(folder: Path) -> None:
    """Lay files into a folder for the monkey to open."""
    from cozy_burrow.demo.shipped import demo_project
    from cozy_burrow.storage.project_file import save

    save(demo_project(), folder / "mine.burrow")
    (folder / "broken.burrow").write_bytes((folder / "mine.burrow").read_bytes()[:900])
    (folder / "kit.csv").write_text("name,shape,length,width,thickness\nwedge,box,60,20,12\nbottle,round,90,40,\n")
    (folder / "tool.svg").write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="20mm" viewBox="0 0 80 20">'
        '<path d="M0 0H80V20H0Z"/></svg>'
    )
    (folder / "papers").mkdir(exist_ok=True)
