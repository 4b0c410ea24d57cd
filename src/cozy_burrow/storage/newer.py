"""What this program knows of a document that a newer one has written."""

from __future__ import annotations

from typing import Any

from msgspec import inspect


def known_only(value: Any, kind: inspect.Type) -> Any:
    """Return plain JSON data without the fields that a type does not have, however deep they lie.

    What is of another kind than the type wants is returned as it is: the decoder says what is wrong with it.
    """
    match kind:
        case inspect.UnionType():
            fitting = next((one for one in kind.types if _fits(value, one)), None)
            return known_only(value, fitting) if fitting is not None else value
        case inspect.StructType() if isinstance(value, dict):
            tag = {kind.tag_field: value[kind.tag_field]} if kind.tag_field and kind.tag_field in value else {}
            fields = {one.encode_name: one.type for one in kind.fields if one.encode_name in value}
            return tag | {name: known_only(value[name], of) for name, of in fields.items()}
        case inspect.VarTupleType() | inspect.ListType() if isinstance(value, list):
            return [known_only(one, kind.item_type) for one in value]
        case inspect.TupleType() if isinstance(value, list):
            return [known_only(one, of) for one, of in zip(value, kind.item_types)]
        case inspect.DictType() if isinstance(value, dict):
            return {name: known_only(one, kind.value_type) for name, one in value.items()}
    return value


def _fits(value: Any, kind: inspect.Type) -> bool:
    if isinstance(kind, inspect.StructType):
        return isinstance(value, dict) and (not kind.tag_field or value.get(kind.tag_field) == kind.tag)
    if isinstance(kind, inspect.VarTupleType | inspect.ListType | inspect.TupleType):
        return isinstance(value, list)
    return isinstance(kind, inspect.DictType) and isinstance(value, dict)
