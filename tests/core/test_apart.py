"""Numbers of a picture that want the same place: none over another, each near its own."""

from __future__ import annotations

import itertools
import math
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from cozy_burrow.core.geometry.apart import apart_within

SIZE = (9.0, 6.4)
PLACES = st.lists(st.tuples(st.floats(0, 120), st.floats(0, 80)), max_size=25)


class Apart(unittest.TestCase):
    def test_what_has_room_stays_and_the_others_go_no_further_than_they_must(self) -> None:
        places = [(10.0, 10.0), (50.0, 10.0), (10.0, 10.0), (11.0, 10.0)]
        found = apart_within(places, [SIZE] * 4, room=1.0, steps=60, inside=(0.0, 0.0, 120.0, 80.0))
        self.assertEqual(found[:2], places[:2])
        for at, place in zip(places[2:], found[2:]):
            assert place is not None
            self.assertTrue(SIZE[1] <= math.dist(at, place) <= SIZE[1] + 3.0)

    @settings(max_examples=40, deadline=None)
    @given(PLACES)
    def test_within_bounds_none_reaches_out_and_none_goes_farther_than_it_may(
        self, places: list[tuple[float, float]]
    ) -> None:
        found = apart_within(places, [SIZE] * len(places), room=1.0, steps=8, inside=(0.0, 0.0, 120.0, 80.0))
        stand = [one for one in found if one is not None]
        for x, y in stand:
            self.assertTrue(SIZE[0] / 2 <= x <= 120 - SIZE[0] / 2 and SIZE[1] / 2 <= y <= 80 - SIZE[1] / 2)
        for one, other in itertools.combinations(stand, 2):
            self.assertTrue(abs(one[0] - other[0]) >= SIZE[0] or abs(one[1] - other[1]) >= SIZE[1], (one, other))
        for place, at in zip(places, found):
            self.assertTrue(at is None or math.dist(place, at) <= 8.0 + 1e-9)

    def test_where_there_is_no_room_there_is_none(self) -> None:
        places = [(5.0, 4.0)] * 3
        found = apart_within(places, [SIZE] * 3, room=1.0, steps=4, inside=(0.0, 0.0, 10.0, 8.0))
        self.assertEqual(found, [(5.0, 4.0), None, None])
