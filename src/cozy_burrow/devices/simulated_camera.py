"""A camera that is not there: renders the photo that one would take of things on a mat.

Rays of its own, no part of the solver. Pixel to ray: the lens bends by r (1 + a r² + b r⁴) from the drawn to the true
direction, the other way round than the solver's model, as no real lens follows either.
"""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.progress import Quiet, Token
from cozy_burrow.devices.simulated_scene import DistanceField, Field, Light, Stand, Subject, sampled

_TEXEL_MM = 0.1
_SHADE_CELL_MM = 0.5
_PAPER, _INK, _TABLE = (0.86, 0.86, 0.84), 0.03, (0.23, 0.15, 0.09)
_SLICE_MM = 0.25
_BAND = 256  # rows of the picture at a time

Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class PrintedPage:
    """A sheet of paper with black boxes on it, in mm; `image` instead: what a printer really put there."""

    width_mm: float
    height_mm: float
    black: tuple[Box, ...] = ()
    image: Field | None = None

    def texture(self) -> Field:
        """Return how white the page is, 0 to 1, in texels of 0.1 mm; edges of boxes are covered by their share."""
        columns, rows = round(self.width_mm / _TEXEL_MM), round(self.height_mm / _TEXEL_MM)
        if self.image is not None:
            return self.image
        page = np.ones((rows, columns), dtype=np.float32)
        for left, top, right, bottom in self.black:
            x0, x1, y0, y1 = (one / _TEXEL_MM for one in (left, right, top, bottom))
            across, first_x = _covered(x0, x1, columns)
            down, first_y = _covered(y0, y1, rows)
            part = page[first_y : first_y + len(down), first_x : first_x + len(across)]
            part -= np.outer(down, across)
        return np.asarray(np.clip(page, 0, 1), dtype=np.float32)


def _covered(start: float, end: float, count: int) -> tuple[Field, int]:
    first, last = max(0, math.floor(start)), min(count, math.ceil(end))
    edges = np.arange(first, last + 1)
    return np.asarray(
        np.clip(np.minimum(edges[1:], end) - np.maximum(edges[:-1], start), 0, 1), dtype=np.float32
    ), first


@dataclass(frozen=True)
class SimulatedCamera:
    """Takes the photo of a scene. `seed`: the same scene and seed give the same bytes. token: may stop the work."""

    page: PrintedPage
    subjects: tuple[Subject, ...]
    stand: Stand
    light: Light = field(default_factory=Light)
    seed: int = 1
    quality: int = 93
    token: Token = field(default_factory=Quiet)

    def take_photo(self) -> bytes:
        """Return a JPEG file. Raises Cancelled where the token stops the work."""
        return _jpeg(self._exposed(), self.stand, self.quality)

    def _exposed(self) -> NDArray[np.uint8]:
        """Return the picture's values, worked out a band of rows at a time: all of it at once is half a gigabyte."""
        import cv2

        stand, high = self.stand, self.stand.height_px
        picture = np.empty((high, stand.width_px, 3), dtype=np.float32)
        sheet = self._sheet()
        bands = [slice(top, min(high, top + _BAND)) for top in range(0, high, _BAND)]
        for rows in bands:
            picture[rows] = self._lit(rows, sheet)
        blur = stand.blur_px
        chance = np.random.default_rng(self.seed)
        if not stand.blur_after_tone:
            picture = np.asarray(cv2.GaussianBlur(picture, (0, 0), blur), dtype=np.float32)
        for rows in bands:
            part = picture[rows]
            spread = stand.noise * np.sqrt(np.clip(part, 0.02, None))
            part += spread * chance.standard_normal(part.shape, dtype=np.float32)
            picture[rows] = _tone(np.clip(part, 0.0, 1.0))
        if stand.blur_after_tone:
            picture = np.asarray(cv2.GaussianBlur(picture, (0, 0), blur), dtype=np.float32)
        pixels = np.empty(picture.shape, dtype=np.uint8)
        for rows in bands:
            pixels[rows] = np.round(picture[rows] * 255.0)
        return pixels

    def _sheet(self) -> tuple[Field, Field, tuple[float, float]]:
        """Return how white the page is as the lens sees it, and how much light reaches it, from where on."""
        import cv2

        step_mm = self.stand.height_mm / self.stand.focal_px
        texture = cv2.GaussianBlur(
            self.page.texture(), (0, 0), max(0.01, 0.35 * float(np.float32(step_mm)) / _TEXEL_MM)
        )
        return (np.asarray(texture, dtype=np.float32), *_shadows(self.page, self.subjects, self.light, self.token))

    def _lit(self, rows: slice, sheet: tuple[Field, Field, tuple[float, float]]) -> Field:
        """Return the light that some rows of the picture receive, linear."""
        stand = self.stand
        axes, eye = stand.axes()
        ground_x, ground_y, cosine = _ground(stand, axes, eye, rows)
        picture = self._paper(ground_x, ground_y, sheet)
        for subject in sorted(self.subjects, key=lambda one: one.height_mm):
            _paint(picture, subject, ground_x, ground_y, eye, stand, self.light, self.token)
        picture *= _falling(self.light, self.page, ground_x, ground_y)[..., None]
        picture *= (cosine**2)[..., None]  # towards its corners every lens is darker
        picture *= np.array(self.light.tint, dtype=np.float32)
        return picture

    def _paper(self, ground_x: Field, ground_y: Field, sheet: tuple[Field, Field, tuple[float, float]]) -> Field:
        """Return page and table under their shadows, (rows, columns, 3), linear."""
        step_mm = np.float32(self.stand.height_mm / self.stand.focal_px)
        texture, shade, origin = sheet
        white = sampled(texture, ground_x / _TEXEL_MM - 0.5, ground_y / _TEXEL_MM - 0.5)
        lit = sampled(shade, (ground_x - origin[0]) / _SHADE_CELL_MM, (ground_y - origin[1]) / _SHADE_CELL_MM)
        out = np.maximum(
            np.abs(ground_x - self.page.width_mm / 2) - self.page.width_mm / 2,
            np.abs(ground_y - self.page.height_mm / 2) - self.page.height_mm / 2,
        )
        on_page = np.clip(0.5 - out / step_mm, 0, 1)[..., None]
        paper = (np.float32(_INK) + (np.array(_PAPER, dtype=np.float32) - np.float32(_INK)) * white[..., None]) * lit[
            ..., None
        ]
        table = (
            np.array(_TABLE, dtype=np.float32) * (1 + np.float32(0.15) * np.sin(ground_y / np.float32(9.0)))[..., None]
        )
        return np.asarray(table + on_page * (paper - table), dtype=np.float32)


