"""Layouts as pictures, to be looked at: plain shapes on foam, several beside each other."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

import shapely
from shapely.geometry.base import BaseGeometry

PX_PER_MM = 1.0
Picture = tuple[str, BaseGeometry, Sequence[BaseGeometry]]


def sheet(pictures: Sequence[Picture], path: Path, *, columns: int = 2) -> None:
    """Write pictures (title, foam, shapes on it) beside each other as a PNG."""
    from PIL import Image, ImageDraw

    sizes = [foam.bounds for _, foam, _ in pictures]
    wide = round(max(b[2] - b[0] for b in sizes) * PX_PER_MM) + 20
    high = round(max(b[3] - b[1] for b in sizes) * PX_PER_MM) + 40
    rows = -(-len(pictures) // columns)
    image = Image.new("RGB", (wide * min(columns, len(pictures)), high * rows), "#f7f1e5")
    draw = ImageDraw.Draw(image)
    for number, (title, foam, shapes) in enumerate(pictures):
        x0, y0 = number % columns * wide + 10, number // columns * high + 24
        left, top = foam.bounds[:2]

        def pixels(
            ring: object, x0: int = x0, y0: int = y0, left: float = left, top: float = top
        ) -> list[tuple[float, float]]:
            return [(x0 + (x - left) * PX_PER_MM, y0 + (y - top) * PX_PER_MM) for x, y in ring.coords]  # type: ignore[attr-defined]

        draw.text((x0, y0 - 18), title, fill="#2a241d")
        for part in shapely.get_parts(foam):
            draw.polygon(pixels(part.exterior), fill="#8d867b", outline="#5f584e")
        for shape in shapes:
            for part in shapely.get_parts(shape):
                draw.polygon(pixels(part.exterior), fill="#e3c79b", outline="#4a3720")
    image.save(path)
