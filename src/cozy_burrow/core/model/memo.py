"""Answers kept for the records they were worked out from: the same frozen record is the same answer."""

from __future__ import annotations

import weakref
from collections import OrderedDict, deque
from collections.abc import Callable, Iterable, Mapping
from contextlib import suppress
from functools import cache, wraps
from typing import Any, ParamSpec, Protocol, TypeVar, cast

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.model.records import Record
from cozy_burrow.core.progress import make_way

P = ParamSpec("P")
R = TypeVar("R")
Answer = TypeVar("Answer", covariant=True)
_SHORT = 8
_caches: list[OrderedDict[Any, Any]] = []
MOST_BYTES = 18_000_000  # of answers, by a rough count; what the document in hand needs may be more
_LOOK_EVERY = 16  # pages
_LOOKS_A_CLEARING = 4  # where clearing left too much, since it is needed: the next time, or once it is a tenth more
_AGES = (1024, 384, 128, 40)  # pages ago that an answer was last asked for, from which on it goes; tried in this order
_page = [0]
_next_look, _looks, _left = [_LOOK_EVERY], [0], [0]  # the page; since the last clearing; the bytes that that left
_weight = [0]  # what answers weigh at most: counted by the last clearing, and all that came since
_PAGES_A_DOCUMENT = 4  # who changes one asks for all that it needs each time: of ten, the first may go
# New answers that turn a page: a search asks for tens of thousands of one document. A large document alone has
# sixteen thousand, which must not drive each other out: those are 32 pages, and it is asked for anew in the next.
_ROWS_A_PAGE = 512
_new_rows = [0]
# Another thread puts something in or takes it away while all rows are looked at: the next look sees them.
_CHANGED_MEANWHILE = (RuntimeError, KeyError)
_MANY_ROWS = 1024  # of answers that are small and alike
_WEIGHED_OF_MANY = 8
_ROW_BYTES = 500  # of a row beside its answer: its key, its references, its place in the order


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


class _Ref(weakref.ref[Any]):
    """A record that a row was worked out from: when it goes, the row's key is put among the dead."""

    __slots__ = ("dead", "key")
    key: object
    dead: deque[object]


def _gone(ref: Any) -> None:
    ref.dead.append(ref.key)


def _ref_to(record: object, key: object, dead: deque[object]) -> _Ref:
    ref = _Ref(record, _gone)
    ref.key, ref.dead = key, dead
    return ref


class _Row:
    """An answer and what it was worked out from: records weakly, tuples known by their identity as they are."""

    __slots__ = ("answer", "held", "page", "refs", "weight")

    def __init__(
        self, values: Iterable[object], key: object, dead: deque[object], answer: Any, answer_bytes: int
    ) -> None:
        self.answer = answer
        self.page = _page[0]
        self.weight = _ROW_BYTES + answer_bytes
        records: list[object] = []
        held: list[object] = []
        for value in values:
            kind = _kinds[type(value)]
            if kind == _IDENTITY:
                records.append(value)
            elif kind == _TUPLE and isinstance(value, tuple):
                if isinstance(_tuple_key(value), int):
                    held.append(value)
                elif value and _kinds[type(value[0])] == _IDENTITY:
                    for one in value:
                        (records if _kinds.get(type(one)) == _IDENTITY else held).append(one)
        # Tuples: there are tens of thousands of rows, and many of them hold less than they cost.
        self.refs = tuple([_ref_to(one, key, dead) for one in records])
        self.held = tuple(held)

    def holds(self) -> bool:
        """Return whether all of it lives: else its identity may be another record's by now."""
        for ref in self.refs:  # noqa: SIM110  asked at every hit: a generator costs as much again
            if ref() is None:
                return False
        return True


class _Scales:
    """Weighs the answers of one function.

    Where there are thousands of them one in eight is weighed, and those after it count as much: a step of a drag makes
    fifty, and weighing one takes as long as asking for ten.
    """

    __slots__ = ("_bytes", "_every", "_weighed")

    def __init__(self, rows: int) -> None:
        self._every = _WEIGHED_OF_MANY if rows >= _MANY_ROWS else 1
        self._weighed = self._bytes = 0

    def weigh(self, answer: object) -> int:
        """Return how many bytes an answer takes, roughly."""
        if self._weighed % self._every == 0:
            self._bytes = weight_of(answer)
        self._weighed += 1
        return self._bytes


class Remembering(Protocol[P, Answer]):
    """A function that keeps its answers."""

    def __call__(self, *args: P.args, **kwargs: P.kwargs) -> Answer:
        """Return the answer, kept or worked out now."""

    def knows(self, *args: P.args, **kwargs: P.kwargs) -> bool:
        """Return whether the answer is kept, so that it costs nothing."""


