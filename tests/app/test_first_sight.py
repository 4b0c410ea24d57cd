"""What is seen at once is the picture of this very document, or nothing; and it comes without the program's weight."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path
from unittest.mock import patch

from msgspec.structs import replace
from PySide6.QtCore import QBuffer
from PySide6.QtGui import QCloseEvent, QImage, QPixmap

from cozy_burrow.app.desk import first_sight
from cozy_burrow.app.frame.hint import Hint
from cozy_burrow.app.main import seen_at_once
from cozy_burrow.app.opening import keep_first_sight, open_window
from cozy_burrow.app.shell.window import Window
from cozy_burrow.app.start import Start
from cozy_burrow.core.model.records import Project
from cozy_burrow.storage.project_file import save
from tests.app.qt import QtCase, settle, wait_until
from tests.makers import box, laid, project, rod, van_drawer

ALONE = """
import sys
from cozy_burrow.app.main import seen_at_once
from cozy_burrow.app.start import Start
from pathlib import Path
still = seen_at_once(Start(file=Path(sys.argv[1])))
print(still is not None, sorted({"numpy", "shapely", "cozy_burrow.app.shell"} & set(sys.modules)))
"""


def small_drawer() -> Project:
    """A drawer that is soon lit and judged."""
    return laid(project(box(), rod()), (80, 60), (180, 120, 30))


class FirstSight(QtCase):
    def setUp(self) -> None:
        super().setUp()
        names = ("XDG_CACHE_HOME", "XDG_CONFIG_HOME", "XDG_STATE_HOME")
        self.own = {name: str(self.folder / name) for name in names}
        own = patch.dict(os.environ, self.own)
        own.start()
        self.addCleanup(own.stop)
        self.file = self.folder / "drawer.burrow"
        save(small_drawer(), self.file)
        self.wanted = Start(file=self.file)

    def opened(self) -> Window:
        window = open_window(self.wanted)[1]
        window.plan.wait_for_light()
        window.show()
        _ = window.workspace.findings
        settle(window)
        window.navigator.screen.catch_up()  # what a second of quiet would show
        self.app.processEvents()
        return window

    def keep(self, window: Window) -> None:
        self.assertTrue(wait_until(lambda: keep_first_sight(window, self.wanted, first_sight.place_of(self.wanted))))

    def left(self) -> Path:
        """Open the document, leave it, and return where its picture lies."""
        window = self.opened()
        self.keep(window)
        window.close()
        place = first_sight.place_of(self.wanted)
        assert place is not None
        return place

    def test_it_is_what_the_live_window_shows_to_the_dot(self) -> None:
        save(van_drawer(), self.file)
        self.assertIsNone(seen_at_once(self.wanted))
        kept = QImage(str(self.left()))
        still = seen_at_once(self.wanted)
        assert still is not None
        self.assertEqual(still.grab().toImage().convertToFormat(kept.format()), kept)
        still.close()
        window = open_window(self.wanted)[1]
        window.plan.wait_for_light()
        window.show()
        _ = window.workspace.findings
        settle(window)
        window.navigator.screen.catch_up()
        self.app.processEvents()
        self.assertEqual(window.grab().toImage().convertToFormat(kept.format()), kept)

    def test_another_document_or_look_has_none(self) -> None:
        self.left()
        for other in (
            replace(self.wanted, size=(1300, 800)),
            replace(self.wanted, theme="lamp"),
            replace(self.wanted, scale=1.5),
            replace(self.wanted, stage="grip"),
            replace(self.wanted, file=None),
            replace(self.wanted, file=self.folder / "no.burrow"),
            replace(self.wanted, file=self.folder),
            replace(self.wanted, file=Path("a\0b")),
            Start(demo=True),
        ):
            self.assertIsNone(seen_at_once(other), other)
        with patch.dict(os.environ, {"COZY_BURROW_LANGUAGE": "de"}):
            self.assertIsNone(seen_at_once(self.wanted))
        save(replace(small_drawer(), title="Another"), self.file)
        self.assertIsNone(seen_at_once(self.wanted))

    def test_what_is_no_longer_as_it_was_opened_is_not_kept(self) -> None:
        place = first_sight.place_of(self.wanted)
        assert place is not None
        window = self.opened()
        for change in (
            lambda: window.workspace.do("Rename", replace(window.workspace.project, title="Not saved")),
            lambda: window.show_stage("sink"),
            lambda: window.workspace.select((window.workspace.insert.placements[0].id,)),
            lambda: window.resize(1100, 800),
        ):
            change()
            self.assertTrue(keep_first_sight(window, self.wanted, first_sight.place_of(self.wanted)))
            self.assertFalse(place.exists())
            window.workspace.undo()
            window.show_stage("lay-out")
            window.workspace.select(())

    def test_a_hint_for_a_first_use_gets_into_no_picture(self) -> None:
        place = first_sight.place_of(self.wanted)
        assert place is not None
        with patch.object(Hint, "are_on", True):
            window = self.opened()
            self.app.processEvents()
            self.assertTrue(any(one.isVisible() for one in window.findChildren(Hint)))
            self.assertTrue(keep_first_sight(window, self.wanted, place))
        self.assertFalse(place.exists())

    def test_a_file_that_was_changed_meanwhile_gets_no_picture_of_what_it_was(self) -> None:
        place = first_sight.place_of(self.wanted)
        window = self.opened()
        save(replace(small_drawer(), title="Another"), self.file)
        self.assertTrue(keep_first_sight(window, self.wanted, place))
        window.flip_theme()
        now = first_sight.place_of(self.wanted)
        self.assertTrue(keep_first_sight(window, self.wanted, place))
        assert place is not None and now is not None
        self.assertEqual(list(place.parent.glob("*.png")), [])

    def test_a_damaged_picture_is_none(self) -> None:
        place = self.left()
        whole = place.read_bytes()
        another = QPixmap(900, 700)
        another.fill()
        buffer = QBuffer()
        another.save(buffer, "PNG")
        for bad in (b"", b"no picture", whole[: len(whole) // 3], bytes(buffer.data().data())):
            place.write_bytes(bad)
            self.assertIsNone(seen_at_once(self.wanted))

    def test_a_dozen_are_kept(self) -> None:
        place = self.left()
        for number in range(20):
            other = place.with_name(f"{number}.png")
            other.write_bytes(b"")
            os.utime(other, (number, number))
        first_sight.tidy(place.parent)
        self.assertEqual(len(list(place.parent.iterdir())), first_sight.MOST_KEPT)
        self.assertTrue(place.exists())
        self.assertFalse(place.with_name("0.png").exists())

    def test_a_folder_that_cannot_be_used_keeps_nothing_and_says_nothing(self) -> None:
        (self.folder / "XDG_CACHE_HOME").write_text("a file in its place")
        window = self.opened()
        self.keep(window)
        self.assertIsNone(seen_at_once(self.wanted))

    def test_whoever_closes_the_picture_wants_no_window(self) -> None:
        self.left()
        still = seen_at_once(self.wanted)
        assert still is not None
        still.close()
        self.assertFalse(still.is_unwanted)
        with patch.object(QCloseEvent, "spontaneous", lambda _: True):
            still.closeEvent(QCloseEvent())
        self.assertTrue(still.is_unwanted)

    def test_it_comes_without_the_weight_of_the_program(self) -> None:
        self.left()
        done = subprocess.run([sys.executable, "-c", ALONE, str(self.file)], capture_output=True, text=True, check=True)
        self.assertEqual(done.stdout.strip(), "True []")
