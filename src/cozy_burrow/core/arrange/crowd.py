"""A crowd: pieces that may overlap for a while, taken one by one to where they overlap least, until none does.

The whole bed is a grid. What a piece would overlap at every shift at once is one product of Fourier transforms of
what the others cover, each as heavy as its quarrel with this piece. Quarrels that last grow heavier, so that the
crowd does not sit down in a bad order. The grid is honest within half a cell only: whoever takes a crowd's result
settles it on the true shapes.
Source of the idea: guided local search on overlaps, Egeblad, Nielsen and Odgaard 2007.
"""

from __future__ import annotations

import math
import random
from collections import deque
from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from cozy_burrow.core.arrange.pieces import Bed, Form
from cozy_burrow.core.arrange.raster import fast_size
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.progress import Token

Field = NDArray[np.float32]
_GROWS, _FADES = 1.1, 0.96  # weight of a quarrel while it lasts, and afterwards
_HEAVIEST = 1e4
_WHEEL_DEG = 15
_STUCK = 10  # rounds without gain
_MOST_SPECTRA_MB = 24.0  # twelve times as much is a fifth quicker, and more than the window itself holds
_NOWHERE = np.float32(1e30)


class Print:
    """A form at one angle on the grid: how deep each cell lies in it (0 outside), and its transform."""

    __slots__ = ("angle_deg", "cells", "column", "depth", "inside", "right", "row", "spectrum")

    def __init__(self, angle_deg: float, depth: Field, row: int, column: int, right: float) -> None:
        self.angle_deg, self.depth, self.row, self.column, self.right = angle_deg, depth, row, column, right
        self.inside = (depth > 0).astype(np.float32)
        self.cells = float(self.inside.sum())
        self.spectrum: NDArray[np.complex64] | None = None


