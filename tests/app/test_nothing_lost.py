"""Nothing is lost without a word: saving, restoring, other windows, the retouch bench, folders that can't be used."""

from __future__ import annotations

import json
import os
import threading
import unittest
import zipfile
from pathlib import Path
from typing import Any
from unittest.mock import patch

import numpy as np
from msgspec.structs import replace
from PySide6.QtWidgets import QFileDialog, QMessageBox
from shapely.geometry import box as rectangle

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.project_desk import free_place
from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.opening import open_window
from cozy_burrow.app.shell.window import Window
from cozy_burrow.app.start import Start
from cozy_burrow.core.capture.retouch.draft import Table, plain_draft, with_thickness
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import outline_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.jobs.capture import Backdrop, Capture, Recipe
from cozy_burrow.storage.project_file import FORMAT, MEMBER, load, save
from cozy_burrow.storage.recovery import RecoveryStore
from tests.app.qt import QtCase, wait_until
from tests.app.screens import at_gather
from tests.makers import van_drawer


def titled(title: str) -> Project:
    return replace(van_drawer(), title=title)


def capture() -> Capture:
    """A bench with two drafts on a picture that cannot be read again."""
    drafts = tuple(
        plain_draft(outline_of(rectangle(x, 0, x + 40, 20)), name=f"at {x}", way="scan", source="a", sure_mm=0.1)
        for x in (0, 60)
    )
    pixels = np.full((80, 160, 3), 240, dtype=np.uint8)
    recipe = Recipe(way="scan", source="a.png", dpi=300.0)
    return Capture(Table(drafts=drafts), Backdrop(pixels, (0.0, 0.0), 0.5), None, "a scan", recipe, b"no picture")


class Case(QtCase):
    def rename(self, window: Window, title: str) -> None:
        window.workspace.do("Rename", replace(window.workspace.project, title=title))

    def warned(self) -> Any:
        return patch.object(QMessageBox, "warning")

    def mend_on_bench(self, window: Window) -> None:
        window.retouch.open(capture())
        window.retouch.do_draft("Thicker", lambda one: with_thickness(one, None, thickness_mm=14.0))


