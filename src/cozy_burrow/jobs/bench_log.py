"""The fitter's log: a CSV table with a row a finished sheet, read from wherever it is kept."""

from __future__ import annotations

import csv
import datetime
import io
import math
import os
from collections.abc import Iterable
from pathlib import Path

from cozy_burrow.core.bench.forecast import LogRow, SheetWork
from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import tr
from cozy_burrow.storage.alone import alone
from cozy_burrow.storage.whole_file import read_whole, write_whole

LOG_NAME = "bench-log.csv"
COLUMNS = (
    "date", "sheet", "metres_straight", "metres_curved", "pockets", "layers_cm2", "pulls", "settings", "minutes",
    "blades",
)  # fmt: skip
CUTS_NAME = "bench-cuts.csv"
CUT_COLUMNS = (
    "date", "sheet", "number", "kind", "method", "layers", "passes", "metres_straight", "metres_curved", "layers_cm2",
    "minutes", "torn",
)  # fmt: skip
_FIGURES = COLUMNS[2:]
_MOST_BYTES = 4_000_000
_MOST_ROWS = 20_000
_MOST_CELLS = 100
_MOST = 1e7  # of any figure
_REMEDY = tr("mend that cell, or take the row out")


class CutRow(Record, frozen=True, kw_only=True):
    """One line of a finished sheet as it was timed. number: its turn; layers: down to which it goes."""

    date: str
    sheet: str
    number: int
    kind: str
    method: str
    layers: int
    passes: int
    work: SheetWork
    minutes: float
    is_torn: bool = False


def read_log(path: Path) -> tuple[LogRow, ...]:
    """Return the rows of a log. Raises UnusableInput naming file, row and column."""
    try:
        text = read_whole(path, most=_MOST_BYTES).decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise UnusableInput(
            tr("the log is not text in UTF-8"), where=path.name, remedy=tr("save it as CSV in UTF-8")
        ) from error
    return log_from(text, where=path.name)


def kept_log(path: Path) -> tuple[LogRow, ...]:
    """Return the rows of a log that is kept, none where there is no such file yet. Raises UnusableInput."""
    return read_log(path) if os.path.lexists(path) else ()


def log_from(text: str, *, where: str) -> tuple[LogRow, ...]:
    """Return the rows of a log in a text. Raises UnusableInput naming row and column.

    Without a head its columns are in the order of COLUMNS: such a file comes of rows that were put one after the other.
    """
    first = text.split("\n", 1)[0]
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=";" if first.count(";") > first.count(",") else ",")
    try:
        lines = [line for _, line in zip(range(_MOST_ROWS + 2), reader)]
    except csv.Error as error:
        raise UnusableInput(
            tr("the log cannot be read ({error})", error=error),
            where=tr("{where}, line {line}", where=where, line=reader.line_num),
            remedy=tr("mend that line"),
        ) from error
    if len(lines) > _MOST_ROWS + 1:
        raise UnusableInput(
            tr("more than {most_rows} rows", most_rows=_MOST_ROWS), where=where, remedy=tr("keep the newest of them")
        )
    header = [cell.strip().lower() for cell in lines[0][:_MOST_CELLS]] if lines else []
    has_head = not (lines and _is_row(lines[0]))
    if not has_head:
        header = list(COLUMNS)
    lacking = [name for name in COLUMNS if name not in header]
    if lacking:
        raise UnusableInput(
            tr("the log has no column {names}", names=", ".join(lacking)),
            where=where,
            remedy=tr(
                "its first row names date, sheet, metres_straight and so on, or all rows are as --log-row prints them"
            ),
        )
    place = {name: header.index(name) for name in COLUMNS}
    found = []
    for number, cells in enumerate(lines[1:] if has_head else lines, start=2 if has_head else 1):
        if any(cell.strip() for cell in cells):
            row = {name: cells[at].strip() if at < len(cells) else "" for name, at in place.items()}
            found.append(_row(row, where=tr("{where}, row {number}", where=where, number=number)))
    return tuple(found)


