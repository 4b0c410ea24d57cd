"""The pages of Measure, in the order of the work."""

from __future__ import annotations

from typing import Literal

from cozy_burrow.core.tongue import tr

PageName = Literal["Inside", "Survey", "Foam", "Sheets", "Carry", "Rules"]
PAGE_NAMES: dict[PageName, str] = {
    "Inside": tr("Inside"),
    "Survey": tr("Survey"),
    "Foam": tr("Foam"),
    "Sheets": tr("Sheets"),
    "Carry": tr("Carry"),
    "Rules": tr("Rules"),
}
PAGES: tuple[PageName, ...] = tuple(PAGE_NAMES)
