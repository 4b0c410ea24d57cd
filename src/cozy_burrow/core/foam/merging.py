"""Two windows changed price list and shelf since both read them: what comes of it, row by row.

base     the stores as both read them
mine     base with the changes of this window
theirs   base with the changes that the other window has written meanwhile
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from typing import TypeVar

from msgspec.structs import replace

from cozy_burrow.core.model.edits import free_id
from cozy_burrow.core.model.vessels import Board, Piece, Stores

Row = TypeVar("Row")
Numbered = TypeVar("Numbered", Board, Piece)


_ROWS = frozenset({"boards", "shelf", "suppliers", "fits", "pull_tests"})
_FIGURES = tuple(name for name in Stores.__struct_fields__ if name not in _ROWS)


def merged_stores(base: Stores, mine: Stores, theirs: Stores) -> Stores:
    """Return the stores with both sides' changes. Where both changed one row, mine holds: it was typed last."""

    def changed(name: str) -> bool:
        return bool(getattr(mine, name) != getattr(base, name))

    boards = _apart(base.boards, mine.boards, theirs.boards)
    shelf = _apart(base.shelf, mine.shelf, theirs.shelf)
    return Stores(
        boards=_rows(base.boards, mine.boards, boards, lambda board: board.id),
        shelf=_rows(base.shelf, mine.shelf, shelf, lambda piece: piece.id),
        suppliers=_rows(base.suppliers, mine.suppliers, theirs.suppliers, lambda seller: seller.name),
        fits=_rows(base.fits, mine.fits, theirs.fits, lambda fit: (fit.foam, fit.blade)),
        pull_tests=_rows(base.pull_tests, mine.pull_tests, theirs.pull_tests, lambda test: test),
        **{name: getattr(mine if changed(name) else theirs, name) for name in _FIGURES},
    )


def _apart(base: Sequence[Numbered], mine: Sequence[Numbered], theirs: Sequence[Numbered]) -> list[Numbered]:
    """Return their rows, new ones under other numbers where both windows gave one number to different new rows."""
    old: set[str] = {row.id for row in base}
    new: dict[str, Numbered] = {row.id: row for row in mine}
    taken: list[str] = [*old, *new, *(row.id for row in theirs)]
    found: list[Numbered] = []
    for row in theirs:
        if row.id not in old and row.id in new and new[row.id] != row:
            row = replace(row, id=free_id(row.id.rpartition("-")[0] or row.id, taken))
            taken.append(row.id)
        found.append(row)
    return found


def _rows(
    base: Sequence[Row], mine: Sequence[Row], theirs: Sequence[Row], name: Callable[[Row], Hashable]
) -> tuple[Row, ...]:
    """Return rows in my order, then those that only they have.

    A row taken away on one side and left alone on the other goes; taken away on one side and changed on the other, it
    stays: what is too much can be taken away again.
    """
    before, other = {name(row): row for row in base}, {name(row): row for row in theirs}
    found: list[Row] = []
    for row in mine:
        key = name(row)
        untouched = key in before and before[key] == row
        if key in other and untouched:
            found.append(other[key])
        elif key in other or not untouched:
            found.append(row)
    here = {name(row) for row in mine}
    for row in theirs:
        key = name(row)
        if key not in here and not (key in before and before[key] == row):
            found.append(row)
    return tuple(found)
