"""The bench without a window: the cuts of a project in order, and how long they take by a fitter's log."""

from __future__ import annotations

import datetime
from collections.abc import Sequence
from typing import Any

from cozy_burrow.core.bench.at_bench import AtBench
from cozy_burrow.core.bench.forecast import Forecast, LogRow, Range, forecast_from
from cozy_burrow.core.bench.methods import OWNED, Tools
from cozy_burrow.core.bench.work import BenchCut, SheetBench, bench_work
from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Insert, Project
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.bench_log import CutRow
from cozy_burrow.jobs.bench_words import care_texts, method_text, why_text
from cozy_burrow.jobs.templates import cut_name


def bench_answer(project: Project, log: Sequence[LogRow], tools: Tools = OWNED) -> dict[str, Any]:
    """Return every cut of every sheet in order with what it takes, and the forecast, as `bench --json` prints it."""
    forecast = forecast_from(tuple(log))
    sheets, works = [], []
    for insert in project.inserts:
        for sheet in bench_work(ground_of(project, insert), tools):
            works.append(sheet.work)
            sheets.append(
                {
                    "insert": insert.name,
                    "sheet": sheet.sheet,
                    "cuts": [_cut(project, one, forecast) for one in sheet.cuts],
                    "minutes": _figures(_minutes(forecast, [sheet])),
                    "blades": _figures(forecast.blades([sheet.work]) if sheet.cuts else _NONE, digits=0),
                }
            )
    cut = [work for work in works if work.pockets or work.pulls]
    return {
        "sheets": sheets,
        "minutes": _figures(forecast.minutes(cut) if cut else _NONE),
        "blades": _figures(forecast.blades(cut) if cut else _NONE, digits=0),
    }


_NONE = Range(low=0.0, likely=0.0, high=0.0)


def _minutes(forecast: Forecast, sheets: Sequence[SheetBench]) -> Range:
    """Return how long sheets take; one that nothing is cut from takes no time."""
    cut = [sheet.work for sheet in sheets if sheet.cuts]
    return forecast.minutes(cut) if cut else _NONE


def _figures(found: Range, *, digits: int = 1) -> dict[str, float]:
    return {"low": round(found.low, digits), "likely": round(found.likely, digits), "high": round(found.high, digits)}


def _cut(project: Project, one: BenchCut, forecast: Forecast) -> dict[str, Any]:
    cut = one.cut
    return {
        "no": cut.number,
        "what": cut_name(project, cut),
        "serves": [placement_name(project, owner) for owner in cut.owners],
        "method": method_text(one),
        "layers": cut.to_layer,
        "blade_mm": cut.blade_mm,
        "passes": len(one.passes_mm),
        "passes_mm": list(one.passes_mm),
        "length_mm": round(cut.length_mm, 1),
        "straight_mm": round(cut.straight_mm, 1),
        "why": why_text(cut),
        "cautions": list(care_texts(one, "mm")),
        "minutes": round(forecast.part_minutes(one.work), 2),
    }


def log_row(
    project: Project,
    insert_name: str,
    sheet: int,
    *,
    minutes: float,
    blades: float,
    day: str = "",
    tools: Tools = OWNED,
) -> LogRow:
    """Return what a finished sheet of a plan adds to the log. Raises UnusableInput where there is no such sheet."""
    insert = _insert(project, insert_name)
    found = [one for one in bench_work(ground_of(project, insert), tools) if one.sheet == sheet]
    if not found:
        raise UnusableInput(
            tr("insert {name} has no sheet {sheet}", name=quoted(insert.name), sheet=sheet),
            remedy=tr("name one of 1 to {count}", count=len(insert.sheets)),
        )
    if not found[0].cuts:
        raise UnusableInput(
            tr("nothing is cut from sheet {sheet} of {name}", sheet=sheet, name=quoted(insert.name)),
            remedy=tr("log a sheet that was cut"),
        )
    return row_of(insert, found[0], minutes=minutes, blades=blades, day=day)


def row_of(insert: Insert, bench: SheetBench, *, minutes: float, blades: float, day: str = "") -> LogRow:
    """Return what a finished sheet adds to the log; of today where no day is named."""
    date = day or datetime.date.today().isoformat()
    return LogRow(date=date, sheet=f"{insert.name} {bench.sheet}", work=bench.work, minutes=minutes, blades=blades)


def cut_rows_of(bench: SheetBench, work: AtBench, row: LogRow) -> tuple[CutRow, ...]:
    """Return what each line of a finished sheet adds to the log of cuts. row: of the sheet."""
    return tuple(
        CutRow(
            date=row.date,
            sheet=row.sheet,
            number=one.cut.number,
            kind=one.cut.kind,
            method=one.method,
            layers=one.cut.to_layer,
            passes=len(one.passes_mm),
            work=one.work,
            minutes=spent_s / 60.0,
            is_torn=at in work.torn,
        )
        for at, (one, spent_s) in enumerate(zip(bench.cuts, work.spent_s))
    )


def _insert(project: Project, name: str) -> Insert:
    for one in project.inserts:
        if name.strip().casefold() in {one.name.casefold(), one.id.casefold()}:
            return one
    raise UnusableInput(
        tr("there is no insert {name}", name=quoted(name)),
        remedy=tr("name one of {names}", names=", ".join(one.name for one in project.inserts)),
    )
