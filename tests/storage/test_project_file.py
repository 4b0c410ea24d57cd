"""Saving and opening: whole or not at all, whatever the bytes, whenever the program is killed."""

from __future__ import annotations

import io
import json
import os
import random
import signal
import tempfile
import threading
import time
import unittest
import zipfile
from collections.abc import Callable
from pathlib import Path
from unittest.mock import patch

import jsonschema
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.model.edits import move_placements
from cozy_burrow.core.model.records import Project
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.storage.project_file import FORMAT, MEMBER, from_bytes, load, opened_from, save, schema, to_bytes
from cozy_burrow.storage.recovery import RecoveryStore
from tests.makers import van_drawer
from tests.many import many

KILLS = many(100)  # `make kills` tries a thousand
DATA = Path(__file__).parent.parent / "data"


def packed(document: object, *, raw: bytes | None = None) -> bytes:
    stream = io.BytesIO()
    with zipfile.ZipFile(stream, "w") as archive:
        archive.writestr(MEMBER, raw if raw is not None else json.dumps(document))
    return stream.getvalue()


def opened(data: bytes) -> dict[str, object]:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        found: dict[str, object] = json.loads(archive.read(MEMBER))
    return found


class RoundTrip(unittest.TestCase):
    def test_what_is_saved_is_opened_again(self) -> None:
        project = van_drawer()
        self.assertEqual(from_bytes(to_bytes(project), where="a"), project)
        self.assertEqual(to_bytes(project), to_bytes(van_drawer()))
        whole = demo_project()
        self.assertEqual(from_bytes(to_bytes(whole), where="a"), whole)

    def test_the_file_follows_its_documented_schema(self) -> None:
        document = opened(to_bytes(van_drawer()))
        jsonschema.validate(document, schema())
        written = json.loads((Path(__file__).parents[2] / "docs" / "project.schema.json").read_text())
        self.assertEqual(written, json.loads(json.dumps(schema())), "docs/project.schema.json is old: make schema")

    def test_a_project_of_every_format_so_far_still_opens(self) -> None:
        old = sorted(DATA.glob("format-*.burrow"))
        self.assertTrue(old)
        for path in old:
            with self.subTest(path.name):
                project = load(path)
                self.assertEqual(len(project.inserts[0].placements), 26)
                stops = [one for one in findings_of(project) if one.severity == "stop"]
                # Slots follow the width of thin parts since: a wall beside one may be some tenths thinner than it was.
                self.assertEqual([one for one in stops if one.code != "THIN_WALL" or one.limit - one.value > 0.5], [])

    def test_what_was_cut_under_format_4_gets_no_deeper_when_it_is_opened(self) -> None:
        project = load(DATA / "format-4.burrow")
        drawer, upper, lower, wall = project.inserts
        named = {item.id for item in project.items if item.seat is not None}
        for insert, seat in ((drawer, "half"), (upper, "lid"), (lower, "lid"), (wall, "deep")):
            by_itself = [one for one in insert.placements if one.zone_layers is None and one.item_id not in named]
            self.assertTrue(by_itself, insert.name)
            self.assertEqual({one.seat for one in by_itself}, {seat}, insert.name)

    @settings(derandomize=True, deadline=None, max_examples=40)
    @given(st.text(max_size=30), st.floats(-500, 500), st.floats(0, 359))
    def test_names_and_places_survive(self, title: str, x: float, angle: float) -> None:
        project = replace(van_drawer(), title=title)
        project = move_placements(project, "insert-1", ["item-1#1"], dx_mm=x, dy_mm=angle)
        self.assertEqual(from_bytes(to_bytes(project), where="a"), project)


