"""The drawings of the help: what a word of the work looks like, in the theme's colours and without a word in them.

The page names a drawing as `picture:NAME` and says beside it what its numbers mean, in its own language.
"""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF

from cozy_burrow.app.checks.sketch import DRAWINGS
from cozy_burrow.app.look.draft import Draft, Drawing

SCHEME = "picture:"
_WIDE = 460.0


def _photo(draft: Draft) -> None:
    """A camera over the mat, seen from the front: both items and the border within its view."""
    draft.line([(230, 30), (60, 116)], dashed=True)
    draft.line([(230, 30), (400, 116)], dashed=True)
    draft.solid([(206, 6), (254, 6), (254, 22), (240, 22), (236, 30), (224, 30), (220, 22), (206, 22)])
    draft.paper([(40, 116), (420, 116), (420, 122), (40, 122)])
    draft.dots([(52 + 12 * n, 119) for n in range(31)])
    draft.box(QRectF(120, 96, 90, 20))
    draft.ball(QPointF(300, 103), 13)


def _edges(draft: Draft) -> None:
    """Three items on paper; the place where each outline is taken, with the line of sight or the pen."""
    for left in (20, 170, 320):
        draft.paper([(left, 92), (left + 125, 92), (left + 125, 98), (left, 98)])
    draft.box(QRectF(50, 52, 64, 40))
    draft.line([(114, 52), (140, 8)], dashed=True)
    draft.dots([(114, 52)])
    draft.ball(QPointF(228, 66), 26)
    draft.line([(254, 66), (272, 12)], dashed=True)
    draft.dots([(254, 66)])
    draft.box(QRectF(340, 52, 56, 40))
    draft.solid([(404, 92), (398, 80), (422, 20), (432, 24), (409, 84)])
    draft.dots([(404, 92)])
    for number, x in enumerate((36, 186, 332), start=1):
        draft.number(number, x, 24)


def _taper(draft: Draft) -> None:
    """A wall that leans inwards going down, and three sheets cut upright against it."""
    draft.solid([(300, 6), (330, 6), (296, 116), (266, 116)])
    for sheet, top in enumerate((6.0, 43.0, 80.0)):
        right = 300 - (top + 18) * 30 / 110 + 1.5
        draft.foam([(110, top), (right, top), (right, top + 35), (110, top + 35)])
        if sheet == 1:
            draft.number(1, right - 16, top + 9)
            draft.number(2, right - 16, top + 27)
    draft.arrow(QPointF(360, 48), QPointF(304, 48))
    draft.arrow(QPointF(360, 74), QPointF(292, 74))


def _walls(draft: Draft) -> None:
    """Three pockets from above, the foam between two of them and to the rim."""
    draft.top(QRectF(90, 6, 280, 112))
    for left in (130, 190, 280):
        draft.opening(QRectF(left, 24, 36, 76))
    draft.arrow(QPointF(178, 62), QPointF(167, 62))
    draft.arrow(QPointF(178, 62), QPointF(189, 62))
    draft.number(1, 178, 44)
    draft.arrow(QPointF(343, 62), QPointF(317, 62))
    draft.arrow(QPointF(343, 62), QPointF(369, 62))
    draft.number(2, 343, 44)


def _seats(draft: Draft) -> None:
    """A cut through foam with five seats of one and the same item, a lid over all of them."""
    top, floor, thick = 52.0, 116.0, 34.0
    draft.foam([(10, top), (450, top), (450, floor), (10, floor)])
    draft.layers(10, 450, [top + 12.8 * n for n in range(1, 5)])
    draft.lid(QRectF(10, 22, 440, 8))
    for number, sunk in enumerate((17.0, 34.0, 24.0, 12.0, 50.0)):
        left = 34 + number * 86
        draft.air(QRectF(left, top, 46, sunk))
        draft.box(QRectF(left + 2, top + sunk - thick, 42, thick))
        draft.number(number + 1, left + 23, 10)


