"""What is kept outside projects, on the desk: items and containers, in folders beside the settings."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, TypeVar

from PySide6.QtCore import QObject, Signal

from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.app.desk.tasks import Task
from cozy_burrow.core.errors import Cancelled, UnusableInput
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import trn
from cozy_burrow.storage.kept_files import Keeper, Kept, Shelf

T = TypeVar("T")
Many = Sequence[tuple[Any, str]]  # records, each with the key that it is kept under already, or with none


class KeptDesk(QObject):
    """Holds what is kept of one kind; `changed` tells of every change, `refused` of what was not read or written.

    Files are read beside the window, many are written beside it: a thousand of them take a moment. progressed: how far
    that is, 0 to 1; 1: it is done.
    """

    changed = Signal()
    refused = Signal(str)
    progressed = Signal(float)

    def __init__(self, keeper: Keeper[Any], settings: Settings, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._keeper, self._folder = keeper, settings.state_folder
        self.shelf: Shelf[Any] = Shelf()
        self.is_read = False
        self._task: Task | None = None
        self._again = False
        self._many: Task | None = None

    def look_again(self) -> None:
        """Read what is kept, as far as it has changed: another window may have kept something."""
        if self._task is not None:
            self._again = True
            return
        known, folder, keeper = self.shelf, self._folder, self._keeper
        task = self._task = Task(lambda _: keeper.read(folder, known), self, elsewhere=True)
        task.done.connect(self._take)
        task.failed.connect(self._fail)
        task.finished.connect(self._end)
        task.begin()

    def _take(self, shelf: Shelf[Any]) -> None:
        if self._again:
            return  # something was kept while files were read: what was read then may lack it
        first, self.is_read = not self.is_read, True
        before, self.shelf = self.shelf, shelf
        if shelf.troubles:
            told = trn("{count} kept file can't be read: ", "{count} kept files can't be read: ", len(shelf.troubles))
            self.refused.emit(told + shelf.troubles[0])
        if first or before.kept != shelf.kept:
            self.changed.emit()

    def _fail(self, error: Exception) -> None:
        if not isinstance(error, UnusableInput):
            raise error  # on the interface's thread, where the crash guard keeps the work
        self.is_read = True
        self.refused.emit(error.sentence())

    def _end(self) -> None:
        self._task = None
        if self._again:
            self._again = False
            self.look_again()

    def get(self, key: str) -> Kept[Any] | None:
        """Return what is kept under a key."""
        return next((one for one in self.shelf.kept if one.key == key), None)

    def keep(self, what: Any, *, key: str = "") -> Any:
        """Keep a record, in place of what is kept under the key; None where it can't be, which is said."""
        kept = self._attempt(lambda: self._keeper.keep(self._folder, what, before=self.get(key)))
        if kept is not None:  # known at once, whenever the folder is read again
            others = [one for one in self.shelf.kept if one.key != kept.key]
            self.shelf = Shelf((*others, kept), self.shelf.troubles, self.shelf.marks)
            self.changed.emit()
        return kept

    # Many at once

    @property
    def is_busy(self) -> bool:
        """Whether many are read or written."""
        return self._many is not None

    def keep_many(self, find: Callable[[], Many], done: Callable[[list[Kept[Any]]], object]) -> None:
        """Keep what `find` returns, beside the window; `done` hears what was kept, which may be less than all.

        What cannot be written ends it and is said; what was kept by then stays, as it does where somebody stops it.
        """
        known = {one.key: one for one in self.shelf.kept}

        def keep(token: Token) -> tuple[list[Kept[Any]], str]:
            kept: list[Kept[Any]] = []
            try:
                found = find()
                for number, (what, key) in enumerate(found):
                    token.step(number / len(found))
                    kept.append(self._keeper.keep(self._folder, what, before=known.get(key)))
            except Cancelled:
                pass
            except UnusableInput as error:
                return kept, error.sentence()
            return kept, ""

        def take(outcome: tuple[list[Kept[Any]], str]) -> None:
            kept, trouble = outcome
            self._again = self._task is not None  # what is read just now may lack them
            fresh = {one.key for one in kept}
            if kept:
                others = [one for one in self.shelf.kept if one.key not in fresh]
                self.shelf = Shelf((*others, *kept), self.shelf.troubles, self.shelf.marks)
                self.changed.emit()
            self.refused.emit(trouble)
            done(kept)

        self.beside(keep, take)

    def beside(self, work: Callable[[Token], T], done: Callable[[T], object]) -> None:
        """Do one long thing with what is kept beside the window; nothing while another is not done."""
        if self._many is not None:
            return
        task = self._many = Task(work, self, elsewhere=True)
        task.progressed.connect(lambda share: self.progressed.emit(min(0.99, share)))
        task.done.connect(done)
        task.failed.connect(self._fail_many)
        task.finished.connect(self._end_many)
        self.progressed.emit(0.0)
        task.begin()

    def stop(self) -> None:
        """Stop what is under way with many of them."""
        if self._many is not None:
            self._many.stop()

    def _fail_many(self, error: Exception) -> None:
        if not isinstance(error, UnusableInput):
            raise error  # on the interface's thread, where the crash guard keeps the work
        self.refused.emit(error.sentence())

    def _end_many(self) -> None:
        self._many = None
        self.progressed.emit(1.0)
        self.look_again()

    def reader(self) -> Callable[[str], Any]:
        """Return what reads a record whole by its key, beside the window. It raises UnusableInput."""
        return lambda key: self._keeper.whole(self._folder, key)

    # One

    def whole(self, key: str) -> Any:
        """Return what is kept under a key with all that belongs to it; None where it can't be read, which is said."""
        try:
            return self._keeper.whole(self._folder, key)
        except UnusableInput as error:
            self.refused.emit(error.sentence())
            return None

    def remove(self, key: str) -> None:
        """Take something off the shelf."""
        self._attempt(lambda: self._keeper.remove(self._folder, key))

    def _attempt(self, do: Callable[[], Any]) -> Any:
        try:
            done: Any = do()
        except UnusableInput as error:
            self.refused.emit(error.sentence())
            return None
        self.refused.emit("")
        self.look_again()
        return done
