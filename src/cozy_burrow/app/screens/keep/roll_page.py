"""Roll call: is everything home? From a photo of the open drawer, by taps, or down the list; and the log of it."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QListWidgetItem, QPushButton, QWidget

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.aside import Aside
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.frame.paged_panel import RefusingPage
from cozy_burrow.app.look.fields import NextOnEnter, head, rows, soft, verdict
from cozy_burrow.app.look.long_words import row_of
from cozy_burrow.app.look.reading_bar import ReadingBar
from cozy_burrow.app.screens.keep.roll import Call, Roll
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.keep.log import calls_of, missing_most
from cozy_burrow.core.model.kept import MOST_NOTE, Called, PlaceState
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.tongue import started, tr, trn
from cozy_burrow.jobs.roll_call import STATE_NAMES, absent_words, marks_for
from cozy_burrow.jobs.roll_log import log_text
from cozy_burrow.storage.whole_file import read_whole, write_whole

_KEY = Qt.ItemDataRole.UserRole + 1
_MOST_SHOWN, _MOST_OFTEN = 8, 4
_ORDER: dict[PlaceState, int] = {"empty": 0, "other": 1, "turned": 2, "unsure": 3, "filled": 4}
_SIGNS: dict[PlaceState, str] = {"empty": "✕", "other": "≠", "turned": "↻", "unsure": "?", "filled": "✓"}
_PICTURES = tr("Pictures (*.jpg *.jpeg *.png *.heic *.tif *.tiff)")


class RollPage(RefusingPage):
    """Calls, shows what was found, writes it down."""

    def __init__(self, workspace: Workspace, roll: Roll, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self._roll = roll
        self.aside = Aside(workspace, self)
        self._ordered_for: Call | None = None
        self._order: list[str] = []
        self._told: list[tuple[str, str, str]] = []
        roll.changed.connect(self._follow_if_seen)
        roll.refused.connect(self.refused)
        self._head = head("")
        self.column.addWidget(self._head)
        self.verdict = verdict(tip=tr("From the photo or by hand: rest the pointer on a row for the reason"))
        self.column.addWidget(self.verdict)
        self.photo_button = self._button(tr("From a photo…"), self._ask_photo, main=True)
        self.photo_button.setToolTip(tr("All four corner marks must be seen; from any side, by hand"))
        row = QHBoxLayout()
        self.hand_button = self._button(tr("By hand"), roll.begin, row=row)
        self.hand_button.setToolTip(
            tr("Everything is taken to be there; tap what is missing, on the plan or in the list")
        )
        self.demo_button = self._button(tr("Simulated photo"), roll.read_demo, row=row)
        self.demo_button.setToolTip(
            tr(
                "The camera that ships with the program: it takes out what is selected, or one or two items; now and "
                "then one lies the other way round, or two are swapped"
            )
        )
        self.column.addLayout(row)
        self.bar = ReadingBar(roll.stop)
        self.column.addWidget(self.bar)
        roll.progressed.connect(self.bar.show_share)
        self.list = rows(tr("Places, and whether each is filled"), least_px=96)
        self.list.itemActivated.connect(self._tap)
        self.list.itemClicked.connect(self._tap)
        self.list.currentItemChanged.connect(lambda item, _: self._point(item))
        self.column.addWidget(self.list, 1)
        self.note_field = NextOnEnter()  # which keeps the Enter to itself, though it is hidden by it
        self.note_field.setPlaceholderText(tr("Note, if you like"))
        self.note_field.setAccessibleName(tr("Note for the roll call"))
        self.note_field.setMaxLength(MOST_NOTE)
        self.note_field.returnPressed.connect(self.write_down)
        self.column.addWidget(self.note_field)
        row = QHBoxLayout()
        self.note_button = self._button(tr("Write it down"), self.write_down, row=row)
        self.drop_button = self._button(tr("Discard"), roll.drop, row=row)
        self.column.addLayout(row)
        self.log = soft("")
        self.column.addWidget(self.log)
        row = QHBoxLayout()
        self.log_button = self._button(tr("Save the log…"), self._ask_log, row=row)
        self.log_button.setToolTip(tr("A CSV table of all roll calls of this project"))
        self.marks_button = self._button(tr("Corner marks…"), self._ask_marks, row=row)
        self.marks_button.setToolTip(tr("Four stickers to print, as large as the corners of this foam have room for"))
        self.column.addLayout(row)
        self.follow()

    def _button(
        self, text: str, do: Callable[[], object], *, row: QHBoxLayout | None = None, main: bool = False
    ) -> QPushButton:
        button = QPushButton(text)
        if main:
            button.setObjectName("main")
        button.clicked.connect(lambda _=False: do())
        (self.column if row is None else row).addWidget(button)
        return button

    def follow(self) -> None:
        """Show the document, and what was found so far."""
        workspace, call = self._workspace, self._roll.call
        laid = bool(workspace.insert.placements)
        self._head.setText(tr("Is everything home? {insert}", insert=workspace.insert.name))
        self.verdict.setText(said_of(call, workspace))
        self._list(call)
        for button in (self.photo_button, self.hand_button, self.demo_button):
            button.setEnabled(laid and not self._roll.is_busy)
        for part in (self.note_field, self.note_button, self.drop_button):
            part.setVisible(call is not None)
        calls = calls_of(workspace.project, workspace.insert_id)
        self.log.setText(log_words(calls, workspace))
        self.log_button.setEnabled(bool(workspace.project.roll_calls))

    def _list(self, call: Call | None) -> None:
        """Show a row a place. Rows keep their order while they are tapped: a hand goes down the list.

        They are made anew only where they say something else: a press that chooses a row must still find it.
        """
        project = self._workspace.project
        keys = [one.id for one in self._workspace.insert.placements]
        states = call.states if call is not None else {}
        if call is not self._ordered_for or set(keys) != set(self._order):
            self._ordered_for = call
            self._order = sorted(
                keys, key=lambda key: (_ORDER[states.get(key, "filled")], placement_name(project, key).casefold())
            )
        told = []
        for key in self._order:
            name, state = row_of(placement_name(project, key)), states.get(key)
            text = f"{_SIGNS[state]}  {name}: {STATE_NAMES[state]}" if state else name
            told.append((key, text, call.why.get(key, "") if call is not None else ""))
        if told == self._told:
            return
        self._told, row = told, self.list.currentRow()
        self.list.blockSignals(True)
        self.list.clear()
        for key, text, why in told:
            item = QListWidgetItem(text)
            item.setData(_KEY, key)
            item.setToolTip(why)
            self.list.addItem(item)
        self.list.setCurrentRow(min(row, self.list.count() - 1))
        self.list.blockSignals(False)

    def _tap(self, item: QListWidgetItem) -> None:
        if not self._roll.is_busy:
            self._roll.tap(str(item.data(_KEY)))

    def _point(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            self._workspace.select((str(item.data(_KEY)),))

    def write_down(self) -> None:
        """Write the call down, with the note."""
        if self._roll.call is not None:
            self._roll.note(self.note_field.text())
            self.note_field.clear()

    # Files

    def _ask_photo(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, tr("Choose a photo of the open drawer"), "", _PICTURES)
        if path:
            self.read_photo(Path(path))

    def read_photo(self, path: Path) -> None:
        """Read a photo file."""
        try:
            self._roll.read(read_whole(path), path.name)
        except UnusableInput as error:
            self.refused.emit(error.sentence())

    def _ask_log(self) -> None:
        path = ask.target(self, tr("Save the log of roll calls"), "roll-calls.csv", tr("CSV tables (*.csv)"), ".csv")
        if path is not None:
            self._write(path, lambda: log_text(self._workspace.project).encode())

    def _ask_marks(self) -> None:
        path = ask.target(self, tr("Write the corner marks"), "corner-marks.pdf", tr("PDF (*.pdf)"), ".pdf")
        if path is not None:
            insert_id = self._workspace.insert_id
            self.aside.run(
                lambda project: marks_for(project, insert_id), lambda found: self._write_marks(path, *found), tell=False
            )

    def _write_marks(self, path: Path, data: bytes, size_mm: float | None) -> None:
        if self._write(path, lambda: data):
            size = tr("on the frame: the corners of this foam have no room for them")
            if size_mm is not None:
                size = tr("in the corners of the foam, {size} wide", size=self._workspace.length(size_mm, digits=0))
            self._workspace.said.emit(tr("Wrote {name}: print at 100 %, stick them {size}", name=path.name, size=size))

    def _write(self, path: Path, make: Callable[[], bytes]) -> bool:
        try:
            write_whole(path, make())
        except UnusableInput as error:
            self.refused.emit(error.sentence())
            return False
        self.refused.emit("")
        self._workspace.said.emit(tr("Wrote {name}", name=path.name))
        return True


def said_of(call: Call | None, workspace: Workspace) -> str:
    """Return what a call comes to, in a sentence or two."""
    count = len(workspace.insert.placements)
    if call is None:
        if not count:
            return tr("This insert is empty.")
        return trn("{count} item has its place here.", "{count} items have their places here.", count)
    states = list(call.states.values())
    if all(state == "filled" for state in states):
        return trn("Everything is home: {count} item.", "Everything is home: {count} items.", len(states))
    parts = []
    for state in ("empty", "other", "turned", "unsure"):
        names = [placement_name(workspace.project, key) for key, one in call.states.items() if one == state]
        if names:
            shown = ", ".join(row_of(name) for name in names[:4])
            more = tr(" and {count} more", count=len(names) - 4) if len(names) > 4 else ""
            parts.append(f"{started(STATE_NAMES[state])}: {shown}{more}.")
    if "unsure" in states:
        parts.append(tr("Tap what is unsure: once if it is there, twice if it is missing."))
    return "\n".join(parts)


def log_words(calls: tuple[Called, ...], workspace: Workspace) -> str:
    """Return the last calls of an insert and what is missing most often, in a few lines."""
    if not calls:
        return tr("No roll call has been written down here yet.")
    lines = [tr("Written down:")]
    for call in calls[:_MOST_SHOWN]:
        note = f" ({row_of(call.note)})" if call.note else ""
        lines.append(f"{call.at.replace('T', ' ')}  {absent_words(call)}{note}")
    if len(calls) > _MOST_SHOWN:
        lines.append(tr("and {count} earlier ones", count=len(calls) - _MOST_SHOWN))
    often = [one for one in missing_most(workspace.project, workspace.insert_id) if one.missing > 1][:_MOST_OFTEN]
    if often:
        told = ", ".join(
            tr("{name} ({missing} of {calls})", name=row_of(one.name), missing=one.missing, calls=one.calls)
            for one in often
        )
        lines.append(tr("Missing most often: {told}", told=told))
    return "\n".join(lines)