class Lair:
    """The grid of a bed for a crowd: prints of forms, and where each may lie at all."""

    def __init__(self, bed: Bed, *, cell_mm: float) -> None:
        self.bed, self.cell_mm = bed, cell_mm
        self.right_mm = math.inf  # nothing may reach farther right; a strip is made shorter by this
        left, top, right, bottom = bed.room
        margin = 12.0
        self.origin = (left - margin, top - margin)
        self.shape = (
            fast_size(math.ceil((bottom - top + 2 * margin) / cell_mm)),
            fast_size(math.ceil((right - left + 2 * margin) / cell_mm)),
        )
        self._prints: dict[tuple[int, float], tuple[Form, Print]] = {}
        self._barred: dict[tuple[int, float], tuple[Form, NDArray[np.bool_]]] = {}
        self._known: deque[Print] = deque()  # with a spectrum, the oldest first
        rows, columns = self.shape
        x = self.origin[0] + (np.arange(columns) + 0.5) * cell_mm
        y = self.origin[1] + (np.arange(rows) + 0.5) * cell_mm
        self._middles = np.meshgrid(x, y)
        self.outside = ~self._cover(bed.area)
        self.kept: Field = np.zeros(self.shape, dtype=np.float32)
        for area, wall_mm in bed.fixed:
            self.kept += 8.0 * self._cover(area.buffer(wall_mm / 2)).astype(np.float32)
        self._outside = self.transform(self.outside.astype(np.float32))

    def _cover(self, area: shapely.Geometry) -> NDArray[np.bool_]:
        shapely.prepare(area)
        return np.asarray(shapely.intersects_xy(area, *self._middles), dtype=bool)

    def transform(self, field: Field) -> NDArray[np.complex64]:
        """Return the field's transform."""
        from scipy import fft

        return np.asarray(fft.rfft2(field), dtype=np.complex64)

    def _back(self, spectrum: NDArray[np.complex64]) -> Field:
        from scipy import fft

        field: Field = fft.irfft2(spectrum, s=self.shape)
        return field

    def print_of(self, form: Form, angle_deg: float) -> Print:
        """Return the form's print at an angle, grown by half its wall."""
        key = (id(form), angle_deg)
        known = self._prints.get(key)
        if known is None:
            known = self._prints[key] = (form, self._make_print(form, angle_deg))
        return known[1]

    def _make_print(self, form: Form, angle_deg: float) -> Print:
        from scipy.ndimage import distance_transform_edt

        bare = placed(form.shape, x_mm=0.0, y_mm=0.0, angle_deg=angle_deg)
        grown = bare.buffer(form.wall_mm / 2)
        left, top, right, bottom = grown.bounds
        row, column = math.floor(top / self.cell_mm), math.floor(left / self.cell_mm)
        rows, columns = math.ceil(bottom / self.cell_mm) - row, math.ceil(right / self.cell_mm) - column
        x = (column + np.arange(columns) + 0.5) * self.cell_mm
        y = (row + np.arange(rows) + 0.5) * self.cell_mm
        shapely.prepare(grown)
        inside = np.asarray(shapely.intersects_xy(grown, *np.meshgrid(x, y)), dtype=bool)
        depth = distance_transform_edt(np.pad(inside, 1))[1:-1, 1:-1].astype(np.float32)
        return Print(angle_deg, depth, row, column, float(bare.bounds[2]))

    def overlap(self, field: NDArray[np.complex64], form: Form, angle_deg: float) -> Field | None:
        """Return for every shift at which the form lies in the bed how much of the field it meets; None: nowhere."""
        one = self.print_of(form, angle_deg)
        if one.spectrum is None:
            padded = np.zeros(self.shape, dtype=np.float32)
            rows, columns = one.depth.shape
            if rows > self.shape[0] or columns > self.shape[1]:
                return None
            padded[:rows, :columns] = one.inside
            one.spectrum = np.conj(self.transform(padded))
            self._known.append(one)
            if len(self._known) * one.spectrum.nbytes > _MOST_SPECTRA_MB * 1e6:
                self._known.popleft().spectrum = None
        rows, columns = self.shape[0] - one.depth.shape[0] + 1, self.shape[1] - one.depth.shape[1] + 1
        met = self._back(field * one.spectrum)[:rows, :columns]
        barred = self._barred_shifts(form, angle_deg, one, rows, columns)
        met[barred] = _NOWHERE
        if self.right_mm < self.bed.room[2]:
            right = float(one.right)
            last = math.floor((self.right_mm + self.cell_mm / 2 - right - self.origin[0]) / self.cell_mm) + one.column
            if last < 0:
                return None
            met[:, last + 1 :] = _NOWHERE
        return met

    def _barred_shifts(self, form: Form, angle_deg: float, one: Print, rows: int, columns: int) -> NDArray[np.bool_]:
        key = (id(form), angle_deg)
        known = self._barred.get(key)
        if known is not None:
            return known[1]
        if self.bed.is_box:  # exact: the bare shape's bounds against the room's
            left, top, right, bottom = placed(form.shape, x_mm=0.0, y_mm=0.0, angle_deg=angle_deg).bounds
            x = self.origin[0] + (np.arange(columns) - one.column) * self.cell_mm
            y = self.origin[1] + (np.arange(rows) - one.row) * self.cell_mm
            half = self.cell_mm / 2
            room = self.bed.room
            bad_x = (x + left < room[0] - half) | (x + right > room[2] + half)
            bad_y = (y + top < room[1] - half) | (y + bottom > room[3] + half)
            barred = bad_y[:, None] | bad_x[None, :]
        else:
            bare = placed(form.shape, x_mm=0.0, y_mm=0.0, angle_deg=angle_deg)
            grid_x = (one.column + np.arange(one.depth.shape[1]) + 0.5) * self.cell_mm
            grid_y = (one.row + np.arange(one.depth.shape[0]) + 0.5) * self.cell_mm
            shapely.prepare(bare)
            padded = np.zeros(self.shape, dtype=np.float32)
            cells = shapely.intersects_xy(bare, *np.meshgrid(grid_x, grid_y))
            padded[: one.depth.shape[0], : one.depth.shape[1]] = cells
            beyond = self._back(self._outside * np.conj(self.transform(padded)))[:rows, :columns]
            barred = beyond > 0.5 + 0.02 * float(cells.sum()) ** 0.5
        self._barred[key] = (form, barred)
        return barred

    def position(self, one: Print, row: int, column: int) -> tuple[float, float]:
        """Return where the piece's origin lies when the corner of its print lies at a shift."""
        return (
            self.origin[0] + (column - one.column) * self.cell_mm,
            self.origin[1] + (row - one.row) * self.cell_mm,
        )

    def shift_of(self, one: Print, x_mm: float, y_mm: float) -> tuple[int, int]:
        """Return the shift (row, column) nearest to a position, kept on the grid."""
        row = round((y_mm - self.origin[1]) / self.cell_mm) + one.row
        column = round((x_mm - self.origin[0]) / self.cell_mm) + one.column
        rows, columns = one.depth.shape
        return max(0, min(row, self.shape[0] - rows)), max(0, min(column, self.shape[1] - columns))


