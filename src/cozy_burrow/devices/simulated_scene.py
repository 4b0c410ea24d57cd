"""What lies in front of the simulated camera: things as bodies on a page, the light, where the camera stands.

Page millimetres: x right, y down the page, z up from the paper. The camera and the solver share no geometry code, so
that their errors cannot cancel: this module works on distance fields and rays of its own.

Body   straight: walls upright from the paper to the top · edged: one widest line half way up, sloping in above and
       below · lying: a round thing on its side, an arc in section
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import Polygon

Body = Literal["straight", "edged", "lying"]
Field = NDArray[np.float32]
Colour = tuple[float, float, float]

_CELL_MM = 0.2  # of a distance field: between cells it is straight, and so are most edges
_MARGIN_MM = 3.0
_EDGE_SLOPE = 1.0  # an edged body narrows by its height from the widest line: 45 degrees, flatter than any view here


@dataclass(frozen=True)
class Subject:
    """One thing on the page. shape: in page mm; height_mm: its top; colour: the share of light it gives back."""

    shape: Polygon
    height_mm: float
    body: Body = "straight"
    colour: Colour = (0.1, 0.1, 0.1)
    shine: float = 0.0

    @property
    def edge_mm(self) -> float:
        """Height of the line that a view from above sees as the outline."""
        return self.height_mm if self.body == "straight" else self.height_mm / 2

    def inset_mm(self, z_mm: float) -> float:
        """Return how far the slice at a height lies inside the shape."""
        half = self.height_mm / 2
        if self.body == "straight":
            return 0.0
        if self.body == "edged":
            return _EDGE_SLOPE * abs(z_mm - half)
        return half - math.sqrt(max(0.0, half**2 - (z_mm - half) ** 2))


@dataclass(frozen=True)
class Light:
    """ambient and lamp share the light; slope: how far a shadow falls for a millimetre of height, to x and y.

    softness: by how much a shadow's edge widens for a millimetre of height; a bare bulb's 0.01, a window's 0.2.
    """

    ambient: float = 0.62
    slope: tuple[float, float] = (0.45, 0.3)
    fade: tuple[float, float] = (0.0, 0.0)  # how the light falls off across and down the page, per metre
    tint: Colour = (1.0, 0.99, 0.96)
    softness: float = 0.07


@dataclass(frozen=True)
class Stand:
    """Where the camera stands and what its lens and sensor are like. aim: what lies in the middle of the picture."""

    aim_mm: tuple[float, float]
    height_mm: float = 600.0
    tilt_deg: float = 0.0
    towards_deg: float = 0.0
    roll_deg: float = 0.0
    width_px: int = 4000
    height_px: int = 3000
    focal_35_mm: float = 27.0
    bend: tuple[float, float] = (0.0, 0.0)
    blur_px: float = 0.8
    noise: float = 0.006
    names_lens: bool = True
    blur_after_tone: bool = False

    @property
    def focal_px(self) -> float:
        """Focal length in pixels; the length on full frame keeps the angle across the diagonal."""
        return self.focal_35_mm / math.hypot(36.0, 24.0) * math.hypot(self.width_px, self.height_px)

    def axes(self) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """Return (3, 3) rows right, down, forward of the camera in page axes, and where its eye is."""
        tilt, towards, roll = (math.radians(one) for one in (self.tilt_deg, self.towards_deg, self.roll_deg))
        lean = np.array([math.cos(towards), math.sin(towards), 0.0])
        side = np.array([-lean[1], lean[0], 0.0])
        up = np.array([0.0, 0.0, 1.0])
        forward = math.sin(tilt) * lean - math.cos(tilt) * up
        leaned = math.cos(tilt) * lean + math.sin(tilt) * up
        # Before leaning, right is x and down is y; leaning turns the part of each along `lean`, and leaves `side`.
        right, down = (axis @ lean * leaned + axis @ side * side for axis in np.eye(3)[:2])
        right, down = (
            math.cos(roll) * right + math.sin(roll) * down,
            math.cos(roll) * down - math.sin(roll) * right,
        )
        eye = np.array([*self.aim_mm, 0.0]) - forward * (self.height_mm / math.cos(tilt))
        return np.array([right, down, forward]), eye


@dataclass(frozen=True)
class DistanceField:
    """Signed distance to a shape on a grid, negative inside; `origin_mm` is the middle of the first cell."""

    values: Field
    origin_mm: tuple[float, float]

    @staticmethod
    @lru_cache(maxsize=8)
    def of(shape: Polygon) -> DistanceField:
        """Measure a shape."""
        left, top, right, bottom = shape.bounds
        xs = np.arange(left - _MARGIN_MM, right + _MARGIN_MM, _CELL_MM)
        ys = np.arange(top - _MARGIN_MM, bottom + _MARGIN_MM, _CELL_MM)
        shapely.prepare(shape)
        rim = shape.boundary
        values = np.empty((len(ys), len(xs)), dtype=np.float32)
        for number, y in enumerate(ys):  # a row at a time: a point as a geometry is thirty times as large as its cell
            row = np.full(len(xs), y)
            far = shapely.distance(shapely.points(xs, row), rim)
            values[number] = np.where(shapely.contains_xy(shape, xs, row), -far, far)
        return DistanceField(values=values, origin_mm=(float(xs[0]), float(ys[0])))

    def facing(self, slope: tuple[float, float]) -> DistanceField:
        """Return how much the wall nearest to a point faces a lamp whose shadows fall along `slope`: 1 to -1."""
        down, across = np.gradient(self.values, _CELL_MM)
        lean = math.hypot(*slope) or 1.0
        return DistanceField(
            values=np.asarray(-(across * slope[0] + down * slope[1]) / lean, dtype=np.float32), origin_mm=self.origin_mm
        )

    def at(self, x_mm: Field, y_mm: Field) -> Field:
        """Return the distance at points; beyond the grid that of its rim."""
        return sampled(self.values, (x_mm - self.origin_mm[0]) / _CELL_MM, (y_mm - self.origin_mm[1]) / _CELL_MM)


def sampled(values: Field, columns: Field, rows: Field) -> Field:
    """Return a raster's values between its cells, straight from cell to cell."""
    import cv2

    found = cv2.remap(
        values,
        np.asarray(columns, dtype=np.float32),
        np.asarray(rows, dtype=np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )
    return np.asarray(found, dtype=np.float32)
