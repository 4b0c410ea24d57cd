"""Does it close? A lid that is pulled up and down with a slider, and what it meets first."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QSlider, QVBoxLayout, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import soft, verdict
from cozy_burrow.app.look.motion import Glide
from cozy_burrow.core.ground.closing import Closing, closing_of
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.sink_words import closing_text

RAISED_MM = 60  # how far the slider lifts it
_TENTHS = 10
_SHUTS_MS = 450


class ClosingCard(QWidget):
    """Says how far the lid is raised; it stops on what stands too high."""

    lid_raised = Signal(float)

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._workspace, self._waits = workspace, False
        workspace.judged.connect(self._follow_judged)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(soft(tr("Does it close?")))
        self.verdict = verdict(
            tip=tr(
                "Each item's highest point as it sits, against the room under lid, frame or tier; lid "
                "foam gives as far as Measure says."
            )
        )
        layout.addWidget(self.verdict)
        self._row = QWidget()
        row = QHBoxLayout(self._row)
        row.setContentsMargins(0, 0, 0, 0)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, RAISED_MM * _TENTHS)
        self.slider.setPageStep(5 * _TENTHS)
        self.slider.setSingleStep(_TENTHS)
        self.slider.setInvertedAppearance(True)
        self.slider.setAccessibleName(tr("How far the lid is raised"))
        self.slider.setToolTip(tr("Lid up on the left, closed on the right"))
        self.slider.valueChanged.connect(self._slide)
        self.slider.sliderPressed.connect(self._stop)
        self.slider.actionTriggered.connect(lambda _: self._stop())
        self._going: int | None = None  # where the lid is on its way to
        self.glide = Glide(self.slider, lambda tenths: self.slider.setValue(round(tenths)), _SHUTS_MS)
        self.glide.finished.connect(self._stop)
        self.close_button = QPushButton(tr("Close the lid"))
        self.close_button.clicked.connect(self.toggle)
        row.addWidget(self.slider, 1)
        row.addWidget(self.close_button)
        layout.addWidget(self._row)

    @property
    def _closing(self) -> Closing | None:
        return closing_of(self._workspace.ground)

    def follow(self) -> None:
        """Show the document as it is now; the lid is met a little later where that is still worked out."""
        workspace = self._workspace
        self._waits = workspace.is_late and not closing_of.knows(workspace.ground)
        if self._waits:
            self.verdict.setText(tr("Checking…"))
            return
        closing = self._closing
        self.verdict.setText(closing_text(self._workspace.project, closing, self._workspace.ground))
        self._row.setVisible(closing is not None and closing.has_foam)
        self._slide(self.slider.value())

    def _follow_judged(self) -> None:
        if self._waits:
            self.follow()

    def toggle(self) -> None:
        """Close the lid as far as it goes, or raise it; on its way it turns back."""
        at, least = self.slider.value(), self._least()
        is_up = self._going != least if self._going is not None else at > least
        self._going = least if is_up else RAISED_MM * _TENTHS
        self.glide.begin(at, self._going)
        if not self.glide.is_moving:
            self._stop()

    def _stop(self) -> None:
        """The lid stays where it is: it is there, or a hand holds it."""
        self._going = None
        self.glide.stop()

    def _least(self) -> int:
        closing = self._closing
        # Without lid foam there is nothing to pull up and down: a drawer's frame stays where it is.
        return round(closing.open_mm * _TENTHS) if closing is not None and closing.has_foam else 0

    def _slide(self, tenths: int) -> None:
        least = self._least()
        if tenths < least:
            self.slider.setValue(least)  # it lies on what stands too high
            return
        self.close_button.setText(tr("Raise the lid") if tenths <= least else tr("Close the lid"))
        self.lid_raised.emit(tenths / _TENTHS if self._row.isVisibleTo(self) else 0.0)
