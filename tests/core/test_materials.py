"""What things are made of: as somebody said, part by part, else as their shape makes it likely."""

from __future__ import annotations

import unittest

from msgspec.structs import replace

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.kit.columns import columns_of
from cozy_burrow.core.kit.table import read_rows
from cozy_burrow.core.model.materials import (
    _ALSO_COLOURS,
    _ALSO_MATERIALS,
    BLACK_PLASTIC,
    BRASS,
    CARD,
    COLOURS,
    MATERIALS,
    PLASTIC,
    STEEL,
    Material,
    checked_colours,
    checked_materials,
    material,
    said_of,
)
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.relief.finish import finish_of, rgb
from tests.makers import DRIVER, box, rod, stations


def item(**cells: str) -> Item:
    named = {"name": "Driver", "stations": DRIVER} | cells
    return read_rows(columns_of(list(named)), [list(named.values())], source="a", read_outline=lambda _: None)[0]  # type: ignore[arg-type, return-value]


class Said(unittest.TestCase):
    def test_a_table_says_it_part_by_part(self) -> None:
        one = item(material="Wood / steel", colour="/")
        self.assertEqual((one.material, one.colour), ("wood/steel", "/"))
        self.assertEqual(finish_of(one, 0, "a").grain, "wood")
        self.assertTrue(finish_of(one, 1, "a").metal)
        red = item(material="plastic/steel", colour="red/")
        self.assertEqual(finish_of(red, 0, "a").colour, rgb(COLOURS["red"]))
        self.assertEqual(finish_of(red, 1, "a").colour, rgb(STEEL.colour))
        self.assertEqual(finish_of(item(colour="#102030"), 1, "a").colour, (16, 32, 48))

    def test_the_last_word_holds_for_all_parts_beyond_it(self) -> None:
        self.assertEqual([said_of("brass", n) for n in range(3)], ["brass"] * 3)
        self.assertEqual([said_of("wood/steel", n) for n in range(4)], ["wood", "steel", "steel", "steel"])
        self.assertEqual(said_of("", 0), "")

    def test_a_word_that_is_none_is_said_and_kept_as_a_note(self) -> None:
        for check, text, said in (
            (checked_materials, "stel", "did you mean steel?"),
            (checked_materials, "cheese", "use steel, brass"),
            (checked_colours, "reddish", "use #rrggbb"),
            (checked_colours, "#12345", "use #rrggbb"),
        ):
            with self.assertRaises(UnusableInput) as caught:
                check(text)
            self.assertIn(said, caught.exception.sentence())
        one = item(material="cheese", colour="teal", notes="sharp")
        self.assertEqual((one.material, one.colour), ("", ""))
        self.assertEqual(one.notes, "sharp; material: cheese; colour: teal")

    def test_a_kit_tells_which_words_it_only_keeps(self) -> None:
        told: list[str] = []
        columns = columns_of(["name", "length", "width", "thickness", "material", "colour"])
        rows = [["a", "9", "9", "9", "stel", ""], ["b", "9", "9", "9", "wood", "red"], ["c", "9", "9", "9", "", "teal"]]
        read_rows(columns, rows, source="kit", read_outline=lambda _: None, tell=told.append)  # type: ignore[arg-type, return-value]
        self.assertEqual(
            [text[: text.index(";")] for text in told],
            [
                "row 2: 'stel' is no material that is known and kept as a note",
                "row 4: 'teal' is no colour that is known and kept as a note",
            ],
        )

    def test_what_else_people_write_is_understood(self) -> None:
        self.assertEqual(checked_materials("Coloured plastic / stainless steel"), "plastic/steel")
        self.assertEqual(checked_materials("aluminum//cardboard"), "aluminium//card")
        self.assertEqual(checked_colours("Gray/#102030"), "grey/#102030")
        for words, known in ((_ALSO_MATERIALS, MATERIALS), (_ALSO_COLOURS, COLOURS)):
            self.assertLessEqual(set(words.values()), set(known))
            self.assertFalse(set(words) & set(known))

    def test_every_name_is_one_that_a_cell_may_hold(self) -> None:
        for name in MATERIALS:
            self.assertEqual(checked_materials(name.upper()), name)
        for name in COLOURS:
            self.assertEqual(checked_colours(f" {name} "), name)
        with self.assertRaises(ValueError):
            material(Material("steel", "again", "#000000"))

    def test_what_a_file_from_elsewhere_says_does_no_harm(self) -> None:
        odd = replace(box(), material="unobtainium/x/y", colour="#zzzzzz")
        self.assertEqual(finish_of(odd, 0, "a").colour, rgb(CARD.colour))


class Guessed(unittest.TestCase):
    def test_by_shape(self) -> None:
        driver = stations(DRIVER)
        self.assertFalse(finish_of(driver, 0, "a").metal)
        self.assertEqual(finish_of(driver, 0, "a").sharp, PLASTIC.sharp)
        self.assertTrue(finish_of(driver, 1, "a").metal)
        self.assertEqual(finish_of(box(80, 50, 30), 0, "a").colour, rgb(CARD.colour))
        self.assertTrue(finish_of(box(200, 25, 3), 0, "a").metal)
        self.assertEqual(finish_of(rod(100, 40), 0, "a").gloss, PLASTIC.gloss)
        self.assertNotEqual(finish_of(stations("0:40x20 100:40x20"), 0, "a").colour, rgb(STEEL.colour))
        self.assertEqual(finish_of(stations("0:40x20 100:40x20"), 0, "a").colour, rgb(BLACK_PLASTIC.colour))

    def test_one_group_has_handles_of_one_colour(self) -> None:
        first, second = replace(rod(100, 40), group="a"), replace(rod(90, 30, "other"), group="a")
        self.assertEqual(finish_of(first, 0, "a").colour, finish_of(second, 0, "b").colour)

    def test_brass_keeps_its_colour_in_a_glint(self) -> None:
        self.assertTrue(finish_of(replace(box(), material="brass"), 0, "a").metal)
        self.assertEqual(finish_of(replace(box(), material="brass"), 0, "a").colour, rgb(BRASS.colour))
