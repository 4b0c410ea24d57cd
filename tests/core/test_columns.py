"""Headings of a kit table: units in them, slips of the pen, and what is said of what nobody knows."""

from __future__ import annotations

import random
import unittest

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.kit.columns import COLUMNS, columns_of, nearest, remarks_on
from cozy_burrow.core.kit.table import read_rows
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.units import BareUnit, parse_length


def read(table: str, *, unit: BareUnit = "mm") -> Item:
    """The one item of a table whose cells are parted by bars."""
    header, *rows = [[cell.strip() for cell in line.split("|")] for line in table.strip().splitlines()]

    def none(name: str) -> None:
        raise UnusableInput("no drawing here", where=name)

    return read_rows(columns_of(header), rows, source="kit.csv", read_outline=none, unit=unit)[0]  # type: ignore[arg-type]


class Units(unittest.TestCase):
    def test_a_heading_sets_the_unit_of_its_bare_figures_only(self) -> None:
        item = read("Name | Length (mm) | width [in] | thickness_cm | Mass (kg)\nRule | 100 | 1/2 | 0.3 | 0.25")
        left, back, right, front = -50.0, -6.35, 50.0, 6.35
        xs, ys = zip(*item.outline.outer)
        self.assertEqual((min(xs), min(ys), max(xs), max(ys)), (left, back, right, front))
        self.assertAlmostEqual(item.thickness_mm, 3.0)
        self.assertEqual(item.mass_g, 250.0)
        named = read("name | length (in) | width | thickness\nRule | 100mm | 20 | 3")
        self.assertAlmostEqual(max(x for x, _ in named.outline.outer), 50.0)

    def test_units_of_a_kit_hold_where_a_heading_names_none(self) -> None:
        item = read("name | length | width (mm) | thickness\nRule | 4 | 20 | 1/4", unit="inch")
        self.assertAlmostEqual(max(x for x, _ in item.outline.outer), 50.8)
        self.assertAlmostEqual(max(y for _, y in item.outline.outer), 10.0)
        self.assertAlmostEqual(item.thickness_mm, 6.35)
        driver = read("name | stations\nDriver | 0:1 3:1 3:1/4 8:1/4", unit="inch")
        self.assertAlmostEqual(driver.thickness_mm, 25.4)

    def test_a_comma_before_three_figures_is_refused_with_both_readings(self) -> None:
        with self.assertRaises(UnusableInput) as caught:
            parse_length("1,200", where="column length")
        self.assertEqual(str(caught.exception), "column length: '1,200' may be 1.200 or 1200; write 1.2 or 1200")
        for text, wanted in (("12,5", 12.5), ("0,125", 0.125), ("1,25", 1.25), ("1,2000", 1.2), ("1200", 1200.0)):
            self.assertAlmostEqual(parse_length(text), wanted)
        for text in ("1,200 mm", "-1,200", "999,999", "12,345in"):
            with self.subTest(text), self.assertRaises(UnusableInput):
                parse_length(text)


class Slips(unittest.TestCase):
    def test_an_unknown_heading_is_told_with_what_it_may_mean(self) -> None:
        said = remarks_on(columns_of(["name", "quantiy", "Shelf", "notes", "", "Länge"]))
        self.assertEqual(
            said[:2],
            (
                "column 'quantiy' is not known; did you mean quantity? Its values are kept as notes",
                "column 'Shelf' is not known; its values are kept as notes",
            ),
        )
        self.assertEqual(len(said), 3)

    def test_any_one_slip_of_the_pen_is_seen_through(self) -> None:
        chance = random.Random(14)
        for name in COLUMNS:
            if len(name) < 5:
                continue
            for _ in range(40):
                at = chance.randrange(1, len(name) - 1)
                slips = (
                    name[:at] + name[at + 1 :],
                    name[:at] + name[at + 1] + name[at] + name[at + 2 :],
                    name[:at] + chance.choice("aeiou") + name[at:],
                    f"{name} ({chance.choice(('pcs', 'approx', 'max'))})",
                )
                for slip in slips:
                    if slip not in COLUMNS:
                        self.assertEqual(nearest(slip.title()), name, slip)

    def test_what_has_nothing_to_do_with_a_column_is_not_taken_for_one(self) -> None:
        for text in ("shelf", "supplier", "price", "bought on", "Nr.", "x", "serial"):
            self.assertIsNone(nearest(text), text)

    def test_a_missing_figure_names_the_column_that_looks_like_it(self) -> None:
        for table, says in (
            ("name | lenght | width | thickness\nA | 1 | 2 | 3", "column 'lenght' looks like it: call that length"),
            ("name | length | width | Thikness\nA | 1 | 2 | 3", "column 'Thikness' looks like it"),
            ("name | length | diameter\nA | 1 | 2", "call that width, and round in the column shape"),
            ("name | length | width | thickness\nA | 1 | 2 | ", "measure it"),
            ("name | Lenght (mm) | width | thickness\nA | 1 | 2 | 3", "column 'Lenght (mm)' looks like it"),
        ):
            with self.subTest(table), self.assertRaises(UnusableInput) as caught:
                read(table)
            self.assertIn(says, str(caught.exception))

    def test_a_table_without_names_says_which_column_may_hold_them(self) -> None:
        with self.assertRaises(UnusableInput) as caught:
            columns_of(["Item", "length"])
        self.assertIn("call the column 'Item' name", str(caught.exception))

    def test_one_column_in_two_units_comes_twice(self) -> None:
        for header in (["name", "length", "Length (mm)"], ["name", "Shelf", "shelf"]):
            with self.subTest(header), self.assertRaises(UnusableInput) as caught:
                columns_of(header)
            self.assertIn("twice", str(caught.exception))

    def test_notes_are_kept_as_they_are_and_unknown_columns_with_their_names(self) -> None:
        item = read("name | length | width | thickness | Shelf | notes\nA | 1 | 2 | 3 | red | goes away hot")
        self.assertEqual(item.notes, "goes away hot; shelf: red")


if __name__ == "__main__":
    unittest.main()
