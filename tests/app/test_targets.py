"""What is pressed can be met: nothing smaller than 32 pixels at any stage, 44 in bench mode."""

from __future__ import annotations

from PySide6.QtWidgets import QAbstractButton, QComboBox, QLineEdit, QScrollArea, QWidget

from cozy_burrow.app.screens.cut.bench_mode import BenchMode
from cozy_burrow.core.model.stages import STAGES
from tests.app.qt import QtCase, settle
from tests.makers import van_drawer

TARGETS = (QAbstractButton, QComboBox, QLineEdit)
AT_THE_PLAN = {"lay-out", "sink", "grip", "cut"}  # Measure has all fields of a container, Keep a list
LEAST_PX, LEAST_AT_THE_BENCH_PX = 32, 44


def small(widget: QWidget, least_px: int) -> set[str]:
    """What is to be pressed in a widget and is smaller; rows inside of fields are their fields'."""
    return {
        f"{type(one).__name__} {one.accessibleName() or getattr(one, 'text', str)()!r} {one.width()}x{one.height()}"
        for one in widget.findChildren(QWidget)
        if isinstance(one, TARGETS)
        and one.isVisible()
        and min(one.width(), one.height()) < least_px
        and not isinstance(one.parent(), QComboBox)
        and one.objectName() != "qt_spinbox_lineedit"
    }


class Targets(QtCase):
    def test_every_button_and_field_of_every_stage_and_no_panel_at_the_plan_scrolls(self) -> None:
        window = self.window(van_drawer())
        for stage in STAGES:
            with self.subTest(stage):
                window.show_stage(stage)
                settle(window)
                self.assertEqual(small(window, LEAST_PX), set())
                scrolls = [one for one in window.findChildren(QScrollArea) if one.isVisible()]
                if stage in AT_THE_PLAN:
                    self.assertEqual([one.verticalScrollBar().maximum() for one in scrolls], [0] * len(scrolls))

    def test_at_the_bench_they_are_larger(self) -> None:
        window = self.window(van_drawer(), stage="cut")
        settle(window)
        window._command("cut.bench")
        mode = next(one for one in self.app.topLevelWidgets() if isinstance(one, BenchMode) and one.isVisible())
        self.app.processEvents()
        self.assertEqual(small(mode, LEAST_AT_THE_BENCH_PX), set())
        mode.close()
