"""A kit from a table of rows: one item a row, in the columns of the command line's contract.

Reading files is the caller's; outlines come in through `read_outline`, which raises UnusableInput.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence

from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.kit.shapes import box_item, outline_item, round_item
from cozy_burrow.core.kit.stations import parse_stations, station_item
from cozy_burrow.core.model.records import SEATS, USES, Item, Outline, Seat, Use, Way
from cozy_burrow.core.units import parse_length

COLUMNS = (
    "name", "quantity", "outline", "shape", "length", "width", "thickness",
    "stations", "mass_g", "group", "use", "seat",
)  # fmt: skip
MOST_THINGS = 1000
ReadOutline = Callable[[str], tuple[Outline, Way]]


def read_rows(rows: Sequence[Mapping[str, str]], *, source: str, read_outline: ReadOutline) -> tuple[Item, ...]:
    """Return the items of a table's rows (header names to cells). The first data row is row 2.

    Raises UnusableInput naming the row and column of the first that cannot be used.
    """
    items: list[Item] = []
    for number, row in enumerate(rows, start=2):
        if not any((value or "").strip() for value in row.values()):
            continue
        where = f"{source}, row {number}"
        try:
            items.append(_read_row(row, item_id=f"item-{len(items) + 1}", read_outline=read_outline))
        except UnusableInput as error:
            raise error.at(where) from error
        things = sum(item.quantity for item in items)
        if things > MOST_THINGS:
            raise UnusableInput(
                f"the kit holds more than {MOST_THINGS} things",
                where=f"{where}, column quantity",
                remedy="split it into several kits, one an insert",
            )
    if not items:
        raise UnusableInput("the kit has no items", where=source, remedy="write one row an item under the header")
    return tuple(items)


def _read_row(row: Mapping[str, str], *, item_id: str, read_outline: ReadOutline) -> Item:
    def cell(column: str) -> str:
        return " ".join((row.get(column) or "").split())

    name = cell("name")
    if not name:
        raise UnusableInput("the name is empty", where="column name", remedy="name the item")
    item = _shape(cell, item_id, name, read_outline)
    known = set(COLUMNS)
    notes = "; ".join(
        f"{column}: {' '.join(value.split())}"
        for column, value in row.items()
        if column and column not in known and isinstance(value, str) and value.strip()
    )
    return replace(
        item,
        quantity=_whole(cell("quantity"), "quantity"),
        mass_g=_mass(cell("mass_g")),
        group=cell("group"),
        use=_use(cell("use")),
        seat=_seat(cell("seat")),
        notes=notes,
    )


def _shape(cell: Callable[[str], str], item_id: str, name: str, read_outline: ReadOutline) -> Item:
    def size(column: str) -> float:
        text = cell(column)
        if not text:
            raise UnusableInput(f"the {column} is empty", where=f"column {column}", remedy="measure it and fill it in")
        value = parse_length(text, where=f"column {column}")
        if value <= 0:
            raise UnusableInput(
                f"{quoted(text)} is not above zero",
                where=f"column {column}",
                remedy="measure it and correct the cell",
            )
        return value

    if cell("outline"):
        outline, way = read_outline(cell("outline"))
        return outline_item(item_id, name, outline, thickness_mm=size("thickness"), way=way, source=cell("outline"))
    if cell("stations"):
        return station_item(item_id, name, parse_stations(cell("stations"), where="column stations"))
    match cell("shape").lower():
        case "round":
            return round_item(item_id, name, length_mm=size("length"), diameter_mm=size("width"))
        case "box" | "":
            return box_item(
                item_id,
                name,
                length_mm=size("length"),
                width_mm=size("width"),
                thickness_mm=size("thickness"),
            )
        case other:
            raise UnusableInput(f"{quoted(other)} is no shape", where="column shape", remedy="write box or round")


def _whole(text: str, column: str) -> int:
    if not text:
        return 1
    if not text.isascii() or not text.isdigit() or not 1 <= int(text[:9]) <= MOST_THINGS or len(text) > 9:
        raise UnusableInput(
            f"{quoted(text)} is no quantity",
            where=f"column {column}",
            remedy=f"write a whole number from 1 to {MOST_THINGS}",
        )
    return int(text)


def _mass(text: str) -> float | None:
    if not text:
        return None
    try:
        mass = float(text.removesuffix("g").strip())
    except ValueError:
        mass = math.nan
    if not 0 <= mass <= 1e6:
        raise UnusableInput(f"{quoted(text)} is no mass", where="column mass_g", remedy="write grams, such as 85")
    return mass


def _use(text: str) -> Use:
    for use in USES:
        if text.lower() == use:
            return use
    if text:
        raise UnusableInput(f"{quoted(text)} is no use", where="column use", remedy="write daily, weekly or rare")
    return "weekly"


def _seat(text: str) -> Seat | None:
    for seat in SEATS:
        if text.lower() == seat:
            return seat
    if text:
        raise UnusableInput(
            f"{quoted(text)} is no seat", where="column seat", remedy=f"write one of {', '.join(SEATS)}"
        )
    return None
