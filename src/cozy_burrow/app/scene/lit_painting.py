"""Painting the plan as a lit picture: the whole of it at rest, in a drag bare foam and every thing as it was lit."""

from __future__ import annotations

from PySide6.QtCore import QObject, QPointF, QRectF, QTimer
from PySide6.QtGui import QPainter, QPixmap
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.look.motion import Glide
from cozy_burrow.app.look.painting import saved, sharpness
from cozy_burrow.app.scene.carried import Carried
from cozy_burrow.app.scene.relief import Relief, Shown
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.relief.picture import can_be_mended

_AT_REST_MS = 300  # after a picture was painted: then nobody is about to paint another
_PEELS_MS = 220
_DOT = 1.5  # pixels: a picture that is so much wider or narrower than its place has its scale


class LitPainting(QObject):
    """Paints what a relief has made; what a hand may carry is cut out of it in advance, while nothing else happens."""

    def __init__(self, relief: Relief, view: QWidget) -> None:
        super().__init__(view)
        self._relief = relief
        self._last: Shown | None = None
        self._fades: Shown | None = None  # the foam as it was before a layer was peeled off, over what it is now
        self._faded = 0.0
        self._peeling = Glide(view, self._fade, _PEELS_MS)
        self._carried: Carried | None = None  # since the hand moves
        self._ready: Carried | None = None
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._prepare)

    @property
    def is_moving(self) -> bool:
        """Whether one picture goes over into another."""
        return self._peeling.is_moving

    def _go_over(self, old: Shown | None, new: Shown) -> None:
        """Let an older picture of the same place vanish over a new one; a picture of the window waits for none."""
        is_other = old is not None and old.place == new.place and old.picture.ground is not new.picture.ground
        self._fades, self._faded = (old, 0.0) if is_other and not self._relief.at_once else (None, 1.0)
        if self._fades is not None:
            self._peeling.begin(0.0, 1.0)

    def _fade(self, share: float) -> None:
        self._faded = share
        if share >= 1.0:
            self._fades = None
        self._relief.changed.emit()

    def paint(self, painter: QPainter, ground: Ground, solid: float, *, like: bool = False) -> bool:
        """Paint a ground at rest; False where there is no picture of it yet.

        like: till then, another one will do, and then goes over into it.
        """
        sharp = sharpness(painter)
        shown = self._relief.shown(ground, painter.transform().m11() * sharp, solid, like=like)
        if shown is None:
            return False
        self._carried = None
        if shown is not self._last:
            self._go_over(self._last if like else None, shown)
            self._last = shown
        _put(painter, shown.pixmap, shown.place, sharp)
        if self._fades is not None:
            with saved(painter):
                painter.setOpacity(1.0 - self._faded)
                _put(painter, self._fades.pixmap, self._fades.place, sharp)
        if self._ready is None or self._ready.picture is not shown.picture:
            self._ready = None
            self._later.start(_AT_REST_MS)
        return True

    def _prepare(self) -> None:
        """Cut one more thing out of the picture, a few milliseconds at a time."""
        if self._carried is None:
            self._ready = self._ready or self._cut_out()
            if self._ready is not None and self._ready.make_one():
                self._later.start(0)

    def _cut_out(self) -> Carried | None:
        now, bare = self._relief.now, self._relief.bare()
        return Carried(now.picture, bare) if now is not None and bare is not None else None

    def paint_carried(self, painter: QPainter, ground: Ground, exposed: QRectF) -> set[str] | None:
        """Paint a ground under a moving hand; None where there is no picture that it could be made from.

        Return the placements that it is not made of: they must be drawn.
        """
        now = self._relief.now
        if self._carried is None and now is not None and self._ready is not None and self._ready.picture is now.picture:
            self._carried = self._ready
        carried = self._carried = self._carried or self._cut_out()
        if carried is None or not can_be_mended(carried.picture, ground):
            return None
        sharp = sharpness(painter)
        rows = list(carried.moved(ground))
        still = tuple(row for row, shift in rows if shift is not None and shift.isNull())
        foam = carried.at_rest(still)
        _put(painter, foam or carried.foam, carried.place, sharp)
        apart: set[str] = set()
        for row, shift in rows[len(still) if foam is not None else 0 :]:  # what lies still comes first
            if shift is None:
                apart |= row
            elif carried.is_seen(row, shift, exposed) and (sprite := carried.sprite(row)) is not None:
                _put(painter, sprite[0], sprite[1].translated(shift), sharp)
        return apart


def _put(painter: QPainter, picture: QPixmap, place: QRectF, sharp: float) -> None:
    """Paint a picture where it belongs in the plan: dot by dot where it has this scale, else as large as its place."""
    target = painter.transform().mapRect(place)
    with saved(painter):
        painter.resetTransform()
        if abs(target.width() * sharp - picture.width()) < _DOT:
            at = QPointF(round(target.x() * sharp) / sharp, round(target.y() * sharp) / sharp)
            target = QRectF(at.x(), at.y(), picture.width() / sharp, picture.height() / sharp)
        else:
            painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawPixmap(target, picture, QRectF(picture.rect()))