class Newer(unittest.TestCase):
    def test_what_is_known_of_a_newer_programs_file_is_read_where_that_is_wanted(self) -> None:
        plan = demo_project()
        document = json.loads(zipfile.ZipFile(io.BytesIO(to_bytes(plan))).read(MEMBER))
        document |= {"format": FORMAT + 1, "by": "somebody"}

        def more(value: object) -> None:
            """Put a field that nobody knows yet into every record, however deep."""
            if isinstance(value, list):
                for one in value:
                    more(one)
            elif isinstance(value, dict):
                for one in list(value.values()):
                    more(one)
                value["of_the_future"] = {"x": [1, {"y": 2}]}

        more(document["project"])
        data = packed(document)
        opened = opened_from(data, where="a.burrow", newer_too=True)
        self.assertEqual((opened.project, opened.is_newer), (plan, True))
        with self.assertRaisesRegex(UnusableInput, "newer program"):
            opened_from(data, where="a.burrow")
        self.assertFalse(opened_from(to_bytes(plan), where="a.burrow", newer_too=True).is_newer)

    def test_what_it_cannot_make_sense_of_is_refused(self) -> None:
        document = json.loads(zipfile.ZipFile(io.BytesIO(to_bytes(van_drawer()))).read(MEMBER))
        document["format"] = FORMAT + 1
        document["project"]["items"][0]["zones"] = "as a spline"
        with self.assertRaisesRegex(UnusableInput, "newer program"):
            opened_from(packed(document), where="a.burrow", newer_too=True)


