"""Walls as pale as the paper in two photos: nothing tells a plate from a round thing, so no thickness is doubled."""

from __future__ import annotations

import unittest
from functools import cache

import numpy as np
import shapely
from shapely.geometry import Polygon, box

from cozy_burrow.core.capture.photo.picture import open_picture
from cozy_burrow.core.capture.photo.trace import PhotoTrace, look_at
from cozy_burrow.core.capture.retouch.another import with_photo
from cozy_burrow.core.capture.retouch.draft import Draft, table_of, with_thickness
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.devices.simulated_scene import Colour, Light, Subject
from tests.core.capture.scenes import DARK, SQUARE, apart_mm, laid, photo_of

_PALE: Colour = (0.78, 0.78, 0.77)
_THICK_MM = 8.0
_PLATE = laid(SQUARE, 105, 90, 10)
_STRIP = laid(box(0, 0, 120, 22), 105, 160, -6)
_BLOCK = laid(box(0, 0, 70, 30), 105, 225, 15)


@cache
def traces() -> tuple[PhotoTrace, PhotoTrace]:
    """Two photos of two pale plates and a dark block, all with upright walls."""
    things = tuple(
        Subject(shape, _THICK_MM, "straight", colour)
        for shape, colour in ((_PLATE, _PALE), (_STRIP, _PALE), (_BLOCK, DARK))
    )
    first, second = (
        look_at(
            open_picture(photo_of(things, Light(), tilt_deg=tilt, towards_deg=towards), where="photo"), where="photo"
        )
        for tilt, towards in ((11.0, 50.0), (12.0, 230.0))
    )
    return first, second


@cache
def measured() -> tuple[Draft, ...]:
    first, second = traces()
    return with_photo(table_of(first, source="one.jpg"), first, second, source="other.jpg").drafts


def of(shape: Polygon) -> Draft:
    return max(measured(), key=lambda draft: polygon_of(draft.item.outline).intersection(shape).area)


class PaleWalls(unittest.TestCase):
    def test_a_pale_plate_is_as_thick_as_its_edge_is_high(self) -> None:
        for shape in (_PLATE, _STRIP):
            draft = of(shape)
            self.assertEqual((draft.section, len(draft.item.zones)), ("flat", 1))
            self.assertTrue(draft.walls_hidden)
            self.assertAlmostEqual(draft.thickness_mm, _THICK_MM, delta=1.0)
            self.assertLess(apart_mm(polygon_of(draft.item.outline), shape)[0], 0.4)

    def test_a_dark_block_shows_its_walls(self) -> None:
        draft = of(_BLOCK)
        self.assertEqual((draft.section, draft.walls_hidden), ("flat", False))
        self.assertAlmostEqual(draft.thickness_mm, _THICK_MM, delta=0.5)

    def test_an_outline_is_no_surer_than_its_height_lets_it_be(self) -> None:
        """By similar triangles an edge that is a little higher is seen farther out, by that much of its distance."""
        first, _ = traces()
        x, y, high = first.sight.camera.eye_mm
        for shape in (_PLATE, _STRIP, _BLOCK):
            draft = of(shape)
            assert draft.measured_sigma_mm is not None
            rim = shapely.get_coordinates(shapely.segmentize(shape, 1.0).exterior)
            moved = float(np.hypot(*(rim - (x, y)).T).mean()) / high * draft.measured_sigma_mm
            self.assertGreater(draft.item.provenance.uncertainty_mm, 0.95 * moved)
            self.assertLess(draft.item.provenance.uncertainty_mm, moved + 0.2)

    def test_another_body_set_by_hand_is_drawn_anew(self) -> None:
        draft = of(_STRIP)
        first, _ = traces()
        upright = with_thickness(draft, first, walls_hidden=False)
        self.assertGreater(apart_mm(polygon_of(upright.item.outline), polygon_of(draft.item.outline))[1], 0.5)
        self.assertEqual(with_thickness(upright, first, walls_hidden=True).item.outline, draft.item.outline)
        self.assertFalse(with_thickness(draft, first, section="round").walls_hidden)
