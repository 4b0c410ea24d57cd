"""`roll-call` as scripts meet it: its answer, its status, its refusals."""

from __future__ import annotations

import json
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from cozy_burrow.demo.drawer import open_drawer
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.devices.simulated_drawer import DrawerCamera
from cozy_burrow.devices.simulated_scene import Stand
from cozy_burrow.storage.project_file import save
from tests.cli.test_cli import call
from tests.core.keep.test_roll_call import MARK_MM, PLAIN, key_of, small, small_project


class RollCallVerb(unittest.TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        self.file, self.photo = self.folder / "drawer.burrow", self.folder / "open.jpg"
        save(small_project(), self.file)

    def take(self, *missing: str, mark_mm: float | None = MARK_MM) -> None:
        left, back, right, front = small().extent
        stand = Stand(aim_mm=((left + right) / 2, (back + front) / 2), height_mm=320.0, width_px=1000, height_px=750)
        scene = open_drawer(small(), PLAIN, mark_mm=mark_mm, missing=[key_of(name) for name in missing])
        self.photo.write_bytes(DrawerCamera(scene, stand).take_photo())

    def test_what_is_missing_is_told_with_its_reason_and_status_1(self) -> None:
        self.take("tin")
        status, out, err = call("roll-call", self.file, self.photo, "--json")
        self.assertEqual((status, err), (1, ""))
        said = json.loads(out)
        self.assertEqual((said["insert"], said["marks_found"]), ("Drawer", 4))
        self.assertEqual(
            {(one["name"], one["copy"], one["state"]) for one in said["places"]},
            {("stone", 1, "filled"), ("driver", 1, "filled"), ("tin", 1, "empty")},
        )
        self.assertTrue(all(one["why"] for one in said["places"]))
        status, out, _ = call("roll-call", self.file, self.photo, "--insert", "drawer")
        self.assertEqual(status, 1)
        self.assertIn("tin: missing", out)
        self.assertIn("2 of 3 places filled", out)

    def test_all_there_is_status_0(self) -> None:
        self.take()
        status, out, err = call("roll-call", self.file, self.photo)
        self.assertEqual((status, err), (0, ""), out)

    def test_what_cannot_be_used_is_one_line_and_status_2(self) -> None:
        self.take(mark_mm=None)
        many = self.folder / "many.burrow"
        save(demo_project(), many)
        nothing = self.folder / "nothing.burrow"
        save(replace(small_project(), inserts=(replace(small_project().inserts[0], placements=()),)), nothing)
        (self.folder / "words.jpg").write_text("no picture")
        for words, told in (
            ((self.file, self.photo), "no corner mark is seen"),
            ((self.file, self.folder / "words.jpg"), "no picture"),
            ((self.file, self.folder / "gone.jpg"), "gone.jpg"),
            ((many, self.photo), "--insert"),
            ((many, self.photo, "--insert", "kitchen"), "no insert"),
            ((nothing, self.photo), "nothing lies"),
        ):
            with self.subTest(told):
                status, out, err = call("roll-call", *words)
                self.assertEqual((status, out), (2, ""))
                self.assertIn(told, err)
                self.assertEqual(len(err.strip().splitlines()), 1)


if __name__ == "__main__":
    unittest.main()
