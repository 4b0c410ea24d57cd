"""Arrange for me: from a project with a kit to one with everything laid in an insert, pulls and all."""

from __future__ import annotations

from collections.abc import Collection

from cozy_burrow.core.arrange.pieces import Piece, Spot, fits_at_all, longest_mm
from cozy_burrow.core.arrange.search import arrange
from cozy_burrow.core.ground.fitting import fill_pulls, used_bed
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.edits import add_pulls, change_insert, insert_of, placement_id, take_out, unplaced
from cozy_burrow.core.model.records import Placement, Project, Record
from cozy_burrow.core.progress import Token
from cozy_burrow.core.pulls.forms import piece_for, pull_of


class LeftOver(Record, frozen=True, kw_only=True):
    """A thing that found no place, and why: "too_large" or "no_room"; the figures are its length and the bed's."""

    item_id: str
    copy: int
    why: str
    length_mm: float
    longest_mm: float


class Arranged(Record, frozen=True, kw_only=True):
    """What came of arranging: the project, and what found no place in it."""

    project: Project
    left_over: tuple[LeftOver, ...]
    attempts: int


def arranged(
    project: Project,
    insert_id: str,
    *,
    seed: int,
    token: Token,
    with_pulls: bool = True,
    keep: Collection[str] = (),
) -> Arranged:
    """Return the project with everything that lies in this insert or in none laid anew in the insert.

    Locked placements and those in `keep` stay where they are, with their pulls. Always valid: what finds no
    place goes back to the tray. A token that stops the search gives the best layout until then.
    """
    insert = insert_of(project, insert_id)
    moving = [one.id for one in insert.placements if not one.locked and one.id not in keep]
    cleared = take_out(project, insert_id, moving)
    ground = ground_of(cleared, insert_of(cleared, insert_id))
    pieces = [
        piece_for(item, copy, ground.bay, cleared.rules, with_pulls=with_pulls) for item, copy in unplaced(cleared)
    ]
    bed = used_bed(ground, without=frozenset())
    layout = arrange(pieces, bed, seed=seed, token=token)
    by_key = {piece.key: piece for piece in pieces}
    result = _laid(cleared, insert_id, layout.spots, by_key)
    bare = [
        placement_id(*spot.key)
        for spot in layout.spots
        if len(by_key[spot.key].forms) > 1 and by_key[spot.key].forms[spot.form].tag is None
    ]
    result = fill_pulls(result, insert_id, bare)
    left_over = tuple(
        LeftOver(
            item_id=key[0],
            copy=key[1],
            why="no_room" if fits_at_all(by_key[key].forms[-1].shape, bed) else "too_large",
            length_mm=longest_mm(by_key[key].forms[-1].shape),
            longest_mm=longest_mm(bed.area) if not bed.area.is_empty else 0.0,
        )
        for key in layout.left_over
    )
    return Arranged(project=result, left_over=left_over, attempts=layout.attempts)


def _laid(project: Project, insert_id: str, spots: tuple[Spot, ...], pieces: dict[tuple[str, int], Piece]) -> Project:
    insert = insert_of(project, insert_id)
    new = tuple(
        Placement(
            id=placement_id(*spot.key),
            item_id=spot.key[0],
            copy=spot.key[1],
            x_mm=spot.x_mm,
            y_mm=spot.y_mm,
            angle_deg=spot.angle_deg,
        )
        for spot in spots
    )
    order = {item.id: index for index, item in enumerate(project.items)}
    together = sorted((*insert.placements, *new), key=lambda one: (order[one.item_id], one.copy))
    project = change_insert(project, insert_id, placements=tuple(together))
    pulls = [
        pull
        for spot in spots
        if (pull := pull_of(pieces[spot.key].forms[spot.form], placement_id(*spot.key))) is not None
    ]
    return add_pulls(project, insert_id, pulls)
