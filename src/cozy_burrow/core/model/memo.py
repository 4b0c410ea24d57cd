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
_caches: list[OrderedDict[Any, Any]] = []


class Frozen:
    """Marks a derived, never changed object that a cache may know by its identity."""

    __slots__ = ("__weakref__",)


def _key(value: object) -> object:
    if isinstance(value, Record | Frozen | BaseGeometry):
        return id(value)
    if isinstance(value, tuple):
        return tuple(_key(part) for part in value)
    return value


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
            key = (_key(args), tuple((name, _key(value)) for name, value in sorted(kwargs.items())))
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
