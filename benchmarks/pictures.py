"""Layouts as pictures, to be looked at: plain shapes on foam, several beside each other."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any

import shapely
from shapely.geometry.base import BaseGeometry

THING, PULL, PAPER, INK, FOAM, EDGE, LINE = "#e3c79b", "#57514a", "#f7f1e5", "#2a241d", "#8d867b", "#5f584e", "#4a3720"
Shapes = Sequence[tuple[BaseGeometry, str]]
Picture = tuple[str, BaseGeometry, Shapes]


def sheet(pictures: Sequence[Picture], path: Path, *, columns: int = 2, scale: float = 1.0) -> None:
    """Write pictures (title, foam, shapes on it with their colours) beside each other; scale: pixels a millimetre."""
    from PIL import Image, ImageDraw

    sizes = [foam.bounds for _, foam, _ in pictures]
    wide = round(max(b[2] - b[0] for b in sizes) * scale) + 20
    rows = [pictures[start : start + columns] for start in range(0, len(pictures), columns)]
    heights = [round(max(foam.bounds[3] - foam.bounds[1] for _, foam, _ in row) * scale) + 40 for row in rows]
    image = Image.new("RGB", (wide * min(columns, len(pictures)), sum(heights)), PAPER)
    draw = ImageDraw.Draw(image)
    y = 0
    for row, high in zip(rows, heights):
        for column, (title, foam, shapes) in enumerate(row):
            corner = (column * wide + 10, y + 24)
            draw.text((corner[0], corner[1] - 18), title, fill=INK)
            _paint(draw, foam, FOAM, EDGE, corner, foam.bounds, scale)
            for shape, colour in shapes:
                _paint(draw, shape, colour, LINE if colour == THING else colour, corner, foam.bounds, scale)
        y += high
    image.save(path)


def _paint(
    draw: Any, area: BaseGeometry, fill: str, line: str, corner: tuple[int, int], origin: Sequence[float], scale: float
) -> None:
    for part in shapely.get_parts(area):
        points = [
            (corner[0] + (x - origin[0]) * scale, corner[1] + (y - origin[1]) * scale) for x, y in part.exterior.coords
        ]
        draw.polygon(points, fill=fill, outline=line)
