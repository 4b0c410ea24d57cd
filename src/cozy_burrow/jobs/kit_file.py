"""A kit from a CSV file and the drawings that it names."""

from __future__ import annotations

import csv
import io
from pathlib import Path

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.kit.columns import COLUMNS, columns_of, remarks_on
from cozy_burrow.core.kit.table import read_rows
from cozy_burrow.core.model.records import Item, Outline, Record, Way
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import BareUnit
from cozy_burrow.jobs.outlines import read_one_outline
from cozy_burrow.storage.whole_file import read_whole

_MOST_ROWS = 20_000
_MOST_COLUMNS = 200
_MOST_BYTES = 16_000_000


class KitRead(Record, frozen=True, kw_only=True):
    """The items of a kit table, and a sentence for each column and look that means nothing here."""

    items: tuple[Item, ...]
    remarks: tuple[str, ...]


def read_kit(path: Path, *, unit: BareUnit = "mm", token: Token | None = None) -> KitRead:
    """Return the items of a kit table. unit: of bare figures in columns that name none.

    token: asked before every drawing that is read. Raises UnusableInput naming file, row and column.
    """
    text = _decoded(read_whole(path, most=_MOST_BYTES), where=path.name)
    above = 0  # lines of comment: only above the header, since a tool may be called "#2 driver"
    while text.startswith("#"):
        text, above = text.partition("\n")[2], above + 1
    first = text.split("\n", 1)[0]
    delimiter = ";" if first.count(";") > first.count(",") else "\t" if first.count("\t") > first.count(",") else ","
    _check_width(first.count(delimiter) + 1, path)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    try:
        lines = list(reader)
    except csv.Error as error:
        raise UnusableInput(
            tr("the table cannot be read ({error})", error=error),
            where=tr("{name}, line {above}", name=path.name, above=above + reader.line_num),
            remedy=tr("mend that line"),
        ) from error
    if not lines or not any(cell.strip() for cell in lines[0]):
        raise UnusableInput(tr("the table is empty"), where=path.name, remedy=tr("write a header and one row an item"))
    header, rows = lines[0], lines[1:]
    _check_width(len(header), path)  # a header over several lines
    try:
        columns = columns_of(header)
    except UnusableInput as error:
        raise error.at(tr("{name}, row {above}", name=path.name, above=above + 1)) from error
    if len(rows) >= _MOST_ROWS:
        raise UnusableInput(
            tr("more than {most_rows} rows", most_rows=_MOST_ROWS), where=path.name, remedy=tr("split the kit")
        )
    for number, cells in enumerate(rows, start=above + 2):
        if len(cells) > len(header) and any(cell.strip() for cell in cells[len(header) :]):
            raise UnusableInput(
                tr("{count} cells under {count_2} columns", count=len(cells), count_2=len(header)),
                where=tr("{name}, row {number}", name=path.name, number=number),
                remedy=tr("put text that holds a comma into quotation marks"),
            )

    read: dict[str, tuple[Outline, Way]] = {}

    def read_outline(name: str) -> tuple[Outline, Way]:
        if name not in read:  # a set of ten may name one drawing ten times
            if token is not None:
                token.step(min(1.0, len(read) / len(rows)))
            read[name] = read_one_outline(path.parent / name)
        return read[name]

    remarks = list(remarks_on(columns))
    items = read_rows(
        columns,
        rows,
        source=path.name,
        read_outline=read_outline,
        unit=unit,
        first_row=above + 2,
        tell=remarks.append,
    )
    return KitRead(items=items, remarks=tuple(remarks))


def _check_width(count: int, path: Path) -> None:
    if count > _MOST_COLUMNS:
        raise UnusableInput(
            tr(
                "the table has {count} columns, {most_columns} at most are read",
                count=count,
                most_columns=_MOST_COLUMNS,
            ),
            where=tr("{name}, row 1", name=path.name),
            remedy=tr("keep the columns that are known: {list}", list=", ".join(COLUMNS)),
        )


def _decoded(data: bytes, *, where: str) -> str:
    if b"\0" in data:
        raise UnusableInput(tr("this is no text file"), where=where, remedy=tr("save the table as CSV in UTF-8"))
    try:
        return data.decode("utf-8-sig").replace("\r\n", "\n").replace("\r", "\n")
    except UnicodeDecodeError as error:
        raise UnusableInput(
            tr("byte {start} is not UTF-8", start=error.start), where=where, remedy=tr("save the table as CSV in UTF-8")
        ) from error
