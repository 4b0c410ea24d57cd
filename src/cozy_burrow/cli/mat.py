"""`mat OUT.pdf --paper a4|a3|letter|tabloid`: the reference mat to print at 100 %."""

from __future__ import annotations

from pathlib import Path

import click

from cozy_burrow.core.capture.photo.mat import MOST_PAGES, PAPERS, mat_page
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.mat import write_mat


@click.command()
@click.argument("out", type=click.Path(path_type=Path))
@click.option("--paper", type=click.Choice(PAPERS), default="a4", show_default=True)
@click.option("--pages", type=click.IntRange(1, MOST_PAGES), default=1, help="Pages to lay side by side, in any way.")
def mat(out: Path, paper: str, pages: int) -> int:
    """Write the page on which things are photographed."""
    write_mat(out, paper=paper, pages=pages)
    page = mat_page(paper)
    click.echo(
        tr(
            "{out}: print at 100 %; the scale at the top must be {scale_x:g} mm long, the one at the "
            "left {scale_y:g} mm",
            out=out,
            scale_x=page.scale_x_mm,
            scale_y=page.scale_y_mm,
        )
    )
    return 0
