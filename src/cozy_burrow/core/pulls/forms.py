"""The forms in which an item asks for room: its pocket with each kind of finger pull, best first, and bare."""

from __future__ import annotations

from collections.abc import Sequence

import shapely
from msgspec.structs import replace
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.facts import Facts, facts_of
from cozy_burrow.core.arrange.pieces import Bed, Form, Part, Piece, tidy_angles
from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.container.blank import fixing_points
from cozy_burrow.core.depth.pocket import Pocket
from cozy_burrow.core.depth.seated import local_pocket
from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.foam.blanks import cut_blanks
from cozy_burrow.core.foam.layers import floor_of, layers_of
from cozy_burrow.core.geometry.offset import mitred
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import FingerPull, Item, Ring, Rules
from cozy_burrow.core.progress import make_way
from cozy_burrow.core.pulls.areas import needs_pull, pull_area
from cozy_burrow.core.pulls.choose import pulls_to_try

APART_MM = 4.0  # between two things above the foam: they do not strike each other, a cloth goes between


def wall_of(pocket: Pocket, bay: Bay, rules: Rules) -> tuple[float, float]:
    """Return (wall, the part of it that snapping to cubes may eat) at the pocket's own depth.

    The rule at that depth is more than any neighbour can ask of it. Snapping widens a pocket by up to two thirds
    of a cube: the wall must stand beyond that.
    """
    layers = layers_of(bay.sheets)
    snap = max(layer.cell_mm for layer in layers[: pocket.depth_layers]) * 4 / 3
    return wanted_wall_mm(layers[pocket.depth_layers - 1].bottom_mm, rules) + snap, snap


def footprint(pocket: Pocket, wall_mm: float) -> BaseGeometry:
    """Return what a thing asks for on the plan: its pocket, and where it bulges above the foam a little more.

    A round thing that dips in a little is wider than its pocket. Two footprints a wall apart are two things at least
    APART_MM apart, whatever stands above the foam.
    """
    return _footprint(pocket.local, wall_mm)


@memo(rows=1024)
def _footprint(pocket: Pocket, wall_mm: float) -> BaseGeometry:
    bulge = mitred(polygon_of(pocket.item.outline), -max(0.0, wall_mm - APART_MM) / 2)
    if bulge.is_empty or pocket.surface.covers(bulge):
        return pocket.surface
    return pocket.surface.union(bulge)


def piece_for(item: Item, copy: int, bay: Bay, rules: Rules, *, with_pulls: bool, facts: Facts | None = None) -> Piece:
    """Return a copy of an item as a piece to arrange, its forms from the roomiest pull to none."""
    make_way()
    pocket, forms = _forms(item, bay, rules, with_pulls)
    part = Part((item.id, copy), pocket.surface, facts if facts is not None else facts_of(item))
    own = [
        Form(form.shape, form.wall_mm, form.tag, snap_mm=form.snap_mm, parts=(part,), worse=float(number))
        for number, form in enumerate(forms)
    ]
    return Piece((item.id, copy), own, group=item.group, angles_deg=forms_angles(forms))


@memo(rows=512)
def forms_angles(forms: tuple[Form, ...]) -> tuple[float, ...]:
    """Return the tidy angles of a row of forms; worked out once for all copies."""
    return tidy_angles(forms[-1].shape)


@memo(rows=512)
def _forms(item: Item, bay: Bay, rules: Rules, with_pulls: bool) -> tuple[Pocket, tuple[Form, ...]]:
    pocket = local_pocket(item, None, bay, rules)
    wall_mm, snap_mm = wall_of(pocket, bay, rules)
    bare = footprint(pocket, wall_mm)
    forms = [Form(bare, wall_mm, snap_mm=snap_mm)]
    if with_pulls and needs_pull(pocket, rules):
        layers = layers_of(bay.sheets)
        most = max(1, len(layers) - floor_of(bay, rules.floor_layers))
        for number, pull in enumerate(pulls_to_try(pocket, layers, most, rules)):
            area = shapely.union_all([bare, pull_area(pull)])
            forms.insert(number, Form(area, wall_mm, pull, snap_mm=snap_mm))
    return pocket, tuple(forms)


def form_of_placed(pocket: Pocket, pulls: tuple[FingerPull, ...], bay: Bay, rules: Rules) -> Form:
    """Return what a placed item takes up in item coordinates: its pocket and the pulls that move with it."""
    wall_mm, snap_mm = wall_of(pocket, bay, rules)
    # A press point lies inside its pocket, and nothing is cut for a ribbon.
    areas = [footprint(pocket, wall_mm), *(pull_area(pull) for pull in pulls if not kind_of_pull(pull).is_band)]
    return Form(shapely.union_all(areas), wall_mm, pulls, snap_mm=snap_mm)


def bed_for(
    bay: Bay,
    rules: Rules,
    *,
    taken: Sequence[tuple[BaseGeometry, float]] = (),
    spare: Sequence[Ring] = (),
    within: BaseGeometry | None = None,
) -> Bed:
    """Return the bed of a bay: what its cut sheets have in common, less the edge, with `taken` (area, wall) in it.

    spare: rings that are kept free. within: only this part of it counts.
    """
    area = _bed_area(bay, rules)
    if spare:
        area = area.difference(shapely.union_all([Polygon(ring) for ring in spare]))
    return Bed(area if within is None else area.intersection(within), taken)


@memo(rows=32)
def _bed_area(bay: Bay, rules: Rules) -> BaseGeometry:
    area = shapely.intersection_all([blank.polygon for blank in cut_blanks(bay, rules.floor_layers)])
    area = mitred(area, -rules.edge_mm)
    kept = [point.buffer(rules.edge_mm, quad_segs=16) for point in fixing_points(bay.container)]
    return area.difference(shapely.union_all(kept)) if kept else area


def pulls_of(form: Form, placement_id: str) -> list[FingerPull]:
    """Return the pulls that a form brings, for the placement that took the form."""
    brought = form.tag if isinstance(form.tag, tuple) else (form.tag,)
    return [replace(pull, serves=(placement_id,)) for pull in brought if isinstance(pull, FingerPull)]
