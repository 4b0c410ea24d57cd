"""A kit from a table of rows: one item a row, in the columns of the command line's contract.

Reading files is the caller's; outlines come in through `read_outline`, which raises UnusableInput.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Sequence

from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.kit.columns import NOTES, Columns
from cozy_burrow.core.kit.shapes import box_item, outline_item, round_item
from cozy_burrow.core.kit.stations import parse_stations, station_item
from cozy_burrow.core.model.materials import checked_colours, checked_materials
from cozy_burrow.core.model.ranges import range_of
from cozy_burrow.core.model.records import SEATS, USES, Item, Outline, Seat, Use, Way
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import BareUnit, parse_length

MOST_THINGS = 1000
_SHAPES = {"box", "round"}
ReadOutline = Callable[[str], tuple[Outline, Way]]


def read_rows(
    columns: Columns,
    rows: Sequence[Sequence[str]],
    *,
    source: str,
    read_outline: ReadOutline,
    unit: BareUnit = "mm",
    first_row: int = 2,
    tell: Callable[[str], object] | None = None,
) -> tuple[Item, ...]:
    """Return the items of a table's rows of cells.

    unit: of bare figures in columns that name none. first_row: what the first of the rows is called.
    tell: is told a sentence for every material or colour that is not known and so only kept as a note.
    Raises UnusableInput naming the row and column of the first that cannot be used.
    """
    items: list[Item] = []
    for number, cells in enumerate(rows, start=first_row):
        if not any(cell.strip() for cell in cells):
            continue
        where = tr("{source}, row {number}", source=source, number=number)
        row = _Row(columns, cells, unit)
        try:
            items.append(_read_row(row, item_id=f"item-{len(items) + 1}", read_outline=read_outline))
        except UnusableInput as error:
            raise error.at(where) from error
        if tell is not None:
            for unknown in _looks(row)[1].values():
                tell(
                    tr(
                        "row {number}: {what} and kept as a note; {remedy}",
                        number=number,
                        what=unknown.what,
                        remedy=unknown.remedy,
                    )
                )
        things = sum(item.quantity for item in items)
        if things > MOST_THINGS:
            raise UnusableInput(
                tr("the kit holds more than {most_things} items", most_things=MOST_THINGS),
                where=tr("{where}, column quantity", where=where),
                remedy=tr("split it into several kits, one an insert"),
            )
    if not items:
        raise UnusableInput(
            tr("the kit has no items"), where=source, remedy=tr("write one row an item under the header")
        )
    return tuple(items)


class _Row:
    """The cells of one item, by the columns' names."""

    def __init__(self, columns: Columns, cells: Sequence[str], unit: BareUnit) -> None:
        self.columns, self._unit = columns, unit
        plain = [" ".join(cell.split()) for cell in cells]
        pairs = list(zip(columns.known, columns.headings, plain))
        self._cells = {column.name: text for column, _, text in pairs if column is not None}
        bare = [self._cells[NOTES]] if self._cells.get(NOTES) else []
        self.notes = "; ".join(
            [*bare, *(f"{heading.lower()}: {text}" for column, heading, text in pairs if column is None and text)]
        )

    def __call__(self, column: str) -> str:
        return self._cells.get(column, "")

    def unit(self, column: str) -> BareUnit:
        """Return what a bare figure in a column means."""
        found = self.columns.of(column)
        return found.unit if found is not None and found.unit is not None else self._unit

    def where(self, column: str) -> str:
        """Return the column as its writer calls it."""
        found = self.columns.of(column)
        return tr("column {heading}", heading=found.heading if found is not None else column)

    def size(self, column: str) -> float:
        """Return a length in millimetres that must be there. Raises UnusableInput."""
        text, where = self(column), self.where(column)
        if not text:
            meant = self.columns.looks_like(column)
            raise UnusableInput(
                tr("the {column} is empty", column=column),
                where=where,
                remedy=_call_it(column, meant, self("shape")) if meant else tr("measure it and fill it in"),
            )
        value = parse_length(text, unit=self.unit(column), where=where)
        if value <= 0:
            raise UnusableInput(
                tr("{text} is not above zero", text=quoted(text)),
                where=where,
                remedy=tr("measure it and correct the cell"),
            )
        return value


