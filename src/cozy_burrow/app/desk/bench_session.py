"""What lies on the retouch bench: a picture, the drafts over it, two marks, and an undo of its own."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtCore import QObject, Signal
from shapely.geometry import Point as ShapelyPoint

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.tongue import tr

if TYPE_CHECKING:  # a tenth of a second of every start, for a bench that few starts need
    from cozy_burrow.core.capture.retouch.draft import Draft, Table
    from cozy_burrow.jobs.capture import Capture

_MOST_STEPS = 300


class RetouchSession(QObject):
    """Holds the table and its history; `do` is the one door through which it changes."""

    changed = Signal()
    marks_moved = Signal()
    opened = Signal()
    closed = Signal()
    said = Signal(str)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.capture: Capture | None = None
        self._steps: list[tuple[str, Table]] = []
        self._index = 0
        self.marks: tuple[Point, Point] = ((0.0, 0.0), (0.0, 0.0))
        self.active_mark = 0
        self._is_restored = False

    @property
    def has_work(self) -> bool:
        """Whether a hand has done something here that a new look at the picture would not bring back."""
        return self.is_open and (self._index > 0 or self._is_restored)

    @property
    def is_open(self) -> bool:
        """Whether a picture lies on the bench."""
        return self.capture is not None

    @property
    def table(self) -> Table:
        """The drafts as they are now."""
        return self._steps[self._index][1]

    @property
    def draft(self) -> Draft:
        """The draft that is worked on."""
        return self.table.draft

    @property
    def undo_label(self) -> str | None:
        """Name of the change that undo would take back, or None."""
        return self._steps[self._index][0] if self._index > 0 else None

    @property
    def redo_label(self) -> str | None:
        """Name of the change that redo would bring back, or None."""
        return self._steps[self._index + 1][0] if self._index + 1 < len(self._steps) else None

    def open(self, capture: Capture, *, restored: Table | None = None) -> None:
        """Lay a new picture on the bench. restored: drafts that were worked on before the program was killed."""
        self.capture = capture
        self._steps, self._index = [("", restored or capture.table)], 0
        self._is_restored = restored is not None
        self._place_marks()
        self.opened.emit()
        self.changed.emit()

    def close(self) -> None:
        """Take the picture off the bench."""
        if self.capture is None:
            return
        self.capture = None
        self.closed.emit()
        self.changed.emit()

    def do(self, label: str, change: Callable[[Table], Table]) -> bool:
        """Make a change, or say why it cannot be; returns whether it was made."""
        try:
            table = change(self.table)
        except UnusableInput as error:
            self.said.emit(error.sentence())
            return False
        if table is self.table or table == self.table:
            return False
        self._steps = [*self._steps[: self._index + 1], (label, table)][-_MOST_STEPS:]
        self._index = len(self._steps) - 1
        self.changed.emit()
        self.said.emit(label)
        return True

    def do_draft(self, label: str, change: Callable[[Draft], Draft]) -> bool:
        """Change the draft that is worked on."""
        return self.do(label, lambda table: table.with_draft(change(table.draft)))

    def choose(self, index: int) -> None:
        """Work on another draft; no step of undo."""
        if 0 <= index < len(self.table.drafts) and index != self.table.chosen:
            label, table = self._steps[self._index]
            self._steps[self._index] = (label, replace(table, chosen=index))
            self._place_marks()
            self.changed.emit()

    def undo(self) -> None:
        """Take the last change back."""
        if self._index > 0:
            self.said.emit(tr("Undone: {undo_label}", undo_label=self.undo_label))
            self._index -= 1
            self.changed.emit()

    def redo(self) -> None:
        """Bring back what was taken back."""
        if self.redo_label is not None:
            self._index += 1
            self.said.emit(tr("Redone: {undo_label}", undo_label=self.undo_label))
            self.changed.emit()

    # Marks

    def set_mark(self, index: int, at: Point) -> None:
        """Put a mark somewhere."""
        marks = list(self.marks)
        marks[index] = at
        self.marks = (marks[0], marks[1])
        self.marks_moved.emit()

    def mark_colours(self) -> None:
        """Set both marks where the colours of the chosen thing meet, or say that they don't."""
        from cozy_burrow.jobs.item_photo import where_colours_meet

        if self.capture is None:
            return
        try:
            self.marks = where_colours_meet(self.draft, self.capture)
        except UnusableInput as error:
            self.said.emit(error.sentence())
            return
        self.marks_moved.emit()
        self.said.emit(tr("A and B stand where its colours meet: part it there, or make zones of it"))

    def put_next_mark(self, at: Point, *, snap_mm: float) -> None:
        """Put the active mark to a place, on the outline where that is near; the other one is active then."""
        from cozy_burrow.core.capture.retouch.shaping import on_outline

        self.set_mark(self.active_mark, on_outline(self.draft.item.outline, at, within_mm=snap_mm))
        self.active_mark = 1 - self.active_mark
        self.marks_moved.emit()

    def switch_mark(self) -> None:
        """Make the other mark the active one."""
        self.active_mark = 1 - self.active_mark
        self.marks_moved.emit()

    def walk_mark(self, by_mm: float) -> None:
        """Move the active mark along the outline."""
        rim = polygon_of(self.draft.item.outline).exterior
        at = rim.project(ShapelyPoint(self.marks[self.active_mark])) + by_mm
        found = rim.interpolate(at % rim.length)
        self.set_mark(self.active_mark, (found.x, found.y))

    def nudge_mark(self, dx: float, dy: float) -> None:
        """Move the active mark freely."""
        x, y = self.marks[self.active_mark]
        self.set_mark(self.active_mark, (x + dx, y + dy))

    def _place_marks(self) -> None:
        rim = polygon_of(self.draft.item.outline).exterior
        first, second = rim.interpolate(0.0), rim.interpolate(rim.length / 2)
        self.marks, self.active_mark = ((first.x, first.y), (second.x, second.y)), 0
