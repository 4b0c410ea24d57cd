"""One photo of an insert, laid onto it: what its rays meet, and how they look against the foam's light."""

from __future__ import annotations

import math

from cozy_burrow.core.capture.photo.picture import Picture
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.keep.belief import rims_seen
from cozy_burrow.core.keep.edges import Edges
from cozy_burrow.core.keep.empty_look import Look, kinds_of, look_of
from cozy_burrow.core.keep.lamp import lamp_of, open_level_of, shine_of
from cozy_burrow.core.keep.rays import hits, seen_from_above
from cozy_burrow.core.keep.sight import DrawerSight, drawer_sight
from cozy_burrow.core.relief import finish
from cozy_burrow.core.relief.field import CONTRAST, FOAM, RIM_MM, Field, field_of, lying_in
from cozy_burrow.core.relief.grid import Grid
from cozy_burrow.core.tongue import tr

_MOST_CELLS = 600_000
_MOST_PX_PER_MM = 2.0
_LEAST_RIMS = 1.6  # photos of the insert have 2.5 and more, those of others of its size 1
# What is not said of colours: nobody looks at them, they tell owners apart.
EMPTY_COLOURS = finish.Look(foam=(60, 60, 60), contrast=(200, 120, 40), rim=(140, 120, 95), floor=(90, 90, 90))


class Looked:
    """One photo of an insert, laid onto it."""

    def __init__(self, ground: Ground, picture: Picture, *, where: str) -> None:
        self.sight: DrawerSight = drawer_sight(picture, ground.blank, where=where)
        left, back, right, front = ground.extent
        area = (right - left + 2 * RIM_MM) * (front - back + 2 * RIM_MM)
        scale = min(_MOST_PX_PER_MM, math.sqrt(_MOST_CELLS / area))
        self.grid = Grid.over((left - RIM_MM, back - RIM_MM, right + RIM_MM, front + RIM_MM), scale)
        full, empty = (field_of(ground, self.grid, EMPTY_COLOURS, filled=filled) for filled in (True, False))
        self.names = tuple(one.body for one in full.finishes)
        self.lying = lying_in(ground)
        camera = self.sight.camera
        self.full, self.empty = hits(full, camera), hits(empty, camera)
        light, shown = seen_from_above(picture.pixels, camera, self.grid)
        foam = _surface(ground, empty)
        look = look_of(light, shown, self.full, self.empty, foam, 1 / self.grid.px_per_mm)
        if look is None:
            raise UnusableInput(
                tr("hardly any foam is seen"), where=where, remedy=tr("photograph the open insert from above")
            )
        self.look: Look = look
        if rims_seen(look, self.full, self.empty, 1 / self.grid.px_per_mm) < _LEAST_RIMS:
            raise UnusableInput(
                tr("its pockets are not seen where this insert has them"),
                where=where,
                remedy=tr("take the photo of this insert, its marks in the corners that they name"),
            )
        scale, hollow = self.grid.px_per_mm, empty.height_mm
        open_level = open_level_of(self.empty, hollow, scale)
        self.lamp = lamp_of(look, self.full, self.empty, open_level, full.height_mm, self.grid)
        self.shine = shine_of(self.lamp, self.empty, open_level, hollow, scale)
        self.edges = Edges(look, self.full, self.empty)
        self.kinds = kinds_of(look, self.full, self.empty, foam, _said_colours(empty), self.shine)

    def owners(self, key: str) -> list[int]:
        """Return the numbers of a place's thing among the owners of what rays meet."""
        return [number for number, name in enumerate(self.names) if name == key]


def _said_colours(empty: Field) -> dict[int, tuple[int, int, int]]:
    """Return the colours that the plan says of layers, by the owner; those that it doesn't say may be any."""
    return {number: one.colour for number, one in enumerate(empty.finishes) if number > CONTRAST}


def _surface(ground: Ground, empty: Field) -> int:
    """Return whose the top layer's surface is."""
    first = ground.layers[0]
    if first.colour:
        return next(n for n, one in enumerate(empty.finishes) if one.colour == finish.rgb(first.colour) and n > FOAM)
    return FOAM
