"""A field declared once beside its default: its range, what it is called, what it means, its unit, where it belongs.

    snug_mm: Annotated[float, told("Tight fit by", "fit", "smaller all round than the item", least=0, most=20)] = 1.0

The file's reader refuses what lies outside it; the window's forms and the schema are made from it.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, Any, get_args, get_origin, get_type_hints

from msgspec import Meta

from cozy_burrow.core.model.base import Record
from cozy_burrow.core.tongue import tr


def told(
    label: str, group: str, about: str, *, unit: str = "mm", least: float | None = None, most: float | None = None
) -> Meta:
    """Return what is declared of a field."""
    return Meta(title=label, description=about, ge=least, le=most, extra={"group": group, "unit": unit})


class Field(Record, frozen=True, kw_only=True):
    """A field as it was declared."""

    name: str
    label: str
    group: str
    about: str
    unit: str
    least: float | None
    most: float | None
    kind: type


@lru_cache(maxsize=16)
def fields_of(record: type[Record]) -> tuple[Field, ...]:
    """Return the fields of a record that are told, in their order."""
    hints = get_type_hints(record, include_extras=True)
    found = []
    for name in record.__struct_fields__:
        for hint in alternatives(hints[name]):
            meta = _meta(hint)
            if meta is not None and meta.title is not None and meta.extra is not None:
                found.append(
                    Field(
                        name=name,
                        label=tr(meta.title),
                        group=meta.extra["group"],
                        about=tr(meta.description) if meta.description else "",
                        unit=meta.extra["unit"],
                        least=meta.ge,
                        most=meta.le,
                        kind=get_args(hint)[0],
                    )
                )
    return tuple(found)


def _meta(hint: Any) -> Meta | None:
    if get_origin(hint) is not Annotated:
        return None
    return next((one for one in get_args(hint)[1:] if isinstance(one, Meta)), None)


def alternatives(hint: Any) -> tuple[Any, ...]:
    """Return what a hint allows: itself, or the members of a union."""
    return (hint,) if get_origin(hint) is Annotated else (get_args(hint) or (hint,))
