"""Names without a space, of thousands of letters: nothing asks for more room than there is, and words stay whole."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtWidgets import QLabel, QWidget

from cozy_burrow.app.look.long_words import Words, breakable, row_of
from cozy_burrow.app.screens.lay_out.tray import TrayList
from cozy_burrow.core.model.records import Project
from tests.app.qt import QtCase
from tests.makers import van_drawer

ENDLESS = "W" * 5_000
WIDE = 1280


def with_endless_names(project: Project) -> Project:
    """A project in which everything that has a name has one of thousands of letters."""
    items = tuple(
        replace(
            item,
            name=ENDLESS + item.id,
            notes=ENDLESS,
            group=ENDLESS,
            zones=tuple(replace(zone, name=f"{ENDLESS}{number}") for number, zone in enumerate(item.zones)),
        )
        for item in project.items
    )
    return replace(
        project,
        title=ENDLESS,
        items=items,
        containers=tuple(replace(one, name=ENDLESS + one.id) for one in project.containers),
        inserts=tuple(replace(one, name=ENDLESS + one.id) for one in project.inserts),
    )


def wants(widget: QWidget) -> int:
    """How wide a widget has to be at least."""
    return max(widget.minimumSizeHint().width(), widget.minimumWidth())


class LongWords(QtCase):
    def test_no_name_makes_the_window_wider(self) -> None:
        window = self.window(with_endless_names(van_drawer()), stage="measure")
        window.resize(WIDE, 800)
        places = [one.id for one in window.workspace.insert.placements]
        for stage in ("measure", "gather", "lay-out", "sink", "grip", "cut"):
            window.show_stage(stage)
            for count in (0, 1, 3):
                window.workspace.select(tuple(places[:count]))
                self.app.processEvents()
                with self.subTest(stage=stage, selected=count):
                    self.assertEqual(window.width(), WIDE)
                    seen = [one for one in window.findChildren(QWidget) if one.isVisible()]
                    wide = [f"{type(one).__name__} {one.objectName()}" for one in seen if wants(one) > WIDE]
                    self.assertEqual(wide, [])

        plain = [
            one.objectName() for one in window.findChildren(QLabel) if one.wordWrap() and not isinstance(one, Words)
        ]
        self.assertEqual(plain, [], "a label that breaks lines, but not within a word")

    def test_rows_of_lists_end_where_a_row_ends(self) -> None:
        project = with_endless_names(van_drawer())
        waiting = replace(project, items=(replace(project.items[0], quantity=40), *project.items[1:]))
        window = self.window(waiting, stage="lay-out")
        tray = window.findChild(TrayList)
        assert tray is not None
        self.assertGreater(tray.count(), 30)
        self.assertLess(max(len(tray.item(row).text()) for row in range(tray.count())), 60)
        self.assertEqual(row_of("8 mm L-key"), "8 mm L-key")

    def test_words_that_are_words_stay_as_they_are(self) -> None:
        for text in ("", "Kronensteckschlüssel 12 mm", "a\n\nb  c", "Donaudampfschifffahrtsge"):
            self.assertEqual(breakable(text), text)

    def test_a_long_word_breaks_and_an_endless_one_ends(self) -> None:
        self.assertEqual(breakable("x " + "ab" * 15 + " y"), "x abababababab\u200babababababab\u200bababab y")
        self.assertTrue(breakable(ENDLESS).replace("\u200b", "").endswith("W…"))
        self.assertLess(len(breakable(ENDLESS)), 100)
