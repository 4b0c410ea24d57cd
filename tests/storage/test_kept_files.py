"""Items and containers kept outside projects: written whole, read again, damaged ones said, two windows at once."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.kit.shapes import box_item
from cozy_burrow.core.model.records import Container, Item, Photo
from cozy_burrow.storage.kept_files import CONTAINERS, THINGS, slug

ROOT = Path(__file__).resolve().parents[2]
KEEPS_ON = """
import sys
from pathlib import Path
from tests.storage.test_kept_files import block
from cozy_burrow.storage.kept_files import THINGS
for number in range(10_000):
    THINGS.keep(Path(sys.argv[1]), block(f"block {number}"))
    print(number, flush=True)
"""


def block(name: str = "block", length: float = 50.0) -> Item:
    """Return a box."""
    return box_item("item-1", name, length_mm=length, width_mm=20, thickness_mm=12)


class KeptFiles(unittest.TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)

    def test_what_is_kept_is_read_again_with_its_photo(self) -> None:
        photo = Photo(jpeg=b"\xff\xd8\x00 bytes", left_mm=-2.0, top_mm=1.0, px_per_mm=4.0)
        thing = THINGS.keep(self.folder, replace(block("Stimmgabel, groß"), photo=photo, quantity=3, kept_as="x"))
        (read,) = THINGS.read(self.folder).kept
        self.assertEqual(read, thing)
        self.assertEqual((read.what.photo, read.what.quantity, read.what.kept_as), (None, 1, ""))  # a thousand are read
        self.assertEqual(THINGS.whole(self.folder, read.key).photo, photo)
        self.assertTrue(read.key.startswith("stimmgabel-gro"))

    def test_what_has_not_changed_is_not_read_again(self) -> None:
        kept = [THINGS.keep(self.folder, block(f"block {n}")) for n in range(3)]
        first = THINGS.read(self.folder)
        THINGS.keep(self.folder, block("block 1, longer", 60.0), before=kept[1])
        again = THINGS.read(self.folder, first)
        before = {one.key: one for one in first.kept}
        for one in again.kept:
            self.assertEqual(one is before[one.key], one.key != kept[1].key)
        self.assertIn("block 1, longer", [one.what.name for one in again.kept])

    def test_a_damaged_one_is_said_and_the_others_are_there(self) -> None:
        kept = [THINGS.keep(self.folder, block(f"block {n}")) for n in range(3)]
        path = self.folder / "things" / f"{kept[0].key}.json"
        path.write_bytes(path.read_bytes()[:200])
        (self.folder / "things" / "notes.txt").write_text("not one of ours")
        (self.folder / "things" / "newer.json").write_bytes(
            THINGS.to_bytes(block()).replace(b'"format": 1', b'"format": 9')
        )
        shelf = THINGS.read(self.folder)
        self.assertEqual({one.key for one in shelf.kept}, {one.key for one in kept[1:]})
        self.assertEqual(len(shelf.troubles), 2)
        self.assertIn(path.name, "\n".join(shelf.troubles))

    def test_two_windows_that_change_one_item_both_keep_theirs(self) -> None:
        base = THINGS.keep(self.folder, block())
        theirs = THINGS.keep(self.folder, block("block", 54.0), before=base)
        mine = THINGS.keep(self.folder, block("block", 57.0), before=base)
        self.assertEqual(theirs.key, base.key)
        self.assertNotEqual(mine.key, base.key)
        self.assertEqual(len(THINGS.read(self.folder).kept), 2)
        same = THINGS.keep(self.folder, block("block", 54.0), before=base)
        self.assertEqual(same.key, base.key)

    def test_what_is_removed_lies_beside(self) -> None:
        thing = THINGS.keep(self.folder, block())
        THINGS.remove(self.folder, thing.key)
        THINGS.remove(self.folder, thing.key)  # another window was first
        self.assertEqual(THINGS.read(self.folder).kept, ())
        self.assertTrue((self.folder / "things" / "removed" / f"{thing.key}.json").exists())

    def test_refusals_are_sentences(self) -> None:
        with self.assertRaises(UnusableInput):
            THINGS.from_bytes(b"{}", where="a.json")
        with self.assertRaises(UnusableInput):
            THINGS.from_bytes(THINGS.to_bytes(block()).replace(b"[", b"[1e999,", 1), where="a.json")
        (self.folder / "file").write_text("")
        with self.assertRaises(UnusableInput):
            THINGS.keep(self.folder / "file", block())
        self.assertEqual(THINGS.read(self.folder / "nowhere").kept, ())

    def test_a_kill_while_it_is_written_leaves_whole_files(self) -> None:
        env = os.environ | {"PYTHONPATH": f"{ROOT}{os.pathsep}{ROOT / 'src'}"}
        child = subprocess.Popen(
            [sys.executable, "-c", KEEPS_ON, str(self.folder)], stdout=subprocess.PIPE, env=env, text=True
        )
        assert child.stdout is not None
        for _ in range(20):
            self.assertTrue(child.stdout.readline())
        child.kill()
        child.wait()
        child.stdout.close()
        shelf = THINGS.read(self.folder)
        self.assertEqual(shelf.troubles, ())
        self.assertGreaterEqual(len(shelf.kept), 20)

    def test_names_of_files_are_plain(self) -> None:
        self.assertEqual(slug("../Ä/b c\x00"), "a-b-c")
        self.assertEqual(slug("🎹"), "item")

    def test_containers_are_kept_as_items_are(self) -> None:
        box = Container(id="container-7", name="Van drawer", width_mm=612.0, place="left, third")
        kept = CONTAINERS.keep(self.folder, box)
        (read,) = CONTAINERS.read(self.folder).kept
        self.assertEqual(read, kept)
        self.assertEqual((read.what.width_mm, read.what.place), (612.0, ""))
        with self.assertRaises(UnusableInput):
            CONTAINERS.keep(self.folder, replace(box, width_mm=-4.0))
        self.assertEqual(THINGS.read(self.folder).kept, ())
