"""Where a shape may lie, tested on a grid that never says yes wrongly.

A shape covers every cell whose middle is within half a cell's diagonal of it, so shapes on separate cells are
truly apart. A shape is grown by half of its wall before it is laid on the grid: two of them that do not share
a cell stand at least the mean of their walls apart, and that is never less than what the shallower one needs.
All positions are tried at once: the overlap counts for every shift are one product of Fourier transforms.
"""

from __future__ import annotations

import math
import threading
from collections import deque
from collections.abc import Hashable
from typing import Any
from weakref import WeakKeyDictionary, ref

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.pieces import Bed, Form
from cozy_burrow.core.geometry.placing import placed
from cozy_burrow.core.progress import make_way

Mask = NDArray[np.bool_]
Window = tuple[int, int, Mask]  # row and column of its corner on the grid, and its cells
Spectrum = NDArray[np.complex64]
MOST_ACROSS = 900
CELLS_ACROSS = 300  # of a square as large as the bed: 1.6 mm in a 570 x 390 drawer
MOST_SHARED_MB = 24.0  # of transforms, and of where forms go in, that the grids of all beds keep together


class Stamp:
    """One form at one angle on the grid: what it covers bare and with half its wall, and the ring round that."""

    __slots__ = ("bare", "column", "grown", "middle", "ring", "ring_cells", "row")

    def __init__(self, bare: Mask, grown: Mask, ring: Mask, row: int, column: int, middle: tuple[float, float]) -> None:
        self.middle = middle  # the bare shape's centroid, from the piece's origin
        self.bare, self.grown, self.ring = bare, grown, ring
        self.row, self.column = row, column  # of the array's corner, in cells from the piece's origin
        self.ring_cells = max(1, int(ring.sum()))


class _Shared:
    """What all grids of one bed and cell have in common: where forms go in by themselves, and their transforms."""

    def __init__(self) -> None:
        self.stamps: dict[tuple[int, float], tuple[Form, Stamp]] = {}
        self.kept: dict[Hashable, NDArray[Any]] = {}  # transforms and masks, as many as _Room has room for
        self.outside: tuple[Mask, Spectrum] | None = None

    def spectrum(self, key: tuple[int, float, str]) -> Spectrum | None:
        """Return a transform that was kept."""
        return self.kept.get(key)

    def inside(self, key: tuple[int, float]) -> Mask | None:
        """Return a kept mask of the shifts at which a form lies in the bed."""
        return self.kept.get(key)


class _Room:
    """How much the grids of all beds may keep: what is oldest makes room. Any thread may ask.

    A search over several inserts has a bed for each, and sizes of cells: each with a bound of its own, they took as
    much as the rest of the program.
    """

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._order: deque[tuple[ref[_Shared], Hashable, int]] = deque()
        self._bytes = 0

    def keep(self, shared: _Shared, key: Hashable, one: NDArray[Any]) -> None:
        """Keep an array; of a bed that is gone, nothing is kept any more, and what was is counted till its turn."""
        with self._lock:
            shared.kept[key] = one
            self._order.append((ref(shared), key, one.nbytes))
            self._bytes += one.nbytes
            while self._bytes > MOST_SHARED_MB * 1e6 and len(self._order) > 1:
                owner, oldest, size = self._order.popleft()
                self._bytes -= size
                if (found := owner()) is not None:
                    found.kept.pop(oldest, None)


_room = _Room()


_shared: WeakKeyDictionary[Bed, dict[float, _Shared]] = WeakKeyDictionary()


def _shared_by(bed: Bed, cell_mm: float) -> _Shared:
    return _shared.setdefault(bed, {}).setdefault(cell_mm, _Shared())


