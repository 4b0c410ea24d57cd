"""Finding an item among many: by words as one types them, or by its shape, whichever way round it lies.

Both look at what was worked out of each item once, so that a thousand are looked through between two keystrokes.
"""

from __future__ import annotations

import math
import unicodedata
from collections.abc import Sequence

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import affinity
from shapely.geometry import Polygon

from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Item, Outline

_LOOKED_AT = 40  # of the nearest by size are laid over each other
_LEAST_ALIKE = 0.5  # shared area over joint area: less is another thing


def plain(text: str) -> str:
    """Return a text as it is looked for: small letters without their accents."""
    apart = unicodedata.normalize("NFKD", text.casefold())
    return "".join(one for one in apart if not unicodedata.combining(one))


@memo(rows=4096)
def _words(item: Item) -> tuple[str, tuple[str, ...]]:
    """Return an item's name, and all words that it is found by."""
    said = plain(f"{item.name} {item.group} {item.material} {item.notes}")
    return plain(item.name), tuple("".join(one if one.isalnum() else " " for one in said).split())


def by_words(items: Sequence[Item], text: str) -> tuple[int, ...]:
    """Return which items a text finds, best first: every word of it begins a word of theirs, or lies within one.

    Names that begin with it come first, then words of the name, then all else; an empty text finds all, by name.
    """
    asked = plain(text).split()
    found = []
    for number, item in enumerate(items):
        name, words = _words(item)
        at_start = all(any(word.startswith(one) for word in words) for one in asked)
        if at_start or all(any(one in word for word in words) for one in asked):
            in_name = all(one in name for one in asked)
            begins = bool(asked) and name.startswith(asked[0])
            found.append((not begins, not in_name, not at_start, name, number))
    return tuple(one[-1] for one in sorted(found))


@memo(rows=4096)
def _size(item: Item) -> tuple[float, float, float, float]:
    """Return length, width, area and thickness, whichever way round it lies."""
    shape = polygon_of(item.outline)
    left, top, right, low = affinity.rotate(shape, -long_axis_deg(shape), origin=(0, 0)).bounds
    sides = right - left, low - top
    return max(sides), min(sides), float(shape.area), item.thickness_mm


def by_shape(items: Sequence[Item], like: Item, *, most: int = 12) -> tuple[tuple[int, float], ...]:
    """Return the items of a shape like another's, and how alike they are, 0 to 1, the likest first.

    Alike is how much of both outlines is shared by both, laid over each other the best of four ways: end for end, and
    turned over, since a tool may have been traced from its other side.
    """
    if not items:
        return ()
    sizes = np.array([_size(one) for one in items])
    wanted = np.array(_size(like))
    away = _away(sizes[:, :3], wanted[:3])
    nearest = [int(number) for number in np.argsort(away, kind="stable")[:_LOOKED_AT] if away[number] < 1.0]
    found = [(number, alike(like.outline, items[number].outline)) for number in nearest]
    good = [one for one in found if one[1] >= _LEAST_ALIKE]
    return tuple(sorted(good, key=lambda one: -one[1])[:most])


def by_shapes(items: Sequence[Item], like: Sequence[Item], *, most: int = 12) -> tuple[tuple[int, float, int], ...]:
    """Return the items of a shape like one of several, how alike they are, and like which of them, the likest first."""
    best: dict[int, tuple[float, int]] = {}
    for which, one in enumerate(like):
        for number, share in by_shape(items, one, most=most):
            if share > best.get(number, (0.0, 0))[0]:
                best[number] = (share, which)
    return tuple(sorted(((number, *found) for number, found in best.items()), key=lambda one: -one[1]))


def _away(sizes: NDArray[np.float64], wanted: NDArray[np.float64]) -> NDArray[np.float64]:
    """Return how far sizes are apart, as the largest of their ratios, 0 for the same."""
    ratio = np.abs(np.log(np.maximum(sizes, 0.01) / np.maximum(wanted, 0.01)))
    return np.asarray(ratio.max(axis=1) / math.log(2.0), dtype=np.float64)


@memo(rows=4096)
def alike(one: Outline, other: Outline) -> float:
    """Return how much of two outlines is shared, 0 to 1, whichever way round they lie."""
    fixed, loose = _upright(one), _upright(other)
    both = fixed.area + loose.area
    best = 0.0
    for across, along in ((1.0, 1.0), (-1.0, -1.0), (1.0, -1.0), (-1.0, 1.0)):  # as it is, turned, turned over, both
        moved = affinity.scale(loose, across, along, origin=(0, 0))
        shared = fixed.intersection(moved).area
        best = max(best, shared / max(1e-9, both - shared))
    return best


@memo(rows=256)
def _upright(outline: Outline) -> Polygon:
    """Return an outline along x, its middle at the origin."""
    shape = polygon_of(outline)
    turned = affinity.rotate(shape, -long_axis_deg(shape), origin="centroid")
    moved = affinity.translate(turned, -turned.centroid.x, -turned.centroid.y)
    return moved if shapely.is_valid(moved) else moved.buffer(0)