class Saving(Case):
    def setUp(self) -> None:
        super().setUp()
        self.path = self.folder / "kit.burrow"
        save(titled("on disk"), self.path)

    def opened(self) -> Window:
        window = self.window(Project())
        window.desk.open_path(self.path)
        return window

    def test_what_could_not_be_opened_is_not_written_over_what_can(self) -> None:
        window = self.opened()
        insert = window.workspace.insert
        twice = replace(insert, placements=(*insert.placements, insert.placements[0]))
        # As a bug would have it: past the door that refuses it.
        history = window.workspace.history
        broken = replace(window.workspace.project, inserts=(twice,), title="broken")
        window.workspace.history = replace(history, steps=(*history.steps, replace(history.steps[0], project=broken)))
        window.workspace.history = replace(window.workspace.history, index=1)
        with self.warned() as warning:
            self.assertFalse(window.desk.save())
        self.assertIn("same id", warning.call_args.args[2])
        self.assertIn("recovery copy", warning.call_args.args[2])
        self.assertEqual(load(self.path).title, "on disk")
        left = load(window.autosave.store.copy_path)
        self.assertEqual(left.title, "broken")  # opens without what lay twice
        self.assertEqual(left.inserts[0].placements, insert.placements)

    def test_a_newer_programs_project_opens_as_a_copy_that_is_saved_elsewhere(self) -> None:
        save(titled("of the future"), self.path)
        with zipfile.ZipFile(self.path) as archive:
            document = json.loads(archive.read(MEMBER))
        document["format"] = FORMAT + 1
        document["project"]["holograms"] = []
        with zipfile.ZipFile(self.path, "w") as archive:
            archive.writestr(MEMBER, json.dumps(document))
        before = self.path.read_bytes()
        window = self.opened()
        self.assertEqual(window.workspace.project, titled("of the future"))
        self.assertIsNone(window.workspace.path)
        self.assertIn("newer program", window.notices.text)
        beside = self.folder / "mine.burrow"
        with patch.object(QFileDialog, "getSaveFileName", return_value=(str(beside), "")):
            self.assertTrue(window.desk.save())
        self.assertEqual((self.path.read_bytes(), load(beside)), (before, titled("of the future")))
        self.assertEqual(window.notices.text, "")

    def test_a_damaged_project_opens_and_says_what_was_left_out(self) -> None:
        plan = titled("damaged")
        insert = plan.inserts[0]
        broken = replace(plan, inserts=(replace(insert, placements=(*insert.placements, insert.placements[0])),))
        with patch("cozy_burrow.storage.project_file.checked_bytes", side_effect=_unchecked):
            save(broken, self.path)
        window = self.opened()
        self.assertEqual(window.workspace.project, plan)
        self.assertIn("1 lay twice", window.notices.text)
        self.assertTrue(window.workspace.is_dirty)

    def test_a_typed_name_gets_its_ending_before_it_is_looked_for(self) -> None:
        """`kit` would have gone over `kit.burrow`, and `kit v1.5` over `kit v1.burrow`, unasked."""
        (self.folder / "kit v1.burrow").write_bytes(b"another one")
        window = self.window(titled("new"))
        for typed, wanted in (("kit", "kit.burrow"), ("kit v1.5", "kit v1.5.burrow"), ("a.BURROW", "a.BURROW")):
            with self.subTest(typed), patch.object(QFileDialog, "getSaveFileName", return_value=(typed, "")):
                self.answers = ["Cancel"]
                os.chdir(self.folder)
                found = ask.target(window, "Save", "x", "", ".burrow")
                self.assertEqual(found and found.name, None if typed == "kit" else wanted)
        self.assertEqual(len(self.asked), 1)
        self.assertIn("kit.burrow", self.asked[0])

    def test_every_dialog_that_writes_asks_in_this_way(self) -> None:
        """A file name dialog of Qt's own asks too early, about a name that has no ending yet."""
        source = Path(ask.__file__).parent
        users = [path.name for path in source.rglob("*.py") if "getSaveFileName" in path.read_text()]
        self.assertEqual(users, ["ask.py"])

    def test_choosing_another_name_asks_again(self) -> None:
        window = self.window(titled("new"))
        self.answers = ["Choose another name"]
        names = iter([(str(self.path), ""), (str(self.folder / "b"), "")])
        with patch.object(QFileDialog, "getSaveFileName", side_effect=lambda *_, **__: next(names)):
            self.assertTrue(window.desk.ask_save())
        self.assertEqual(load(self.path).title, "on disk")
        self.assertEqual(load(self.folder / "b.burrow").title, "new")

    def test_a_relative_name_is_remembered_whole(self) -> None:
        window = self.window(titled("x"))
        os.chdir(self.folder)
        window.desk.save_to(Path("here.burrow"))
        self.assertEqual(window.workspace.path, Path.cwd() / "here.burrow")
        self.rename(window, "y")
        window.autosave.keep()
        left = window.autosave.store.bring_back(window.autosave.store.copy_path)
        self.assertEqual(left.original, Path.cwd() / "here.burrow")


def _unchecked(project: Project) -> bytes:
    from cozy_burrow.storage.project_file import to_bytes

    return to_bytes(project)


