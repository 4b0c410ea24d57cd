"""`marks OUT.pdf [--size 20mm]`: four corner marks, by which a photo of the open drawer is laid onto the plan."""

from __future__ import annotations

from pathlib import Path

import click

from cozy_burrow.cli.kinds import LENGTH
from cozy_burrow.core.capture.photo.mat import PAPERS
from cozy_burrow.core.keep.marks import USUAL_MM
from cozy_burrow.core.keep.marks import marks as marks_of
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.marks_pdf import marks_pdf
from cozy_burrow.jobs.files import write_all


@click.command()
@click.argument("out", type=click.Path(path_type=Path))
@click.option("--size", "size_mm", type=LENGTH, default=USUAL_MM, help="Of the black squares; 20 mm if left out.")
@click.option("--paper", type=click.Choice(PAPERS), default="a4", show_default=True)
def marks(out: Path, size_mm: float, paper: str) -> int:
    """Write the four marks to print, cut out and stick into the corners of the foam."""
    write_all(out.parent, {out.name: marks_pdf(marks_of(size_mm), paper=paper)})
    click.echo(tr("{out}: print at 100 %; the black squares must be {size:g} mm wide", out=out, size=size_mm))
    return 0
