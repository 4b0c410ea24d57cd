"""What the arrangement moves about: pieces with a few forms each, and the bed that they are laid in.

Piece    what is moved as one: a copy of an item, or a whole row of a set
Form     one shape the piece may take (with roomy pulls, with small ones, with none), best first
Part     one copy of an item within a form, and how it lies there
Fixed    a shape that lies already and stays
Spot     where a copy came to lie, and in which form of its piece
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.facts import Facts
from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import Record

_EVERY_MM = 7.0  # between two looked-at points of a straight edge nothing comes nearer unseen by more than a hair
_THIN_MM = 0.02
_NOTHING_MM2 = 1e-3


class Part(Frozen):
    """One copy of an item in a form: its bare pocket and facts in item coordinates, and where it lies in the form."""

    __slots__ = ("angle_deg", "facts", "key", "pocket", "x_mm", "y_mm")

    def __init__(
        self,
        key: tuple[str, int],
        pocket: BaseGeometry,
        facts: Facts | None = None,
        *,
        x_mm: float = 0.0,
        y_mm: float = 0.0,
        angle_deg: float = 0.0,
    ) -> None:
        self.key, self.pocket, self.facts = key, pocket, facts
        self.x_mm, self.y_mm, self.angle_deg = x_mm, y_mm, angle_deg


class Form(Frozen):
    """A shape in its own coordinates with the wall that must stand round it, and what the caller calls it.

    snap_mm: the part of the wall that snapping to cubes may eat. parts: what lies in it; empty: the shape alone.
    worse: what is given up with it against the best form, for comparing; 0 for the best.
    """

    __slots__ = ("parts", "reach_mm", "rim", "shape", "snap_mm", "straight_deg", "tag", "wall_mm", "worse")

    def __init__(
        self,
        shape: BaseGeometry,
        wall_mm: float,
        tag: object = None,
        *,
        snap_mm: float = 0.0,
        parts: Sequence[Part] = (),
        worse: float | None = None,
    ) -> None:
        self.shape, self.wall_mm, self.tag, self.snap_mm, self.worse = shape, wall_mm, tag, snap_mm, worse
        self.parts = tuple(parts)
        # The line that contacts are looked for along: curves thinned to what foam feels, long edges cut up.
        self.rim: BaseGeometry = shapely.segmentize(shape.simplify(_THIN_MM).boundary, _EVERY_MM)
        corners = shapely.get_coordinates(shape)
        self.reach_mm = float(np.hypot(corners[:, 0], corners[:, 1]).max()) if len(corners) else 0.0
        # Turned by this its length lies along the plan; what pulls add to its sides does not count.
        length = self.parts[0].pocket if len(self.parts) == 1 else shape
        self.straight_deg = round(-_axis_deg(length), 6) if not self.parts or len(self.parts) == 1 else 0.0


class Piece(Frozen):
    """What is moved as one: its forms, best first, the angles it may lie at, the group and the use that it has.

    instead: the pieces that it falls apart into where it finds no place as a whole (a row into its things); made
    when somebody asks for them, since most rows never fall apart.
    """

    __slots__ = ("_instead", "_make", "angles_deg", "forms", "group", "key", "size")

    def __init__(
        self,
        key: tuple[str, int],
        forms: Sequence[Form],
        *,
        group: str = "",
        angles_deg: tuple[float, ...] | None = None,
        instead: Callable[[], Sequence[Piece]] | None = None,
    ) -> None:
        self.key, self.forms, self.group, self._make = key, tuple(forms), group, instead
        self._instead: tuple[Piece, ...] | None = None
        self.angles_deg = angles_deg if angles_deg is not None else tidy_angles(forms[-1].shape)
        left, top, right, bottom = shapely.minimum_rotated_rectangle(forms[0].shape).bounds
        self.size = (float(forms[0].shape.area), float(max(right - left, bottom - top)))

    @property
    def is_whole(self) -> bool:
        """Whether it is one thing, and not a row that could fall apart."""
        return self._make is None

    @property
    def instead(self) -> tuple[Piece, ...]:
        """The pieces that it falls apart into."""
        if self._instead is None:
            self._instead = tuple(self._make()) if self._make is not None else ()
        return self._instead

    @property
    def known(self) -> Iterator[Piece]:
        """The piece, and all that it fell apart into so far."""
        yield self
        for one in self._instead or ():
            yield from one.known

    @property
    def keys(self) -> tuple[tuple[str, int], ...]:
        """The copies of items that it holds; its own key where its forms name none."""
        return tuple(part.key for part in self.forms[0].parts) or (self.key,)

    @property
    def copies(self) -> int:
        """How many copies of items it holds."""
        return max(1, len(self.forms[0].parts))

    def worse(self, form: int) -> float:
        """Return what is given up when it takes this form."""
        known = self.forms[form].worse
        return float(form) if known is None else known


def taken_apart(pieces: Sequence[Piece]) -> list[Piece]:
    """Return pieces with all rows taken apart into single things."""
    found: list[Piece] = []
    for piece in pieces:
        found += [piece] if piece.is_whole else taken_apart(piece.instead)
    return found


class Bed(Frozen):
    """The area inside which every shape must lie (the blank less its edge), and what lies there to stay."""

    __slots__ = ("area", "fixed", "is_box", "room")

    def __init__(self, area: BaseGeometry, fixed: Sequence[tuple[BaseGeometry, float]] = ()) -> None:
        self.area, self.fixed = area, tuple(fixed)
        self.room: tuple[float, float, float, float] = area.bounds
        self.is_box = not area.is_empty and abs(shapely.box(*area.bounds).area - area.area) < _NOTHING_MM2

    def wanted(self, form: Form, wall_mm: float) -> float:
        """Return the foam that must stand between a form and something fixed with this wall."""
        return min(form.wall_mm - form.snap_mm, wall_mm) + form.snap_mm / 2

    def up_to(self, right_mm: float) -> Bed:
        """Return the bed without what lies farther right than x = right_mm."""
        left, top, _, bottom = self.room
        return Bed(self.area.intersection(shapely.box(left, top, max(left, right_mm), bottom)), self.fixed)


def wanted_between(first: Form, second: Form) -> float:
    """Return the foam that must stand between two forms: what the shallower one's depth asks for.

    snap_mm, part of the wall: what snapping to cubes may eat of it from either side.
    """
    bare = min(first.wall_mm - first.snap_mm, second.wall_mm - second.snap_mm)
    return bare + (first.snap_mm + second.snap_mm) / 2


def wanted_among(forms: Sequence[Form]) -> NDArray[np.float64]:
    """Return what `wanted_between` asks for, of all pairs at once: (n, n).

    For a single pair arrays cost more than they save.
    """
    walls, snaps = np.array([(form.wall_mm, form.snap_mm) for form in forms]).T
    found: NDArray[np.float64] = np.minimum.outer(walls - snaps, walls - snaps) + np.add.outer(snaps, snaps) / 2
    return found


class Spot(Record, frozen=True, kw_only=True):
    """Where a piece came to lie."""

    key: tuple[str, int]
    form: int
    x_mm: float
    y_mm: float
    angle_deg: float


def tidy_angles(shape: BaseGeometry) -> tuple[float, ...]:
    """Return the angles that lay the shape's long axis along the plan's axes; half turns only where they differ."""
    base = -_axis_deg(shape)
    angles = [base % 360.0, (base + 90.0) % 360.0]
    straight = placed(shape, x_mm=0.0, y_mm=0.0, angle_deg=angles[0])
    half_turn = placed(shape, x_mm=0.0, y_mm=0.0, angle_deg=angles[0] + 180.0)
    if straight.symmetric_difference(half_turn).area > 0.01 * straight.area:
        angles += [(base + 180.0) % 360.0, (base + 270.0) % 360.0]
    return tuple(round(angle, 6) for angle in angles)


def _axis_deg(shape: BaseGeometry) -> float:
    parts = polygons_in(shape)
    hull = parts[0] if len(parts) == 1 else shape.convex_hull
    return long_axis_deg(hull) if isinstance(hull, Polygon) else 0.0


def fits_at_all(shape: BaseGeometry, bed: Bed) -> bool:
    """Return whether the shape is no longer than the bed's diagonal; a quick no before a long search."""
    left, top, right, bottom = bed.area.bounds
    diagonal: float = float(((right - left) ** 2 + (bottom - top) ** 2) ** 0.5)
    return longest_mm(shape) <= diagonal and shape.area <= bed.area.area


