"""`refit FILE.burrow KIT.csv OUT.burrow --item NAME --replaces NAME`: a changed tool in an insert that is cut."""

from __future__ import annotations

from pathlib import Path

import click

from cozy_burrow.cli.kinds import print_json
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.kit_file import read_kit
from cozy_burrow.jobs.refit import as_json, named, proposals
from cozy_burrow.storage.project_file import load, save
from cozy_burrow.storage.whole_file import keep_older


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.argument("kit", type=click.Path(path_type=Path))
@click.argument("out", type=click.Path(path_type=Path))
@click.option("--item", required=True, metavar="NAME", help="The new item, as it stands in the kit.")
@click.option("--replaces", required=True, metavar="NAME", help="The item of the project that it takes the place of.")
@click.option("--json", "json_wanted", is_flag=True)
def refit(file: Path, kit: Path, out: Path, item: str, replaces: str, json_wanted: bool) -> int:
    """Take a changed tool into an insert that is cut already: what stays, what is cut, what is filled.

    Ways are told with the least filling first; the first one is saved. What lies beside stays where it is.
    """
    if out.suffix.lower() != ".burrow":
        raise UnusableInput(tr("the project's name must end in .burrow"), where=str(out), remedy=tr("name it so"))
    project = load(file)
    read = read_kit(kit)
    for remark in read.remarks:
        click.echo(remark, err=True)
    found = proposals(project, named(read.items, item, where=kit.name), named(project.items, replaces, where=file.name))
    answer = as_json(project, found)
    keep_older(out)
    save(found[0].way.project, out)
    if json_wanted:
        print_json(answer)
    else:
        for number, one in enumerate(answer["proposals"], start=1):
            click.echo(
                tr(
                    "{number}: in {insert} at {x:.1f}, {y:.1f} mm, turned {angle:.1f} degrees: fill {fill:.1f} cm³, "
                    "cut {cut:.1f} cm³",
                    number=number,
                    insert=one["insert"],
                    x=one["x_mm"],
                    y=one["y_mm"],
                    angle=one["angle_deg"],
                    fill=one["fill_mm3"] / 1000,
                    cut=one["cut_mm3"] / 1000,
                )
            )
    return 1 if any(one["severity"] == "stop" for one in answer["proposals"][0]["findings"]) else 0
