"""No verb: the window. Only here is the interface imported, so that verbs work where no graphics library is."""

from __future__ import annotations

from pathlib import Path

import click

from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.model.stages import STAGES
from cozy_burrow.core.tongue import tr


@click.command()
@click.argument("file", required=False, type=click.Path(path_type=Path))
@click.option("--demo", is_flag=True, help="Open a fresh copy of the demo project.")
@click.option("--shot", type=click.Path(path_type=Path), help="Paint the window, save a PNG, quit.")
@click.option("--stage", type=click.Choice(STAGES))
@click.option("--size", default="1280x800", metavar="WIDTHxHEIGHT")
@click.option("--theme", type=click.Choice(["light", "lamp", "contrast"]))
@click.option("--scale", type=click.FloatRange(0.5, 4.0), default=1.0)
def window(
    file: Path | None,
    demo: bool,
    shot: Path | None,
    stage: str | None,
    size: str,
    theme: str | None,
    scale: float,
) -> int:
    """Open the window: empty, with a project, or with the demo."""
    if file is not None and file.suffix.lower() != ".burrow":
        raise UnusableInput(
            tr("this is neither a verb nor a .burrow file"), where=str(file), remedy=tr("see cozy-burrow --help")
        )
    if file is not None and demo:
        raise UnusableInput(tr("--demo opens no file"), where=str(file), remedy=tr("name one of the two"))
    from cozy_burrow.app.main import start
    from cozy_burrow.app.start import Start

    return start(Start(file=file, demo=demo, shot=shot, stage=stage, size=_pixels(size), theme=theme, scale=scale))


def _pixels(text: str) -> tuple[int, int]:
    width, _, height = text.lower().partition("x")
    plain = all(part.isascii() and part.isdigit() and len(part) <= 4 for part in (width, height))
    if not plain or not all(200 <= int(part) <= 8000 for part in (width, height)):
        raise UnusableInput(tr("{text} is no size", text=quoted(text)), where="--size", remedy=tr("write 1280x800"))
    return int(width), int(height)
