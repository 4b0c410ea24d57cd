"""`outlines FILE... OUT_DIR`: clean closed outlines from SVG and DXF drawings."""

from __future__ import annotations

from pathlib import Path

import click
import msgspec

from cozy_burrow.cli.kinds import print_json
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.outlines import write_outlines


@click.command()
@click.argument("files", nargs=-1, required=True, type=click.Path(path_type=Path))
@click.argument("out_dir", type=click.Path(path_type=Path))
@click.option("--json", "as_json", is_flag=True)
def outlines(files: tuple[Path, ...], out_dir: Path, as_json: bool) -> int:
    """Turn drawings into clean closed outlines."""
    result = write_outlines(files, out_dir)
    if as_json:
        print_json(msgspec.to_builtins(result))
        return 0
    for one in result.outlines:
        click.echo(
            tr(
                "{file}: {width:.1f} x {height:.1f} mm, {holes} holes, from {source}",
                file=one.file,
                width=one.width_mm,
                height=one.height_mm,
                holes=one.holes,
                source=one.source,
            )
        )
    for left in result.skipped:
        click.echo(tr("skipped {source}: {why}", source=left.source, why=left.why), err=True)
    return 0
