"""Two states of a project: what moved is named, and what is cut and filled turns one foam into the other."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from cozy_burrow.core.geometry.rings import polygons_in
from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.kit.shapes import box_item
from cozy_burrow.core.model.edits import add_items, change_insert, change_item, remove_items
from cozy_burrow.core.model.records import FingerPull, Project, Sheet
from cozy_burrow.core.refit.compare import compared
from tests.makers import box, laid, project, rod


def two() -> Project:
    """A box and a rod in a drawer."""
    return laid(project(box(name="block"), rod(name="rod")), (60, 60), (180, 120, 30))


class Compared(unittest.TestCase):
    def test_a_state_beside_itself_has_nothing_to_tell(self) -> None:
        (change,) = compared(two(), two())
        self.assertTrue(change.is_same)

    @given(
        x=st.floats(-20, 20),
        y=st.floats(-20, 20),
        turn=st.floats(-179, 179),
        deeper=st.integers(min_value=0, max_value=2),
    )
    def test_moves_are_told_and_the_patch_turns_one_foam_into_the_other(
        self, x: float, y: float, turn: float, deeper: int
    ) -> None:
        before = two()
        block, round_ = before.inserts[0].placements
        layers = len(ground_of(before, before.inserts[0]).pockets[block.id].layers)
        moved = replace(
            block,
            x_mm=block.x_mm + x,
            y_mm=block.y_mm + y,
            angle_deg=block.angle_deg + turn,
            zone_layers=(layers + deeper,) if deeper else None,
        )
        after = change_insert(before, "insert-1", placements=(moved, round_))
        (change,) = compared(before, after)
        if max(abs(x), abs(y), abs(turn)) < 0.04 and not deeper:
            self.assertTrue(change.changed == ())
            return
        if max(abs(x), abs(y), abs(turn)) > 0.06 or deeper:
            (told,) = change.changed
            self.assertEqual(told.layers, (layers, layers + deeper))
            self.assertAlmostEqual(told.right_mm, x)
            self.assertAlmostEqual(told.front_mm, y)
            self.assertAlmostEqual(told.turned_deg, turn)
        assert change.patch is not None
        old, new = (ground_of(one, one.inserts[0]) for one in (before, after))
        by_layer = {one.layer: one for one in change.patch.layers}
        for number in range(1, len(old.layers) + 1):
            cut = old.taken_out(number)
            if number in by_layer:
                cut = cut.union(by_layer[number].cut).difference(by_layer[number].fill)
            # What is narrower than a quarter of a millimetre, or a crumb, is neither cut nor glued in.
            for part in polygons_in(cut.symmetric_difference(new.taken_out(number)), least_area_mm2=4.05):
                self.assertTrue(part.buffer(-0.13).is_empty)

    def test_what_came_and_went_and_what_another_shape_has(self) -> None:
        before = two()
        grown = change_item(before, replace(box(length=66, name="block"), id=before.items[0].id))
        gone = remove_items(grown, [before.items[1].id])
        after = add_items(gone, [box_item("item-9", "ruler", length_mm=50, width_mm=12, thickness_mm=9)])
        placement = replace(before.inserts[0].placements[0], id="item-9#1", item_id=after.items[1].id, x_mm=200.0)
        placement = replace(placement, id=f"{after.items[1].id}#1")
        after = change_insert(after, "insert-1", placements=(*after.inserts[0].placements, placement))
        (change,) = compared(before, after)
        self.assertEqual((change.came, change.went), ((placement.id,), (before.inserts[0].placements[1].id,)))
        (told,) = change.changed
        self.assertTrue(told.is_other_shape)
        self.assertFalse(told.has_moved)

    def test_files_that_number_their_items_alike_are_told_apart_by_name(self) -> None:
        before = two()
        other = laid(project(rod(name="rod"), box(name="block")), (180, 120, 30), (60, 60))
        (change,) = compared(before, other)
        self.assertEqual((change.came, change.went, change.changed), ((), (), ()))
        renamed = change_item(before, replace(before.items[0], name="brick"))
        (change,) = compared(before, renamed)
        self.assertEqual((change.came, change.went, change.changed), ((), (), ()))

    def test_a_pull_elsewhere_is_told(self) -> None:
        before = two()
        pull = FingerPull(id="pull-1", kind="circle", serves=("item-1#1",), points_mm=((0.0, 10.0),), width_mm=30.0)
        after = change_insert(before, "insert-1", pulls=(pull,))
        (change,) = compared(before, after)
        self.assertTrue(change.changed[0].pulls_changed)
        assert change.patch is not None
        self.assertGreater(change.patch.cut_mm3, 0.0)
        self.assertEqual(change.patch.fill_mm3, 0.0)

    def test_another_foam_is_cut_anew(self) -> None:
        before = two()
        after = change_insert(before, "insert-1", sheets=(Sheet(thickness_mm=60.0, pitch_mm=15.0),))
        (change,) = compared(before, after)
        self.assertIsNone(change.patch)
        self.assertFalse(change.is_same)

    def test_an_insert_that_is_new_or_gone(self) -> None:
        before = two()
        second = replace(before.inserts[0], id="insert-2", name="Lower", placements=(), pulls=())
        after = replace(before, inserts=(*before.inserts, second))
        self.assertIsNone(compared(before, after)[1].before)
        self.assertIsNone(compared(after, before)[1].after)