def _is_row(cells: list[str]) -> bool:
    """Return whether this is a row of figures, not a head: no column is named like a day."""
    try:
        datetime.date.fromisoformat(cells[0].strip())
    except (IndexError, ValueError):
        return False
    return len(cells) == len(COLUMNS)


def _row(cells: dict[str, str], *, where: str) -> LogRow:
    try:
        date = datetime.date.fromisoformat(cells["date"]).isoformat()
    except ValueError as error:
        raise UnusableInput(
            tr("{text} is not a date", text=quoted(cells["date"])),
            where=tr("{where}, column date", where=where),
            remedy=tr("write it as 2026-11-28"),
        ) from error
    figures = {name: _figure(cells[name], where=f"{where}, {name}", may_lack=name == "blades") for name in _FIGURES}
    minutes, blades = figures.pop("minutes"), figures.pop("blades")
    if minutes <= 0:
        raise UnusableInput(tr("minutes must be more than 0"), where=f"{where}, minutes", remedy=_REMEDY)
    return LogRow(date=date, sheet=cells["sheet"][:200], work=SheetWork(**figures), minutes=minutes, blades=blades)


def _figure(text: str, *, where: str, may_lack: bool) -> float:
    if not text and may_lack:
        return 0.0
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = math.nan
    if not 0.0 <= value <= _MOST:
        raise UnusableInput(
            tr("{text} is not a number from 0 to 10,000,000", text=quoted(text)), where=where, remedy=_REMEDY
        )
    return value


def log_text(rows: Iterable[LogRow], *, head: bool = True) -> str:
    """Return rows as the log has them; with its head, or to be put at the end of one."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    if head:
        writer.writerow(COLUMNS)
    for row in rows:
        work = row.work
        figures = (work.metres_straight, work.metres_curved, work.pockets, work.layers_cm2, work.pulls, work.settings)
        writer.writerow((row.date, row.sheet, *(f"{one:.6g}" for one in (*figures, row.minutes, row.blades))))
    return out.getvalue()


def add_to_log(path: Path, row: LogRow) -> tuple[LogRow, ...]:
    """Put a row at the end of a log, which is made where it is missing, and return all of it. Raises UnusableInput.

    A log that cannot be read is left as it is. What another window has put in meanwhile stays.
    """
    with alone(path):
        kept = (*kept_log(path), row)
        write_whole(path, log_text(kept).encode())
    return kept


def add_cuts(path: Path, rows: Iterable[CutRow]) -> None:
    """Put lines at the end of the log of cuts, which is made where it is missing. Raises UnusableInput.

    A file that is something else is left as it is.
    """
    head = ",".join(CUT_COLUMNS) + "\n"
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    for row in rows:
        metres = (row.work.metres_straight, row.work.metres_curved, row.work.layers_cm2, row.minutes)
        what = (row.date, row.sheet, row.number, row.kind, row.method, row.layers, row.passes)
        writer.writerow((*what, *(f"{one:.4g}" for one in metres), "yes" if row.is_torn else "no"))
    with alone(path):
        kept = read_whole(path, most=_MOST_BYTES) if os.path.lexists(path) else head.encode()
        if not kept.startswith(head.encode()):
            raise UnusableInput(
                tr("the log of cuts is damaged"), where=path.name, remedy=tr("mend it, or take it away to begin anew")
            )
        joint = b"" if kept.endswith(b"\n") else b"\n"
        write_whole(path, kept + joint + out.getvalue().encode())


def forget_log(folder: Path) -> None:
    """Take the log of sheets and that of cuts away. Raises UnusableInput where they cannot be."""
    for name in (CUTS_NAME, LOG_NAME):
        with alone(folder / name):
            try:
                (folder / name).unlink(missing_ok=True)
            except OSError as error:
                raise UnusableInput(
                    tr("the log cannot be taken away ({strerror})", strerror=error.strerror),
                    where=str(folder / name),
                    remedy=tr("check the folder"),
                ) from error
