"""The cutting plan: per sheet, in order, which line is cut how deep, how far, and what is peeled.

A cut is one closed line on a sheet, cut from the sheet's top down to a layer boundary: the blade stands out by
that much. Neighbouring layers of one opening that have the same line are one cut. `route` puts them in order.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

import shapely
from msgspec.structs import replace
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.bench.cut import Cut, SheetCuts
from cozy_burrow.core.bench.cut_line import floats_mm, straight_mm
from cozy_burrow.core.bench.route import routed
from cozy_burrow.core.depth.slits import is_slit
from cozy_burrow.core.foam.layers import Layer
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.ground.ground import Cutout, Ground
from cozy_burrow.core.model.memo import memo

_LEAST_CUT_MM2 = 4.0  # less than this comes away with the pocket beside it
_ALONG_MM = 0.05  # nearer than that a line runs along an opening
_NOTHING = Polygon()
FLOATS_FROM_MM = 0.5  # less is not seen while it is marked
MARKED_ROUND = frozenset({"marker", "knife", "scribe"})  # with the thing itself lying on the foam
_SAME_LINE_MM2 = 0.5  # openings that differ by less than this are cut as one


@memo(rows=16)
def cutting_plan(ground: Ground) -> tuple[SheetCuts, ...]:
    """Return the cuts of every sheet of the insert, top sheet first."""
    plans = []
    for number, sheet in enumerate(ground.insert.sheets, start=1):
        layers = _in_sheet(ground.layers, number)
        open_pockets = [one for one in ground.cutouts if one.kind == "pocket"]
        pockets = [cut for one in open_pockets for cut in _cuts_of(_below(ground, one), (), layers)]
        pulls = [
            cut for one in ground.cutouts if one.kind == "pull" for cut in _cuts_of(*_beside(one, open_pockets), layers)
        ]
        extent = ground.blanks[number - 1].polygon.bounds
        cuts = routed(
            _keyed(number, [*pockets, *pulls]),
            extent,
            floats=_floats(ground),
            under=ground.under,
            own=ground.insert.cut_order,
        )
        plans.append(
            SheetCuts(
                sheet=number,
                layers=len(layers),
                pitch_mm=sheet.pitch_mm,
                cuts=cuts,
                metres=sum(cut.length_mm for cut in cuts) / 1000.0,
            )
        )
    return tuple(plans)


def _keyed(sheet: int, cuts: Sequence[Cut]) -> list[Cut]:
    """Return cuts with what they are called in an order of the fitter's own."""
    seen: Counter[str] = Counter()
    found = []
    for cut in cuts:
        name = f"{sheet}:{cut.name}:{cut.to_layer}"
        seen[name] += 1
        found.append(replace(cut, key=f"{name}:{seen[name]}"))
    return found


def _floats(ground: Ground) -> frozenset[str]:
    """Return the pockets whose things hang over the foam in part where they are marked round by hand."""
    if ground.rules.marking not in MARKED_ROUND:
        return frozenset()
    return frozenset(key for key, pocket in ground.pockets.items() if floats_mm(pocket.item) > FLOATS_FROM_MM)


@memo(rows=64)
def _in_sheet(layers: tuple[Layer, ...], sheet: int) -> tuple[Layer, ...]:
    return tuple(layer for layer in layers if layer.sheet == sheet)


def _below(ground: Ground, pocket: Cutout) -> Cutout:
    """Return what is left to cut of an under-pocket once the pocket above it is out; others as they are."""
    upper = ground.under.get(pocket.name)
    if upper is None:
        return pocket
    above = ground.pockets[upper].layers
    areas = [
        area.difference(above[number].buffer(0.1)) if number < len(above) else area
        for number, area in enumerate(pocket.areas)
    ]
    return Cutout(pocket.kind, pocket.name, pocket.owners, tuple(areas))


def _beside(pull: Cutout, pockets: Sequence[Cutout]) -> tuple[Cutout, tuple[BaseGeometry, ...]]:
    """Return what is left to cut of a pull once the pockets are out, layer by layer, and what is open beside it."""
    areas, beside = [], []
    for number, area in enumerate(pull.areas, start=1):
        there = [one.areas[number - 1] for one in pockets if len(one.areas) >= number]
        meets = tuple(one for one in there if _boxes_meet(one.bounds, area.bounds))
        areas.append(_less(area, meets))
        beside.append(_joined(meets))
    return Cutout("pull", pull.name, pull.owners, tuple(areas)), tuple(beside)


