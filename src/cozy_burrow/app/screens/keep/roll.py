"""A roll call under way: what was found of every place, by a photo or by hand, until it is written down."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime

from PySide6.QtCore import QObject, Signal

from cozy_burrow.app.desk.latest import Latest
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.keep.log import noted, with_full_photo
from cozy_burrow.core.keep.roll_call import RollCall
from cozy_burrow.core.model.kept import PlaceState
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.apart import run_apart
from cozy_burrow.jobs.roll_call import called_apart

BY_HAND = tr("said by hand")


@dataclass
class Call:
    """A roll call of one insert. photo: as it would be kept, where it came from one."""

    states: dict[str, PlaceState] = field(default_factory=dict)
    why: dict[str, str] = field(default_factory=dict)
    photo: bytes | None = None


class Roll(QObject):
    """One call for each insert of the document that is open; `changed` tells of every change of what is shown.

    refused: a photo that can't be used, and why. progressed: how far a photo is read, 0 to 1; 1: it is done.
    """

    changed = Signal()
    refused = Signal(str)
    progressed = Signal(float)

    def __init__(self, workspace: Workspace, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._workspace = workspace
        self._calls: dict[str, Call] = {}
        self._of = workspace.opened_count
        self._latest = Latest(workspace, self)
        self._latest.refused.connect(self.refused)
        self._latest.progressed.connect(self._progress)
        workspace.document_changed.connect(self._follow)

    @property
    def call(self) -> Call | None:
        """The call of the insert that is shown; None: nobody has called yet."""
        return self._calls.get(self._workspace.insert_id)

    @property
    def is_busy(self) -> bool:
        """Whether a photo is being read."""
        return self._latest.is_busy

    def _follow(self) -> None:
        """What is not there any more is not asked for; what has come since was not looked at."""
        if self._workspace.opened_count != self._of:
            self._of = self._workspace.opened_count
            self._calls.clear()
            self.stop()
        laid = {insert.id: {one.id for one in insert.placements} for insert in self._workspace.project.inserts}
        for insert_id in list(self._calls):
            call, here = self._calls[insert_id], laid.get(insert_id, set())
            call.states = {key: state for key, state in call.states.items() if key in here}
            if not call.states:
                del self._calls[insert_id]

    # By hand

    def begin(self) -> None:
        """Call by hand: everything is taken to be there, and what isn't is tapped."""
        keys = [one.id for one in self._workspace.insert.placements]
        if not keys:
            return  # of nothing, everything would be home
        self._calls[self._workspace.insert_id] = Call(dict.fromkeys(keys, "filled"), dict.fromkeys(keys, BY_HAND))
        self.changed.emit()

    def tap(self, key: str) -> None:
        """Say otherwise of a place: what is there is missing, anything else is there."""
        if self.call is None:
            self.begin()
        call = self.call
        if call is None or all(one.id != key for one in self._workspace.insert.placements):
            return
        call.states[key] = "empty" if call.states.get(key, "filled") == "filled" else "filled"
        call.why[key] = BY_HAND
        self.changed.emit()

    def drop(self) -> None:
        """Give the call of this insert up."""
        self._calls.pop(self._workspace.insert_id, None)
        self.changed.emit()

    # By a photo

    def read(self, photo: bytes, name: str) -> None:
        """Read a photo of the insert that is shown, beside the window."""
        project, insert_id = self._workspace.project, self._workspace.insert_id
        self._begin(lambda token: run_apart(called_apart, project, insert_id, photo, name, token=token))

    def read_demo(self) -> None:
        """Let the simulated camera take a photo, what is selected missing, or as an evening leaves it; and read it."""
        from cozy_burrow.demo.drawer import demo_call

        project, insert_id = self._workspace.project, self._workspace.insert_id
        seed, missing = 1 + len(project.roll_calls), self._workspace.selection
        self._begin(lambda token: run_apart(demo_call, project, insert_id, seed, missing, token=token))

    def stop(self) -> None:
        """Stop reading."""
        self._latest.stop()

    def _begin(self, work: Callable[[Token], tuple[RollCall, bytes]]) -> None:
        insert_id = self._workspace.insert_id
        self._latest.begin(work, lambda found: self._take(found, insert_id))

    def _take(self, found: tuple[RollCall, bytes], insert_id: str) -> None:
        said, photo = found
        self._calls[insert_id] = Call(
            {one.key: one.state for one in said.places}, {one.key: one.why for one in said.places}, photo
        )
        self._follow()  # the plan may have changed while it was read

    def _progress(self, share: float) -> None:
        self.progressed.emit(share)
        if share in {0.0, 1.0}:
            self.changed.emit()

    # The log

    def note(self, text: str) -> None:
        """Write the call down in the project; a photo that shows everything in its place is kept to compare with."""
        call, workspace = self.call, self._workspace
        if call is None:
            return
        at = f"{datetime.now():%Y-%m-%dT%H:%M}"
        project = noted(workspace.project, workspace.insert_id, call.states, at=at, note=text)
        if call.photo is not None and set(call.states.values()) == {"filled"}:
            project = with_full_photo(project, workspace.insert_id, call.photo)
        self._calls.pop(workspace.insert_id)
        workspace.do(tr("Write down a roll call"), project)
        self.changed.emit()
