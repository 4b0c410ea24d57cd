"""What a loaded container weighs, where its weight lies, and how it hangs from its handle.

Coordinates of weights: plan x and y, and height above the container's floor. A container carried by a handle on a
wall hangs with that wall up: its centre of mass comes to lie straight below the handle. The angle along the wall
says to which side it hangs, the angle across it how far the lid or the base swings out.
"""

from __future__ import annotations

import math

import shapely
from msgspec.structs import replace
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.container.bay import Bay, tiers_of
from cozy_burrow.core.container.blank import blanks_of, inside_polygon
from cozy_burrow.core.foam.layers import Layer, layers_of
from cozy_burrow.core.geometry.placing import to_plan
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.kit.zones import balance_height_mm, centre_of_mass, mass_g_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Point, Project, Record
from cozy_burrow.core.model.vessels import Container

FOAM_UNSURE = 0.15  # densities on data sheets are plus or minus so much
THINGS_UNSURE = 0.03  # a kitchen scale, and things that change a little
GUESS_UNSURE = 0.5  # volumes at one density: hollow tins and solid steel are both taken for the mean
HANGS_ASKEW_DEG = 5.0  # felt in the wrist; below it nobody notices


class Weight(Record, frozen=True, kw_only=True):
    """A mass and where it lies: plan x, y, and height above the floor."""

    mass_g: float
    x_mm: float
    y_mm: float
    height_mm: float


class Carried(Record, frozen=True, kw_only=True):
    """A loaded container. unknown: things laid in it that nobody weighed, guessed_g: what they are taken to weigh.

    foam_g, things_g, case_g: the shares of the whole.

    sideways_deg: how it hangs along the handle's wall, above zero towards the right (or the front). swing_deg: how far
    its base swings out, above zero; below zero its lid. Both None without a handle.
    """

    whole: Weight
    things_g: float
    foam_g: float
    case_g: float
    unknown: tuple[str, ...]
    guessed_g: float
    sideways_deg: float | None
    swing_deg: float | None


def carried(project: Project, container: Container) -> Carried:
    """Return what the container weighs with all its tiers, and how it hangs."""
    grounds = tuple(ground_of(project, insert) for insert in tiers_of(project, container.id))
    return _carried(container, grounds)


@memo(rows=8)
def _carried(container: Container, grounds: tuple[Ground, ...]) -> Carried:
    things: list[Weight] = []
    foam: list[Weight] = []
    unknown: list[str] = []
    guessed_g = 0.0
    for ground in grounds:
        foam += _foam(ground)
        for placement in ground.insert.placements:
            pocket = ground.pockets[placement.id]
            mass_g = mass_g_of(pocket.item)
            if pocket.item.mass_g is None:
                unknown.append(placement.id)
                guessed_g += mass_g
            x, y = to_plan(placement, centre_of_mass(pocket.item))
            depth = pocket.seating.datum_mm - balance_height_mm(pocket.item)
            things.append(Weight(mass_g=mass_g, x_mm=x, y_mm=y, height_mm=ground.bay.top_mm - depth))
    case = _case(container)
    whole = together((*things, *foam, *case))
    sideways, swing = hanging(container, whole) if container.handle is not None else (None, None)
    return Carried(
        whole=whole,
        things_g=sum(one.mass_g for one in things),
        foam_g=sum(one.mass_g for one in foam),
        case_g=container.empty_mass_g or 0.0,
        unknown=tuple(unknown),
        guessed_g=guessed_g,
        sideways_deg=sideways,
        swing_deg=swing,
    )


def unsure_g(load: Carried) -> float:
    """Return how sure the whole mass is, ± in grams: foam by its density, things and case by a kitchen scale.

    What nobody weighed may weigh half as much again, or half.
    """
    weighed_g = load.things_g - load.guessed_g
    return math.hypot(
        FOAM_UNSURE * load.foam_g, THINGS_UNSURE * weighed_g, GUESS_UNSURE * load.guessed_g, THINGS_UNSURE * load.case_g
    )


