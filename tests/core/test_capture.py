"""Outlines from SVG and DXF: what counts, what is left out, what is refused; fuzzed."""

from __future__ import annotations

import io
import math
import random
import unittest

import ezdxf

from cozy_burrow.core.capture.drawing.dxf import read_dxf
from cozy_burrow.core.capture.drawing.svg import read_svg
from cozy_burrow.core.errors import UnusableInput


def svg(body: str, size: str = 'width="100mm" height="60mm" viewBox="0 0 100 60"') -> bytes:
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size}>{body}</svg>'.encode()


def areas(body: str, **more: str) -> list[float]:
    return [round(one.area, 1) for one in read_svg(svg(body, **more), where="a.svg")[0]]


class Svg(unittest.TestCase):
    def test_units_follow_width_and_view_box(self) -> None:
        box = '<rect x="10" y="10" width="40" height="20"/>'
        self.assertEqual(areas(box), [800.0])
        self.assertEqual(areas(box, size='width="10cm" height="6cm" viewBox="0 0 100 60"'), [800.0])
        px = (25.4 / 96) ** 2 * 800
        self.assertAlmostEqual(areas(box, size='viewBox="0 0 100 60"')[0], px, delta=0.1)
        self.assertAlmostEqual(areas(box, size="")[0], px, delta=0.1)
        self.assertAlmostEqual(
            areas(box, size='width="4in" height="2.4in" viewBox="0 0 4 2.4"')[0], 25.4**2 * 800, delta=5
        )

    def test_y_stays_down_as_drawn(self) -> None:
        (outline,), _ = read_svg(svg('<path d="M10 10 H50 V30 Z"/>'), where="a.svg")
        self.assertAlmostEqual(outline.bounds[1], 10.0, places=3)
        self.assertAlmostEqual(outline.centroid.y, 10 + 20 / 3, places=2)

    def test_curves_are_followed_within_the_flattening(self) -> None:
        (area,) = areas('<circle cx="50" cy="30" r="20"/>')
        self.assertAlmostEqual(area, math.pi * 400, delta=0.02 * math.tau * 20)

    def test_fill_rules_transforms_groups_and_use(self) -> None:
        ring = "M10 10 H50 V50 H10 Z M20 20 H40 V40 H20 Z"
        self.assertEqual(areas(f'<path d="{ring}"/>'), [1600.0])
        self.assertEqual(areas(f'<path fill-rule="evenodd" d="{ring}"/>'), [1200.0])
        hole = "M10 10 H50 V50 H10 Z M20 20 V40 H40 V20 Z"
        self.assertEqual(areas(f'<path d="{hole}"/>'), [1200.0])
        self.assertEqual(areas('<g transform="scale(2)"><rect width="10" height="10"/></g>'), [400.0])
        self.assertEqual(
            areas('<defs><rect id="r" width="10" height="10"/></defs><use href="#r"/><use href="#r" x="30"/>'),
            [100.0, 100.0],
        )
        symbol = '<symbol id="s"><rect width="10" height="10"/></symbol><use href="#s" x="5"/>'
        self.assertEqual(areas(symbol), [100.0])

    def test_what_is_filled_counts_and_strokes_by_their_middle_line(self) -> None:
        self.assertEqual(areas('<rect width="10" height="10" stroke="black" stroke-width="4"/>'), [100.0])
        self.assertEqual(areas('<rect width="10" height="10" fill="none" stroke="black" stroke-width="4"/>'), [100.0])
        nest = (
            '<g fill="none" stroke="red"><rect width="40" height="40"/><rect x="10" y="10" width="20" height="20"/></g>'
        )
        self.assertEqual(areas(nest), [1200.0])
        self.assertEqual(areas('<rect width="10" height="10" fill="white"/>'), [100.0])

    def test_touching_parts_are_one_and_specks_are_dropped(self) -> None:
        self.assertEqual(areas('<rect width="10" height="10"/><rect x="10" width="10" height="10"/>'), [200.0])
        self.assertEqual(areas('<rect width="40" height="40"/><rect x="60" width="2" height="2"/>'), [1600.0])

    def test_what_is_not_shown_never_counts(self) -> None:
        good = '<rect x="60" width="10" height="10"/>'
        for hidden in (
            '<rect width="30" height="30" display="none"/>',
            '<g style="display:none"><rect width="30" height="30"/></g>',
            '<rect width="30" height="30" visibility="hidden"/>',
            '<rect width="30" height="30" fill="none"/>',
            '<rect width="30" height="30" opacity="0"/>',
            '<rect width="30" height="30" fill-opacity="0"/>',
            '<defs><rect width="30" height="30"/></defs>',
            '<symbol><rect width="30" height="30"/></symbol>',
            '<path d="M0 0 H30" stroke="black" fill="none"/>',
        ):
            with self.subTest(hidden):
                self.assertEqual(areas(hidden + good), [100.0])

    def test_what_is_left_out_is_named(self) -> None:
        body = (
            '<clipPath id="c"><rect width="5" height="5"/></clipPath><rect width="30" height="30" clip-path="url(#c)"/>'
            '<text x="5" y="5">A</text><rect x="60" width="10" height="10"/>'
        )
        polygons, left = read_svg(svg(body), where="a.svg")
        self.assertEqual([round(one.area) for one in polygons], [100])
        self.assertEqual(sorted(left), ["clipped part", "text"])

    def test_bad_drawings_are_refused_in_one_line(self) -> None:
        entities = b'<!DOCTYPE s [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]>'
        bomb = b'<?xml version="1.0"?>' + entities + b'<svg xmlns="http://www.w3.org/2000/svg">&b;</svg>'
        for name, data in {
            "cut off": svg('<rect width="10" height="10"/>')[:-9],
            "bomb": bomb,
            "nothing": svg(""),
            "html": b"<html/>",
            "empty": b"",
            "nan": svg('<path d="M0 0 H nan V 10 Z"/>'),
            "far": svg('<rect width="1e9" height="1e9"/>'),
            "deep": svg("<g>" * 900 + "</g>" * 900),
            "line": svg('<path d="M0 0 L10 10" stroke="black" fill="none"/>'),
        }.items():
            with self.subTest(name), self.assertRaises(UnusableInput) as caught:
                read_svg(data, where="a.svg")
            self.assertIn("a.svg", str(caught.exception))

    def test_no_bytes_break_the_reader(self) -> None:
        chance = random.Random(4)
        whole = svg('<path d="M10 10 C 20 20 40 20 50 10 L50 30 Z" transform="rotate(5)"/><circle r="5"/>')
        for _ in range(250):
            data = bytearray(whole)
            for _ in range(chance.randrange(1, 6)):
                data[chance.randrange(len(data))] = chance.choice(b"<>\"'0z9-.%,()eM\x00\xff ")
            try:
                polygons, _ = read_svg(
                    bytes(data[: chance.randrange(20, len(data))] if chance.random() < 0.2 else data), where="a"
                )
            except UnusableInput:
                continue
            self.assertTrue(all(one.is_valid and one.area > 0 for one in polygons))


