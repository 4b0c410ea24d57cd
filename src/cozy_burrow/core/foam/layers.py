"""The layers of a stack, counted from the top of the whole stack, and how many of them stay as floor."""

from __future__ import annotations

import math
from functools import lru_cache

from cozy_burrow.core.container.bay import Bay, stack_mm
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.materials import colour_called
from cozy_burrow.core.model.records import Record, Sheet
from cozy_burrow.core.tongue import tr

LEAST_FLOOR_MM = 8.0  # at least one thick layer, or two or three thin ones, stays under a pocket
MOST_LAYERS = 200


class Layer(Record, frozen=True, kw_only=True):
    """One layer: its number in the stack (1 = top), sheet and number in it, top and bottom below the surface.

    plain: a whole sheet without layers, cut through; the plug is sliced and put back as a riser. cell_mm: scored
    into cubes of this size; 0 where it is not. colour: #rrggbb, where somebody named one.
    """

    number: int
    sheet: int
    in_sheet: int
    top_mm: float
    bottom_mm: float
    contrast: bool
    plain: bool = False
    cell_mm: float = 0.0
    colour: str = ""

    @property
    def thickness_mm(self) -> float:
        """From its top to its bottom."""
        return self.bottom_mm - self.top_mm

    @property
    def in_whole(self) -> bool:
        """Whether it is a whole sheet, which comes out at once: plain foam, or cubes."""
        return self.plain or self.cell_mm > 0


def sheet_layers(sheet: Sheet) -> int:
    """Return how many layers the sheet has; a rest thinner than half a layer belongs to the lowest."""
    if sheet.material != "layered":
        return 1  # plain foam is cut right through, cubes are plucked out whole
    return max(1, math.floor(sheet.thickness_mm / sheet.pitch_mm + 0.5))


@lru_cache(maxsize=256)
def layers_of(sheets: tuple[Sheet, ...]) -> tuple[Layer, ...]:
    """Return all layers of a stack from the top down. A sheet's lowest layer takes what the pitch leaves over."""
    found: list[Layer] = []
    top_mm = 0.0
    for number, sheet in enumerate(sheets, start=1):
        count = sheet_layers(sheet)
        for index in range(1, count + 1):
            contrast = index > count - sheet.contrast_layers
            end = sheet.thickness_mm if index == count else index * sheet.pitch_mm
            found.append(
                Layer(
                    number=len(found) + 1,
                    sheet=number,
                    in_sheet=index,
                    top_mm=top_mm + (index - 1) * sheet.pitch_mm,
                    bottom_mm=top_mm + end,
                    contrast=contrast,
                    plain=sheet.material == "plain",
                    cell_mm=sheet.cell_mm if sheet.material == "cubed" else 0.0,
                    colour=colour_called(sheet.base_colour if contrast else sheet.colour),
                )
            )
        top_mm += sheet.thickness_mm
    return tuple(found)


def floor_layers(sheets: tuple[Sheet, ...], wanted: int | None, *, whole_bottom: bool = False) -> int:
    """Return how many layers stay at the bottom: as wanted, or the fewest that make LEAST_FLOOR_MM.

    whole_bottom: the lowest of several sheets stays whole, whatever else was wanted.
    """
    if whole_bottom and len(sheets) > 1:
        return max(sheet_layers(sheets[-1]), _floor_layers(sheets, wanted))
    return _floor_layers(sheets, wanted)


def floor_of(bay: Bay, wanted: int | None) -> int:
    """Return how many layers of a bay's stack stay at the bottom."""
    return floor_layers(bay.sheets, wanted, whole_bottom=bay.whole_bottom)


def _floor_layers(sheets: tuple[Sheet, ...], wanted: int | None) -> int:
    layers = layers_of(sheets)
    if wanted is not None:
        return min(wanted, len(layers))
    whole = stack_mm(sheets)
    for count in range(1, len(layers) + 1):
        if whole - layers[-count].top_mm >= LEAST_FLOOR_MM - 1e-9:
            return count
    return len(layers)


def checked_sheet(sheet: Sheet, *, where: str) -> Sheet:
    """Return a sheet that a dealer could sell; raises UnusableInput for the rest."""
    if not (0.5 <= sheet.thickness_mm <= 1000.0):
        raise UnusableInput(
            tr("a sheet {thickness:g} mm thick", thickness=sheet.thickness_mm),
            where=where,
            remedy=tr("give a thickness from 0.5 mm to a metre"),
        )
    if sheet.material == "cubed" and not (3.0 <= sheet.cell_mm <= 200.0):
        raise UnusableInput(
            tr("cubes of {cell:g} mm", cell=sheet.cell_mm),
            where=where,
            remedy=tr("measure one cube; 10 to 20 mm are usual"),
        )
    if not (0.5 <= sheet.pitch_mm <= sheet.thickness_mm + 1e-9):
        raise UnusableInput(
            tr(
                "layers of {pitch:g} mm in a sheet of {thickness:g} mm",
                pitch=sheet.pitch_mm,
                thickness=sheet.thickness_mm,
            ),
            where=where,
            remedy=tr("give a layer from 0.5 mm up to the sheet's thickness"),
        )
    if sheet_layers(sheet) > MOST_LAYERS:
        raise UnusableInput(
            tr("{sheet_layers} layers in one sheet", sheet_layers=sheet_layers(sheet)),
            where=where,
            remedy=tr("keep to {most_layers}; check the pitch", most_layers=MOST_LAYERS),
        )
    return sheet
