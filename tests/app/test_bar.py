"""The bar above: names of stages before the words of undo and redo, where there is no room for all."""

from __future__ import annotations

from collections import Counter

from msgspec.structs import replace
from PySide6.QtGui import QIcon

from cozy_burrow.app.look.theme.theme import load_theme
from cozy_burrow.app.shell.bars import KeysShown
from cozy_burrow.app.shell.window import Window
from tests.app.qt import QtCase
from tests.makers import box, drawer, laid, project

PLAN = laid(project(box(60.0, 20.0, 12.0), bay=drawer(width=150.0, depth=120.0)), (75.0, 60.0))


class Bar(QtCase):
    def words(self, window: Window) -> list[str]:
        self.app.processEvents()
        return [window.bar.undo_button.text(), window.bar.redo_button.text()]

    def test_words_give_way_to_arrows_before_names_get_small(self) -> None:
        window = self.window(PLAN, scale=2.0)
        window.resize(2600, 1000)
        self.assertEqual(self.words(window), ["Undo", "Redo"])
        self.assertGreaterEqual(window.path.width(), window.path.readable_px)
        for width in (1280, 1100):
            window.resize(width, 800)
            self.assertEqual(self.words(window), ["", ""])
        for button, name in ((window.bar.undo_button, "Undo"), (window.bar.redo_button, "Redo")):
            self.assertEqual(button.accessibleName(), name)
            self.assertFalse(button.icon().isNull())
        window.resize(2600, 1000)
        self.assertEqual(self.words(window), ["Undo", "Redo"])
        self.assertTrue(window.bar.undo_button.icon().isNull())

    def test_usual_type_has_room_for_all(self) -> None:
        window = self.window(PLAN)
        self.assertEqual(self.words(window), ["Undo", "Redo"])
        (keys,) = window.statusBar().findChildren(KeysShown)
        self.assertEqual(keys.text(), keys.toolTip())

    def test_keys_are_shown_whole_or_not_at_all(self) -> None:
        window = self.window(PLAN, scale=2.0)
        window.plan.cursor_moved.emit((100.0, 50.0))  # where it is takes its room too
        shown = []
        for width in (2600, 1280, 1100):
            window.resize(width, 800)
            self.app.processEvents()
            (keys,) = window.statusBar().findChildren(KeysShown)
            self.assertLessEqual(keys.fontMetrics().horizontalAdvance(keys.text()), keys.width())
            self.assertTrue(keys.toolTip().startswith(keys.text()))
            shown.append(len(keys.text()))
        self.assertGreater(shown[0], shown[1])
        self.assertGreaterEqual(shown[1], shown[2])
        window.resize(800, 600)
        self.assertEqual(self.words(window), ["", ""])
        self.assertLess(window.width(), 900)  # nor does the bar hold a narrow window open

    def test_the_arrow_has_the_ink_of_the_theme_and_is_greyed_with_its_button(self) -> None:
        window = self.window(PLAN, scale=2.0)
        for theme in ("light", "lamp"):
            if window.theme_name != theme:
                window.flip_theme()
            self.words(window)
            ink = load_theme(theme).colour("ink")  # type: ignore[arg-type]
            button = window.bar.undo_button
            seen = {}
            for mode in (QIcon.Mode.Normal, QIcon.Mode.Disabled):
                image = button.icon().pixmap(button.iconSize(), mode).toImage()
                every = [image.pixelColor(x, y) for x in range(image.width()) for y in range(image.height())]
                inked = Counter(one.name() for one in every if one.alpha() > 250)
                self.assertGreater(inked.total(), 30)
                ((seen[mode], _),) = inked.most_common(1)
            self.assertEqual(seen[QIcon.Mode.Normal], ink.name())
            self.assertNotEqual(seen[QIcon.Mode.Disabled], ink.name())

    def test_a_longer_name_of_the_project_takes_room_too(self) -> None:
        window = self.window(PLAN, scale=2.0)
        window.resize(1500, 800)
        before = self.words(window)
        window.workspace.do("name", replace(window.workspace.project, title="a long name, really"))
        after = self.words(window)
        self.assertLessEqual(sum(map(len, after)), sum(map(len, before)))
        fits = window.path.width() >= window.path.readable_px
        self.assertTrue(fits or after == ["", ""])