def _ground(
    stand: Stand, axes: NDArray[np.float64], eye: NDArray[np.float64], rows: slice | None = None
) -> tuple[Field, Field, Field]:
    """Return where the ray of each pixel meets the paper, and the cosine of its angle to the axis; rows None: all."""
    rows = rows or slice(0, stand.height_px)
    across = (np.arange(stand.width_px, dtype=np.float32) - (stand.width_px - 1) / 2) / stand.focal_px
    down = (np.arange(rows.start, rows.stop, dtype=np.float32) - (stand.height_px - 1) / 2) / stand.focal_px
    far = across[None, :] ** 2 + down[:, None] ** 2
    bent = 1 + stand.bend[0] * far + stand.bend[1] * far**2
    u, v = across[None, :] * bent, down[:, None] * bent
    x, y, z = (u * axes[0, k] + v * axes[1, k] + axes[2, k] for k in range(3))
    reach = -eye[2] / np.minimum(z, -1e-3)
    cosine = 1 / np.sqrt(1 + u**2 + v**2)
    return tuple(np.asarray(one, dtype=np.float32) for one in (eye[0] + x * reach, eye[1] + y * reach, cosine))  # type: ignore[return-value]


def _falling(light: Light, page: PrintedPage, x: Field, y: Field) -> Field:
    across, down = (x - page.width_mm / 2) / 1000.0, (y - page.height_mm / 2) / 1000.0
    return np.asarray(np.clip(1 + light.fade[0] * across + light.fade[1] * down, 0.2, 1.6), dtype=np.float32)


def _shadows(
    page: PrintedPage, subjects: Sequence[Subject], light: Light, token: Token
) -> tuple[Field, tuple[float, float]]:
    """Return how much light reaches the paper, in cells of 0.5 mm: cast shadows with their penumbra, dim corners."""
    import cv2

    margin = 40.0
    origin = (-margin, -margin)
    xs = np.arange(-margin, page.width_mm + margin, _SHADE_CELL_MM)
    ys = np.arange(-margin, page.height_mm + margin, _SHADE_CELL_MM)
    cast = np.zeros((len(ys), len(xs)), dtype=np.float32)
    near = np.zeros_like(cast)
    grid_x, grid_y = (np.asarray(one, dtype=np.float32) for one in np.meshgrid(xs, ys))
    for subject in subjects:
        field = DistanceField.of(subject.shape)
        for z in np.linspace(0.0, subject.height_mm, max(3, round(subject.height_mm / 1.5))):
            token.step(0.0)
            moved = field.at(grid_x - z * light.slope[0], grid_y - z * light.slope[1]) + subject.inset_mm(float(z))
            mask = np.clip(0.5 - moved / _SHADE_CELL_MM, 0, 1)
            np.maximum(cast, cv2.GaussianBlur(mask, (0, 0), (0.4 + light.softness * z) / _SHADE_CELL_MM), out=cast)
        low = np.clip(0.5 - field.at(grid_x, grid_y) / _SHADE_CELL_MM, 0, 1)
        reach = 0.4 * subject.height_mm
        np.maximum(near, cv2.GaussianBlur(low, (0, 0), max(1.0, reach / _SHADE_CELL_MM)), out=near)
    lit = light.ambient * (1 - 0.4 * near) + (1 - light.ambient) * (1 - cast)
    return np.asarray(lit, dtype=np.float32), origin


