"""Items from shapes, stations, tables; zones by hand; where they balance."""

from __future__ import annotations

import math
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Point as Dot
from shapely.geometry import box as rectangle

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.geometry.rings import outline_of, polygon_of
from cozy_burrow.core.kit.columns import columns_of
from cozy_burrow.core.kit.shapes import disc_outline, outline_item
from cozy_burrow.core.kit.stations import parse_stations, station_item
from cozy_burrow.core.kit.table import read_rows
from cozy_burrow.core.kit.zones import (
    centre_of_mass,
    covers_outline,
    join_zones,
    mass_of,
    set_zone,
    split_zones,
    volume_mm3,
)
from cozy_burrow.core.model.records import Item, Outline, Way, Zone
from tests.makers import DRIVER, L_STOP, box, rod, stations


def no_drawing(name: str) -> tuple[Outline, Way]:
    raise UnusableInput("no drawing here", where=name)


def read(*rows: dict[str, str]) -> tuple[Item, ...]:
    columns = columns_of(list(dict.fromkeys(heading for row in rows for heading in row)))
    cells = [[row.get(heading, "") for heading in columns.headings] for row in rows]
    return read_rows(columns, cells, source="kit.csv", read_outline=no_drawing)


class Balance(unittest.TestCase):
    """Where bodies balance, against closed forms."""

    def test_a_cone_balances_at_a_quarter_of_its_height_from_its_base(self) -> None:
        cone = station_item("item-1", "cone", parse_stations("0:40 120:0.2"))
        left, *_ = polygon_of(cone.outline).bounds
        self.assertAlmostEqual(centre_of_mass(cone)[0] - left, 30.0, delta=0.2)
        self.assertAlmostEqual(sum(map(volume_mm3, cone.zones)), math.pi * 20**2 * 120 / 3, delta=500)

    def test_a_wedge_balances_at_a_third_and_as_high(self) -> None:
        wedge = Zone(
            name="wedge",
            region=outline_of(rectangle(0, -10, 90, 10)),
            section="tapered",
            under_mm=0.0,
            top_mm=30.0,
            under_end_mm=0.0,
            top_end_mm=0.0,
            axis=((0.0, 0.0), (90.0, 0.0)),
        )
        mass = mass_of(wedge)
        self.assertAlmostEqual(mass.at[0], 30.0, delta=0.05)
        self.assertAlmostEqual(mass.at[1], 0.0, delta=1e-9)
        self.assertAlmostEqual(mass.height_mm, 10.0, delta=0.02)
        self.assertAlmostEqual(mass.volume_mm3, 90 * 30 / 2 * 20, delta=1.0)

    def test_a_ball_holds_two_thirds_of_its_cylinder_and_balances_in_its_middle(self) -> None:
        ball = Zone(
            name="ball",
            region=outline_of(Dot(5, 7).buffer(20, quad_segs=64)),
            section="round",
            under_mm=-20.0,
            top_mm=20.0,
        )
        mass = mass_of(ball)
        self.assertAlmostEqual(mass.volume_mm3, 4 / 3 * math.pi * 20**3, delta=40)
        self.assertAlmostEqual(mass.at[0], 5.0, delta=0.01)
        self.assertAlmostEqual(mass.at[1], 7.0, delta=0.01)


