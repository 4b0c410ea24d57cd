"""Do the records of a project fit each other, and what is left of one where they do not?"""

from __future__ import annotations

import random
import unittest

from msgspec.structs import replace

from cozy_burrow.core.errors import Gone, UnusableInput
from cozy_burrow.core.findings.report import findings_of
from cozy_burrow.core.ground.fitting import laid_in
from cozy_burrow.core.ground.under import laid_under
from cozy_burrow.core.model.coherence import Incoherent, check_coherent, incoherence, made_coherent
from cozy_burrow.core.model.edits import (
    change_insert,
    copy_of,
    insert_of,
    item_of,
    placement_of,
    remove_items,
    take_out,
    with_insert,
)
from cozy_burrow.core.model.records import FingerPull, Project
from tests.makers import van_drawer


class Coherence(unittest.TestCase):
    def setUp(self) -> None:
        self.plan = van_drawer()
        self.insert = self.plan.inserts[0]

    def broken(self) -> dict[str, Project]:
        insert, plan = self.insert, self.plan
        first, second = insert.placements[:2]
        ghost = replace(first, id="ghost#1", item_id="ghost")
        idle = FingerPull(id="pull-x", kind="circle", serves=("nobody#1",), points_mm=((0.0, 0.0),), width_mm=40.0)
        return {
            "placements": with_insert(plan, replace(insert, placements=(*insert.placements, first))),
            "not in the kit": with_insert(plan, replace(insert, placements=(*insert.placements, ghost))),
            "serves nothing": with_insert(plan, replace(insert, pulls=(*insert.pulls, idle))),
            "items": replace(plan, items=(*plan.items, plan.items[0])),
            "inserts": replace(plan, inserts=(*plan.inserts, replace(insert, placements=(), pulls=()))),
            "containers": replace(plan, containers=plan.containers * 2),
            "container of insert": with_insert(plan, replace(insert, container_id="none")),
            "no insert": replace(plan, inserts=()),
            "same id": with_insert(plan, replace(insert, placements=(replace(second, id=first.id), first))),
        }

    def test_each_kind_of_misfit_is_found_and_a_sound_plan_is_not(self) -> None:
        self.assertEqual(incoherence(self.plan), "")
        check_coherent(self.plan)
        for says, plan in self.broken().items():
            with self.subTest(says):
                self.assertIn(says, incoherence(plan))
                with self.assertRaises(Incoherent):
                    check_coherent(plan)

    def test_what_can_be_left_out_is_left_out_and_counted(self) -> None:
        broken = self.broken()
        for name, kind in (
            ("placements", "laid_twice"),
            ("not in the kit", "not_in_kit"),
            ("serves nothing", "serves_nothing"),
        ):
            with self.subTest(name):
                plan, lost = made_coherent(broken[name])
                self.assertEqual(plan, self.plan)
                self.assertEqual([(one.kind, one.count) for one in lost], [(kind, 1)])
        self.assertEqual(made_coherent(self.plan), (self.plan, ()))
        self.assertIs(made_coherent(self.plan)[0], self.plan)

    def test_any_mixture_of_placements_becomes_a_plan_that_can_be_judged(self) -> None:
        chance = random.Random(2)
        for _ in range(30):
            mixed = [
                replace(one, id=chance.choice((one.id, "item-1#1")), item_id=chance.choice((one.item_id, "gone")))
                for one in self.insert.placements
                for _ in range(chance.choice((0, 1, 2)))
            ]
            plan, _ = made_coherent(with_insert(self.plan, replace(self.insert, placements=tuple(mixed))))
            check_coherent(plan)
        findings_of(plan)

    def test_what_is_gone_is_said_as_gone(self) -> None:
        for ask in (
            lambda: item_of(self.plan, "none"),
            lambda: insert_of(self.plan, "none"),
            lambda: placement_of(self.insert, "none"),
            lambda: copy_of(self.plan, "none#1"),
            lambda: copy_of(self.plan, f"{self.plan.items[0].id}#99"),
            lambda: copy_of(self.plan, f"{self.plan.items[0].id}#" + "9" * 5000),
            lambda: copy_of(self.plan, "nonsense"),
        ):
            with self.assertRaises(Gone) as caught:
                ask()
            self.assertIn("any more", str(caught.exception))

    def test_what_lies_already_is_not_laid_again(self) -> None:
        """A check that offers a place may be older than the thing that lies there by now."""
        one = self.insert.placements[0]
        item = item_of(self.plan, one.item_id)
        for lay in (laid_in, laid_under):
            with self.assertRaises(UnusableInput):
                lay(self.plan, self.insert.id, item, one.copy)
            with self.assertRaises(Gone):
                lay(self.plan, self.insert.id, item, item.quantity + 1)
        free = take_out(self.plan, self.insert.id, [one.id])
        laid = laid_in(free, self.insert.id, item, one.copy)
        assert laid is not None
        check_coherent(laid)

    def test_edits_keep_it(self) -> None:
        check_coherent(remove_items(self.plan, [item.id for item in self.plan.items[::2]]))
        check_coherent(change_insert(self.plan, self.insert.id, placements=(), pulls=()))


if __name__ == "__main__":
    unittest.main()
