"""The picture that a file manager shows of a project."""

from __future__ import annotations

import tempfile
import unittest
from contextlib import redirect_stderr
from io import StringIO
from pathlib import Path

import numpy as np
from PIL import Image

from cozy_burrow.cli.thumbnail import run
from cozy_burrow.core.model.records import Project
from cozy_burrow.storage.project_file import save
from tests.makers import box, laid, project


class Thumbnails(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.out = self.folder / "out.png"

    def test_a_project_is_shown_as_large_as_it_was_asked_for(self) -> None:
        path = self.folder / "my drawer.burrow"
        save(laid(project(box(80, 40, 12)), (100, 80)), path)
        for size in (64, 256):
            for name in (str(path), path.as_uri()):
                self.assertEqual(run([name, str(self.out), str(size)]), 0)
                picture = Image.open(self.out)
                self.assertEqual(max(picture.size), size)
                self.assertGreater(float(np.asarray(picture.convert("L")).std()), 3.0)  # there is something on it

    def test_an_empty_project_has_a_picture_too(self) -> None:
        save(Project(), self.folder / "empty.burrow")
        self.assertEqual(run([str(self.folder / "empty.burrow"), str(self.out), "128"]), 0)

    def test_what_is_no_project_has_none_and_nothing_is_written(self) -> None:
        (self.folder / "bad.burrow").write_bytes(b"no project")
        for name in ("bad.burrow", "gone.burrow"):
            self.assertEqual(run([str(self.folder / name), str(self.out), "128"]), 1)
        with redirect_stderr(StringIO()):
            for words in ([], ["a"], ["a", "b", "large"]):
                self.assertEqual(run(words), 2)
        self.assertFalse(self.out.exists())
