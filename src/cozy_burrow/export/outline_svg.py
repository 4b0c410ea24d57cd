"""One outline as an SVG file in millimetres, looking as it was drawn."""

from __future__ import annotations

from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.model.records import Outline, Ring


def ring_path(ring: Ring) -> str:
    """Return the path data of one closed ring."""
    return "M" + " L".join(f"{x:.4f} {y:.4f}" for x, y in ring) + " Z"


def outline_svg(outline: Outline) -> str:
    """Return an SVG document with one closed path (holes by the even-odd rule), in the outline's coordinates."""
    left, top, right, bottom = polygon_of(outline).bounds
    width, height = right - left, bottom - top
    data = " ".join(ring_path(ring) for ring in (outline.outer, *outline.holes))
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{width:.4f}mm" height="{height:.4f}mm" '
        f'viewBox="{left:.4f} {top:.4f} {width:.4f} {height:.4f}">\n'
        f'<path d="{data}" fill="#5a5a5a" fill-rule="evenodd"/>\n</svg>\n'
    )
