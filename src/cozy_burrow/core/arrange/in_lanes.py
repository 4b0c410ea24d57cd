"""All pieces laid in lanes and put in order, on the true shapes: what a search in lanes begins with."""

from __future__ import annotations

import random
from collections.abc import Sequence

from cozy_burrow.core.arrange.contacts import Body, shortfalls
from cozy_burrow.core.arrange.lanes import Lanes, is_stopped
from cozy_burrow.core.arrange.order import Spread, ordered
from cozy_burrow.core.arrange.pieces import Bed, Piece
from cozy_burrow.core.arrange.placing_in import Laid
from cozy_burrow.core.arrange.raster import Grid
from cozy_burrow.core.arrange.squeeze import separated
from cozy_burrow.core.arrange.wishes import Aims
from cozy_burrow.core.progress import Token

_HARDLY_MM = 6.0  # that lanes may reach beyond: they are counted with bounds, and things make way


def laid_in_lanes(
    pieces: Sequence[Piece],
    bed: Bed,
    grid: Grid,
    aims: Aims,
    *,
    corner: float,
    spread: Spread,
    chance: random.Random,
    token: Token,
) -> list[Laid] | None:
    """Return every piece laid, or None where they do not go into lanes.

    A token that stops it gets the best until then; of lanes that still reach beyond the room, those that do not.
    Rows that are longer than the bed fall apart into what they are made of. Where the bed is no rectangle, or
    something fixed is in the way, things make way a few millimetres.
    """
    whole = _that_go_in(pieces, bed, aims, corner)
    if whole is None:
        return None
    lanes = Lanes(whole, bed, aims, corner=corner)
    order, beyond = lanes.found(chance, token)
    if beyond > _HARDLY_MM:
        order = lanes.in_room(order) if is_stopped(token, 0.5) else []
    spots = lanes.spots(order)
    bodies = [Body(piece.forms[form], x, y, angle) for piece, form, x, y, angle in spots]
    if shortfalls(bodies, bed) != (0.0, 0.0):
        bodies = separated(bodies, bed, steps=8, may_turn=False) or []
    if not bodies:
        return None
    bodies = ordered(bodies, bed, spread=spread, groups=[piece.group for piece, *_ in spots])
    return [
        Laid(piece, form, one.x_mm, one.y_mm, one.angle_deg, grid.window_of(one.shape, one.form.wall_mm))
        for (piece, form, *_), one in zip(spots, bodies)
    ]


def _that_go_in(pieces: Sequence[Piece], bed: Bed, aims: Aims, corner: float) -> list[Piece] | None:
    """Return the pieces with those rows taken apart that go in at no angle; None where a single thing does not."""
    found: list[Piece] = []
    waiting = list(pieces)
    while waiting:
        piece = waiting.pop(0)
        try:
            Lanes([piece], bed, aims, corner=corner)
        except ValueError:
            if piece.is_whole:
                return None
            waiting = [*piece.instead, *waiting]
        else:
            found.append(piece)
    return found
