"""Undo as a list of whole projects with the names of the steps between them."""

from __future__ import annotations

from cozy_burrow.core.model.records import Project, Record

MOST_STEPS = 500  # frozen projects share what did not change, so a step costs a few kilobytes


class Step(Record, frozen=True, kw_only=True):
    """One project and the name of the change that led to it."""

    label: str
    project: Project


class History(Record, frozen=True, kw_only=True):
    """All steps, and which of them is shown."""

    steps: tuple[Step, ...]
    index: int = 0

    @property
    def project(self) -> Project:
        """The project that is shown."""
        return self.steps[self.index].project

    @property
    def undo_label(self) -> str | None:
        """Name of the change that undo would take back, or None."""
        return self.steps[self.index].label if self.index > 0 else None

    @property
    def redo_label(self) -> str | None:
        """Name of the change that redo would bring back, or None."""
        return self.steps[self.index + 1].label if self.index + 1 < len(self.steps) else None


def begin(project: Project) -> History:
    """Return a history that holds one project."""
    return History(steps=(Step(label="", project=project),))


def record(history: History, label: str, project: Project, *, join: bool = False) -> History:
    """Return the history with a step more; what was undone is dropped.

    join: this change goes on with the last one of the same name (a drag, a row of nudges): one step for all.
    """
    kept = history.steps[: history.index + 1]
    if join and history.index > 0 and kept[-1].label == label:
        kept = kept[:-1]
    steps = (*kept, Step(label=label, project=project))[-MOST_STEPS:]
    return History(steps=steps, index=len(steps) - 1)


def undo(history: History) -> History:
    """Return the history one step back; the same one at its beginning."""
    return History(steps=history.steps, index=max(0, history.index - 1))


def redo(history: History) -> History:
    """Return the history one step on; the same one at its end."""
    return History(steps=history.steps, index=min(len(history.steps) - 1, history.index + 1))
