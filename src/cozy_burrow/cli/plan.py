"""`plan KIT.csv OUT.burrow`: the main job without a window."""

from __future__ import annotations

from pathlib import Path
from typing import Any, cast, get_args

import click

from cozy_burrow.assets.read import asset
from cozy_burrow.cli.kinds import LENGTH, print_json
from cozy_burrow.cli.say import say
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import SEATS, ContainerKind
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit
from cozy_burrow.jobs.first_look_words import why_full
from cozy_burrow.jobs.plan import make_rules, parse_container, parse_foam, plan_kit
from cozy_burrow.jobs.report import must_be_mended, report
from cozy_burrow.storage.project_file import save
from cozy_burrow.storage.whole_file import keep_older


def _print_template(context: click.Context, _: click.Parameter, wanted: bool) -> None:
    if wanted and not context.resilient_parsing:
        click.echo(asset("demo", "template.csv").read_text(encoding="utf-8"), nl=False)
        context.exit()


_HELP = tr(
    "Read a kit, arrange it, set depths, place finger pulls, check and save.\n\n    KIT is a "
    "CSV table, one row an item; plan --template writes a sample with every column. OUT ends "
    "in .burrow; an\n    older one is kept beside it as OUT.burrow~. Lengths: 12, 12mm, "
    "1.2cm, 0.5in, 1 1/8in; a bare one is in millimetres.\n\n    \n    Kinds of container "
    "(--kind) and how deep items lie where no seat is named, by judgement: at least half of "
    "each in\n    the foam, never higher than what is above, level and steady where whole "
    "layers can do it:\n      drawer   about half of each item stands out, easy to "
    "grab\n      case     flush; its inside is what --container says. Under a lid with foam: "
    "just touched by it\n      wall     a foam wall: flush, so that it stays and fingers "
    "still follow\n\n    \n    Seats (--seat, and the column seat), in whole layers, at least "
    "one:\n      half     the number of layers nearest to half of the thickness\n      "
    "flush    the number nearest to the thickness\n      proud    stands out, as much as the "
    "lid's foam still holds down\n      lid      goes under the closed lid\n      deep     as "
    "deep as the floor allows\n\n    \n    Stations (column stations): a calliper's readings "
    "along the item, from one end:\n      0:32 95:32 95:6 210:6            a screwdriver: 32 "
    "round for 95 mm, then 6 round to 210\n      0:60x18 14:60x18 14:24x2 160:24x2   a stop: "
    "WIDTHxTHICKNESS; a repeated distance is a step\n      @U after a reading: height of its "
    "underside above the axis, such as 14:24x2@-1\n\n    \n    Example:\n      cozy-burrow plan "
    "kit.csv drawer.burrow --container 570x390x75 --foam 50/10\n\n    Exit status: 0 done; 1 "
    "done, but something lies nowhere or must be fixed before cutting; 2 not usable, with "
    "one\n    line that says what, where and what to do."
)


@click.command(help=_HELP)
@click.argument("kit", type=click.Path(path_type=Path))
@click.argument("out", type=click.Path(path_type=Path))
@click.option("--container", required=True, metavar="WxDxH", help="The inside: left to right, front to back, height.")
@click.option("--kind", type=click.Choice(get_args(ContainerKind)), default="drawer", show_default=True)
@click.option("--corner-radius", type=LENGTH, default=0.0, help="Of the inside, seen from above.")
@click.option("--foam", required=True, metavar="SHEET/LAYER[,…]", help="Sheets, top first, such as 50/10.")
@click.option("--wall", type=LENGTH, help="Least foam between pockets of different items, at every depth.")
@click.option("--edge", type=LENGTH, help="Least foam between a pocket and the insert's edge.")
@click.option("--floor", type=int, metavar="LAYERS", help="Layers that stay at the bottom of the whole stack.")
@click.option("--allowance", type=LENGTH, help="How much a pocket is larger all round than its item; negative: snug.")
@click.option("--seat", type=click.Choice(SEATS), help="For items that name none; by judgement if left out.")
@click.option("--pulls", type=click.Choice(["auto", "none"]), default="auto", show_default=True)
@click.option("--seconds", type=click.FloatRange(0, 86_400), default=20.0, show_default=True, help="Bounds the search.")
@click.option("--seed", type=int, default=1, help="The same seed and as many steps give the same plan.")
@click.option("--steps", type=click.IntRange(0), help="Ends the search after so many steps, in time or not.")
@click.option("--units", type=click.Choice(get_args(Unit)), default="mm", help="Of bare figures in the kit.")
@click.option("--json", "as_json", is_flag=True, help="Print one JSON object and nothing else.")
@click.option(
    "--template",
    is_flag=True,
    is_eager=True,
    expose_value=False,
    callback=_print_template,
    help="Write a sample kit with every column to standard output, and do nothing else.",
)
def plan(kit: Path, out: Path, **options: Any) -> int:
    if out.suffix.lower() != ".burrow":
        raise UnusableInput(tr("the project's name must end in .burrow"), where=str(out), remedy=tr("name it so"))
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
        full = why_full(result.project, result.project.inserts[0].id) if answer["unplaced"] else []
        say(answer, saved=str(out), remarks=full)
    return 1 if must_be_mended(answer) else 0
