"""Drawings and tables are read beside the window: it stays free, can stop them, and takes in what belongs to it."""

from __future__ import annotations

import threading
from pathlib import Path
from unittest.mock import patch

from PySide6.QtWidgets import QFileDialog

from cozy_burrow.app.screens.gather import files_way
from cozy_burrow.app.screens.gather.add_panel import AddPanel
from cozy_burrow.app.shell.window import Window
from cozy_burrow.core.errors import Cancelled, UnusableInput
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.progress import Token
from cozy_burrow.jobs.drawings import DrawingReader
from tests.app.qt import QtCase, wait_until
from tests.app.screens import at_gather

SQUARE = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="40mm" viewBox="0 0 40 40">'
    "<path d='M5 5h20v9H5z'/></svg>"
)


class Files(QtCase):
    def setUp(self) -> None:
        super().setUp()
        self.files = Path(self.folder)
        (self.files / "plate.svg").write_text(SQUARE)
        (self.files / "broken.svg").write_text(SQUARE[:-20])
        (self.files / "kit.csv").write_text(
            "name,outline,thickness,colour of the handle\nplate,plate.svg,12\nother,plate.svg,6\n"
        )

    def panel(self, project: Project | None = None) -> tuple[Window, AddPanel]:
        window = self.window(project or Project(), stage="gather")
        panel = at_gather(window).add
        panel.show_way("Files")
        return window, panel

    def choose(self, panel: AddPanel, name: str) -> None:
        """Choose a file as somebody does who presses the button."""
        button = panel.files.choose_table if name.endswith("csv") else panel.files.choose_drawing
        with patch.object(QFileDialog, "getOpenFileName", return_value=(str(self.files / name), "")):
            button.click()

    def read(self, panel: AddPanel) -> None:
        self.assertTrue(wait_until(lambda: not panel.files.is_reading))

    def test_a_drawing_becomes_an_item_with_the_typed_name_and_thickness(self) -> None:
        window, panel = self.panel()
        panel.name.setText("base plate")
        panel.files.thickness.setText("12")
        self.choose(panel, "plate.svg")
        self.read(panel)
        (item,) = window.workspace.project.items
        self.assertEqual((item.name, item.thickness_mm), ("base plate", 12.0))
        self.assertEqual(panel.name.text(), "")
        panel.files.thickness.setText("9")
        self.choose(panel, "plate.svg")
        panel.name.setText("the next one")  # typed while the file is read
        self.read(panel)
        self.assertEqual([one.name for one in window.workspace.project.items], ["base plate", "plate"])
        self.assertEqual(panel.name.text(), "the next one")
        window.workspace.undo()
        self.assertEqual(len(window.workspace.project.items), 1)

    def test_a_table_brings_its_kit_and_says_what_means_nothing(self) -> None:
        window, panel = self.panel()
        self.choose(panel, "kit.csv")
        self.read(panel)
        self.assertEqual([one.name for one in window.workspace.project.items], ["plate", "other"])
        self.assertIn("colour of the handle", panel._refused.text())

    def test_what_cannot_be_used_is_told_and_a_missing_thickness_before_anything_is_read(self) -> None:
        window, panel = self.panel()
        self.choose(panel, "plate.svg")
        self.assertFalse(panel.files.is_reading)
        self.assertIn("Thickness", panel._refused.text())
        panel.files.thickness.setText("12")
        self.choose(panel, "broken.svg")
        self.read(panel)
        self.assertIn("broken.svg", panel._refused.text())
        self.assertEqual(window.workspace.project.items, ())

    def test_the_window_is_free_meanwhile_and_stop_ends_it(self) -> None:
        window, panel = self.panel()
        panel.files.thickness.setText("12")
        begun, stopped = threading.Event(), threading.Event()
        readers: list[bool] = []

        def slow(path: Path) -> None:
            readers.append(threading.current_thread() is threading.main_thread())
            begun.set()
            stopped.wait(3_600)
            raise Cancelled

        with (
            patch.object(files_way, "read_one_outline", slow),
            patch.object(files_way.READER, "stop", stopped.set),
        ):
            self.choose(panel, "plate.svg")
            self.assertTrue(wait_until(begun.is_set))
            self.assertTrue(panel.files.is_reading)
            self.assertFalse(panel.files._bar.isHidden())
            panel.files.stop()
            self.assertFalse(panel.files.is_reading)
            self.assertTrue(panel.files._bar.isHidden())
        self.assertEqual(readers, [False])
        self.choose(panel, "plate.svg")
        self.read(panel)
        self.assertEqual([one.name for one in window.workspace.project.items], ["plate"])

    def test_a_file_does_not_land_in_a_project_that_was_opened_meanwhile(self) -> None:
        window, panel = self.panel()
        go_on = threading.Event()
        read_kit = files_way.read_kit

        def slow(path: Path, *, unit: str, token: Token) -> object:
            go_on.wait(3_600)
            return read_kit(path, unit=unit, token=token)  # type: ignore[arg-type]

        with patch.object(files_way, "read_kit", slow):
            self.choose(panel, "kit.csv")
            window.workspace.open(Project(title="another"), None)
            go_on.set()
            self.read(panel)
        self.assertEqual(window.workspace.project.items, ())

    def test_a_reader_that_is_stopped_says_so_and_reads_the_next_file(self) -> None:
        reader = DrawingReader()
        self.addCleanup(reader.close)
        rays = "".join(f"M{n % 97} 0 L{(n * 61) % 89} 40 L{(n * 37) % 83} 20" for n in range(30_000))
        heavy = SQUARE.replace("M5 5h20v9H5z", rays).encode()
        ended: list[type[Exception]] = []

        def read() -> None:
            try:
                reader.read("svg", heavy, where="heavy.svg")
            except (Cancelled, UnusableInput) as error:
                ended.append(type(error))

        thread = threading.Thread(target=read)
        thread.start()
        self.assertTrue(wait_until(lambda: reader._child is not None))
        reader.stop()
        thread.join()
        self.assertEqual(ended, [Cancelled])
        (polygon, *_), _ = reader.read("svg", SQUARE.encode(), where="a.svg")
        self.assertAlmostEqual(polygon.area, 180.0, places=3)
