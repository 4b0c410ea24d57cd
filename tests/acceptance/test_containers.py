"""`plan` for cases and walls: rounded blanks, several sheets of mixed pitch, one DXF a sheet."""

from __future__ import annotations

import json
import math
import tempfile
import unittest
from pathlib import Path

import ezdxf
import shapely
from shapely.geometry import Polygon

from tests.acceptance.command import burrow

KIT = """name,quantity,shape,length,width,thickness,stations,mass_g
Wide driver,1,,,,,0:32 96:32 96:7 206:7 206:10x3 222:10x3,130
Voicing tool,1,,,,,0:18 14:25 88:22 104:12 128:12x9 140:12x9,62
Pin box,2,box,92,58,20,,150
Reel,1,round,58,44,,,35
"""


def polygons(path: Path, layer: str) -> list[Polygon]:
    space = ezdxf.readfile(path).modelspace()
    return [
        Polygon([(x, y) for x, y, *_ in line]) for line in space.query(f'LWPOLYLINE[layer=="{layer}"]') if line.closed
    ]


class Containers(unittest.TestCase):
    def plan(self, folder: Path, *options: str) -> dict[str, object]:
        (folder / "kit.csv").write_text(KIT, encoding="utf-8")
        words = (*options, "--seconds", "600", "--json")
        done = burrow("plan", str(folder / "kit.csv"), str(folder / "out.burrow"), *words)
        self.assertEqual(done.status, 0, done.err + done.out)
        export = burrow("export", str(folder / "out.burrow"), str(folder / "out"), "--only", "dxf,json")
        self.assertEqual(export.status, 0, export.err)
        return dict(done.json())

    def test_a_case_with_rounded_corners_and_three_sheets(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            answer = self.plan(
                folder, "--kind", "case", "--container", "420x300x100", "--corner-radius", "40mm",
                "--foam", "32/3.2,30/10,20/10",
            )  # fmt: skip
            self.assertEqual(len(answer["placed"]), 5)
            sheets = sorted((folder / "out").glob("case-sheet-*.dxf"))
            self.assertEqual([one.stem for one in sheets], ["case-sheet-1", "case-sheet-2", "case-sheet-3"])
            layout = json.loads((folder / "out" / "case-layout.json").read_text())
            self.assertTrue(layout["items"])
            for number, (sheet, layers) in enumerate(zip(sheets, (10, 3, 2))):
                (blank,) = polygons(sheet, "BLANK")
                self.assertAlmostEqual(blank.area, 420 * 300 - (4 - math.pi) * 40**2, delta=4.0)
                document = ezdxf.readfile(sheet)
                for layer in document.layers:
                    if layer.dxf.name.startswith("POCKET_"):
                        self.assertLessEqual(int(layer.dxf.name[7:]), layers)
                        for pocket in polygons(sheet, layer.dxf.name):
                            self.assertTrue(blank.buffer(-14.9).covers(pocket))
                first = 1 + sum((10, 3, 2)[:number])
                taken = shapely.union_all(polygons(sheet, "POCKET_1"))
                told = [
                    Polygon((item.get("by_layer_mm") or [[item["pocket_mm"]]] * 99)[first - 1][0])
                    for item in layout["items"]
                    if item["layers"] >= first
                ]
                told += [Polygon(pull["outline_mm"]) for pull in layout["pulls"] if pull["layers"] >= first]
                self.assertLess(taken.symmetric_difference(shapely.union_all(told)).area, 1.0)

    def test_a_wall_panel_keeps_things_about_flush_and_deep_where_that_is_asked(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            answer = self.plan(folder, "--kind", "wall", "--container", "400x400x50", "--foam", "20/10,30/10")
            self.assertEqual(len(answer["placed"]), 5)
            self.assertEqual(len(list((folder / "out").glob("wall-sheet-*.dxf"))), 2)
            layout = json.loads((folder / "out" / "wall-layout.json").read_text())
            layers = {item["name"]: item["layers"] for item in layout["items"]}
            self.assertEqual(layers, {"Wide driver": 3, "Voicing tool": 2, "Pin box": 2, "Reel": 4})
            self.plan(folder, "--kind", "wall", "--container", "400x400x50", "--foam", "20/10,30/10", "--seat", "deep")
            layout = json.loads((folder / "out" / "wall-layout.json").read_text())
            self.assertEqual({item["layers"] for item in layout["items"]}, {4})
