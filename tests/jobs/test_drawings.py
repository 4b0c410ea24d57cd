"""Drawings are read in a child: what is too much is refused, what is damaged is said, and the next file still comes."""

from __future__ import annotations

import gzip
import os
import signal
import threading
import unittest

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.jobs.drawings import DrawingReader


def svg(body: str) -> bytes:
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="40mm" height="40mm" '
        f'viewBox="0 0 40 40">{body}</svg>'
    ).encode()


SQUARE = svg("<path d='M5 5h20v9H5z'/>")


class Child(unittest.TestCase):
    def setUp(self) -> None:
        self.reader = DrawingReader(seconds=6.0)
        self.addCleanup(self.reader.close)

    def refused(self, data: bytes, kind: str = "svg") -> str:
        with self.assertRaises(UnusableInput) as caught:
            self.reader.read(kind, data, where="a.svg")
        return caught.exception.sentence()

    def area(self, data: bytes) -> float:
        (polygon, *_), _ = self.reader.read("svg", data, where="a.svg")
        return float(polygon.area)

    def test_a_packed_drawing_reads_like_a_plain_one(self) -> None:
        self.assertAlmostEqual(self.area(SQUARE), 180.0, places=3)
        self.assertAlmostEqual(self.area(gzip.compress(SQUARE)), 180.0, places=3)
        self.assertIn("cut off", self.refused(gzip.compress(SQUARE)[:-20]))

    def test_bombs_are_refused_quickly_and_the_next_file_still_comes(self) -> None:
        doubled = "<g id='a0'><path d='M0 0h1v1z'/></g>" + "".join(
            f"<g id='a{n}'><use xlink:href='#a{n - 1}'/><use xlink:href='#a{n - 1}'/></g>" for n in range(1, 40)
        )
        loop = "<g id='x'><use xlink:href='#y'/></g><g id='y'><use xlink:href='#x'/></g>"
        packed = gzip.compress(svg("<path d='" + "M0 0h9v9z" * 10 + "'/>" + " " * 60_000_000))
        deep = svg("<g>" * 5000 + "</g>" * 5000)
        for data, words in (
            (svg(doubled), "parts"),
            (svg(loop), "repeats itself"),
            (packed, "24 MB"),
            (deep, "deep|well-formed"),
            (b"<!DOCTYPE a [<!ENTITY b 'c'>]>" + SQUARE, "entities"),
            (SQUARE[:-30], "cut off"),
        ):
            self.assertRegex(self.refused(data), words)
            self.assertAlmostEqual(self.area(SQUARE), 180.0, places=3)

    def test_a_file_that_takes_too_long_is_stopped(self) -> None:
        rays = "".join(f"M{n % 97} 0 L{(n * 61) % 89} 40 L{(n * 37) % 83} 20" for n in range(30_000))
        said = self.refused(svg(f"<path d='{rays}'/>"))
        self.assertRegex(said, "seconds|crosses itself|too large")
        self.assertAlmostEqual(self.area(SQUARE), 180.0, places=3)

    def test_what_counts_is_the_work_and_not_how_long_others_keep_the_machine(self) -> None:
        rays = "".join(f"M{n % 97} 0 L{(n * 61) % 89} 40 L{(n * 37) % 83} 20" for n in range(30_000))
        hasty = DrawingReader(seconds=0.05)
        self.addCleanup(hasty.close)
        with self.assertRaisesRegex(UnusableInput, "seconds"):
            hasty.read("svg", svg(f"<path d='{rays}'/>"), where="a.svg")
        patient = DrawingReader(seconds=2.0)
        self.addCleanup(patient.close)
        child = patient._started()
        os.kill(child.pid, signal.SIGSTOP)  # as a machine does that gives its processors to others
        threading.Timer(2.5, os.kill, (child.pid, signal.SIGCONT)).start()
        (polygon, *_), _ = patient.read("svg", SQUARE, where="a.svg")
        self.assertAlmostEqual(polygon.area, 180.0, places=3)

    def test_a_child_that_dies_is_replaced(self) -> None:
        self.assertAlmostEqual(self.area(SQUARE), 180.0, places=3)
        child = self.reader._child
        assert child is not None
        os.kill(child.pid, 9)
        child.wait()
        self.assertAlmostEqual(self.area(SQUARE), 180.0, places=3)

    def test_a_reference_to_elsewhere_is_not_followed(self) -> None:
        body = "<image href='file:///etc/passwd' width='9' height='9'/><use href='http://example.invalid/a.svg#b'/>"
        (polygon, *rest), remarks = self.reader.read("svg", svg(body + "<rect width='9' height='9'/>"), where="a")
        self.assertEqual(rest, [])
        self.assertAlmostEqual(polygon.area, 81.0, places=3)
        self.assertTrue(any("picture" in one for one in remarks))
