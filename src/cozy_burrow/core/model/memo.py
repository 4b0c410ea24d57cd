"""Answers kept for the records they were worked out from: the same frozen record is the same answer."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
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


def memo(rows: int) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Keep the last `rows` answers of a pure function; records and geometries by identity, the rest by value.

    By identity since hashing an outline of 400 points costs more than many of the answers. The row holds its
    arguments, so that an identity cannot be given to another record while the row lives.
    """

    def decorate(function: Callable[P, R]) -> Callable[P, R]:
        kept: OrderedDict[Any, tuple[Any, Any, R]] = OrderedDict()
        _caches.append(kept)

        @wraps(function)
        def remembered(*args: P.args, **kwargs: P.kwargs) -> R:
            key: object = tuple(map(_key, args))
            if kwargs:
                key = (key, tuple((name, _key(value)) for name, value in sorted(kwargs.items())))
            row = kept.get(key)
            if row is not None:
                kept.move_to_end(key)
                return row[2]
            answer = function(*args, **kwargs)
            kept[key] = (args, kwargs, answer)
            if len(kept) > rows:
                kept.popitem(last=False)
            return answer

        return remembered

    return decorate


def forget_all() -> None:
    """Empty every cache; for tests and for timing work from nothing."""
    for kept in _caches:
        kept.clear()