class OtherWindows(Case):
    def setUp(self) -> None:
        super().setUp()
        self.path = self.folder / "kit.burrow"
        save(titled("first"), self.path)
        self.mine = self.window(Project())
        self.mine.desk.open_path(self.path)
        self.rename(self.mine, "mine")

    def theirs(self) -> None:
        save(titled("theirs"), self.path)

    def test_a_second_window_says_that_there_is_a_first(self) -> None:
        self.assertEqual(self.mine.notices.text, "")
        second = self.window(Project())
        second.desk.open_path(self.path)
        self.assertIn("open in another window", second.notices.text)
        self.assertIn(str(os.getpid()), second.notices.detail)
        second.desk.save_to(self.folder / "elsewhere.burrow")
        self.assertEqual(second.notices.text, "")

    def test_keep_mine_keeps_theirs_beside_it(self) -> None:
        self.theirs()
        self.answers = ["Keep mine"]
        self.assertTrue(self.mine.desk.save())
        self.assertEqual(load(self.path).title, "mine")
        self.assertEqual(load(self.folder / "kit.burrow~").title, "theirs")
        self.rename(self.mine, "mine again")
        self.assertTrue(self.mine.desk.save())  # nobody asks again about what this window wrote itself
        self.assertEqual(len(self.asked), 1)

    def test_take_theirs_is_a_step_of_undo(self) -> None:
        self.theirs()
        self.answers = ["Take theirs"]
        self.assertFalse(self.mine.desk.save())
        self.assertEqual(self.mine.workspace.project.title, "theirs")
        self.assertFalse(self.mine.workspace.is_dirty)
        self.mine.undo()
        self.assertEqual(self.mine.workspace.project.title, "mine")
        self.assertTrue(self.mine.workspace.is_dirty)
        self.assertEqual(load(self.path).title, "theirs")

    def test_save_beside_leaves_both(self) -> None:
        self.theirs()
        self.answers = ["Save beside"]
        self.assertTrue(self.mine.desk.save())
        self.assertEqual(load(self.path).title, "theirs")
        self.assertEqual(load(self.folder / "kit-2.burrow").title, "mine")
        self.assertEqual(self.mine.workspace.path, self.folder / "kit-2.burrow")
        self.assertEqual(free_place(self.path), self.folder / "kit-3.burrow")

    def test_cancel_changes_nothing_and_a_touched_file_is_no_change(self) -> None:
        os.utime(self.path)
        self.assertTrue(self.mine.desk.save())
        self.assertEqual(self.asked, [])
        self.theirs()
        self.rename(self.mine, "later")
        self.answers = ["Cancel"]
        self.assertFalse(self.mine.desk.save())
        self.assertEqual(load(self.path).title, "theirs")
        self.assertTrue(self.mine.workspace.is_dirty)

    def test_a_file_that_was_taken_away_is_written_again(self) -> None:
        self.path.unlink()
        self.assertTrue(self.mine.desk.save())
        self.assertEqual(load(self.path).title, "mine")

    def test_prices_of_two_windows_are_both_kept(self) -> None:
        first, second = StoresDesk(Settings(self.folder)), StoresDesk(Settings(self.folder))
        boards = first.stores.boards
        first.take(replace(first.stores, boards=(replace(boards[0], price=11.0), *boards[1:])))
        second.take(replace(second.stores, boards=(boards[0], replace(boards[1], price=22.0), *boards[2:])))
        self.assertEqual([one.price for one in second.stores.boards[:2]], [11.0, 22.0])
        heard: list[int] = []
        first.changed.connect(lambda: heard.append(1))
        first.look_again()
        first.look_again()
        self.assertEqual([one.price for one in first.stores.boards[:2]], [11.0, 22.0])
        self.assertEqual(heard, [1])


class Restoring(Case):
    def left_behind(self, title: str = "restored", original: Path | None = None) -> Path:
        """Leave a copy as a killed program does."""
        store = RecoveryStore(self.folder)
        store.keep(titled(title), original)
        os.close(store._lock)
        return store.copy_path

    def test_restoring_is_a_step_of_undo_and_keeps_each_project_in_its_place(self) -> None:
        place = self.folder / "restored.burrow"
        save(titled("older"), place)
        copy = self.left_behind(original=place)
        window = self.window(titled("an hour of work"))
        self.rename(window, "and more")
        window.banner.bring.click()
        self.assertEqual(window.workspace.project.title, "restored")
        self.assertEqual(window.workspace.path, place)
        window.undo()
        self.assertEqual(window.workspace.project.title, "and more")
        self.assertIsNone(window.workspace.path)
        self.assertTrue(copy.exists())  # not saved yet: a crash now must not take it
        window.redo()
        self.assertTrue(window.desk.save())
        self.assertEqual(load(place).title, "restored")
        self.assertFalse(copy.exists())

    def test_a_claimed_copy_is_offered_to_nobody_else_and_again_after_a_crash(self) -> None:
        copy = self.left_behind()
        first = RecoveryStore(self.folder)
        self.assertEqual(first.left_behind(), [copy])
        first.claim(copy)
        second = RecoveryStore(self.folder)
        self.assertEqual((first.left_behind(), second.left_behind()), ([], []))
        first.close()
        self.assertEqual(second.left_behind(), [copy])
        second.close()

    def test_discard_asks_first(self) -> None:
        copy = self.left_behind()
        window = self.window(Project())
        self.answers = ["Keep it", "Discard"]
        window.banner.drop.click()
        self.assertTrue(copy.exists())
        window.banner.drop.click()
        self.assertFalse(copy.exists())
        self.assertFalse(window.banner.isVisible())

    def changed_since_the_crash(self) -> Path:
        """Leave a copy of a project whose file somebody else wrote after the crash."""
        place = self.folder / "kit.burrow"
        mark = save(titled("then"), place)
        store = RecoveryStore(self.folder)
        store.keep(titled("restored"), place, mark=mark)
        os.close(store._lock)
        save(titled("changed since"), place)
        return place

    def test_a_file_changed_since_the_crash_is_not_written_over(self) -> None:
        place = self.changed_since_the_crash()
        window = self.window(Project())
        window.banner.bring.click()
        self.answers = ["Cancel"]
        self.assertFalse(window.desk.save())
        self.assertEqual(load(place).title, "changed since")

    def test_nor_where_this_window_has_opened_it_first(self) -> None:
        place = self.changed_since_the_crash()
        window = self.window(Project())
        window.desk.open_path(place)
        window.banner.bring.click()
        self.assertEqual(window.workspace.project.title, "restored")
        self.answers = ["Cancel"]
        self.assertFalse(window.desk.save())
        self.assertEqual(load(place).title, "changed since")

    def test_a_relative_place_of_an_older_copy_is_asked_for(self) -> None:
        copy = self.left_behind(original=self.folder / "a.burrow")
        copy.with_suffix(".path").write_text("a.burrow")
        window = self.window(Project())
        window.banner.bring.click()
        self.assertIsNone(window.workspace.path)

    def test_giving_restored_work_up_deletes_its_copy(self) -> None:
        copy = self.left_behind()
        window = self.window(Project())
        window.banner.bring.click()
        self.answers = ["Discard"]
        window.desk.new_project()
        self.assertFalse(copy.exists())


