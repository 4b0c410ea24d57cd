"""The demo project as it ships: built once by `tools/lay_demo.py`, so that the window need not read drawings first."""

from __future__ import annotations

from cozy_burrow.assets.read import asset
from cozy_burrow.core.model.records import Project
from cozy_burrow.storage.project_file import load


def demo_project() -> Project:
    """Return a fresh copy of the demo project."""
    return load(asset("demo", "demo.burrow"))
