"""What to measure on the printed mat before a photo is taken."""

from __future__ import annotations

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.capture.photo.mat import mat_page
from cozy_burrow.core.tongue import tr


def scale_hint(workspace: Workspace, paper: str) -> str:
    """Return how long the printed scales of a paper's mat are, if the printer is true."""
    page, length = mat_page(paper), workspace.length
    return tr(
        "Measure both printed scales once: {scale_x} and {scale_y} if the printer is true.",
        scale_x=length(page.scale_x_mm),
        scale_y=length(page.scale_y_mm),
    )
