"""What the contract says of drawings, rule by rule."""

from __future__ import annotations

import io
import unittest
from unittest.mock import patch

import ezdxf
from shapely.geometry import Polygon

from cozy_burrow.core.capture.drawing.dxf import read_dxf
from cozy_burrow.core.capture.drawing.svg import read_svg
from cozy_burrow.core.errors import UnusableInput

MM = 25.4 / 96


def svg(body: str, head: str = 'width="100mm" height="100mm" viewBox="0 0 100 100"') -> bytes:
    spaces = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
    return f"<svg {spaces} {head}>{body}</svg>".encode()


def areas(body: str, **more: str) -> list[float]:
    polygons, _ = read_svg(svg(body, **more), where="a.svg")
    return [round(one.area, 2) for one in polygons]


class Svg(unittest.TestCase):
    def test_parts_that_touch_are_one_and_separate_ones_are_several(self) -> None:
        self.assertEqual(areas('<rect width="10" height="10"/><rect x="10" width="10" height="10"/>'), [200.0])
        self.assertEqual(areas('<rect width="10" height="10"/><rect x="30" width="20" height="10"/>'), [200.0, 100.0])

    def test_specks_are_dropped(self) -> None:
        self.assertEqual(areas('<rect width="50" height="50"/><rect x="80" width="3" height="4"/>'), [2500.0])
        self.assertEqual(areas('<rect width="50" height="50"/><rect x="80" width="4" height="4"/>'), [2500.0, 16.0])

    def test_fills_count_and_the_width_of_strokes_does_not(self) -> None:
        self.assertEqual(areas('<rect width="10" height="10" stroke="black" stroke-width="6"/>'), [100.0])
        self.assertEqual(areas('<rect width="10" height="10" fill="none" stroke="black" stroke-width="6"/>'), [100.0])

    def test_an_open_stroke_does_not_count_and_an_open_fill_does(self) -> None:
        with self.assertRaises(UnusableInput):
            areas('<path d="M0 0 H10 V10" fill="none" stroke="black"/>')
        self.assertEqual(areas('<path d="M0 0 H10 V10"/>'), [50.0])

    def test_what_is_not_shown_does_not_count(self) -> None:
        seen = '<rect width="10" height="10"/>'
        for hidden in (
            '<rect x="30" width="20" height="10" display="none"/>',
            '<rect x="30" width="20" height="10" visibility="hidden"/>',
            '<rect x="30" width="20" height="10" opacity="0"/>',
            '<rect x="30" width="20" height="10" fill="none"/>',
            '<rect x="30" width="20" height="10" fill="transparent"/>',
            '<g style="display:none"><rect x="30" width="20" height="10"/></g>',
            '<defs><rect x="30" width="20" height="10"/></defs>',
            '<symbol><rect x="30" width="20" height="10"/></symbol>',
            '<clipPath id="c"><rect x="30" width="20" height="10"/></clipPath>',
            '<pattern id="p"><rect x="30" width="20" height="10"/></pattern>',
        ):
            with self.subTest(hidden):
                self.assertEqual(areas(seen + hidden), [100.0])

    def test_colour_does_not_matter(self) -> None:
        for paint in ("white", "#fff", "rgb(1,2,3)", "currentColor", "hsl(9,9%,9%)"):
            self.assertEqual(areas(f'<rect width="10" height="10" fill="{paint}"/>'), [100.0], paint)

    def test_holes_by_both_rules(self) -> None:
        ring = "M0 0H20V20H0Z M5 5H15V15H5Z"
        turned = "M0 0H20V20H0Z M5 5V15H15V5Z"
        self.assertEqual(areas(f'<path d="{ring}" fill-rule="evenodd"/>'), [300.0])
        self.assertEqual(areas(f'<path d="{ring}"/>'), [400.0])
        self.assertEqual(areas(f'<path d="{turned}"/>'), [300.0])

    def test_sizes(self) -> None:
        body = '<rect width="50" height="50"/>'
        self.assertEqual(areas(body, head='width="1in" height="1in" viewBox="0 0 100 100"'), [161.29])
        self.assertEqual(areas(body, head=""), [round((50 * MM) ** 2, 2)])
        self.assertEqual(areas(body, head='viewBox="0 0 100 100"'), [round((50 * MM) ** 2, 2)])
        self.assertEqual(
            areas(body, head='width="200" height="200" viewBox="0 0 100 100"'), [round((100 * MM) ** 2, 2)]
        )

    def test_groups_turn_move_and_repeat(self) -> None:
        body = (
            '<g transform="translate(20 20) rotate(90) scale(2)"><rect id="r" width="5" height="4"/></g>'
            '<use xlink:href="#r" x="60" y="60"/>'
        )
        self.assertEqual(areas(body), [80.0, 20.0])

    def test_every_shape_turns_as_a_path_does(self) -> None:
        for shape in (
            '<rect x="2" y="3" width="20" height="9" rx="2"/>',
            '<circle cx="12" cy="8" r="7"/>',
            '<ellipse cx="12" cy="8" rx="9" ry="4"/>',
            '<polygon points="1,2 30,4 9,22"/>',
            '<path d="M2 3h20v9h-20z"/>',
        ):
            with self.subTest(shape):
                (plain,), _ = read_svg(svg(shape), where="a")
                turned = f'<g transform="translate(60 20) rotate(37) scale(1.5)">{shape}</g>'
                (moved,), _ = read_svg(svg(turned), where="a")
                self.assertAlmostEqual(moved.area / plain.area, 2.25, delta=0.02)
                skewed = f'<g transform="translate(40 20) skewX(30)">{shape}</g>'
                (leaning,), _ = read_svg(svg(skewed), where="a")
                self.assertAlmostEqual(leaning.area / plain.area, 1.0, delta=0.02)
                self.assertGreater(leaning.bounds[0], 30.0)

    def test_styles_in_a_sheet(self) -> None:
        body = "<style>.gone{display:none} .in{fill:none}</style>"
        body += '<rect width="10" height="10"/><rect class="in" x="40" width="20" height="20"/>'
        self.assertEqual(areas(body), [100.0])

    def test_curves_are_true(self) -> None:
        self.assertAlmostEqual(areas('<circle cx="50" cy="50" r="20"/>')[0], 1256.64, delta=2.6)
        self.assertAlmostEqual(areas('<path d="M30 50 a20 20 0 0 1 40 0 a20 20 0 0 1 -40 0z"/>')[0], 1256.64, delta=2.6)

    def test_what_is_left_out_is_named(self) -> None:
        body = '<rect width="10" height="10"/><text>a</text><image width="5" height="5"/>'
        body += '<g mask="url(#m)"><rect x="40" width="20" height="20"/></g>'
        body += '<rect x="70" width="9" height="9" filter="url(#f)"/>'
        polygons, remarks = read_svg(svg(body), where="a.svg")
        self.assertEqual([round(one.area, 2) for one in polygons], [100.0])
        self.assertEqual(len(remarks), 4)


