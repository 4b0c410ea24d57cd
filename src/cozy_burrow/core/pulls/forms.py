"""The forms in which an item asks for room: its pocket with each kind of finger pull, best first, and bare."""

from __future__ import annotations

from collections.abc import Sequence

import shapely
from msgspec.structs import replace
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.pieces import Bed, Form, Piece
from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.container.blank import fixing_points
from cozy_burrow.core.depth.pocket import Pocket, local_pocket
from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.foam.blanks import cut_blanks
from cozy_burrow.core.foam.layers import layers_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import FingerPull, Item, Rules
from cozy_burrow.core.pulls.suggest import candidates, needs_pull, pull_area, shapes_to_try


def own_wall_mm(pocket: Pocket, bay: Bay, rules: Rules) -> float:
    """Return the wall that the rule asks for at the pocket's own depth: more than any neighbour can ask of it."""
    layers = layers_of(bay.sheets)
    # Snapping to cubes widens a pocket by up to two thirds of a cube: the wall must stand beyond that.
    snap = max(layer.cell_mm for layer in layers[: pocket.depth_layers])
    return wanted_wall_mm(layers[pocket.depth_layers - 1].bottom_mm, rules) + snap * 4 / 3


def piece_for(item: Item, copy: int, bay: Bay, rules: Rules, *, with_pulls: bool) -> Piece:
    """Return a copy of an item as a piece to arrange, its forms from the roomiest pull to none."""
    return Piece((item.id, copy), _forms(item, bay, rules, with_pulls), group=item.group)


@memo(rows=512)
def _forms(item: Item, bay: Bay, rules: Rules, with_pulls: bool) -> tuple[Form, ...]:
    pocket = local_pocket(item, None, bay, rules)
    wall_mm = own_wall_mm(pocket, bay, rules)
    forms = [Form(pocket.surface, wall_mm)]
    if with_pulls and needs_pull(pocket, rules):
        roomy = []
        for shape in shapes_to_try(rules):
            sides = 1 if shape.kind == "circle_pair" else 2
            for pull in candidates(pocket, shape)[:sides]:
                roomy.append(Form(shapely.union_all([pocket.surface, pull_area(pull)]), wall_mm, pull))
        forms = roomy + forms
    return tuple(forms)


def form_of_placed(pocket: Pocket, pulls: tuple[FingerPull, ...], bay: Bay, rules: Rules) -> Form:
    """Return what a placed item takes up in item coordinates: its pocket and the pulls that move with it."""
    areas = [pocket.surface, *(pull_area(pull) for pull in pulls if pull.kind != "trench")]
    return Form(shapely.union_all(areas), own_wall_mm(pocket, bay, rules), pulls)


def bed_for(bay: Bay, rules: Rules, *, taken: Sequence[tuple[BaseGeometry, float]] = ()) -> Bed:
    """Return the bed of a bay: what its cut sheets have in common, less the edge, with `taken` (area, wall) in it."""
    return Bed(_bed_area(bay, rules), taken)


@memo(rows=32)
def _bed_area(bay: Bay, rules: Rules) -> BaseGeometry:
    area = shapely.intersection_all([blank.polygon for blank in cut_blanks(bay, rules.floor_layers)])
    area = area.buffer(-rules.edge_mm, join_style="mitre")
    kept = [point.buffer(rules.edge_mm, quad_segs=16) for point in fixing_points(bay.container)]
    return area.difference(shapely.union_all(kept)) if kept else area


def pull_of(form: Form, placement_id: str) -> FingerPull | None:
    """Return the pull that a form brings, for the placement that took the form."""
    return replace(form.tag, serves=(placement_id,)) if isinstance(form.tag, FingerPull) else None
