"""Arranging in the background: several layouts at once, shown as they get better; one is taken, another picked.

Whoever moves a thing meanwhile is not stopped: the search goes on round what the hand has moved, from what lies there.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from functools import partial
from typing import Literal

from PySide6.QtCore import QObject, Signal

from cozy_burrow.app.desk.memory import give_back
from cozy_burrow.app.desk.tasks import Task, TaskToken, tell
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.arrange.wishes import STYLES, StyleName, WishName
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.ground.arranging import Arranged, Arranger, put_in_order
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.ground.sharing import OneMore, SharingWay, one_more, shared_out, sharing_ways
from cozy_burrow.core.ground.variations import Variations, ways_of
from cozy_burrow.core.model.edits import insert_of
from cozy_burrow.core.model.records import Project, Ring
from cozy_burrow.core.progress import Deadline, heeding
from cozy_burrow.core.tongue import tr, within
from cozy_burrow.jobs.wish_words import STYLE_NAMES, left_words, one_more_words, parted_words

ARRANGE_SECONDS = 30.0
ADVICE_SECONDS = 4.0  # what one more container would take is told where it is known so soon
_TELL_EVERY_S = 0.5
Scope = Literal["all", "improve", "selection", "area", "order", "inserts"]
_LABELS: dict[Scope, str] = {
    "all": tr("Arrange"),
    "improve": tr("Improve the layout"),
    "selection": tr("Re-pack the selection"),
    "area": tr("Fill an area"),
    "order": tr("Put in order"),
    "inserts": tr("Share out over all inserts"),
}


class Arranging(QObject):
    """Runs searches off this thread. `progressed`: share of the time, None at the end; `gained`: there is news."""

    progressed = Signal(object)
    gained = Signal()
    closed = Signal()
    style_changed = Signal()

    def __init__(self, workspace: Workspace, parent: QObject) -> None:
        super().__init__(parent)
        self.workspace = workspace
        self.style: StyleName = "tidy"
        self.weights: dict[WishName, float] = dict(STYLES["tidy"])
        self.results: dict[int, Arranged] = {}
        self.curve: list[tuple[float, float]] = []
        self.chosen: int | None = None
        self.advice = ""
        self.wanted: int | None = None  # the variation that was pressed while they were still being made
        self._task: Task | None = None
        self._run = 0
        self._scope: Scope = "all"
        self._within: Ring | None = None
        self._base: Project = workspace.project
        self._applied: Project | None = None
        self._kept: set[str] = set()
        self._again = False  # begin anew round what was moved
        self._dropped = False  # the plan has changed: what is being laid is of no use
        self.insert_id = workspace.insert_id
        self._seed = 0
        workspace.document_changed.connect(self._follow)

    @property
    def is_arranging(self) -> bool:
        """Whether a search is running."""
        return self._task is not None

    @property
    def is_open(self) -> bool:
        """Whether there are variations to look at, or some are being made."""
        return bool(self.results) or self.is_arranging

    def set_style(self, style: StyleName) -> None:
        """Take a ready style with its weights."""
        self.style, self.weights = style, dict(STYLES[style])
        self.style_changed.emit()

    def set_weight(self, name: WishName, weight: float) -> None:
        """Weigh one wish differently."""
        self.weights[name] = weight
        self.style_changed.emit()

    def begin(self, scope: Scope = "all", *, within: Ring | None = None) -> None:
        """Start a search; nothing happens while one runs."""
        workspace = self.workspace
        if self._task is not None:
            return
        if not workspace.project.items:
            workspace.said.emit(tr("Gather items first"))
            return
        if scope == "selection" and not workspace.selection:
            workspace.said.emit(tr("Select what should be packed anew"))
            return
        self._kept = set()
        self._seed += 1
        self._begin(scope, within)

    def _begin(self, scope: Scope, within: Ring | None) -> None:
        workspace = self.workspace
        self._scope, self._within, self._again, self._dropped = scope, within, False, False
        self.insert_id = workspace.insert_id
        self._base, self._applied = workspace.project, None
        self.results, self.curve, self.chosen, self.advice = {}, [], None, ""
        self._run += 1
        self._more = None
        work: Callable[[TaskToken], object]
        match scope:
            case "inserts":
                ways = sharing_ways(self.style, dict(self.weights), seed=self._seed)
                work = _sharing_out(self._base, ways, partial(tell, self, self._hear, self._run))
            case "order":
                work = _putting_in_order(self._base, self.insert_id, dict(self.weights))
            case _:
                work = self._work(scope, within)
        task = Task(work, self, patient=True)
        self._task = task
        began = time.monotonic()
        task.progressed.connect(lambda _: self.progressed.emit(min(1.0, (time.monotonic() - began) / ARRANGE_SECONDS)))
        task.done.connect(self._take)
        task.failed.connect(self._hear_failure)
        task.finished.connect(self._end)
        self.progressed.emit(0.0)
        self.gained.emit()
        task.begin()

    def _arranger(self, scope: Scope, within: Ring | None) -> Callable[[], Arranger]:
        workspace = self.workspace
        project, insert_id, weights = self._base, self.insert_id, dict(self.weights)
        here = {one.id for one in workspace.insert.placements}
        keep = set(self._kept)
        things: frozenset[str] | None = None
        if scope == "selection":
            keep |= here - set(workspace.selection)
            things = frozenset(workspace.selection)
        elif scope == "area":
            keep |= here
        as_it_lies = scope == "improve"
        return lambda: Arranger(
            project, insert_id, keep=keep, things=things, within=within, weights=weights, as_it_lies=as_it_lies
        )

    def _work(self, scope: Scope, within: Ring | None) -> Callable[[TaskToken], object]:
        make, style, weights, seed, run = (
            self._arranger(scope, within),
            self.style,
            dict(self.weights),
            self._seed,
            self._run,
        )
        insert_id, heard = self.insert_id, partial(tell, self, self._hear, run)
        laid_before = len(self.workspace.insert.placements)

        def work(token: TaskToken) -> dict[int, Arranged]:
            began = time.monotonic()
            deadline = Deadline(ARRANGE_SECONDS, inner=token)
            with heeding(lambda: token.stopped):  # nothing is found yet that a stop could give
                arranger = make()
                variations = Variations(arranger, ways_of(style, weights, seed=seed), seed=seed)
            told: dict[int, float] = {}
            try:
                while not variations.is_stuck:
                    # On the slowest machine the time is up at the earliest when there is a first layout.
                    there = any(search.best is not None for search in variations.searches)
                    won = variations.advance(deadline if there else token)
                    now = time.monotonic() - began
                    if won is not None and now - told.get(won, -1.0) > _TELL_EVERY_S:
                        told[won] = now
                        heard(won, _cut(arranger.result(variations.searches[won], done=False), insert_id), now)
            except Cancelled:
                pass
            results = {
                n: _cut(arranger.result(search), insert_id)
                for n, search in enumerate(variations.searches)
                if search.best is not None
            }
            if not results:  # stopped within the first layout: a part of it is more than an empty plan, and no more
                part = arranger.result(variations.searches[0])
                if len(insert_of(part.project, insert_id).placements) >= laid_before:
                    results = {0: part}
            del arranger, variations  # the advice is a search of its own: one at a time is large enough
            give_back()
            self._more = _advice(results, insert_id)
            return results

        return work

    _more: OneMore | None = None

    def _hear(self, run: int, number: int, result: Arranged, seconds: float) -> None:
        if run != self._run or self._dropped:
            return
        self._keep(number, result)
        self._note(seconds)
        self.gained.emit()

    def _keep(self, number: int, result: Arranged) -> None:
        """Keep the better of what a variation had and has: what was shown as best is not lost again."""
        had = self.results.get(number)
        if had is None or self.rank(result) <= self.rank(had):
            self.results[number] = result

    def _note(self, seconds: float) -> None:
        """Note the score of what would be taken now."""
        best = self.best
        if best is not None:
            self.curve.append((seconds, self.total(best)))

    @property
    def best(self) -> Arranged | None:
        """The layout that would be taken now."""
        return min(self.results.values(), key=self.rank) if self.results else None

    def rank(self, result: Arranged) -> tuple[int, float]:
        """Return by what layouts are compared: fewest things left over, then the score that is shown."""
        return len(result.left_over), -self.total(result)

    def total(self, result: Arranged) -> float:
        """Return what a layout comes to under the weights that count, 0 to 100."""
        return result.total(self.weights)

    def order(self, number: int) -> tuple[int, float]:
        """Return by what variations are compared."""
        return self.rank(self.results[number])

    def stop(self) -> None:
        """Stop the search; the best so far is kept."""
        if self._task is not None:
            self._task.stop()

    def _take(self, results: dict[int, Arranged]) -> None:
        if self._dropped or self.workspace.project is not self._base:
            self.results = {}
            return
        if not results:
            self.workspace.said.emit(tr("Stopped before everything had a place again: nothing was changed"))
        told, self.results = self.results, dict(results)
        for number, result in told.items() if results else ():
            if self.rank(result) < self.rank(self.results.get(number, result)):
                self.results[number] = result
        self._note(self.curve[-1][0] if self.curve else 0.0)
        wanted, self.wanted = self.wanted, None
        if wanted in self.results:
            self.pick(wanted)
        elif self.results:
            self.pick(min(self.results, key=self.order))

    def pick(self, number: int) -> None:
        """Lay the plan out as a variation; one step of undo, however many are picked one after the other."""
        workspace = self.workspace
        result = self.results.get(number)
        if result is None:
            return
        label = (
            f"{_LABELS[self._scope]}: {within(STYLE_NAMES[self.style])}"
            if self._scope != "inserts"
            else _LABELS["inserts"]
        )
        before = self._applied
        self._applied, self.chosen = result.project, number
        if self._scope != "inserts":
            workspace.show_insert(self.insert_id)
        if before is not None and workspace.project is before:
            workspace.do_instead(label, result.project)
        elif workspace.project is self._base:
            workspace.do(label, result.project)
        else:
            self._applied = before
            workspace.said.emit(tr("The plan was changed meanwhile; arrange again for new variations"))
            return
        self.advice = self._advice_for(result)
        if self.advice:
            workspace.said.emit(self.advice)
        self.gained.emit()

    def _advice_for(self, result: Arranged) -> str:
        said = [left_words(result.project, result.left_over)] if result.left_over else []
        if result.left_over and self._more is not None:
            said.append(one_more_words(len(result.left_over), self._more, self.workspace.unit))
        if self._scope == "inserts":
            said.append(parted_words(result.project, self.workspace.unit))
        return ". ".join(filter(None, said))

    def abandon(self) -> None:
        """Stop, and lay nothing any more: the window closes."""
        self._dropped, self._again = True, False
        self.stop()

    def close(self) -> None:
        """Put the variations away."""
        self.stop()
        self.results, self.curve, self.chosen = {}, [], None
        self.closed.emit()

    def _follow(self) -> None:
        project = self.workspace.project
        if project is self._base or project is self._applied:
            return
        if self._task is not None:  # a hand moved something: go on round it
            self._kept |= set(self.workspace.selection)
            self._again = self._is_later()
            self._dropped = True
            self._task.stop()
        elif self.results:
            self.results, self.curve, self.chosen, self.advice = {}, [], None, ""
            self.closed.emit()

    def _is_later(self) -> bool:
        """Whether what is open came of the project that the search began with: not undone, no other file."""
        history = self.workspace.history
        return any(step.project is self._base for step in history.steps[: history.index])

    def _hear_failure(self, error: Exception) -> None:
        raise error  # on the interface's thread, where the crash guard keeps the work

    def _end(self) -> None:
        self._task = None
        if self._again and self._scope in {"all", "improve"}:
            self._begin("improve", None)
            self.workspace.said.emit(tr("Going on round what you moved"))
            return
        self._again = False
        self.progressed.emit(None)
        if not self.results:
            self.closed.emit()


def _sharing_out(
    project: Project, ways: Sequence[SharingWay], tell: Callable[[int, Arranged, float], object]
) -> Callable[[TaskToken], dict[int, Arranged]]:
    """Share out in one way after the other until the time is over; a way that was cut short is no variation."""
    laid_before = _laid(project)

    def work(token: TaskToken) -> dict[int, Arranged]:
        deadline = Deadline(ARRANGE_SECONDS, inner=token)
        found: dict[int, Arranged] = {}
        for number, way in enumerate(ways):
            out = shared_out(project, seed=way.seed, token=deadline, weights=way.weights, anew=way.anew)
            is_whole = not token.stopped and deadline.elapsed_s < deadline.seconds
            if (number and not is_whole) or _laid(out.project) < laid_before:
                break  # better as it was than half in the tray
            if all(out.project != one.project for one in found.values()):
                result = Arranged(
                    project=out.project, left_over=out.left_over, attempts=0, name=way.name, over=out.over
                )
                found[number] = result
                tell(number, result, deadline.elapsed_s)
            if not is_whole:
                break
        return found

    return work


def _putting_in_order(
    project: Project, insert_id: str, weights: dict[WishName, float]
) -> Callable[[TaskToken], dict[int, Arranged]]:
    def work(token: TaskToken) -> dict[int, Arranged]:
        try:
            return {0: put_in_order(project, insert_id, token=token, weights=weights)}
        except Cancelled:
            return {}

    return work


def _laid(project: Project) -> int:
    return sum(len(insert.placements) for insert in project.inserts)


def _cut(result: Arranged, insert_id: str) -> Arranged:
    """Return a layout once its pockets and pulls are cut: whoever shows it asks for them at once."""
    ground_of(result.project, insert_of(result.project, insert_id))
    return result


def _advice(results: dict[int, Arranged], insert_id: str) -> OneMore | None:
    """Return what one more container would take of what the best layout left over."""
    if not results:
        return None
    best = min(results.values(), key=lambda one: len(one.left_over))
    left = [(one.item_id, one.copy) for one in best.left_over if one.why == "no_room"]
    try:
        return one_more(best.project, insert_id, left, token=Deadline(ADVICE_SECONDS)) if left else None
    except Cancelled:
        return None
