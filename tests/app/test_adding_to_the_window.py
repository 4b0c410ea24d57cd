"""What a successor adds to the window, added here from outside: a screen, a command, a rule (docs/adding.md)."""

from __future__ import annotations

import ast
import sys
import unittest
from pathlib import Path
from types import ModuleType
from typing import Annotated
from unittest.mock import patch

from PySide6.QtWidgets import QLabel, QWidget

from cozy_burrow import app
from cozy_burrow.app.frame.command import Command, check_keys
from cozy_burrow.app.frame.front import Front
from cozy_burrow.app.frame.house import House
from cozy_burrow.app.frame.screen import Screen, folder_of
from cozy_burrow.app.look.fields import LengthField
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.screens.measure import rules_page
from cozy_burrow.app.shell import commands
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.ranges import checked
from cozy_burrow.core.model.records import Project, Rules
from cozy_burrow.core.model.told import fields_of, told
from tests.app.qt import QtCase


class Card(QLabel):
    """Counts how often it is dressed."""

    dressed = 0

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""
        self.dressed += 1


class RollScreen(Screen):
    """A screen that says what stands left, and leaves the rest as it is."""

    stage = "cut"

    def __init__(self, house: House) -> None:
        super().__init__(house)
        self.card = Card("Is everything home?")
        self.shown = 0

    @property
    def left(self) -> QWidget:
        """The card."""
        return self.card

    @property
    def below(self) -> None:
        """The plan has all the room."""
        return

    def entered(self) -> None:
        """Count."""
        self.shown += 1


def count(front: Front) -> None:
    """Count the items that are laid."""
    front.say(f"{len(front.workspace.insert.placements)} at home")


def modules() -> dict[str, ModuleType]:
    """Return the modules of a stage's folder, as if they lay on the disk."""
    screen, done = ModuleType(f"{folder_of('cut')}.screen"), ModuleType(f"{folder_of('cut')}.commands")
    screen.SCREEN = RollScreen  # type: ignore[attr-defined]
    done.COMMANDS = (Command("roll.count", "Count", "Roll call", count, keys="Ctrl+Alt+H"),)  # type: ignore[attr-defined]
    done.__spec__ = sys.modules[__name__].__spec__
    return {screen.__name__: screen, done.__name__: done}


class AScreen(QtCase):
    def test_a_folder_that_names_a_screen_is_all_that_a_stage_needs(self) -> None:
        with patch.dict(sys.modules, modules()):
            window = self.window(Project(), stage="cut")
            screen = RollScreen.of(window)
            self.assertTrue(screen.card.isVisible())
            self.assertTrue(window.plan.isVisible())
            self.assertFalse(window.section.isVisible())
            self.assertEqual(screen.shown, 1)
            window.set_theme("lamp")
            self.assertEqual(screen.card.dressed, 1)
            window.show_stage("lay-out")
            self.assertTrue(window.section.isVisible())

    def test_its_commands_are_found_beside_it_and_reach_what_they_need(self) -> None:
        with patch.dict(sys.modules, modules()):
            (command,) = commands._of("cut")
        check_keys((*commands.COMMANDS, command))
        window = self.window(Project())
        command.run(window)
        self.assertEqual(window.statusBar().currentMessage(), "0 at home")


class MoreRules(Rules, frozen=True, kw_only=True):
    """The rules with one more."""

    glove_mm: Annotated[float, told("Gloves", "hand", "how much they thicken a finger", least=0, most=10)] = 2.0


class ARule(QtCase):
    def test_a_field_with_its_range_and_words_has_its_place_on_the_page(self) -> None:
        field = fields_of(MoreRules)[-1]
        self.assertEqual((field.name, field.least, field.most, field.unit), ("glove_mm", 0, 10, "mm"))
        with self.assertRaises(UnusableInput):
            checked(MoreRules, "glove_mm", 11.0, where="gloves")
        plan = Project(rules=MoreRules())
        with patch.object(rules_page, "fields_of", lambda _: fields_of(MoreRules)):
            window = self.window(plan, stage="measure")
            page = rules_page.RulesPage(window.workspace)
        shown = next(one for one in page.findChildren(LengthField) if one.accessibleName() == "Gloves")
        self.assertIn("thicken", shown.toolTip())
        shown.setText("3")
        shown.setModified(True)  # as typing does
        shown.editingFinished.emit()
        self.assertEqual(window.workspace.project.rules.glove_mm, 3.0)  # type: ignore[attr-defined]
        page.deleteLater()


if __name__ == "__main__":
    unittest.main()


class Readable(unittest.TestCase):
    def test_no_class_of_the_window_is_longer_than_a_reader_takes_in(self) -> None:
        long = {}
        for path in Path(app.__file__).parent.rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if isinstance(node, ast.ClassDef):
                    long[node.name] = (node.end_lineno or 0) - node.lineno + 1
        self.assertGreater(len(long), 100)
        self.assertEqual({name: lines for name, lines in long.items() if lines >= 300}, {})
