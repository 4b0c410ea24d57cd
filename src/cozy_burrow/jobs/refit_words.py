"""What a change of cut foam comes to, in words: for the window and for the change sheet."""

from __future__ import annotations

from collections.abc import Callable

from cozy_burrow.core.errors import Gone
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.refit.compare import STILL_DEG, STILL_MM, Changed, InsertChange
from cozy_burrow.core.refit.patch import Patch
from cozy_burrow.core.tongue import decimal, tr, trn

Length = Callable[[float], str]


def patch_words(patch: Patch) -> str:
    """Return what is cut and filled, in a sentence."""
    if not patch.layers:
        return tr("Nothing is cut, nothing is glued in.")
    parts = []
    if patch.pieces:
        parts.append(
            trn(
                "Glue in {count} piece, {volume} in all.",
                "Glue in {count} pieces, {volume} in all.",
                patch.pieces,
                volume=_volume(patch.fill_mm3),
            )
        )
    else:
        parts.append(tr("Nothing is glued in."))
    cut = tr("Cut {volume} of foam.", volume=_volume(patch.cut_mm3))
    parts.append(cut if patch.cut_mm3 > 0.0 else tr("Nothing is cut."))
    return " ".join(parts)


def _volume(volume_mm3: float) -> str:
    return decimal(f"{volume_mm3 / 1000:.1f} cm³")


def layer_lines(patch: Patch, length: Length) -> list[str]:
    """Return a line for every layer that changes: areas, and the pieces by their size."""
    lines = []
    for one in patch.layers:
        told = []
        if not one.cut.is_empty:
            told.append(tr("cut {area}", area=decimal(f"{one.cut.area / 100:.1f} cm²")))
        if not one.fill.is_empty:
            sizes = ", ".join(piece_size(part.bounds, length) for part in one.fill.geoms)
            told.append(tr("glue in {area} ({sizes})", area=decimal(f"{one.fill.area / 100:.1f} cm²"), sizes=sizes))
        lines.append(tr("Layer {layer}: {told}", layer=one.layer, told="; ".join(told)))
    return lines


def piece_size(bounds: tuple[float, float, float, float], length: Length) -> str:
    """Return how large a box a piece comes out of."""
    left, top, right, low = bounds
    return f"{length(right - left)} × {length(low - top)}"


def change_lines(before: Project, after: Project, change: InsertChange, length: Length) -> list[str]:
    """Return what became of the things of an insert, a line each; the foam is told apart."""
    if change.before is None:
        return [tr("A new insert.")]
    if change.after is None:
        return [tr("This insert is gone.")]
    lines = [tr("New: {name}", name=_name(after, key)) for key in change.came]
    lines += [tr("Gone: {name}", name=_name(before, key)) for key in change.went]
    lines += [f"{_name(after, one.after)}: {', '.join(_told(one, length))}" for one in change.changed]
    if change.patch is None:
        lines.append(tr("Different foam: cut this insert from new."))
    return lines or [tr("Nothing has changed.")]


def _told(one: Changed, length: Length) -> list[str]:
    told = []
    if one.is_other_shape:
        told.append(tr("another shape"))
    if abs(one.right_mm) > STILL_MM:
        side = tr("{by} to the right") if one.right_mm > 0 else tr("{by} to the left")
        told.append(side.format(by=length(abs(one.right_mm))))
    if abs(one.front_mm) > STILL_MM:
        side = tr("{by} to the front") if one.front_mm > 0 else tr("{by} to the back")
        told.append(side.format(by=length(abs(one.front_mm))))
    if abs(one.turned_deg) > STILL_DEG:
        told.append(tr("turned by {turn}", turn=decimal(f"{one.turned_deg:.1f}°")))
    if one.is_deeper:
        told.append(tr("{before} layers deep, now {after}", before=one.layers[0], after=one.layers[1]))
    if one.pulls_changed:
        told.append(tr("other finger pulls"))
    return told


def _name(project: Project, key: str) -> str:
    try:
        return placement_name(project, key)
    except Gone:
        return key
