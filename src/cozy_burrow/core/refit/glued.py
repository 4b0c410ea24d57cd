"""An insert remembers what was glued into it; `ground/gluing` says what of that is still there, and how it is held."""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.core.geometry.rings import outline_of, polygon_of
from cozy_burrow.core.model.edits import change_insert, insert_of
from cozy_burrow.core.model.kept import GluedIn
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.refit.patch import Patch, pieces_in


def with_patch(project: Project, insert_id: str, patch: Patch) -> Project:
    """Return the project whose insert remembers what a patch glues in, without what it cuts out again."""
    insert = insert_of(project, insert_id)
    by_layer = {one.layer: one for one in patch.layers}
    glued: list[GluedIn] = []
    for piece in insert.glued:
        change = by_layer.get(piece.layer)
        if change is None or change.cut.is_empty or not change.cut.intersects(polygon_of(piece.outline)):
            glued.append(piece)
        else:
            left = polygon_of(piece.outline).difference(change.cut)
            glued += [replace(piece, outline=outline_of(part)) for part in pieces_in(left)]
    for layer in patch.layers:
        glued += [GluedIn(layer=layer.layer, outline=outline_of(part)) for part in pieces_in(layer.fill)]
    if tuple(glued) == insert.glued:
        return project
    return change_insert(project, insert_id, glued=tuple(glued))
