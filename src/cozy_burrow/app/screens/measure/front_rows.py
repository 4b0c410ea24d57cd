"""The front of a drawer: a lip that reaches over the opening, and the side that the hand comes from."""

from __future__ import annotations

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Form
from cozy_burrow.app.look.fold import Fold
from cozy_burrow.app.screens.measure.page import Page, shown_container
from cozy_burrow.core.model.names import SIDE_NAMES
from cozy_burrow.core.model.vessels import SIDES, Container
from cozy_burrow.core.tongue import tr


class FrontRows(Fold):
    """Folded while there is no lip and the hand comes from the front."""

    def __init__(self, workspace: Workspace, page: Page) -> None:
        super().__init__(tr("Front lip and hand side"), page)
        self._workspace = workspace
        form = Form()
        self.lip_field = page.length(
            form,
            tr("Front lip"),
            lambda: workspace.container.front_lip_mm,
            lambda mm: page.change_box(tr("front lip"), front_lip_mm=mm),
            tip=tr("How far the lip reaches over the opening: the blank must bend past it."),
        )
        page.choice(
            form,
            tr("Hand side"),
            tuple((SIDE_NAMES[side], side) for side in SIDES),
            lambda: workspace.container.hand_side,
            lambda side: page.change_box(tr("hand side"), hand_side=side),
        )
        self.column.addLayout(form)

    def follow_container(self) -> None:
        """Open where the drawer gets something of it."""
        container = self._workspace.container
        is_used = container.front_lip_mm > 0 or container.hand_side != Container().hand_side
        self.follow(is_used, of=shown_container(self._workspace))
        self.tell(self._workspace.length(container.front_lip_mm) if container.front_lip_mm > 0 else "")
