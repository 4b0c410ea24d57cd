"""What a change touched, read off two states of a project: frozen records that did not change are the same objects."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Protocol, TypeVar

from cozy_burrow.core.model.base import Record
from cozy_burrow.core.model.records import Insert, Project


class _Named(Protocol):
    @property
    def id(self) -> str: ...


Row = TypeVar("Row", bound=_Named)


class Touched(Record, frozen=True, kw_only=True):
    """Ids of what is not as it was: changed, come, or gone.

    inserts: what an insert is itself, whatever lies in it. kept: no placement came or went, so that things were moved,
    turned or seated at most. rules, words: whether these changed; words are title and units.
    """

    items: frozenset[str] = frozenset()
    placements: frozenset[str] = frozenset()
    pulls: frozenset[str] = frozenset()
    inserts: frozenset[str] = frozenset()
    containers: frozenset[str] = frozenset()
    kept: bool = True
    rules: bool = False
    words: bool = False

    @property
    def kit(self) -> bool:
        """Whether the kit, or what of it is laid, is another."""
        return bool(self.items) or not self.kept


def touched(before: Project, after: Project) -> Touched:
    """Return what the way from one state to another touched. Takes time for what changed, not for what is there."""
    if before is after:
        return Touched()
    old, new = _lying(before), _lying(after)
    return Touched(
        items=_changed(before.items, after.items),
        placements=_changed(old[0], new[0]),
        pulls=_changed(old[1], new[1]),
        inserts=_remade(before.inserts, after.inserts),
        containers=_changed(before.containers, after.containers),
        kept=[one.id for one in old[0]] == [one.id for one in new[0]],
        rules=before.rules is not after.rules,
        words=(before.title, before.units) != (after.title, after.units),
    )


def _lying(project: Project) -> tuple[list[_Named], list[_Named]]:
    placements: list[_Named] = [one for insert in project.inserts for one in insert.placements]
    return placements, [one for insert in project.inserts for one in insert.pulls]


def _by_id(rows: Iterable[Row]) -> dict[str, Row]:
    return {one.id: one for one in rows}


def _changed(before: Iterable[_Named], after: Iterable[_Named]) -> frozenset[str]:
    if before is after:
        return frozenset()
    old, new = _by_id(before), _by_id(after)
    return frozenset(key for key in old.keys() | new.keys() if old.get(key) is not new.get(key))


def _remade(before: Iterable[Insert], after: Iterable[Insert]) -> frozenset[str]:
    """Return inserts that are not as they were, but for what lies in them."""
    old, new = _by_id(before), _by_id(after)
    return frozenset(key for key in old.keys() | new.keys() if not _is_same(old.get(key), new.get(key)))


def _is_same(before: Insert | None, after: Insert | None) -> bool:
    if before is None or after is None:
        return before is after
    return all(
        getattr(before, name) is getattr(after, name)
        for name in Insert.__struct_fields__
        if name not in {"placements", "pulls"}
    )
