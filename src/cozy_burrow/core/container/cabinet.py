"""Several containers of one kind: a cabinet as one job, its drawers by name and place."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.edits import container_of, free_id, insert_of
from cozy_burrow.core.model.records import Container, Insert, Project
from cozy_burrow.core.tongue import tr

MOST_ROWS = 60
_MOST_NAME = 200


def rows_of(text: str) -> tuple[tuple[str, str], ...]:
    """Return names and places of drawers, from a line each: the place stands behind a semicolon, and may lack.

    Raises UnusableInput for none, or too many.
    """
    rows = []
    for line in text.splitlines():
        name, _, place = line.partition(";")
        if name.strip():
            rows.append((name.strip()[:_MOST_NAME], place.strip()[:_MOST_NAME]))
    if not rows:
        raise UnusableInput(tr("no drawer is named"), remedy=tr("write a line each, as: Top drawer; left, first"))
    if len(rows) > MOST_ROWS:
        raise UnusableInput(tr("{count} drawers", count=len(rows)), remedy=tr("add up to {most}", most=MOST_ROWS))
    return tuple(rows)


def add_like(
    project: Project, insert_id: str, rows: Sequence[tuple[str, str]], *, like: Container | None = None
) -> Project:
    """Return the project with a container and an empty insert a row (name, place), like that of an insert.

    like: another container than that of the insert. The foam is the insert's own.
    """
    pattern = insert_of(project, insert_id)
    box = like or container_of(project, pattern)
    containers, inserts = list(project.containers), list(project.inserts)
    for name, place in rows:
        new = replace(box, id=free_id("container", [one.id for one in containers]), name=name, place=place)
        containers.append(new)
        inserts.append(
            Insert(
                id=free_id("insert", [one.id for one in inserts]),
                name=name,
                container_id=new.id,
                sheets=pattern.sheets,
                press_fit_mm=pattern.press_fit_mm,
                whole_bottom=pattern.whole_bottom,
            )
        )
    return replace(project, containers=tuple(containers), inserts=tuple(inserts))
