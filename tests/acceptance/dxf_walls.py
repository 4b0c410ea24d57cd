"""An independent look at an exported sheet: only ezdxf and Shapely, nothing of the program.

Reads BLANK and POCKET_<k>; two openings belong to one place where they lie in one opening of the top layer.
"""

from __future__ import annotations

import re
from itertools import combinations
from pathlib import Path
from typing import NamedTuple

import ezdxf
import shapely
from shapely.geometry import Polygon


class Walls(NamedTuple):
    """What was measured: the thinnest wall, the thinnest edge, the deepest layer, how many places."""

    wall_mm: float
    edge_mm: float
    deepest: int
    places: int


def look(path: Path) -> Walls:
    """Measure a sheet; raises AssertionError where it is not what a cutting shop could work from."""
    document = ezdxf.readfile(path)
    assert document.dxfversion == "AC1024", "R2010"
    assert document.units == 4, "millimetres"
    names = {layer.dxf.name for layer in document.layers} - {"0", "Defpoints"}  # ezdxf adds both when it reads
    assert "Defpoints" not in path.read_text()
    assert all(re.fullmatch(r"BLANK|LABEL|POCKET_[1-9]\d*", name) for name in names), names
    rings: dict[str, list[Polygon]] = {}
    for entity in document.modelspace().query("LWPOLYLINE"):
        assert entity.closed
        rings.setdefault(entity.dxf.layer, []).append(Polygon([(x, y) for x, y, *_ in entity.get_points()]))
    (blank,) = rings["BLANK"]
    layers = {int(name[7:]): found for name, found in rings.items() if name.startswith("POCKET_")}
    assert sorted(layers) == list(range(1, len(layers) + 1)), "layers are whole and without a gap"
    top = layers[1]
    place_of: dict[int, list[tuple[int, Polygon]]] = {}
    for number, found in layers.items():
        for ring in found:
            homes = [index for index, one in enumerate(top) if one.buffer(0.05).covers(ring)]
            assert len(homes) == 1, "a deeper opening lies inside one of the top layer"
            place_of.setdefault(number, []).append((homes[0], ring))
    pairs = [pair for found in place_of.values() for pair in combinations(found, 2)]
    walls = [a.distance(b) for (home, a), (other, b) in pairs if home != other]
    edges = [ring.distance(blank.exterior) for ring in top]
    assert all(blank.covers(ring) for ring in top)
    assert shapely.union_all(top).area < blank.area
    return Walls(min(walls), min(edges), max(layers), len(top))
