"""The answer of `plan` and `check` in words on the terminal."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

import click

from cozy_burrow.core.findings.kinds import KINDS
from cozy_burrow.core.findings.report import UNPLACED
from cozy_burrow.core.tongue import tr

_MOST_ALONE = 3  # findings of one kind that are told one by one
_MOST_NAMED = 8
_MARK = {"stop": "MUST FIX", "care": "warning ", "note": "note    "}


def say(answer: dict[str, Any], *, saved: str = "", remarks: Sequence[str] = ()) -> None:
    """Print what lies where and what was found. remarks: what is to be said of what lies nowhere."""
    count = len(answer["placed"]) + len(answer["unplaced"])
    share = answer["used_area_mm2"] / max(1.0, answer["insert_area_mm2"])
    click.echo(
        tr(
            "{count} of {count_2} items placed, {share:.0%} of the foam's surface cut out",
            count=len(answer["placed"]),
            count_2=count,
            share=share,
        )
    )
    _say_unplaced(answer["unplaced"])
    for remark in remarks:
        click.echo(f"  {remark}")
    alike: dict[tuple[str, str], list[dict[str, Any]]] = {}
    for one in answer["findings"]:
        if one["code"] != UNPLACED.code:
            alike.setdefault((one["severity"], one["code"]), []).append(one)
    for (severity, code), found in alike.items():
        if len(found) > _MOST_ALONE:
            names = list(dict.fromkeys(name for one in found for name in one["items"]))
            more = tr(" and {count} more", count=len(names) - _MOST_NAMED) if len(names) > _MOST_NAMED else ""
            title = KINDS[code].title
            who = ", ".join(names[:_MOST_NAMED])
            click.echo(
                tr(
                    "  {mark}  {count} times: {title}: {who}{more}; such as:",
                    mark=_MARK[severity],
                    count=len(found),
                    title=title,
                    who=who,
                    more=more,
                )
            )
        for one in found if len(found) <= _MOST_ALONE else found[:1]:
            click.echo(f"  {_MARK[severity]}  {one['text']}")
    if saved:
        click.echo(tr("saved {saved}", saved=saved))


def _say_unplaced(unplaced: Sequence[dict[str, Any]]) -> None:
    """Print what lies nowhere: one by one where it is few, by its reason where it is many."""
    why: dict[str, Counter[str]] = {}
    for one in unplaced:
        why.setdefault(one["why"], Counter())[one["name"]] += 1
    for reason, names in why.items():
        if names.total() > _MOST_ALONE:
            who = ", ".join(name if count == 1 else f"{name} ({count})" for name, count in names.items())
            click.echo(tr("  {count} not placed, {why}: {who}", count=names.total(), why=reason, who=who))
    for one in unplaced:
        if why[one["why"]].total() <= _MOST_ALONE:
            click.echo(tr("  not placed: {one} {one_2}: {one_3}", one=one["name"], one_2=one["copy"], one_3=one["why"]))
