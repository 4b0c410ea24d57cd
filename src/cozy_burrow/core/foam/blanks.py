"""Which blanks are cut into: all but those that stay whole as floor."""

from __future__ import annotations

from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.container.blank import Blank, blanks_of
from cozy_burrow.core.foam.layers import floor_of, layers_of


def cut_blanks(bay: Bay, wanted_floor: int | None) -> tuple[Blank, ...]:
    """Return the blanks of the sheets that pockets may reach, top first; at least the top one."""
    layers = layers_of(bay.sheets)
    most = max(1, len(layers) - floor_of(bay, wanted_floor))
    return blanks_of(bay)[: layers[most - 1].sheet]
