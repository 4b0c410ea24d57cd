"""A sheet as DXF (R2010, millimetres): BLANK, POCKET_<k>, LABEL."""

from __future__ import annotations

import io

from cozy_burrow.export.drawing import SheetDrawing


def sheet_dxf(drawing: SheetDrawing) -> bytes:
    """Return the sheet as the bytes of a DXF file."""
    import ezdxf
    from ezdxf.enums import TextEntityAlignment

    # Without this the writer puts time and chance into the header: two exports of one plan would differ.
    ezdxf.options.write_fixed_meta_data_for_testing = True
    document = ezdxf.new("R2010", units=4)  # 4: millimetres
    document.header["$MEASUREMENT"] = 1
    if "Defpoints" in document.layers:
        document.layers.remove("Defpoints")
    space = document.modelspace()
    document.layers.add("BLANK", color=7)
    document.layers.add("LABEL", color=8)
    for ring in (drawing.blank, *drawing.holes):
        if ring:
            space.add_lwpolyline(ring, close=True, dxfattribs={"layer": "BLANK"})
    for slit in drawing.slits:
        space.add_lwpolyline(slit, dxfattribs={"layer": "BLANK"})
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
    return stream.getvalue().encode("utf-8")
