"""A camera that is not there, over an open drawer: the photo that one would take of foam, its pockets and what lies in.

The drawer is a field of heights and colours (what stands there, seen from above). Each pixel's ray is followed down
through it in slices until it meets something: a top, or the wall of a pocket. Rays and light of its own, no part of
what reads the photo, so that their errors cannot cancel.

Plan millimetres: x right, y to the front, z up from the foam's surface.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from cozy_burrow.core.progress import Quiet, Token
from cozy_burrow.devices.simulated_camera import _jpeg, _tone
from cozy_burrow.devices.simulated_scene import Field, Light, Stand, sampled

_SLICE_MM = 0.5
_BAND = 256  # rows of the picture at a time
_TABLE = (0.23, 0.15, 0.09)
_STEP_MM = 0.7  # a ray that is so far below what stands there has met its wall
_AROUND_MM = (3.0, 10.0)  # how far round a place what is higher takes its light


@dataclass(frozen=True)
class Drawer:
    """What is in front of the camera: heights in mm and colours (rows, columns, 3), linear, 0 to 1, over a grid.

    origin_mm: the middle of the first cell. gloss: how much of the lamp each cell mirrors.
    """

    height_mm: Field
    colour: Field
    gloss: Field
    origin_mm: tuple[float, float]
    cell_mm: float

    def with_picture(self, picture: Field, place_mm: tuple[float, float, float, float]) -> Drawer:
        """Return the drawer with something flat stuck onto it: how white it is (rows, columns), 0 to 1."""
        import cv2

        left, back, right, front = place_mm
        rows, columns = self.height_mm.shape
        x = self.origin_mm[0] + np.arange(columns) * self.cell_mm
        y = self.origin_mm[1] + np.arange(rows) * self.cell_mm
        across, down = np.flatnonzero((x > left) & (x < right)), np.flatnonzero((y > back) & (y < front))
        if not len(across) or not len(down):
            return self
        part = (slice(down[0], down[-1] + 1), slice(across[0], across[-1] + 1))
        shown = cv2.resize(picture, (len(across), len(down)), interpolation=cv2.INTER_AREA)
        colour, gloss = self.colour.copy(), self.gloss.copy()
        colour[part] = (0.03 + 0.8 * shown)[..., None]
        gloss[part] = 0.0
        return Drawer(self.height_mm, colour, gloss, self.origin_mm, self.cell_mm)


@dataclass(frozen=True)
class DrawerCamera:
    """Takes the photo of a drawer. `seed`: the same drawer and seed give the same bytes."""

    drawer: Drawer
    stand: Stand
    light: Light = field(default_factory=Light)
    seed: int = 1
    quality: int = 92
    token: Token = field(default_factory=Quiet)

    def take_photo(self) -> bytes:
        """Return a JPEG file. Raises Cancelled where the token stops the work."""
        import cv2

        stand = self.stand
        tops, facing = self._lit(), self._walls_facing()
        picture = np.empty((stand.height_px, stand.width_px, 3), dtype=np.float32)
        for top in range(0, stand.height_px, _BAND):
            rows = slice(top, min(stand.height_px, top + _BAND))
            picture[rows] = self._seen(rows, tops, facing)
        picture = np.asarray(cv2.GaussianBlur(picture, (0, 0), stand.blur_px), dtype=np.float32)
        chance = np.random.default_rng(self.seed)
        picture += (
            stand.noise
            * np.sqrt(np.clip(picture, 0.02, None))
            * chance.standard_normal(picture.shape, dtype=np.float32)
        )
        pixels = np.round(_tone(np.clip(picture, 0.0, 1.0)) * 255.0).astype(np.uint8)
        return _jpeg(pixels, stand, self.quality)

    def _lit(self) -> Field:
        """Return the tops as they are lit, (rows, columns, 3)."""
        import cv2

        drawer, light, cell = self.drawer, self.light, self.drawer.cell_mm
        height = drawer.height_mm
        open_ = np.ones(height.shape, dtype=np.float32)
        for near_mm in _AROUND_MM:
            around = cv2.GaussianBlur(height, (0, 0), near_mm / cell)
            open_ *= 1 - 0.4 * np.clip((around - height) / (2.0 * near_mm), 0, 1)
        shade = np.zeros(height.shape, dtype=np.float32)
        rows, columns = (np.asarray(one, dtype=np.float32) for one in np.indices(height.shape))
        highest, lowest = float(height.max()), float(height.min())
        for rise in np.arange(1.0, highest - lowest + 1.0, 1.0):
            self.token.step(0.0)
            back = sampled(
                height,
                columns - np.float32(rise * light.slope[0] / cell),
                rows - np.float32(rise * light.slope[1] / cell),
            )
            soft = np.float32(0.3 + light.softness * rise)
            np.maximum(shade, np.clip((back - height - np.float32(rise)) / soft, 0, 1), out=shade)
        down, across = np.gradient(height, cell)
        steep = np.hypot(across, down)
        flat = np.where(steep < 2.0, 1.0, 0.0)  # a step is no slope
        faces = -(across * light.slope[0] + down * light.slope[1]) * flat
        facing = np.clip(1 - 0.6 * faces, 0.2, 1.8) / np.sqrt(1 + (steep * flat) ** 2)
        shine = drawer.gloss * np.clip(1.5 - 4 * np.abs(faces - 0.35), 0, 1)
        lamp = (1 - light.ambient) * (1 - shade)
        level = light.ambient * open_ + lamp * facing
        tops = drawer.colour * level[..., None] + (lamp * shine)[..., None]
        return np.asarray(tops, dtype=np.float32)

    def _walls_facing(self) -> Field:
        """Return how much the steepest way at each place leads away from the lamp, -1 to 1."""
        lean = float(np.hypot(*self.light.slope)) or 1.0
        down, across = np.gradient(self.drawer.height_mm, self.drawer.cell_mm)
        size = np.maximum(np.hypot(across, down), 1e-3)
        away = -(across * self.light.slope[0] + down * self.light.slope[1]) / (size * lean)
        return np.asarray(away, dtype=np.float32)

    def _seen(self, rows: slice, tops: Field, facing: Field) -> Field:
        """Return the light that some rows of the picture receive, linear."""
        drawer, cell = self.drawer, self.drawer.cell_mm
        axes, eye = self.stand.axes()
        across = (
            np.arange(self.stand.width_px, dtype=np.float32) - (self.stand.width_px - 1) / 2
        ) / self.stand.focal_px
        down = (
            np.arange(rows.start, rows.stop, dtype=np.float32) - (self.stand.height_px - 1) / 2
        ) / self.stand.focal_px
        far = across[None, :] ** 2 + down[:, None] ** 2
        bent = 1 + self.stand.bend[0] * far + self.stand.bend[1] * far**2
        u, v = across[None, :] * bent, down[:, None] * bent
        way = [np.asarray(u * axes[0, k] + v * axes[1, k] + axes[2, k], dtype=np.float32) for k in range(3)]
        slope_x, slope_y = way[0] / way[2], way[1] / way[2]  # for a millimetre of height
        highest, lowest = float(drawer.height_mm.max()), float(drawer.height_mm.min())
        column = np.empty(u.shape, dtype=np.float32)
        row = np.empty(u.shape, dtype=np.float32)
        met = np.zeros(u.shape, dtype=bool)
        depth = np.full(u.shape, lowest, dtype=np.float32)
        for z in np.arange(highest + _SLICE_MM, lowest - _SLICE_MM, -_SLICE_MM):
            self.token.step(0.0)
            x = np.float32(eye[0]) + slope_x * np.float32(z - eye[2])
            y = np.float32(eye[1]) + slope_y * np.float32(z - eye[2])
            at_column, at_row = (x - drawer.origin_mm[0]) / cell, (y - drawer.origin_mm[1]) / cell
            here = ~met & (sampled(drawer.height_mm, at_column, at_row) >= z)
            column[here], row[here], depth[here] = at_column[here], at_row[here], z
            met |= here
        column[~met], row[~met] = at_column[~met], at_row[~met]
        top = sampled(drawer.height_mm, column, row)
        seen = np.stack([sampled(np.ascontiguousarray(tops[..., k]), column, row) for k in range(3)], axis=-1)
        # The wall of a pocket, or the side of a thing: of its colour, dimmer the deeper it is.
        wall = (top - depth > _STEP_MM) & met
        if wall.any():
            own = np.stack(
                [sampled(np.ascontiguousarray(drawer.colour[..., k]), column, row) for k in range(3)], axis=-1
            )
            faces = sampled(facing, column, row)
            deep = np.exp(-np.clip(top - depth, 0, None) / 25.0)
            level = (self.light.ambient * 0.6 + (1 - self.light.ambient) * np.clip(0.1 - 0.5 * faces, 0, 0.7)) * deep
            seen[wall] = own[wall] * level[wall][..., None]
        out = (column < 0) | (row < 0) | (column > tops.shape[1] - 1) | (row > tops.shape[0] - 1)
        seen[out] = _TABLE
        seen *= (1 / (1 + u**2 + v**2))[..., None]
        fall_x, fall_y = self.light.fade
        seen *= np.clip(1 + fall_x * (x - eye[0]) / 1000 + fall_y * (y - eye[1]) / 1000, 0.2, 1.6)[..., None]
        return np.asarray(seen * np.array(self.light.tint, dtype=np.float32), dtype=np.float32)
