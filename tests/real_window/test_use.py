"""A real window under Xvfb: a sheet is cut at the bench, and a drawer is in use."""

from __future__ import annotations

from tests.real_window.at_hand import RealWindow


class Use(RealWindow):
    def test_a_practice_piece_is_printed_cut_mended_and_noted(self) -> None:
        self.done("bench")

    def test_a_drawer_in_use_is_called_refitted_found_compared_and_labelled(self) -> None:
        self.done("keep")
