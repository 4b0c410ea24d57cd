"""A real window under Xvfb: a survey becomes a template, and things are sunk and gripped."""

from __future__ import annotations

from tests.real_window.at_hand import RealWindow


class Foam(RealWindow):
    def test_a_survey_becomes_a_blank_and_a_template_by_keys_and_mouse(self) -> None:
        self.done("survey")

    def test_a_mallet_is_seated_closed_over_pulled_out_and_all_taken_back(self) -> None:
        self.done("sink")