def _boxes_meet(one: tuple[float, ...], other: tuple[float, ...]) -> bool:
    return one[0] <= other[2] and other[0] <= one[2] and one[1] <= other[3] and other[1] <= one[3]


@memo(rows=4096)
def _less(area: BaseGeometry, others: tuple[BaseGeometry, ...]) -> BaseGeometry:
    return area.difference(_joined(others)) if others else area


@memo(rows=4096)
def _joined(areas: tuple[BaseGeometry, ...]) -> BaseGeometry:
    return shapely.union_all(areas) if areas else _NOTHING


def _cuts_of(cutout: Cutout, beside: tuple[BaseGeometry, ...], layers: tuple[Layer, ...]) -> tuple[Cut, ...]:
    """Return the cuts that open one cutout in one sheet, shallow wide ones before deep narrow ones.

    beside: what is open next to it in every layer; where its line runs along that, there is nothing left to cut.
    """
    return _opened(cutout.kind, cutout.name, cutout.owners, cutout.areas, beside, layers)


@memo(rows=2048)
def _opened(
    kind: str,
    name: str,
    owners: frozenset[str],
    areas: tuple[BaseGeometry, ...],
    beside: tuple[BaseGeometry, ...],
    layers: tuple[Layer, ...],
) -> tuple[Cut, ...]:
    """Return the cuts of an opening, known by its areas: in a drag only what moves is worked out anew."""
    cutout = Cutout(kind, name, owners, areas)
    here = [layer for layer in layers if layer.number <= len(cutout.areas)]
    found: list[Cut] = []
    start = 0
    for index, layer in enumerate(here):
        area = cutout.areas[layer.number - 1]
        following = cutout.areas[here[index + 1].number - 1] if index + 1 < len(here) else None
        if following is not None and _same(area, following):
            continue
        for part in polygons_in(area, least_area_mm2=_LEAST_CUT_MM2):
            cut = _cut(cutout, part, here[start], layer, last=layers[-1], sheet_top=layers[0].top_mm)
            air_mm = _in_air_mm(part, beside[layer.number - 1]) if beside else 0.0
            left_mm = max(0.0, cut.length_mm - air_mm)
            found.append(replace(cut, length_mm=left_mm, straight_mm=min(cut.straight_mm, left_mm)))
        start = index + 1
    return tuple(found)


def _in_air_mm(part: Polygon, open_beside: BaseGeometry) -> float:
    """Return how much of a line runs along what is open already."""
    if open_beside.is_empty:
        return 0.0
    return float(part.exterior.intersection(open_beside.buffer(_ALONG_MM)).length)


def _same(first: BaseGeometry, second: BaseGeometry) -> bool:
    return first is second or float(first.symmetric_difference(second).area) < _SAME_LINE_MM2


def _cut(cutout: Cutout, part: Polygon, first: Layer, deepest: Layer, *, last: Layer, sheet_top: float) -> Cut:
    inner = shapely.maximum_inscribed_circle(part, tolerance=1.0)
    turns = 2.0 if is_slit(part) else 1.0
    label = shapely.get_coordinates(inner)[0]
    return Cut(
        number=0,
        sheet=deepest.sheet,
        kind=cutout.kind,
        name=cutout.name,
        owners=tuple(sorted(cutout.owners)),
        from_layer=first.in_sheet,
        to_layer=deepest.in_sheet,
        blade_mm=round(deepest.bottom_mm - sheet_top, 3),
        from_ledge_mm=round(deepest.bottom_mm - first.top_mm, 3),
        length_mm=float(part.exterior.length) / turns,
        straight_mm=straight_mm(part)[0] / turns,
        through=deepest.number == last.number,
        slit=is_slit(part),
        label_mm=(float(label[0]), float(label[1])),
        line=tuple((float(x), float(y)) for x, y in part.exterior.coords[:-1]),
    )


def blade_settings(plan: SheetCuts) -> tuple[tuple[float, int], ...]:
    """Return each blade extension that a sheet needs with the number of its cuts, shortest first."""
    counts: dict[float, int] = {}
    for cut in plan.cuts:
        counts[cut.blade_mm] = counts.get(cut.blade_mm, 0) + 1
    return tuple(sorted(counts.items()))
