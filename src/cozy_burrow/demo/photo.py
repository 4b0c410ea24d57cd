"""The simulated camera before a mat with things of the demo kit on it: the demo's way in by photo."""

from __future__ import annotations

from typing import Literal

from shapely import affinity
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from cozy_burrow.core.capture.photo.mat import mat_page, printed_boxes
from cozy_burrow.core.capture.photo.trace import PhotoTrace
from cozy_burrow.core.capture.retouch.draft import Table
from cozy_burrow.core.geometry.rings import polygon_of, polygons_in
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.progress import Quiet, Token
from cozy_burrow.demo.shipped import demo_project
from cozy_burrow.devices.camera import PhotoSource
from cozy_burrow.devices.simulated_camera import PrintedPage, SimulatedCamera
from cozy_burrow.devices.simulated_scene import Body, Colour, Light, Stand, Subject
from cozy_burrow.jobs.capture import Capture, Recipe, captured, with_another_photo

DEMO_PHOTO = "demo photo"
View = Literal["above", "side"]

_STEEL: Colour = (0.30, 0.30, 0.32)
_WOOD: Colour = (0.42, 0.24, 0.10)
_RED: Colour = (0.45, 0.06, 0.05)
_DARK: Colour = (0.06, 0.06, 0.07)

# Name in the kit, where its middle lies on the page, how it is turned, what it is made of. The last two touch.
_LAID: tuple[tuple[str, float, float, float, Colour], ...] = (
    ("Loop pliers", 105.0, 62.0, 4.0, _RED),
    ("Tuning fork", 105.0, 118.0, -3.0, _STEEL),
    ("Mute wedge", 70.0, 200.0, 0.0, _DARK),
    ("String gauge", 133.0, 196.0, 0.0, _WOOD),
)


def demo_camera(token: Token | None = None, *, seed: int = 1, aside: bool = False) -> SimulatedCamera:
    """Return the camera over an A4 mat with things of the demo kit, two of which touch. aside: two hands farther on."""
    items = {item.name: item for item in demo_project().items}
    subjects = [_subject(items[name], x, y, angle, colour) for name, x, y, angle, colour in _LAID]
    third, fourth = subjects[-2:]
    # Pushed together until they touch along a short stretch.
    gap = fourth.shape.bounds[0] - third.shape.bounds[2]
    moved = affinity.translate(third.shape, gap + 0.4, 0.0)
    subjects[-2] = Subject(moved, third.height_mm, third.body, third.colour, third.shine)
    lean = (12.0, 250.0) if aside else (9.0, 70.0)
    return _over_a4(tuple(subjects), seed=seed, token=token, lean_deg=lean)


def demo_capture(*, token: Token) -> Capture:
    """Return what the photo of the demo camera gives. Raises Cancelled."""
    camera: PhotoSource = demo_camera(token)
    return captured(camera.take_photo(), Recipe(way="photo", source=DEMO_PHOTO), token=token)


def demo_another(table: Table, trace: PhotoTrace, *, token: Token) -> Table:
    """Return drafts of the demo photo with what another one, taken from the side, tells. Raises Cancelled."""
    camera: PhotoSource = demo_camera(token, seed=3, aside=True)
    return with_another_photo(table, trace, camera.take_photo(), DEMO_PHOTO, token=token)


def side_camera(item: Item, *, seed: int = 2) -> SimulatedCamera:
    """Return the camera over one thing that lies on its side: what it shows is its zones' heights along its length."""
    left, back, right, front = polygon_of(item.outline).bounds
    low = min(zone.lowest_mm for zone in item.zones)
    shape: BaseGeometry = Polygon()
    for zone in item.zones:
        start, _, end, _ = polygon_of(zone.region).bounds
        top, under = zone.highest_mm - low, zone.lowest_mm - low
        shape = shape.union(Polygon([(start, -under), (end, -under), (end, -top), (start, -top)]))
    placed = affinity.translate(polygons_in(shape)[0], 105.0 - (left + right) / 2, 150.0)
    # On its side it stands as high as it was wide.
    return _over_a4((Subject(placed, front - back, "straight", _STEEL, 0.02),), seed=seed)


def _subject(item: Item, x: float, y: float, angle: float, colour: Colour) -> Subject:
    shape = affinity.rotate(polygon_of(item.outline), angle, origin=(0.0, 0.0))
    body: Body = "lying" if item.zones[0].section == "round" else "straight"
    centre = shape.envelope.centroid
    placed = affinity.translate(shape, x - centre.x, y - centre.y)
    return Subject(placed, item.thickness_mm, body, colour, 0.03)


def _over_a4(
    subjects: tuple[Subject, ...], *, seed: int, token: Token | None = None, lean_deg: tuple[float, float] = (9.0, 70.0)
) -> SimulatedCamera:
    page = mat_page("a4")
    stand = Stand(
        aim_mm=(105.0, 150.0),
        height_mm=480.0,
        tilt_deg=lean_deg[0],
        towards_deg=lean_deg[1],
        width_px=2250,
        height_px=3000,
        bend=(0.01, 0.0),
    )
    light = Light(slope=(0.35, 0.25), fade=(0.4, -0.3))
    return SimulatedCamera(
        PrintedPage(page.width_mm, page.height_mm, tuple(printed_boxes(page))),
        subjects,
        stand,
        light,
        seed=seed,
        token=token or Quiet(),
    )
