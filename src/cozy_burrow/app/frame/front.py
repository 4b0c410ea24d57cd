"""What commands need of whatever they are given in: what is in front of somebody at work. The window is one such."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

from cozy_burrow.app.frame.screen import Undoes

if TYPE_CHECKING:
    from PySide6.QtCore import QMimeData

    from cozy_burrow.app.checks.check_list import CheckList
    from cozy_burrow.app.desk.arranging import Arranging
    from cozy_burrow.app.desk.bench_session import RetouchSession
    from cozy_burrow.app.desk.project_desk import ProjectDesk
    from cozy_burrow.app.desk.retouching import Retouching
    from cozy_burrow.app.desk.settings import Settings
    from cozy_burrow.app.desk.workspace import Workspace
    from cozy_burrow.app.frame.screen import Screen
    from cozy_burrow.app.look.theme.dressing import Dressing
    from cozy_burrow.app.look.theme.theme import ThemeName
    from cozy_burrow.app.scene.plan_view import PlanView
    from cozy_burrow.app.section.section_view import SectionView
    from cozy_burrow.core.model.stages import Stage


class Inserts(Protocol):
    """Turns to other inserts, and adds or takes away one."""

    def step(self, by: int) -> None:
        """Turn to the next insert, or the one before."""

    def add(self, start: str) -> None:
        """Add an insert in a container of its own, which begins as a shape to start from."""

    def add_tier(self) -> None:
        """Add a tier to the container that is shown."""

    def remove(self) -> None:
        """Take the insert that is shown away."""


class Opens(Protocol):
    """Something that can be opened."""

    def open(self) -> None:
        """Open it."""


class Takes(Protocol):
    """Something that takes in what was dropped or pasted."""

    def take(self, data: QMimeData) -> None:
        """Take it in, or say why not."""


class Front(Undoes, Protocol):
    """Documents, scenes and panels that commands act on, and what is told to whoever is there."""

    workspace: Workspace
    desk: ProjectDesk
    retouch: RetouchSession
    retouching: Retouching
    arranging: Arranging
    plan: PlanView
    section: SectionView
    checks: CheckList
    settings: Settings
    theme_name: ThemeName
    type_scale: float
    dressing: Dressing

    @property
    def drops(self) -> Takes:
        """Whoever takes files and pictures."""

    @property
    def inserts(self) -> Inserts:
        """The inserts of the project."""

    @property
    def commands(self) -> Opens:
        """The list of all commands."""

    def say(self, text: str) -> None:
        """Tell something in passing."""

    def screen_of(self, stage: Stage) -> Screen:
        """Return a stage's screen; commands of a stage know its class."""

    def show_stage(self, stage: Stage) -> None:
        """Look at the document as a stage does."""

    def show_help(self, topic: str = "") -> None:
        """Show the help where it tells of a check or of a chapter; of this stage where nothing is named."""

    def next_finding(self) -> None:
        """Choose the next check."""

    def fit(self) -> None:
        """Show all of it."""

    def zoom(self, times: float) -> None:
        """Look closer or from farther off."""

    def flip_units(self) -> None:
        """Turn from millimetres to inches or back."""

    def flip_theme(self) -> None:
        """Turn from light to dark or back."""

    def set_theme(self, name: ThemeName, *, chosen: bool = True) -> None:
        """Turn to other colours, for good where a person chose them."""

    def close(self) -> bool:
        """Close it."""


def some_selected(front: Front) -> bool:
    """Return whether something on the plan is selected."""
    return bool(front.workspace.selection)


def two_selected(front: Front) -> bool:
    """Return whether at least two items on the plan are selected."""
    return len(front.workspace.selection) >= 2


def chosen(front: Front) -> bool:
    """Return whether an item of the kit is chosen."""
    return front.workspace.item is not None
