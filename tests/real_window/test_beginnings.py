"""A real window under Xvfb: from the start page to paper, and a photo into the kit."""

from __future__ import annotations

from tests.real_window.at_hand import RealWindow


class Beginnings(RealWindow):
    def test_a_drawer_from_the_start_page_to_paper(self) -> None:
        self.done("start")

    def test_a_photo_comes_into_the_kit_by_keys_and_mouse(self) -> None:
        self.done("capture")

    def test_two_photos_tell_thicknesses_and_what_they_hardly_show_is_mended(self) -> None:
        self.done("two_photos")
