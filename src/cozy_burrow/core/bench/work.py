"""What is done at each sheet, line by line: method, passes, what to look out for there, and all of it in figures."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Literal

import shapely
from shapely.geometry import Polygon

from cozy_burrow.core.bench.cut import Cut, SheetCuts
from cozy_burrow.core.bench.cuts import cutting_plan
from cozy_burrow.core.bench.forecast import SheetWork
from cozy_burrow.core.bench.methods import Method, Tools, method_for, passes_mm
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.ground.ground import Cutout, Ground
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import Record

Care = Literal["THROUGH", "ONE_LAYER_LEFT", "BASE_STOPS", "THIN_WALL", "FROM_LEDGE", "HOT", "TURNS", "MARK_SECOND"]
_TOUCHES_MM = 0.01
THIN_WALL_MM = 8.0  # of foam beside a line: it gives under the hand


class BenchCut(Record, frozen=True, kw_only=True):
    """One line with how it is cut. passes_mm: how far the blade stands out, pass by pass.

    work: its share of the work at its sheet. care: what to look out for. wall_mm: to the nearest other opening at its
    depth; None: there is none near.
    """

    cut: Cut
    method: str
    passes_mm: tuple[float, ...]
    work: SheetWork
    care: tuple[Care, ...] = ()
    wall_mm: float | None = None


class SheetBench(Record, frozen=True, kw_only=True):
    """All lines of one sheet in order, and what is done at it."""

    sheet: int
    cuts: tuple[BenchCut, ...]
    work: SheetWork


@memo(rows=16)
def bench_work(ground: Ground, tools: Tools) -> tuple[SheetBench, ...]:
    """Return the work at every sheet of an insert, the top one first."""
    return tuple(_sheet_work(ground, plan, tools) for plan in cutting_plan(ground))


def _sheet_work(ground: Ground, plan: SheetCuts, tools: Tools) -> SheetBench:
    layers = [layer for layer in ground.layers if layer.sheet == plan.sheet]
    kinds = {pull.pull.id: kind_of_pull(pull.pull) for pull in ground.pulls}
    beside = {layer.in_sheet: _Beside(ground, layer) for layer in layers}
    lines = Counter((cut.kind, cut.name) for cut in plan.cuts)
    found: list[BenchCut] = []
    for cut in plan.cuts:
        deepest = layers[cut.to_layer - 1]
        way = method_for(cut, kinds.get(cut.name), deepest, tools)
        passes = passes_mm(cut, way, plan.pitch_mm, deepest)
        wall = beside[cut.to_layer].wall_mm(cut)
        is_set = way.is_knife and not (found and found[-1].passes_mm == passes)
        found.append(
            BenchCut(
                cut=cut,
                method=way.name,
                passes_mm=passes,
                work=_share(cut, way, len(passes), 1.0 / lines[cut.kind, cut.name], is_set),
                care=_care(cut, way, layers, wall),
                wall_mm=wall,
            )
        )
    return SheetBench(sheet=plan.sheet, cuts=tuple(found), work=_sum([one.work for one in found]))


def _share(cut: Cut, way: Method, passes: int, of_opening: float, is_set: bool) -> SheetWork:
    """Return what a line adds to the work at its sheet. is_set: the blade stood out otherwise before it."""
    knife_m = passes / 1000.0 if way.is_knife else 0.0
    straight_mm = min(cut.straight_mm, cut.length_mm) if way.is_straight else 0.0
    return SheetWork(
        metres_straight=straight_mm * knife_m,
        metres_curved=(cut.length_mm - straight_mm) * knife_m,
        pockets=0.0 if cut.kind == "pull" else of_opening,
        layers_cm2=Polygon(cut.line).area / 100.0 * (cut.to_layer - cut.from_layer + 1),
        pulls=of_opening if cut.kind == "pull" else 0.0,
        settings=float(passes) if is_set else 0.0,
    )


def _sum(works: Sequence[SheetWork]) -> SheetWork:
    names = SheetWork.__struct_fields__
    return SheetWork(**{name: float(sum(getattr(one, name) for one in works)) for name in names})


class _Beside:
    """All openings of one layer, found by where they are."""

    def __init__(self, ground: Ground, layer: Layer) -> None:
        self._there: list[Cutout] = [one for one in ground.cutouts if len(one.areas) >= layer.number]
        self._areas = [one.areas[layer.number - 1] for one in self._there]
        self._tree = shapely.STRtree(self._areas)

    def wall_mm(self, cut: Cut) -> float | None:
        """Return how thin the foam is up to the nearest opening that a line does not run along; None: thick."""
        line = Polygon(cut.line)
        near = self._tree.query(line, predicate="dwithin", distance=THIN_WALL_MM)
        walls = [
            float(line.distance(self._areas[n]))
            for n in near.tolist()
            if self._there[n].name != cut.name and not self._there[n].owners & set(cut.owners)
        ]
        return min((wall for wall in walls if wall > _TOUCHES_MM), default=None)


def _care(cut: Cut, way: Method, layers: list[Layer], wall_mm: float | None) -> tuple[Care, ...]:
    found: list[Care] = []
    below = layers[cut.to_layer] if cut.to_layer < len(layers) else None
    if cut.through:
        found.append("THROUGH")
    elif below is not None and below.contrast and not layers[cut.to_layer - 1].contrast:
        found.append("BASE_STOPS")
    elif cut.to_layer == len(layers) - 1:
        found.append("ONE_LAYER_LEFT")
    if cut.from_layer > 1:
        found.append("FROM_LEDGE")
    if wall_mm is not None:
        found.append("THIN_WALL")
    if way.is_hot:
        found.append("HOT")
    if way.turns:
        found.append("TURNS")
    if "MARK_NOW" in cut.why:
        found.append("MARK_SECOND")
    return tuple(found)
