"""The change sheet of an insert: what somebody needs who cuts only the difference."""

from __future__ import annotations

from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.refit.compare import InsertChange, compared
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import format_length
from cozy_burrow.export.change_pdf import ChangedLayer, ChangeSheet, change_pdf
from cozy_burrow.export.drawing import rings_of, to_export
from cozy_burrow.export.paper import CAUTIONS, papers
from cozy_burrow.jobs.refit_words import change_lines, layer_lines, patch_words


def sheet_between(before: Project, after: Project, insert_id: str, *, since: str) -> bytes:
    """Return the sheet of one insert from one state of a project to another."""
    changes = compared(before, after)
    change = next(one for one in changes if one.after is not None and one.after.id == insert_id)
    return change_sheet(before, after, change, since=since)


def change_sheet(before: Project, after: Project, change: InsertChange, *, since: str, paper: str = "a4") -> bytes:
    """Return the sheet as a PDF. change: of an insert that is there in the later state. since: what it was before."""
    assert change.after is not None
    ground = ground_of(after, change.after)

    def length(mm: float) -> str:
        return format_length(mm, after.units)

    lines = [tr("Since {name}:", name=since), *change_lines(before, after, change, length)]
    layers: tuple[ChangedLayer, ...] = ()
    if change.patch is not None:
        lines += ["", patch_words(change.patch), *layer_lines(change.patch, length)]
        layers = tuple(
            ChangedLayer(
                title=tr("layer {layer}", layer=one.layer),
                cut=rings_of(to_export(ground, one.cut)),
                fill=rings_of(to_export(ground, one.fill)),
                open=rings_of(to_export(ground, ground.taken_out(one.layer).difference(one.cut))),
            )
            for one in change.patch.layers
        )
    lines += ["", CAUTIONS[0], CAUTIONS[3]]
    sheet = ChangeSheet(
        title=tr("Change sheet: {insert}", insert=change.after.name),
        blank=rings_of(to_export(ground, ground.blank)),
        lines=tuple(lines),
        layers=layers,
    )
    return change_pdf(sheet, paper=papers()[paper])
