"""What lies over the plan at Grip: verdicts, grip and balance of the chosen thing, thin foam, grip forces."""

from __future__ import annotations

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QBrush, QPen

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.scene.overlay import Overlay
from cozy_burrow.app.scene.paths import area_path
from cozy_burrow.core.geometry.placing import to_plan
from cozy_burrow.core.ground.grips import grip_of
from cozy_burrow.core.ground.ground import Ground
from cozy_burrow.core.ground.hits import pull_points
from cozy_burrow.core.ground.holding import holding_of
from cozy_burrow.core.ground.thinness import thin_foam
from cozy_burrow.core.kit.zones import centre_of_mass
from cozy_burrow.core.model.edits import placement_of
from cozy_burrow.core.model.pull_kinds import kind_of_pull
from cozy_burrow.core.tongue import tr
from cozy_burrow.core.units import Unit, format_length
from cozy_burrow.jobs.grip_words import mark_of


def thin_walls(overlay: Overlay, ground: Ground, unit: Unit) -> None:
    """Paint foam of the top layer that is thinner than wanted: the thinner the denser the pattern, with its limit."""
    roles = (
        ("stop", Qt.BrushStyle.Dense3Pattern),
        ("care", Qt.BrushStyle.Dense4Pattern),
        ("care", Qt.BrushStyle.Dense6Pattern),
    )
    painter, theme = overlay.painter, overlay.theme
    any_thin = False
    for thin, (role, pattern) in zip(thin_foam(ground), roles):
        if thin.area.is_empty:
            continue
        any_thin = True
        painter.setPen(QPen(theme.colour(role), 1.2))
        painter.setBrush(QBrush(theme.colour(role), pattern))
        painter.drawPath(overlay.transform.map(area_path(thin.area)))
        worst = max(thin.area.geoms, key=lambda part: float(part.area))
        at = worst.representative_point()
        overlay.figure(
            tr("under {limit}", limit=format_length(thin.limit_mm, unit)),
            overlay.to_view((at.x, at.y)),
            theme.colour(role),
        )
    if not any_thin:
        left, top, right, _ = ground.blank.bounds
        overlay.hint(tr("No foam is thinner than it should be"), ((left + right) / 2, top + 20.0))


def grips(overlay: Overlay, ground: Ground, workspace: Workspace, *, hold: bool) -> None:
    """Paint each thing's verdict; for the chosen one the balance point and what the hand takes hold of."""
    painter, theme = overlay.painter, overlay.theme
    chosen = workspace.selection
    for pull in ground.pulls:
        if not kind_of_pull(pull.pull).cuts:
            painter.setPen(QPen(theme.colour("accent"), 1.6))
            painter.setBrush(QBrush(theme.colour("accent"), Qt.BrushStyle.Dense5Pattern))
            painter.drawPath(overlay.transform.map(area_path(pull.area)))
    if ground.guessed:
        return  # the verdicts belong to seats that are judged just now, and painting must not wait for them
    for key, pocket in ground.pockets.items():
        middle = pocket.surface.representative_point()
        at = overlay.to_view((middle.x, middle.y))
        if hold:
            force = holding_of(ground, key).hold
            overlay.figure(f"{force.grip_n:.0f} N", at, theme.colour("line_strong"))
        elif key not in chosen:
            grip = grip_of(ground, key)
            if not grip.good:
                overlay.figure(mark_of(grip), at, theme.colour("care" if grip.possible else "stop"), filled=True)
    if hold or len(chosen) != 1 or chosen[0] not in ground.pockets:
        return
    pocket = ground.pockets[chosen[0]]
    grip = grip_of(ground, chosen[0])
    placement = placement_of(workspace.insert, chosen[0])
    if grip.reach is not None and grip.pull:
        held = overlay.to_view(to_plan(placement, grip.reach.at))
        points = [overlay.to_view(point) for point in pull_points(ground, grip.pull)]
        painter.setPen(QPen(theme.colour("paper"), 5))
        for point in points if len(points) == 2 and grip.reach.sides == 2 else []:
            painter.drawLine(held, point)
        painter.setPen(QPen(theme.colour("good" if grip.good else "care"), 2.4))
        for point in points if len(points) == 2 and grip.reach.sides == 2 else []:
            painter.drawLine(held, point)
    balance = overlay.to_view(to_plan(placement, centre_of_mass(pocket.item)))
    painter.setPen(QPen(theme.colour("ink"), 1.6))
    painter.setBrush(theme.colour("paper"))
    painter.drawEllipse(balance, 7, 7)
    for dx, dy in ((10, 0), (0, 10)):
        painter.drawLine(balance - QPointF(dx, dy), balance + QPointF(dx, dy))