def _layers(draft: Draft) -> None:
    """A driver in a cut along its middle: the handle in a deeper pocket than the shaft."""
    draft.foam([(10, 34), (450, 34), (450, 112), (10, 112)])
    draft.air(QRectF(60, 34, 150, 46))
    draft.air(QRectF(210, 34, 180, 18))
    draft.layers(10, 450, [34 + 13 * n for n in range(1, 6)])
    draft.box(QRectF(64, 20, 146, 58))
    draft.box(QRectF(210, 44, 176, 8))


def _pulls(draft: Draft) -> None:
    """Five kinds of finger pulls from above."""
    draft.top(QRectF(6, 24, 448, 96))
    for left in (38.0, 112.0, 142.0, 202.0, 292.0, 394.0):
        narrow = left in (112.0, 142.0)
        draft.opening(QRectF(left, 34, 16 if narrow else 24, 76))
    draft.pull(QRectF(22, 58, 24, 24), round_by=12)
    draft.pull(QRectF(54, 58, 24, 24), round_by=12)
    draft.pull(QRectF(98, 62, 74, 16), round_by=8)
    draft.pull(QRectF(194, 64, 10, 16), round_by=5)
    draft.pull(QRectF(224, 64, 10, 16), round_by=5)
    draft.pull(QRectF(292, 84, 24, 26), round_by=2)
    for left in (39.0, 113.0, 143.0, 203.0, 293.0, 395.0):
        draft.box(QRectF(left, 36, 14 if left in (113.0, 143.0) else 22, 72))
    draft.line([(384, 72), (428, 72)], thick=6)
    draft.arrow(QPointF(304, 78), QPointF(304, 102))
    for number, x in enumerate((50, 135, 214, 304, 406), start=1):
        draft.number(number, x, 12)


def _order(draft: Draft) -> None:
    """Openings from above with the order in which they are cut: outer corners first, the middle last."""
    draft.top(QRectF(60, 6, 340, 112))
    places = [(76, 16), (324, 16), (324, 78), (76, 78), (150, 47), (252, 47), (201, 47)]
    for number, (left, up) in enumerate(places, start=1):
        wide = 30 if left == 201 else 60 if left in (76, 324) else 40
        draft.opening(QRectF(left, up, wide, 30))
        draft.number(number, left + wide / 2, up + 15)


def _marks(draft: Draft) -> None:
    """An open drawer as a hand holds the camera: the foam from the front, a mark in each of its corners."""
    draft.solid([(120, 4), (340, 4), (410, 116), (50, 116)])
    draft.foam([(128, 10), (332, 10), (394, 108), (66, 108)])
    for number, (x, y, size) in enumerate(((134, 14, 14), (312, 14, 14), (364, 88, 18), (78, 88, 18)), start=1):
        draft.paper([(x, y), (x + size, y), (x + size, y + size * 0.8), (x, y + size * 0.8)])
        draft.dots([(x + size * 0.35, y + size * 0.4), (x + size * 0.65, y + size * 0.4)])
        draft.number(number, x + (34 if number in {1, 4} else -18), y + size * 0.5)
    for left, wide in ((170, 24), (214, 60), (290, 16)):
        draft.opening(QRectF(left, 36, wide, 50))


PICTURES: dict[str, Drawing] = {
    "photo": Drawing(_WIDE, 126, _photo),
    "edges": Drawing(_WIDE, 102, _edges),
    "taper": Drawing(_WIDE, 120, _taper),
    "walls": Drawing(_WIDE, 124, _walls),
    "seats": Drawing(_WIDE, 120, _seats),
    "layers": Drawing(_WIDE, 116, _layers),
    "pulls": Drawing(_WIDE, 124, _pulls),
    "order": Drawing(_WIDE, 124, _order),
    "marks": Drawing(_WIDE, 120, _marks),
    **DRAWINGS,
}
