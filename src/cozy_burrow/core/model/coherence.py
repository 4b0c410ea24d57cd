"""Do the records of a project fit each other? No name twice, nothing that lies somewhere and is in no kit.

Figures may be wrong and the plan bad, that is for findings; what is wrong here no change may lead to and no file may
hold, since every part of the program looks records up by these names.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from typing import Literal

from msgspec.structs import replace

from cozy_burrow.core.model.records import Insert, Project, Record
from cozy_burrow.core.tongue import tr

Lost = Literal["laid_twice", "not_in_kit", "serves_nothing"]


class Incoherent(AssertionError):
    """A change would have led to a project whose records do not fit each other: a bug, the change is not made."""


class Loss(Record, frozen=True, kw_only=True):
    """What was left out of a damaged project so that the rest can be worked with: which kind, and how many."""

    kind: Lost
    count: int


def incoherence(project: Project) -> str:
    """Return what does not fit in a project, in a few words; an empty text where everything does."""
    items = [item.id for item in project.items]
    containers = [one.id for one in project.containers]
    laid = [one for insert in project.inserts for one in insert.placements]
    for what, ids in (
        (tr("two items bear the same id"), items),
        (tr("two containers bear the same id"), containers),
        (tr("two inserts bear the same id"), [insert.id for insert in project.inserts]),
        (tr("two placements bear the same id"), [one.id for one in laid]),
    ):
        if len(set(ids)) != len(ids):
            return what
    if not project.inserts:
        return tr("there is no insert")
    kit, standing = set(items), set(containers)
    for insert in project.inserts:
        if insert.container_id not in standing:
            return tr("the container of insert '{name}' is not there", name=insert.name[:60])
    if any(one.item_id not in kit for one in laid):
        return tr("something lies in an insert that is not in the kit")
    for insert in project.inserts:
        here = {one.id for one in insert.placements}
        if any(here.isdisjoint(pull.serves) for pull in insert.pulls):
            return tr("a finger pull of insert '{name}' serves nothing that lies there", name=insert.name[:60])
    return ""


def check_coherent(project: Project) -> None:
    """Raise Incoherent where the records of a project do not fit each other."""
    wrong = incoherence(project)
    if wrong:
        raise Incoherent(wrong)


def made_coherent(project: Project) -> tuple[Project, tuple[Loss, ...]]:
    """Return a project without what lies twice, is in no kit or serves nothing, and what was left out of it.

    The first of two places of one copy stays. Two items or inserts of one name are not told apart here.
    """
    kit = {item.id for item in project.items}
    seen: set[str] = set()
    lost: Counter[Lost] = Counter()
    inserts = tuple(_whole(insert, kit, seen, lost) for insert in project.inserts)
    if not lost:
        return project, ()
    order: tuple[Lost, ...] = ("laid_twice", "not_in_kit", "serves_nothing")
    return replace(project, inserts=inserts), tuple(Loss(kind=one, count=lost[one]) for one in order if lost[one])


def _whole(insert: Insert, kit: set[str], seen: set[str], lost: Counter[Lost]) -> Insert:
    placements = []
    for one in insert.placements:
        if one.item_id not in kit:
            lost["not_in_kit"] += 1
        elif one.id in seen:
            lost["laid_twice"] += 1
        else:
            seen.add(one.id)
            placements.append(one)
    here = {one.id for one in placements}
    pulls = []
    for pull in insert.pulls:
        serves = _among(pull.serves, here)
        if serves:
            pulls.append(pull if serves == pull.serves else replace(pull, serves=serves))
        elif pull.serves:  # one that never served anything is damaged in itself, and said so elsewhere
            lost["serves_nothing"] += 1
        else:
            pulls.append(pull)
    return replace(insert, placements=tuple(placements), pulls=tuple(pulls))


def _among(keys: Iterable[str], here: set[str]) -> tuple[str, ...]:
    return tuple(key for key in keys if key in here)
