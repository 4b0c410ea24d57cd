"""What lies on the retouch bench, as bytes for a recovery copy and back: the drafts, and how their picture was read."""

from __future__ import annotations

import msgspec
import numpy as np

from cozy_burrow.core.capture.retouch.draft import Table
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.capture import Backdrop, Capture, Recipe

FORMAT = 1
_ROUND_MM = 20.0  # of blank paper round drafts whose picture cannot be read again
_BLANK = 235


class BenchCopy(Record, frozen=True, kw_only=True):
    """The bench of one window: the drafts as they were, and how their picture was read."""

    format: int = FORMAT
    recipe: Recipe
    table: Table


def bench_to_bytes(recipe: Recipe, table: Table) -> bytes:
    """Return the bytes of a bench."""
    return msgspec.json.encode(BenchCopy(recipe=recipe, table=table))


def bench_from_bytes(data: bytes) -> BenchCopy:
    """Return the bench in some bytes. Raises UnusableInput where they are damaged."""
    try:
        copy = msgspec.json.decode(data, type=BenchCopy)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise UnusableInput(
            tr("the copy of the retouch bench is damaged"), remedy=tr("read its photo again")
        ) from error
    if copy.format > FORMAT or not copy.table.drafts:
        raise UnusableInput(tr("the copy of the retouch bench cannot be used"), remedy=tr("read its photo again"))
    for draft in copy.table.drafts:
        if not polygon_of(draft.item.outline).is_valid or not draft.item.zones:
            raise UnusableInput(tr("the copy of the retouch bench is damaged"), remedy=tr("read its photo again"))
    return copy


def without_picture(table: Table) -> Capture:
    """Return a bench of drafts on blank paper: their picture cannot be read again, what was done by hand is there."""
    bounds = [draft.bounds_mm for draft in table.drafts]
    left, top = (min(one[side] for one in bounds) - _ROUND_MM for side in (0, 1))
    right, bottom = (max(one[side] for one in bounds) + _ROUND_MM for side in (2, 3))
    pixels = np.full((max(2, round(bottom - top)), max(2, round(right - left)), 3), _BLANK, dtype=np.uint8)
    return Capture(
        table=table,
        backdrop=Backdrop(pixels, (left, top), 1.0),
        trace=None,
        told=tr("The picture cannot be read again."),
    )
