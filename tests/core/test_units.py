"""Lengths as text, both ways."""

from __future__ import annotations

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.units import format_length, parse_length, parse_size


class ParseLength(unittest.TestCase):
    def test_every_way_of_writing_that_the_contract_names(self) -> None:
        for text, wanted in {
            "12": 12.0,
            "12mm": 12.0,
            "1.2cm": 12.0,
            "1.2 cm": 12.0,
            "0.5in": 12.7,
            "1/2in": 12.7,
            "1 1/8in": 28.575,
            "1 1/8 in": 28.575,
            '1-1/8"': 28.575,
            "12,5": 12.5,
            "-1mm": -1.0,
            "−1.5": -1.5,
            " 3 ": 3.0,
        }.items():
            with self.subTest(text):
                self.assertAlmostEqual(parse_length(text), wanted, places=9)

    def test_a_bare_number_takes_the_unit_that_is_shown(self) -> None:
        self.assertAlmostEqual(parse_length("1 1/8", unit="inch"), 28.575)
        self.assertAlmostEqual(parse_length("12mm", unit="inch"), 12.0)

    def test_what_is_no_length_is_refused_in_one_line(self) -> None:
        for text in ("", "abc", "1/0in", "1e5", "nan", "inf", "12 mm mm", "--3", "99999999", "½", "1 2"):
            with self.subTest(text), self.assertRaises(UnusableInput) as caught:
                parse_length(text, where="row 3")
            self.assertIn("row 3", str(caught.exception))
            self.assertNotIn("\n", str(caught.exception))

    def test_a_size_has_all_its_sides(self) -> None:
        self.assertEqual(parse_size("570x390x75", parts=3), (570.0, 390.0, 75.0))
        self.assertEqual(parse_size("10inX5cm", parts=2), (254.0, 50.0))
        for text in ("570x390", "0x5x5", "5x-5x5", "axbxc"):
            with self.subTest(text), self.assertRaises(UnusableInput):
                parse_size(text, parts=3)

    @settings(derandomize=True, deadline=None)
    @given(st.floats(-9000, 9000))
    def test_what_is_shown_is_read_back(self, length: float) -> None:
        self.assertAlmostEqual(parse_length(format_length(length, digits=4)), length, delta=1e-4)
        self.assertAlmostEqual(parse_length(format_length(length, "inch")), length, delta=25.4 / 64 + 1e-6)

    @settings(derandomize=True, deadline=None)
    @given(st.text(max_size=12))
    def test_no_text_at_all_breaks_the_reader(self, text: str) -> None:
        try:
            value = parse_length(text)
        except UnusableInput:
            return
        self.assertLessEqual(abs(value), 10_000)

    def test_inches_are_shown_as_fractions_in_lowest_terms(self) -> None:
        self.assertEqual(format_length(28.575, "inch"), "1 1/8 in")
        self.assertEqual(format_length(12.7, "inch"), "1/2 in")
        self.assertEqual(format_length(-25.4, "inch"), "−1 in")
        self.assertEqual(format_length(0.0), "0 mm")
        self.assertEqual(format_length(-0.001), "0 mm")
