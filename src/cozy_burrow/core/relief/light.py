"""Light on a height field: daylight from the back left, soft shadows, corners that it does not reach, glints.

A picture of heights is lit in four steps, each over the whole field at once:

shadow   for each of some low suns, how far below the shadow's edge a pixel lies: one pass over the rows in the
         direction of its light, in which the shadow's height is carried along and sinks by the sun's slope
corners  how much lower a place is than what is round it, near and wider off
slope    the angle between surface and light; where two surfaces meet at a step neither has a slope towards it
gloss    a glint where the surface halves the way from light to eye; metals keep their colour in it
"""

from __future__ import annotations

import math
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.relief.field import OUTSIDE, Field, Heights, Owners
from cozy_burrow.core.relief.grid import Window

Shares = NDArray[np.float32]
Pixels = NDArray[np.uint8]
_Number = TypeVar("_Number", np.float32, np.int32)
_Glints = tuple[NDArray[np.int64], Shares, Shares]


class Sun(Frozen):
    """A direction that light comes from: how far to the left of straight from the back, and how high."""

    __slots__ = ("high_deg", "left_deg")

    def __init__(self, left_deg: float, high_deg: float) -> None:
        self.left_deg, self.high_deg = left_deg, high_deg

    @property
    def towards(self) -> tuple[float, float, float]:
        """The unit vector to it: x to the right, y to the front, z up."""
        left, high = math.radians(self.left_deg), math.radians(self.high_deg)
        return -math.sin(left) * math.cos(high), -math.cos(left) * math.cos(high), math.sin(high)


# A window: light from a patch of sky, so that the edges of shadows grow soft with their length.
SUNS = (Sun(24.0, 44.0), Sun(32.0, 52.0), Sun(40.0, 47.0), Sun(33.0, 39.0))
MIDDLE = Sun(32.0, 46.0)
_SOFT_MM = 0.5  # of height under a shadow's edge: from there on it is whole
_AMBIENT, _KEY = 0.47, 0.62
_CORNERS = ((1.6, 0.34), (5.0, 0.34), (14.0, 0.26))  # how far round a place, mm, and how much of the light it takes
_DARKEST = 0.3
_EDGE_SHARE = 0.10  # that an edge is brighter than its surface: it is a little worn and round
_STEEPEST = 4.0
_LINEAR = ((np.arange(256, dtype=np.float32) / 255.0) ** 2).astype(np.float32)
_STRIP_ROWS = 64
COARSEST = 8  # pixels that are taken together, at most, where what reaches far is worked out
LOW_DEG = min(sun.high_deg for sun in SUNS)


def lit(field: Field, part: Window | None = None) -> Pixels:
    """Return the picture of a field by daylight: (rows, columns, 4), red, green, blue and how much covers the bench.

    Colours are averaged over the owners of a pixel, so that edges are smooth; light, which changes slowly but for its
    edges' own, is worked out once a pixel. part: only these pixels of it; the rest is there to throw its shadow.
    """
    scale, height = field.grid.px_per_mm, np.ascontiguousarray(field.height_mm)
    seen = shadow(height, scale, first_row=field.grid.first[0])
    np.subtract(1.0, seen, out=seen)
    open_, edge = corners(height, scale)
    rows, columns = part or (slice(0, height.shape[0]), slice(0, height.shape[1]))
    picture = np.empty((rows.stop - rows.start, columns.stop - columns.start, 4), dtype=np.uint8)
    for first in range(rows.start, rows.stop, _STRIP_ROWS):  # all at once it would take ten times the picture
        strip = (slice(first, min(first + _STRIP_ROWS, rows.stop)), columns)
        at = first - rows.start
        picture[at : at + _STRIP_ROWS] = _lit_strip(
            field.cut(strip), _normals_in(height, scale, strip), seen[strip], open_[strip], edge[strip]
        )
    return picture


def _lit_strip(
    field: Field, normal: tuple[Shares, Shares, Shares], seen: Shares, open_: Shares, edge: Shares
) -> Pixels:
    """Return the picture of some pixels, once it is known how light falls there."""
    owner = np.ascontiguousarray(field.owner[:: field.sharp, :: field.sharp])
    sun = np.array(MIDDLE.towards, dtype=np.float32)
    facing = np.maximum(normal[0] * sun[0] + normal[1] * sun[1] + normal[2] * sun[2], 0.0)
    light = _AMBIENT * open_ * (0.6 + 0.4 * normal[2]) + (_KEY / sun[2]) * seen * facing
    light *= 1.0 + _EDGE_SHARE * edge
    share = np.array([one.grain_share for one in field.finishes], dtype=np.float32)
    light *= 1.0 + _by_owner(share, owner) * field.grain
    return _coloured(field, light, _glints(field, owner, seen, normal))


def normals(height: Heights, px_per_mm: float) -> tuple[Shares, Shares, Shares]:
    """Return the unit vectors that stand on a surface: x, y and z, each of the field's shape."""
    slope_x, slope_y = (np.clip(_slope(height, axis) * px_per_mm, -_STEEPEST, _STEEPEST) for axis in (1, 0))
    up: Shares = np.asarray(1.0 / np.sqrt(1.0 + slope_x * slope_x + slope_y * slope_y), dtype=np.float32)
    return -slope_x * up, -slope_y * up, up


