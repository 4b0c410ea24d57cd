"""How a rigid thing comes to rest on ledges: least potential energy over its height and two tilts.

The underside at (x, y) may go as deep as its place says: depth + slope_x·x + slope_y·y <= place for every place. Of all
such poses the one whose centre of mass lies deepest is where it comes to rest: a linear programme, solved by HiGHS. It
is exact as far as a tilt does not shorten the plan: at 3 degrees by 0.14 per cent.

Rest is level exactly where the centre of mass lies in the convex hull of what touches at level; then nothing needs to
be solved.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray
from shapely.geometry import LineString
from shapely.geometry import Point as Dot
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.model.records import Point, Record

if TYPE_CHECKING:
    from highspy import Highs

MOST_SLOPE = 1.0  # 45 degrees: nothing in a pocket stands steeper, and the programme stays bounded
_TOUCH_MM = 1e-6
_LOWEST, _ADDED = 16, 8  # places to begin with, and to add at a time
_LEAST_TILT_MM = 1e-4  # price of a slope of 1: of poses equally deep (a rod may roll) the one nearest to level counts


class Pose(Record, frozen=True, kw_only=True):
    """Depth of the datum plane at (x, y): datum_mm + slope_x·x + slope_y·y, in item coordinates, down from the surface.

    solved: whether the programme had to be solved, or what touches at level carries it. unknown: it could not be; the
    pose is then the level one, and a finding says that nobody knows.
    """

    datum_mm: float
    slope_x: float = 0.0
    slope_y: float = 0.0
    solved: bool = False
    unknown: bool = False

    @property
    def tilt_deg(self) -> float:
        """How far it lies off level."""
        return math.degrees(math.atan(math.hypot(self.slope_x, self.slope_y)))

    def depth_at(self, xy: NDArray[np.float64]) -> NDArray[np.float64]:
        """Return the depth of the datum plane at points (n, 2)."""
        depth: NDArray[np.float64] = self.datum_mm + xy @ np.array([self.slope_x, self.slope_y])
        return depth


def settle(xy: NDArray[np.float64], depth_mm: NDArray[np.float64], centre: Point) -> Pose:
    """Return the pose in which a thing with its centre of mass at `centre` rests on places (n, 2) with depths (n)."""
    level_mm = float(depth_mm.min())
    touching = xy[depth_mm <= level_mm + _TOUCH_MM]
    if hull_of(touching).distance(Dot(centre)) <= _TOUCH_MM:
        return Pose(datum_mm=level_mm)
    about = xy - np.array(centre)  # about the centre of mass the energy is the depth alone
    rows, most = np.column_stack([np.ones(len(about)), about, -about]), depth_mm - level_mm
    # Of some hundred places under a round thing three count: those that stop it are added as they are met.
    active = _to_begin_with(about, most)
    while True:
        pose = _solved(rows[active], most[active])
        if pose is None:
            return Pose(datum_mm=level_mm, unknown=True)
        deep, right, front, left, back = pose
        beyond = rows @ np.array(pose) - most
        beyond[active] = 0.0
        worst = np.argsort(beyond)[-_ADDED:]
        worst = worst[beyond[worst] > _TOUCH_MM]
        if not len(worst):
            break
        active = np.concatenate([active, worst])
    slope_x, slope_y = right - left, front - back
    datum_mm = level_mm + deep - slope_x * centre[0] - slope_y * centre[1]
    return Pose(datum_mm=datum_mm, slope_x=slope_x, slope_y=slope_y, solved=True)


def _to_begin_with(about: NDArray[np.float64], most: NDArray[np.float64]) -> NDArray[np.int64]:
    """Return the lowest places and the outermost in every direction: between them no tilt is endless."""
    lowest = np.argsort(most)[:_LOWEST]
    angles = np.linspace(0.0, 2 * math.pi, 16, endpoint=False)
    outermost = (about @ np.stack([np.cos(angles), np.sin(angles)])).argmax(axis=0)
    chosen = np.zeros(len(most), dtype=bool)
    chosen[lowest] = True
    chosen[outermost] = True
    found: NDArray[np.int64] = np.flatnonzero(chosen)
    return found


def _solved(rows: NDArray[np.float64], most: NDArray[np.float64]) -> tuple[float, ...] | None:
    """Return the deepest pose as (depth, slopes towards +x, +y, -x, -y) under rows (n, 5) · pose <= most (n).

    None where the solver finds none: every thing rests somewhere, so that its figures or the solver are broken.
    """
    import highspy  # its own binding: SciPy's takes three times as long for problems so small, and 0.4 s to import

    endless = highspy.kHighsInf
    count = len(rows)
    programme = highspy.HighsLp()
    programme.num_col_, programme.num_row_ = 5, count
    programme.col_cost_ = np.array([-1.0, *(_LEAST_TILT_MM,) * 4])
    programme.col_lower_ = np.array([-endless, 0.0, 0.0, 0.0, 0.0])
    programme.col_upper_ = np.array([endless, *(MOST_SLOPE,) * 4])
    programme.row_lower_, programme.row_upper_ = np.full(count, -endless), most
    programme.a_matrix_.format_ = highspy.MatrixFormat.kRowwise
    programme.a_matrix_.start_ = np.arange(0, 5 * count + 1, 5)
    programme.a_matrix_.index_ = np.tile(np.arange(5), count)
    programme.a_matrix_.value_ = rows.ravel()
    with _borrowed() as solver:
        solver.passModel(programme)
        solver.run()
        if solver.getModelStatus() != highspy.HighsModelStatus.kOptimal:
            return None
        return tuple(float(value) for value in solver.getSolution().col_value)


# Solvers that nobody uses. One that belonged to a thread would be taken away when the thread ends, at a moment when
# its binding can't ask for Python any more: it then ends the process.
_idle: list[Highs] = []


@contextmanager
def _borrowed() -> Iterator[Highs]:
    """Lend a solver for one problem: it holds what it works on, so no two threads may have it."""
    try:
        solver = _idle.pop()
    except IndexError:
        solver = _new_solver()
    try:
        yield solver
    finally:
        _idle.append(solver)


def _new_solver() -> Highs:
    import highspy

    solver = highspy.Highs()
    # Nobody listens to it. Told to, it asks for Python in the middle of its work by what its binding remembers of the
    # thread; of a thread that a pool has lent before, that is a state that is gone, and the process ends.
    solver.disableCallbacks()
    solver.silent()
    solver.setOptionValue("presolve", "off")  # looking for what to leave out takes longer than solving
    solver.setOptionValue("solver", "simplex")
    solver.setOptionValue("threads", 1)
    return solver


def hull_of(xy: NDArray[np.float64]) -> BaseGeometry:
    """Return the convex hull of points (n, 2): a polygon, a line or a point."""
    # A line through them has the same hull, and is made at once: a set of points is made one by one.
    return Dot(xy[0]) if len(xy) == 1 else LineString(xy).convex_hull


def steadiness(support: BaseGeometry, outline: NDArray[np.float64], centre: Point) -> float:
    """Return how far the centre of mass may be shifted towards any point of the outline before the thing tips.

    As a share s of the way there, from 0 (about to tip) to 1: a push of s/(1-s) times its weight at its end tips it.
    With n the outward normal of an edge of the support, s = min over edges of (edge - centre)·n over the largest
    (outline - centre)·n.
    Below 0 where the centre lies outside the support; a line or a point supports nothing across.
    """
    if support.geom_type != "Polygon":
        return 0.0
    ring = np.array(support.exterior.coords)  # type: ignore[attr-defined]
    if not support.exterior.is_ccw:  # type: ignore[attr-defined]
        ring = ring[::-1]
    edges = np.diff(ring, axis=0)
    lengths = np.hypot(edges[:, 0], edges[:, 1])
    kept = lengths > 1e-9
    normals = np.column_stack([edges[kept, 1], -edges[kept, 0]]) / lengths[kept, None]
    inside = np.einsum("ij,ij->i", ring[:-1][kept] - np.array(centre), normals)
    reach = ((outline - np.array(centre)) @ normals.T).max(axis=0)
    return float(min(1.0, (inside / np.maximum(reach, 1e-9)).min()))
