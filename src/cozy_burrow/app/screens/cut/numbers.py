"""Numbers over a plan, each near what it names and none over another: with a line to it where there is little room."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPen

from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.core.geometry.apart import apart_within
from cozy_burrow.core.model.records import Point

_STEP_PX = 3.0  # between numbers, and by which they make way
_REACH_CARDS = 2.5  # heights of a card that a number may stand away from its place
_MARGIN_PX = 2.0  # of the view
_DOT_PX = 3.5


@dataclass(frozen=True)
class Numbered:
    """A number, the place on the plan that it names, and where in the view it stands, in pixels; None: nowhere."""

    text: str
    at: Point
    stands: Point | None
    chosen: bool


def standing(overlay: Overlay, texts: Sequence[str], places: Sequence[Point]) -> list[Point | None]:
    """Return where in the view texts may stand, each near its place on the plan; None of one that finds no room."""
    sizes = [_size(overlay, text) for text in texts]
    at = [overlay.to_view(place).toTuple() for place in places]
    view = QRectF(overlay.view).adjusted(_MARGIN_PX, _MARGIN_PX, -_MARGIN_PX, -_MARGIN_PX)
    steps = math.ceil(_REACH_CARDS * _size(overlay, "")[1] / _STEP_PX)
    inside = view.left(), view.top(), view.right(), view.bottom()
    return apart_within(at, sizes, room=_STEP_PX, steps=steps, inside=inside)


def paint_numbers(overlay: Overlay, numbers: Sequence[Numbered]) -> None:
    """Paint numbers where they stand, with a line to what each names; a dot where there is no room for one."""
    for one in numbers:
        if one.stands is None or math.dist(one.stands, overlay.to_view(one.at).toTuple()) > _size(overlay, "")[1] / 2:
            _paint_place(overlay, one)
    for one in numbers:
        if one.stands is not None:
            wide, high = _size(overlay, one.text)
            card = QRectF(one.stands[0] - wide / 2, one.stands[1] - high / 2, wide, high)
            overlay.card(card, one.text, overlay.theme.colour(_role(one)), filled=one.chosen)


def _paint_place(overlay: Overlay, one: Numbered) -> None:
    """Paint what a number that stands elsewhere names."""
    painter, spot, colour = overlay.painter, overlay.to_view(one.at), overlay.theme.colour(_role(one))
    paper = overlay.theme.colour("paper")
    if one.stands is not None:
        for shade, width in ((paper, 4.0), (colour, 1.5)):
            painter.setPen(QPen(shade, width))
            painter.drawLine(spot, QPointF(*one.stands))
    painter.setBrush(colour)
    painter.setPen(QPen(paper, 1.5))
    painter.drawEllipse(spot, _DOT_PX, _DOT_PX)


def paint_corner(overlay: Overlay, text: str) -> None:
    """Paint a few letters in the corner of the view at the left and the front."""
    wide, high = _size(overlay, text)
    at = QPointF(overlay.view.left() + wide, overlay.view.bottom() - high)
    overlay.figure(text, at, overlay.theme.colour("line_strong"))


def _role(one: Numbered) -> str:
    return "accent" if one.chosen else "tool_line"


def _size(overlay: Overlay, text: str) -> Point:
    return overlay.metrics.horizontalAdvance(text) + 10, overlay.metrics.height() + 4
