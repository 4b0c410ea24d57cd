"""Shapes, pieces and beds by chance, and a judge of layouts that only knows Shapely."""

from __future__ import annotations

import math
import random
import unittest
from collections.abc import Sequence

import shapely
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.pieces import Bed, Form, Piece
from cozy_burrow.core.arrange.search import Layout
from cozy_burrow.core.errors import Cancelled
from cozy_burrow.core.geometry.placing import placed

Laid = tuple[BaseGeometry, float]


class StopsAfter:
    """A token that stops the work after so many steps, in the middle of whatever it does."""

    def __init__(self, steps: int) -> None:
        self.left = steps

    def step(self, fraction: float) -> None:
        self.left -= 1
        if self.left < 0:
            raise Cancelled


def random_shape(chance: random.Random, *, size: float = 1.0) -> shapely.Polygon:
    """A box, a driver, an L, a disc or a ragged star."""
    kind = chance.randrange(5)
    if kind == 0:
        shape = shapely.box(-chance.uniform(8, 50), -chance.uniform(4, 20), 20, 10)
    elif kind == 1:
        shape = shapely.union(shapely.box(-50, -12, 0, 12), shapely.box(0, -3, chance.uniform(20, 60), 3))
    elif kind == 2:
        shape = shapely.Point(0, 0).buffer(chance.uniform(6, 25), quad_segs=5)
    elif kind == 3:
        shape = shapely.union(shapely.box(0, 0, chance.uniform(20, 60), 12), shapely.box(0, 0, 12, 40))
    else:
        count = chance.randrange(5, 11)
        radii = [chance.uniform(8, 34) for _ in range(count)]
        shape = shapely.Polygon(
            [(r * math.cos(math.tau * n / count), r * math.sin(math.tau * n / count)) for n, r in enumerate(radii)]
        )
    return shapely.transform(shape, lambda points: points * size)


def lie(layout: Layout, pieces: Sequence[Piece]) -> list[Laid]:
    """Return every laid shape with its wall."""
    by_key = {piece.key: piece for piece in pieces}
    return [
        (
            placed(by_key[spot.key].forms[spot.form].shape, x_mm=spot.x_mm, y_mm=spot.y_mm, angle_deg=spot.angle_deg),
            by_key[spot.key].forms[spot.form].wall_mm,
        )
        for spot in layout.spots
    ]


def judge(case: unittest.TestCase, layout: Layout, pieces: Sequence[Piece], bed: Bed) -> None:
    """Fail where a wall or the edge is broken, or where a piece is neither laid nor named."""
    laid = lie(layout, pieces)
    for index, (shape, wall) in enumerate(laid):
        case.assertTrue(bed.area.buffer(1e-6).covers(shape), "beyond the bed")
        for other, other_wall in [*laid[index + 1 :], *bed.fixed]:
            # What the shallower of the two asks for is what must stand at every layer that both reach.
            case.assertGreaterEqual(shape.distance(other), min(wall, other_wall) - 1e-6)
    keys = [spot.key for spot in layout.spots] + list(layout.left_over)
    case.assertEqual(sorted(keys), sorted(piece.key for piece in pieces))


def kit(chance: random.Random, count: int, *, size: float = 1.0) -> list[Piece]:
    """Return pieces of one or two forms, with walls of several widths."""
    found = []
    for n in range(count):
        shape = random_shape(chance, size=size)
        wall = chance.choice((2.0, 6.0, 10.0, 14.0))
        forms = [Form(shape, wall)]
        if chance.random() < 0.4:
            forms.insert(0, Form(shape.union(shapely.Point(0, 0).buffer(14 * size, quad_segs=6)), wall))
        found.append(Piece((f"p{n}", 1), forms, group=chance.choice(("", "a", "b"))))
    return found