def dxf(draw: object, units: int = 4) -> bytes:
    document = ezdxf.new("R2010", units=units)
    draw(document)  # type: ignore[operator]
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode()


class Dxf(unittest.TestCase):
    def test_units_and_the_turn_of_y(self) -> None:
        corners = [(0, 0), (40, 0), (40, 20)]
        (mm,), remarks = read_dxf(dxf(lambda d: d.modelspace().add_lwpolyline(corners, close=True)), where="a.dxf")
        self.assertAlmostEqual(mm.area, 400)
        self.assertAlmostEqual(mm.bounds[1], -20.0)
        self.assertEqual(remarks, [])
        (inch,), _ = read_dxf(dxf(lambda d: d.modelspace().add_lwpolyline(corners, close=True), units=1), where="a.dxf")
        self.assertAlmostEqual(inch.area, 400 * 25.4**2, places=3)
        _, said = read_dxf(dxf(lambda d: d.modelspace().add_lwpolyline(corners, close=True), units=0), where="a.dxf")
        self.assertIn("millimetres", said[0])

    def test_lines_and_arcs_with_small_gaps_join(self) -> None:
        def draw(document: object) -> None:
            space = document.modelspace()  # type: ignore[attr-defined]
            space.add_line((0, 0), (40, 0))
            space.add_arc((40, 10), 10, -90, 90)
            space.add_line((40.03, 20), (0, 20))
            space.add_line((0, 20.02), (0, 0.02))

        (one,), _ = read_dxf(dxf(draw), where="a.dxf")
        self.assertAlmostEqual(one.area, 800 + math.pi * 50, delta=2)

    def test_holes_islands_blocks_and_layers_that_are_off(self) -> None:
        def draw(document: object) -> None:
            space = document.modelspace()  # type: ignore[attr-defined]
            block = document.blocks.new("B")  # type: ignore[attr-defined]
            block.add_circle((0, 0), 20)
            block.add_circle((0, 0), 10)
            space.add_blockref("B", (50, 50), dxfattribs={"xscale": 2, "yscale": 2})
            document.layers.add("OFF").off()  # type: ignore[attr-defined]
            space.add_circle((200, 200), 90, dxfattribs={"layer": "OFF"})
            document.layout().add_circle((0, 0), 500)  # type: ignore[attr-defined]
            space.add_text("note")

        (one,), remarks = read_dxf(dxf(draw), where="a.dxf")
        self.assertAlmostEqual(one.area, math.pi * (40**2 - 20**2), delta=12)
        self.assertEqual(len(one.interiors), 1)
        self.assertEqual(remarks, ["1 texts or dimensions"])

    def test_bad_drawings_are_refused(self) -> None:
        for name, data in {
            "empty": b"",
            "text": b"hello",
            "no shape": dxf(lambda d: d.modelspace().add_line((0, 0), (5, 5))),
            "cut": dxf(lambda d: d.modelspace().add_circle((0, 0), 5))[:400],
        }.items():
            with self.subTest(name), self.assertRaises(UnusableInput):
                read_dxf(data, where="a.dxf")

    def test_no_bytes_break_the_reader(self) -> None:
        whole = dxf(lambda d: d.modelspace().add_circle((0, 0), 25))
        chance = random.Random(9)
        for _ in range(12):
            data = bytearray(whole)
            for _ in range(40):
                data[chance.randrange(len(data))] = chance.choice(b"0189 \nAZ\x00\xff.-")
            try:
                polygons, _ = read_dxf(bytes(data), where="a.dxf")
            except UnusableInput:
                continue
            self.assertTrue(all(one.area > 0 for one in polygons))
