"""The pages of Measure, in the order of the work."""

from __future__ import annotations

from typing import Literal

PageName = Literal["Inside", "Survey", "Foam", "Sheets", "Carry", "Rules"]
PAGES: tuple[PageName, ...] = ("Inside", "Survey", "Foam", "Sheets", "Carry", "Rules")