def together(weights: tuple[Weight, ...]) -> Weight:
    """Return all weights as one, at their centre of mass."""
    mass = sum(one.mass_g for one in weights)
    if abs(mass) < 1e-9:
        return Weight(mass_g=0.0, x_mm=0.0, y_mm=0.0, height_mm=0.0)
    return Weight(
        mass_g=mass,
        x_mm=sum(one.mass_g * one.x_mm for one in weights) / mass,
        y_mm=sum(one.mass_g * one.y_mm for one in weights) / mass,
        height_mm=sum(one.mass_g * one.height_mm for one in weights) / mass,
    )


def _foam(ground: Ground) -> list[Weight]:
    """Return the foam that stays: whole blanks, and as negative weights what each pocket and pull takes out of them.

    Each is worked out once for as long as it stays where it is, so that a drag does not weigh everything anew.
    """
    found = list(_whole_foam(ground.bay))
    found += [_taken(cutout.areas, (), ground.bay) for cutout in ground.cutouts if cutout.kind == "pocket"]
    for pull in ground.pulls:
        pockets = tuple(ground.pockets[key].layers for key in pull.reaches)
        found.append(_taken((pull.area,) * pull.layers, pockets, ground.bay))
    return found


@memo(rows=64)
def _whole_foam(bay: Bay) -> tuple[Weight, ...]:
    blanks = [blank.polygon for blank in blanks_of(bay)]
    return tuple(_slab(blanks[layer.sheet - 1], layer, bay) for layer in layers_of(bay.sheets))


@memo(rows=4096)
def _taken(areas: tuple[BaseGeometry, ...], open_already: tuple[tuple[BaseGeometry, ...], ...], bay: Bay) -> Weight:
    """Return what areas per layer weigh, as a negative weight; `open_already`: pockets that have taken a part."""
    slabs = []
    for number, (area, layer) in enumerate(zip(areas, layers_of(bay.sheets))):
        gone = [pocket[number] for pocket in open_already if len(pocket) > number]
        rest = area.difference(shapely.union_all(gone)) if gone else area
        slabs.append(_slab(rest, layer, bay))
    whole = together(tuple(slabs))
    return replace(whole, mass_g=-whole.mass_g)


def _slab(area: BaseGeometry, layer: Layer, bay: Bay) -> Weight:
    # kg/m³ is µg/mm³.
    grams = area.area * (layer.bottom_mm - layer.top_mm) * bay.sheets[layer.sheet - 1].density_kg_m3 * 1e-6
    return _weight(area, grams, bay.top_mm - (layer.top_mm + layer.bottom_mm) / 2)


def _case(container: Container) -> list[Weight]:
    """Return the empty case, taken as evenly spread about the inside's middle, and the lid's foam."""
    inside, found = inside_polygon(container), []
    lid = container.lid
    high = container.height_mm + (lid.depth_mm if lid is not None else 0.0)
    if container.empty_mass_g:
        found.append(_weight(inside, container.empty_mass_g, high / 2))
    if lid is not None and lid.foam_mm > 0:
        grams = inside.area * lid.foam_mm * lid.foam_kg_m3 * 1e-6
        found.append(_weight(inside, grams, high - lid.foam_mm / 2))
    return found


def _weight(area: BaseGeometry, mass_g: float, height_mm: float) -> Weight:
    if area.is_empty:
        return Weight(mass_g=0.0, x_mm=0.0, y_mm=0.0, height_mm=height_mm)
    return Weight(mass_g=mass_g, x_mm=float(area.centroid.x), y_mm=float(area.centroid.y), height_mm=height_mm)


def handle_point(container: Container) -> tuple[Point, float]:
    """Return where the handle is: plan point on its wall, height above the floor."""
    handle = container.handle
    assert handle is not None
    along = handle.along_mm
    points: dict[str, Point] = {
        "back": (along, 0.0),
        "front": (along, container.depth_mm),
        "left": (0.0, along),
        "right": (container.width_mm, along),
    }
    return points[handle.side], handle.height_mm


def hanging(container: Container, whole: Weight) -> tuple[float, float]:
    """Return (sideways, swing) in degrees of a container that hangs from its handle with its weight straight below."""
    (x, y), height = handle_point(container)
    assert container.handle is not None
    if container.handle.side in {"back", "front"}:
        along, away = whole.x_mm - x, abs(whole.y_mm - y)
    else:
        along, away = whole.y_mm - y, abs(whole.x_mm - x)
    away = max(away, 1e-6)
    return math.degrees(math.atan2(along, away)), math.degrees(math.atan2(height - whole.height_mm, away))
