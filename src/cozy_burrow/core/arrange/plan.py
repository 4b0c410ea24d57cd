"""A layout under way: what lies where on the grid, what is left over, and what that is worth."""

from __future__ import annotations

import random
from collections.abc import Mapping, Sequence

from cozy_burrow.core.arrange.contacts import Body
from cozy_burrow.core.arrange.pieces import Bed, Piece, Spot
from cozy_burrow.core.arrange.placing_in import Laid, Leaning, best_place, nearest_place
from cozy_burrow.core.arrange.raster import Grid
from cozy_burrow.core.arrange.spare import room
from cozy_burrow.core.arrange.symmetry import symmetry
from cozy_burrow.core.arrange.tidiness import gaps, lines
from cozy_burrow.core.arrange.wishes import (
    Aims,
    Lying,
    Scores,
    Wish,
    WishName,
    aligned,
    at_hand,
    balance,
    handles,
    rows,
    together,
    weighed,
)
from cozy_burrow.core.model.records import Point

Worth = tuple[int, float, float]  # copies left over, what forms gave up, less what the wishes come to


def wishes_of(
    lying: Sequence[Lying], aims: Aims, grid: Grid, *, picture: bool, mirrored: bool = True
) -> tuple[Wish, ...]:
    """Return every wish of what lies on a grid. picture: with the largest rectangle that is left over.

    mirrored: whether left is compared with right, which costs more than all the others and which few ask for.
    """
    foam_mm2 = float(grid.outside.size - grid.outside.sum()) * grid.cell_mm**2
    return (
        together(lying, aims),
        rows(lying, aims),
        aligned(lying, aims),
        lines(lying, aims, picture=picture),
        gaps(lying, aims),
        symmetry(lying, aims, picture=picture) if mirrored else Wish("symmetry", None),
        at_hand(lying, aims),
        handles(lying, aims),
        balance(lying, aims),
        room(grid.free, grid.origin, grid.cell_mm, of_mm2=foam_mm2, picture=picture),
    )


class Plan:
    """Pieces on a grid. Changed in place by one search; what it gives out are spots, which never change."""

    def __init__(
        self, bed: Bed, aims: Aims, weights: Mapping[WishName, float], *, grid: Grid, always: Sequence[Lying] = ()
    ) -> None:
        """always: copies that are fixed in the bed and count for the wishes."""
        self.bed, self.aims, self.weights, self.grid = bed, aims, weights, grid
        self.always = tuple(always)
        self.laid: list[Laid] = []
        self.left: list[Piece] = []
        self.rows: tuple[Piece, ...] = ()  # that may lie as a whole, or fall apart

    def is_apart(self, row: Piece) -> bool:
        """Return whether a row does not lie as a whole, alone or as a part of a longer one."""
        keys = set(row.keys)
        return not any(keys.issubset(one.piece.keys) for one in self.laid)

    @property
    def lying(self) -> list[Lying]:
        """Every copy that lies, fixed ones too."""
        return [*self.always, *(one for laid in self.laid for one in laid.lying)]

    def worth(self) -> Worth:
        """Return what the layout is worth; smaller is better."""
        mirrored = self.weights.get("symmetry", 0.0) > 0.0
        wishes = wishes_of(self.lying, self.aims, self.grid, picture=False, mirrored=mirrored)
        left = sum(piece.copies for piece in self.left)
        return left, sum(one.piece.worse(one.form) for one in self.laid), -round(weighed(wishes, self.weights), 6)

    def scores(self) -> Scores:
        """Return all wishes with their pictures."""
        wishes = wishes_of(self.lying, self.aims, self.grid, picture=True)
        return Scores(wishes=wishes, total=weighed(wishes, self.weights))

    def retake(self) -> None:
        """Take the grid's cells anew for what lies."""
        self.grid.clear()
        for one in self.laid:
            self.grid.take(one.window)

    def remember(self) -> tuple[list[Laid], list[Piece]]:
        """Return what brings the layout back."""
        return list(self.laid), list(self.left)

    def recall(self, kept: tuple[list[Laid], list[Piece]]) -> None:
        """Bring a layout back."""
        self.laid, self.left = list(kept[0]), list(kept[1])
        self.retake()

    def lay(
        self, piece: Piece, leaning: Leaning | None, *, chance: random.Random | None = None, noise: float = 0.0
    ) -> bool:
        """Lay a piece where it is liked best; a row that finds no place falls apart. Return whether all of it lies."""
        if self.lay_whole(piece, leaning, chance=chance, noise=noise):
            return True
        if not piece.is_whole:
            lie = [self.lay(one, leaning, chance=chance, noise=noise) for one in piece.instead]  # each is tried
            return all(lie)
        self.left.append(piece)
        return False

    def lay_whole(
        self, piece: Piece, leaning: Leaning | None, *, chance: random.Random | None = None, noise: float = 0.0
    ) -> bool:
        """Lay a piece as it is where it is liked best; return whether it lies."""
        found = best_place(piece, self.grid, leaning, self.laid, chance=chance, noise=noise)
        if found is not None:
            self.add(found)
        return found is not None

    def add(self, laid: Laid) -> None:
        """Add a piece that was found a place."""
        self.grid.take(laid.window)
        self.laid.append(laid)

    def lift(self, lifted: Sequence[Laid]) -> None:
        """Take pieces up."""
        gone = {id(one) for one in lifted}
        self.laid = [one for one in self.laid if id(one) not in gone]
        self.retake()

    def lay_near(self, piece: Piece, form: int, angle_deg: float, at: Point) -> bool:
        """Lay a piece as near to a point as is free; return whether it lies."""
        found = nearest_place(piece, form, self.grid, angle_deg, at)
        if found is None:
            return False
        self.add(found)
        return True

    def bodies(self) -> list[Body]:
        """Return what lies as bodies, for work on the true shapes."""
        return [Body(one.shape_form, one.x_mm, one.y_mm, one.angle_deg) for one in self.laid]

    def take_over(self, bodies: Sequence[Body]) -> None:
        """Let the pieces lie where bodies, in the same order, came to lie; these must be valid."""
        moved = []
        for one, body in zip(self.laid, bodies):
            x, y, angle = body.x_mm, body.y_mm, body.angle_deg
            if (x, y, angle) == (one.x_mm, one.y_mm, one.angle_deg):
                moved.append(one)
                continue
            window = self.grid.window_of(body.shape, body.form.wall_mm)
            moved.append(Laid(one.piece, one.form, x, y, angle, window))
        self.laid = moved
        self.retake()

    def spots(self) -> tuple[Spot, ...]:
        """Return where every piece lies, in the order of their keys."""
        found = [
            Spot(key=one.piece.key, form=one.form, x_mm=one.x_mm, y_mm=one.y_mm, angle_deg=one.angle_deg)
            for one in self.laid
        ]
        return tuple(sorted(found, key=lambda spot: spot.key))
