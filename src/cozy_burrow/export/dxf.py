"""A sheet as DXF (R2010, millimetres): BLANK, POCKET_<k>, LABEL."""

from __future__ import annotations

import io

from cozy_burrow.export.drawing import SheetDrawing, there_and_back
from cozy_burrow.export.own import BLANK_SEAL, sealed


def sheet_dxf(drawing: SheetDrawing) -> bytes:
    """Return the sheet as the bytes of a DXF file."""
    import ezdxf
    from ezdxf.enums import TextEntityAlignment

    # Without this the writer puts time and chance into the header: two exports of one plan would differ.
    ezdxf.options.write_fixed_meta_data_for_testing = True
    document = ezdxf.new("R2010", units=4)  # 4: millimetres
    document.header["$MEASUREMENT"] = 1
    left, front, right, back = _extent(drawing)
    document.header.custom_vars.append("Program", BLANK_SEAL)
    if "Defpoints" in document.layers:
        document.layers.remove("Defpoints")
    space = document.modelspace()
    least, most = (left, front, 0.0), (right, back, 0.0)
    space.reset_extents(least, most)
    # The header takes them from there, but for a corner at the origin, which the writer takes for none.
    document.header["$EXTMIN"], document.header["$EXTMAX"] = least, most
    document.layers.add("BLANK", color=7)
    document.layers.add("LABEL", color=8)
    for ring in (drawing.blank, *drawing.holes):
        if ring:
            space.add_lwpolyline(ring, close=True, dxfattribs={"layer": "BLANK"})
    for slit in drawing.slits:
        space.add_lwpolyline(there_and_back(slit), close=True, dxfattribs={"layer": "BLANK"})
    for number, rings in enumerate(drawing.pockets, start=1):
        if not rings:
            continue
        layer = f"POCKET_{number}"
        document.layers.add(layer, color=1 + (number - 1) % 6)
        for ring in rings:
            space.add_lwpolyline(ring, close=True, dxfattribs={"layer": layer})
    for label in drawing.labels:
        text = space.add_text(label.text, height=label.height_mm, dxfattribs={"layer": "LABEL"})
        text.set_placement(label.at_mm, align=TextEntityAlignment.MIDDLE_CENTER)
    stream = io.StringIO()
    document.write(stream)
    return sealed(stream.getvalue().encode("utf-8"))


def _extent(drawing: SheetDrawing) -> tuple[float, float, float, float]:
    """Return the bounds of everything drawn."""
    rings = (drawing.blank, *drawing.holes, *drawing.slits, *(ring for layer in drawing.pockets for ring in layer))
    points = [point for ring in rings for point in ring] or [(0.0, 0.0), (drawing.width_mm, drawing.height_mm)]
    xs, ys = zip(*points)
    return min(xs), min(ys), max(xs), max(ys)
