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


def _held(values: Iterable[object], gone: Callable[[object], None]) -> list[object]:
    """Return what a row holds of its arguments: records weakly, tuples that are known by their identity as they are."""
    found: list[object] = []
    for value in values:
        kind = _kinds[type(value)]
        if kind == _IDENTITY:
            found.append(weakref.ref(value, gone))
        elif kind == _TUPLE:
            assert isinstance(value, tuple)
            if isinstance(_tuple_key(value), int):
                found.append(value)
            elif value and _kinds[type(value[0])] == _IDENTITY:
                found += [weakref.ref(one, gone) if _kinds.get(type(one)) == _IDENTITY else one for one in value]
    return found


def memo(rows: int) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Keep the last `rows` answers of a pure function; records and geometries by identity, the rest by value.

    By identity since hashing an outline of 400 points costs more than many of the answers. A row goes with the first
    of its arguments that nobody else holds any more: nothing could ask for it again, and its identity may be given to
    another record. So the caches hold what the documents in the history need, however long somebody drags.

    Threads may ask at once; at worst an answer is worked out twice.
    """

    def decorate(function: Callable[P, R]) -> Callable[P, R]:
        kept: OrderedDict[Any, tuple[list[object], R]] = OrderedDict()
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
            if row is not None:
                with suppress(KeyError):
                    kept.move_to_end(key)
                return row[1]
            answer = function(*args, **kwargs)

            def gone(_: object) -> None:
                dead.append(key)

            kept[key] = (_held((*args, *kwargs.values()), gone), answer)
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
