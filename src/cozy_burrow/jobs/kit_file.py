"""A kit from a CSV file and the drawings that it names."""

from __future__ import annotations

import csv
import io
from pathlib import Path

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.kit.table import COLUMNS, read_rows
from cozy_burrow.core.model.records import Item, Outline, Way
from cozy_burrow.jobs.outlines import read_one_outline
from cozy_burrow.storage.whole_file import read_whole

_MOST_ROWS = 20_000


def read_kit(path: Path) -> tuple[Item, ...]:
    """Return the items of a kit table. Raises UnusableInput naming file, row and column."""
    text = _decoded(read_whole(path), where=path.name)
    first = text.split("\n", 1)[0]
    delimiter = ";" if first.count(";") > first.count(",") else "\t" if first.count("\t") > first.count(",") else ","
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
    doubles = sorted({column for column in header if column and header.count(column) > 1})
    if doubles:
        raise UnusableInput(
            f"the column {doubles[0]} comes twice", where=f"{path.name}, row 1", remedy="keep one of them"
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

    def read_outline(name: str) -> tuple[Outline, Way]:
        return read_one_outline(path.parent / name)

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
