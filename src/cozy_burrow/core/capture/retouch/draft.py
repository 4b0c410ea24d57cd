"""Things on the retouch bench: traced, not yet in the kit. They lie in mat millimetres over their photo.

Draft   one thing: an item in the making, what the photo shows of it, and the height of its edge
Table   all drafts of a photo, and which is worked on; a change makes a new table
"""

from __future__ import annotations

import math
from itertools import pairwise

import shapely
from msgspec.structs import replace
from shapely.geometry import Polygon

from cozy_burrow.core.capture.photo.sides import Sides, at_height
from cozy_burrow.core.capture.photo.trace import PhotoTrace, outline_of_seen
from cozy_burrow.core.capture.retouch import shaping
from cozy_burrow.core.capture.retouch.side import zones_from_side
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import centre_shift, checked_outline, outline_of, polygon_of, polygons_in, shifted
from cozy_burrow.core.kit.shapes import checked_size
from cozy_burrow.core.kit.zones import set_zone, split_zones
from cozy_burrow.core.model.records import Item, Outline, Point, Provenance, Record, Section, Way, Zone
from cozy_burrow.core.tongue import tr

USUAL_THICKNESS_MM = 10.0


class Draft(Record, frozen=True, kw_only=True):
    """One thing. item: outline and zones in mat millimetres; seen: the number of the thing in the photo, if it came so.

    thickness_mm, section: what the height of the edge follows from; retouched: whether a hand has been at the outline.
    scales: by which factors, about which points, it was made larger than the photo shows it. measured_mm: the height of
    its edge where several photos told it, and the standard deviation of that. walls_hidden: its walls look like the
    paper (white on white), so that the photo shows its upper edge all round.
    """

    item: Item
    seen: int | None = None
    thickness_mm: float = USUAL_THICKNESS_MM
    section: Section = "flat"
    retouched: bool = False
    scales: tuple[tuple[float, Point], ...] = ()
    measured_mm: float | None = None
    measured_sigma_mm: float | None = None
    walls_hidden: bool = False

    @property
    def bounds_mm(self) -> tuple[float, float, float, float]:
        """Left, top, right and bottom of the outline."""
        left, top, right, bottom = polygon_of(self.item.outline).bounds
        return left, top, right, bottom

    @property
    def across_mm(self) -> float:
        """Width across the long axis: how high the thing stands when it lies on its side."""
        corners = shapely.get_coordinates(shapely.minimum_rotated_rectangle(polygon_of(self.item.outline)))
        return min(math.dist(first, second) for first, second in pairwise(corners[:3]))

    @property
    def edge_mm(self) -> float:
        """Height above the paper of the edge that the camera saw."""
        return self.thickness_mm / 2 if self.section == "round" else self.thickness_mm

    @property
    def sides(self) -> Sides:
        """Whether walls are seen to stand upright below that edge."""
        return "round" if self.section == "round" or self.walls_hidden else "straight"


class Table(Record, frozen=True, kw_only=True):
    """The drafts of one photo, and the one that is worked on."""

    drafts: tuple[Draft, ...]
    chosen: int = 0

    @property
    def draft(self) -> Draft:
        """The draft that is worked on."""
        return self.drafts[self.chosen]

    def with_draft(self, draft: Draft) -> Table:
        """Return the table with another state of the chosen draft."""
        return replace(self, drafts=(*self.drafts[: self.chosen], draft, *self.drafts[self.chosen + 1 :]))


def table_of(trace: PhotoTrace, *, source: str, thickness_mm: float = USUAL_THICKNESS_MM) -> Table:
    """Return a table with one draft a thing that a photo shows, all taken as equally thick for a start."""
    drafts: list[Draft] = []
    for number in range(len(trace.things)):
        draft = _traced(trace, number, source=source, thickness_mm=thickness_mm, section="flat")
        if draft is not None:
            drafts.append(replace(draft, item=replace(draft.item, name=tr("item {count}", count=len(drafts) + 1))))
    if not drafts:
        why = f": {trace.left_out[0]}" if trace.left_out else ""
        raise UnusableInput(
            tr("no item lies on it{why}", why=why),
            where=source,
            remedy=tr("lay items on the white field, apart from each other"),
        )
    return Table(drafts=tuple(drafts))


