"""How far a wall of foam gives when something brushes against its upper edge, and how thick it must be not to flop.

A wall of thickness t, which may vary along it, and height h is a beam h high on a bed of springs:

along     it bends as a beam, with E I = E h t³ / 12 at each place, built in where it meets thick foam;
upright   at its foot it is held as a cantilever of height h: E t³ / 4 h³ of force a mm along and a mm bent. Where it is
          cut right through the foam nothing holds its foot.

Beam and springs are solved by elements of the usual kind (cubic between the nodes), with a force at one node after the
other. A long even wall comes out 7 % stiffer than the plate that it is (0.168 F h² / D under a force at one point of
a long free edge, Jaramillo 1950, with D = E t³ / 12: foam has hardly any Poisson's ratio): less than E is unsure.

E is the stress that presses the foam in by a quarter over that quarter, as in `hold`. A wall flops where a brush bends
it by more than it is thick. For foam of 30 kg/m³ that asks for 9 mm of a long wall that stands 25 mm deep, 12 mm at 40
and 16 mm at 80, which is what fitters leave by experience.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

BRUSH_N = 1.0  # a sleeve or a finger that passes: the weight of 100 g
LEAST_MM = 1.0  # thinner foam is reckoned with as if it were so thick: what is nothing has no stiffness


def bends_mm(
    thick_mm: NDArray[np.float64],
    step_mm: float,
    *,
    deep_mm: float,
    pressed_n_mm2: float,
    foot: bool,
    held: tuple[bool, bool],
) -> NDArray[np.float64]:
    """Return how far a brush at each place bends a wall there, in mm, (n,).

    thick_mm: (n,) of at least two places, step_mm apart. pressed_n_mm2: E. foot: whether its foot stands on foam.
    held: whether it is built in at its first place and at its last. Infinite where nothing holds it.
    """
    count = len(thick_mm)
    if not (foot or any(held)):
        return np.full(count, np.inf)
    cubes = np.maximum(thick_mm, LEAST_MM) ** 3
    between = (cubes[:-1] + cubes[1:]) / 2
    beams = pressed_n_mm2 * deep_mm / 12 * between / step_mm**3
    springs = pressed_n_mm2 / (4 * deep_mm**3) * between * step_mm if foot else np.zeros(count - 1)
    # Shape functions of a beam element in units of its length, so that turns and ways are of one size.
    bending = np.array([[12, 6, -12, 6], [6, 4, -6, 2], [-12, -6, 12, -6], [6, 2, -6, 4]], dtype=float)
    bedded = np.array([[156, 22, 54, -13], [22, 4, 13, -3], [54, 13, 156, -22], [-13, -3, -22, 4]]) / 420
    whole = np.zeros((2 * count, 2 * count))
    for number in range(count - 1):
        at = slice(2 * number, 2 * number + 4)
        whole[at, at] += beams[number] * bending + springs[number] * bedded
    free = np.ones(2 * count, dtype=bool)
    free[:2], free[-2:] = not held[0], not held[1]
    inside = np.flatnonzero(free)
    gives = np.zeros(2 * count)
    gives[inside] = np.diag(np.linalg.inv(whole[np.ix_(inside, inside)]))
    return BRUSH_N * gives[::2]


def upright_mm(thick_mm: float, bent_mm: float) -> float:
    """Return how thick a wall must be that a brush bends by no more than its thickness, from what it bends now.

    It gives by the third power of its thickness: bent · (t / t')³ = t'.
    """
    return float((bent_mm * max(thick_mm, LEAST_MM) ** 3) ** 0.25)


def long_upright_mm(deep_mm: float, pressed_n_mm2: float) -> float:
    """Return how thick a long even wall must be that stands on its foot.

    A beam without end on springs k gives F b / 2 k with b⁴ = k / 4 E I; here b = 0.75^(1/4) / h.
    """
    per_cube = 2 * (pressed_n_mm2 / (4 * deep_mm**3)) / (0.75**0.25 / deep_mm)
    return float((BRUSH_N / per_cube) ** 0.25)
