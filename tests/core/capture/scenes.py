"""Small simulated photos for the tests, and how far outlines lie apart."""

from __future__ import annotations

import hashlib
import os
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np
import shapely
from shapely import affinity
from shapely.geometry import Point, Polygon, box

from cozy_burrow.core.capture.photo.mat import mat_page, printed_boxes
from cozy_burrow.devices.simulated_camera import PrintedPage, SimulatedCamera
from cozy_burrow.devices.simulated_scene import Body, Colour, Light, Stand, Subject

STEEL: Colour = (0.32, 0.32, 0.34)
RED: Colour = (0.45, 0.06, 0.05)
DARK: Colour = (0.05, 0.05, 0.06)

DRIVER = box(0, -9, 50, 9).union(box(49, -3, 95, 3))
RING = Point(0, 0).buffer(18, quad_segs=32).difference(Point(0, 0).buffer(9, quad_segs=32))
SQUARE = Polygon([(0, 0), (60, 0), (60, 15), (16, 15), (16, 50), (0, 50)])


def laid(shape: Polygon, x: float, y: float, angle: float = 0.0) -> Polygon:
    """Return a shape turned, its middle at a place of the page."""
    turned = affinity.rotate(shape, angle, origin="centroid")
    middle = turned.envelope.centroid
    return affinity.translate(turned, x - middle.x, y - middle.y)


def three_things(height_mm: float, body: Body) -> tuple[Subject, ...]:
    """A driver, a ring and a square, red, dark and of steel."""
    return (
        Subject(laid(DRIVER, 100, 75, 12), height_mm, body, RED),
        Subject(laid(RING, 70, 145), height_mm, body, DARK),
        Subject(laid(SQUARE, 130, 215, 20), height_mm, body, STEEL),
    )


@lru_cache(maxsize=8)
def photo(height_mm: float, body: Body, *, tilt_deg: float = 12.0, stretch: float = 1.0, **more: Any) -> bytes:
    """Return a photo of three things on an A4 mat, 5 megapixels from half a metre. stretch: what the printer did.

    It takes seconds, and many modules want the same: processes of one run of the tests share it in a folder.
    """
    shared = os.environ.get("TEST_SHARED")
    if shared is None:
        return _taken(height_mm, body, tilt_deg, stretch, more)
    asked = repr((height_mm, body, tilt_deg, stretch, sorted(more.items())))
    path = Path(shared) / f"photo-{hashlib.blake2b(asked.encode(), digest_size=12).hexdigest()}.jpg"
    if not path.exists():
        begun = path.with_suffix(f".{os.getpid()}")
        begun.write_bytes(_taken(height_mm, body, tilt_deg, stretch, more))
        begun.replace(path)
    return path.read_bytes()


def _taken(height_mm: float, body: Body, tilt_deg: float, stretch: float, more: dict[str, Any]) -> bytes:
    return photo_of(three_things(height_mm, body), Light(fade=(0.3, -0.2)), tilt_deg=tilt_deg, stretch=stretch, **more)


def photo_of(
    things: tuple[Subject, ...], light: Light, *, tilt_deg: float = 12.0, stretch: float = 1.0, **more: Any
) -> bytes:
    """Return a photo of any things on an A4 mat."""
    page = mat_page("a4")
    black = tuple((a * stretch, b * stretch, c * stretch, d * stretch) for a, b, c, d in printed_boxes(page))
    stand = Stand(
        aim_mm=(105, 148),
        height_mm=more.pop("stand_mm", 500.0),
        tilt_deg=tilt_deg,
        towards_deg=more.pop("towards_deg", 50.0),
        width_px=1950,
        height_px=2600,
        noise=0.01,
        **more,
    )
    printed = PrintedPage(page.width_mm * stretch, page.height_mm * stretch, black)
    return SimulatedCamera(printed, things, stand, light).take_photo()


def apart_mm(found: Polygon, true: Polygon) -> tuple[float, float]:
    """Return mean and 95th percentile of the distance between two outlines, both ways."""
    both = []
    for one, other in ((found, true), (true, found)):
        points = shapely.points(shapely.get_coordinates(shapely.segmentize(one, 0.3)))
        both.append(shapely.distance(points, other.boundary))
    far = np.concatenate(both)
    return float(far.mean()), float(np.percentile(far, 95))