def memo(rows: int) -> Callable[[Callable[P, R]], Remembering[P, R]]:
    """Keep the last `rows` answers of a pure function; records and geometries by identity, the rest by value.

    By identity since hashing an outline of 400 points costs more than many of the answers. A row goes with the first
    of its arguments that nobody else holds any more: nothing could ask for it again, and its identity may be given to
    another record. So the caches hold what the documents in the history need, however long somebody drags.

    Threads may ask at once; at worst an answer is worked out twice.
    """

    def decorate(function: Callable[P, R]) -> Remembering[P, R]:
        kept: OrderedDict[Any, _Row] = OrderedDict()
        dead: deque[object] = deque()  # keys of rows to take away: a record may die in the middle of any of these lines
        scales = _Scales(rows)
        _caches.append(kept)

        @wraps(function)
        def remembered(*args: P.args, **kwargs: P.kwargs) -> R:
            while dead:
                with suppress(IndexError):  # another thread took the last one
                    kept.pop(dead.popleft(), None)
            key = _key_of(args, kwargs)
            row = kept.get(key)
            # Another thread may be about to take a dead row away: what it was known by is then somebody else's.
            if row is not None and row.holds():
                row.page = _page[0]
                try:  # noqa: SIM105  asked at every hit, and `suppress` costs as much as all the rest
                    kept.move_to_end(key)
                except KeyError:
                    pass
                return row.answer  # type: ignore[no-any-return]
            make_way()
            answer = function(*args, **kwargs)
            row = kept[key] = _Row((*args, *kwargs.values()), key, dead, answer, scales.weigh(answer))
            _weight[0] += row.weight
            if len(kept) > rows:
                with suppress(KeyError):
                    kept.popitem(last=False)
            _new_rows[0] += 1
            if _new_rows[0] >= _ROWS_A_PAGE:
                _new_rows[0] = 0
                _turn(1)
            return answer

        def knows(*args: P.args, **kwargs: P.kwargs) -> bool:
            row = kept.get(_key_of(args, kwargs))
            return row is not None and row.holds()

        remembered.knows = knows  # type: ignore[attr-defined]
        return cast(Remembering[P, R], remembered)

    return decorate


def _key_of(args: tuple[object, ...], kwargs: Mapping[str, object]) -> object:
    key: object = tuple(map(_key, args))
    return (key, tuple((name, _key(value)) for name, value in sorted(kwargs.items()))) if kwargs else key


def weight_of(answer: object, depth: int = 0) -> int:
    """Return how many bytes an answer takes, roughly: geometries and arrays count; what else is named in it does not.

    That are pockets and their like, answers themselves mostly, and shared by many.
    """
    if isinstance(answer, BaseGeometry):
        return 300 + 32 * int(shapely.get_num_coordinates(answer))
    if isinstance(answer, np.ndarray):
        return int(answer.nbytes)
    if depth > 3 or (depth and isinstance(answer, Frozen | Record)):
        return 100
    if isinstance(answer, tuple | list):
        if answer and isinstance(answer[0], tuple | float | Frozen | Record):
            return 60 + 120 * len(answer)
        return 60 + sum(weight_of(one, depth + 1) for one in answer)
    if isinstance(answer, Mapping):
        return 100 + sum(weight_of(one, depth + 1) for one in answer.values())
    kind: Any = type(answer)
    names = _names_in(kind)
    return 100 + sum(weight_of(getattr(answer, name, None), depth + 1) for name in names)


@cache
def _names_in(kind: Any) -> tuple[str, ...]:
    """Return the fields of a record or of a derived object, without those that it keeps for itself."""
    if issubclass(kind, Frozen):
        return tuple(name for one in kind.__mro__ for name in getattr(one, "__slots__", ()) if name[0] != "_")
    return tuple(kind.__struct_fields__) if issubclass(kind, Record) else ()


def turn_page() -> None:
    """Note that another document is looked at: once answers weigh too much, those long past go.

    What the last pages asked for stays whatever it weighs: without it every step would work everything out anew.
    """
    _turn(_PAGES_A_DOCUMENT)


def _turn(pages: int) -> None:
    _page[0] += pages
    if _page[0] < _next_look[0]:
        return
    _next_look[0] = _page[0] + _LOOK_EVERY
    _looks[0] += 1
    if _weight[0] <= MOST_BYTES or (_looks[0] < _LOOKS_A_CLEARING and _weight[0] <= 1.1 * _left[0]):
        return  # counting them takes milliseconds, and somebody may be dragging
    _looks[0] = 0
    _clear()


def _clear() -> None:
    """Let go of what was asked for longest ago, at the first age that leaves little enough."""
    weights = [0] * (len(_AGES) + 1)  # of answers older than the first, the second, ... age, and of the late ones
    for kept in _caches:
        with suppress(*_CHANGED_MEANWHILE):
            for row in kept.values():
                age = _page[0] - row.page
                weights[sum(age <= one for one in _AGES)] += row.weight
    total = sum(weights)
    left, oldest = total, None
    for age, weight in zip(_AGES, weights):
        if left <= MOST_BYTES:
            break
        left, oldest = left - weight, age
    if left < total and oldest is not None:
        for kept in _caches:
            with suppress(*_CHANGED_MEANWHILE):
                for key in [key for key, row in kept.items() if row.page < _page[0] - oldest]:
                    kept.pop(key, None)
    _left[0] = _weight[0] = left


def kept_bytes() -> int:
    """Return how much all answers that are kept weigh, roughly."""
    total = 0
    for kept in _caches:
        with suppress(*_CHANGED_MEANWHILE):
            total += sum(row.weight for row in kept.values())
    return total


def forget_all() -> None:
    """Empty every cache; for tests and for timing work from nothing."""
    for kept in _caches:
        kept.clear()
    _next_look[0], _looks[0], _left[0], _weight[0] = _page[0] + _LOOK_EVERY, 0, 0, 0
