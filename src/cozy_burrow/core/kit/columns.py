"""The columns of a kit table: which heading means which, in what unit, and what a heading that nobody knows may mean.

heading   what stands over a column, as its writer wrote it: `Length (mm)`, `width_in`, `Mass [kg]`
column    what the contract calls it: `length`
"""

from __future__ import annotations

import difflib
import re
from collections import Counter
from collections.abc import Iterable, Sequence
from typing import Final

from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import BareUnit

COLUMNS = (
    "name", "quantity", "outline", "shape", "length", "width", "thickness",
    "stations", "mass_g", "group", "use", "seat", "material", "colour",
)  # fmt: skip
NOTES = "notes"  # known too: what stands there is kept as it is
_LENGTHS = frozenset({"length", "width", "thickness", "stations"})
_UNITS: Final[dict[str, BareUnit]] = {
    "mm": "mm", "cm": "cm", "m": "m", "in": "inch", "inch": "inch", "inches": "inch", '"': "inch",
}  # fmt: skip
_GRAMS: Final = {"g": 1.0, "gram": 1.0, "grams": 1.0, "kg": 1000.0}
# Words that people write for a column; told as what may be meant, never taken for it: "height" is a box's thickness,
# or its length where it lies.
_MEANT: Final = {
    "name": ("item", "tool", "label", "part", "title"),
    "quantity": ("qty", "count", "pieces", "pcs", "number", "amount"),
    "outline": ("svg", "dxf", "file", "drawing"),
    "shape": ("kind", "type", "form"),
    "width": ("diameter", "dia", "breadth", "ø"),
    "thickness": ("height", "depth", "thick"),
    "mass_g": ("mass", "weight"),
    "group": ("set", "category"),
    "use": ("usage", "frequency"),
    "material": ("stuff", "made", "made of"),
    "colour": ("color", "paint", "tint"),
}
_UNIT_AT_END = re.compile(r"""^(?P<word>.*?)(?:\s*[(\[]\s*(?P<inside>[^)\]]*)\s*[)\]]|[\s_]+(?P<after>\w+|"))$""")


class Column(Record, frozen=True, kw_only=True):
    """A column that is known: its name, its heading as written, and what a bare figure in it means."""

    name: str
    heading: str
    unit: BareUnit | None = None
    grams: float = 1.0


class Columns(Record, frozen=True, kw_only=True):
    """What the header of a table says: per place the column that stands there, or the heading that nobody knows."""

    known: tuple[Column | None, ...]
    headings: tuple[str, ...]

    @property
    def unknown(self) -> tuple[str, ...]:
        """The headings that mean nothing here, as they were written."""
        return tuple(text for column, text in zip(self.known, self.headings) if column is None and text)

    def of(self, name: str) -> Column | None:
        """Return the column of this name; None where the table has none."""
        return next((one for one in self.known if one is not None and one.name == name), None)

    def looks_like(self, name: str) -> str | None:
        """Return the unknown heading that may be meant for a column which is not there."""
        return next((text for text in self.unknown if nearest(text) == name), None) if self.of(name) is None else None


def columns_of(headings: Sequence[str]) -> Columns:
    """Return what the headings of a table mean. Raises UnusableInput where a column comes twice, or names nothing."""
    texts = tuple(" ".join(text.split()) for text in headings)
    known = tuple(_column(text) for text in texts)
    counts = Counter(one.name if one is not None else text.lower() for one, text in zip(known, texts) if text)
    doubles = sorted(name for name, count in counts.items() if count > 1)
    if doubles:
        raise UnusableInput(
            tr("the column {doubles} comes twice", doubles=quoted(doubles[0])), remedy=tr("keep one of them")
        )
    found = Columns(known=known, headings=texts)
    if found.of("name") is None:
        meant = found.looks_like("name")
        raise UnusableInput(
            tr("the header has no column name"),
            remedy=(
                tr("call the column {meant} name", meant=quoted(meant))
                if meant
                else tr("the columns are {list}", list=", ".join(COLUMNS))
            ),
        )
    return found


def _column(text: str) -> Column | None:
    plain = text.lower()
    if plain in COLUMNS or plain == NOTES:
        return Column(name=plain, heading=text)
    found = _UNIT_AT_END.match(plain)
    if not found:
        return None
    word = found["word"].strip().rstrip("_")
    unit = (found["inside"] if found["inside"] is not None else found["after"]).strip().rstrip(".")
    if word in _LENGTHS and unit in _UNITS:
        return Column(name=word, heading=text, unit=_UNITS[unit])
    if word in {"mass", "mass_g"} and unit in _GRAMS:
        return Column(name="mass_g", heading=text, grams=_GRAMS[unit])
    return None


def nearest(heading: str) -> str | None:
    """Return the column that an unknown heading is probably meant for; None where none comes near."""
    found = _UNIT_AT_END.match(heading.lower())
    for word in dict.fromkeys(filter(None, (heading.lower(), found["word"].strip() if found else ""))):
        for name, others in _MEANT.items():
            if word in others:
                return name
        near = difflib.get_close_matches(word, _spellings(), n=1, cutoff=0.75)
        if near:
            return next(name for name in COLUMNS if near[0] == name or near[0] in _MEANT.get(name, ()))
    return None


def _spellings() -> Iterable[str]:
    yield from COLUMNS
    for others in _MEANT.values():
        yield from (word for word in others if len(word) > 3)  # a short word is near to too many


def remarks_on(columns: Columns) -> tuple[str, ...]:
    """Return a sentence for each heading that means nothing here."""
    said = []
    for text in columns.unknown:
        near = nearest(text)
        meant = tr("; did you mean {near}? Its", near=near) if near is not None else tr("; its")
        said.append(tr("column {text} is not known{meant} values are kept as notes", text=quoted(text), meant=meant))
    return tuple(said)
