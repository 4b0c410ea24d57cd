"""A sheet as SVG in millimetres, y down from the back edge, groups by the same names as in the DXF."""

from __future__ import annotations

from html import escape  # xml.sax.saxutils says the same and brings the whole of urllib along

from cozy_burrow.core.model.records import Ring
from cozy_burrow.export.drawing import SheetDrawing, there_and_back
from cozy_burrow.export.own import BLANK_SEAL, sealed

_STROKES = ("#1d1a16", "#8a3b12", "#0b5d63", "#5b3d7a", "#6b6a1e", "#8c1d40")


def sheet_svg(drawing: SheetDrawing) -> bytes:
    """Return the sheet as the bytes of an SVG file."""
    height = drawing.height_mm

    def path(ring: Ring) -> str:
        return _line(ring) + " Z" if ring else ""

    def _line(points: Ring) -> str:
        return "M" + " L".join(f"{x:.4f} {height - y:.4f}" for x, y in points)

    outer = " ".join([*map(path, (drawing.blank, *drawing.holes, *map(there_and_back, drawing.slits)))])

    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{drawing.width_mm:.4f}mm" height="{height:.4f}mm" '
        f'viewBox="0 0 {drawing.width_mm:.4f} {height:.4f}">',
        f"<title>{escape(drawing.name)}</title>",
        f"<!-- {BLANK_SEAL} -->",
        f'<g id="BLANK" fill="none" stroke="#1d1a16" stroke-width="0.3"><path d="{outer}"/></g>',
    ]
    for number, rings in enumerate(drawing.pockets, start=1):
        if rings:
            paths = "".join(f'<path d="{path(ring)}"/>' for ring in rings)
            stroke = _STROKES[(number - 1) % len(_STROKES)]
            parts.append(f'<g id="POCKET_{number}" fill="none" stroke="{stroke}" stroke-width="0.25">{paths}</g>')
    texts = "".join(
        f'<text x="{label.at_mm[0]:.3f}" y="{height - label.at_mm[1]:.3f}">{escape(label.text)}</text>'
        for label in drawing.labels
    )
    parts.append(
        f'<g id="LABEL" font-family="Lato, sans-serif" font-size="4" text-anchor="middle" '
        f'dominant-baseline="middle" fill="#1d1a16">{texts}</g>'
    )
    parts.append("</svg>\n")
    return sealed("\n".join(parts).encode("utf-8"))