class Bench(Case):
    def test_work_on_the_bench_is_unsaved_work(self) -> None:
        window = self.window(titled("kit"))
        window.retouch.open(capture())
        self.assertFalse(window.bar.project_button.text().startswith("*"))  # a new look would bring that back
        self.mend_on_bench(window)
        self.assertTrue(window.bar.project_button.text().startswith("*"))
        self.answers = ["Cancel"]
        self.assertFalse(window.close())
        self.assertIn("2 outlines on the retouch bench", self.asked[0])
        self.assertTrue(window.retouch.has_work)

    def test_each_way_of_losing_it_asks(self) -> None:
        window = self.window(titled("kit"))
        self.mend_on_bench(window)
        pictures = at_gather(window).add.pictures
        for lose in (
            window.desk.new_project,
            window.desk.open_demo,
            window.retouching.close,
            lambda: pictures.take_scan(b"", "other.png"),
            pictures.take_demo_photo,
        ):
            self.asked.clear()
            self.answers = ["Cancel"]
            lose()
            self.assertEqual(len(self.asked), 1)
            self.assertTrue(window.retouch.has_work)
            self.assertEqual(window.workspace.project.title, "kit")

    def test_what_is_sent_is_in_the_kit_before_the_project_goes(self) -> None:
        window = self.window(titled("kit"))
        window.desk.save_to(self.folder / "kit.burrow")
        self.mend_on_bench(window)
        self.answers = ["Send to the kit", "Save"]
        window.desk.new_project()
        kept = load(self.folder / "kit.burrow")
        self.assertEqual([item.name for item in kept.items[-2:]], ["at 0", "at 60"])
        self.assertEqual(window.workspace.project, Project())
        self.assertFalse(window.retouch.is_open)

    def test_it_survives_a_kill(self) -> None:
        window = self.window(titled("kit"))
        self.mend_on_bench(window)
        table = window.retouch.table
        window.autosave.keep()
        copy = window.autosave.store.copy_path
        os.close(window.autosave.store._lock)  # killed
        window.autosave.store._lock = -1
        other = self.window(Project())
        other.banner.bring.click()
        self.assertTrue(wait_until(lambda: other.retouch.is_open))
        self.assertEqual(other.retouch.table, table)
        self.assertTrue(other.retouch.has_work)
        self.assertEqual(other.stage, "gather")
        self.assertTrue(copy.exists())
        other.grab()  # its picture cannot be read again: blank paper lies under it

    def test_the_copy_of_the_bench_goes_with_its_work(self) -> None:
        window = self.window(titled("kit"))
        self.mend_on_bench(window)
        window.autosave.keep()
        store = window.autosave.store
        self.assertTrue(store.copy_path.with_suffix(".picture").exists())
        self.answers = ["Discard"]
        window.retouching.close()
        self.assertTrue(wait_until(lambda: [path.suffix for path in store._folder.iterdir()] == [".lock"]))

    def test_a_picture_read_for_one_project_does_not_land_in_another(self) -> None:
        window = self.window(titled("kit"))
        pictures = at_gather(window).add.pictures
        with patch("cozy_burrow.app.screens.gather.picture_ways.run_apart", side_effect=lambda *_, **__: capture()):
            pictures.take_scan(b"", "a.png")
            task = pictures.latest.task
            window.workspace.open(titled("another"), None)
            assert task is not None
            self.assertTrue(wait_until(lambda: pictures.latest.task is not task))
        self.assertFalse(window.retouch.is_open)

    def test_a_damaged_copy_of_a_bench_is_said(self) -> None:
        window = self.window(titled("kit"))
        heard: list[str] = []
        window.workspace.refused.connect(heard.append)
        for data in (b"", b"{", b'{"format":9}', b"[]"):
            window.retouching.restore(data, b"")
        self.assertEqual(len(heard), 4)
        self.assertFalse(window.retouch.is_open)


