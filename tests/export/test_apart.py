"""Numbers of a picture that want the same place: none over another, each near its own."""

from __future__ import annotations

import itertools
import math
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from cozy_burrow.export.apart import apart

SIZE = (9.0, 6.4)
PLACES = st.lists(st.tuples(st.floats(0, 120), st.floats(0, 80)), max_size=25)


class Apart(unittest.TestCase):
    @settings(max_examples=60, deadline=None)
    @given(PLACES)
    def test_none_stands_over_another(self, places: list[tuple[float, float]]) -> None:
        found = apart(places, [SIZE] * len(places))
        for one, other in itertools.combinations(found, 2):
            self.assertTrue(abs(one[0] - other[0]) >= SIZE[0] or abs(one[1] - other[1]) >= SIZE[1], (one, other))

    def test_what_has_room_stays_and_the_others_go_no_further_than_they_must(self) -> None:
        places = [(10.0, 10.0), (50.0, 10.0), (10.0, 10.0), (11.0, 10.0)]
        found = apart(places, [SIZE] * 4)
        self.assertEqual(found[:2], places[:2])
        for at, place in zip(places[2:], found[2:]):
            self.assertTrue(SIZE[1] <= math.dist(at, place) <= SIZE[1] + 3.0)
