"""One front end for all drawings of a sheet: the blank, what is taken out of each layer, and the labels.

Coordinates of the exports: origin at the front left corner of the insert, x to the right, y to the back, in mm.
"""

from __future__ import annotations

import math
import re

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString
from shapely.geometry import Point as Dot
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.container.blank import Blank
from cozy_burrow.core.depth.slits import slits_in
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.records import Point, Record, Ring
from cozy_burrow.core.tongue import tr, trn

SLIT_MM = 0.1  # between the two sides of a slit: less than any blade or beam is wide


class Label(Record, frozen=True, kw_only=True):
    """A text on the sheet, centred at a point."""

    text: str
    at_mm: Point
    height_mm: float


class SheetDrawing(Record, frozen=True, kw_only=True):
    """One sheet in export coordinates. pockets: for each layer of the sheet (1 = top) its rings.

    Outer rings run counter-clockwise, rings of foam islands inside an opening clockwise.
    """

    name: str
    sheet: int
    width_mm: float
    height_mm: float
    blank: Ring
    holes: tuple[Ring, ...]
    slits: tuple[tuple[Point, Point], ...]
    notes: tuple[str, ...]
    pockets: tuple[tuple[Ring, ...], ...]
    labels: tuple[Label, ...]


def to_export(ground: Ground, geometry: BaseGeometry) -> BaseGeometry:
    """Return plan geometry in export coordinates: nothing is mirrored, the plan's y only points the other way."""
    left, _, _, front = ground.extent
    return shapely.transform(geometry, lambda points: points * [1.0, -1.0] + [-left, front])


def rings_of(geometry: BaseGeometry) -> tuple[Ring, ...]:
    """Return the rings of an area, each counter-clockwise if it encloses an opening, clockwise if foam."""
    rings: list[Ring] = []
    for polygon in polygons_in(geometry):
        turned = shapely.orient_polygons(polygon)
        for line in (turned.exterior, *turned.interiors):
            rings.append(_ring(line))
    return tuple(rings)


def _ring(line: BaseGeometry) -> Ring:
    return tuple((round(float(x), 4) + 0.0, round(float(y), 4) + 0.0) for x, y in shapely.get_coordinates(line)[:-1])


def sheet_drawings(ground: Ground, names: dict[str, str], *, stem: str) -> tuple[SheetDrawing, ...]:
    """Return a drawing of every sheet of the insert. names: what is written at each placement."""
    left, back, right, front = ground.extent
    drawings = []
    for number in range(1, len(ground.insert.sheets) + 1):
        cut = ground.blanks[number - 1]
        rings = rings_of(to_export(ground, cut.polygon))
        slits = [shapely.get_coordinates(to_export(ground, LineString(slit))) for slit in cut.slits]
        layers = [layer for layer in ground.layers if layer.sheet == number]
        pockets = tuple(rings_of(to_export(ground, ground.taken_out(layer.number))) for layer in layers)
        reached = [key for key, pocket in ground.pockets.items() if pocket.depth_layers >= layers[0].number]
        labels = tuple(_label(ground, key, names[key], layers[0].number) for key in reached)
        labels += tuple(
            Label(
                text=tr("one slit"),
                at_mm=_point(shapely.get_coordinates(to_export(ground, Dot(slit.at)))[0]),
                height_mm=2.5,
            )
            for key in reached
            for slit in slits_in(ground.pockets[key].layers[layers[0].number - 1])
        )
        drawings.append(
            SheetDrawing(
                name=f"{stem}-sheet-{number}",
                sheet=number,
                width_mm=right - left,
                height_mm=front - back,
                blank=rings[0] if rings else (),
                holes=rings[1:],
                slits=tuple((_point(ends[0]), _point(ends[-1])) for ends in slits),
                notes=blank_notes(cut),
                pockets=pockets,
                labels=labels,
            )
        )
    return tuple(drawings)


def blank_notes(blank: Blank) -> tuple[str, ...]:
    """Return what the outer cut asks for beyond its line."""
    notes = []
    if blank.chamfer_mm > 0.05:
        notes.append(tr("chamfer the lower edge {chamfer:.1f} mm at 45 degrees", chamfer=blank.chamfer_mm))
    if blank.bevel_mm > 0.05:
        notes.append(tr("bevel the edge over its whole thickness, {bevel:.1f} mm in at its foot", bevel=blank.bevel_mm))
    if blank.slits:
        count = len(blank.slits)
        notes.append(
            trn(
                "{count} slit for a thin rib: cut, do not widen",
                "{count} slits for thin ribs: cut, do not widen",
                count,
            )
        )
    return tuple(notes)


def there_and_back(slit: tuple[Point, Point]) -> tuple[Point, ...]:
    """Return a slit as a closed line, a hair wide: what cuts outlines leaves an open line of two points out."""
    (x1, y1), (x2, y2) = slit
    length = math.hypot(x2 - x1, y2 - y1) or 1.0
    dx, dy = -(y2 - y1) / length * SLIT_MM / 2, (x2 - x1) / length * SLIT_MM / 2
    return (x1 + dx, y1 + dy), (x2 + dx, y2 + dy), (x2 - dx, y2 - dy), (x1 - dx, y1 - dy)


def _point(row: NDArray[np.float64]) -> Point:
    return round(float(row[0]), 4) + 0.0, round(float(row[1]), 4) + 0.0


def _label(ground: Ground, key: str, text: str, layer: int) -> Label:
    area = to_export(ground, ground.pockets[key].layers[layer - 1])
    at = polygons_in(area)[0].representative_point()
    return Label(text=text, at_mm=(round(at.x, 3), round(at.y, 3)), height_mm=4.0)


def file_stem(name: str) -> str:
    """Return a name that every file system takes."""
    stem = re.sub(r"[^\w.-]+", "-", name.strip().lower(), flags=re.UNICODE).strip("-._")
    return stem[:60] or "insert"
