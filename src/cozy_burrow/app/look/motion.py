"""Movement that explains: how one state comes from another. Off where the desktop asks for less of it."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEasingCurve, QVariantAnimation
from PySide6.QtWidgets import QStyle, QWidget


def moves(view: QWidget) -> bool:
    """Return whether the person wants movement at all: the desktop says, and nobody sees a hidden view."""
    return view.isVisible() and view.style().styleHint(QStyle.StyleHint.SH_Widget_Animation_Duration) != 0


class Glide(QVariantAnimation):
    """Carries a figure from one value to another before the eye, easily begun and ended; at once where nobody wants it.

    step: told every value on the way, and the last one in any case.
    """

    def __init__(self, view: QWidget, step: Callable[[float], object], duration_ms: int) -> None:
        super().__init__(view)
        self._view, self._tell = view, step
        self.setDuration(duration_ms)
        self.setEasingCurve(QEasingCurve.Type.InOutCubic)
        self.valueChanged.connect(self._step)

    def begin(self, start: float, end: float) -> None:
        """Go from one value to the other; what was under way ends where it is."""
        self.stop()
        self.setStartValue(float(start))
        self.setEndValue(float(end))
        if moves(self._view):
            self.start()
        else:
            self._tell(float(end))

    @property
    def is_moving(self) -> bool:
        """Whether it is under way."""
        return self.state() == QVariantAnimation.State.Running

    def finish(self) -> None:
        """Be there at once."""
        if self.is_moving:
            self.stop()
            self._tell(float(self.endValue()))

    def _step(self, value: object) -> None:
        # Told once while it is set up, too: then nothing moves yet.
        if self.is_moving:
            assert isinstance(value, float)
            self._tell(value)
