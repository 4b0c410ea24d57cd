"""A variation's card: its plan is drawn once, however often the card is painted for a mark or a rim."""

from __future__ import annotations

from unittest.mock import patch

from msgspec.structs import replace

from cozy_burrow.app.look.theme.theme import load_theme
from cozy_burrow.app.screens.lay_out.variations_view import Card
from cozy_burrow.core.ground.arranging import Arranged
from cozy_burrow.core.model.edits import remove_items
from tests.app.qt import QtCase
from tests.makers import van_drawer

DRAWER = van_drawer()
HALF = remove_items(DRAWER, [one.id for one in DRAWER.items[1::2]])


class VariationCard(QtCase):
    def test_its_plan_is_drawn_anew_only_where_it_would_look_otherwise(self) -> None:
        light, lamp = load_theme("light"), load_theme("lamp")
        card = Card(0, light, 1.0)
        insert_id = HALF.inserts[0].id
        half = Arranged(project=HALF, left_over=(), attempts=1)
        with patch.object(Card, "_draw_plan", autospec=True, side_effect=Card._draw_plan) as drawn:

            def picture() -> object:
                return card.grab().toImage()

            for chosen in (False, True, False):
                card.show_result(half, insert_id, 80.0, chosen)
                first = picture()
            self.assertEqual(drawn.call_count, 1)
            card.set_theme(lamp)
            self.assertNotEqual(picture(), first)
            card.show_result(replace(half, project=DRAWER), insert_id, 80.0, False)
            picture()
            width = card.width()
            card.resize(width + 40, card.height())
            picture()
            self.assertEqual(drawn.call_count, 4)
            card.set_theme(light)
            card.resize(width, card.height())
            card.show_result(half, insert_id, 80.0, False)
            self.assertEqual(picture(), first)