class Damage(unittest.TestCase):
    def refuse(self, data: bytes, says: str = "") -> None:
        with self.assertRaises(UnusableInput) as caught:
            from_bytes(data, where="a.burrow")
        self.assertIn("a.burrow", str(caught.exception))
        self.assertIn(says, str(caught.exception))
        self.assertNotIn("\n", str(caught.exception))

    def test_every_kind_of_damage_is_said_in_one_sentence(self) -> None:
        whole = to_bytes(van_drawer())
        self.refuse(whole[: len(whole) // 2], "unpacked")
        self.refuse(b"", "unpacked")
        self.refuse(packed({}), "no format")
        self.refuse(packed({"format": 99, "project": {}}), "newer program")
        self.refuse(packed({"format": 1}), "project")
        for project in ({"items": 7}, [], None, {"items": [{"id": "a", "name": "b", "outline": "?"}]}):
            with self.assertRaisesRegex(UnusableInput, "newer program|figure in"):
                opened_from(packed({"format": 99, "project": project, "more": 1}), where="a", newer_too=True)
        self.refuse(packed(None, raw=b'{"format": 1, "project": {"title": '), "cut off")
        self.refuse(packed(None, raw=b"[" * 100_000), "")
        stream = io.BytesIO()
        with zipfile.ZipFile(stream, "w") as archive:
            archive.writestr("other.json", "{}")
        self.refuse(stream.getvalue(), "no project.json")

    def test_a_bomb_is_not_unfolded(self) -> None:
        stream = io.BytesIO()
        with zipfile.ZipFile(stream, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr(MEMBER, b" " * 70_000_000)
        self.refuse(stream.getvalue(), "64 MB")

    def test_wrong_figures_are_named(self) -> None:
        for change, says in (
            (lambda p: p["containers"][0].update(width_mm=-5), "width"),
            (lambda p: p["inserts"][0]["sheets"][0].update(pitch_mm=0), "layers"),
            (lambda p: p["inserts"][0].update(sheets=[]), "sheet"),
            (lambda p: p["items"][0].update(quantity=0), "quantity"),
            (lambda p: p["items"][0]["outline"].update(outer=[[0, 0], [1, 1]]), "corners"),
            (lambda p: p["items"][0]["outline"].update(outer=[[0, 0], [9, 9], [9, 0], [0, 9]]), "crosses"),
            (lambda p: p["items"][0]["zones"][0].update(top_mm=-99), "thickness"),
            (lambda p: p["inserts"][0]["placements"][0].update(x_mm=1e300), "no length"),
            (lambda p: p["inserts"][0]["pulls"][0].update(points_mm=[]), "pull"),
            (lambda p: p["items"][1].update(id=p["items"][0]["id"]), "same id"),
            (lambda p: p["rules"].update(trench_mm=0), "trench_mm"),
            (lambda p: p["items"][0].update(name=7), "str"),
            (lambda p: p.update(inserts=[]), "no insert"),
            (lambda p: p["inserts"][0].update(container_id="ghost"), "container"),
            (lambda p: p["containers"][0].update(draft_deg=[0, 0, 0, 88]), "leans"),
            (lambda p: p["containers"].append(p["containers"][0]), "same id"),
        ):
            document = opened(to_bytes(van_drawer()))
            change(document["project"])
            with self.subTest(says):
                self.refuse(packed(document), says)

    def test_no_bytes_break_the_reader_and_what_opens_can_be_worked_with(self) -> None:
        chance = random.Random(11)
        text = json.dumps(opened(to_bytes(van_drawer())))
        survived = 0
        for _ in range(150):
            data = bytearray(text.encode())
            for _ in range(chance.randrange(1, 4)):
                data[chance.randrange(len(data))] = chance.choice(b'0123456789-.,:{}[]"eEn \xff')
            try:
                project = from_bytes(packed(None, raw=bytes(data)), where="a")
            except UnusableInput:
                continue
            findings_of(project)
            survived += 1
        self.assertGreater(survived, 5)


class Killed(unittest.TestCase):
    """kill -9 at random moments: what was saved last opens, and at most 30 seconds of edits are lost."""

    def kill_at_random(self, work: Callable[[int], None], chance: random.Random, *, within_s: float) -> None:
        """Let a child work for ever, 1, 2, 3, …; once it has worked once, kill it at a random moment."""
        heard, tell = os.pipe()
        child = os.fork()
        if child == 0:
            number = 1
            work(number)
            os.write(tell, b"1")
            while True:
                number += 1
                work(number)
        os.close(tell)
        self.assertEqual(os.read(heard, 1), b"1")
        os.close(heard)
        time.sleep(chance.uniform(0.0, within_s))
        os.kill(child, signal.SIGKILL)
        os.waitpid(child, 0)

    def test_a_hundred_kills_while_saving(self) -> None:
        project = van_drawer()
        chance = random.Random(3)
        with tempfile.TemporaryDirectory() as name:
            path = Path(name) / "p.burrow"
            last = 0
            for _ in range(KILLS):
                begin = last

                def work(number: int, begin: int = begin) -> None:
                    save(replace(project, title=str(begin + number)), path)

                self.kill_at_random(work, chance, within_s=0.03)
                found = int(load(path).title)
                self.assertGreater(found, last)
                last = found
            self.assertGreaterEqual(last, KILLS)

    def test_a_hundred_kills_while_editing_leave_a_recovery_copy(self) -> None:
        project = van_drawer()
        chance = random.Random(8)
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            for round_ in range(KILLS):
                stores: list[RecoveryStore] = []

                def work(number: int, round_: int = round_, stores: list[RecoveryStore] = stores) -> None:
                    if not stores:
                        stores.append(RecoveryStore(folder))
                    stores[0].keep(replace(project, title=f"{round_} {number}"), folder / "mine.burrow")

                self.kill_at_random(work, chance, within_s=0.03)
            store = RecoveryStore(folder)
            copies = store.left_behind()
            self.assertEqual(len(copies), KILLS)
            for copy in copies:
                left = store.bring_back(copy)
                self.assertRegex(left.project.title, r"^\d+ \d+$")
                self.assertEqual(left.original, folder / "mine.burrow")
                store.discard(copy)
            self.assertEqual(store.left_behind(), [])
            store.close()


class Recovery(unittest.TestCase):
    def test_the_copy_of_a_living_program_is_not_offered(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            first, second = RecoveryStore(Path(name)), RecoveryStore(Path(name))
            first.keep(Project(title="mine"), None)
            self.assertEqual(second.left_behind(), [])
            first.close()
            second.close()
            self.assertEqual(list((Path(name) / "recovery").iterdir()), [])

    def test_who_leaves_does_not_wait_for_a_writer_whom_the_disk_keeps_waiting(self) -> None:
        disk_ready, is_writing, is_left = threading.Event(), threading.Event(), threading.Event()
        written = list[str]()

        def slow(path: Path, data: bytes) -> None:
            is_writing.set()
            disk_ready.wait(60)
            path.write_bytes(data)
            written.append(path.suffix)

        with tempfile.TemporaryDirectory() as name:
            store = RecoveryStore(Path(name))
            with patch("cozy_burrow.storage.recovery.write_whole", slow):
                writer = threading.Thread(target=store.keep, args=(Project(title="mine"), None))
                writer.start()
                is_writing.wait(60)
                leaver = threading.Thread(target=lambda: (store.close(), is_left.set()))
                leaver.start()
                left_first = is_left.wait(30)
                disk_ready.set()
                writer.join()
                leaver.join()
            self.assertTrue(left_first, "it left only once the disk was ready")
            self.assertEqual(written, [".burrow"])  # what was under way; nothing more is begun
            self.assertEqual(list((Path(name) / "recovery").iterdir()), [])

    def test_saving_where_nobody_may_write_says_so(self) -> None:
        with self.assertRaises(UnusableInput):
            save(Project(), Path("/proc/none/a.burrow"))
