"""`check FILE.burrow`: every finding about a plan."""

from __future__ import annotations

import time
from pathlib import Path

import click

from cozy_burrow.cli.kinds import print_json
from cozy_burrow.cli.say import say
from cozy_burrow.jobs.report import must_be_mended, report
from cozy_burrow.storage.project_file import load


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True)
def check(file: Path, as_json: bool) -> int:
    """Print every finding about a plan."""
    begin = time.monotonic()
    project = load(file)
    answer = report(project, seconds=time.monotonic() - begin)
    if as_json:
        print_json(answer)
    else:
        say(answer)
    return 1 if must_be_mended(answer) else 0
