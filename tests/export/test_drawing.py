"""One front end, many back ends: what DXF, SVG and JSON say of one sheet agrees."""

from __future__ import annotations

import io
import json
import math
import re
import unittest

import ezdxf
import shapely
from msgspec.structs import replace
from shapely.geometry import Polygon

from cozy_burrow.assets.read import asset
from cozy_burrow.core.container.bay import Bay
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.records import Container, Sheet
from cozy_burrow.core.model.vessels import Obstacle
from cozy_burrow.export.drawing import SheetDrawing, file_stem, rings_of, sheet_drawings, there_and_back, to_export
from cozy_burrow.export.dxf import sheet_dxf
from cozy_burrow.export.outline_svg import outline_svg
from cozy_burrow.export.paper import papers
from cozy_burrow.export.svg import sheet_svg
from cozy_burrow.export.tiling import tiling
from cozy_burrow.jobs.export import export_files
from tests.makers import project, van_drawer


class OneSheet(unittest.TestCase):
    @classmethod
    def setUpClass(cls) -> None:
        cls.project = van_drawer()
        cls.ground = ground_of(cls.project, cls.project.inserts[0])
        names = {key: key for key in cls.ground.pockets}
        (cls.drawing,) = sheet_drawings(cls.ground, names, stem="drawer")

    def test_the_press_fit_is_part_of_the_blank_and_the_origin_its_corner(self) -> None:
        drawing: SheetDrawing = self.drawing
        self.assertAlmostEqual(drawing.width_mm, 573.0)
        self.assertAlmostEqual(drawing.height_mm, 393.0)
        xs, ys = [x for x, _ in drawing.blank], [y for _, y in drawing.blank]
        self.assertEqual((min(xs), min(ys)), (0.0, 0.0))

    def test_dxf_and_svg_hold_the_same_rings_to_the_last_figure(self) -> None:
        svg = sheet_svg(self.drawing).decode()
        document = ezdxf.read(io.StringIO(sheet_dxf(self.drawing).decode()))
        for number, rings in enumerate(self.drawing.pockets, start=1):
            drawn = document.modelspace().query(f'LWPOLYLINE[layer=="POCKET_{number}"]')
            self.assertEqual(len(drawn), len(rings))
            group = re.search(rf'id="POCKET_{number}".*?</g>', svg, re.DOTALL)
            paths = re.findall(r'd="M([^"]*?) Z"', group[0]) if group else []
            self.assertEqual(len(paths), len(rings))
            for ring, line, path in zip(rings, drawn, paths):
                in_dxf = [(x, y) for x, y, *_ in line.get_points()]
                in_svg = [tuple(map(float, pair.split())) for pair in path.split(" L")]
                for (x, y), (dx, dy), (sx, sy) in zip(ring, in_dxf, in_svg):
                    self.assertAlmostEqual(x, dx, places=6)
                    self.assertAlmostEqual(y, dy, places=6)
                    self.assertAlmostEqual(x, sx, places=3)
                    self.assertAlmostEqual(self.drawing.height_mm - y, sy, places=3)

    def test_what_is_taken_out_is_the_same_in_the_drawing_and_in_the_ground(self) -> None:
        for number, rings in enumerate(self.drawing.pockets, start=1):
            area = sum(Polygon(ring).area for ring in rings)
            self.assertAlmostEqual(area, self.ground.taken_out(number).area, delta=0.5)

    def test_labels_lie_in_their_pockets(self) -> None:
        top = shapely.union_all([Polygon(ring) for ring in self.drawing.pockets[0]])
        self.assertEqual(len(self.drawing.labels), 26)
        for label in self.drawing.labels:
            self.assertTrue(top.covers(shapely.Point(label.at_mm)))

    def test_nothing_is_mirrored_on_the_way_out(self) -> None:
        flag = Polygon([(10, 10), (90, 10), (90, 22), (40, 22), (30, 50), (10, 50)])
        out = to_export(self.ground, flag)
        back, front = flag.bounds[1], flag.bounds[3]
        self.assertAlmostEqual(out.bounds[3], 391.5 - back)
        self.assertAlmostEqual(out.bounds[1], 391.5 - front)
        self.assertAlmostEqual(out.bounds[0], 11.5)

    def test_an_island_of_foam_runs_the_other_way(self) -> None:
        washer = shapely.Point(0, 0).buffer(20).difference(shapely.Point(0, 0).buffer(8))
        outer, island = (shapely.LinearRing(ring).is_ccw for ring in rings_of(washer))
        self.assertEqual((outer, island), (True, False))

    def test_the_layout_names_every_thing_once(self) -> None:
        data = dict(export_files(self.project, kinds=("json",)))["van-drawer-layout.json"]
        layout = json.loads(data)
        self.assertEqual(len({(item["name"], item["copy"]) for item in layout["items"]}), 26)
        trench = next(pull for pull in layout["pulls"] if pull["kind"] == "trench")
        self.assertGreaterEqual(len(trench["serves"]), 3)

    def test_two_inserts_of_one_name_do_not_overwrite_each_other(self) -> None:
        first = self.project.inserts[0]
        second = replace(first, id="insert-2", placements=(), pulls=())
        both = replace(self.project, inserts=(first, second))
        names = [name for name, _ in export_files(both, kinds=("dxf",))]
        self.assertEqual(names, ["van-drawer-sheet-1.dxf", "van-drawer-2-sheet-1.dxf"])


