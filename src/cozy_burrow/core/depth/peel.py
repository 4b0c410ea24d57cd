"""Depth by hand: take more or fewer layers out under one zone of a thing that lies in an insert."""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.core.container.bay import bay_of
from cozy_burrow.core.depth.seated import seating_of
from cozy_burrow.core.errors import Gone
from cozy_burrow.core.foam.layers import layers_of
from cozy_burrow.core.model.edits import change_placements, insert_of, item_of, placement_of
from cozy_burrow.core.model.records import Project, Seat
from cozy_burrow.core.tongue import tr


def set_zone_layers(project: Project, insert_id: str, key: str, zone: int, layers: int) -> Project:
    """Return the project with `layers` taken out under one zone: at least one, at most all of the stack.

    Raises Gone where the thing or its zone is not there any more.
    """
    insert = insert_of(project, insert_id)
    placement = placement_of(insert, key)
    seating = seating_of(item_of(project, placement.item_id), placement, bay_of(project, insert), project.rules)
    if not 0 <= zone < len(seating.zone_layers):
        raise Gone(tr("this zone"))
    wanted = min(max(1, layers), len(layers_of(insert.sheets)))
    if seating.zone_layers[zone] == wanted:
        return project
    zone_layers = tuple(wanted if index == zone else count for index, count in enumerate(seating.zone_layers))
    return change_placements(project, insert_id, [key], lambda one: replace(one, zone_layers=zone_layers))


def set_seat(project: Project, insert_id: str, keys: tuple[str, ...], seat: Seat | None) -> Project:
    """Return the project with things seated by a rule; None: by the item's own."""
    return change_placements(
        project, insert_id, keys, lambda one: replace(one, seat=seat, zone_layers=None, risers_mm=None)
    )


def layers_to(project: Project, insert_id: str, depth_mm: float) -> int:
    """Return the number of layers whose bottom lies nearest to a depth below the surface."""
    layers = layers_of(insert_of(project, insert_id).sheets)
    return 1 + min(range(len(layers)), key=lambda n: abs(layers[n].bottom_mm - depth_mm))
