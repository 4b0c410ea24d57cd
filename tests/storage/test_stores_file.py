"""The price list and the shelf: kept whole, refused in words, never written over while damaged."""

from __future__ import annotations

import random
import tempfile
import unittest
from pathlib import Path

import msgspec
from shapely.geometry import box

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.foam.boards import shipped_stores
from cozy_burrow.core.foam.buying import plan_purchase
from cozy_burrow.core.foam.purchase import Wanted
from cozy_burrow.demo.build import demo_stores
from cozy_burrow.jobs.boards import purchase_for, shelf_after
from cozy_burrow.storage.stores_file import NAME, StoresDocument, load_stores, save_stores, stores_from_bytes
from tests.makers import van_drawer


class StoresFile(unittest.TestCase):
    def test_what_is_kept_comes_back_and_nothing_kept_is_the_shipped_list(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name) / "state"
            self.assertEqual(load_stores(folder), shipped_stores())
            save_stores(demo_stores(), folder)
            self.assertEqual(load_stores(folder), demo_stores())

    def test_no_bytes_break_the_reader(self) -> None:
        chance = random.Random(4)
        whole = msgspec.json.encode(StoresDocument(format=1, stores=demo_stores()))
        used = 0
        for _ in range(400):
            data = bytearray(whole)
            for _ in range(chance.randrange(1, 5)):
                data[chance.randrange(len(data))] = chance.choice(b'0123456789-.,:{}[]"eEn \xff')
            try:
                stores_from_bytes(bytes(data), where=NAME)
                used += 1
            except UnusableInput as error:
                self.assertNotIn("\n", error.sentence())
        self.assertGreater(used, 20)
        with self.assertRaises(UnusableInput):
            stores_from_bytes(msgspec.json.encode(StoresDocument(format=9, stores=demo_stores())), where=NAME)

    def test_the_shelf_after_a_job_holds_what_is_left(self) -> None:
        stores = demo_stores()
        purchase = purchase_for(van_drawer(), stores)
        after = shelf_after(stores, purchase)
        self.assertEqual(purchase.cost, 58.0 + 9.5)
        self.assertEqual([piece.note for piece in after.shelf[:2]], [piece.note for piece in stores.shelf])
        self.assertEqual(
            {piece.sides_mm for piece in after.shelf[2:]}, {(427.0, 500.0, 427.0, 500.0), (573.0, 107.0, 573.0, 107.0)}
        )
        # The offcut serves a smaller job of the same foam for nothing, and is then gone from the shelf.
        smaller = Wanted("small", van_drawer().inserts[0].sheets[0], box(0, 0, 400, 300))
        again = plan_purchase([smaller], after)
        self.assertEqual((again.cost, again.short), (0.0, ()))
        used = {cut.piece.id for cut in again.boards if cut.piece is not None}
        self.assertEqual(len(used), 1)
        self.assertFalse(used & {piece.id for piece in shelf_after(after, again).shelf if piece.sides_mm[1] == 500.0})
