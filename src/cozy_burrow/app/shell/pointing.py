"""What a chosen check points to: the insert, the items and the place that it speaks of."""

from __future__ import annotations

from cozy_burrow.app.checks.check_list import CheckList
from cozy_burrow.app.frame.house import House
from cozy_burrow.app.shell.sides import Middle
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.stages import stage_of
from cozy_burrow.core.findings.telling import finding_text
from cozy_burrow.core.tongue import tr


class Pointing:
    """Follows the list of checks."""

    def __init__(self, house: House, checks: CheckList, middle: Middle) -> None:
        self._house, self._checks, self._middle = house, checks, middle
        checks.chosen.connect(self.point_to)

    def next(self) -> None:
        """Choose the next check and go where it is mended."""
        house = self._house
        findings = house.workspace.findings_seen
        if not findings:
            house.workspace.said.emit(tr("There is nothing to fix"))
            return
        row = (self._checks.position + 1) % len(findings)
        self._checks.choose(row)
        if house.stage() in {"gather", "measure"}:
            house.show_stage(stage_of(findings[row]))
        if self._middle.sides["right"].is_folded:  # the list does not say it
            house.workspace.said.emit(finding_text(house.workspace.project, findings[row]))

    def point_to(self, finding: Finding | None) -> None:
        """Ring a finding on the plan and select what it speaks of."""
        workspace = self._house.workspace
        if finding is not None:
            self._middle.use("right", True)
            self._show_insert_of(finding)
        self._house.plan.point_to(finding)
        if finding is not None:
            laid = {one.id for one in workspace.insert.placements}
            workspace.select([key for key in finding.placements if key in laid])

    def _show_insert_of(self, finding: Finding) -> None:
        """Turn to the insert that a finding speaks of, where it speaks of one."""
        workspace = self._house.workspace
        if finding.subject == workspace.insert.container_id:
            return
        for insert in workspace.project.inserts:
            mine = {one.id for one in insert.placements}
            if mine.intersection(finding.placements) or finding.subject in {insert.id, insert.container_id}:
                workspace.show_insert(insert.id)
                return
