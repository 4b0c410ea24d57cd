"""One piece onto a partly taken grid: where it nestles, lies near its group and its hand, and leaves room in one area.

Contact is the share of a form's surroundings that is solid: nooks first. The rest leans: fields over all shifts
that say how much each wish would like the piece there, weighed by the style.
"""

from __future__ import annotations

import math
import random
from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.arrange.facts import Facts
from cozy_burrow.core.arrange.pieces import Form, Piece
from cozy_burrow.core.arrange.raster import Grid, Mask, Spectrum, Window
from cozy_burrow.core.arrange.wishes import TOWARD, Aims, Lying, WishName
from cozy_burrow.core.geometry.placing import direction, placed
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.records import Point
from cozy_burrow.core.progress import make_way

_USE_LEAN = {"daily": 1.0, "weekly": 0.0, "expected": 0.0, "rare": -1.0}
_ALIKE_SIZE = 1e-9
# How much each leaning counts beside contact, which is a share of 0 to 1. By trial, without a source: what matters is
# their order, and that none but a wish of full weight outdoes a nook.
_FILL, _FILL_FOR_ROOM = 0.05, 0.5  # towards the corner that is filled first; more where room is wished in one piece
_FILL_DOWN = 0.25  # from back to front, as a share of from side to side
_TO_HAND, _TO_GROUP, _TO_BALANCE = 1.6, 2.4, 3.0  # over the whole width, diagonal, diagonal
_HANDLE, _AXIS, _SAME_WAY = 0.5, 0.06, 0.25  # of angles
_OF_GROUP = 6  # members of its group that are looked at, the last laid
_SAME_WAY_DEG = 2.0


class Laid(Frozen):
    """A piece where it lies: form, position, angle, the cells it takes, and the copies in it."""

    __slots__ = ("angle_deg", "form", "lying", "piece", "window", "x_mm", "y_mm")

    def __init__(self, piece: Piece, form: int, x_mm: float, y_mm: float, angle_deg: float, window: Window) -> None:
        self.piece, self.form, self.window = piece, form, window
        self.x_mm, self.y_mm, self.angle_deg = x_mm, y_mm, angle_deg
        self.lying = lying_of(piece.forms[form], x_mm, y_mm, angle_deg)

    @property
    def shape_form(self) -> Form:
        """The form that it lies in."""
        return self.piece.forms[self.form]


def lying_of(form: Form, x_mm: float, y_mm: float, angle_deg: float) -> tuple[Lying, ...]:
    """Return the copies in a form that lies somewhere, for the wishes; none where the form has no parts."""
    cos, sin = direction(angle_deg)
    found = []
    for part in form.parts:
        if part.facts is None:
            continue
        x = x_mm + cos * part.x_mm - sin * part.y_mm
        y = y_mm + sin * part.x_mm + cos * part.y_mm
        angle = (angle_deg + part.angle_deg) % 360.0
        shape = placed(part.pocket, x_mm=x, y_mm=y, angle_deg=angle)
        found.append(Lying(part.key, part.facts, shape, x, y, angle))
    return tuple(found)


