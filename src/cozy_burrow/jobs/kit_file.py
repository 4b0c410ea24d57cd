"""A kit from a CSV file and the drawings that it names."""

from __future__ import annotations

import csv
import io
from collections import Counter
from pathlib import Path

from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.kit.table import COLUMNS, read_rows
from cozy_burrow.core.model.records import Item, Outline, Way
from cozy_burrow.jobs.outlines import read_one_outline
from cozy_burrow.storage.whole_file import read_whole

_MOST_ROWS = 20_000
_MOST_COLUMNS = 200
_MOST_BYTES = 16_000_000


def read_kit(path: Path) -> tuple[Item, ...]:
    """Return the items of a kit table. Raises UnusableInput naming file, row and column."""
    text = _decoded(read_whole(path, most=_MOST_BYTES), where=path.name)
    first = text.split("\n", 1)[0]
    delimiter = ";" if first.count(";") > first.count(",") else "\t" if first.count("\t") > first.count(",") else ","
    if first.count(delimiter) >= _MOST_COLUMNS:
        raise UnusableInput(
            f"the table has {first.count(delimiter) + 1} columns, {_MOST_COLUMNS} at most are read",
            where=f"{path.name}, row 1",
            remedy=f"keep the columns that are known: {', '.join(COLUMNS)}",
        )
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    try:
        lines = list(reader)
    except csv.Error as error:
        raise UnusableInput(
            f"the table cannot be read ({error})",
            where=f"{path.name}, line {reader.line_num}",
            remedy="mend that line",
        ) from error
    if not lines or not any(cell.strip() for cell in lines[0]):
        raise UnusableInput("the table is empty", where=path.name, remedy="write a header and one row an item")
    header = [cell.strip().lower() for cell in lines[0]]
    if "name" not in header:
        raise UnusableInput(
            "the header has no column name",
            where=f"{path.name}, row 1",
            remedy=f"the columns are {', '.join(COLUMNS)}",
        )
    if len(header) > _MOST_COLUMNS:  # a header over several lines
        raise UnusableInput(
            f"the table has {len(header)} columns, {_MOST_COLUMNS} at most are read",
            where=f"{path.name}, row 1",
            remedy=f"keep the columns that are known: {', '.join(COLUMNS)}",
        )
    doubles = sorted(column for column, count in Counter(header).items() if column and count > 1)
    if doubles:
        raise UnusableInput(
            f"the column {quoted(doubles[0])} comes twice", where=f"{path.name}, row 1", remedy="keep one of them"
        )
    if len(lines) > _MOST_ROWS:
        raise UnusableInput(f"more than {_MOST_ROWS} rows", where=path.name, remedy="split the kit")
    rows = []
    for number, cells in enumerate(lines[1:], start=2):
        if len(cells) > len(header) and any(cell.strip() for cell in cells[len(header) :]):
            raise UnusableInput(
                f"{len(cells)} cells under {len(header)} columns",
                where=f"{path.name}, row {number}",
                remedy="put text that holds a comma into quotation marks",
            )
        rows.append(dict(zip(header, cells)))

    read: dict[str, tuple[Outline, Way]] = {}

    def read_outline(name: str) -> tuple[Outline, Way]:
        if name not in read:  # a set of ten may name one drawing ten times
            read[name] = read_one_outline(path.parent / name)
        return read[name]

    return read_rows(rows, source=path.name, read_outline=read_outline)


def _decoded(data: bytes, *, where: str) -> str:
    if b"\0" in data:
        raise UnusableInput("this is no text file", where=where, remedy="save the table as CSV in UTF-8")
    try:
        return data.decode("utf-8-sig").replace("\r\n", "\n").replace("\r", "\n")
    except UnicodeDecodeError as error:
        raise UnusableInput(
            f"byte {error.start} is not UTF-8", where=where, remedy="save the table as CSV in UTF-8"
        ) from error
