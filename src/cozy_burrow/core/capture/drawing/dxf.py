"""Outlines from a DXF drawing: closed loops of the model space, in millimetres, seen from above."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from shapely.geometry import Polygon

from cozy_burrow.core.capture.drawing.areas import (
    MOST_BYTES,
    MOST_POINTS,
    Points,
    check_points,
    joined,
    nested,
    separate_outlines,
)
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tolerances import FLATTEN_MM
from cozy_burrow.core.tongue import tr

_MOST_ENTITIES = 50_000
_TEXTS = {"TEXT", "MTEXT", "ATTRIB", "ATTDEF", "DIMENSION", "LEADER", "MULTILEADER", "IMAGE"}


def read_dxf(data: bytes, *, where: str) -> tuple[list[Polygon], list[str]]:
    """Return the outlines of a drawing in mm (y turned to point down), largest first, and remarks in words.

    Raises UnusableInput for what is no DXF or holds no closed shape.
    """
    if len(data) > MOST_BYTES:
        raise UnusableInput(tr("the file is larger than 24 MB"), where=where, remedy=tr("save the outline alone"))
    from ezdxf import recover, units
    from ezdxf.disassemble import recursive_decompose

    try:
        document, _ = recover.read(io.BytesIO(data))
        factor = units.conversion_factor(document.units, units.MM) if document.units else 1.0
        remarks = [] if document.units else [tr("no unit in the file: read as millimetres")]
        hidden = {layer.dxf.name.lower() for layer in document.layers if layer.is_off() or layer.is_frozen()}
        lines: list[Points] = []
        texts = points = 0
        for count, entity in enumerate(recursive_decompose(_shown(document.modelspace(), hidden))):
            if count > _MOST_ENTITIES or points > MOST_POINTS:
                raise UnusableInput(tr("the drawing is too large"), where=where, remedy=tr("save the outline alone"))
            if entity.dxf.get("layer", "0").lower() in hidden or entity.dxf.get("invisible", 0):
                continue
            if entity.dxftype() in _TEXTS:
                texts += 1
                continue
            found = _lines_of(entity, factor, where)
            points += sum(len(line) for line in found)
            lines += found
    except UnusableInput:
        raise
    except Exception as error:  # the reader raises many kinds for what is no DXF
        raise UnusableInput(
            tr("the drawing cannot be read ({name})", name=type(error).__name__),
            where=where,
            remedy=tr("save it as DXF R2010"),
        ) from error
    check_points(lines, where=where)
    loops, open_lines = joined(lines)
    if open_lines:
        remarks.append(tr("{open_lines} open lines", open_lines=open_lines))
    if texts:
        remarks.append(tr("{texts} texts or dimensions", texts=texts))
    return separate_outlines(nested(loops), where=where), remarks


def _shown(entities: Any, hidden: set[str]) -> list[Any]:
    return [one for one in entities if one.dxf.get("layer", "0").lower() not in hidden]


def _lines_of(entity: Any, factor: float, where: str) -> list[Points]:
    from ezdxf import path as dxf_path

    if entity.dxftype() in {"HATCH", "MPOLYGON"}:
        paths = list(dxf_path.from_hatch(entity))
    else:
        try:
            paths = [dxf_path.make_path(entity)]
        except TypeError:
            return []
    found = []
    for one in paths:
        for part in one.sub_paths():
            # What is far too large is refused by the points it is drawn from: as fine lines it would be millions.
            drawn_from = np.array([(vertex.x * factor, vertex.y * factor) for vertex in part.control_vertices()])
            check_points([drawn_from.reshape(-1, 2)] if len(drawn_from) else [], where=where)
            flat = [(vertex.x * factor, -vertex.y * factor) for vertex in part.flattening(FLATTEN_MM / factor / 2)]
            if len(flat) >= 2:
                line = np.array(flat)
                if part.is_closed and np.hypot(*(line[0] - line[-1])) > 1e-12:
                    line = np.concatenate([line, line[:1]])
                found.append(line)
    return found
