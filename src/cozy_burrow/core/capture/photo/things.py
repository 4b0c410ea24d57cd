"""Which parts of the evened picture are things, and which are paper under a shadow.

A shadow only dims the paper, and the farther from the thing that casts it, the softer its edge. So the paper is
flooded from its lit part inwards: through everything that could be dimmed paper, up to edges as sharp as the print's.
What the flood does not reach is a thing; where exactly it ends is settled on the edges afterwards.
"""

from __future__ import annotations

import copy
import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from cozy_burrow.core.capture.photo.by_dots import bodies_by_dots, is_bare
from cozy_burrow.core.capture.photo.enclosure import enclosure
from cozy_burrow.core.capture.photo.flat import Flat
from cozy_burrow.core.capture.photo.ink import without_ink
from cozy_burrow.core.capture.photo.masks import (
    Mask,
    Window,
    closed,
    disc,
    grown,
    holes_closed,
    largest,
    linked,
    opened,
    reached,
    shrunk,
    window,
)
from cozy_burrow.core.capture.photo.rasters import Raster, brightest_of, level_of

_FINE_MM, _COARSE_MM = 0.3, 0.7
_SHARPER = 1.3  # fine slope over coarse slope: about 2 at a step, below this where a penumbra is 2 mm wide
_LEAST_STEP = 0.04  # of white: paper's own unevenness stays below
_TINT = 0.055  # shadows are a little bluer or warmer than the light
_DARKEST_SHADOW = 0.26
_NO_SHADOW_STEP = 0.3  # of white: no shadow falls off so steeply, not even at its foot
_PENUMBRA_MM = 0.45  # a shadow's edge is at least so soft, but under the sun
_LEAST_SHADE_MM2 = 6.0
_BRIGHTER = 1.07
LEAST_THING_MM2 = 20.0
MOST_THINGS, _MOST_PARTS = 60, 40
_LEAST_THICKNESS_MM = 0.9
_LEAST_HOLE_MM2 = 12.0
_MOST_HOLE = 0.75  # of a thing: what is more is the face of a thing as pale as paper
_GAP_MM = 0.9
_LIT, _LIT_BESIDE_PRINT = 0.018, 0.12
_NECK_MM = 3.0  # a thinner tongue of foam is given up anyway
_BESIDE_PRINT = 0.12
_BORDER_MM = 25.0
_LEAST_PAPER_MM2 = 60.0
_BRIGHTER_ROUND, _DARKER_ROUND = 0.35, 0.12
_OPEN, _CLOSED_IN, _LEAKED_INTO = 0.62, 0.7, 0.88


@dataclass(frozen=True)
class Thing:
    """One thing in the raster: `mask` of the whole raster with its holes open."""

    mask: Mask
    touches_rim: bool


def find_things(flat: Flat) -> list[Thing]:
    """Return the things that lie on the paper, from left to right."""
    import cv2

    work = None if flat.dots is not None else _Work(flat)
    body = work.bodies() if work is not None else _told_by_dots(flat)
    _, label, stats, _ = cv2.connectedComponentsWithStats(body.astype(np.uint8), connectivity=4)
    rim = grown(~flat.on, 1.5)
    rim[:3] = rim[-3:] = rim[:, :3] = rim[:, -3:] = True
    found: list[tuple[int, Thing]] = []
    for number in largest(stats, least=LEAST_THING_MM2 / flat.cell_mm**2, most=MOST_THINGS):
        part = window(stats[number], body.shape, margin=round(6.0 / flat.cell_mm))
        mask: Mask | None = label[part] == number
        if work is not None:
            mask = work.window(part).as_thing(label[part] == number)
        elif flat.dots is not None and not is_bare(flat.dots, part, label[part] == number):
            mask = None
        if mask is not None:
            whole = np.zeros(body.shape, dtype=bool)
            whole[part] = mask
            found.append((int(stats[number, cv2.CC_STAT_LEFT]), Thing(whole, bool((mask & rim[part]).any()))))
    return [thing for _, thing in sorted(found, key=lambda one: one[0])]