def _normals_in(height: Heights, px_per_mm: float, part: Window) -> tuple[Shares, Shares, Shares]:
    """Return `normals` of some pixels only: each depends on its neighbours alone."""
    around = tuple(slice(max(0, one.start - 1), one.stop + 1) for one in part)
    own = tuple(slice(one.start - more.start, one.stop - more.start) for one, more in zip(part, around))
    x, y, up = normals(height[around], px_per_mm)
    return x[own], y[own], up[own]


def _slope(height: Heights, axis: int) -> Shares:
    """Return the rise per pixel: of the two differences to the neighbours the smaller where both have one sign, else 0.

    So a step belongs to neither of the surfaces that meet at it.
    """
    slope = np.zeros_like(height)
    if height.shape[axis] < 2:
        return slope
    along = np.moveaxis(slope, axis, 0)
    step = np.moveaxis(np.diff(height, axis=axis), axis, 0)
    along[0], along[-1] = step[0], step[-1]
    # Both above nought: the smaller; both below: the larger; else nothing.
    rising = np.minimum(step[:-1], step[1:])
    np.maximum(rising, 0.0, out=rising)
    falling = np.maximum(step[:-1], step[1:])
    np.minimum(falling, 0.0, out=falling)
    np.add(rising, falling, out=along[1:-1])
    return slope


def shadow(height: Heights, px_per_mm: float, suns: tuple[Sun, ...] = SUNS, *, first_row: int = 0) -> Shares:
    """Return how much of some suns' light is taken from each pixel, 0 to 1. first_row: as under_shadow has it."""
    taken = np.zeros(height.shape, dtype=np.float32)
    for sun in suns:
        below = under_shadow(height, px_per_mm, sun, first_row=first_row)
        np.multiply(below, 1.0 / _SOFT_MM, out=below)
        np.minimum(below, 1.0, out=below)
        taken += below
    taken /= len(suns)
    return taken


def under_shadow(height: Heights, px_per_mm: float, sun: Sun, *, first_row: int = 0) -> Heights:
    """Return how far each pixel lies below the edge of a sun's shadow, mm; 0 where it is lit.

    first_row: of the plan's, so that a part of a picture has the shadows of the whole to the dot.

    The light goes from row to row, by a whole number of columns each time that it has gone so far: its way is true to
    half a pixel. Its height over the plan sinks from row to row; instead, the rows are raised.
    """
    rows, columns = height.shape
    x, y, up = sun.towards
    aside = x / y  # columns to the right per row to the front
    sinks_mm = up / -y / px_per_mm
    raised = height + (np.arange(rows, dtype=np.float32) * np.float32(sinks_mm))[:, None]
    ways = np.diff(np.round((first_row + np.arange(rows)) * aside).astype(int))  # columns that each row goes on by
    left, right = max(0, int(ways.max(initial=0))), max(0, -int(ways.min(initial=0)))
    carried = np.full((rows, left + columns + right), -np.inf, dtype=np.float32)  # no shadow comes in at the sides
    carried[:, left : left + columns] = raised
    # What is there, and by how far the light goes on, what comes there: views are made at once, or they take the time.
    here = list(carried[:, left : left + columns])
    comes = {way: list(carried[:, left - way : left - way + columns]) for way in set(ways.tolist())}
    for row, way in enumerate(ways.tolist(), start=1):
        np.maximum(comes[way][row - 1], here[row], out=here[row])
    below: Heights = np.subtract(carried[:, left : left + columns], raised, out=raised)
    return below


