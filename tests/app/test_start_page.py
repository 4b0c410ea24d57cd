"""The start page: sizes to a drawn container, the last projects, the demo; out of the way once something is open."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from cozy_burrow.app.frame.hint import Hint
from cozy_burrow.app.shell.start_page import StartPage
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.model.records import Project
from cozy_burrow.storage.project_file import save
from tests.app.qt import QtCase, wait_until
from tests.makers import box, laid, project


class Starts(QtCase):
    def page(self, *recent: Path) -> tuple[Window, StartPage]:
        window = self.window(Project())
        for path in recent:
            window.settings.add_recent(path)
        page = StartPage(window)
        self.app.processEvents()
        return window, page

    def saved(self, name: str, plan: Project) -> Path:
        path = self.folder / f"{name}.burrow"
        save(plan, path)
        return path

    def test_a_drawer_by_the_keyboard_alone(self) -> None:
        window, page = self.page()
        self.assertTrue(page.isVisible())
        for text in ("432", "281 mm", "64"):
            field = self.app.focusWidget()
            assert field is not None
            QTest.keyClick(field, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
            QTest.keyClicks(field, text)
            QTest.keyClick(field, Qt.Key.Key_Return)
        self.assertIs(self.app.focusWidget(), page.cards["drawer"].button)
        QTest.keyClick(page.cards["drawer"].button, Qt.Key.Key_Space)
        container = window.workspace.container
        self.assertEqual((container.width_mm, container.depth_mm, container.height_mm), (432.0, 281.0, 64.0))
        self.assertEqual(window.stage, "measure")
        self.assertFalse(page.isVisible())
        self.assertFalse(window.workspace.is_dirty)

    def test_every_kind_begins(self) -> None:
        for kind in ("drawer", "case", "wall"):
            window, page = self.page()
            page.cards[kind].button.click()  # type: ignore[index]
            self.assertEqual(window.workspace.container.kind, kind)
            window.close()

    def test_a_size_that_cannot_be_is_said_and_nothing_begins(self) -> None:
        window, page = self.page()
        card = page.cards["case"]
        card.fields[0].setFocus()
        card.fields[0].selectAll()
        QTest.keyClicks(card.fields[0], "12")
        QTest.keyClick(card.fields[0], Qt.Key.Key_Return)
        card.button.click()
        self.assertTrue(page.isVisible())
        self.assertIn("12 mm", page.told.text())
        self.assertEqual(window.workspace.project, Project())

    def test_the_last_projects_are_shown_and_opened(self) -> None:
        first = self.saved("van", laid(project(box()), (150.0, 100.0)))
        broken = self.folder / "broken.burrow"
        broken.write_bytes(b"no project at all")
        window, page = self.page(broken, first)
        self.assertEqual([card.accessibleName() for card in page.recent], ["van", "broken"])
        self.assertTrue(wait_until(lambda: not page.reliefs.is_busy))
        shown = page.reliefs.of(first, 300)
        self.assertTrue(wait_until(lambda: page.reliefs.of(first, 300) is not None))
        del shown
        page.recent[0].click()
        self.assertEqual(window.workspace.path, first)
        self.assertFalse(page.isVisible())

    def test_without_any_the_demo_is_there_and_escape_leads_to_the_empty_kit(self) -> None:
        window, page = self.page()
        self.assertEqual([card.accessibleName() for card in page.recent], ["Open the demo"])
        QTest.keyClick(page, Qt.Key.Key_Escape)
        self.assertFalse(page.isVisible())
        window, page = self.page()
        page.recent[0].click()
        self.assertGreater(len(window.workspace.project.items), 20)
        self.assertFalse(page.isVisible())

    def test_going_to_a_stage_leaves_it(self) -> None:
        window, page = self.page()
        page.photograph.click()
        self.assertEqual(window.stage, "gather")
        self.assertFalse(page.isVisible())


class Hints(QtCase):
    def setUp(self) -> None:
        super().setUp()
        Hint.are_on = True
        self.addCleanup(setattr, Hint, "are_on", False)

    def hints(self, window: Window) -> list[Hint]:
        self.app.processEvents()
        return [one for one in window.findChildren(Hint) if one.isVisible()]

    def test_one_a_stage_and_gone_for_good_once_it_was_followed(self) -> None:
        window = self.window(laid(project(box()), (150.0, 100.0)), stage="gather")
        self.assertEqual(len(self.hints(window)), 1)
        window.show_stage("cut")
        (seen,) = self.hints(window)
        self.assertIn("Templates", seen.accessibleName())
        window.show_stage("gather")
        window.show_stage("cut")
        (seen,) = self.hints(window)
        seen.button.click()
        self.assertEqual(self.hints(window), [])
        window.show_stage("gather")
        window.show_stage("cut")
        self.assertEqual(self.hints(window), [])
        window.close()
        again = self.window(laid(project(box()), (150.0, 100.0)), stage="cut")
        self.assertEqual(self.hints(again), [])

    def test_they_stay_inside_the_window_and_beside_what_they_speak_of(self) -> None:
        for scale in (1.0, 2.0):
            window = self.window(laid(project(box()), (150.0, 100.0)), stage="lay-out", scale=scale)
            (seen,) = self.hints(window)
            self.assertTrue(window.rect().contains(seen.geometry()))
            window.close()