class Papers(unittest.TestCase):
    def test_every_paper_has_a_believable_size_and_tiles_cover_the_sheet(self) -> None:
        self.assertEqual(set(papers()), {"a4", "a3", "letter", "tabloid"})
        for paper in papers().values():
            self.assertTrue(200 < paper.width_mm < paper.height_mm < 450)
            spread = tiling(573, 393, paper)
            self.assertGreaterEqual(spread.columns * spread.tile_width_mm, 573)
            self.assertGreaterEqual(spread.rows * spread.tile_height_mm, 393)
            self.assertLess((spread.columns - 1) * spread.tile_width_mm, 573)

    def test_a_small_sheet_is_one_page(self) -> None:
        spread = tiling(150, 200, papers()["a4"])
        self.assertEqual((spread.columns, spread.rows), (1, 1))

    def test_names_become_file_names(self) -> None:
        self.assertEqual(file_stem("Van drawer"), "van-drawer")
        self.assertEqual(file_stem("../../etc"), "etc")
        self.assertEqual(file_stem("***"), "insert")

    def test_an_outline_is_written_as_it_was_drawn(self) -> None:
        item = van_drawer().items[2]
        text = outline_svg(item.outline)
        self.assertIn('fill-rule="evenodd"', text)
        self.assertEqual(text.count("Z"), 1 + len(item.outline.holes))

    def test_what_ships_is_there(self) -> None:
        for parts in (
            ("fonts", "Lato-Regular.ttf"),
            ("fonts", "LICENCE-Lato.txt"),
            ("icons", "cozy-burrow.svg"),
            ("themes", "lamp.toml"),
            ("help", "en.md"),
        ):
            self.assertTrue(asset(*parts).is_file(), parts)


class OddBlanks(unittest.TestCase):
    def test_notches_holes_slits_and_the_chamfer_are_in_every_format(self) -> None:
        post = Obstacle(name="post", kind="post", ring=((140, 90), (160, 90), (160, 110), (140, 110)))
        web = Obstacle(name="web", kind="rib", ring=((60, 0), (62, 0), (62, 15), (60, 15)))
        case = Container(
            kind="case",
            width_mm=300.0,
            depth_mm=200.0,
            height_mm=80.0,
            draft_deg=(3.0,) * 4,
            base_edge_radius_mm=10.0,
            obstacles=(post, web),
        )
        plan = project(bay=Bay(container=case, sheets=(Sheet(thickness_mm=30.0), Sheet(thickness_mm=40.0))))
        ground = ground_of(plan, plan.inserts[0])
        upper, lower = sheet_drawings(ground, {}, stem="case")
        self.assertEqual((len(upper.holes), len(upper.slits)), (1, 1))
        self.assertEqual(upper.notes, ("1 slit for a thin rib: cut, do not widen",))
        self.assertIn("chamfer the lower edge", lower.notes[0])
        # Both sheets share the origin: the narrower one stands inset by what its wall leans in.
        inset = min(x for x, _ in lower.blank) - min(x for x, _ in upper.blank)
        self.assertAlmostEqual(inset, 35.0 * math.tan(math.radians(3.0)), delta=0.01)
        space = ezdxf.read(io.StringIO(sheet_dxf(upper).decode())).modelspace()
        lines = list(space.query('LWPOLYLINE[layer=="BLANK"]'))
        self.assertEqual([line.closed for line in lines], [True] * 3)
        self.assertEqual(sheet_svg(upper).decode().count(" Z"), 3)
        slit = shapely.Polygon(there_and_back(upper.slits[0]))
        self.assertTrue(slit.is_valid)
        self.assertAlmostEqual(slit.area, 0.1 * math.dist(*upper.slits[0]), places=6)
