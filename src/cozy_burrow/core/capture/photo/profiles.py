"""How light and colour change across a contour: profiles (points, offsets, colours), paper beyond, the thing within.

Slopes are looked at fine, and with what changes over more than the lens blurs taken off; what the print on the paper
explains is no edge, and what has a colour of its own is told by that too.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

SAMPLE_MM = 0.07
_SHADING_MM = 0.35  # what changes over so much more than the lens blurs is a face that turns away, not an edge
_PAPER_NEAR_MM, _PRINT_TAKES = 1.0, 1.3  # from a printed edge; of its slope: printers and lenses are not all alike
_COLOURED, _DIMMEST = 0.5, 0.06  # between the most and the least of its colours; darker, noise is coloured too


def slopes(profiles: NDArray[np.float64], blur_mm: float) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return how steeply each colour changes across profiles (n, k, colours), a millimetre, and how coarsely.

    Neighbours help each other.
    """
    from scipy.ndimage import gaussian_filter1d

    along = gaussian_filter1d(profiles, 1.2, axis=0, mode="wrap")
    fine_mm = smoothing_mm(blur_mm)
    fine, coarse = (
        np.asarray(gaussian_filter1d(along, sigma / SAMPLE_MM, axis=1, order=1, mode="nearest"), dtype=float)
        for sigma in (fine_mm, math.hypot(fine_mm, _SHADING_MM))
    )
    return fine / SAMPLE_MM, coarse / SAMPLE_MM


def smoothing_mm(blur_mm: float) -> float:
    """Return the sigma over which a slope is looked at: a little less than the lens blurs."""
    return max(SAMPLE_MM, 0.6 * blur_mm)


def clear_of(slope: NDArray[np.float64], coarse: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return how clear an edge is at each offset of each station (n, k): 1 for most of this contour, 1.6 at most."""
    sharp = np.sqrt((np.maximum(np.abs(slope) - np.abs(coarse), 0) ** 2).mean(axis=-1))
    clear = np.maximum(np.percentile(sharp.max(axis=1), 60) * 0.6, 1e-5)
    return np.asarray(np.minimum(sharp / clear, 1.6))


def hue_of(profiles: NDArray[np.float64], inner: bool) -> NDArray[np.float64] | None:
    """Return the colours of profiles without brightness, against the paper's; None for what is as grey as that.

    inner: the paper lies within the contour, at the first offsets.
    """
    count = profiles.shape[1] // 4
    outside, inside = (
        (profiles[:, -count:], profiles[:, :count]) if not inner else (profiles[:, :count], profiles[:, -count:])
    )
    paper = np.maximum(np.median(outside, axis=(0, 1)), 1e-3)
    ratio = profiles / paper
    level = np.maximum(ratio.mean(axis=-1, keepdims=True), _DIMMEST)
    hue = ratio / level
    own = np.median(hue[:, :count] if not inner else hue[:, -count:], axis=(0, 1))
    dark = float(np.median((inside / paper).mean(axis=-1))) < _DIMMEST
    return None if dark or float(np.ptp(own)) < _COLOURED else np.asarray(hue)


def not_printed(
    slope: NDArray[np.float64], profiles: NDArray[np.float64], white: NDArray[np.float64], blur_mm: float
) -> NDArray[np.float64]:
    """Return slopes without what the edges of marks and scales explain, in the light of the paper beside them.

    white: how white the print is, (n, k).
    """
    from scipy.ndimage import maximum_filter1d

    light = maximum_filter1d(profiles, 2 * round(_PAPER_NEAR_MM / SAMPLE_MM) + 1, axis=1, mode="nearest")
    due = slopes(white[..., None], blur_mm)[0] * light
    less = np.sign(slope) * np.maximum(np.abs(slope) - _PRINT_TAKES * np.abs(due), 0.0)
    return np.asarray(np.where(slope * due > 0, less, slope))
