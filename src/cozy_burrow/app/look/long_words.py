"""Labels for words that somebody typed: a name without a space must not make the window wider than the screen."""

from __future__ import annotations

import re

from PySide6.QtWidgets import QLabel, QWidget

_MOST = 90  # letters of a word that are shown: the whole of it stands in its field
_WHOLE = 24  # letters that are kept together
_PIECE = 12
_MOST_OF_A_ROW = 48
_MAY_BREAK = "\u200b"
_LONG = re.compile(rf"\S{{{_WHOLE + 1},}}")


class Words(QLabel):
    """A label that breaks its lines, inside a word too where it is longer than words are."""

    def __init__(self, text: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWordWrap(True)
        self.setText(text)

    def setText(self, text: str) -> None:
        """Show a text."""
        super().setText(breakable(text))


def breakable(text: str) -> str:
    """Return a text with places to break in words that are longer than words are, and those cut that are endless."""
    return _LONG.sub(_in_pieces, text)


def _in_pieces(found: re.Match[str]) -> str:
    word = found.group()
    shown = word if len(word) <= _MOST else word[: _MOST - 1] + "…"
    return _MAY_BREAK.join(shown[first : first + _PIECE] for first in range(0, len(shown), _PIECE))


def row_of(text: str) -> str:
    """Return a text as a row of a list shows it: what is longer than a row goes on as dots.

    A list works out the room of each row, and a box takes that of its longest: five hundred names of thousands of
    letters took it more than a second.
    """
    return text if len(text) <= _MOST_OF_A_ROW else text[: _MOST_OF_A_ROW - 1].rstrip() + "…"
