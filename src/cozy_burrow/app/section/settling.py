"""Things come to rest before the eye: from where they lay to where they now lie, and once to and fro if they rock.

Only the picture moves; the document is at rest from the start, and any key or press ends the movement.
"""

from __future__ import annotations

import math

from PySide6.QtCore import QEasingCurve, QVariantAnimation
from PySide6.QtWidgets import QWidget

from cozy_burrow.app.look.motion import moves
from cozy_burrow.app.section.painting import Motion, body_key
from cozy_burrow.core.ground.section import Body, SectionCut

SETTLES_MS = 320
ROCKS_MS = 900
Rings = dict[tuple[str, int, float], tuple[tuple[float, float], ...]]


class Settling(QVariantAnimation):
    """Moves the bodies of a section; `motion` is what the painter reads."""

    def __init__(self, view: QWidget) -> None:
        super().__init__(view)
        self._view = view
        self.motion = Motion()
        self._from: Rings = {}
        self._bodies: tuple[Body, ...] = ()
        self._rocking: frozenset[str] = frozenset()
        self.setStartValue(0.0)
        self.setEndValue(1.0)
        self.setEasingCurve(QEasingCurve.Type.Linear)
        self.valueChanged.connect(self._step)
        self.finished.connect(self._rest)

    def begin(self, before: SectionCut | None, after: SectionCut) -> None:
        """Move from one section to the next along the same line; None: there is nothing to move from."""
        moving = {body_key(body): self.motion.ring(body) for body in before.bodies} if before is not None else {}
        self.stop()
        self.motion.rings = {}
        known = {body_key(body): body for body in after.bodies}
        self._from = {
            key: ring
            for key, ring in moving.items()
            if key in known and len(ring) == len(known[key].ring) and ring != known[key].ring
        }
        moved = {key[0] for key in self._from}
        self._rocking = frozenset(body.placement for body in after.bodies if body.rocked and body.placement in moved)
        self._bodies = tuple(body for body in after.bodies if body.placement in moved)
        if not self._from or not moves(self._view):
            return
        self.setDuration(SETTLES_MS + (ROCKS_MS if self._rocking else 0))
        self.start()

    def finish(self) -> None:
        """Be at rest at once."""
        if self.state() == QVariantAnimation.State.Running:
            self.stop()
        self._rest()

    def _rest(self) -> None:
        if self.motion.rings:
            self.motion.rings = {}
            self._view.update()

    def _step(self, share: object) -> None:
        assert isinstance(share, float)
        at_ms = share * self.duration()
        settled = QEasingCurve(QEasingCurve.Type.OutBounce).valueForProgress(min(1.0, at_ms / SETTLES_MS))
        swing = math.sin(max(0.0, at_ms - SETTLES_MS) / ROCKS_MS * 2 * math.pi) ** 2
        rings: Rings = {}
        for body in self._bodies:
            key = body_key(body)
            ring = body.ring
            if key in self._from and settled < 1.0:
                ring = _between(self._from[key], ring, settled)
            elif body.placement in self._rocking and body.rocked:
                ring = _between(ring, body.rocked, swing)
            rings[key] = ring
        self.motion.rings = rings
        self._view.update()


def _between(
    first: tuple[tuple[float, float], ...], last: tuple[tuple[float, float], ...], share: float
) -> tuple[tuple[float, float], ...]:
    return tuple((a[0] + (b[0] - a[0]) * share, a[1] + (b[1] - a[1]) * share) for a, b in zip(first, last))
