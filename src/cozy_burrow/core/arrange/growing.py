"""A bed that is nearly full: everything is laid in one that is a little larger, and pushed together into the true one.

Laid one by one, the last pieces find no place though there is room enough, in gaps between the others. With some room
to spare all of it finds a place, in the order and the rows that are wished for; the gaps are then pressed out on the
true shapes, all at once.
"""

from __future__ import annotations

from collections.abc import Sequence

from shapely import affinity

from cozy_burrow.core.arrange.contacts import Body
from cozy_burrow.core.arrange.crowding import FULL, cover
from cozy_burrow.core.arrange.pieces import Bed, Piece
from cozy_burrow.core.arrange.squeeze import separated
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.progress import Token

GROWTHS = (1.03, 1.06, 1.1)  # in both directions; from 1.14 on nothing could be pushed together any more, by trial
_STEPS = 24


def is_worth_it(pieces: Sequence[Piece], bed: Bed) -> bool:
    """Return whether the pieces, all in their best forms with half a wall round them, leave a little of the bed."""
    return cover(pieces, [0] * len(pieces)) < FULL * bed.area.area


def larger(bed: Bed, growth: float) -> Bed:
    """Return the bed so many times as wide and deep round its middle; what is fixed in it goes along."""
    middle = _middle(bed)
    fixed = []
    for area, wall_mm in bed.fixed:
        at = area.centroid
        by_x, by_y = (growth - 1.0) * (at.x - middle[0]), (growth - 1.0) * (at.y - middle[1])
        fixed.append((affinity.translate(area, by_x, by_y), wall_mm))
    return Bed(affinity.scale(bed.area, growth, growth, origin=middle), fixed)


def pushed_together(bodies: Sequence[Body], bed: Bed, growth: float, token: Token) -> list[Body] | None:
    """Return bodies of a larger bed in the true one, all walls kept; None where they do not go in. Raises Cancelled."""
    x, y = _middle(bed)
    nearer = [Body(one.form, x + (one.x_mm - x) / growth, y + (one.y_mm - y) / growth, one.angle_deg) for one in bodies]
    return separated(nearer, bed, steps=_STEPS, may_turn=False, token=token)


def _middle(bed: Bed) -> Point:
    left, top, right, bottom = bed.room
    return (left + right) / 2, (top + bottom) / 2
