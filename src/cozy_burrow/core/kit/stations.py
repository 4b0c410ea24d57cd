"""Calliper stations: distance along the axis with a diameter, or a width and thickness; outline and profile together.

`0:32 95:32 95:6 210:6` is a screwdriver: 32 round for 95 mm, then 6 round to 210. Straight between stations,
a repeated distance is a step. A diameter makes a round section, a width and thickness a flat one, centred on
the axis unless `@U` gives the height of the underside above it.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from itertools import pairwise

import shapely
from shapely.geometry import Polygon

from cozy_burrow.core.errors import UnusableInput, quoted
from cozy_burrow.core.geometry.rings import checked_outline, outline_of, polygons_in, shifted
from cozy_burrow.core.kit.shapes import checked_size
from cozy_burrow.core.model.records import Item, Provenance, Record, Zone
from cozy_burrow.core.tolerances import SAME_POINT_MM
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import BareUnit, parse_length

MOST_STATIONS = 500
_WRITE = tr("write stations such as 0:32 95:32 95:6 210:6 or 0:60x18 14:24x2")


class Station(Record, frozen=True, kw_only=True):
    """One reading of the calliper. thickness None: a diameter. under None: centred on the axis."""

    at_mm: float
    width_mm: float
    thickness_mm: float | None = None
    under_mm: float | None = None

    @property
    def low_mm(self) -> float:
        """Height of the underside about the axis."""
        return self.under_mm if self.under_mm is not None else -self.high_of_centred

    @property
    def high_of_centred(self) -> float:
        """Half of what the calliper read from below to above."""
        return (self.width_mm if self.thickness_mm is None else self.thickness_mm) / 2

    @property
    def top_mm(self) -> float:
        """Height of the top about the axis."""
        return self.low_mm + 2 * self.high_of_centred

    @property
    def centre_mm(self) -> float:
        """Height of the middle about the axis."""
        return self.low_mm + self.high_of_centred


def parse_stations(text: str, *, unit: BareUnit = "mm", where: str = "stations") -> tuple[Station, ...]:
    """Return the stations in the order written. Raises UnusableInput that names the one that is wrong."""
    words = text.replace(";", " ").split()
    if not 2 <= len(words) <= MOST_STATIONS:
        raise UnusableInput(
            tr("{count} stations make no outline", count=len(words)),
            where=where,
            remedy=tr("give 2 to {most_stations} of them; {write}", most_stations=MOST_STATIONS, write=_WRITE),
        )
    return tuple(_station(word, unit=unit, where=f"{where}, {quoted(word)}") for word in words)


def _station(word: str, *, unit: BareUnit, where: str) -> Station:
    shape = re.fullmatch(r"([^:@]+):([^:@x×]+)(?:[x×]([^:@x×]+))?(?:@([^:@]+))?", word)
    if not shape:
        raise UnusableInput(tr("this is no station"), where=where, remedy=_WRITE)
    at, width, thickness, under = shape.groups()
    return Station(
        at_mm=parse_length(at, unit=unit, where=where),
        width_mm=checked_size(parse_length(width, unit=unit, where=where), where=where),
        thickness_mm=checked_size(parse_length(thickness, unit=unit, where=where), where=where) if thickness else None,
        under_mm=parse_length(under, unit=unit, where=where) if under else None,
    )


def station_item(item_id: str, name: str, stations: Sequence[Station]) -> Item:
    """Return the item that stations describe, its axis along x and its datum at the axis.

    Neighbouring stations span one zone each; spans that go on alike are one zone.
    Raises UnusableInput where the distances run backwards or span nothing.
    """
    for before, after in pairwise(stations):
        if after.at_mm < before.at_mm - SAME_POINT_MM:
            raise UnusableInput(
                tr("the station at {at:g} mm comes after the one at {at_2:g} mm", at=after.at_mm, at_2=before.at_mm),
                where=name,
                remedy=tr("give the distances in rising order"),
            )
    spans = [(before, after) for before, after in pairwise(stations) if after.at_mm - before.at_mm > SAME_POINT_MM]
    if not spans:
        raise UnusableInput(tr("all stations lie at one distance"), where=name, remedy=_WRITE)
    shapes = [_trapezium(before, after) for before, after in spans]
    united = polygons_in(shapely.union_all(shapes, grid_size=1e-4))
    outline = checked_outline(united[0], where=name)
    shift = -(spans[0][0].at_mm + spans[-1][1].at_mm) / 2
    zones: list[Zone] = []
    for group in _alike(spans):
        zones.append(_zone(group, name=_zone_name(len(zones)), shift=shift))
    return Item(
        id=item_id,
        name=name,
        outline=shifted(outline, dx_mm=shift, dy_mm=0.0),
        zones=tuple(zones),
        provenance=Provenance(way="stations", source=" ".join(_written(one) for one in stations), uncertainty_mm=0.1),
    )


def _zone_name(index: int) -> str:
    return tr("part {index}", index=index + 1)


def _written(station: Station) -> str:
    text = f"{station.at_mm:g}:{station.width_mm:g}"
    if station.thickness_mm is not None:
        text += f"x{station.thickness_mm:g}"
    return text if station.under_mm is None else f"{text}@{station.under_mm:g}"


def _trapezium(before: Station, after: Station) -> Polygon:
    first, second = before.width_mm / 2, after.width_mm / 2
    return Polygon([(before.at_mm, -first), (after.at_mm, -second), (after.at_mm, second), (before.at_mm, first)])


Span = tuple[Station, Station]


def _alike(spans: Sequence[Span]) -> list[list[Span]]:
    """Join neighbouring spans that one zone can say: round ones, or flat ones of one underside and top."""
    groups: list[list[Span]] = []
    for span in spans:
        if groups and _goes_on(groups[-1][-1], span):
            groups[-1].append(span)
        else:
            groups.append([span])
    return groups


def _is_round(span: Span) -> bool:
    """Whether the span is a body of revolution: two diameters about one centre line."""
    first, second = span
    return first.thickness_mm is None and second.thickness_mm is None and abs(first.centre_mm - second.centre_mm) < 1e-9


def _is_level(span: Span) -> bool:
    first, second = span
    return abs(first.low_mm - second.low_mm) < 1e-9 and abs(first.top_mm - second.top_mm) < 1e-9


def _goes_on(last: Span, span: Span) -> bool:
    if last[1] is not span[0] and last[1] != span[0]:
        return False  # a step in the calliper's readings is a step in the pocket
    if _is_round(last) and _is_round(span):
        return abs(last[0].centre_mm - span[0].centre_mm) < 1e-9
    return not (_is_round(last) or _is_round(span)) and _is_level(last) and _is_level(span)


def _zone(group: Sequence[Span], *, name: str, shift: float) -> Zone:
    first, last = group[0][0], group[-1][1]
    shape = polygons_in(shapely.union_all([_trapezium(*span) for span in group], grid_size=1e-4))[0]
    region = shifted(outline_of(shape), dx_mm=shift, dy_mm=0.0)
    axis = ((first.at_mm + shift, 0.0), (last.at_mm + shift, 0.0))
    if all(_is_round(span) for span in group):
        radius = max(one.width_mm for span in group for one in span) / 2
        centre = first.centre_mm
        return Zone(
            name=name,
            region=region,
            section="round",
            under_mm=centre - radius,
            top_mm=centre + radius,
            axis=axis,
        )
    if all(_is_level(span) for span in group):
        return Zone(name=name, region=region, section="flat", under_mm=first.low_mm, top_mm=first.top_mm)
    return Zone(
        name=name,
        region=region,
        section="tapered",
        under_mm=first.low_mm,
        top_mm=first.top_mm,
        under_end_mm=last.low_mm,
        top_end_mm=last.top_mm,
        axis=axis,
    )
