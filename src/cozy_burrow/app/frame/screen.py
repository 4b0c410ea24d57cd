"""A stage's screen: what stands left of, in and below the middle, and what a hand's undo and zoom are for there.

Each stage has a folder in `app/screens` by its name. Its `screen.py` names the class as SCREEN and is imported when the
stage is first shown; its `commands.py` names COMMANDS and is imported at the start. Nothing else knows of it.
"""

from __future__ import annotations

from collections.abc import Iterator
from importlib import import_module
from typing import ClassVar, Protocol, Self, runtime_checkable

from PySide6.QtWidgets import QWidget

from cozy_burrow.app.frame.handed import Handed
from cozy_burrow.app.frame.house import House
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.scene.layer import PlanLayer
from cozy_burrow.core.model.stages import Stage


@runtime_checkable
class Dressed(Protocol):
    """Something that is painted in a theme."""

    def set_theme(self, theme: Theme) -> None:
        """Dress anew."""


class Undoes(Protocol):
    """Something whose changes can be taken back. The labels name what the next press would do; None: nothing."""

    @property
    def undo_label(self) -> str | None:
        """Name of what undo would take back."""

    @property
    def redo_label(self) -> str | None:
        """Name of what redo would do again."""

    def undo(self) -> None:
        """Take back what was done last."""

    def redo(self) -> None:
        """Do again what was taken back."""


class Lens(Protocol):
    """Something that can be looked at from nearer or farther."""

    def fit(self) -> None:
        """Show all of it."""

    def zoom(self, factor: float) -> None:
        """Look closer or from farther off."""


class HasScreens(Protocol):
    """Whoever knows the screens: the window."""

    def screen_of(self, stage: Stage) -> Screen:
        """Return a stage's screen."""


class Screen:
    """One stage of the work, as it is seen. What is asked of it may change with what lies on it.

    is_deep: depths are the matter, so the section gets more of the room and looks at the chosen item from near.
    below_px: how high what stands below is at first, at letters of 100 %, where it needs more than a section does.
    """

    stage: ClassVar[Stage]
    is_deep: ClassVar[bool] = False
    below_px: ClassVar[int | None] = None

    def __init__(self, house: House) -> None:
        self.house = house

    @classmethod
    def of(cls, front: HasScreens) -> Self:
        """Return this screen of a window."""
        found = front.screen_of(cls.stage)
        assert isinstance(found, cls)
        return found

    @property
    def left(self) -> QWidget:
        """What stands left."""
        raise NotImplementedError

    @property
    def middle(self) -> QWidget:
        """What stands in the middle: the plan."""
        return self.house.plan

    @property
    def below(self) -> QWidget | None:
        """What stands below the middle: the section. None: the middle has all the room."""
        return self.house.section

    @property
    def layer(self) -> PlanLayer | None:
        """What is laid over the plan; None where that is not seen."""
        return None

    @property
    def shows_checks(self) -> bool:
        """Whether the checks stand right."""
        return True

    @property
    def undoes(self) -> Undoes:
        """What undo and redo act on: the document."""
        return self.house.workspace

    @property
    def lens(self) -> Lens:
        """What is zoomed: the plan."""
        return self.house.plan

    def entered(self) -> None:
        """It has just been shown."""

    def left_for(self, stage: Stage) -> None:
        """Another stage is about to be shown."""

    def document_opened(self) -> None:
        """Another document was opened: what was begun here for the one before ends."""

    def take_handed(self, handed: Handed) -> bool:
        """Take what was dropped on the window while this is shown; False: it is nothing for this stage."""
        return False

    def catch_up(self) -> None:
        """Work out at once what is otherwise worked out a moment later: a picture is about to be taken."""

    def dressed(self) -> Iterator[Dressed]:
        """Yield the parts made so far that are painted in a theme."""
        for one in vars(self).values():
            if isinstance(one, QWidget) and isinstance(one, Dressed):
                yield one


class Screens:
    """The screens, each made when it is first asked for."""

    def __init__(self, house: House) -> None:
        self._house = house
        self._made: dict[Stage, Screen] = {}

    def __getitem__(self, stage: Stage) -> Screen:
        if stage not in self._made:
            self._made[stage] = screen_class(stage)(self._house)
        return self._made[stage]

    def __contains__(self, stage: Stage) -> bool:
        """Return whether a screen was made already."""
        return stage in self._made

    def made(self) -> Iterator[Screen]:
        """Yield those that were made already."""
        yield from self._made.values()


def folder_of(stage: Stage) -> str:
    """Return the dotted name of a stage's folder."""
    return f"cozy_burrow.app.screens.{stage.replace('-', '_')}"


def screen_class(stage: Stage) -> type[Screen]:
    """Return the class that a stage's folder names."""
    found: type[Screen] = import_module(f"{folder_of(stage)}.screen").SCREEN
    return found
