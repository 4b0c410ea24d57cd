"""`trace PHOTO OUT_DIR`: the outlines of everything that lies on the mat in a photo."""

from __future__ import annotations

from pathlib import Path

import click

from cozy_burrow.cli.kinds import LENGTH, print_json
from cozy_burrow.core.capture.photo.sides import Sides
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.trace import as_json, write_traces


@click.command()
@click.argument("photo", type=click.Path(path_type=Path))
@click.argument("out_dir", type=click.Path(path_type=Path))
@click.option("--thickness", type=LENGTH, default=0.0, help="Height above the mat of the edge that the camera sees.")
@click.option("--sides", type=click.Choice(["round", "straight"]), default="round", show_default=True)
@click.option("--scale-across", type=LENGTH, help="Measured length of the printed scale at the top.")
@click.option("--scale-down", type=LENGTH, help="Measured length of the printed scale at the left.")
@click.option("--json", "json_wanted", is_flag=True)
def trace(
    photo: Path,
    out_dir: Path,
    thickness: float,
    sides: Sides,
    scale_across: float | None,
    scale_down: float | None,
    json_wanted: bool,
) -> int:
    """Trace every thing that a photo shows on the mat."""
    result = write_traces(photo, out_dir, edge_mm=thickness, sides=sides, printed_mm=(scale_across, scale_down))
    if json_wanted:
        print_json(as_json(result))
        return 0
    click.echo(
        tr(
            "mat {paper}, marks fit to {residual:.2f} mm; camera {height:.0f} mm above it, tilted by "
            "{tilt:.0f} degrees",
            paper=result.paper,
            residual=result.residual_mm,
            height=result.height_mm,
            tilt=result.tilt_deg,
        )
    )
    for one in result.items:
        left, top, right, bottom = polygon_of(one.outline).bounds
        click.echo(
            tr(
                "{file}: {right:.1f} x {bottom:.1f} mm, ± {sure:.2f} mm",
                file=one.file,
                right=right - left,
                bottom=bottom - top,
                sure=one.sure_mm,
            )
        )
    for remark in result.remarks:
        click.echo(tr("left out: {remark}", remark=remark), err=True)
    return 0