class Stations(unittest.TestCase):
    def test_a_screwdriver_becomes_two_round_zones(self) -> None:
        driver = stations(DRIVER)
        self.assertEqual([zone.section for zone in driver.zones], ["round", "round"])
        self.assertEqual([(zone.under_mm, zone.top_mm) for zone in driver.zones], [(-16.0, 16.0), (-3.0, 3.0)])
        self.assertAlmostEqual(polygon_of(driver.outline).area, 95 * 32 + 115 * 6)
        left, top, right, bottom = polygon_of(driver.outline).bounds
        self.assertEqual((left, top, right, bottom), (-105.0, -16.0, 105.0, 16.0))

    def test_an_l_shaped_stop_is_centred_on_its_axis(self) -> None:
        stop = stations(L_STOP)
        self.assertEqual([(zone.section, zone.under_mm, zone.top_mm) for zone in stop.zones],
                         [("flat", -9.0, 9.0), ("flat", -1.0, 1.0)])  # fmt: skip

    def test_an_underside_may_be_given(self) -> None:
        item = stations("0:20x5@-2 50:20x5@-2")
        self.assertEqual((item.zones[0].under_mm, item.zones[0].top_mm), (-2.0, 3.0))
        off = stations("0:10@1 50:10@1")
        self.assertEqual((off.zones[0].section, off.zones[0].under_mm, off.zones[0].top_mm), ("round", 1.0, 11.0))

    def test_a_sloping_flat_part_is_tapered(self) -> None:
        item = stations("0:20x10 50:20x4")
        zone = item.zones[0]
        self.assertEqual(zone.section, "tapered")
        self.assertEqual((zone.under_mm, zone.under_end_mm), (-5.0, -2.0))
        self.assertAlmostEqual(volume_mm3(zone), 20 * 50 * 7)

    def test_wrong_stations_name_the_one_that_is_wrong(self) -> None:
        for text, hint in {
            "0:32": "1 stations",
            "0:32 95": "'95'",
            "0:32 95:abc": "abc",
            "0:0 95:32": "0 mm",
            "0:32 0:20": "one distance",
            "50:20 10:20": "after",
            "0:nan 5:3": "nan",
            "0:32x 5:32": "no station",
        }.items():
            with self.subTest(text), self.assertRaises(UnusableInput) as caught:
                stations(text)
            self.assertIn(hint, str(caught.exception))

    @settings(derandomize=True, deadline=None, max_examples=80)
    @given(
        st.lists(
            st.tuples(st.floats(1, 60), st.floats(2, 60), st.one_of(st.none(), st.floats(1, 40))),
            min_size=2,
            max_size=9,
        )
    )
    def test_zones_cover_the_outline_and_nothing_more(self, readings: list[tuple[float, float, float | None]]) -> None:
        at, words = 0.0, []
        for step, width, thickness in readings:
            words.append(f"{at:.2f}:{width:.2f}" + (f"x{thickness:.2f}" if thickness is not None else ""))
            at += step
        item = stations(" ".join(words))
        outline = polygon_of(item.outline)
        self.assertTrue(covers_outline(item, share=0.999))
        together = sum(polygon_of(zone.region).area for zone in item.zones)
        self.assertAlmostEqual(together, outline.area, delta=0.01 * outline.area)


class Zones(unittest.TestCase):
    def test_a_line_across_a_box_makes_two_zones(self) -> None:
        item = split_zones(box(60, 20), (0, -30), (0, 30))
        self.assertEqual(len(item.zones), 2)
        self.assertAlmostEqual(polygon_of(item.zones[0].region).area, 600)
        thin = set_zone(item, 1, thickness_mm=4.0, under_mm=3.0)
        self.assertEqual((thin.zones[1].under_mm, thin.zones[1].top_mm), (3.0, 7.0))
        self.assertEqual(len(join_zones(thin).zones), 1)
        self.assertEqual(join_zones(thin).zones[0].thickness_mm, 12.0)

    def test_a_short_line_counts_as_going_on(self) -> None:
        self.assertEqual(len(split_zones(box(60, 20), (10, -2), (10, 2)).zones), 2)

    def test_a_line_beside_the_thing_is_refused(self) -> None:
        with self.assertRaises(UnusableInput):
            split_zones(box(60, 20), (100, -5), (100, 5))
        with self.assertRaises(UnusableInput):
            split_zones(box(60, 20), (1, 1), (1, 1))

    def test_a_zone_without_thickness_is_refused(self) -> None:
        for thickness in (0.0, -3.0, math.nan, math.inf):
            with self.subTest(thickness), self.assertRaises(UnusableInput):
                set_zone(box(), 0, thickness_mm=thickness)

    def test_a_screwdriver_balances_in_its_handle(self) -> None:
        handle, shaft = math.pi * 16**2 * 95, math.pi * 3**2 * 115
        wanted = (handle * (-105 + 47.5) + shaft * (-10 + 57.5)) / (handle + shaft)
        self.assertAlmostEqual(centre_of_mass(stations(DRIVER))[0], wanted, places=3)
        self.assertAlmostEqual(centre_of_mass(stations(DRIVER))[1], 0.0)


