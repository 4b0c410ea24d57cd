"""Where an item lies, over all projects of a folder."""

from __future__ import annotations

import pickle
import tempfile
import unittest
from pathlib import Path

from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.edits import change_container
from cozy_burrow.core.model.records import Photo, Project
from cozy_burrow.core.progress import Quiet
from cozy_burrow.jobs.find import as_before, found_in, read_projects
from cozy_burrow.storage.project_file import save
from tests.makers import box, laid, project, rod


def two(first: str, second: str) -> Project:
    """Two things, of which the first has a place."""
    return laid(project(box(name=first), rod(name=second)), (60, 60))


class Find(unittest.TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        plan = two("voicing tool", "felt strip")
        save(
            change_container(plan, replace(plan.containers[0], name="Van drawer", place="left, third")),
            self.folder / "a.burrow",
        )
        (self.folder / "jobs" / "old").mkdir(parents=True)
        save(two("felt knife", "voicing needle"), self.folder / "jobs" / "old" / "b.burrow")

    def test_what_lies_somewhere_comes_first_with_its_place(self) -> None:
        folder = read_projects(self.folder, token=Quiet())
        found = found_in(folder, "voic")
        self.assertEqual([one.name for one in found], ["voicing tool", "voicing needle"])
        self.assertEqual(found[0].where, "left, third, Van drawer, Drawer")
        self.assertEqual((found[0].insert_id, found[0].key), ("insert-1", "item-1#1"))
        self.assertEqual(found[1].insert_id, "")
        self.assertIn("not placed yet", found[1].where)
        self.assertEqual(found_in(folder, "  "), ())
        self.assertEqual(found_in(folder, "hammer"), ())

    def test_who_has_a_thing_as_it_was_before_it_was_measured_anew(self) -> None:
        for name, length in (("a", 60.0), ("b", 64.0), ("c", 60.0)):
            thing = replace(box(length, name="rule"), kept_as="rule-1")
            save(replace(project(thing, box(name="x")), title=f"drawer {name}"), self.folder / f"{name}.burrow")
        folder = read_projects(self.folder, token=Quiet())
        now = replace(box(64.0, name="rule"), kept_as="rule-1")
        self.assertEqual(as_before(folder, "rule-1", now, besides=self.folder / "a.burrow"), ("drawer c",))
        self.assertEqual(as_before(folder, "rule-2", now, besides=self.folder), ())
        heavier = replace(now, mass_g=80.0)
        self.assertEqual(len(as_before(folder, "rule-1", heavier, besides=self.folder)), 3)

    def test_damaged_files_are_said_and_unchanged_ones_not_read_again(self) -> None:
        (self.folder / "c.burrow").write_bytes(b"no archive")
        (self.folder / ".hidden.burrow").write_bytes(b"no archive")
        first = read_projects(self.folder, token=Quiet())
        self.assertEqual(len(first.projects), 2)
        self.assertEqual(len(first.troubles), 1)
        self.assertIn("c.burrow", first.troubles[0])
        again = read_projects(self.folder, first, token=Quiet())
        for path, one in first.projects.items():
            self.assertIs(again.projects[path], one)
        save(two("hammer", "anvil"), self.folder / "c.burrow")
        self.assertEqual(len(found_in(read_projects(self.folder, first, token=Quiet()), "ham")), 1)

    def test_nothing_large_is_remembered_of_a_project(self) -> None:
        plan = two("voicing tool", "felt strip")
        photo = Photo(jpeg=bytes(200_000), left_mm=0.0, top_mm=0.0, px_per_mm=4.0)
        save(replace(plan, items=tuple(replace(one, photo=photo) for one in plan.items)), self.folder / "a.burrow")
        folder = read_projects(self.folder, token=Quiet())
        self.assertLess(len(pickle.dumps([one.items for one in folder.projects.values()])), 20_000)

    def test_a_folder_that_is_none_is_refused_and_links_do_not_go_round(self) -> None:
        with self.assertRaises(UnusableInput):
            read_projects(self.folder / "nowhere", token=Quiet())
        (self.folder / "jobs" / "up").symlink_to(self.folder)
        self.assertEqual(len(read_projects(self.folder, token=Quiet()).projects), 2)
