"""What the program says, in the language of whoever reads it: every text passes through here.

English is the source; catalogues of other languages lie in `assets/locale`. The language is chosen once a process,
before anything is said, from the environment: tables of texts are made when their module is imported, and a child
process speaks as its parent does.
"""

from __future__ import annotations

import gettext
import os
import re
from collections.abc import Mapping
from functools import cache
from string import Formatter
from typing import Any

from cozy_burrow.assets.read import asset

LANGUAGE = "COZY_BURROW_LANGUAGE"  # in the environment
LANGUAGE_NAMES = {"en": "English", "de": "Deutsch"}  # each in itself: whoever looks for it reads no other
DOMAIN = "cozy_burrow"
PSEUDO = "pseudo"  # every text accented and 40 % longer: finds texts that pass by, and layouts that burst
LONGER = 0.4
_COMMA = {"de"}  # languages that write 12,5
_CAPITAL_NOUNS = {"de"}
_ACCENTED = str.maketrans("aeiouAEIOUcnszCNSZ", "áéíóúÁÉÍÓÚçñšžÇÑŠŽ")
_FIELD = re.compile(r"\{\{|\}\}|\{(?:[^{}]|\{[^{}]*\})*\}")


def languages() -> tuple[str, ...]:
    """Return the codes of all languages that the program speaks, English first."""
    return ("en", *sorted(path.name for path in asset("locale").iterdir() if path.is_dir()))


def language() -> str:
    """Return the code of the language that is spoken."""
    chosen = os.environ.get(LANGUAGE, "en")
    return chosen if chosen == PSEUDO or chosen in languages() else "en"


@cache
def _catalogue() -> gettext.NullTranslations:
    name = language()
    if name in {"en", PSEUDO}:
        return gettext.NullTranslations()
    return gettext.translation(DOMAIN, asset("locale"), languages=[name])


@cache
def _is_pseudo() -> bool:
    return language() == PSEUDO


@cache
def _has_comma() -> bool:
    return language() in _COMMA


def decimal(figure: str) -> str:
    """Return a figure written with a point as the language that is spoken writes it."""
    return figure.replace(".", ",") if _has_comma() else figure


class _Filling(Formatter):
    """Fills fields in as str.format does, figures as the language writes them."""

    def format_field(self, value: Any, spec: str) -> str:
        text: str = super().format_field(value, spec)
        return decimal(text) if isinstance(value, float) else text


_filling = _Filling()


def _filled(said: str, fields: Mapping[str, object]) -> str:
    return _filling.vformat(said, (), fields) if _has_comma() else said.format(**fields)


def tr(text: str, /, **fields: object) -> str:
    """Return a text in the language that is spoken, with its fields filled in as str.format does."""
    said = pseudo(text) if _is_pseudo() else _catalogue().gettext(text)
    return _filled(said, fields) if fields else said


def trn(one: str, many: str, count: int, /, **fields: object) -> str:
    """Return a text in the form that its count asks for; the count is the field `count`, too."""
    if _is_pseudo():
        said = pseudo(one if count == 1 else many)
    else:
        said = _catalogue().ngettext(one, many, count)
    return _filled(said, {"count": count, **fields})


def started(text: str) -> str:
    """Return a text as a sentence or a button begins; only its first letter changes, nouns keep theirs."""
    return text[:1].upper() + text[1:]


def within(text: str) -> str:
    """Return a text as it stands inside a sentence: in German as it is, since its nouns have capitals there too."""
    return text if language() in _CAPITAL_NOUNS else text[:1].lower() + text[1:]


def marked(text: str) -> str:
    """Return a text as it is: a key, or what is kept in a document, which `tr` puts into words when it is shown."""
    return text


def forms(one: str, many: str) -> tuple[str, str]:
    """Return both forms of a text as they are, for a table that `trn` is given later."""
    return one, many


def pseudo(text: str) -> str:
    """Return a text as it would look in a language that nobody speaks: fields kept, letters accented, longer."""
    fields = _FIELD.findall(text)
    rest = _FIELD.split(text)
    said = rest[0].translate(_ACCENTED) + "".join(
        field + part.translate(_ACCENTED) for field, part in zip(fields, rest[1:], strict=True)
    )
    letters = sum(map(len, rest))
    return f"{said}{'~' * max(1, round(letters * LONGER))}" if letters else said
