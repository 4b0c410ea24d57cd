"""`export FILE.burrow OUT_DIR`: papers for the bench, drawings for a cutting shop, tables for a spreadsheet."""

from __future__ import annotations

from pathlib import Path

import click

from cozy_burrow.export.paper import template_papers
from cozy_burrow.jobs.export import parse_only, print_remarks, write_export
from cozy_burrow.jobs.workshop import kept_workshop
from cozy_burrow.storage.project_file import load


@click.command()
@click.argument("file", type=click.Path(path_type=Path))
@click.argument("out_dir", type=click.Path(path_type=Path))
@click.option(
    "--only", help="Some of pdf,svg,dxf,json,csv,labels,png; png, pictures of the inserts, comes only when it is named."
)
@click.option(
    "--paper",
    type=click.Choice(list(template_papers())),
    default="a4",
    help="Of the templates; other papers come on a4 where this one is larger than any of a4, a3, letter, tabloid.",
)
def export(file: Path, out_dir: Path, only: str | None, paper: str) -> int:
    """Write everything that the bench, a cutting shop and a spreadsheet need."""
    kinds = parse_only(only)
    project = load(file)
    for name in write_export(project, out_dir, kinds=kinds, paper=paper, workshop=kept_workshop()):
        click.echo(str(out_dir / name))
    for remark in print_remarks(project) if {"pdf", "labels"}.intersection(kinds) else ():
        click.echo(remark, err=True)
    return 0
