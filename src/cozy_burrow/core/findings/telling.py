"""Findings in words, for the window, the papers and the command line alike: each kind says its own."""

from __future__ import annotations

import cozy_burrow.core.findings.report  # noqa: F401  every kind is declared once its module is there
from cozy_burrow.core.findings.finding import Finding
from cozy_burrow.core.findings.kinds import KINDS, Kind, Told
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import tr


def kind_of(finding: Finding) -> Kind:
    """Return the kind of a finding."""
    return KINDS[finding.code]


def all_kinds() -> tuple[Kind, ...]:
    """Return every kind there is."""
    return tuple(KINDS.values())


def finding_text(project: Project, finding: Finding) -> str:
    """Return a finding as one sentence with its figure and its limit."""
    return kind_of(finding).says(Told(project, finding))


def brief(project: Project, finding: Finding) -> str:
    """Return a finding's figure beside its limit, for a row of a list; empty where only a sentence says it."""
    told = Told(project, finding)
    match kind_of(finding).against:
        case "below":
            return tr("{value}, {limit} needed", value=told.value, limit=told.limit)
        case "above":
            return tr("{value}, {limit} allowed", value=told.value, limit=told.limit)
        case "alone":
            return told.value
        case "unsaid":
            return ""
