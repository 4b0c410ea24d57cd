"""The forms in which an item asks for room: its pocket with each kind of finger pull, best first, and bare."""

from __future__ import annotations

from collections.abc import Sequence

import shapely
from msgspec.structs import replace
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.arrange.pieces import Bed, Form, Piece
from cozy_burrow.core.container.blank import blank_polygon
from cozy_burrow.core.depth.pocket import Pocket, local_pocket
from cozy_burrow.core.depth.wall_rule import wanted_wall_mm
from cozy_burrow.core.foam.layers import layers_of
from cozy_burrow.core.model.memo import memo
from cozy_burrow.core.model.records import Container, FingerPull, Insert, Item, Rules, Sheet
from cozy_burrow.core.pulls.suggest import candidates, needs_pull, pull_area, shapes_to_try


def own_wall_mm(pocket: Pocket, insert: Insert, rules: Rules) -> float:
    """Return the wall that the rule asks for at the pocket's own depth: more than any neighbour can ask of it."""
    layers = layers_of(insert.sheets)
    return wanted_wall_mm(layers[pocket.depth_layers - 1].bottom_mm, rules)


def piece_for(item: Item, copy: int, insert: Insert, rules: Rules, *, with_pulls: bool) -> Piece:
    """Return a copy of an item as a piece to arrange, its forms from the roomiest pull to none."""
    return Piece((item.id, copy), _forms(item, insert.sheets, insert.container, rules, with_pulls), group=item.group)


@memo(rows=512)
def _forms(
    item: Item, sheets: tuple[Sheet, ...], container: Container, rules: Rules, with_pulls: bool
) -> tuple[Form, ...]:
    insert = Insert(id="", name="", container=container, sheets=sheets)
    pocket = local_pocket(item, None, insert, rules)
    wall_mm = own_wall_mm(pocket, insert, rules)
    forms = [Form(pocket.surface, wall_mm)]
    if with_pulls and needs_pull(pocket, rules):
        roomy = []
        for shape in shapes_to_try(rules):
            sides = 1 if shape.kind == "circle_pair" else 2
            for pull in candidates(pocket, shape)[:sides]:
                roomy.append(Form(shapely.union_all([pocket.surface, pull_area(pull)]), wall_mm, pull))
        forms = roomy + forms
    return tuple(forms)


def form_of_placed(pocket: Pocket, pulls: tuple[FingerPull, ...], insert: Insert, rules: Rules) -> Form:
    """Return what a placed item takes up in item coordinates: its pocket and the pulls that move with it."""
    areas = [pocket.surface, *(pull_area(pull) for pull in pulls if pull.kind != "trench")]
    return Form(shapely.union_all(areas), own_wall_mm(pocket, insert, rules), pulls)


def bed_for(insert: Insert, rules: Rules, *, taken: Sequence[tuple[BaseGeometry, float]] = ()) -> Bed:
    """Return the bed of an insert: its blank less the edge, with `taken` (area, wall) lying in it."""
    return Bed(blank_polygon(insert).buffer(-rules.edge_mm, join_style="mitre"), taken)


def pull_of(form: Form, placement_id: str) -> FingerPull | None:
    """Return the pull that a form brings, for the placement that took the form."""
    return replace(form.tag, serves=(placement_id,)) if isinstance(form.tag, FingerPull) else None