class Grid:
    """The bed in cells, what is taken on it, and the shifts at which a form may lie."""

    def __init__(self, bed: Bed, *, cell_mm: float | None = None) -> None:
        make_way()
        left, top, right, bottom = bed.area.bounds
        span = math.sqrt(max(1.0, (right - left) * (bottom - top)))
        # Cells may be larger than asked for: in a container of ten metres there would be a hundred million of them.
        self.cell_mm = max(cell_mm, span / MOST_ACROSS) if cell_mm else max(0.4, span / CELLS_ACROSS)
        margin = 12.0
        self.origin = (left - margin, top - margin)
        self.shape = (
            fast_size(math.ceil((bottom - top + 2 * margin) / self.cell_mm)),
            fast_size(math.ceil((right - left + 2 * margin) / self.cell_mm)),
        )
        self._half_diagonal = self.cell_mm * math.sqrt(0.5)
        shared = self._shared = _shared_by(bed, self.cell_mm)
        self._stamps = shared.stamps
        if shared.outside is None:
            # Taken away a half diagonal on both sides, a shape whose cells all lie in the bed lies in it truly.
            outside = ~self._cover(bed.area.buffer(-self._half_diagonal))
            shared.outside = (outside, self._transform(outside))
        self.outside, self._outside_spectrum = shared.outside
        self.taken: NDArray[np.bool_] = np.zeros(self.shape, dtype=bool)
        for area, wall_mm in bed.fixed:
            self.take(self.window_of(area, wall_mm))
        self._fixed = self.taken.copy()

    def clear(self) -> None:
        """Take up everything that was laid; what is fixed stays."""
        self.taken = self._fixed.copy()

    def _cover(self, area: BaseGeometry) -> Mask:
        """Return which cell middles lie in an area given in plan coordinates."""
        rows, columns = self.shape
        x = self.origin[0] + (np.arange(columns) + 0.5) * self.cell_mm
        y = self.origin[1] + (np.arange(rows) + 0.5) * self.cell_mm
        return _covered(area, *np.meshgrid(x, y))

    def stamp(self, form: Form, angle_deg: float) -> Stamp:
        """Return the form's cells at an angle."""
        key = (id(form), angle_deg)
        if key not in self._stamps:
            self._stamps[key] = (form, self._make_stamp(form, angle_deg))
        return self._stamps[key][1]

    def _make_stamp(self, form: Form, angle_deg: float) -> Stamp:
        shape = placed(form.shape, x_mm=0.0, y_mm=0.0, angle_deg=angle_deg)
        bare = shape.buffer(self._half_diagonal)
        grown = shape.buffer(form.wall_mm / 2 + self._half_diagonal)
        around = grown.buffer(2 * self.cell_mm)
        left, top, right, bottom = around.bounds
        row, column = math.floor(top / self.cell_mm), math.floor(left / self.cell_mm)
        rows, columns = math.ceil(bottom / self.cell_mm) - row, math.ceil(right / self.cell_mm) - column
        x = (column + np.arange(columns) + 0.5) * self.cell_mm
        y = (row + np.arange(rows) + 0.5) * self.cell_mm
        middles = np.meshgrid(x, y)
        covered = _covered(grown, *middles)
        ring = _covered(around, *middles) & ~covered
        centre = shape.centroid
        return Stamp(_covered(bare, *middles), covered, ring, row, column, (float(centre.x), float(centre.y)))

    def _transform(self, cells: Mask) -> Spectrum:
        from scipy import fft

        spectrum: Spectrum = np.asarray(fft.rfft2(cells.astype(np.float32)), dtype=np.complex64)
        return spectrum

    def _spectrum(self, form: Form, angle_deg: float, kind: str) -> Spectrum:
        key = (id(form), angle_deg, kind)
        known = self._shared.spectrum(key)
        if known is None:
            cells: Mask = getattr(self.stamp(form, angle_deg), kind)
            padded = np.zeros(self.shape, dtype=bool)
            padded[: cells.shape[0], : cells.shape[1]] = cells
            known = np.conj(self._transform(padded))
            _room.keep(self._shared, key, known)
        return known

    def _overlap(self, field: Spectrum, form: Form, angle_deg: float, kind: str) -> NDArray[np.float32]:
        """Return for every shift how many cells of the stamp meet the field."""
        from scipy import fft

        counts: NDArray[np.float32] = fft.irfft2(field * self._spectrum(form, angle_deg, kind), s=self.shape)
        return counts

    def taken_spectrum(self) -> Spectrum:
        """Return the transform of what is taken; worked out once for all the forms tried against it."""
        return self._transform(self.taken)

    def solid_spectrum(self) -> Spectrum:
        """Return the transform of all that a piece may nestle against: what is taken, and the bed's edge."""
        return self._transform(self.taken | self.outside)

    def free_shifts(self, form: Form, angle_deg: float, taken: Spectrum) -> Mask | None:
        """Return for every shift (of the stamp's array corner) whether the form may lie there; None: nowhere."""
        if self._is_beyond(form, angle_deg):
            return None
        stamp = self.stamp(form, angle_deg)
        rows, columns = self.shape[0] - stamp.bare.shape[0] + 1, self.shape[1] - stamp.bare.shape[1] + 1
        if rows <= 0 or columns <= 0:
            return None
        key = (id(form), angle_deg)
        free = self._shared.inside(key)
        if free is None:
            free = self._overlap(self._outside_spectrum, form, angle_deg, "bare")[:rows, :columns] < 0.5
            _room.keep(self._shared, key, free)
        if not free.any():
            return None
        free = free & (self._overlap(taken, form, angle_deg, "grown")[:rows, :columns] < 0.5)
        return free if free.any() else None

    def _is_beyond(self, form: Form, angle_deg: float) -> bool:
        """Return whether a form is larger than the grid: asked first, its stamp may have a hundred million cells."""
        left, top, right, bottom = placed(form.shape, x_mm=0.0, y_mm=0.0, angle_deg=angle_deg).bounds
        rows, columns = self.shape
        return bool(bottom - top > rows * self.cell_mm or right - left > columns * self.cell_mm)

    def contact(self, form: Form, angle_deg: float, solid: Spectrum) -> NDArray[np.float32]:
        """Return for every shift which share of the form's surroundings is solid."""
        counts = self._overlap(solid, form, angle_deg, "ring")
        return counts / np.float32(self.stamp(form, angle_deg).ring_cells)

    def lay(self, form: Form, angle_deg: float, row: int, column: int) -> None:
        """Take the cells of a form at a shift."""
        self.take((row, column, self.stamp(form, angle_deg).grown))

    def take(self, window: Window) -> None:
        """Take the cells of a window."""
        row, column, cells = window
        self.taken[row : row + cells.shape[0], column : column + cells.shape[1]] |= cells

    def window(self, form: Form, angle_deg: float, row: int, column: int) -> Window:
        """Return the cells that a form takes at a shift."""
        return row, column, self.stamp(form, angle_deg).grown

    def window_of(self, area: BaseGeometry, wall_mm: float) -> Window:
        """Return the cells that an area anywhere takes with half its wall; what lies off the grid is left out."""
        grown = area.buffer(wall_mm / 2 + self._half_diagonal)
        if grown.is_empty:
            return 0, 0, np.zeros((0, 0), dtype=bool)
        left, top, right, bottom = grown.bounds
        row = max(0, math.floor((top - self.origin[1]) / self.cell_mm))
        column = max(0, math.floor((left - self.origin[0]) / self.cell_mm))
        rows = max(0, min(self.shape[0], math.ceil((bottom - self.origin[1]) / self.cell_mm)) - row)
        columns = max(0, min(self.shape[1], math.ceil((right - self.origin[0]) / self.cell_mm)) - column)
        x = self.origin[0] + (column + np.arange(columns) + 0.5) * self.cell_mm
        y = self.origin[1] + (row + np.arange(rows) + 0.5) * self.cell_mm
        return row, column, _covered(grown, *np.meshgrid(x, y))

    @property
    def free(self) -> Mask:
        """The cells that are neither taken nor outside the bed."""
        return ~(self.taken | self.outside)

    def position(self, form: Form, angle_deg: float, row: int, column: int) -> tuple[float, float]:
        """Return where the piece's origin lies when its stamp's corner lies at a shift."""
        stamp = self.stamp(form, angle_deg)
        return (
            self.origin[0] + (column - stamp.column) * self.cell_mm,
            self.origin[1] + (row - stamp.row) * self.cell_mm,
        )


def _covered(area: BaseGeometry, x: NDArray[np.float64], y: NDArray[np.float64]) -> Mask:
    shapely.prepare(area)
    return np.asarray(shapely.intersects_xy(area, x, y), dtype=bool)


def fast_size(cells: int) -> int:
    from scipy import fft

    return int(fft.next_fast_len(cells, real=True))