def _paint(
    picture: Field,
    subject: Subject,
    ground_x: Field,
    ground_y: Field,
    eye: NDArray[np.float64],
    stand: Stand,
    light: Light,
    token: Token,
) -> None:
    """Paint one body into the picture: the slice that a ray meets first gives the colour, their union the edge."""
    part = _seen_part(subject, ground_x, ground_y, eye)
    if part is None:
        return
    gx, gy, distance = ground_x[part], ground_y[part], DistanceField.of(subject.shape)
    step_mm = np.float32(stand.height_mm / stand.focal_px)
    nearest = np.full(gx.shape, np.inf, dtype=np.float32)
    shade = np.zeros(gx.shape, dtype=np.float32)
    facing = distance.facing(light.slope)
    count = max(2, round(subject.height_mm / _SLICE_MM) + 1)
    for z in np.linspace(0.0, subject.height_mm, count):
        token.step(0.0)  # a photo takes seconds: whoever closes the window need not wait for it
        share = (eye[2] - z) / eye[2]
        x, y = eye[0] + (gx - eye[0]) * share, eye[1] + (gy - eye[1]) * share
        far = distance.at(x, y) + np.float32(subject.inset_mm(float(z)))
        better = (far <= 0) | (far < nearest)
        if z >= subject.height_mm - 1e-9 and subject.body == "straight":
            tone = np.float32(1.0) + subject.shine * np.sin(x / 5.0 + y / 11.0)
        else:  # a wall: brighter where it faces the lamp
            faces = facing.at(x, y)
            rise = z / subject.height_mm if subject.body != "straight" else 0.0
            tone = light.ambient * (0.75 + 0.25 * rise) + (1 - light.ambient) * np.clip(
                0.15 + rise + 0.8 * faces, 0, 1.1
            )
            tone = tone + subject.shine * np.sin(z / 2.0)
        shade = np.where(better, tone, shade)
        nearest = np.minimum(nearest, far)
    cover = np.clip(0.5 - nearest / step_mm, 0, 1)[..., None]
    colour = np.clip(shade[..., None] * np.array(subject.colour, dtype=np.float32), 0.004, 1.0)
    picture[part] = picture[part] * (1 - cover) + colour * cover


def _seen_part(
    subject: Subject, ground_x: Field, ground_y: Field, eye: NDArray[np.float64]
) -> tuple[slice, slice] | None:
    """Return the rows and columns of the picture in which a body can show."""
    left, top, right, bottom = subject.shape.bounds
    swell = eye[2] / (eye[2] - subject.height_mm)
    xs = [left, right, eye[0] + (left - eye[0]) * swell, eye[0] + (right - eye[0]) * swell]
    ys = [top, bottom, eye[1] + (top - eye[1]) * swell, eye[1] + (bottom - eye[1]) * swell]
    step = 8
    x, y = ground_x[::step, ::step], ground_y[::step, ::step]
    inside = (x > min(xs) - 4) & (x < max(xs) + 4) & (y > min(ys) - 4) & (y < max(ys) + 4)
    if not inside.any():
        return None
    rows, columns = np.flatnonzero(inside.any(axis=1)), np.flatnonzero(inside.any(axis=0))
    return (
        slice(max(0, (rows[0] - 1) * step), (rows[-1] + 2) * step),
        slice(max(0, (columns[0] - 1) * step), (columns[-1] + 2) * step),
    )


def _tone(linear: Field) -> Field:
    """Return sRGB values from linear ones (IEC 61966-2-1)."""
    low = linear * 12.92
    high = 1.055 * np.power(np.maximum(linear, 1e-6), 1 / 2.4) - 0.055
    return np.asarray(np.where(linear <= 0.0031308, low, high), dtype=np.float32)


def _jpeg(pixels: NDArray[np.uint8], stand: Stand, quality: int) -> bytes:
    from PIL import Image

    stream = io.BytesIO()
    exif = Image.Exif()
    if stand.names_lens:
        exif.get_ifd(0x8769)[41989] = round(stand.focal_35_mm)
    Image.fromarray(pixels).save(stream, "JPEG", quality=quality, subsampling=0, exif=exif)
    return stream.getvalue()
