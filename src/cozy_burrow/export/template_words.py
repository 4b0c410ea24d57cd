"""What is written on a template: in what it names where there is room, else beside it; never over a line.

A line with letters on it can't be followed by a blade. So words give way: they break, stand upright, get smaller, go
out onto the foam with a thin line to what they name, and at last only the number is left, which the bench plan tells.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry import LineString, MultiPolygon, Polygon, box
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.bench.cut import Cut
from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.model.records import Point, Record
from cozy_burrow.export.breaking import LEADING, Form, all_forms, level_forms, numbers
from cozy_burrow.export.free_room import Room
from cozy_burrow.export.lettering import letter

_DROP = 0.78  # of a line's height lies over its foot
_CLEAR_MM = 0.6  # of letters to any line
_APART_MM = 1.0  # of words to other words
_BESIDE_MM = 25.0  # as far from what they name as words may stand
_NUMBER_BESIDE_MM = 60.0
_INTO_MM = 1.5  # so deep in its area a line from words beside it ends
_TOUCH_MM = 1e-6  # what is shorter is a point where two things touch
_GREY = (0.5, 0.5, 0.5)


class Written(Record, frozen=True, kw_only=True):
    """A text where it stands, by its middle, in export coordinates; to: what it names, where it stands beside it."""

    number: int
    form: Form
    at_mm: Point
    to: tuple[Point, Point] | None = None

    @property
    def box(self) -> Polygon:
        """The room that it takes."""
        wide, high = self.form.size_mm
        x, y = self.at_mm
        return box(x - wide / 2, y - high / 2, x + wide / 2, y + high / 2)


def written(
    cuts: Sequence[Cut],
    texts: dict[int, str],
    *,
    size_mm: Point,
    blank: BaseGeometry,
    lines: Sequence[BaseGeometry],
    joints: Sequence[BaseGeometry],
) -> tuple[Written, ...]:
    """Return where the texts of cuts stand, all in export coordinates.

    texts: by number, a head and lines below it. size_mm: of the sheet; blank: its foam. lines: all that is drawn.
    joints: edges of pages and marks on them; nothing is written over them that would have to be taped to be read.
    """
    sheet = _Sheet(size_mm, cuts, blank)
    sheet.room.take_lines([*lines, *joints], _CLEAR_MM)
    told = sorted((cut for cut in cuts if cut.number in texts), key=lambda cut: sheet.areas[cut.number].area)
    for cut in told:
        text = texts[cut.number]
        sheet.take(sheet.in_its_area(cut, numbers(cut.number) if text == str(cut.number) else all_forms(text)))
    for cut in sheet.left_of(told):
        sheet.take(sheet.beside(cut, level_forms(texts[cut.number]), _BESIDE_MM))
    for cut in sheet.left_of(told):
        sheet.take(sheet.in_its_area(cut, numbers(cut.number)))
    for across in (False, True):
        for cut in sheet.left_of(told):
            sheet.take(sheet.beside(cut, numbers(cut.number), _NUMBER_BESIDE_MM, across=across))
    for cut in sheet.left_of(told):
        sheet.take(Written(number=cut.number, form=[*numbers(cut.number)][-1], at_mm=cut.label_mm))
    return tuple(sheet.found[number] for number in sorted(sheet.found))


class _Sheet:
    """A sheet while it is written on."""

    def __init__(self, size_mm: Point, cuts: Sequence[Cut], blank: BaseGeometry) -> None:
        self.room = Room(*size_mm)
        self.areas = {cut.number: _area(cut) for cut in cuts}
        openings = shapely.union_all(list(self.areas.values()))
        self._shut = self.room.inside(openings) | (1 - self.room.inside(blank))
        self.found: dict[int, Written] = {}

    def left_of(self, cuts: Sequence[Cut]) -> list[Cut]:
        """Return the cuts that are not told yet."""
        return [cut for cut in cuts if cut.number not in self.found]

    def take(self, one: Written | None) -> None:
        """Write it down, if there is one."""
        if one is None:
            return
        left, front, right, back = one.box.buffer(_APART_MM).bounds
        self.room.take_box((left, front), (right, back))
        if one.to is not None:
            self.room.take_lines([LineString(one.to)], _CLEAR_MM)
        self.found[one.number] = one

    def in_its_area(self, cut: Cut, forms: Iterable[Form]) -> Written | None:
        """Write into what comes out: where nothing deeper comes out of it, if that can be."""
        area = self.areas[cut.number]
        smaller = [other for other in self.areas.values() if other.area < area.area and other.intersects(area)]
        parts = [
            self.room.part(self.room.inside(one))
            for one in (area.difference(shapely.union_all(smaller)), area)
            if not one.is_empty
        ]
        left, front, right, back = area.bounds
        if right - left > back - front:  # words that stand upright in what lies across are the last thing
            forms = sorted(forms, key=lambda form: form.upright)
        for form in forms:
            for part in parts:
                at = part.within(form.size_mm, cut.label_mm)
                if at is not None:
                    return Written(number=cut.number, form=form, at_mm=at)
        return None

    def beside(self, cut: Cut, forms: Iterable[Form], most_mm: float, *, across: bool = False) -> Written | None:
        """Write onto the foam beside it, with a line to it. across: the line may cross other openings."""
        area, forms = self.areas[cut.number], list(forms)
        part = self.room.part(self.room.inside(area), most_mm + max(max(form.size_mm) for form in forms))
        deep = area.buffer(-_INTO_MM)
        foreign: list[BaseGeometry] = [one.box for one in self.found.values()]
        foreign += [LineString(one.to) for one in self.found.values() if one.to is not None]
        if not across:
            foreign += [
                other for number, other in self.areas.items() if number != cut.number and not other.contains(area)
            ]
        for form in forms:
            at = part.beside(form.size_mm, self._shut, cut.label_mm, most_mm)
            half = np.array(form.size_mm) / 2
            boxes: Any = shapely.box(*(at - half).T, *(at + half).T)
            leads: Any = shapely.shortest_line(boxes, area if deep.is_empty else deep)
            for index in np.flatnonzero(~_cross(leads, foreign, area)):
                (x1, y1), (x2, y2) = shapely.get_coordinates(leads[index]).tolist()
                middle = float(at[index, 0]), float(at[index, 1])
                return Written(number=cut.number, form=form, at_mm=middle, to=((x1, y1), (x2, y2)))
        return None


def _area(cut: Cut) -> Polygon:
    """Return what lies inside a cut; of one that has no width, a little round it."""
    area = Polygon(cut.line).buffer(0)
    return LineString(cut.line).buffer(_CLEAR_MM) if area.is_empty else area


def _cross(leads: NDArray[np.object_], foreign: list[BaseGeometry], area: Polygon) -> NDArray[np.bool_]:
    """Return for each line whether it meets one of others, but for where that lies in its own area."""
    found = np.zeros(len(leads), dtype=bool)
    if len(leads) and foreign:
        line, other = shapely.STRtree(foreign).query(leads, predicate="intersects")
        met = shapely.intersection(leads[line], np.array(foreign, dtype=object)[other])
        found[line[shapely.length(shapely.difference(met, area.buffer(0.01))) > _TOUCH_MM]] = True
    return found


def write(page: Any, one: Written) -> None:
    """Write a text on a page of the PDF writer that is scaled to millimetres."""
    page.saveState()
    page.setDash()
    if one.to is not None:
        page.saveState()
        page.setLineWidth(0.1)
        page.setStrokeColorRGB(*_GREY)
        page.setFillColorRGB(*_GREY)
        page.line(*one.to[0], *one.to[1])
        page.circle(*one.to[1], 0.4, stroke=0, fill=1)
        page.restoreState()
    page.translate(*one.at_mm)
    if one.form.upright:
        page.rotate(90)
    foot = sum(size * LEADING for _, _, size in one.form.lines) / 2
    for text, font, size in one.form.lines:
        letter(page, 0.0, foot - size * _DROP, text, font=font, size=size, align="centre")
        foot -= size * LEADING
    page.restoreState()


def joints_of(tile_mm: Point, size_mm: Point, marks: Sequence[Point], mark_mm: float) -> list[BaseGeometry]:
    """Return the edges of tiles over a sheet, from its back left corner, and the marks on them, as crosses."""
    (wide, high), (width, height) = tile_mm, size_mm
    found: list[BaseGeometry] = []
    for column in range(1, math.ceil(width / wide)):
        found.append(LineString([(column * wide, 0.0), (column * wide, height)]))
    for row in range(1, math.ceil(height / high)):
        found.append(LineString([(0.0, height - row * high), (width, height - row * high)]))
    for x, y in marks:
        found.append(LineString([(x - mark_mm, y), (x + mark_mm, y)]))
        found.append(LineString([(x, y - mark_mm), (x, y + mark_mm)]))
    return found


def blank_of(rings: Sequence[tuple[Point, ...]]) -> BaseGeometry:
    """Return the foam of a sheet: its rim less its holes."""
    if not rings or not rings[0]:
        return MultiPolygon()
    holes = shapely.union_all([Polygon(hole).buffer(0) for hole in rings[1:] if len(hole) > 2])
    rim = Polygon(rings[0]).buffer(0)
    return shapely.union_all(polygons_in(rim.difference(holes)))
