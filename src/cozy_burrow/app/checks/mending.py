"""Mends of the list of checks: finding a thing a place may take a second in a full plan."""

from __future__ import annotations

from collections.abc import Sequence

from cozy_burrow.app.desk.aside import Aside
from cozy_burrow.core.findings.finding import Finding, Mend
from cozy_burrow.core.model.records import Project
from cozy_burrow.jobs.wording import mend_text


class Mending(Aside):
    """Carries out one mend at a time."""

    def take(self, finding: Finding, mends: Sequence[Mend]) -> bool:
        """Begin to carry out the first of these that can be; False where another is still being worked out."""
        from cozy_burrow.core.findings.mends import mended_first  # it knows half the core: not at every start

        before, insert_id = self._workspace.project, self._workspace.insert_id

        def made(found: tuple[Mend, Project]) -> None:
            self._workspace.do(mend_text(before, found[0]), found[1])

        return self.run(lambda project: mended_first(project, finding, mends, insert_id=insert_id), made)
