"""Heavy things press the foam in: how far, how much they tilt by it, and how hard it is pressed where it is worst.

The floor is a bed of springs side by side: pressure = stiffness of the foam x how far it is pressed in / how thick it
is there (E/t, with E from the stress at a quarter pressed in). The pose is where springs and weight balance in
height and both tilts; springs push and never pull, so that the part that lifts off drops out. Found by Newton's method:
each step is a linear system with three unknowns over the places that touch.
"""

from __future__ import annotations

import math

import numpy as np
import shapely
from numpy.typing import NDArray

from cozy_burrow.core.depth.hold import modulus_of
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.sections import heights_at
from cozy_burrow.core.depth.settling import Pose
from cozy_burrow.core.depth.sitting import sitting_of
from cozy_burrow.core.depth.underside import Cut, bare_floors
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.kit.zones import GRAVITY_N_G, centre_of_mass
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Record, Sheet

_CELLS = 220  # a zone's floor, about
_LEAST_FOAM_MM = 2.0  # under a place: springs of no length would be endlessly stiff
_STEPS = 60


class Sunk(Record, frozen=True, kw_only=True):
    """How a thing lies with its weight on springs: pose, how much deeper its balance point, worst pressure in kPa."""

    pose: Pose
    deeper_mm: float
    worst_kpa: float

    @property
    def tilt_deg(self) -> float:
        """How far it lies off level."""
        return self.pose.tilt_deg


@memo(rows=256)
def sunk(pocket: Pocket, layers: tuple[Layer, ...], sheets: tuple[Sheet, ...], snug_mm: float, mass_g: float) -> Sunk:
    """Return how a thing of a mass presses the floor of its pocket in."""
    local = pocket.local
    stiff = np.array([modulus_of(sheets[layer.sheet - 1]) for layer in layers])
    # Springs one under the other give in turn: thickness over stiffness adds up from the floor's top to the bottom.
    thick = np.array([layer.bottom_mm - layer.top_mm for layer in layers])
    give = np.concatenate([np.cumsum((thick / stiff)[::-1])[::-1], [0.0]])
    xy, depth, area, spring = _cells(local, layers, snug_mm, (), give, float(stiff[-1]))
    start = sitting_of(local, layers, snug_mm=snug_mm).pose
    centre = np.array(centre_of_mass(local.item))
    weight = mass_g * GRAVITY_N_G
    pose = _balanced(xy - centre, depth, area * spring, weight, start, centre)
    pressed = np.maximum(0.0, pose.depth_at(xy) - depth)
    deeper = float((pose.depth_at(centre[None]) - start.depth_at(centre[None]))[0])
    return Sunk(pose=pose, deeper_mm=deeper, worst_kpa=float((pressed * spring).max(initial=0.0)) * 1000.0)


def _cells(
    pocket: Pocket,
    layers: tuple[Layer, ...],
    snug_mm: float,
    cuts: tuple[Cut, ...],
    give: NDArray[np.float64],
    stiffest: float,
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """Return places (n, 2), depth at which the datum touches there, area in mm² and spring in N/mm³ of each."""
    found: list[tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]] = []
    for index, number, bare, raised_mm in bare_floors(pocket, snug_mm, cuts):
        zone = pocket.item.zones[index]
        step = max(0.4, math.sqrt(float(bare.area) / _CELLS))
        left, top, right, bottom = bare.bounds
        xs, ys = _middles(left, right, step), _middles(top, bottom, step)
        grid = np.stack(np.meshgrid(xs, ys), axis=-1).reshape(-1, 2)
        grid = grid[shapely.intersects_xy(bare, grid[:, 0], grid[:, 1])]
        if not len(grid):
            grid = shapely.get_coordinates(bare.representative_point())
        under, _ = heights_at(zone, grid)
        kept = np.isfinite(under)
        floor_mm = layers[number - 1].bottom_mm - raised_mm if number else 0.0
        spring = 1.0 / max(_LEAST_FOAM_MM / stiffest, float(give[number]) + raised_mm / stiffest)
        count = int(kept.sum())
        if count:
            share = np.full(count, float(bare.area) / count)
            found.append((grid[kept], floor_mm + under[kept], share, np.full(count, spring)))
    xy, depth, area, springs = (np.concatenate(parts) for parts in zip(*found))
    return xy, depth, area, springs


def _middles(low: float, high: float, step: float) -> NDArray[np.float64]:
    """Return the middles of as many equal parts as are about a step long: the same from either end."""
    count = max(1, round((high - low) / step))
    return low + (np.arange(count) + 0.5) * (high - low) / count


def _balanced(
    about: NDArray[np.float64],
    depth: NDArray[np.float64],
    springs: NDArray[np.float64],
    weight_n: float,
    start: Pose,
    centre: NDArray[np.float64],
) -> Pose:
    """Return the pose in which springs (n, N/mm) at places about the centre of mass (n, 2) carry a weight."""
    rows = np.column_stack([np.ones(len(about)), about])
    wanted = np.array([weight_n, 0.0, 0.0])
    at = float(start.depth_at(centre[None])[0])
    pose = np.array([at + 0.05, start.slope_x, start.slope_y])

    def energy(of: NDArray[np.float64]) -> float:
        pressed = np.maximum(0.0, rows @ of - depth)
        return float(0.5 * springs @ pressed**2 - weight_n * of[0])

    for _ in range(_STEPS):
        pressed = np.maximum(0.0, rows @ pose - depth)
        touching = pressed > 0
        force = rows.T @ (springs * pressed) - wanted
        if np.abs(force).max() < 1e-7 * max(1.0, weight_n):
            break
        stiffness = (rows[touching].T * springs[touching]) @ rows[touching]
        # A little of every spring keeps the system whole while too few places touch.
        stiffness += 1e-6 * np.trace((rows.T * springs) @ rows) * np.diag([1e-3, 1.0, 1.0])
        step = np.linalg.solve(stiffness, -force)
        length = 1.0
        now = energy(pose)
        while energy(pose + length * step) > now + 1e-9 * abs(now) and length > 1e-4:
            length /= 2
        pose = pose + length * step
    slope_x, slope_y = float(pose[1]), float(pose[2])
    datum = float(pose[0]) - slope_x * float(centre[0]) - slope_y * float(centre[1])
    return Pose(datum_mm=datum, slope_x=slope_x, slope_y=slope_y, solved=True)
