"""The fit coupon at 1:1: one shape at graded allowances on one page, to cut in the real foam with the real blade."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from shapely.affinity import rotate, translate
from shapely.geometry import Polygon

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.axes import long_axis_deg
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit, format_length
from cozy_burrow.export.lettering import letter
from cozy_burrow.export.paper import BOLD, INK, REGULAR, Paper, register_fonts

_MARGIN_MM = 12.0
_WALL_MM = 14.0  # of foam between the pockets of a coupon
_HEAD_MM, _FOOT_MM = 34.0, 14.0
_BAR_MM = 100.0


def coupon_pdf(shapes: Sequence[tuple[float, Polygon]], *, name: str, foam: str, paper: Paper, units: Unit) -> bytes:
    """Return the coupon's page as the bytes of a PDF. Raises UnusableInput where the shapes do not go on the paper."""
    from reportlab.lib.units import mm
    from reportlab.pdfgen import canvas

    places = _places(shapes, paper)
    register_fonts()
    stream = io.BytesIO()
    page = canvas.Canvas(stream, invariant=1, pageCompression=1)
    page.setTitle(tr("Fit coupon 1:1"))
    page.setPageSize((paper.width_mm * mm, paper.height_mm * mm))
    page.scale(mm, mm)
    page.setFillColorRGB(*INK)
    page.setStrokeColorRGB(*INK)
    top = paper.height_mm - _MARGIN_MM
    letter(page, _MARGIN_MM, top - 5, tr("Fit coupon: {name}", name=name), font=BOLD, size=5.0)
    page.setFont(REGULAR, 3.2)
    lines = (
        tr(
            "Foam: {foam}. Cut each outline as you always do, one layer deep or two, with the blade that you will use.",
            foam=foam,
        ),
        tr(
            "Press the item in, turn the foam over, shake it, take it out again. The pocket that "
            "holds it, and still lets"
        ),
        tr(
            "it go, is yours: enter its figure at Grip, Does it stay?. A sharp blade; cut away from "
            "the hand that holds."
        ),
    )
    for number, line in enumerate(lines):
        page.drawString(_MARGIN_MM, top - 11 - 4.6 * number, line)
    for (grade, _), shape in zip(shapes, places):
        _shape(page, grade, shape, units)
    page.setLineWidth(0.3)
    page.line(_MARGIN_MM, _MARGIN_MM, _MARGIN_MM + _BAR_MM, _MARGIN_MM)
    for x in (_MARGIN_MM, _MARGIN_MM + _BAR_MM):
        page.line(x, _MARGIN_MM - 2, x, _MARGIN_MM + 2)
    page.setFont(REGULAR, 2.8)
    page.drawString(_MARGIN_MM, _MARGIN_MM + 2.5, tr("This bar is 100 mm. If it is not, print again at 100 %."))
    page.showPage()
    page.save()
    return stream.getvalue()


def _shape(page: Any, grade: float, shape: Polygon, units: Unit) -> None:
    page.setLineWidth(0.25)
    path = page.beginPath()
    first, *rest = list(shape.exterior.coords)
    path.moveTo(*first)
    for point in rest:
        path.lineTo(*point)
    path.close()
    page.drawPath(path, stroke=1, fill=0)
    left, low, right, _ = shape.bounds
    sign = (
        tr("on the line")
        if grade == 0
        else f"{format_length(abs(grade), units)} {(tr('smaller') if grade < 0 else tr('larger'))}"
    )
    page.setFont(BOLD, 3.4)
    page.drawCentredString((left + right) / 2, low - 5.0, sign)


def _places(shapes: Sequence[tuple[float, Polygon]], paper: Paper) -> list[Polygon]:
    """Return the shapes on the page, upright side by side in rows, in mm from its lower left corner."""
    stood = [rotate(shape, 90.0 - long_axis_deg(shape), origin="centroid") for _, shape in shapes]
    found: list[Polygon] = []
    x, row_high = _MARGIN_MM, 0.0
    y = paper.height_mm - _MARGIN_MM - _HEAD_MM
    for shape in stood:
        left, low, right, high = shape.bounds
        if x + right - left > paper.width_mm - _MARGIN_MM:
            x, y, row_high = _MARGIN_MM, y - row_high - _WALL_MM, 0.0
        row_high = max(row_high, high - low)
        found.append(translate(shape, x - left, y - high))
        x += right - left + _WALL_MM
        if y - row_high < _MARGIN_MM + _FOOT_MM or x - _WALL_MM > paper.width_mm - _MARGIN_MM + 1e-6:
            raise UnusableInput(
                tr("the coupon does not go on one page"), remedy=tr("take a smaller item, or larger paper")
            )
    return found
