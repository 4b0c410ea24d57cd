"""The layout as JSON, in the DXF's coordinates: what each item and each pull takes out."""

from __future__ import annotations

from typing import Any

import shapely

from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.model.records import Ring
from cozy_burrow.export.drawing import rings_of, to_export
from cozy_burrow.export.own import layout_text


def layout_json(ground: Ground, names: dict[str, tuple[str, int]]) -> bytes:
    """Return the layout as bytes. names: for each placement its item's name and copy."""
    items = []
    for key, pocket in ground.pockets.items():
        by_layer = [rings_of(to_export(ground, area)) for area in pocket.layers]
        entry: dict[str, Any] = {
            "name": names[key][0],
            "copy": names[key][1],
            "layers": len(by_layer),
            "pocket_mm": by_layer[0][0],
        }
        if any(rings != by_layer[0] for rings in by_layer) or len(by_layer[0]) > 1:
            entry["by_layer_mm"] = by_layer
        items.append(entry)
    pulls = []
    for pull in ground.pulls:
        for part in polygons_in(shapely.GeometryCollection(list(pull.parts))) if pull.layers else ():
            outline: Ring = rings_of(to_export(ground, part))[0]
            pulls.append(
                {
                    "kind": kind_of_pull(pull.pull).alone,
                    "outline_mm": outline,
                    "layers": pull.layers,
                    "serves": [list(names[key]) for key in pull.pull.serves if key in names],
                }
            )
    return layout_text({"units": "mm", "items": items, "pulls": pulls})