class Leaning:
    """What pulls a piece where: the weights of a style made into fields over all shifts."""

    def __init__(
        self, aims: Aims, weights: Mapping[WishName, float], *, corner: Point = (-1.0, 1.0), lengthways: float = 0.0
    ) -> None:
        """corner: the side (-1 left, 1 right; -1 back, 1 front) that is filled first. lengthways: how much axes
        from left to right are liked against axes from back to front, -1 to 1."""
        self.aims, self.corner, self.lengthways = aims, corner, lengthways
        total = sum(weights.values()) or 1.0
        self.share: dict[str, float] = {name: weight / total for name, weight in weights.items()}

    def field(
        self, x: NDArray[np.float64], y: NDArray[np.float64], piece: Piece, form: Form, laid: Sequence[Laid]
    ) -> NDArray[np.float64]:
        """Return how much the wishes like the form's middle at x (columns) and y (rows); more is better."""
        left, top, right, bottom = self.aims.room
        width, depth = max(1.0, right - left), max(1.0, bottom - top)
        diagonal = math.hypot(width, depth)
        across, down = (x - left) / width, (y - top) / depth
        worth = np.zeros((len(y), len(x)))
        fill = _FILL + _FILL_FOR_ROOM * self.share.get("room", 0.0)
        worth += fill * self.corner[0] * across[None, :] + _FILL_DOWN * fill * self.corner[1] * down[:, None]
        facts = [part.facts for part in form.parts if part.facts is not None]
        lean = sum(_USE_LEAN[one.use] for one in facts) / max(1, len(facts))
        if lean:
            hx, hy = TOWARD[self.aims.hand]
            strength = _TO_HAND * self.share.get("at_hand", 0.0) * lean
            worth += strength * (hx * across[None, :] + hy * down[:, None])
        group = [one for other in laid if other.piece.group == piece.group and piece.group for one in other.lying]
        if group:
            middles = np.array([one.balance for one in group])
            away = np.full(worth.shape, np.inf)
            for gx, gy in middles[-_OF_GROUP:]:
                away = np.minimum(away, np.hypot(x[None, :] - gx, y[:, None] - gy))
            worth -= _TO_GROUP * self.share.get("together", 0.0) * away / diagonal
        return worth + self._balance(x, y, facts, laid, diagonal)

    def _balance(
        self, x: NDArray[np.float64], y: NDArray[np.float64], facts: Sequence[Facts], laid: Sequence[Laid], span: float
    ) -> NDArray[np.float64] | float:
        share = self.share.get("balance", 0.0)
        mass = sum(one.mass_g for one in facts)
        if share <= 0 or mass <= 0:
            return 0.0
        there = [*((one.facts.mass_g, one.balance) for other in laid for one in other.lying), *self.aims.others]
        before = sum(one for one, _ in there)
        tx, ty = self.aims.target
        mx = sum(m * (p[0] - tx) for m, p in there)
        my = sum(m * (p[1] - ty) for m, p in there)
        off_x = np.abs(mx + mass * (x - tx)) / (before + mass)
        off_y = np.abs(my + mass * (y - ty)) / (before + mass)
        match self.aims.along:
            case "x":
                off = np.broadcast_to(off_x[None, :], (len(y), len(x)))
            case "y":
                off = np.broadcast_to(off_y[:, None], (len(y), len(x)))
            case _:
                off = np.hypot(off_x[None, :], off_y[:, None])
        return -_TO_BALANCE * share * off / span

    def angle(self, piece: Piece, form: Form, angle_deg: float, laid: Sequence[Laid]) -> float:
        """Return how much the wishes like the angle."""
        worth = 0.0
        hx, hy = TOWARD[self.aims.hand]
        facts = [(part, part.facts) for part in form.parts if part.facts is not None]
        for part, one in facts:
            turn = math.radians(angle_deg + part.angle_deg)
            cos, sin = math.cos(turn), math.sin(turn)
            if one.handle is not None:
                facing = (cos * one.handle[0] - sin * one.handle[1]) * hx + (
                    sin * one.handle[0] + cos * one.handle[1]
                ) * hy
                worth += _HANDLE * self.share.get("handles", 0.0) * facing / len(facts)
            if one.axis_deg is not None:
                axis = math.radians(one.axis_deg) + turn
                worth += _AXIS * self.lengthways * math.cos(2 * axis) / len(facts)
        known = [one.axis_deg for other in laid for one in other.lying if one.axis_deg is not None]
        if known and facts and facts[0][1].axis_deg is not None:
            mine = (facts[0][1].axis_deg + angle_deg + facts[0][0].angle_deg) % 180.0
            alike = sum(abs((mine - other + 90.0) % 180.0 - 90.0) < _SAME_WAY_DEG for other in known) / len(known)
            worth += _SAME_WAY * self.share.get("aligned", 0.0) * alike
        return worth