def _told_by_dots(flat: Flat) -> Mask:
    assert flat.dots is not None
    body = bodies_by_dots(flat.even, _for_the_eye(flat.even, flat.cell_mm)[0], flat.dots, flat.on, flat.known)
    return body if flat.ink is None else without_ink(body, flat.even, flat.ink)


def _for_the_eye(even: Raster, cell_mm: float) -> tuple[NDArray[np.uint8], Raster]:
    """Return an evened raster in 8 bit, by its root as eyes and cameras have it, and the smoothed one that it is of."""
    import cv2

    soft = cv2.GaussianBlur(even, (0, 0), 0.3 / cell_mm)
    return np.clip(np.sqrt(np.maximum(soft, 0)) * 230, 0, 255).astype(np.uint8), np.asarray(soft, dtype=np.float32)


class _Work:
    """The rasters that the questions are asked of."""

    def __init__(self, flat: Flat) -> None:
        import cv2

        self.flat, self.cell = flat, flat.cell_mm
        self.even = flat.even
        self.picture, soft = _for_the_eye(self.even, self.cell)
        self.level: Raster = level_of(soft)
        tint = soft / np.maximum(self.level, 0.02)[..., None] - 1
        self.tint: Raster = brightest_of(np.abs(tint))
        # What the lens smears widely is looked at with a wider eye, or noise is all that is left.
        fine_mm, coarse_mm = max(_FINE_MM, 1.2 * flat.blur_mm), max(_COARSE_MM, 2.8 * flat.blur_mm)
        fine, coarse = _slope(self.even, fine_mm / self.cell), _slope(self.even, coarse_mm / self.cell)
        # What a slope amounts to as a step: a step's slope is its height over sigma times the root of two pi.
        # Taking the coarse slope off leaves steps and takes shading and penumbras away, even where they lie together.
        as_step = math.hypot(fine_mm, flat.blur_mm) / self.cell * 2.507
        trust = cv2.blur(flat.known.astype(np.float32), (5, 5))
        self.trusted: Mask = trust > 0.8
        doubt = np.where(self.trusted, 1.0, _BESIDE_PRINT)  # beside print a slope may be what is left of it
        self.step: Raster = np.asarray(fine * as_step * doubt, dtype=np.float32)
        steepening = math.hypot(coarse_mm, flat.blur_mm) / math.hypot(fine_mm, flat.blur_mm)
        penumbra = max(_PENUMBRA_MM, 2 * flat.blur_mm)
        at_penumbra = math.hypot(coarse_mm, penumbra) / math.hypot(fine_mm, penumbra)
        self.softer = math.sqrt(steepening * at_penumbra)
        self.ratio: Raster = np.asarray(fine / np.maximum(coarse, 1e-4), dtype=np.float32)
        kept = 1 - _SHARPER / max(steepening, 1.15 * _SHARPER)
        excess = np.clip(fine - _SHARPER * coarse, 0, None)
        self.sharp: Raster = np.asarray(excess * (as_step / kept) * doubt, dtype=np.float32)
        # Nine tenths of a page are paper: what is sharp there is noise.
        self.least = max(_LEAST_STEP, 2.2 * float(np.percentile(self.sharp[flat.known], 90)))

    def window(self, part: Window) -> _Work:
        """Return the same for a part of the rasters."""
        view = copy.copy(self)
        for name, value in vars(self).items():
            if isinstance(value, np.ndarray):
                setattr(view, name, np.ascontiguousarray(value[part]))
        return view

    def as_thing(self, body: Mask) -> Mask | None:
        """Return a body as the thing that it is, its holes open, None where it is none."""
        mask = self.without_soft_parts(body)
        return self.with_holes(mask) if self.is_thing(mask) else None

    def bodies(self) -> Mask:
        """Return what is neither paper nor shadow by light and edges alone, holes closed."""
        tint_due = _TINT * np.clip(1 / np.maximum(self.level, 0.1), 1, 6) + 6 * self.flat.noise
        coloured = self.tint > np.maximum(tint_due, 0.06)
        self.own = (coloured & (self.level < 1.25)) | (self.level < _DARKEST_SHADOW) | (self.level > _BRIGHTER)
        steep = self.step > _NO_SHADOW_STEP
        self.edge = edge = linked((self.sharp > self.least) | steep, (self.sharp > 0.4 * self.least) | steep)
        self.barrier = barrier = closed(edge | self.own, _GAP_MM / 2 / self.cell)
        free = ~barrier & self.flat.on
        lit = self._lit_paper(free)
        # Into the dim the flood goes only where it is wide: an edge that fades for a millimetre must not let it in.
        wide = reached(shrunk(free, _NECK_MM / 2 / self.cell), lit)
        dim = free & grown(wide, _NECK_MM / 2 / self.cell)
        closed_in = enclosure(edge | self.own, lit | ~self.flat.on)
        inner = ~lit & ~edge & self.flat.on & (closed_in > np.where(dim, _LEAKED_INTO, _CLOSED_IN))
        # Where the flood came it may have come through a gap, into a thing paler than the paper round it is bright; or
        # it is in a slot, or between two things, and meets the outsides of what is darker.
        within = enclosure(edge | self.own, lit | ~self.flat.on, self.level)
        inner &= ~dim | (within > _BRIGHTER_ROUND)
        self.paper = lit | (dim & ((closed_in < _OPEN) | (within < _DARKER_ROUND)))
        inner = shrunk(inner, 0.5 / self.cell)
        core = inner | shrunk(self.own, 0.3 / self.cell)
        return self._settled(core)

    def _lit_paper(self, free: Mask) -> Mask:
        """Return the paper in full light that hangs together with the border of a page."""
        import cv2

        slack = np.where(self.trusted, max(_LIT, 4 * self.flat.noise), _LIT_BESIDE_PRINT)
        lit = free & (np.abs(self.level - 1) < slack)
        _, label, stats, _ = cv2.connectedComponentsWithStats(lit.astype(np.uint8), connectivity=4)
        border = lit & ~shrunk(self.flat.on, _BORDER_MM / self.cell)
        kept = np.zeros(len(stats), dtype=bool)
        kept[np.unique(label[border])] = True
        kept &= stats[:, cv2.CC_STAT_AREA] * self.cell**2 > _LEAST_PAPER_MM2
        kept[0] = False
        return np.asarray(kept[label], dtype=bool)

    def _settled(self, core: Mask) -> Mask:
        """Return bodies with their rim on the sharpest line between core and paper."""
        import cv2

        marks = np.zeros(core.shape, dtype=np.int32)
        marks[shrunk(self.paper, 0.4 / self.cell) | ~self.flat.on] = 1
        marks[core] = 2
        cv2.watershed(self.picture, marks)
        body = cv2.medianBlur((marks == 2).astype(np.uint8), 5).astype(bool)
        return holes_closed(opened(body, _LEAST_THICKNESS_MM / 2 / self.cell))

    def without_soft_parts(self, mask: Mask) -> Mask:
        """Return a coloured or dark body without parts like shaded paper whose outer edge is softer than the print's.

        Such a part is the shadow that a thing throws under a small lamp: its edge stopped the flood.
        """
        import cv2

        _, label, stats, _ = cv2.connectedComponentsWithStats((mask & ~self.edge).astype(np.uint8), connectivity=4)
        soft = np.zeros(mask.shape, dtype=bool)
        outside = grown(~mask, 1.0 / self.cell)
        for number in largest(stats, least=_LEAST_SHADE_MM2 / self.cell**2, most=_MOST_PARTS):
            part = label == number
            if self._is_soft(part, outside):
                soft |= part
        firm = (label > 0) & ~soft
        # Of a grey thing its own face may look like shade; only colour tells them apart for sure.
        if not soft.any() or firm.sum() < 0.1 * mask.sum() or float(self.own[firm].mean()) < 0.5:
            return mask
        marks = np.zeros(mask.shape, dtype=np.int32)
        marks[shrunk(soft, 0.4 / self.cell) | shrunk(~mask, 0.4 / self.cell)] = 1
        marks[shrunk(firm, 0.3 / self.cell)] = 2
        cv2.watershed(self.picture, marks)
        left = opened((marks == 2) & mask, _LEAST_THICKNESS_MM / 2 / self.cell)
        _, label, stats, _ = cv2.connectedComponentsWithStats(left.astype(np.uint8), connectivity=4)
        return np.asarray(label == 1 + int(stats[1:, cv2.CC_STAT_AREA].argmax())) if len(stats) > 1 else mask

    def _is_soft(self, part: Mask, outside: Mask) -> bool:
        levels = self.level[part]
        if float(self.own[part].mean()) > 0.2 or not 0.3 <= float(np.median(levels)) <= 0.95:
            return False
        ring = grown(part, 1.6 / self.cell) & ~part
        rim = ring & outside
        if rim.sum() < 0.15 * ring.sum():
            return False
        steep = self.step[rim] >= np.percentile(self.step[rim], 60)
        return float(np.median(self.ratio[rim][steep])) < self.softer

    def is_thing(self, mask: Mask) -> bool:
        """Whether a body is one: sharp along most of its rim, or of a colour of its own."""
        import cv2

        near = cv2.dilate(mask.astype(np.uint8), disc(max(1, round(0.6 / self.cell)))).astype(bool)
        rim = near & ~shrunk(mask, 0.6 / self.cell)
        if not rim.any() or float(self.trusted[mask].mean()) < 0.5:
            return False
        band = max(1, round(0.6 / self.cell))
        strongest = cv2.dilate(self.sharp, disc(band))
        bounded = float((strongest[rim] > 0.5 * self.least).mean())
        own = float(self.own[mask].mean())
        return bounded > 0.6 or (own > 0.3 and bounded > 0.35)

    def with_holes(self, mask: Mask) -> Mask:
        """Return a body with the holes open through which paper is seen, in whatever shadow.

        Paper in the shade of its thing may be as dim as grey, but it is brighter than a thing that is greyer; a gleam
        is brighter than paper or fades into the thing.
        """
        import cv2

        body = float(np.median(self.level[mask]))
        own = float(self.own[mask].mean())
        least = max(0.45, 1.35 * body) if own < 0.6 else max(0.4, 1.2 * body)
        bright = (self.level > min(least, 0.96)) & (self.level < 1.035) & ~self.own & (self.step < _NO_SHADOW_STEP)
        inside = shrunk(mask, 1.0 / self.cell)
        seeds = shrunk(inside & bright, 0.5 / self.cell)
        _, label, stats, _ = cv2.connectedComponentsWithStats(seeds.astype(np.uint8), connectivity=4)
        dark = mask & (self.level < (min(least, 0.96) + body) / 2)
        pierced = mask.copy()
        for number in largest(stats, least=_LEAST_HOLE_MM2 / 6 / self.cell**2, most=_MOST_PARTS):
            hole = self._hole(label == number, dark, mask)
            size = float(hole.sum())
            if size * self.cell**2 < _LEAST_HOLE_MM2 or size > _MOST_HOLE * mask.sum() or not self._is_cut(hole):
                continue
            pierced &= ~hole
        return pierced

    def _is_cut(self, hole: Mask) -> bool:
        """Whether a hole ends in an edge most of the way round."""
        rim = grown(hole, 0.4 / self.cell) & ~hole
        strongest = grown((self.sharp > self.least) | (self.step > 0.12), 0.4 / self.cell)
        return bool(strongest[rim].mean() > 0.75)

    def _hole(self, part: Mask, dark: Mask, mask: Mask) -> Mask:
        """Return the hole round a part of it, its rim on the strongest line between it and the thing."""
        import cv2

        marks = np.zeros(part.shape, dtype=np.int32)
        marks[(shrunk(dark, 0.3 / self.cell) & ~grown(part, 0.5 / self.cell)) | ~mask] = 1
        marks[part] = 2
        cv2.watershed(self.picture, marks)
        return np.asarray(marks == 2)


def _slope(even: Raster, sigma: float) -> Raster:
    """Return the slope of an evened raster smoothed by sigma cells, all colours together, for each cell."""
    import cv2

    smooth = cv2.GaussianBlur(even, (0, 0), sigma)
    across = cv2.Sobel(smooth, cv2.CV_32F, 1, 0, ksize=1, scale=0.5)
    down = cv2.Sobel(smooth, cv2.CV_32F, 0, 1, ksize=1, scale=0.5)
    return np.asarray(np.sqrt((across**2 + down**2).mean(axis=-1)), dtype=np.float32)