def plain_draft(outline: Outline, *, name: str, way: Way, source: str, sure_mm: float) -> Draft:
    """Return a draft of an outline that came without a camera: a scan, a traced sheet."""
    return Draft(item=_item(outline, name, way, source, sure_mm, USUAL_THICKNESS_MM, "flat"))


def _traced(
    trace: PhotoTrace,
    number: int,
    *,
    source: str,
    thickness_mm: float,
    section: Section,
    walls_hidden: bool = False,
    name: str = "thing",
) -> Draft | None:
    made = Draft(
        item=_item(outline_of(trace.things[number].shape), name, "photo", source, 0.1, thickness_mm, section),
        seen=number,
        thickness_mm=thickness_mm,
        section=section,
        walls_hidden=walls_hidden,
    )
    found = outline_of_seen(trace, trace.things[number], height_mm=made.edge_mm, sides=made.sides)
    if not found:
        return None
    main = max(found, key=lambda one: one.shape.area)
    outline = checked_outline(main.shape, where=source)
    item = _item(outline, name, "photo", source, main.sure_mm, thickness_mm, section)
    return replace(made, item=item)


def _item(
    outline: Outline, name: str, way: Way, source: str, sure_mm: float, thickness_mm: float, section: Section
) -> Item:
    low, top = _heights(thickness_mm, section)
    return Item(
        id="item-1",
        name=name,
        outline=outline,
        zones=(Zone(name="body", region=outline, section=section, under_mm=low, top_mm=top),),
        provenance=Provenance(way=way, source=source, uncertainty_mm=round(max(0.01, sure_mm), 3)),
    )


def doubtful(draft: Draft, trace: PhotoTrace | None) -> list[list[Point]]:
    """Return the runs of an outline that its photo hardly supports, longest first; none once a hand has been at it."""
    if trace is None or draft.seen is None or draft.retouched:
        return []
    weak = trace.things[draft.seen].weak
    if weak.is_empty:
        return []
    lines = at_height(weak, trace.sight.camera, height_mm=draft.edge_mm)
    runs = sorted(lines.geoms, key=lambda one: -float(one.length))
    return [[(float(x), float(y)) for x, y in run.coords] for run in runs]


def with_thickness(
    draft: Draft,
    trace: PhotoTrace | None,
    *,
    thickness_mm: float | None = None,
    section: Section | None = None,
    walls_hidden: bool | None = None,
) -> Draft:
    """Return the draft for another thickness or section: parallax is taken out anew, with no new photo.

    An outline that was retouched is led along: it swells or shrinks as the edge of a round thing would.
    """
    thickness = draft.thickness_mm if thickness_mm is None else checked_size(thickness_mm, where=draft.item.name)
    kind = draft.section if section is None else section
    hidden = kind == "flat" and (draft.walls_hidden if walls_hidden is None else walls_hidden)
    changed = replace(draft, thickness_mm=thickness, section=kind, walls_hidden=hidden)
    if trace is None or draft.seen is None:
        return replace(changed, item=_as_thick(draft.item, thickness, kind))
    if draft.retouched:
        camera = trace.sight.camera
        factor = (camera.height_mm - changed.edge_mm) / (camera.height_mm - draft.edge_mm)
        scaled = _scaled(draft.item, factor, camera.eye_mm[:2])
        return replace(changed, item=_as_thick(scaled, thickness, kind))
    source = draft.item.provenance.source
    fresh = _traced(trace, draft.seen, source=source, thickness_mm=thickness, section=kind, walls_hidden=hidden)
    if fresh is None:
        raise UnusableInput(
            tr("nothing is left of it with an edge {edge:g} mm up", edge=changed.edge_mm),
            where=draft.item.name,
            remedy=tr("give the thickness that a calliper says"),
        )
    item = reshaped(changed, fresh.item.outline).item
    return replace(changed, item=_as_thick(replace(item, provenance=fresh.item.provenance), thickness, kind))


