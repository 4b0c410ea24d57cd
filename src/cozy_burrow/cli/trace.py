"""`trace PHOTO... OUT_DIR`: the outlines of everything that lies on the mat in a photo, or in several."""

from __future__ import annotations

from pathlib import Path

import click

from cozy_burrow.cli.kinds import LENGTH, print_json
from cozy_burrow.core.capture.photo.sides import Sides
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.trace import BENT_MM, as_json, write_traces

_TRUSTED = 0.95  # of a rim: less supported, a person should look at it


@click.command()
@click.argument("photos", metavar="PHOTO...", nargs=-1, required=True, type=click.Path(path_type=Path))
@click.argument("out_dir", type=click.Path(path_type=Path))
@click.option("--thickness", type=LENGTH, default=0.0, help="Height above the mat of the edge that the camera sees.")
@click.option(
    "--sides",
    type=click.Choice(["round", "straight"]),
    help="How walls stand; left out: round, of several photos each as they tell.",
)
@click.option("--scale-across", type=LENGTH, help="Measured length of the printed scale at the top.")
@click.option("--scale-down", type=LENGTH, help="Measured length of the printed scale at the left.")
@click.option("--json", "json_wanted", is_flag=True)
def trace(
    photos: tuple[Path, ...],
    out_dir: Path,
    thickness: float,
    sides: Sides | None,
    scale_across: float | None,
    scale_down: float | None,
    json_wanted: bool,
) -> int:
    """Trace every thing that a photo shows on the mat.

    Several photos of one layout, taken from places apart, measure the height of each edge too; --thickness is then only
    what is taken where they cannot tell.
    """
    result = write_traces(photos, out_dir, edge_mm=thickness, sides=sides, printed_mm=(scale_across, scale_down))
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
    if result.bent_mm > BENT_MM:
        click.echo(tr("the page lies up to {bent:.1f} mm off flat; that is taken out", bent=result.bent_mm))
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
        if one.edge_mm is not None and one.sigma_mm is not None:
            click.echo(_edge(one.edge_mm, one.sigma_mm, one.sides))
        for part in one.parts:
            click.echo(tr("  a part of it {edge:.1f} ± {sigma:.1f} mm", edge=part.edge_mm, sigma=part.sigma_mm))
        if one.trust < _TRUSTED:
            click.echo(
                tr("  {share:.0f} % of its rim is hardly seen: look at it", share=100 * (1 - one.trust)), err=True
            )
    for remark in result.remarks:
        click.echo(tr("left out: {remark}", remark=remark), err=True)
    return 0


def _edge(edge_mm: float, sigma_mm: float, sides: Sides) -> str:
    if sides == "straight":
        return tr(
            "  its edge is {edge:.1f} ± {sigma:.1f} mm above the mat, its walls upright", edge=edge_mm, sigma=sigma_mm
        )
    return tr("  its edge is {edge:.1f} ± {sigma:.1f} mm above the mat, round below it", edge=edge_mm, sigma=sigma_mm)
