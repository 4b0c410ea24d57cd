"""Answers kept for the records they were worked out from: the same frozen record is the same answer."""

from __future__ import annotations

import weakref
from collections import OrderedDict, deque
from collections.abc import Callable, Iterable
from contextlib import suppress
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.model.records import Record

P = ParamSpec("P")
R = TypeVar("R")
_SHORT = 8
_caches: list[OrderedDict[Any, Any]] = []


class Frozen:
    """Marks a derived, never changed object that a cache may know by its identity."""

    __slots__ = ("__weakref__",)


_PLAIN, _IDENTITY, _TUPLE = 0, 1, 2
_kinds: dict[type, int] = {}


def _classify(kind: type) -> int:
    found = _PLAIN
    if issubclass(kind, Record | Frozen | BaseGeometry):
        found = _IDENTITY
    elif issubclass(kind, tuple):
        found = _TUPLE
    _kinds[kind] = found
    return found


def _key(value: object) -> object:
    kind = _kinds.get(type(value))
    if kind is None:
        kind = _classify(type(value))
    if kind == _IDENTITY:
        return id(value)
    return _tuple_key(value) if kind == _TUPLE else value  # type: ignore[arg-type]


def _tuple_key(value: tuple[object, ...]) -> object:
    if not value or (_kinds.get(type(value[0]), _PLAIN) != _IDENTITY and _classify(type(value[0])) != _IDENTITY):
        return value
    # A long tuple of records is handed on as it is by every change that does not touch it.
    return tuple(map(id, value)) if len(value) <= _SHORT else id(value)


class _Row:
    """An answer and what it was worked out from: records weakly, tuples known by their identity as they are."""

    __slots__ = ("answer", "held", "refs")

    def __init__(self, values: Iterable[object], gone: Callable[[object], None], answer: Any) -> None:
        self.answer = answer
        self.refs: list[weakref.ref[Any]] = []
        self.held: list[object] = []
        for value in values:
            kind = _kinds[type(value)]
            if kind == _IDENTITY:
                self.refs.append(weakref.ref(value, gone))
            elif kind == _TUPLE and isinstance(value, tuple):
                if isinstance(_tuple_key(value), int):
                    self.held.append(value)
                elif value and _kinds[type(value[0])] == _IDENTITY:
                    self._hold(value, gone)

    def _hold(self, values: tuple[object, ...], gone: Callable[[object], None]) -> None:
        for one in values:
            if _kinds.get(type(one)) == _IDENTITY:
                self.refs.append(weakref.ref(one, gone))
            else:
                self.held.append(one)

    def holds(self) -> bool:
        """Return whether all of it lives: else its identity may be another record's by now."""
        for ref in self.refs:  # noqa: SIM110  asked at every hit: a generator costs as much again
            if ref() is None:
                return False
        return True


def memo(rows: int) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Keep the last `rows` answers of a pure function; records and geometries by identity, the rest by value.

    By identity since hashing an outline of 400 points costs more than many of the answers. A row goes with the first
    of its arguments that nobody else holds any more: nothing could ask for it again, and its identity may be given to
    another record. So the caches hold what the documents in the history need, however long somebody drags.

    Threads may ask at once; at worst an answer is worked out twice.
    """

    def decorate(function: Callable[P, R]) -> Callable[P, R]:
        kept: OrderedDict[Any, _Row] = OrderedDict()
        dead: deque[object] = deque()  # keys of rows to take away: a record may die in the middle of any of these lines
        _caches.append(kept)

        @wraps(function)
        def remembered(*args: P.args, **kwargs: P.kwargs) -> R:
            while dead:
                with suppress(IndexError):  # another thread took the last one
                    kept.pop(dead.popleft(), None)
            key: object = tuple(map(_key, args))
            if kwargs:
                key = (key, tuple((name, _key(value)) for name, value in sorted(kwargs.items())))
            row = kept.get(key)
            # Another thread may be about to take a dead row away: what it was known by is then somebody else's.
            if row is not None and row.holds():
                with suppress(KeyError):
                    kept.move_to_end(key)
                return row.answer  # type: ignore[no-any-return]
            answer = function(*args, **kwargs)

            def gone(_: object) -> None:
                dead.append(key)

            kept[key] = _Row((*args, *kwargs.values()), gone, answer)
            if len(kept) > rows:
                with suppress(KeyError):
                    kept.popitem(last=False)
            return answer

        return remembered

    return decorate


def forget_all() -> None:
    """Empty every cache; for tests and for timing work from nothing."""
    for kept in _caches:
        kept.clear()
