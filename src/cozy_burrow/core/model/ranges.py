"""The range of a figure, declared once beside its field: file, window and command line all ask here.

A field says `Annotated[float, Meta(ge=…, le=…)]`; the file's reader refuses what lies outside by itself.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, get_args, get_origin, get_type_hints

from msgspec import Meta

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.base import Record
from cozy_burrow.core.model.told import alternatives
from cozy_burrow.core.tongue import tr


@lru_cache(maxsize=256)
def range_of(record: type[Record], field: str) -> tuple[float, float]:
    """Return the least and the most that a field of a record may be. KeyError where none are declared."""
    for hint in alternatives(get_type_hints(record, include_extras=True)[field]):
        if get_origin(hint) is Annotated:
            for told in get_args(hint)[1:]:
                if isinstance(told, Meta) and told.ge is not None and told.le is not None:
                    return float(told.ge), float(told.le)
    raise KeyError(field)


def checked(record: type[Record], field: str, value: float, *, where: str, unit: str = " mm") -> float:
    """Return a figure that lies in its field's range. Raises UnusableInput that says the range."""
    least, most = range_of(record, field)
    if not least <= value <= most:
        raise UnusableInput(
            f"{value:g}{unit}",
            where=where,
            remedy=tr("give {least:g} to {most:g}{unit}", least=least, most=most, unit=unit),
        )
    return value
