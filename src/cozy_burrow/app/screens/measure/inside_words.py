"""What the page of a container's inside says of its rim and its blanks, and the press fit that it sets."""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.container.bay import strap_mm
from cozy_burrow.core.container.blank import blanks_of
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.vessels import lip_bend
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import decimal, tr, trn

MOST_PRESS_FIT_MM = 20.0


def rim_words(workspace: Workspace) -> list[str]:
    """Return where an odd rim comes from, and how the blank passes a lip."""
    box, texts = workspace.container, []
    if box.corners or box.outline is not None:
        how = tr("its survey") if box.corners else tr("a card template")
        texts.append(tr("The rim comes from {how}; width and depth follow it.", how=how))
    bend = lip_bend(workspace.ground.bay)
    if bend is not None:
        bent = workspace.length(bend[0], digits=0)
        texts.append(tr("To pass the lip the blank is bent up by {bend} in its middle.", bend=bent))
    return texts


def blank_words(workspace: Workspace) -> list[str]:
    """Return a line for each sheet's blank, and one for a strap under them."""
    length = workspace.length
    lines = []
    for blank in blanks_of(workspace.ground.bay):
        if blank.polygon.is_empty:
            lines.append(tr("Sheet {sheet}: no inside is left at its height.", sheet=blank.sheet))
            continue
        left, top, right, bottom = blank.polygon.bounds
        line = tr(
            "Sheet {sheet}: {right} × {bottom}",
            sheet=blank.sheet,
            right=length(right - left),
            bottom=length(bottom - top),
        )
        if blank.tight_mm > 0.3:
            line += tr(
                ", {loose} loose at its top, {tight} tight below",
                loose=length(blank.loose_mm),
                tight=length(blank.tight_mm),
            )
        if blank.chamfer_mm > 0.05:
            line += tr(", chamfer {chamfer} below", chamfer=length(blank.chamfer_mm))
        if blank.bevel_mm > 0.05:
            line += tr(", bevelled over its whole thickness, {bevel} in at its foot", bevel=length(blank.bevel_mm))
        if blank.slits:
            line += trn(", {count} slit for a thin rib", ", {count} slits for thin ribs", len(blank.slits))
        lines.append(line + ".")
    if workspace.insert.lift_straps:
        strap = strap_mm(workspace.ground.bay)
        lines.append(
            tr(
                "Strap: {strap} long, under it from front to back, an end to hold on each.",
                strap=length(strap, digits=0),
            )
        )
    return lines


def taper_words(draft_deg: tuple[float, ...]) -> str:
    """Return how far walls lean in, in a few letters."""
    least, most = min(draft_deg), max(draft_deg)
    return f"{decimal(f'{least:g}')}°" if least == most else f"{decimal(f'{least:g}')}–{decimal(f'{most:g}')}°"


def lid_words(workspace: Workspace) -> str:
    """Return how deep the lid is, in a few letters; nothing where there is none."""
    lid = workspace.container.lid
    return "" if lid is None else workspace.length(lid.depth_mm or lid.foam_mm)


def with_press_fit(workspace: Workspace, press_fit_mm: float) -> Project:
    """Return the project with another press fit of the insert. Raises UnusableInput for one that nobody presses in."""
    length = workspace.length
    if press_fit_mm > MOST_PRESS_FIT_MM:
        raise UnusableInput(
            tr("{press_fit} of press fit", press_fit=length(press_fit_mm)),
            remedy=tr(
                "{length} to {length_2} a side are usual, {most_press_fit} the most",
                length=length(1.0),
                length_2=length(3.0),
                most_press_fit=length(MOST_PRESS_FIT_MM),
            ),
        )
    insert = replace(workspace.insert, press_fit_mm=press_fit_mm)
    project = workspace.project
    return replace(project, inserts=tuple(insert if one.id == insert.id else one for one in project.inserts))
