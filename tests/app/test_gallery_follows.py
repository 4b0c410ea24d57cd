"""The gallery shows the item that is in hand, whatever was chosen before and however wide the window is."""

from __future__ import annotations

from cozy_burrow.app.screens.gather.gallery import Gallery
from cozy_burrow.core.model.records import Item, Project
from cozy_burrow.demo.shipped import demo_project
from tests.app.qt import QtCase, settle
from tests.app.screens import at_gather


class Follows(QtCase):
    def assert_seen(self, gallery: Gallery, item: Item) -> None:
        row = gallery.kit.row_of(item.id)
        self.assertEqual(gallery.currentIndex().row(), row, item.name)
        card = gallery.visualRect(gallery.currentIndex())
        self.assertTrue(gallery.viewport().rect().contains(card), f"{item.name}: {card}")

    def test_the_card_of_what_was_chosen_on_the_plan_is_seen_at_the_first_look(self) -> None:
        project = demo_project()
        for item in (project.items[0], project.items[len(project.items) // 2], project.items[-1]):
            window = self.window(project, stage="lay-out")
            window.workspace.choose_item(item.id)
            settle(window)
            window.show_stage("gather")
            settle(window)
            self.assert_seen(at_gather(window).gallery, item)

    def test_and_stays_in_sight_in_a_window_of_other_columns(self) -> None:
        project = demo_project()
        window = self.window(project, stage="gather")
        gallery = at_gather(window).gallery
        for item in project.items[::7]:
            window.workspace.choose_item(item.id)
            for width in (1000, 1700, 1280):
                window.resize(width, 760)
                settle(window)
                self.assert_seen(gallery, item)

    def test_cards_are_painted_by_what_the_gallery_knows_while_others_hear_of_another_document_first(self) -> None:
        """Qt paints at once what waits to be painted where one of them sets a progress bar."""
        window = self.window(demo_project(), stage="lay-out")
        seen = []

        def painted() -> None:
            gallery = at_gather(window).gallery
            seen.append(gallery.kit.rowCount())
            gallery.grab()

        window.workspace.document_changed.connect(painted)  # before the gallery, which is made when it is first shown
        window.show_stage("gather")
        settle(window)
        window.workspace.open(Project(), None)
        self.assertGreater(seen[-1], 0)
        settle(window)
        self.assertEqual(at_gather(window).gallery.kit.rowCount(), 0)
