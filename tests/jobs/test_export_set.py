"""An export into a used folder: its own older drawings go, everything else stays, a stop in between changes nothing."""

from __future__ import annotations

import tempfile
import unittest
from collections.abc import Iterator
from pathlib import Path
from unittest.mock import patch

import ezdxf
from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.records import Project, Sheet
from cozy_burrow.export.own import is_own
from cozy_burrow.jobs import export, files
from cozy_burrow.jobs.export import unasked, write_export
from cozy_burrow.storage.project_file import load, save
from cozy_burrow.storage.whole_file import keep_older
from tests.makers import box, laid, project


def plan(*sheets: float) -> Project:
    made = laid(project(box(60, 30, 12), box(80, 20, 12)), (100, 80), (100, 150))
    return replace(
        made, inserts=(replace(made.inserts[0], sheets=tuple(Sheet(thickness_mm=t, pitch_mm=10.0) for t in sheets)),)
    )


class UsedFolder(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name) / "papers"

    def names(self) -> list[str]:
        return sorted(path.name for path in self.folder.iterdir())

    def content(self) -> dict[str, bytes]:
        return {path.name: path.read_bytes() for path in self.folder.iterdir() if path.is_file()}

    def test_a_sheet_that_is_gone_leaves_no_drawing_and_what_others_wrote_stays(self) -> None:
        write_export(plan(30, 20), self.folder, kinds=unasked())
        self.assertIn("drawer-sheet-2.dxf", self.names())
        (self.folder / "letter.txt").write_text("mine")
        (self.folder / "old-sheet-7.svg").write_text("<svg xmlns='http://www.w3.org/2000/svg'/>")
        (self.folder / "my-layout.json").write_text('{"units": "mm", "items": [], "pulls": []}')
        (self.folder / "sub").mkdir()
        with (self.folder / "drawer-sheet-2.svg").open("a") as mine:
            mine.write("<!-- my own remark -->\n")
        one = write_export(plan(50), self.folder, kinds=unasked())
        kept = {"letter.txt", "old-sheet-7.svg", "my-layout.json", "sub", "drawer-sheet-2.svg"}
        self.assertEqual(set(self.names()), {*one, *kept})
        self.assertNotIn("drawer-sheet-2.dxf", self.names())

    def test_a_part_of_an_export_leaves_the_other_kinds_and_takes_sheets_that_are_gone(self) -> None:
        write_export(plan(30, 20), self.folder, kinds=unasked())
        before = self.content()
        write_export(plan(50), self.folder, kinds=("pdf",))
        gone = {"drawer-sheet-2.dxf", "drawer-sheet-2.svg"}
        self.assertEqual(set(self.names()), set(before) - gone)
        self.assertEqual(self.content()["drawer-sheet-1.dxf"], before["drawer-sheet-1.dxf"])

    def test_what_stops_it_in_between_leaves_the_old_set_whole(self) -> None:
        write_export(plan(30, 20), self.folder, kinds=unasked())
        before = self.content()
        whole = export.export_files

        def breaks(*args: object, **kwargs: object) -> Iterator[tuple[str, bytes]]:
            for number, one in enumerate(whole(*args, **kwargs)):  # type: ignore[arg-type]
                if number == 5:
                    raise KeyboardInterrupt
                yield one

        with patch.object(export, "export_files", breaks), self.assertRaises(KeyboardInterrupt):
            write_export(plan(50), self.folder, kinds=unasked())
        self.assertEqual(self.content(), before)
        self.assertEqual(set(self.names()), set(before))

    def test_what_a_kill_left_is_cleared_by_the_next(self) -> None:
        self.folder.mkdir()
        half = self.folder / f"{files._HALF}abc"
        half.mkdir()
        (half / "drawer-sheet-1.dxf").write_bytes(b"half")
        names = write_export(plan(50), self.folder, kinds=("dxf",))
        self.assertEqual(self.names(), names)

    def test_a_place_that_cannot_be_written_to_is_found_before_anything_moves(self) -> None:
        write_export(plan(30, 20), self.folder, kinds=("dxf", "csv"))
        (self.folder / "cuts.csv").unlink()
        (self.folder / "cuts.csv").mkdir()
        before = self.content()
        with self.assertRaises(UnusableInput) as caught:
            write_export(plan(50), self.folder, kinds=("dxf", "csv"))
        self.assertIn("cuts.csv: a folder bears this name", str(caught.exception))
        self.assertEqual(self.content(), before)
        self.assertEqual([name for name in self.names() if name.startswith(".")], [])

    def test_a_sealed_drawing_is_own_until_a_byte_changes(self) -> None:
        write_export(plan(50), self.folder, kinds=("dxf", "svg", "json"))
        for path in self.folder.iterdir():
            data = path.read_bytes()
            self.assertTrue(is_own(data), path.name)
            self.assertFalse(is_own(data[:-3] + b" " + data[-3:]), path.name)
            self.assertFalse(is_own(data[: len(data) // 2]), path.name)
        self.assertFalse(is_own(b""))
        self.assertFalse(is_own(b'{\n "units"' + b"[" * 100_000))

    def test_the_drawing_says_how_far_it_reaches_and_all_its_lines_are_closed(self) -> None:
        write_export(plan(50), self.folder, kinds=("dxf",))
        document = ezdxf.readfile(self.folder / "drawer-sheet-1.dxf")
        (left, front, _), (right, back, _) = document.header["$EXTMIN"], document.header["$EXTMAX"]
        self.assertEqual((left, front), (0.0, 0.0))
        blank = next(iter(document.modelspace().query('LWPOLYLINE[layer=="BLANK"]')))
        self.assertEqual(max(x for x, *_ in blank.get_points()), right)
        self.assertEqual(max(y for _, y, *_ in blank.get_points()), back)
        self.assertTrue(all(one.closed for one in document.modelspace().query("LWPOLYLINE")))


class OlderProject(unittest.TestCase):
    def test_the_older_file_is_kept_beside_and_is_whole(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            path = Path(name) / "a.burrow"
            keep_older(path)  # nothing there: nothing kept
            self.assertEqual(list(Path(name).iterdir()), [])
            for thickness in (30, 40, 50):
                keep_older(path)
                save(plan(thickness), path)
            self.assertEqual(load(path), plan(50))
            Path(f"{path}~").rename(Path(name) / "older.burrow")
            self.assertEqual(load(Path(name) / "older.burrow"), plan(40))
            self.assertEqual(len(list(Path(name).iterdir())), 2)

    def test_what_bears_the_older_name_and_is_no_file_stays(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            path = Path(name) / "a.burrow"
            Path(f"{path}~").mkdir()
            for thickness in (30, 40):
                keep_older(path)
                save(plan(thickness), path)
            self.assertEqual(load(path), plan(40))
            self.assertTrue(Path(f"{path}~").is_dir())


if __name__ == "__main__":
    unittest.main()
