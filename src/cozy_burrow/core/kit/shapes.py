"""Items from plain shapes and from outlines: one record, whatever way it came in."""

from __future__ import annotations

from msgspec.structs import replace
from shapely.geometry import Polygon

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import centre_shift, checked_outline, ellipse_ring, shifted
from cozy_burrow.core.model.records import Item, Outline, Provenance, Way, Zone
from cozy_burrow.core.tolerances import LARGEST_LENGTH_MM, SMALLEST_LENGTH_MM
from cozy_burrow.core.tongue import tr


def checked_size(length_mm: float, *, where: str) -> float:
    """Return a length that a tool can have; raises UnusableInput for the rest."""
    if not SMALLEST_LENGTH_MM <= length_mm <= LARGEST_LENGTH_MM:  # NaN fails as well
        raise UnusableInput(
            tr("{length:g} mm is no size of a tool", length=length_mm),
            where=where,
            remedy=tr("give a length from 0.1 mm to ten metres"),
        )
    return length_mm


def _rectangle(length_mm: float, width_mm: float) -> Outline:
    x, y = length_mm / 2, width_mm / 2
    return Outline(outer=((-x, -y), (x, -y), (x, y), (-x, y)))


def box_item(item_id: str, name: str, *, length_mm: float, width_mm: float, thickness_mm: float) -> Item:
    """Return a box: flat, as thick all over; its datum is its underside."""
    outline = _rectangle(checked_size(length_mm, where="length"), checked_size(width_mm, where="width"))
    top_mm = checked_size(thickness_mm, where="thickness")
    return Item(
        id=item_id,
        name=name,
        outline=outline,
        zones=(Zone(name="body", region=outline, section="flat", under_mm=0.0, top_mm=top_mm),),
        provenance=Provenance(way="box", uncertainty_mm=0.5),
    )


def round_item(item_id: str, name: str, *, length_mm: float, diameter_mm: float) -> Item:
    """Return a cylinder that lies on its side: length along x, datum at its axis."""
    outline = _rectangle(checked_size(length_mm, where="length"), checked_size(diameter_mm, where="width"))
    radius, half = diameter_mm / 2, length_mm / 2
    zone = Zone(
        name="body",
        region=outline,
        section="round",
        under_mm=-radius,
        top_mm=radius,
        axis=((-half, 0.0), (half, 0.0)),
    )
    return Item(
        id=item_id,
        name=name,
        outline=outline,
        zones=(zone,),
        provenance=Provenance(way="round", uncertainty_mm=0.5),
    )


def disc_outline(diameter_mm: float) -> Outline:
    """Return a circle about (0, 0): a tin that stands on its base."""
    checked_size(diameter_mm, where="diameter")
    return Outline(outer=ellipse_ring(diameter_mm, diameter_mm))


def outline_item(item_id: str, name: str, outline: Outline, *, thickness_mm: float, way: Way, source: str = "") -> Item:
    """Return an item of an outline with one flat zone as thick as `thickness_mm`; its datum is its underside."""
    checked_size(thickness_mm, where="thickness")
    dx, dy = centre_shift(outline)
    centred = shifted(outline, dx_mm=dx, dy_mm=dy)
    return Item(
        id=item_id,
        name=name,
        outline=centred,
        zones=(Zone(name="body", region=centred, section="flat", under_mm=0.0, top_mm=thickness_mm),),
        provenance=Provenance(way=way, source=source, uncertainty_mm=0.2),
    )


def drawn_item(item_id: str, name: str, polygon: Polygon, *, thickness_mm: float) -> Item:
    """Return an item of a polygon that somebody drew; raises UnusableInput where it is no outline."""
    outline = checked_outline(polygon, where=name)
    return outline_item(item_id, name, outline, thickness_mm=thickness_mm, way="drawn")


def renamed(item: Item, name: str) -> Item:
    """Return the item under another name; raises UnusableInput for an empty one."""
    clean = " ".join(name.split())
    if not clean:
        raise UnusableInput(tr("the name is empty"), where="name", remedy=tr("name the item"))
    return replace(item, name=clean)
