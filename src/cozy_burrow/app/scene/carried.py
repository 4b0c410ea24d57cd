"""What a hand moves over the lit plan: every thing as it is lit, cut out of the picture that the drag began with."""

from __future__ import annotations

from collections.abc import Iterator

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPixmap

from cozy_burrow.app.look.painting import drawing_on
from cozy_burrow.app.scene.relief import picture_from
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import FingerPull, Placement
from cozy_burrow.core.relief.picture import Picture
from cozy_burrow.core.relief.sprite import rows_of, sprite_of

_SAME_MM = 1e-3
_AROUND_MM = 14.0  # that a thing may reach beyond what is cut for it
SHADE_MM = 60.0  # and its shadow, to the right and to the front


class Carried:
    """The sprites of one drag, made when they are first painted."""

    def __init__(self, picture: Picture, bare: Picture) -> None:
        self.picture, self._bare = picture, bare
        self._ground = picture.ground
        self._at = {one.id: one for one in self._ground.insert.placements}
        self._rows = rows_of(self._ground)
        self._of = {
            row: [(one.id, one) for one in self._ground.insert.pulls if row.intersection(one.serves)]
            for row in self._rows
        }
        self._reach = {row: _reach(self._ground, row) for row in self._rows}
        self._made: dict[frozenset[str], tuple[QPixmap, QRectF] | None] = {}
        self._at_rest: tuple[tuple[frozenset[str], ...], QPixmap] | None = None
        self.foam = picture_from(bare.pixels)
        left, top, right, bottom = bare.grid.bounds
        self.place = QRectF(left, top, right - left, bottom - top)

    def moved(self, ground: Ground) -> Iterator[tuple[frozenset[str], QPointF | None]]:
        """Yield what is carried together and how far it was moved, what lies still first.

        None: it is not what it was in the picture, so it has no sprite: a row that fell apart, a thing that was turned.
        """
        now = {one.id: one for one in ground.insert.placements}
        pulls = {one.id: one for one in ground.insert.pulls}
        found = [(row, self._shift(row, ground, now, pulls)) for row in self._rows]
        yield from sorted(found, key=lambda one: one[1] is None or not one[1].isNull())

    def _shift(
        self, row: frozenset[str], ground: Ground, now: dict[str, Placement], pulls: dict[str, FingerPull]
    ) -> QPointF | None:
        if not now.keys() >= row:
            return None
        if all(now[key] is self._at[key] for key in row) and all(pulls.get(key) is pull for key, pull in self._of[row]):
            return QPointF()
        shifts = {
            (round(now[key].x_mm - self._at[key].x_mm, 3), round(now[key].y_mm - self._at[key].y_mm, 3)) for key in row
        }
        if len(shifts) != 1 or any(now[key].angle_deg != self._at[key].angle_deg for key in row):
            return None
        if any(ground.pockets[key].local is not self._ground.pockets[key].local for key in row):
            return None
        if any(layer.cell_mm > 0 for layer in ground.layers):
            return None  # cubes are plucked where they stand: another place is another shape
        dx, dy = shifts.pop()
        if not all(_goes_with(pull, pulls.get(key), dx, dy) for key, pull in self._of[row]):
            return None
        return QPointF(dx, dy)

    def is_seen(self, row: frozenset[str], shift: QPointF, exposed: QRectF) -> bool:
        """Return whether what is carried together, or its shadow, reaches into a place that is painted."""
        return exposed.intersects(self._reach[row].translated(shift))

    def at_rest(self, rows: tuple[frozenset[str], ...]) -> QPixmap | None:
        """Return the foam with what lies still on it as one picture; None while a sprite of that is still to be made.

        In a drag most lies still: so a step paints one picture and what moves.
        """
        if self._at_rest is None or self._at_rest[0] != rows:
            if not all(row in self._made for row in rows):
                return None
            picture = self.foam.copy()
            dots = picture.width() / self.place.width()
            with drawing_on(picture) as painter:
                for row in rows:
                    if (sprite := self._made[row]) is not None:
                        at = (sprite[1].topLeft() - self.place.topLeft()) * dots
                        painter.drawPixmap(at.toPoint(), sprite[0])
            self._at_rest = rows, picture
        return self._at_rest[1]

    def make_one(self) -> bool:
        """Make a sprite that there is none of yet; False where all are made."""
        row = next((one for one in self._rows if one not in self._made), None)
        if row is not None:
            self.sprite(row)
        return row is not None

    def sprite(self, row: frozenset[str]) -> tuple[QPixmap, QRectF] | None:
        """Return what some things look like, and where that lay in the plan; None where nothing is seen of them."""
        if row not in self._made:
            sprite = sprite_of(self.picture, self._bare, row)
            if sprite is None:
                self._made[row] = None
            else:
                left, top, right, bottom = sprite.grid.bounds
                self._made[row] = picture_from(sprite.pixels), QRectF(left, top, right - left, bottom - top)
        return self._made[row]


def _goes_with(before: FingerPull, now: FingerPull | None, dx: float, dy: float) -> bool:
    """Return whether a pull is the same beside its things, which were moved by so much."""
    if now is before:
        return not kind_of_pull(before).shared or not (dx or dy)
    if now is None or not kind_of_pull(before).shared or now.width_mm != before.width_mm:
        return False
    return all(
        abs(x1 - x0 - dx) < _SAME_MM and abs(y1 - y0 - dy) < _SAME_MM
        for (x0, y0), (x1, y1) in zip(before.points_mm, now.points_mm)
    )


def _reach(ground: Ground, row: frozenset[str]) -> QRectF:
    found = QRectF()
    for cutout in ground.cutouts:
        if cutout.owners & row:
            left, top, right, bottom = cutout.bounds
            found = found.united(QRectF(left, top, right - left, bottom - top))
    return found.adjusted(-_AROUND_MM, -_AROUND_MM, SHADE_MM, SHADE_MM)
