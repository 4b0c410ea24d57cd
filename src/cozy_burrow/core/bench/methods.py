"""Ways to cut a line, each declared once: what it needs, what it can't do, how the knife or saw is set.

Which one is taken depends on the line and on what the fitter owns. Whatever handles methods asks the method; words for
the bench stand in `jobs/bench_words`.
"""

from __future__ import annotations

import math
from collections.abc import Callable

import numpy as np
import shapely
from shapely.geometry import Polygon

from cozy_burrow.core.bench.cut import Cut
from cozy_burrow.core.bench.cut_line import saw_for
from cozy_burrow.core.bench.route import is_ruled
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.model.memo import Frozen, memo
from cozy_burrow.core.model.pull_kinds import PullKind
from cozy_burrow.core.model.records import Record
from cozy_burrow.core.tongue import tr

PASS_MM = 12.0  # a blade held by hand goes through so much dense foam at once and stays upright
SAW_DEEP_MM = 40.0  # usual hole saws
TIGHT_MM = 10.0  # of radius: a broad blade drags in tighter bends
_BEND_DEG = 60.0  # so far a line has to turn to be one
_STEP_MM = 1.0


class Tools(Record, frozen=True, kw_only=True):
    """What the fitter owns beside a knife. saws_mm: diameters of hole saws and stencils at hand."""

    rule: bool = True
    narrow_blade: bool = True
    saws_mm: tuple[float, ...] = ()
    warms_saws: bool = False
    hot_pin: bool = False


OWNED = Tools()  # by whoever has said nothing of it
Fits = Callable[[Cut, PullKind | None, Layer, Tools], bool]


class Method(Frozen):
    """One way to cut. name: in files; called: in words.

    fits: whether it can cut a line, of a pocket or pull of some kind, with some tools. is_knife: it goes round in
    passes, and its metres count. is_straight: a rule is laid along straight runs. turns: a machine drives it round.
    """

    __slots__ = ("called", "fits", "is_hot", "is_knife", "is_straight", "name", "turns")

    def __init__(
        self,
        name: str,
        called: str,
        fits: Fits,
        *,
        is_knife: bool = True,
        is_straight: bool = False,
        is_hot: bool = False,
        turns: bool = False,
    ) -> None:
        self.name, self.called, self.fits = name, called, fits
        self.is_knife, self.is_straight, self.is_hot, self.turns = is_knife, is_straight, is_hot, turns


METHODS: dict[str, Method] = {}  # in the order in which they are tried


def method(one: Method) -> Method:
    """Make a method known. Raises ValueError for a name that is taken."""
    if one.name in METHODS:
        raise ValueError(one.name)
    METHODS[one.name] = one
    return one


def method_for(cut: Cut, kind: PullKind | None, deepest: Layer, tools: Tools) -> Method:
    """Return how a line is cut. kind: of pull; None for a pocket; deepest: the layer at whose lower face it ends."""
    return next(one for one in METHODS.values() if one.fits(cut, kind, deepest, tools))


def passes_mm(cut: Cut, one: Method, pitch_mm: float, deepest: Layer) -> tuple[float, ...]:
    """Return how far the blade stands out in each pass over the sheet's top, the last one to the line's depth.

    In whole layers, each pass as few as reach PASS_MM; plain foam has none and is cut through in equal steps.
    """
    if not one.is_knife:
        return (cut.blade_mm,)
    if deepest.plain:
        count = max(1, math.ceil(cut.blade_mm / PASS_MM - 1e-9))
        return tuple(round(cut.blade_mm * (number + 1) / count, 1) for number in range(count))
    step = max(1, math.floor(PASS_MM / pitch_mm + 1e-9)) * pitch_mm
    count = max(1, math.ceil(cut.blade_mm / step - 0.25))  # the lowest layer may be a little thicker
    return (*(round(step * (number + 1), 3) for number in range(count - 1)), cut.blade_mm)


@memo(rows=1024)
def has_tight_bend(line: tuple[tuple[float, float], ...]) -> bool:
    """Whether a closed line turns by _BEND_DEG or more round a radius under TIGHT_MM; sharp corners are none.

    A corner is cut from both sides past its point. A bend turns bit by bit: what the sharpest place of a stretch turns
    is left out.
    """
    ring = Polygon(line).exterior
    count = max(8, int(ring.length / _STEP_MM))
    points = shapely.get_coordinates(shapely.line_interpolate_point(ring, np.arange(count) * ring.length / count))
    way = np.diff(points, axis=0, append=points[:1])
    heading = np.arctan2(way[:, 1], way[:, 0])
    turn = np.abs((np.diff(heading, append=heading[:1]) + np.pi) % (2 * np.pi) - np.pi)
    long = max(2, round(TIGHT_MM * math.radians(_BEND_DEG) / (ring.length / count)))
    if long >= count:
        return True
    around = np.concatenate([turn, turn[: long - 1]])
    windows = np.lib.stride_tricks.sliding_window_view(around, long)
    # The two sharpest steps: a corner falls between two points as often as on one.
    spread = windows.sum(axis=1) - np.sort(windows, axis=1)[:, -2:].sum(axis=1)
    return bool((spread >= math.radians(_BEND_DEG) * (long - 2) / long - 1e-9).any())


def _is_cubed(cut: Cut, kind: PullKind | None, deepest: Layer, tools: Tools) -> bool:
    return deepest.cell_mm > 0


def _is_melted(cut: Cut, kind: PullKind | None, deepest: Layer, tools: Tools) -> bool:
    return tools.hot_pin and kind is not None and kind.melted


def _is_sawn(cut: Cut, kind: PullKind | None, deepest: Layer, tools: Tools) -> bool:
    if not tools.saws_mm or cut.blade_mm > SAW_DEEP_MM:
        return False
    return saw_for(Polygon(cut.line), tools.saws_mm) is not None


def _is_sawn_warm(cut: Cut, kind: PullKind | None, deepest: Layer, tools: Tools) -> bool:
    return tools.warms_saws and _is_sawn(cut, kind, deepest, tools)


def _is_cut_through(cut: Cut, kind: PullKind | None, deepest: Layer, tools: Tools) -> bool:
    return deepest.plain


def _is_slit(cut: Cut, kind: PullKind | None, deepest: Layer, tools: Tools) -> bool:
    return cut.slit


def _has_runs(cut: Cut, kind: PullKind | None, deepest: Layer, tools: Tools) -> bool:
    return tools.rule and is_ruled(cut)


def _has_bends(cut: Cut, kind: PullKind | None, deepest: Layer, tools: Tools) -> bool:
    return tools.narrow_blade and has_tight_bend(cut.line)


def _always(cut: Cut, kind: PullKind | None, deepest: Layer, tools: Tools) -> bool:
    return True


PLUCKED = method(Method("pluck", tr("cubes plucked out"), _is_cubed, is_knife=False))
MELTED = method(Method("hot-pin", tr("hot pin"), _is_melted, is_knife=False, is_hot=True))
WARM_SAW = method(Method("warm-saw", tr("warmed hole saw"), _is_sawn_warm, is_knife=False, is_hot=True, turns=True))
SAW = method(Method("saw", tr("hole saw or stencil"), _is_sawn, is_knife=False, turns=True))
THROUGH = method(Method("through", tr("cut right through, plug sliced"), _is_cut_through, is_straight=True))
SLIT = method(Method("slit", tr("one slit"), _is_slit))
RULED = method(Method("rule", tr("knife along a rule"), _has_runs, is_straight=True))
NARROW = method(Method("narrow", tr("narrow blade for bends"), _has_bends))
FREEHAND = method(Method("knife", tr("knife in passes"), _always))
