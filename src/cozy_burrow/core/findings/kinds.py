"""Kinds of findings, each declared once beside its computation: its words, its figure, the stage where it is mended.

A module of judgements declares its kinds at its head and names them in what it yields; window, papers and command line
ask a finding's kind for everything they say of it.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.model.memo import Frozen
from cozy_burrow.core.model.names import named
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.model.stages import Stage
from cozy_burrow.core.tongue import decimal, tr
from cozy_burrow.core.units import format_length

# How a finding's figure stands to its limit: too small, too large, or a figure by itself; none is shown.
Against = Literal["below", "above", "alone", "unsaid"]


class Kind(Frozen):
    """One kind of finding. `code` is stable; title, why and the sentence are for people."""

    __slots__ = ("against", "code", "says", "stage", "title", "why")

    def __init__(
        self, code: str, title: str, why: str, stage: Stage, against: Against, says: Callable[[Told], str]
    ) -> None:
        self.code, self.title, self.why, self.stage, self.against, self.says = code, title, why, stage, against, says


KINDS: dict[str, Kind] = {}


def kind(
    code: str, title: str, why: str, *, stage: Stage, says: Callable[[Told], str], against: Against = "below"
) -> Kind:
    """Declare a kind. Raises ValueError for a code that is taken."""
    if code in KINDS:
        raise ValueError(code)
    KINDS[code] = Kind(code, title, why, stage, against, says)
    return KINDS[code]


class Told(Frozen):
    """A finding as its sentence speaks of it: its things by name, its figures with their unit."""

    def __init__(self, project: Project, finding: Finding) -> None:
        self._project, self.finding = project, finding
        self.who = named(project, finding.placements)
        self.value, self.limit = self.figure(finding.value), self.figure(finding.limit)
        self.layer = tr(" in layer {layer}", layer=finding.layer) if finding.layer else ""

    def figure(self, value: float) -> str:
        """Return a figure in the finding's unit as it is read."""
        unit = self.finding.unit
        if unit == "mm":
            return format_length(value, self._project.units)
        if unit == "°":
            return decimal(f"{value:.1f}°")
        if unit == "N" and value < 9.95:
            return decimal(f"{value:.1f} N")  # small forces count too: nothing is ever said to pull with 0 N
        return f"{value:.0f} {unit}".strip()

    def name(self, number: int) -> str:
        """Return the name of one of its things."""
        return named(self._project, (self.finding.placements[number],))

    @property
    def about(self) -> str:
        """The insert or container that it speaks of."""
        return subject_name(self._project, self.finding, other=tr("It"))


def subject_name(project: Project, finding: Finding, *, other: str = tr("the whole insert")) -> str:
    """Return what a finding without things speaks of: an insert or a container by its name, else `other`."""
    names = {one.id: one.name for one in project.containers} | {one.id: one.name for one in project.inserts}
    return f"‘{names[finding.subject]}’" if finding.subject in names else other
