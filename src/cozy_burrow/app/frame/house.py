"""What the window has made before any stage is shown, and hands to whatever is made later."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtGui import QAction

from cozy_burrow.app.desk.arranging import Arranging
from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.laying_in import LayingIn
from cozy_burrow.app.desk.project_desk import ProjectDesk
from cozy_burrow.app.desk.retouching import Retouching
from cozy_burrow.app.desk.settings import Settings
from cozy_burrow.app.desk.stores_desk import StoresDesk
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.theme.dressing import Dressing
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.app.scene.plan_view import PlanView
from cozy_burrow.app.section.section_view import SectionView
from cozy_burrow.core.model.stages import Stage


@dataclass(frozen=True)
class House:
    """The document and its desks, the plan and the section.

    theme, stage: as they are now. show_stage: go to a stage; set_out: ask its screen anew what stands where. command:
    do a command by its name; action: what stands for it in a menu.
    """

    workspace: Workspace
    settings: Settings
    stores: StoresDesk
    retouch: RetouchSession
    retouching: Retouching
    desk: ProjectDesk
    laying_in: LayingIn
    arranging: Arranging
    plan: PlanView
    section: SectionView
    dressing: Dressing
    scale: float
    theme: Callable[[], Theme]
    stage: Callable[[], Stage]
    show_stage: Callable[[Stage], object]
    set_out: Callable[[], object]
    command: Callable[[str], object]
    action: Callable[[str], QAction]
