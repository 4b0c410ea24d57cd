"""`stores.json`: price list, shelf and suppliers, kept from job to job; written whole or not at all.

`format` 1: the first. 2: fit coupons and pull tests are kept too. 3: what an hour, a blade and laying out cost. What an
older format lacks is taken as usual.
"""

from __future__ import annotations

import math
from pathlib import Path

import msgspec

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.foam.boards import MOST_BOARDS, checked_board, checked_piece, shipped_stores
from cozy_burrow.core.foam.merging import merged_stores
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.model.vessels import Stores
from cozy_burrow.core.tongue import tr
from cozy_burrow.storage.alone import alone
from cozy_burrow.storage.whole_file import read_whole, write_whole

NAME = "stores.json"
FORMAT = 3
MOST_TESTS = 500
MOST_RATE = 1e6  # in whatever currency
_MOST_BYTES = 4_000_000


class StoresDocument(Record, frozen=True, kw_only=True):
    """What `stores.json` holds."""

    format: int
    stores: Stores


def load_stores(folder: Path) -> Stores:
    """Return what is kept in a folder; the shipped foams where nothing is. Raises UnusableInput for a damaged file."""
    path = folder / NAME
    try:
        if not path.exists():
            return shipped_stores()
    except OSError as error:
        raise UnusableInput(
            tr("the price list cannot be read ({strerror})", strerror=error.strerror),
            where=str(path),
            remedy=tr("check the folder"),
        ) from error
    return stores_from_bytes(read_whole(path, most=_MOST_BYTES), where=str(path))


def stores_from_bytes(data: bytes, *, where: str) -> Stores:
    """Return the stores in the bytes of a file. Raises UnusableInput."""
    try:
        document = msgspec.json.decode(data, type=StoresDocument)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise UnusableInput(
            tr("the price list is damaged: {error}", error=error),
            where=where,
            remedy=tr("mend it, or take it away to begin anew"),
        ) from error
    if document.format > FORMAT:
        raise UnusableInput(
            tr("the price list is of a newer program"), where=where, remedy=tr("bring this one up to date")
        )
    return checked_stores(document.stores, where=where)


def checked_stores(stores: Stores, *, where: str) -> Stores:
    """Return stores that can be planned with; raises UnusableInput for the rest."""
    if len(stores.boards) > MOST_BOARDS or len(stores.shelf) > MOST_BOARDS:
        raise UnusableInput(
            tr("the price list is too long"),
            where=where,
            remedy=tr("keep to {most_boards} rows", most_boards=MOST_BOARDS),
        )
    ids = [board.id for board in stores.boards]
    if len(set(ids)) != len(ids):
        raise UnusableInput(tr("two boards bear the same id"), where=where, remedy=tr("take one away"))
    for board in stores.boards:
        checked_board(board, where=f"{where}, {board.name[:40]}")
    if len(stores.fits) > MOST_TESTS or len(stores.pull_tests) > MOST_TESTS:
        raise UnusableInput(
            tr("too many tries of fits"), where=where, remedy=tr("keep to {most_tests}", most_tests=MOST_TESTS)
        )
    for fit in stores.fits:
        if not -20.0 <= fit.best_mm <= 20.0:
            raise UnusableInput(
                tr("a fit of {best:g} mm", best=fit.best_mm), where=where, remedy=tr("a coupon goes from -2 to 1 mm")
            )
    for test in stores.pull_tests:
        if not (0.0 <= test.estimated_n <= 10_000.0 and 0.0 <= test.measured_n <= 10_000.0):
            raise UnusableInput(tr("a pull beyond ten kilonewtons"), where=where, remedy=tr("read the scale again"))
    for piece in stores.shelf:
        checked_piece(piece, where=tr("{where}, piece {id}", where=where, id=piece.id[:40]))
    for seller in stores.suppliers:
        if not (math.isfinite(seller.delivery) and seller.delivery >= 0):
            raise UnusableInput(
                tr("a delivery below zero"), where=f"{where}, {seller.name[:40]}", remedy=tr("give 0 or more")
            )
    for figure in (stores.hour_rate or 0.0, stores.blade_price, stores.layout_h):
        if not 0 <= figure <= MOST_RATE:
            raise UnusableInput(
                tr("{figure:g} for an hour, a blade or the layout", figure=figure),
                where=where,
                remedy=tr("give 0 to {most:g}", most=MOST_RATE),
            )
    if not 0 <= stores.kerf_mm <= 20:
        raise UnusableInput(tr("the saw's kerf"), where=where, remedy=tr("give 0 to 20 mm"))
    return stores


def save_stores(stores: Stores, folder: Path, *, base: Stores | None = None) -> Stores:
    """Keep the stores in a folder, and return what is kept. Raises UnusableInput where it cannot be written.

    base: what these stores were made from. What another window has kept since is not written over: both sides' changes
    are kept. A lock is held from reading to writing, so that two windows do not do so at once.
    """
    checked_stores(stores, where=tr("the price list"))
    with alone(folder / NAME):
        kept = stores
        if base is not None:
            theirs = load_stores(folder)
            if theirs != base and (folder / NAME).exists():
                kept = checked_stores(merged_stores(base, stores, theirs), where=tr("the price list"))
        write_whole(folder / NAME, stores_to_bytes(kept))
    return kept


def stores_to_bytes(stores: Stores) -> bytes:
    """Return the bytes of a stores file."""
    return msgspec.json.format(msgspec.json.encode(StoresDocument(format=FORMAT, stores=stores)), indent=1)