def diagonals(piece: Piece, bed: Bed) -> tuple[float, ...]:
    """Return the angles that a piece may lie at in a bed: the tidy ones, or where none of them fits, what does.

    What does: every second degree at which the bounds of its smallest form go into the bed's; none at all where the
    piece does not go in however it is turned.
    """
    shape = piece.forms[-1].shape
    if goes_in(shape, piece.angles_deg, bed):
        return piece.angles_deg
    base = piece.angles_deg[0] if piece.angles_deg else 0.0
    turned = [round((base + turn) % 360.0, 6) for turn in range(0, 360, 2)]
    return tuple(angle for angle in turned if _goes_in(shape, angle, bed))


def goes_in_straight(shape: BaseGeometry, bed: Bed) -> bool:
    """Return whether a shape's bounds go into the bed's with its length along the plan."""
    if bed.area.is_empty:
        return False
    axis = _axis_deg(shape)
    return _goes_in(shape, -axis, bed) or _goes_in(shape, 90.0 - axis, bed)


def goes_in(shape: BaseGeometry, angles_deg: Sequence[float], bed: Bed) -> bool:
    """Return whether a shape's bounds go into the bed's at one of these angles."""
    return any(_goes_in(shape, angle, bed) for angle in angles_deg)


def _goes_in(shape: BaseGeometry, angle_deg: float, bed: Bed) -> bool:
    left, top, right, bottom = placed(shape, x_mm=0.0, y_mm=0.0, angle_deg=angle_deg).bounds
    room = bed.room
    return bool(right - left <= room[2] - room[0] and bottom - top <= room[3] - room[1])


def longest_mm(shape: BaseGeometry) -> float:
    """Return the largest distance between two points of the shape."""
    corners = shapely.get_coordinates(shape.convex_hull)
    spread = corners[:, None, :] - corners[None, :, :]
    return float((spread**2).sum(axis=2).max() ** 0.5)