def corners(height: Heights, px_per_mm: float) -> tuple[Shares, Shares]:
    """Return how open each place is to the sky, and how much it is an edge that stands out (both 0 to 1)."""
    import cv2

    rows, columns = height.shape
    open_ = np.ones(height.shape, dtype=np.float32)
    edge = np.zeros(height.shape, dtype=np.float32)
    for number, (reach_mm, share) in enumerate(_CORNERS):
        # What reaches far is smooth: a quarter or a sixteenth of the pixels tell it.
        part = min(COARSEST, 1 << round(math.log2(max(1.0, reach_mm * px_per_mm / 3))))
        size = (max(1, columns // part), max(1, rows // part))
        small = height if part == 1 else cv2.resize(height, size, interpolation=cv2.INTER_AREA)
        wide = cv2.GaussianBlur(small, (0, 0), max(0.6, reach_mm * px_per_mm / part / 1.6))
        if part > 1:
            wide = cv2.resize(wide, (columns, rows), interpolation=cv2.INTER_LINEAR)
        lower = np.subtract(wide, height, out=wide)  # in its place: a picture of a megapixel has megabytes of each
        lower /= np.float32(reach_mm)
        if number == 0:
            np.multiply(lower, np.float32(-2.0), out=edge)
            np.clip(edge, 0.0, 1.0, out=edge)
        np.clip(lower, 0.0, 1.0, out=lower)
        lower *= np.float32(share)
        open_ -= lower
    return np.maximum(open_, np.float32(_DARKEST), out=open_), edge


def _coloured(field: Field, light: Shares, glints: _Glints | None) -> Pixels:
    import cv2

    # Light adds up where colours are linear: the square of what a screen is told, near enough. So what a screen is told
    # is the colour times the root of the light, but where something shines.
    seen = _seen(field)
    root = np.sqrt(light)
    *colours, covers = cv2.split(seen)  # a colour at a time: all three together take thrice as long
    picture = cv2.merge([*(cv2.multiply(one, root, dtype=cv2.CV_8U) for one in colours), covers])
    if glints is not None:
        at, added, share = glints
        shining = np.take(_LINEAR, np.take(seen.reshape(-1, 4), at, axis=0)[:, :3])
        shining *= (np.take(light, at) * share)[:, None]
        shining += added
        np.sqrt(np.clip(shining, 0.0, 1.0, out=shining), out=shining)
        picture.reshape(-1, 4)[at, :3] = np.rint(shining * np.float32(255.0)).astype(np.uint8)
    return np.asarray(picture, dtype=np.uint8)


def _seen(field: Field) -> Pixels:
    """Return the colours of a field's pixels without light, (rows, columns, 4): the mean of their owners'."""
    import cv2

    colours = np.array([(*one.colour, 255) for one in field.finishes], dtype=np.uint8)
    colours[OUTSIDE, 3] = 0
    if field.sharp == 1:
        return _textured(_looked_up(colours, field.owner), field)
    size = (field.grid.columns, field.grid.rows)
    mixed = cv2.resize(_looked_up(colours, field.owner), size, interpolation=cv2.INTER_AREA)
    return _textured(np.asarray(mixed, dtype=np.uint8), field)


def _textured(seen: Pixels, field: Field) -> Pixels:
    """Return colours with those of photos where one owner has a whole pixel; at edges they are mixed as they were."""
    if field.texture is None:
        return seen
    colours, mask = field.texture
    rows, columns = np.nonzero(mask)
    sharp, owner = field.sharp, field.owner
    first = owner[rows * sharp, columns * sharp]
    whole = np.ones(len(rows), dtype=bool)
    for down in range(sharp):
        for right in range(sharp):
            whole &= owner[rows * sharp + down, columns * sharp + right] == first
    rows, columns = rows[whole], columns[whole]
    seen[rows, columns, :3] = colours[rows, columns]
    return seen


def _looked_up(colours: Pixels, owner: Owners) -> Pixels:
    """Return the colour of every owner, (rows, columns, 4)."""
    packed = np.ascontiguousarray(colours).view(np.int32)[:, 0]  # four bytes at a time
    return _by_owner(packed, owner).view(np.uint8).reshape(*owner.shape, 4)


def _by_owner(table: NDArray[_Number], owner: Owners) -> NDArray[_Number]:
    """Return what a table (float32 or int32, a row an owner) says of the owner of every pixel."""
    if owner.dtype != np.uint8 or owner.ndim != 2:
        return np.take(table, np.asarray(owner), mode="clip")
    import cv2

    whole = np.zeros(256, dtype=table.dtype)
    whole[: len(table)] = table
    return np.asarray(cv2.LUT(owner, whole), dtype=table.dtype)  # several times as fast


def _glints(field: Field, owner: Owners, seen: Shares, normal: tuple[Shares, Shares, Shares]) -> _Glints | None:
    """Return where something shines (places in the flattened picture), what is added to its colour there, and what its
    own light is multiplied by.
    """
    gloss = np.array([one.gloss for one in field.finishes], dtype=np.float32)
    at = np.flatnonzero(_by_owner(gloss, owner))
    if not len(at):
        return None
    who = np.take(owner, at)
    sharp = np.array([one.sharp for one in field.finishes], dtype=np.float32)[who]
    metal = np.array([one.metal for one in field.finishes], dtype=bool)
    tints = (np.array([one.colour for one in field.finishes], dtype=np.float32) / 255.0) ** 2
    tints = np.where(metal[:, None], 0.4 + 0.6 * tints / np.maximum(tints.max(axis=1, keepdims=True), 1e-3), 1.0)
    n = [np.take(one, at) for one in normal]
    half = np.array(MIDDLE.towards, dtype=np.float32) + np.array([0.0, 0.0, 1.0], dtype=np.float32)
    half /= np.linalg.norm(half)
    towards = np.clip(n[0] * half[0] + n[1] * half[1] + n[2] * half[2], 0.0, 1.0)
    shine = gloss[who]
    glint = 0.55 * shine * towards**sharp * (0.25 + 0.75 * np.take(seen, at))
    # A metal mirrors the room: the window at the back, the dark bench in front.
    room = 1.0 + np.where(metal[who], shine * (0.35 * np.maximum(-n[1], 0) - 0.45 * np.maximum(n[1], 0)), 0.0)
    return at, glint[:, None] * tints.astype(np.float32)[who], room.astype(np.float32)
