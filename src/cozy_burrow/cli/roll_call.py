"""`roll-call FILE.burrow PHOTO`: which places of an insert are filled, from a photo of it with its corner marks."""

from __future__ import annotations

from pathlib import Path

import click

from cozy_burrow.cli.kinds import print_json
from cozy_burrow.jobs.roll_call import as_json, call_roll, in_words, insert_called
from cozy_burrow.storage.project_file import load


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.argument("photo", type=click.Path(path_type=Path))
@click.option("--insert", "name", metavar="NAME", help="Which insert; needed where several have things in them.")
@click.option("--full", type=click.Path(path_type=Path), help="A photo of it with everything in its place.")
@click.option("--json", "json_wanted", is_flag=True)
def roll_call(file: Path, photo: Path, name: str | None, full: Path | None, json_wanted: bool) -> int:
    """Tell which places of an insert are filled, empty or unsure, from a photo of it.

    Status 0: all are filled; 1: something is not; 2: the photo can't be used, and why.
    """
    project = load(file)
    insert = insert_called(project, name, where=file.name)
    said = call_roll(project, insert, photo, full)
    if json_wanted:
        print_json(as_json(project, insert, said))
    else:
        for line in in_words(project, insert, said):
            click.echo(line)
    return 0 if all(one.state == "filled" for one in said.places) else 1
