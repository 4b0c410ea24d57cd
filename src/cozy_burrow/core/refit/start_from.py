"""A finished insert as the beginning of the next one: another drawer, another foam. What still fits stays as it lies.

The whole layout is pushed into each corner and to the middle of the new foam; where most of it fits, it stays. What
breaks a rule there leaves, one thing after the other, and is arranged anew with whatever found no place.
"""

from __future__ import annotations

from collections import Counter
from itertools import product

import shapely
from msgspec.structs import replace

from cozy_burrow.core.findings.report import insert_findings
from cozy_burrow.core.ground.arranging import LeftOver, arranged
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.model.edits import change_insert, insert_of, move_placements, take_out
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import Container, Insert, Project, Record, Sheet
from cozy_burrow.core.progress import Token
from cozy_burrow.core.pulls.forms import bed_for
from cozy_burrow.core.tongue import tr

_ID, _BOX = "insert-1", "container-1"


class Started(Record, frozen=True, kw_only=True):
    """A project that begins with an older one's insert: which placements stayed, and what found no place."""

    project: Project
    stayed: tuple[str, ...]
    left_over: tuple[LeftOver, ...]


def started_from(
    source: Project, insert_id: str, container: Container, sheets: tuple[Sheet, ...], *, token: Token, seed: int = 1
) -> Started:
    """Return a new project with what lies in an insert of another, in another container and other foam.

    Seats and layers set by hand are judged anew where the foam has other layers. A token that stops the search gives
    the best until then.
    """
    project = _bare(source, insert_id, container, sheets)
    ground = ground_of(project, insert_of(project, _ID))
    before = ground_of(source, insert_of(source, insert_id))
    project = _pushed(project, before, ground)
    project, stayed = _what_fits(project)
    found = arranged(project, _ID, seed=seed, token=token, keep=stayed)
    return Started(project=found.project, stayed=stayed, left_over=found.left_over)


def _bare(source: Project, insert_id: str, container: Container, sheets: tuple[Sheet, ...]) -> Project:
    """Return the new project with everything where it lay."""
    old = insert_of(source, insert_id)
    same_layers = [(one.thickness_mm, one.pitch_mm) for one in old.sheets] == [
        (one.thickness_mm, one.pitch_mm) for one in sheets
    ]
    copies = Counter(one.item_id for one in old.placements)
    items = tuple(replace(one, quantity=copies[one.id]) for one in source.items if one.id in copies)
    numbered: Counter[str] = Counter()
    renamed, placements = {}, []
    for one in old.placements:
        numbered[one.item_id] += 1
        new = replace(
            one,
            id=f"{one.item_id}#{numbered[one.item_id]}",
            copy=numbered[one.item_id],
            locked=False,
            eased_mm=0.0,
            eased_sides=(),
        )
        if not same_layers:
            new = replace(new, zone_layers=None, risers_mm=None)
        renamed[one.id] = new.id
        placements.append(new)
    pulls = tuple(replace(pull, serves=tuple(renamed[key] for key in pull.serves)) for pull in old.pulls)
    if not same_layers:
        pulls = tuple(replace(pull, layers=None) for pull in pulls)
    insert = Insert(
        id=_ID,
        name=container.name,
        container_id=_BOX,
        sheets=sheets,
        press_fit_mm=old.press_fit_mm,
        placements=tuple(placements),
        pulls=pulls,
    )
    return Project(
        title=tr("After {title}", title=source.title),
        units=source.units,
        items=items,
        containers=(replace(container, id=_BOX),),
        inserts=(insert,),
        rules=source.rules,
    )


def _pushed(project: Project, before: Ground, ground: Ground) -> Project:
    """Return the project with everything moved as one to where most of it lies on the new foam."""
    old, new = before.blank.bounds, ground.blank.bounds
    ways: list[tuple[float, int, Project]] = []
    for x, y in product((0, 2, 1), (0, 2, 1)):  # against the left, the right, in the middle; back, front, middle
        dx = {0: new[0] - old[0], 2: new[2] - old[2], 1: (new[0] + new[2] - old[0] - old[2]) / 2}[x]
        dy = {0: new[1] - old[1], 2: new[3] - old[3], 1: (new[1] + new[3] - old[1] - old[3]) / 2}[y]
        moved = _moved(project, round(dx, 3), round(dy, 3))
        ways.append((-_on_foam(moved), len(ways), moved))
    return min(ways, key=lambda way: way[:2])[2]


def _moved(project: Project, dx: float, dy: float) -> Project:
    insert = insert_of(project, _ID)
    pulls = tuple(
        replace(pull, points_mm=tuple((px + dx, py + dy) for px, py in pull.points_mm))
        if kind_of_pull(pull).shared
        else pull
        for pull in insert.pulls
    )
    keys = [one.id for one in insert.placements]
    return move_placements(change_insert(project, _ID, pulls=pulls), _ID, keys, dx_mm=dx, dy_mm=dy)


def _on_foam(project: Project) -> float:
    """Return the area of what lies with its whole pocket on the foam, the edge kept."""
    ground = ground_of(project, insert_of(project, _ID))
    bed = bed_for(ground.bay, ground.rules).area
    shapely.prepare(bed)
    return sum(pocket.surface.area for pocket in ground.pockets.values() if bed.covers(pocket.surface))


def _what_fits(project: Project) -> tuple[Project, tuple[str, ...]]:
    """Return the project without what breaks a rule where it lies, and what stayed."""
    while True:
        insert = insert_of(project, _ID)
        told: Counter[str] = Counter()
        for finding in insert_findings(ground_of(project, insert)):
            if finding.severity == "stop":
                told.update(finding.placements)
        laid = [one.id for one in insert.placements]
        if not told:
            return project, tuple(laid)
        # Whoever is in most quarrels leaves; of equals the last one laid.
        worst = max((key for key in laid if key in told), key=lambda key: (told[key], laid.index(key)), default=None)
        if worst is None:
            return project, tuple(laid)
        project = take_out(project, _ID, [worst])