class Unusable(Case):
    """A file, a pipe or no permission where a folder should be: the window starts, says so, works."""

    def trial(self, spoil: Any, says: str = "exists") -> Window:
        spoil()
        window = self.window(titled("x"))
        self.rename(window, "y")
        window.autosave.keep()
        self.assertTrue(window.desk.save_to(self.folder / "kit.burrow"))
        self.assertEqual(load(self.folder / "kit.burrow").title, "y")
        if says:
            self.assertIn("Recovery is off", window.notices.text)
            self.assertIn(says, window.notices.text)
            self.assertIn("recovery", window.notices.detail)
            window.notices.seen.click()
            self.assertEqual(window.notices.text, "")
        return window

    def test_a_file_where_the_recovery_folder_should_be(self) -> None:
        window = self.trial(lambda: (self.folder / "recovery").write_text("x"))
        self.assertFalse(window.autosave.store.is_on)
        self.assertEqual(window.autosave.store.left_behind(), [])
        window.close()

    def test_a_folder_that_nobody_may_write_to(self) -> None:
        real = os.open

        def denied(path: Any, *args: Any, **options: Any) -> int:
            if "recovery" in str(path):
                raise PermissionError(13, "Permission denied")
            return real(path, *args, **options)

        with patch("cozy_burrow.storage.recovery.os.open", side_effect=denied):
            self.trial(lambda: None, "Permission denied")

    def test_pipes_among_copies_locks_prices_and_settings(self) -> None:
        (self.folder / "recovery").mkdir()
        for name in ("recovery/a.burrow", "recovery/b.lock", "stores.json", "settings.ini", ".stores.json.lock"):
            os.mkfifo(self.folder / name)
        window = self.trial(lambda: None, "")
        self.assertTrue(window.autosave.store.is_on)
        self.assertIn("pipe", window.stores.trouble)

    def test_a_disk_that_is_full_later_is_said_once_it_is(self) -> None:
        window = self.window(titled("x"))
        self.assertEqual(window.notices.text, "")
        full = UnusableInput("the file cannot be written (No space left on device)", where="copy")
        with patch.object(RecoveryStore, "keep", side_effect=full):
            self.rename(window, "y")
            window.autosave.keep()
        self.assertIn("No space left", window.notices.text)

    def test_a_disk_that_takes_its_time_holds_nobody_up_and_what_is_saved_meanwhile_leaves_no_copy(self) -> None:
        from cozy_burrow.storage import recovery

        window, real, ready = self.window(titled("x")), recovery.write_whole, threading.Event()

        def slow(path: Path, data: bytes) -> Any:
            ready.wait()
            return real(path, data)

        with patch.object(recovery, "write_whole", side_effect=slow):
            self.rename(window, "y")
            window.autosave.keep_aside()  # comes back at once
            self.rename(window, "z")
            window.autosave._timer.stop()  # it would be kept too as soon as the loop runs, if that takes long
            self.assertFalse(window.autosave.store.copy_path.exists())
            ready.set()
            self.assertTrue(wait_until(lambda: window.autosave._writing is None))
            self.assertEqual(load(window.autosave.store.copy_path).title, "y")
            window.autosave.keep_aside()
            window.workspace.saved = window.workspace.project
            window.autosave.follow()
            self.assertTrue(wait_until(lambda: window.autosave._writing is None))
        self.assertFalse(window.autosave.store.copy_path.exists())

    def test_a_file_named_to_the_program_is_opened_like_any_other(self) -> None:
        path = self.folder / "kit.burrow"
        save(titled("named"), path)
        os.environ["XDG_CONFIG_HOME"] = os.environ["XDG_STATE_HOME"] = str(self.folder)
        _, window = open_window(Start(file=path))
        window.show()
        self.assertEqual((window.workspace.project.title, window.workspace.path), ("named", path))
        save(titled("theirs"), path)
        self.rename(window, "mine")
        self.answers = ["Cancel"]
        self.assertFalse(window.desk.save())


if __name__ == "__main__":
    unittest.main()