class Crowd:
    """Where every piece of a crowd lies, and how they quarrel."""

    def __init__(
        self, lair: Lair, forms: Sequence[Form], angles_deg: Sequence[tuple[float, ...]], chance: random.Random
    ) -> None:
        self.lair, self.forms, self.angles_deg, self.chance = lair, tuple(forms), tuple(angles_deg), chance
        self.astray = 0  # so many angles of the wheel are tried at each move besides the given ones
        count = len(forms)
        self.prints: list[Print] = [self._first_print(form, angles) for form, angles in zip(forms, angles_deg)]
        self.shifts: list[tuple[int, int]] = [(0, 0)] * count
        self.weights = np.ones((count, count))

    def _first_print(self, form: Form, angles_deg: Sequence[float]) -> Print:
        """Return the first of its prints that is no larger than the grid: what only goes in aslant has none before."""
        for angle_deg in angles_deg:
            one = self.lair.print_of(form, angle_deg)
            if one.depth.shape[0] <= self.lair.shape[0] and one.depth.shape[1] <= self.lair.shape[1]:
                break
        return one

    def lay(self, index: int, angle_deg: float, row: int, column: int) -> None:
        """Lay a piece somewhere, overlapping or not."""
        self.prints[index] = self.lair.print_of(self.forms[index], angle_deg)
        self.shifts[index] = (row, column)

    def lay_at(self, index: int, x_mm: float, y_mm: float, angle_deg: float) -> None:
        """Lay a piece with its origin at a position, as near as the grid has it."""
        one = self.lair.print_of(self.forms[index], angle_deg)
        self.lay(index, angle_deg, *self.lair.shift_of(one, x_mm, y_mm))

    def positions(self) -> list[tuple[float, float, float]]:
        """Return (x, y, angle) of every piece."""
        return [(*self.lair.position(one, *shift), one.angle_deg) for one, shift in zip(self.prints, self.shifts)]

    def overlaps(self) -> NDArray[np.float64]:
        """Return (n, n) how much each pair overlaps, in cells times cells deep."""
        count = len(self.prints)
        found = np.zeros((count, count))
        corner = np.array(self.shifts).reshape(-1, 2)
        size = np.array([one.depth.shape for one in self.prints]).reshape(-1, 2)
        end = corner + size
        meet = (corner[:, None] < end[None, :]).all(axis=2) & (corner[None, :] < end[:, None]).all(axis=2)
        for i, j in np.argwhere(np.triu(meet, 1)).tolist():
            low, high = np.maximum(corner[i], corner[j]), np.minimum(end[i], end[j])
            a = self.prints[i].depth[
                low[0] - corner[i][0] : high[0] - corner[i][0], low[1] - corner[i][1] : high[1] - corner[i][1]
            ]
            b = self.prints[j].depth[
                low[0] - corner[j][0] : high[0] - corner[j][0], low[1] - corner[j][1] : high[1] - corner[j][1]
            ]
            found[i, j] = found[j, i] = float(np.minimum(a, b).sum())
        return found

    def kept_overlaps(self) -> NDArray[np.float64]:
        """Return how much each piece overlaps what is fixed."""
        found = np.zeros(len(self.prints))
        if self.lair.kept.any():
            for i, (one, (row, column)) in enumerate(zip(self.prints, self.shifts)):
                rows, columns = one.depth.shape
                under = self.lair.kept[row : row + rows, column : column + columns]
                found[i] = float((under * one.inside[: under.shape[0], : under.shape[1]]).sum())
        return found

    def move(self, index: int, *, lean: Field | None = None) -> None:
        """Take a piece to where it overlaps least, all its angles tried; among equals by `lean`, then by chance."""
        field = self.lair.kept * np.float32(self.weights[index].max())
        for other, (one, (row, column)) in enumerate(zip(self.prints, self.shifts)):
            if other != index:
                rows, columns = one.depth.shape
                under = field[row : row + rows, column : column + columns]
                # A print that is larger than the grid at every angle counts with what of it lies there.
                under += np.float32(self.weights[index, other]) * one.depth[: under.shape[0], : under.shape[1]]
        spectrum = self.lair.transform(field)
        best: tuple[float, float, int, int] | None = None
        turns = (float(turn) for turn in self.chance.sample(range(0, 360, _WHEEL_DEG), self.astray))
        base = self.angles_deg[index][0]
        for angle_deg in (*self.angles_deg[index], *(round((base + turn) % 360.0, 6) for turn in turns)):
            met = self.lair.overlap(spectrum, self.forms[index], angle_deg)
            if met is None:
                continue
            if lean is not None:
                met = met + lean[: met.shape[0], : met.shape[1]]
            least = float(met.min())
            if best is None or least < best[0]:
                at = np.flatnonzero(met.ravel() <= max(least, 0.0) + 0.3)
                row, column = divmod(int(at[self.chance.randrange(len(at))]), met.shape[1])
                best = (least, angle_deg, row, column)
        if best is not None and best[0] < _NOWHERE / 2:
            self.lay(index, *best[1:])

    def calm(self, token: Token, *, rounds: int, enough: float) -> bool:
        """Move quarrelling pieces until all overlaps together are at most `enough`; return whether that came about.

        Raises Cancelled when the token does.
        """
        best_total, best_state = math.inf, (list(self.prints), list(self.shifts))
        since = 0
        for round_ in range(rounds):
            found = self.overlaps()
            kept = self.kept_overlaps()
            total = float(found.sum()) / 2 + float(kept.sum())
            since += 1
            if total < 0.97 * best_total:
                since = 0
            elif since > _STUCK:
                break
            if total < best_total:
                best_total, best_state = total, (list(self.prints), list(self.shifts))
            if total <= enough:
                return True
            top = max(1e-9, float(found.max()))
            self.weights = np.where(found > 0, self.weights * (_GROWS + 0.6 * found / top), self.weights * _FADES)
            self.weights = np.clip(self.weights, 1.0, _HEAVIEST)
            quarrel = np.flatnonzero((found.sum(axis=1) + kept) > 0).tolist()
            self.chance.shuffle(quarrel)
            for index in quarrel:
                token.step((round_ + 0.5) / rounds)
                self.move(index)
        self.prints, self.shifts = best_state
        return False
