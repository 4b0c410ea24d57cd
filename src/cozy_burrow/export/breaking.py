"""Ways to write a head and a line below it: broken, upright, smaller, and at last a number alone."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator, Sequence
from functools import lru_cache

from cozy_burrow.core.model.records import Point, Record
from cozy_burrow.export.lettering import BOLD, REGULAR, width_of

LEADING = 1.16  # of a line to the height of its letters
_HEAD_MM, _TEXT_MM = 3.2, 2.7
_SMALL = 0.8  # of the common size, where there is little room
_MOST_LINES = 4  # that a name or a text is broken into
_KEPT = "\N{NO-BREAK SPACE}"  # between a figure and its unit
_DOT = " \N{MIDDLE DOT} "


class Form(Record, frozen=True, kw_only=True):
    """One way to write a text: its lines with font and size in mm, upright or not, and how wide and high that is."""

    lines: tuple[tuple[str, str, float], ...]
    upright: bool
    size_mm: Point


def all_forms(text: str) -> Iterator[Form]:
    """Yield all ways to write everything, the plainest first. text: a head, and lines below it."""
    for scale in (1.0, _SMALL):
        for upright in (False, True):
            yield from _forms(text, scale, upright=upright)


def level_forms(text: str) -> Iterator[Form]:
    """Yield ways to write everything that are read without turning the head."""
    for scale in (1.0, _SMALL):
        yield from _forms(text, scale, upright=False)


def numbers(number: int) -> Iterator[Form]:
    """Yield ways to write a number alone."""
    for scale in (1.0, _SMALL):
        yield _form([(str(number), BOLD, _HEAD_MM * scale)])


def _forms(text: str, scale: float, *, upright: bool) -> Iterator[Form]:
    """Yield a text in ever more lines."""
    for told, rest in _breaks(text):
        lines = [(one, BOLD, _HEAD_MM * scale) for one in told] + [(one, REGULAR, _TEXT_MM * scale) for one in rest]
        yield _form(lines, upright=upright)


@lru_cache(maxsize=512)
def _breaks(text: str) -> tuple[tuple[tuple[str, ...], tuple[str, ...]], ...]:
    """Return the ways to break a head and what stands below it, those with the fewest lines first."""
    head, *below = text.split("\n")
    told = {parts: tuple(_broken(head, BOLD, parts)) for parts in range(1, _MOST_LINES + 1)}
    rest = {parts: tuple(piece for one in below for piece in _broken_at_dots(one, parts)) for parts in told}
    ways = sorted(itertools.product(told, rest), key=lambda way: (way[0] + way[1], way[0]))
    return tuple(dict.fromkeys((told[heads], rest[parts]) for heads, parts in ways))


def _broken_at_dots(text: str, parts: int) -> list[str]:
    """Return a text in so many lines at most; one of several lines has a line each for what dots part."""
    bits = text.split(_DOT)
    if parts < 2 or len(bits) > parts:
        return _broken(text, REGULAR, parts)
    return [piece for bit in bits for piece in _broken(bit, REGULAR, 1 + parts - len(bits))]


def _broken(text: str, font: str, parts: int) -> list[str]:
    """Return a text in so many lines at most, as equal as they come; a figure keeps its unit."""
    words = re.sub(r"(?<=\d) (?=\S)", _KEPT, text).split(" ")
    low, high = max(_wide(word, font) for word in words), _wide(text, font)
    found = [text]
    for _ in range(12 if parts > 1 else 0):
        middle = (low + high) / 2
        lines = _filled(words, font, middle)
        if len(lines) <= parts:
            found, high = lines, middle
        else:
            low = middle
    return [line.replace(_KEPT, " ") for line in found]


def _filled(words: list[str], font: str, wide: float) -> list[str]:
    lines = [words[0]]
    for word in words[1:]:
        longer = f"{lines[-1]} {word}"
        if _wide(longer, font) <= wide:
            lines[-1] = longer
        else:
            lines.append(word)
    return lines


def _form(lines: Sequence[tuple[str, str, float]], *, upright: bool = False) -> Form:
    wide = max(size * _wide(text, font) for text, font, size in lines)
    high = sum(size * LEADING for _, _, size in lines)
    return Form(lines=tuple(lines), upright=upright, size_mm=(high, wide) if upright else (wide, high))


@lru_cache(maxsize=20_000)
def _wide(text: str, font: str) -> float:
    """Return how wide a text is in letters of 1 mm."""
    return width_of(text, font, 1.0)
