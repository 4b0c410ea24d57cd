"""`bench FILE.burrow`: the cuts in order, with blade, passes and cautions, and how long all of it takes."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from cozy_burrow.cli.kinds import print_json
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.bench import bench_answer, log_row
from cozy_burrow.jobs.bench_log import log_text, read_log
from cozy_burrow.jobs.my_tools import kept_tools
from cozy_burrow.storage.project_file import load


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.argument("sheet_of", nargs=-1, metavar="[INSERT SHEET]")
@click.option("--log", type=click.Path(path_type=Path), help=tr("The fitter's log, which the forecast is fitted to."))
@click.option("--json", "as_json", is_flag=True)
@click.option("--log-row", "as_row", is_flag=True, help=tr("Print the row that a finished sheet adds to the log."))
@click.option("--minutes", type=click.FloatRange(min=0, min_open=True, max=1e6), help=tr("What it took."))
@click.option("--blades", type=click.FloatRange(min=0, max=1e4), default=0.0, help=tr("What it took."))
def bench(
    file: Path,
    sheet_of: tuple[str, ...],
    log: Path | None,
    as_json: bool,
    as_row: bool,
    minutes: float | None,
    blades: float,
) -> int:
    """Print the cuts in order, with blade, passes and cautions, and how long all of it takes."""
    if as_row:
        if len(sheet_of) != 2 or not sheet_of[1].isdecimal() or len(sheet_of[1]) > 4 or minutes is None:
            raise click.UsageError(tr("--log-row takes FILE.burrow, INSERT, SHEET and --minutes"))
        row = log_row(load(file), sheet_of[0], int(sheet_of[1]), minutes=minutes, blades=blades, tools=kept_tools())
        click.echo(log_text([row], head=False), nl=False)
        return 0
    if sheet_of:
        raise click.UsageError(tr("INSERT and SHEET go with --log-row"))
    answer = bench_answer(load(file), read_log(log) if log is not None else (), kept_tools())
    if as_json:
        print_json(answer)
    else:
        _say(answer)
    return 0


def _say(answer: dict[str, Any]) -> None:
    for sheet in answer["sheets"]:
        head = tr(
            "{insert}, sheet {sheet}: {minutes}", insert=sheet["insert"], sheet=sheet["sheet"], minutes=_took(sheet)
        )
        click.echo(head)
        for cut in sheet["cuts"]:
            click.echo(
                tr(
                    "{no:>3}  {what}: {method}, blade {passes} mm, {length:.0f} mm; {why}",
                    no=cut["no"],
                    what=cut["what"],
                    method=cut["method"],
                    passes=", ".join(f"{one:g}" for one in cut["passes_mm"]),
                    length=cut["length_mm"],
                    why=cut["why"],
                )
            )
            for caution in cut["cautions"]:
                click.echo(f"     ! {caution}")
    click.echo(tr("All: {minutes}", minutes=_took(answer)))


def _took(answer: dict[str, Any]) -> str:
    minutes, blades = answer["minutes"], answer["blades"]
    return tr(
        "{likely:.0f} minutes ({low:.0f} to {high:.0f} in four of five cases), "
        "{blades:.0f} blades ({few:.0f} to {many:.0f})",
        likely=minutes["likely"],
        low=minutes["low"],
        high=minutes["high"],
        blades=blades["likely"],
        few=blades["low"],
        many=blades["high"],
    )
