"""The thin-wall map: where foam between openings is thinner than it should be, everywhere and not only at worst."""

from __future__ import annotations

import shapely
from shapely.geometry import MultiPolygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.geometry.rings import as_multi
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Record

SHARES = (0.5, 0.8, 1.0)  # of the wanted wall: torn at once, weak, just short


class Thin(Record, frozen=True, kw_only=True):
    """Foam of one layer that is thinner than limit_mm, which is `share` of the wanted wall."""

    share: float
    limit_mm: float
    area: MultiPolygon


@memo(rows=32)
def thin_foam(ground: Ground, number: int = 1) -> tuple[Thin, ...]:
    """Return the thin foam of a layer, the thinnest first; each leaves out what a thinner limit already names.

    Foam of local thickness t is what a disc of diameter t no longer covers when it is rolled about inside: the layer
    less its opening by t/2. Corners of the blank, which no disc fills, are no walls, and are left out by their size.
    """
    layer = ground.layers[number - 1]
    foam = ground.blanks[layer.sheet - 1].polygon.difference(ground.taken_out(number))
    wanted = wanted_wall_mm(layer.bottom_mm, ground.rules)
    found: list[Thin] = []
    named: BaseGeometry = MultiPolygon()
    for share in SHARES:
        limit = share * wanted
        half = limit / 2 - 0.01
        opened = foam.buffer(-half, quad_segs=6).buffer(half + 0.02, quad_segs=6)
        rest = foam.difference(opened)
        parts = [part for part in shapely.get_parts(rest) if _is_wall(part, limit)]
        area = shapely.union_all(parts).difference(named) if parts else MultiPolygon()
        named = shapely.union_all([named, area])
        found.append(Thin(share=share, limit_mm=limit, area=as_multi(area)))
    return tuple(found)


def _is_wall(part: BaseGeometry, limit_mm: float) -> bool:
    """Return whether a part is a wall: a rounded-off corner of 90° has 0.054 of the limit squared, one of 60° 0.17."""
    return bool(part.area > 0.2 * limit_mm * limit_mm)
