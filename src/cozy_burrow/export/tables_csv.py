"""items.csv and cuts.csv, for a spreadsheet."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence


def table_csv(header: Sequence[str], rows: Iterable[Sequence[object]]) -> bytes:
    """Return a table as CSV bytes (UTF-8, comma, CRLF as RFC 4180 has it)."""
    stream = io.StringIO(newline="")
    writer = csv.writer(stream)
    writer.writerow(header)
    for row in rows:
        writer.writerow([_cell(value) for value in row])
    return stream.getvalue().encode("utf-8")


def _cell(value: object) -> object:
    if isinstance(value, float):
        return f"{value:.3f}".rstrip("0").rstrip(".")
    if isinstance(value, str) and value[:1] in {"=", "+", "-", "@"}:
        return "'" + value  # a spreadsheet would take it for a formula
    return value
