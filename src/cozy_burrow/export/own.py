"""Told from anybody else's: drawings that this program wrote, and nobody has changed since.

A drawing carries a seal of its own bytes, so an export can take away its own sheets of an earlier plan, and only them.
"""

from __future__ import annotations

import hashlib
import json
import re

_SEAL = re.compile(rb"cozy-burrow:([0-9a-f]{32})")
BLANK_SEAL = "cozy-burrow:" + "0" * 32
_LAYOUT_KEYS = {"units", "items", "pulls"}


def sealed(data: bytes) -> bytes:
    """Return the bytes of a drawing with the seal put in where BLANK_SEAL stands."""
    return data.replace(BLANK_SEAL.encode(), b"cozy-burrow:" + _digest(data), 1)


def is_own(data: bytes) -> bool:
    """Return whether a drawing was written by this program and is as it was written.

    A layout as JSON has no place for a seal: its keys and the way that it is written tell it.
    """
    found = _SEAL.search(data)
    if found:
        return found[1] == _digest(data.replace(found[0], BLANK_SEAL.encode(), 1))
    if not data.startswith(b'{\n "units"'):
        return False
    try:
        read = json.loads(data)
        return set(read) == _LAYOUT_KEYS and layout_text(read) == data
    except (ValueError, TypeError, RecursionError):
        return False


def layout_text(layout: dict[str, object]) -> bytes:
    """Return a layout as it is written."""
    return json.dumps(layout, ensure_ascii=False, indent=1).encode("utf-8")


def _digest(data: bytes) -> bytes:
    return hashlib.blake2b(data, digest_size=16).hexdigest().encode()