def _as_thick(item: Item, thickness_mm: float, section: Section) -> Item:
    """Return an item of one zone as thick as said; several zones keep their own heights."""
    if len(item.zones) > 1:
        return item
    low, top = _heights(thickness_mm, section)
    zone = Zone(name="body", region=item.outline, section=section, under_mm=low, top_mm=top)
    return replace(item, zones=(zone,))


def _heights(thickness_mm: float, section: Section) -> tuple[float, float]:
    """Return underside and top about the datum: a round thing's is its axis, another's its underside."""
    return (-thickness_mm / 2, thickness_mm / 2) if section == "round" else (0.0, thickness_mm)


def reshaped(draft: Draft, outline: Outline) -> Draft:
    """Return the draft with another outline; its zones are cut to it, and what no zone covers joins the nearest."""
    shape = polygon_of(outline)
    zones = draft.item.zones
    regions = [polygon_of(zone.region).intersection(shape) for zone in zones]
    bare = shape.difference(shapely.union_all(regions).buffer(1e-3))
    for part in polygons_in(bare, least_area_mm2=0.05):
        nearest = min(range(len(regions)), key=lambda n: regions[n].distance(part) - 1e-3 * regions[n].area ** 0.5)
        regions[nearest] = regions[nearest].union(part.buffer(2e-3)).intersection(shape)
    kept = []
    for zone, region in zip(zones, regions):
        parts = polygons_in(region, least_area_mm2=1.0)
        if parts:
            kept.append(replace(zone, region=outline if len(zones) == 1 else outline_of(parts[0])))
    if not kept:
        raise UnusableInput(tr("no zone is left of it"), where=draft.item.name, remedy=tr("undo the change"))
    return replace(draft, item=replace(draft.item, outline=outline, zones=tuple(kept)), retouched=True)


def scaled(draft: Draft, factor: float) -> Draft:
    """Return the draft larger by a factor about its middle, as the calliper says. Raises UnusableInput."""
    left, top, right, bottom = draft.bounds_mm
    changed = reshaped(draft, shaping.scaled(draft.item.outline, factor))
    return replace(changed, scales=(*draft.scales, (factor, ((left + right) / 2, (top + bottom) / 2))))


def parted(table: Table, first: Point, second: Point) -> Table:
    """Return the table with the chosen draft parted into the things that touch, along the line through two marks."""
    draft = table.draft
    parts = shaping.parted(draft.item.outline, first, second)
    made = []
    for number, outline in enumerate(parts, start=1):
        one = reshaped(draft, outline)
        made.append(replace(one, item=replace(one.item, name=f"{draft.item.name}{'abcdefgh'[number - 1 :][:1]}")))
    return Table(drafts=(*table.drafts[: table.chosen], *made, *table.drafts[table.chosen + 1 :]), chosen=table.chosen)


def with_knob(draft: Draft, first: Point, second: Point, *, width_mm: float, thickness_mm: float) -> Draft:
    """Return the draft with a knob from mark to mark, a zone of its own as thick as said, on the thing's datum."""
    outline, piece = shaping.with_knob(draft.item.outline, first, second, width_mm=width_mm)
    thick = checked_size(thickness_mm, where="knob")
    shape = polygon_of(piece)
    zones = []
    for zone in draft.item.zones:
        parts = polygons_in(polygon_of(zone.region).difference(shape), least_area_mm2=1.0)
        zones += [replace(zone, region=outline_of(part)) for part in parts]
    low = min(zone.lowest_mm for zone in draft.item.zones)
    knob = Zone(name="knob", region=piece, section="flat", under_mm=low, top_mm=low + thick)
    item = replace(draft.item, outline=outline, zones=(*zones, knob))
    return replace(draft, item=item, retouched=True)