class Dxf(unittest.TestCase):
    def read(self, draw: object, *, units: int = 4) -> tuple[list[Polygon], list[str]]:
        document = ezdxf.new("R2010")
        document.header["$INSUNITS"] = units
        draw(document)  # type: ignore[operator]
        stream = io.StringIO()
        document.write(stream)
        return read_dxf(stream.getvalue().encode(), where="a.dxf")

    def square(self, document: object, **more: object) -> None:
        points = [(0, 0), (10, 0), (10, 10), (0, 10)]
        document.modelspace().add_lwpolyline(points, close=True, dxfattribs=more)  # type: ignore[attr-defined]

    def test_a_curve_far_too_large_is_refused_before_it_is_cut_into_lines(self) -> None:
        def draw(document: object) -> None:
            corners = [(0, 0), (20, 1e7), (40, 38), (0, 40)]
            document.modelspace().add_spline(corners)  # type: ignore[attr-defined]

        lines = patch("ezdxf.path.Path.flattening", side_effect=AssertionError)
        with lines, self.assertRaisesRegex(UnusableInput, "larger than ten metres"):
            self.read(draw)

    def test_units(self) -> None:
        for units, side in ((4, 10.0), (5, 100.0), (1, 254.0), (6, 10_000.0)):
            if side < 5000:
                (one,), remarks = self.read(self.square, units=units)
                self.assertAlmostEqual(one.area, side**2, places=3)
                self.assertEqual(remarks, [])
        (one,), remarks = self.read(self.square, units=0)
        self.assertAlmostEqual(one.area, 100.0)
        self.assertIn("millimetres", remarks[0])

    def test_layers_that_are_off_or_frozen(self) -> None:
        for state in ("off", "freeze"):

            def draw(document: object, state: str = state) -> None:
                layer = document.layers.add("hidden")  # type: ignore[attr-defined]
                getattr(layer, state)()
                self.square(document)
                document.modelspace().add_circle((50, 50), 20, dxfattribs={"layer": "hidden"})  # type: ignore[attr-defined]

            polygons, _ = self.read(draw)
            self.assertEqual(len(polygons), 1)
            self.assertAlmostEqual(polygons[0].area, 100.0)

    def test_paper_space_is_not_the_drawing(self) -> None:
        def draw(document: object) -> None:
            self.square(document)
            document.layout("Layout1").add_circle((0, 0), 30)  # type: ignore[attr-defined]

        polygons, _ = self.read(draw)
        self.assertEqual([round(one.area, 3) for one in polygons], [100.0])

    def test_ends_that_nearly_meet_join_and_others_do_not(self) -> None:
        def lines(gap: float) -> object:
            def draw(document: object) -> None:
                space = document.modelspace()  # type: ignore[attr-defined]
                corners = [(0, 0), (10, 0), (10, 10), (0, 10)]
                for first, second in zip(corners, [*corners[1:], (0, gap)]):
                    space.add_line(first, second)

            return draw

        (one,), _ = self.read(lines(0.04))
        self.assertAlmostEqual(one.area, 100.0, delta=0.5)
        with self.assertRaises(UnusableInput):
            self.read(lines(0.4))

    def test_blocks_arcs_splines_and_holes(self) -> None:
        def draw(document: object) -> None:
            block = document.blocks.new("plate")  # type: ignore[attr-defined]
            block.add_lwpolyline([(0, 0), (20, 0), (20, 20), (0, 20)], close=True)
            block.add_circle((10, 10), 5)
            space = document.modelspace()  # type: ignore[attr-defined]
            space.add_blockref("plate", (100, 0), dxfattribs={"xscale": 2, "yscale": 2, "rotation": 30})
            space.add_lwpolyline([(0, 0, 1), (10, 0, 1)], format="xyb", close=True)

        polygons, _ = self.read(draw)
        self.assertAlmostEqual(polygons[0].area, 1600 - 3.14159 * 100, delta=1.5)
        self.assertEqual(len(polygons[0].interiors), 1)
        self.assertAlmostEqual(polygons[1].area, 3.14159 * 25, delta=0.5)
