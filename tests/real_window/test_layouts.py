"""A real window under Xvfb: things laid out, put in order, and the whole job."""

from __future__ import annotations

from tests.real_window.at_hand import RealWindow


class Layouts(RealWindow):
    def test_a_drawer_is_laid_out_stopped_locked_picked_and_pushed(self) -> None:
        self.done("arrange")

    def test_a_box_for_ten_lines_that_catch_and_gaps_that_are_typed(self) -> None:
        self.done("order")

    def test_the_whole_job_by_keys_and_mouse(self) -> None:
        self.done("whole_job")