class Tables(unittest.TestCase):
    def test_every_kind_of_row(self) -> None:
        items = read(
            {"name": "Driver", "stations": DRIVER, "quantity": "2", "group": "drivers", "use": "daily"},
            {"name": "Tin", "shape": "round", "length": "60", "width": "4cm", "mass_g": "35"},
            {"name": "Box", "shape": "box", "length": "1 1/8in", "width": "20", "thickness": "10", "seat": "flush"},
            {"name": "  ", "shape": ""},
            {"name": "Plain", "length": "50", "width": "20", "thickness": "10", "colour": "red"},
        )
        self.assertEqual([item.name for item in items], ["Driver", "Tin", "Box", "Plain"])
        self.assertEqual((items[0].quantity, items[0].group, items[0].use), (2, "drivers", "daily"))
        self.assertEqual((items[1].mass_g, items[1].zones[0].section), (35.0, "round"))
        self.assertEqual(items[2].seat, "flush")
        self.assertEqual((items[3].colour, items[3].notes), ("red", ""))
        self.assertEqual(len({item.id for item in items}), 4)

    def test_a_wrong_cell_is_named_by_row_and_column(self) -> None:
        good = {"name": "Box", "length": "50", "width": "20", "thickness": "10"}
        for change, hint in (
            ({"length": "0"}, "column length"),
            ({"width": "-3"}, "column width"),
            ({"thickness": ""}, "column thickness"),
            ({"thickness": "nan"}, "column thickness"),
            ({"quantity": "1.5"}, "column quantity"),
            ({"quantity": "0"}, "column quantity"),
            ({"quantity": "10000"}, "column quantity"),
            ({"mass_g": "-1"}, "column mass_g"),
            ({"mass_g": "heavy"}, "column mass_g"),
            ({"use": "often"}, "column use"),
            ({"seat": "sideways"}, "column seat"),
            ({"shape": "ball"}, "column shape"),
            ({"stations": "0:5"}, "column stations"),
            ({"name": ""}, "column name"),
        ):
            with self.subTest(change), self.assertRaises(UnusableInput) as caught:
                read(good, good | change)
            self.assertIn("kit.csv, row 3", str(caught.exception))
            self.assertIn(hint, str(caught.exception))

    def test_a_blank_row_does_not_shift_the_count(self) -> None:
        with self.assertRaises(UnusableInput) as caught:
            read({"name": ""}, {"name": "Box", "length": "x"})
        self.assertIn("row 3", str(caught.exception))

    def test_an_empty_kit_and_a_huge_one_are_refused(self) -> None:
        with self.assertRaises(UnusableInput):
            read()
        row = {"name": "Box", "length": "50", "width": "20", "thickness": "10", "quantity": "600"}
        with self.assertRaises(UnusableInput) as caught:
            read(row, row)
        self.assertIn("1000", str(caught.exception))


class Shapes(unittest.TestCase):
    def test_a_disc_is_round_within_the_flattening(self) -> None:
        polygon = polygon_of(disc_outline(80))
        self.assertLess(math.pi * 40**2 - polygon.area, 0.02 * math.pi * 80)
        self.assertLess(polygon.area, math.pi * 40**2)

    def test_an_outline_is_centred_on_its_bounds(self) -> None:
        item = outline_item("item-1", "tin", disc_outline(80), thickness_mm=18, way="drawn")
        left, top, right, bottom = polygon_of(item.outline).bounds
        self.assertAlmostEqual(left + right, 0)
        self.assertAlmostEqual(top + bottom, 0)

    def test_a_rod_is_as_high_as_wide(self) -> None:
        self.assertEqual(rod(100, 30).thickness_mm, 30.0)

    def test_a_station_list_has_a_cap(self) -> None:
        with self.assertRaises(UnusableInput):
            parse_stations(" ".join(f"{n}:5" for n in range(600)))
