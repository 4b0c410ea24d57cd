"""The document that is open: its history, what follows from it, what is selected. Everything shown reads it."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QObject, Signal

from cozy_burrow.app.desk.judge import Judge
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.ground.ground import Ground, ground_of, ground_soon
from cozy_burrow.core.model.coherence import check_coherent
from cozy_burrow.core.model.edits import container_of, insert_of
from cozy_burrow.core.model.history import History, begin, record, redo, undo
from cozy_burrow.core.model.memo import turn_page
from cozy_burrow.core.model.records import Container, Insert, Item, Project
from cozy_burrow.core.model.touched import Touched, touched
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit, format_length


@dataclass(frozen=True)
class _Home:
    """Where a project is saved, and as what."""

    path: Path | None
    saved: Project


@dataclass
class _Crossing:
    """A step of undo that led to another document: each side of it has a home of its own."""

    project: Project
    before: _Home
    after: _Home


class Workspace(QObject):
    """Holds the history; `do` is the one door through which the project changes."""

    document_changed = Signal()
    selection_changed = Signal()
    item_chosen = Signal()
    said = Signal(str)
    refused = Signal(str)
    insert_shown = Signal()
    troubles_changed = Signal()
    judged = Signal()
    patience_s = 0.02  # that pockets are cut for before the plan is shown with first guesses

    def __init__(self, project: Project, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.history: History = begin(project)
        self.path: Path | None = None
        self.saved: Project = project
        self.insert_id = project.inserts[0].id
        self.selection: tuple[str, ...] = ()
        self.item_id: str | None = None
        self.zone = 0
        self.troubles: dict[str, str] = {}
        self._gesture = 0
        self._last_gesture = -1
        self.opened_count = 0  # which document this is: what was begun for another one does not belong here
        self._crossings: list[_Crossing] = []
        self.touched = Touched()  # by the change that `document_changed` tells of
        self._told, self._telling = project, 0  # what everybody was told of; how many changes are being told
        self.ground: Ground = self._ground_soon(None)
        self._judge = Judge(lambda: self.project, lambda: self.insert_id, self)
        self._judge.judged.connect(self._hear_judged)
        self.document_changed.connect(lambda: self._judge.begin(in_gesture=self.is_in_gesture))

    @property
    def findings(self) -> tuple[Finding, ...]:
        """The findings of the project as it is now, worked out at once: for what must not act on old ones."""
        return self._judge.findings

    @property
    def findings_seen(self) -> tuple[Finding, ...]:
        """The findings that were last worked out: what is shown, some frames old while a hand moves or work goes on."""
        return self._judge.seen

    @property
    def is_judged(self) -> bool:
        """Whether the findings seen are those of the project as it is now."""
        return self._judge.is_judged

    def judge(self) -> None:
        """Begin to work out the findings."""
        self._judge.begin(in_gesture=False)

    @property
    def project(self) -> Project:
        """The project that is shown."""
        return self.history.project

    @property
    def insert(self) -> Insert:
        """The insert that is worked on."""
        return insert_of(self.project, self.insert_id)

    @property
    def container(self) -> Container:
        """The container that the insert stands in."""
        return container_of(self.project, self.insert)

    @property
    def is_in_gesture(self) -> bool:
        """Whether the last change is part of a drag or of a row of nudges that may go on."""
        return self._last_gesture == self._gesture

    @property
    def is_late(self) -> bool:
        """Whether what follows from the plan is worked out beside the window just now, and should not be asked for.

        In a drag little changes at a time, and nobody waits.
        """
        return not (self.is_judged or self.is_in_gesture)

    @property
    def unit(self) -> Unit:
        """The unit that lengths are shown in."""
        return self.project.units

    @property
    def is_dirty(self) -> bool:
        """Whether there is something that is not saved."""
        return self.project is not self.saved

    def length(self, length_mm: float, *, digits: int = 1) -> str:
        """Return a length in the unit of the project."""
        return format_length(length_mm, self.unit, digits=digits)

    def _ground_soon(self, before: Ground | None) -> Ground:
        end = time.monotonic() + self.patience_s
        return ground_soon(self.project, self.insert, in_time=lambda: time.monotonic() < end, before=before)

    def _derive(self) -> None:
        self.touched = touched(self._told, self.project)
        if all(insert.id != self.insert_id for insert in self.project.inserts):
            self.insert_id = self.project.inserts[0].id
        turn_page()
        self.ground = self._ground_soon(self.ground)
        self._judge.document_changed(in_gesture=self.is_in_gesture)
        laid = {one.id for one in self.insert.placements}
        self.selection = tuple(one for one in self.selection if one in laid)
        if self.item_id is not None and all(item.id != self.item_id for item in self.project.items):
            self.item_id = None
        zones = [len(self.ground.pockets[key].item.zones) for key in self.selection]
        if zones and self.zone >= min(zones):
            self.zone = 0

    def _tell(self) -> None:
        """Tell of a change. Where a listener makes another one, whoever is told after it is told of both."""
        self._telling += 1
        self.document_changed.emit()
        self._telling -= 1
        if not self._telling:
            self._told = self.project

    def _turn(self, *, anew: bool = False) -> None:
        """Show what the history holds by now. anew: another document, to which nothing belongs that fields refused."""
        self._last_gesture = -1
        self._derive()
        self._tell()
        if anew:  # only now: a field that is hidden for it hands on what was half typed
            self.troubles.clear()
            self.troubles_changed.emit()

    def _hear_judged(self) -> None:
        """All seats are judged by now: what was a first guess on the plan need not be one any more."""
        if self.is_judged and self.ground.guessed:
            self.ground = ground_of(self.project, self.insert)
            self._tell()
        self.judged.emit()

    def open(self, project: Project, path: Path | None, *, saved: bool = True) -> None:
        """Show another project; its history begins anew."""
        self.opened_count += 1
        self._crossings.clear()
        self._judge.forget()
        self.history = begin(project)
        self.path, self.saved = path, project if saved else Project()
        self.insert_id = project.inserts[0].id
        self.selection, self.item_id, self.zone = (), None, 0
        self._turn(anew=True)
        self.selection_changed.emit()

    def bring_in(self, label: str, project: Project, path: Path | None, *, saved: Project | None = None) -> None:
        """Show another project as a step of undo: taken back, the one before is there again, and where it is saved.

        saved: the project as it lies in the file; None: nothing of this is saved.
        """
        before = _Home(self.path, self.saved)
        self.opened_count += 1
        self.history = record(self.history, label, project, join=False)
        self.path, self.saved = path, saved if saved is not None else Project()
        self._crossings.append(_Crossing(self.history.project, before, _Home(self.path, self.saved)))
        self._turn(anew=True)
        self.selection_changed.emit()
        self.said.emit(label)

    def show_insert(self, insert_id: str) -> None:
        """Turn to another insert of the project; nothing happens where it is not there any more."""
        if insert_id == self.insert_id or all(insert.id != insert_id for insert in self.project.inserts):
            return
        self.insert_id = insert_id
        self.selection, self.zone = (), 0
        self._derive()
        self._tell()
        self.selection_changed.emit()
        self.insert_shown.emit()

    @property
    def findings_here(self) -> tuple[Finding, ...]:
        """The findings that have a place in the insert that is shown, as they were last worked out in a drag."""
        here = set(self.ground.pockets)
        return tuple(one for one in self.findings_seen if here.intersection(one.placements))

    def set_trouble(self, place: str, sentence: str) -> None:
        """Note what a field refused, for the list of checks; an empty sentence: it is well again."""
        before = dict(self.troubles)
        if sentence:
            self.troubles[place] = sentence
        else:
            self.troubles.pop(place, None)
        if self.troubles != before:
            self.troubles_changed.emit()

    def begin_gesture(self) -> None:
        """From here on, changes of one name are one step of undo (a drag, a row of nudges)."""
        self._gesture += 1

    def do(self, label: str, project: Project, *, in_gesture: bool = False) -> None:
        """Make a change; nothing happens where the project is the same.

        Raises Incoherent, with everything as it was, for a project that could not be worked with.
        """
        if project is self.project or project == self.project:
            return
        check_coherent(project)
        join = in_gesture and self._last_gesture == self._gesture
        self.history = record(self.history, label, project, join=join)
        self._last_gesture = self._gesture if in_gesture else -1
        self._derive()
        self._tell()
        if not in_gesture:
            self.said.emit(label)

    def attempt(self, label: str, change: Callable[[], Project], *, in_gesture: bool = False) -> bool:
        """Make a change that may not be possible; says why where it is not, and returns whether it was made."""
        try:
            project = change()
        except UnusableInput as error:
            self.refused.emit(error.sentence())
            return False
        self.do(label, project, in_gesture=in_gesture)
        return True

    def do_instead(self, label: str, project: Project) -> None:
        """Make a change in place of the last one: undo then leads to what was before both."""
        check_coherent(project)
        self.history = record(undo(self.history), label, project, join=False)
        self._turn()
        self.said.emit(label)

    @property
    def undo_label(self) -> str | None:
        """Name of what undo would take back."""
        return self.history.undo_label

    @property
    def redo_label(self) -> str | None:
        """Name of what redo would do again."""
        return self.history.redo_label

    def undo(self) -> None:
        """Take the last change back."""
        label = self.history.undo_label
        if label is not None:
            self._go(undo(self.history), tr("Undone: {label}", label=label))

    def redo(self) -> None:
        """Bring back what was taken back."""
        label = self.history.redo_label
        if label is not None:
            self._go(redo(self.history), tr("Redone: {label}", label=label))

    def _go(self, history: History, text: str) -> None:
        before, self.history = self.history, history
        for crossing in self._crossings:
            if before.index > history.index and before.project is crossing.project:
                crossing.after = _Home(self.path, self.saved)  # it may have been saved meanwhile
                self.path, self.saved = crossing.before.path, crossing.before.saved
                self.opened_count += 1
            elif before.index < history.index and history.project is crossing.project:
                self.path, self.saved = crossing.after.path, crossing.after.saved
                self.opened_count += 1
        self._turn()
        self.selection_changed.emit()
        self.said.emit(text)

    def select(self, ids: Iterable[str]) -> None:
        """Select placements of the insert."""
        laid = {one.id for one in self.insert.placements}
        chosen = tuple(key for key in dict.fromkeys(ids) if key in laid)
        if chosen == self.selection:
            return
        self.selection, self.zone = chosen, 0
        if len(chosen) == 1:
            self.item_id = chosen[0].rpartition("#")[0]
            self.item_chosen.emit()
        self.selection_changed.emit()

    def choose_item(self, item_id: str | None) -> None:
        """Choose an item of the kit to look at and edit."""
        if item_id is not None and all(item.id != item_id for item in self.project.items):
            item_id = None
        if item_id != self.item_id:
            self.item_id = item_id
            self.item_chosen.emit()

    @property
    def item(self) -> Item | None:
        """The item that is chosen."""
        return next((item for item in self.project.items if item.id == self.item_id), None)

    def set_unit(self, unit: Unit) -> None:
        """Show lengths in another unit."""
        self.do(tr("Show inches") if unit == "inch" else tr("Show millimetres"), replace(self.project, units=unit))

    def mark_saved(self, path: Path) -> None:
        """Note that the project as it is lies in a file."""
        self.path, self.saved = path, self.project
        self._tell()
