"""What the command line's contract says of seats, allowances, sections and coordinates, read from the exports alone."""

from __future__ import annotations

import json
import math
import re
import tempfile
import unittest
from pathlib import Path
from typing import Any

import ezdxf
import shapely
from shapely import affinity
from shapely.geometry import Polygon

from tests.acceptance.command import Answer, burrow

FLAG = "M0 0 H80 V12 H30 L20 40 H0 Z"  # no turn of it is its mirror image


class Contract(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.root = Path(folder.name)

    def plan(self, table: str, *words: object, container: str = "400x300x90", foam: str = "50/10") -> Answer:
        kit = self.root / "kit.csv"
        kit.write_text(table)
        out = self.root / "o.burrow"
        head = ("plan", kit, out, "--container", container, "--foam", foam, "--seconds", "600", "--json")
        answer = burrow(*head, *words)
        self.assertEqual(answer.status, 0, answer.err + answer.out)
        self.assertEqual(burrow("export", out, self.root / "x", "--only", "dxf,svg,json").status, 0)
        return answer

    def layout(self) -> dict[str, Any]:
        found: dict[str, Any] = json.loads((self.root / "x" / "drawer-layout.json").read_text())
        return found

    def layers(self) -> dict[str, int]:
        return {item["name"]: item["layers"] for item in self.layout()["items"]}

    def test_seats_in_whole_layers(self) -> None:
        rows = ["name,shape,length,width,thickness,seat,stations"]
        for thickness in (4, 18, 26, 34, 60):
            for seat in ("half", "flush", "deep"):
                rows.append(f"{seat} {thickness},box,40,20,{thickness},{seat},")
        rows.append("driver,,,,,half,0:32 70:32 70:6 120:6")
        rows.append("stop,,,,,flush,0:50x38 12:50x38 12:20x2 90:20x2")
        self.plan("\n".join(rows), "--pulls", "none", "--allowance", "0", container="500x400x140")
        found = self.layers()
        for thickness in (4, 18, 26, 34, 60):
            for seat, wanted in (("half", thickness / 2), ("flush", thickness)):
                best = min(range(1, 5), key=lambda n: abs(10 * n - wanted))
                self.assertEqual(found[f"{seat} {thickness}"], best, (seat, thickness))
            self.assertEqual(found[f"deep {thickness}"], 4)
        self.assertEqual(found["driver"], 2)
        self.assertEqual(found["stop"], 4)
        stop = next(item for item in self.layout()["items"] if item["name"] == "stop")
        blade = [sum(Polygon(ring).area for ring in rings) for rings in stop["by_layer_mm"]]
        # The stock goes four layers down; level with it the blade's underside is 22 deep, so it gets three.
        self.assertGreater(blade[2], 12 * 50 + 78 * 20 - 40)
        self.assertLess(blade[3], 12 * 50 + 40)

    def test_an_allowance_is_the_same_all_round_and_may_be_negative(self) -> None:
        table = "name,shape,length,width,thickness\nplate,box,80,40,12\n"
        for allowance, wanted in (("0", 3200.0), ("2", 3200 + 2 * 240 + math.pi * 4), ("-1mm", 78 * 38.0)):
            self.plan(table, "--pulls", "none", "--allowance", allowance)
            (item,) = self.layout()["items"]
            self.assertAlmostEqual(Polygon(item["pocket_mm"]).area, wanted, delta=2)

    def test_a_lying_cylinder_narrows_below_its_middle(self) -> None:
        self.plan(
            "name,shape,length,width,seat\ntin,round,90,44,flush\n",
            "--pulls",
            "none",
            "--allowance",
            "1",
            container="300x200x90",
        )
        (item,) = self.layout()["items"]
        self.assertEqual(item["layers"], 4)  # 44 is nearest to 40: the axis lies 18 deep
        for number, rings in enumerate(item["by_layer_mm"]):
            top = number * 10.0
            half = 22.0 if top <= 18 else math.sqrt(22**2 - (top - 18) ** 2)
            sides = shapely.minimum_rotated_rectangle(Polygon(rings[0]))
            corners = list(sides.exterior.coords)
            width = min(math.dist(corners[0], corners[1]), math.dist(corners[1], corners[2]))
            self.assertAlmostEqual(width, 2 * half + 2, delta=0.1)

    def test_things_are_turned_and_never_mirrored_in_any_file(self) -> None:
        head = '<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="40mm" viewBox="0 0 80 40">'
        (self.root / "flag.svg").write_text(f'{head}<path d="{FLAG}"/></svg>')
        self.plan("name,outline,thickness\nflag,flag.svg,12\n", "--pulls", "none", "--allowance", "0")
        points = [(0, 0), (80, 0), (80, 12), (30, 12), (20, 40), (0, 40)]
        seen_from_above = Polygon([(x, -y) for x, y in points])  # the drawing's y points down, the DXF's to the back

        def misfit(shape: Polygon, wanted: Polygon) -> float:
            best = math.inf
            for angle in range(0, 360, 5):
                turned = affinity.rotate(wanted, angle)
                dx, dy = shape.centroid.x - turned.centroid.x, shape.centroid.y - turned.centroid.y
                best = min(best, shape.symmetric_difference(affinity.translate(turned, dx, dy)).area)
            return best

        document = ezdxf.readfile(self.root / "x" / "drawer-sheet-1.dxf")
        (drawn,) = [
            Polygon([(x, y) for x, y, *_ in one.get_points()])
            for one in document.modelspace().query('LWPOLYLINE[layer=="POCKET_1"]')
        ]
        mirrored = affinity.scale(seen_from_above, xfact=-1)
        self.assertLess(misfit(drawn, seen_from_above), 15)
        self.assertGreater(misfit(drawn, mirrored), 200)
        svg = (self.root / "x" / "drawer-sheet-1.svg").read_text()
        path = re.search(r'id="POCKET_1".*?d="M([^"]*?) Z"', svg, re.DOTALL)
        assert path is not None
        ring = [tuple(map(float, pair.split())) for pair in path[1].split(" L")]
        flipped = Polygon([(x, 300 - y) for x, y in ring])
        self.assertLess(flipped.symmetric_difference(drawn).area, 0.1)
        self.assertLess(Polygon(self.layout()["items"][0]["pocket_mm"]).symmetric_difference(drawn).area, 0.1)

    def test_the_blank_is_the_inside_and_its_origin_the_front_left_corner(self) -> None:
        self.plan("name,shape,length,width,thickness\nplate,box,80,40,12\n", "--corner-radius", "12")
        document = ezdxf.readfile(self.root / "x" / "drawer-sheet-1.dxf")
        (blank,) = document.modelspace().query('LWPOLYLINE[layer=="BLANK"]')
        shape = Polygon([(x, y) for x, y, *_ in blank.get_points()])
        self.assertEqual([round(v, 3) for v in shape.bounds], [0.0, 0.0, 400.0, 300.0])
        self.assertAlmostEqual(shape.area, 400 * 300 - (4 - math.pi) * 144, delta=1)
        self.assertTrue(document.modelspace().query('TEXT[layer=="LABEL"]'))

    def test_columns_stand_in_any_order_and_unknown_ones_are_kept(self) -> None:
        self.plan("seat,colour,thickness,width,name,length,quantity\nflush,red,22,20,bar,90,3\n")
        self.assertEqual(self.layers(), {"bar": 2})
        self.assertEqual(sorted(item["copy"] for item in self.layout()["items"]), [1, 2, 3])

    def test_more_floor_means_shallower_pockets(self) -> None:
        table = "name,shape,length,width,thickness,seat\nblock,box,60,40,48,deep\n"
        for floor, wanted in ((1, 4), (2, 3), (4, 1)):
            self.plan(table, "--floor", floor, "--pulls", "none")
            self.assertEqual(self.layers(), {"block": wanted})

    def test_a_wider_wall_and_edge_are_kept(self) -> None:
        self.plan("name,quantity,shape,length,width,thickness\nbar,5,box,90,20,22\n", "--wall", "19", "--edge", "1in")
        shapes = [Polygon(item["pocket_mm"]) for item in self.layout()["items"]]
        inner = shapely.box(25.4, 25.4, 400 - 25.4, 300 - 25.4).buffer(0.01)
        for index, shape in enumerate(shapes):
            self.assertTrue(inner.covers(shape))
            for other in shapes[index + 1 :]:
                self.assertGreaterEqual(shape.distance(other), 19 - 0.01)

    def test_several_sheets_go_on_counting_layers(self) -> None:
        table = "name,shape,length,width,thickness,seat\nblock,box,60,40,48,flush\n"
        self.plan(table, "--pulls", "none", foam="20/10,32/3.2")
        (item,) = self.layout()["items"]
        depth = 20 + (item["layers"] - 2) * 3.2
        self.assertLessEqual(depth, 20 + 32 - 8)
        self.assertEqual(item["layers"], 2 + 7)
        second = ezdxf.readfile(self.root / "x" / "drawer-sheet-2.dxf")
        names = {layer.dxf.name for layer in second.layers if layer.dxf.name.startswith("POCKET")}
        self.assertEqual(names, {f"POCKET_{n}" for n in range(1, 8)})