def with_zones(draft: Draft, first: Point, second: Point) -> Draft:
    """Return the draft with its zones split along the line through two marks."""
    return replace(draft, item=split_zones(draft.item, first, second))


def with_zone_thickness(draft: Draft, index: int, thickness_mm: float) -> Draft:
    """Return the draft with one zone as thick as said."""
    return replace(draft, item=set_zone(draft.item, index, thickness_mm=thickness_mm))


def heights_from_side(draft: Draft, side: Polygon) -> Draft:
    """Return the draft with its zones as high as its side shows; of the four ways round, the best."""
    ways = []
    for turned in (False, True):
        for upside_down in (False, True):
            item = zones_from_side(draft.item, side, turned=turned, upside_down=upside_down)
            # A wide zone is usually a thick one, and things lie on their underside.
            widths = [_across(zone) for zone in item.zones]
            unlike = sum(abs(width - zone.thickness_mm) for width, zone in zip(widths, item.zones))
            ways.append((unlike + 0.1 * sum(zone.under_mm for zone in item.zones), item))
    return replace(draft, item=min(ways, key=lambda one: one[0])[1])


def _across(zone: Zone) -> float:
    region = polygon_of(zone.region)
    length = float(shapely.minimum_rotated_rectangle(region).length) / 2
    return float(region.area) / max(1.0, length / 2)


def without(table: Table, index: int) -> Table:
    """Return the table without one draft. Raises UnusableInput for the last one."""
    if len(table.drafts) == 1:
        raise UnusableInput(
            tr("this is the only item on the bench"), where="retouch", remedy=tr("close the bench instead")
        )
    drafts = (*table.drafts[:index], *table.drafts[index + 1 :])
    return Table(drafts=drafts, chosen=min(table.chosen, len(drafts) - 1))


def measured(first: Point, second: Point, *, calliper_mm: float) -> tuple[float, float]:
    """Return the length between two marks and the factor by which the calliper's length differs from it."""
    length = math.dist(first, second)
    if length < 1.0:
        raise UnusableInput(
            tr("the marks lie too near each other"), where="retouch", remedy=tr("move them farther apart")
        )
    return length, checked_size(calliper_mm, where="calliper") / length


def kit_shift(draft: Draft) -> Point:
    """Return what is added to mat coordinates for those of the item in the kit."""
    return centre_shift(shaping.thinned(draft.item.outline))


def kit_item(draft: Draft) -> Item:
    """Return the item as the kit holds it: centred, its points as few as a blade could tell."""
    outline = shaping.thinned(draft.item.outline)
    dx, dy = kit_shift(draft)
    zones = tuple(
        replace(
            zone,
            region=shifted(outline if len(draft.item.zones) == 1 else zone.region, dx_mm=dx, dy_mm=dy),
            axis=None if zone.axis is None else tuple((x + dx, y + dy) for x, y in zone.axis),
        )
        for zone in draft.item.zones
    )
    return replace(draft.item, outline=shifted(outline, dx_mm=dx, dy_mm=dy), zones=zones)


def _scaled(item: Item, factor: float, about: tuple[float, float]) -> Item:
    def moved(outline: Outline) -> Outline:
        def ring(points: tuple[Point, ...]) -> tuple[Point, ...]:
            return tuple((about[0] + (x - about[0]) * factor, about[1] + (y - about[1]) * factor) for x, y in points)

        return Outline(outer=ring(outline.outer), holes=tuple(ring(hole) for hole in outline.holes))

    zones = tuple(replace(zone, region=moved(zone.region)) for zone in item.zones)
    return replace(item, outline=moved(item.outline), zones=zones)
