"""The screens of a window, each with its own class."""

from __future__ import annotations

from cozy_burrow.app.screens.cut.screen import CutScreen
from cozy_burrow.app.screens.gather.screen import GatherScreen
from cozy_burrow.app.screens.grip.screen import GripScreen
from cozy_burrow.app.screens.lay_out.screen import LayOutScreen
from cozy_burrow.app.screens.measure.screen import MeasureScreen
from cozy_burrow.app.screens.sink.screen import SinkScreen

at_gather = GatherScreen.of
at_measure = MeasureScreen.of
at_lay_out = LayOutScreen.of
at_sink = SinkScreen.of
at_grip = GripScreen.of
at_cut = CutScreen.of
