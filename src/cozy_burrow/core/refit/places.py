"""Where a new pocket goes in cut foam: what is open, what is in the way, what a place costs.

Open     the layers of the old pocket and the pulls that nobody needs any more
Seed     a place where the new pocket lies over the open one as well as it can, on a grid; then looked at finely
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.pieces import Bed, Form
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.records import Placement
from cozy_burrow.core.pulls.forms import bed_for

APART_MM = 4.0  # nearer, and two places are one
_CELL_MM = 1.0
_TURNS_DEG = (0.0, 90.0, 180.0, 270.0)
_SEEDS = 6  # of each turn, apart from each other by more than their width
_STEPS_MM = (1.0, 0.4, 0.15, 0.05)
_TURN_STEPS_DEG = (2.0, 0.8, 0.3, 0.1)
_CUT_WEIGHT = 1e-3  # against filling: it only decides between places that fill alike
_NEARER_MM3 = 1e-3  # a mm: of places that are as good, the one nearest to where it lay


class Places:
    """The search for one thing in the place of another."""

    def __init__(
        self, before: Ground, key: str, pocket: Pocket, form: Form, *, moving: frozenset[str] = frozenset()
    ) -> None:
        """key: the placement whose foam is open. moving: neighbours that make way, as if they lay nowhere."""
        self.pocket, self.form = pocket, form
        lay = next(one for one in before.insert.placements if one.id == key)
        self._lay = lay.x_mm, lay.y_mm
        # A trench that it shares with others may meet its pocket wherever that lies.
        taken = [
            (one.areas[0], wanted_wall_mm(before.layers[len(one.areas) - 1].bottom_mm, before.rules))
            for one in before.cutouts
            if key not in one.owners and not one.owners <= moving
        ]
        self.bed: Bed = bed_for(before.bay, before.rules, taken=taken, spare=before.insert.spare)
        own = [one for one in before.cutouts if one.owners <= {key}]
        kept = [one for one in before.cutouts if not one.owners <= {key}]
        depth = max((len(one.areas) for one in own), default=0)
        self.thick = [layer.thickness_mm for layer in before.layers]
        # What neighbours cut anyway is no filling, wherever the new thing lies.
        self.open: list[BaseGeometry] = []
        for number in range(depth):
            gone = shapely.union_all([one.areas[number] for one in own if len(one.areas) > number])
            stays = [one.areas[number] for one in kept if len(one.areas) > number]
            self.open.append(gone.difference(shapely.union_all(stays)) if stays else gone)
        self.volume = sum(area.area * thick for area, thick in zip(self.open, self.thick))
        for area in (self.bed.area, *self.open):
            shapely.prepare(area)

    def turns(self, old: Placement) -> list[float]:
        """Return the angles to try: as the open pocket lies, as the old thing lay, and square to the plan."""
        lies, own = (_axis_deg(area) for area in (self.open[0] if self.open else Polygon(), self.form.shape))
        found: list[float] = []
        for angle in (lies - own, old.angle_deg, -own):
            for turn in _TURNS_DEG:
                one = round((angle + turn) % 360.0, 3)
                if all(min(abs(one - other), 360.0 - abs(one - other)) > 0.05 for other in found):
                    found.append(one)
        return found

    def cost(self, x: float, y: float, turn: float) -> float:
        """Return what a place costs in mm³ of filling; cutting only tells places apart that fill alike."""
        left = self.volume
        cut = 0.0
        for number, area in enumerate(self.pocket.layers):
            here = placed(area, x_mm=x, y_mm=y, angle_deg=turn)
            shared = here.intersection(self.open[number]).area if number < len(self.open) else 0.0
            left -= shared * self.thick[number]
            cut += (here.area - shared) * self.thick[number]
        return left + _CUT_WEIGHT * cut

    def may_lie(self, x: float, y: float, turn: float) -> bool:
        """Whether walls and edge are kept there."""
        shape = placed(self.form.shape, x_mm=x, y_mm=y, angle_deg=turn)
        if not self.bed.area.covers(shape):
            return False
        return all(shape.distance(area) >= self.bed.wanted(self.form, wall) - 1e-9 for area, wall in self.bed.fixed)

    def places(self, turn: float) -> Iterator[tuple[float, float, float]]:
        """Return good places for one turn, each looked at finely."""
        for x, y in self._seeds(turn):
            start = self._into_room(x, y, turn)
            if start is not None:
                yield self._settled(*start, turn)

    def _seeds(self, turn: float) -> list[tuple[float, float]]:
        """Return where the new pocket lies best over the open one, best first, apart from each other."""
        gain, origin = self._gains(turn)
        x, y = (origin[axis] + np.arange(gain.shape[1 - axis]) * _CELL_MM - self._lay[axis] for axis in (0, 1))
        gain = gain - _NEARER_MM3 * np.hypot(x[None, :], y[:, None])
        free = self._free(turn, origin, gain.shape)
        seeds: list[tuple[float, float]] = []
        for values in (np.where(free, gain, -1e9), gain):  # where it may lie; then beside, for the grid is too careful
            left = values.copy()
            reach = max(1, round(APART_MM / _CELL_MM))
            for _ in range(_SEEDS):
                row, column = np.unravel_index(int(left.argmax()), left.shape)
                if left[row, column] <= -1e8:
                    break
                seeds.append((origin[0] + column * _CELL_MM, origin[1] + row * _CELL_MM))
                left[max(0, row - reach) : row + reach + 1, max(0, column - reach) : column + reach + 1] = -1e9
        return seeds

    def _gains(self, turn: float) -> tuple[NDArray[np.float64], tuple[float, float]]:
        """Return for the origin of the piece at each cell how much of what is open it uses (mm³), and the first one."""
        from scipy import signal

        left, top, right, low = self.bed.room
        columns, rows = int((right - left) / _CELL_MM) + 1, int((low - top) / _CELL_MM) + 1
        total = np.zeros((rows, columns))
        for number in range(min(len(self.open), len(self.pocket.layers))):
            shape = placed(self.pocket.layers[number], x_mm=0.0, y_mm=0.0, angle_deg=turn)
            if shape.is_empty or self.open[number].is_empty:
                continue
            stamp, (dx, dy) = _cells(shape)
            field, (fx, fy) = _cells(self.open[number])
            # counts[r, c]: cells shared when the stamp's corner lies r - stamp rows + 1 cells below the field's corner.
            counts = signal.fftconvolve(field, stamp[::-1, ::-1], mode="full")
            first_x, first_y = fx - (stamp.shape[1] - 1) * _CELL_MM - dx, fy - (stamp.shape[0] - 1) * _CELL_MM - dy
            column, row = round((first_x - left) / _CELL_MM), round((first_y - top) / _CELL_MM)
            _add(total, np.asarray(counts, dtype=float) * (_CELL_MM**2 * self.thick[number]), row, column)
        return total, (left, top)

    def _free(self, turn: float, origin: tuple[float, float], size: tuple[int, int]) -> NDArray[np.bool_]:
        from cozy_burrow.core.arrange.raster import Grid

        free = np.zeros(size, dtype=bool)
        grid = Grid(self.bed, cell_mm=_CELL_MM)
        found = grid.free_shifts(self.form, turn, grid.taken_spectrum())
        if found is None:
            return free
        rows, columns = np.nonzero(found)
        stamp = grid.stamp(self.form, turn)
        x = grid.origin[0] + (columns - stamp.column) * grid.cell_mm
        y = grid.origin[1] + (rows - stamp.row) * grid.cell_mm
        column, row = (np.round((at - first) / _CELL_MM).astype(int) for at, first in zip((x, y), origin))
        inside = (row >= 0) & (column >= 0) & (row < size[0]) & (column < size[1])
        free[row[inside], column[inside]] = True
        return free

    def _into_room(self, x: float, y: float, turn: float) -> tuple[float, float] | None:
        """Return the nearest place within some millimetres where it may lie."""
        if self.may_lie(x, y, turn):
            return x, y
        for far in np.arange(0.5, 12.5, 0.5):
            ring = [
                (x + far * math.cos(angle), y + far * math.sin(angle))
                for angle in np.linspace(0, math.tau, max(8, int(far * 8)), endpoint=False)
            ]
            free = [spot for spot in ring if self.may_lie(spot[0], spot[1], turn)]
            if free:
                return min(free, key=lambda spot: self.cost(spot[0], spot[1], turn))
        return None

    def _settled(self, x: float, y: float, turn: float) -> tuple[float, float, float]:
        """Return the best place near one, step by step finer, turned a little where that helps."""
        best = (self.cost(x, y, turn), x, y, turn)
        for step, by in zip(_STEPS_MM, _TURN_STEPS_DEG):
            for _ in range(40):
                _, x, y, turn = best
                moved = [(x + step * dx, y + step * dy, turn) for dx in (-1, 0, 1) for dy in (-1, 0, 1) if dx or dy] + [
                    (x, y, turn + by),
                    (x, y, turn - by),
                ]
                tried = [(self.cost(*spot), *spot) for spot in moved]
                better = sorted(one for one in tried if one[0] < best[0] - 1e-6)
                chosen = next((one for one in better if self.may_lie(*one[1:])), None)
                if chosen is None:
                    break
                best = chosen
        return best[1], best[2], best[3]


def _axis_deg(area: BaseGeometry) -> float:
    parts = polygons_in(area)
    return long_axis_deg(parts[0]) if parts else 0.0


def _cells(area: BaseGeometry) -> tuple[NDArray[np.float32], tuple[float, float]]:
    """Return which cells' middles an area covers, and the corner of the first cell."""
    left, top, right, low = area.bounds
    columns, rows = max(1, math.ceil((right - left) / _CELL_MM)), max(1, math.ceil((low - top) / _CELL_MM))
    x = left + (np.arange(columns) + 0.5) * _CELL_MM
    y = top + (np.arange(rows) + 0.5) * _CELL_MM
    inside = shapely.contains_xy(area, *np.meshgrid(x, y))
    return np.asarray(inside, dtype=np.float32), (left, top)


def _add(total: NDArray[np.float64], values: NDArray[np.float64], row: int, column: int) -> None:
    """Add values to a part of an array; what lies beside it is left out."""
    rows, columns = total.shape
    r0, c0 = max(0, row), max(0, column)
    r1, c1 = min(rows, row + values.shape[0]), min(columns, column + values.shape[1])
    if r0 < r1 and c0 < c1:
        total[r0:r1, c0:c1] += values[r0 - row : r1 - row, c0 - column : c1 - column]