def middles(grid: Grid, form: Form, angle_deg: float, free: Mask) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return x of each column and y of each row of shifts at which the middle of the form then lies."""
    stamp = grid.stamp(form, angle_deg)
    rows, columns = free.shape
    x, y = grid.position(form, angle_deg, 0, 0)
    cx, cy = stamp.middle
    across: NDArray[np.float64] = x + cx + np.arange(columns, dtype=np.float64) * grid.cell_mm
    down: NDArray[np.float64] = y + cy + np.arange(rows, dtype=np.float64) * grid.cell_mm
    return across, down


def best_place(
    piece: Piece,
    grid: Grid,
    leaning: Leaning | None,
    laid: Sequence[Laid],
    *,
    chance: random.Random | None = None,
    noise: float = 0.0,
) -> Laid | None:
    """Return the piece where it is liked best, in the best of its forms that fits anywhere; None where none does."""
    taken, solid = grid.taken_spectrum(), grid.solid_spectrum()
    best: tuple[float, int, float, int, int] | None = None
    for number, form in enumerate(piece.forms):
        if best is not None and piece.worse(number) > piece.worse(best[1]) + _ALIKE_SIZE:
            break
        for angle_deg in piece.angles_deg:
            make_way()
            free = grid.free_shifts(form, angle_deg, taken)
            if free is None:
                continue
            worth = _worth(piece, form, angle_deg, free, grid, solid, leaning, laid)
            if chance is not None and noise > 0:
                worth += chance.uniform(-noise, noise)
            at = int(worth.argmax())
            row, column = divmod(at, free.shape[1])
            value = float(worth[row, column])
            if best is None or value > best[0] + 1e-9:
                best = (value, number, angle_deg, row, column)
    if best is None:
        return None
    _, number, angle_deg, row, column = best
    return laid_at(piece, number, grid, angle_deg, row, column)


def _worth(
    piece: Piece,
    form: Form,
    angle_deg: float,
    free: Mask,
    grid: Grid,
    solid: Spectrum,
    leaning: Leaning | None,
    laid: Sequence[Laid],
) -> NDArray[np.float64]:
    rows, columns = free.shape
    worth = grid.contact(form, angle_deg, solid)[:rows, :columns].astype(np.float64)
    if leaning is None:
        # Of equal nooks the one nearest the front left: there the hand comes in.
        worth += np.arange(rows)[:, None] / rows * 0.03 - np.arange(columns)[None, :] / columns * 0.02
    else:
        worth *= 0.6
        worth += leaning.field(*middles(grid, form, angle_deg, free), piece, form, laid)
        worth += leaning.angle(piece, form, angle_deg, laid)
    worth[~free] = -np.inf
    return worth


def laid_at(piece: Piece, number: int, grid: Grid, angle_deg: float, row: int, column: int) -> Laid:
    """Return a piece laid at a shift of the grid; its cells are not taken yet."""
    form = piece.forms[number]
    x_mm, y_mm = grid.position(form, angle_deg, row, column)
    window = grid.window(form, angle_deg, row, column)
    return Laid(piece, number, round(x_mm, 3), round(y_mm, 3), round(angle_deg % 360.0, 6), window)


def nearest_place(
    piece: Piece, number: int, grid: Grid, angle_deg: float, at: Point, taken: Spectrum | None = None
) -> Laid | None:
    """Return the piece in one form at one angle, its middle as near to `at` as is free; None where nothing is."""
    form = piece.forms[number]
    free = grid.free_shifts(form, angle_deg, grid.taken_spectrum() if taken is None else taken)
    if free is None:
        return None
    x, y = middles(grid, form, angle_deg, free)
    away = (x[None, :] - at[0]) ** 2 + (y[:, None] - at[1]) ** 2
    away[~free] = np.inf
    row, column = divmod(int(away.argmin()), free.shape[1])
    return laid_at(piece, number, grid, angle_deg, row, column)