def _call_it(column: str, meant: str, shape: str) -> str:
    across = meant.lower().startswith(("dia", "ø"))
    also = tr(", and round in the column shape") if across and shape.lower() != "round" else ""
    return tr("column {meant} looks like it: call that {column}{also}", meant=quoted(meant), column=column, also=also)


def _read_row(row: _Row, *, item_id: str, read_outline: ReadOutline) -> Item:
    name = row("name")
    if not name:
        raise UnusableInput(tr("the name is empty"), where=tr("column name"), remedy=tr("name the item"))
    item = _shape(row, item_id, name, read_outline)
    looks, unknown = _looks(row)
    return replace(
        item,
        quantity=_whole(row("quantity"), "quantity"),
        mass_g=_mass(row),
        group=row("group"),
        use=_use(row("use")),
        seat=_seat(row("seat")),
        material=looks["material"],
        colour=looks["colour"],
        notes="; ".join(filter(None, (row.notes, *(f"{column}: {row(column)}" for column in unknown)))),
    )


def _looks(row: _Row) -> tuple[dict[str, str], dict[str, UnusableInput]]:
    """Return materials and colours, and why one is not known: that is no reason to refuse a kit."""
    found, unknown = {}, {}
    for column, check in (("material", checked_materials), ("colour", checked_colours)):
        try:
            found[column] = check(row(column))
        except UnusableInput as error:
            found[column], unknown[column] = "", error
    return found, unknown


def _shape(row: _Row, item_id: str, name: str, read_outline: ReadOutline) -> Item:
    if row("outline").lower() in _SHAPES:
        raise UnusableInput(
            tr("{other} is no file of an outline", other=quoted(row("outline"))),
            where=tr("column outline"),
            remedy=tr("write it in the column shape, and leave this one empty"),
        )
    if row("outline"):
        outline, way = read_outline(row("outline"))
        return outline_item(item_id, name, outline, thickness_mm=row.size("thickness"), way=way, source=row("outline"))
    if row("stations"):
        stations = parse_stations(row("stations"), unit=row.unit("stations"), where=row.where("stations"))
        return station_item(item_id, name, stations)
    match row("shape").lower():
        case "round":
            return round_item(item_id, name, length_mm=row.size("length"), diameter_mm=row.size("width"))
        case "box" | "":
            return box_item(
                item_id,
                name,
                length_mm=row.size("length"),
                width_mm=row.size("width"),
                thickness_mm=row.size("thickness"),
            )
        case other:
            raise UnusableInput(
                tr("{other} is no shape", other=quoted(other)),
                where=tr("column shape"),
                remedy=tr("write box or round"),
            )


def _whole(text: str, column: str) -> int:
    if not text:
        return 1
    if not text.isascii() or not text.isdigit() or not 1 <= int(text[:9]) <= MOST_THINGS or len(text) > 9:
        raise UnusableInput(
            tr("{text} is no quantity", text=quoted(text)),
            where=tr("column {column}", column=column),
            remedy=tr("write a whole number from 1 to {most_things}", most_things=MOST_THINGS),
        )
    return int(text)


def _mass(row: _Row) -> float | None:
    text, column = row("mass_g").lower(), row.columns.of("mass_g")
    if not text or column is None:
        return None
    figure = re.fullmatch(r"([0-9.]+)\s*(k?g)?", text)
    try:
        mass = float(figure[1]) * {"g": 1.0, "kg": 1000.0, None: column.grams}[figure[2]] if figure else math.nan
    except ValueError:
        mass = math.nan
    least, most = range_of(Item, "mass_g")
    if not least <= mass <= most:
        raise UnusableInput(
            tr("{text} is no mass", text=quoted(text)), where=row.where("mass_g"), remedy=tr("write grams, such as 85")
        )
    return mass


def _use(text: str) -> Use:
    for use in USES:
        if text.lower() == use:
            return use
    if text:
        raise UnusableInput(
            tr("{text} is no use", text=quoted(text)), where=tr("column use"), remedy=tr("write daily, weekly or rare")
        )
    return "weekly"


def _seat(text: str) -> Seat | None:
    for seat in SEATS:
        if text.lower() == seat:
            return seat
    if text:
        raise UnusableInput(
            tr("{text} is no seat", text=quoted(text)),
            where=tr("column seat"),
            remedy=tr("write one of {list}", list=", ".join(SEATS)),
        )
    return None
