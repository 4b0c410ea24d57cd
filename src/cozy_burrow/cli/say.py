"""The answer of `plan` and `check` in words on the terminal."""

from __future__ import annotations

from typing import Any

import click

_MARK = {"stop": "STOP", "care": "care", "note": "note"}


def say(answer: dict[str, Any], *, saved: str = "") -> None:
    """Print what lies where and what was found."""
    count = len(answer["placed"]) + len(answer["unplaced"])
    share = answer["used_area_mm2"] / max(1.0, answer["insert_area_mm2"])
    click.echo(f"{len(answer['placed'])} of {count} things laid in, {share:.0%} of the foam's surface taken out")
    for one in answer["unplaced"]:
        click.echo(f"  left over: {one['name']} {one['copy']}: {one['why']}")
    for one in answer["findings"]:
        if one["code"] != "UNPLACED":
            click.echo(f"  {_MARK[one['severity']]}  {one['text']}")
    if saved:
        click.echo(f"saved {saved}")
