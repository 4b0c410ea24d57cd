"""Which parts of the field are things, told by where the mat's dots are not seen.

Paper is where dots are seen, a thing where they are not; in between (along rims, on parts thinner than the dots are
apart, in the dim) light and colour decide, against the light of the paper that is known round about.
"""

from __future__ import annotations

import numpy as np

from cozy_burrow.core.capture.photo.dots import Dots
from cozy_burrow.core.capture.photo.masks import (
    Mask,
    Window,
    grown,
    holes_closed,
    opened,
    reached,
    shrunk,
    without_small,
)
from cozy_burrow.core.capture.photo.rasters import Raster, brightest_of

_SEEN, _BARE = 0.6, 0.33  # of the dots due
_ALIKE = 0.0
_UNSURE, _UNSURE_BARE = 0.13, 0.2
_PAPER_MM, _LEAST_PAPER_MM2 = 0.6, 3.0  # narrower or smaller, what looks like dots may be chance
_OTHER_LIGHT = 0.14  # of the paper's: grain and unevenness of paper stay below
_OTHER_TINT = 0.12  # between the most and the least of its colours
_NEAR_MM, _RIM_MM = (1.0, 2.5, 8.0), 0.15
_LIT = 0.06  # of the paper's light: no pale tool is so near to it
_DEEP_MM = 0.5  # dots say where an edge is to about so much
_LEAST_THICKNESS_MM = 0.9
LEAST_HOLE_MM2 = 5.0  # 4 mm across, seen a little from the side
_MOST_SEEN = 0.68  # on all of a thing that is three millimetres wide: the window sees past it


def sure_paper(dots: Dots) -> Mask:
    """Return where so many of the dots are seen that it is paper."""
    cell = dots.cell_mm
    seen = dots.field & (dots.share > _SEEN) & (dots.unsure < _UNSURE) & (dots.alike > _ALIKE)
    return without_small(opened(seen, _PAPER_MM / cell), _LEAST_PAPER_MM2 / cell**2)


def bodies_by_dots(even: Raster, picture: np.ndarray, dots: Dots, on: Mask, known: Mask) -> Mask:
    """Return the things on the field, their holes open.

    even: (rows, columns, 3), the evened light without dots; picture: the same for the eye, 8 bit; on: the page;
    known: where no print hides what lies there.
    """
    import cv2

    cell = dots.cell_mm
    paper = sure_paper(dots)
    bare = opened(dots.field & (dots.share < _BARE) & (dots.unsure < _UNSURE_BARE), 0.4 / cell)
    other = unlike_paper(even, paper, cell)
    # What is too thin to be told by its dots alone is told by its light, where it hangs together with nothing that is
    # told: a shadow hangs together with what casts it.
    core = shrunk(bare, _RIM_MM / cell) & ~grown(paper, _RIM_MM / cell)
    unlike = opened(dots.field & ~paper & other & (dots.share < _SEEN), 0.4 / cell)
    core |= unlike & ~reached(~paper, core) & ~grown(paper, _RIM_MM / cell)
    marks = np.zeros(paper.shape, dtype=np.int32)
    marks[_well_within(paper, cell) | _lit_border(even, dots, on & known)] = 1
    marks[_well_within(core, cell)] = 2
    cv2.watershed(picture, marks)
    body = cv2.medianBlur((marks == 2).astype(np.uint8), 5).astype(bool)
    body = opened(body & on, _LEAST_THICKNESS_MM / 2 / cell)
    openings = holes_closed(body) & ~body
    return body | (openings & ~without_small(openings, LEAST_HOLE_MM2 / cell**2))


def _well_within(mask: Mask, cell_mm: float) -> Mask:
    """Return the parts of a mask away from its rim, and of what is too narrow for that its middle."""
    deep = shrunk(mask, _DEEP_MM / cell_mm)
    return deep | (shrunk(mask, _RIM_MM / cell_mm) & ~grown(deep, 2.5 * _DEEP_MM / cell_mm))


def _lit_border(even: Raster, dots: Dots, seen: Mask) -> Mask:
    """Return where, beyond the dots, the page is as bright and white as it is: paper in full light."""
    import cv2

    soft = cv2.GaussianBlur(even, (0, 0), 0.3 / dots.cell_mm)
    lit = brightest_of(np.abs(soft - 1)) < _LIT
    return shrunk(seen & ~dots.field & np.asarray(lit, dtype=bool), _DEEP_MM / dots.cell_mm)


def is_bare(dots: Dots, part: Window, mask: Mask) -> bool:
    """Whether dots are missing on so much of a body (a mask of a window) that something covers them."""
    there = mask & dots.field[part]
    return bool(there.any()) and float(np.clip(dots.share[part][there], 0, 1).mean()) < _MOST_SEEN


def unlike_paper(even: Raster, paper: Mask, cell_mm: float) -> Mask:
    """Return where light or colour is not that of the paper round about, in whatever shade that lies."""
    import cv2

    soft = cv2.GaussianBlur(even, (0, 0), 0.3 / cell_mm)
    # The light of paper changes slowly: it is carried on in cells of a millimetre.
    rows, columns = paper.shape
    size = (max(1, round(columns * cell_mm)), max(1, round(rows * cell_mm)))
    weight = cv2.resize(paper.astype(np.float32), size, interpolation=cv2.INTER_AREA)
    value = cv2.resize(even * paper[..., None], size, interpolation=cv2.INTER_AREA)
    light = np.ones_like(value)
    lack = np.ones(weight.shape, dtype=bool)
    for near_mm in _NEAR_MM:
        total = cv2.GaussianBlur(weight, (0, 0), near_mm)
        can = lack & (total > 0.08)
        light[can] = cv2.GaussianBlur(value, (0, 0), near_mm)[can] / total[can][..., None]
        lack &= ~can
    light = cv2.resize(light, (columns, rows), interpolation=cv2.INTER_LINEAR)
    ratio = soft / np.maximum(light, 0.02)
    red, green, blue = (ratio[..., k] for k in range(3))
    level = (red + green + blue) / 3
    tint = np.maximum(np.maximum(red, green), blue) - np.minimum(np.minimum(red, green), blue)
    return np.asarray((np.abs(level - 1) > _OTHER_LIGHT) | (tint > _OTHER_TINT * np.maximum(level, 0.2)))
