"""`plan KIT.csv OUT.burrow`: the main job without a window."""

from __future__ import annotations

from pathlib import Path
from typing import Any, cast, get_args

import click

from cozy_burrow.cli.kinds import LENGTH, print_json
from cozy_burrow.cli.say import say
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import SEATS, ContainerKind
from cozy_burrow.core.units import Unit
from cozy_burrow.jobs.plan import make_rules, parse_container, parse_foam, plan_kit
from cozy_burrow.jobs.report import must_be_mended, report
from cozy_burrow.storage.project_file import save
from cozy_burrow.storage.whole_file import keep_older


@click.command()
@click.argument("kit", type=click.Path(path_type=Path))
@click.argument("out", type=click.Path(path_type=Path))
@click.option("--container", required=True, metavar="WxDxH", help="The inside: left to right, front to back, height.")
@click.option("--kind", type=click.Choice(get_args(ContainerKind)), default="drawer")
@click.option("--corner-radius", type=LENGTH, default=0.0)
@click.option("--foam", required=True, metavar="SHEET/LAYER[,…]", help="Sheets, top first, such as 50/10.")
@click.option("--wall", type=LENGTH, help="Least foam between pockets of different items, at every depth.")
@click.option("--edge", type=LENGTH, help="Least foam between a pocket and the insert's edge.")
@click.option("--floor", type=int, metavar="LAYERS", help="Layers that stay at the bottom of the whole stack.")
@click.option("--allowance", type=LENGTH, help="How much a pocket is larger all round than its item.")
@click.option("--seat", type=click.Choice(SEATS), help="For items that name none.")
@click.option("--pulls", type=click.Choice(["auto", "none"]), default="auto")
@click.option("--seconds", type=click.FloatRange(0, 86_400), default=20.0, help="Bounds the search.")
@click.option("--seed", type=int, default=1, help="The same seed and as many steps give the same plan.")
@click.option("--steps", type=click.IntRange(0), help="Ends the search after so many steps, in time or not.")
@click.option("--units", type=click.Choice(get_args(Unit)), default="mm", help="Of bare figures in the kit.")
@click.option("--json", "as_json", is_flag=True)
def plan(kit: Path, out: Path, **options: Any) -> int:
    """Read a kit, arrange it, set depths, place finger pulls, check and save."""
    if out.suffix.lower() != ".burrow":
        raise UnusableInput("the project's name must end in .burrow", where=str(out), remedy="name it so")
    container = parse_container(
        options["container"],
        kind=cast(ContainerKind, options["kind"]),
        corner_radius_mm=options["corner_radius"],
    )
    sheets = parse_foam(options["foam"])
    rules = make_rules(
        wall_mm=options["wall"],
        edge_mm=options["edge"],
        floor_layers=options["floor"],
        allowance_mm=options["allowance"],
        seat=options["seat"],
        sheets=sheets,
    )
    result, seconds = plan_kit(
        kit,
        container,
        sheets,
        rules,
        with_pulls=options["pulls"] == "auto",
        seconds=options["seconds"],
        seed=options["seed"],
        steps=options["steps"],
        unit=options["units"],
        heard=lambda remark: click.echo(remark, err=True),
    )
    answer = report(result.project, seconds=seconds, left_over=result.left_over)
    keep_older(out)
    save(result.project, out)
    if options["as_json"]:
        print_json(answer)
    else:
        say(answer, saved=str(out))
    return 1 if must_be_mended(answer) else 0
