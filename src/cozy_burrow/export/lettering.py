"""Text on paper in any script: in the shipped fonts where they have a character, else in the system's, embedded.

Right-to-left text is laid out as it is read. What no font has prints blank, and `unprintable` names it.
"""

from __future__ import annotations

import io
import unicodedata
from functools import lru_cache
from typing import Any, Literal

from cozy_burrow.assets.read import asset
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.system_fonts import font_for, small_font

REGULAR, BOLD = "CozyRegular", "CozyBold"
_FILES = {REGULAR: "Lato-Regular.ttf", BOLD: "Lato-Bold.ttf"}
Align = Literal["left", "centre", "right"]
_MOST = 1_000  # characters of one text: a title of a million would be laid out for hours, for nobody to read
_borrowed: dict[str, str] = {}  # character -> name of the font that was registered for it; empty: there is none


@lru_cache(maxsize=1)
def register_fonts() -> None:
    """Make the shipped fonts known to the PDF writer. Raises UnusableInput where one is missing or damaged."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFError, TTFont

    for name, file in _FILES.items():
        try:
            pdfmetrics.registerFont(TTFont(name, str(asset("fonts", file))))
        except (TTFError, OSError) as error:
            raise UnusableInput(
                tr("a font that belongs to the program can't be read"),
                where=file,
                remedy=tr("install the program anew"),
            ) from error


def _has(font: str, character: str) -> bool:
    from reportlab.pdfbase import pdfmetrics

    register_fonts()
    face: Any = getattr(pdfmetrics.getFont(font), "face")  # noqa: B009  of fonts from files, which ours are
    return ord(character) in face.charToGlyph


def _is_blank_anyway(character: str) -> bool:
    return character.isspace() or unicodedata.category(character) in {"Cf", "Cc", "Mn"}


def _borrow(characters: frozenset[str]) -> None:
    """Find fonts of the system for characters that are not known yet."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFError, TTFont

    waiting = set(characters - _borrowed.keys())
    for character in sorted(waiting):
        if character in _borrowed:
            continue
        _borrowed[character] = ""
        found = font_for(character)
        small = small_font(*found, frozenset(waiting)) if found is not None else None
        if small is None or character not in small[1]:
            continue
        name = f"CozyBorrowed{len(_borrowed)}"
        try:
            pdfmetrics.registerFont(TTFont(name, io.BytesIO(small[0])))
        except (TTFError, ValueError, KeyError):
            continue
        _borrowed.update(dict.fromkeys(small[1], name))


def runs_of(text: str, font: str) -> list[tuple[str, str]]:
    """Return (font, text) in the order in which they stand from left to right. font: REGULAR or BOLD.

    What is longer than anybody reads ends in an ellipsis.
    """
    if len(text) > _MOST:
        text = text[:_MOST].rstrip() + "…"
    if text.isascii():
        return [(font, text)] if text else []
    lacking = frozenset(one for one in text if not _is_blank_anyway(one) and not _has(font, one))
    if lacking:
        _borrow(lacking)
    shown = text
    if any(unicodedata.bidirectional(one) in {"R", "AL", "AN"} for one in text):
        from bidi import get_display

        shown = str(get_display(text))
    runs: list[tuple[str, str]] = []
    for one in shown:
        here = _borrowed.get(one) or font
        if unicodedata.category(one) == "Cf":
            continue
        if runs and runs[-1][0] == here:
            runs[-1] = (here, runs[-1][1] + one)
        else:
            runs.append((here, one))
    return runs


def unprintable(text: str) -> str:
    """Return the characters of a text that print blank here."""
    if text.isascii():
        return ""
    lacking = frozenset(one for one in text if not _is_blank_anyway(one) and not _has(REGULAR, one))
    if lacking:
        _borrow(lacking)
    return "".join(sorted(one for one in lacking if not _borrowed[one]))


def width_of(text: str, font: str, size: float) -> float:
    """Return how wide a text is, in points if size is."""
    from reportlab.pdfbase.pdfmetrics import stringWidth

    register_fonts()
    return float(sum(stringWidth(part, name, size) for name, part in runs_of(text, font)))


def letter(page: Any, x: float, y: float, text: str, *, font: str, size: float, align: Align = "left") -> None:
    """Write a text on a page of the PDF writer."""
    register_fonts()
    x -= {"left": 0.0, "centre": 0.5, "right": 1.0}[align] * width_of(text, font, size)
    for name, part in runs_of(text, font):
        page.setFont(name, size)
        page.drawString(x, y, part)
        x += page.stringWidth(part, name, size)


def marked_up(text: str, font: str = REGULAR) -> str:
    """Return a text for a paragraph of the PDF writer."""
    found = []
    for name, part in runs_of(text, font):
        plain = part.replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
        found.append(plain if name == font else f'<font name="{name}">{plain}</font>')
    return "".join(found)
