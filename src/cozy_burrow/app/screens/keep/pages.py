"""The pages of Keep: what is asked every day first, what is asked once a year last."""

from __future__ import annotations

from typing import Literal

from cozy_burrow.core.tongue import tr

PageName = Literal["Roll", "Refit", "Compare", "Things", "Where", "Labels", "Next"]
PAGE_NAMES: dict[PageName, str] = {
    "Roll": tr("Roll call"),
    "Refit": tr("Refit"),
    "Compare": tr("Compare"),
    "Things": tr("My items"),
    "Where": tr("Find"),
    "Labels": tr("Labels"),
    "Next": tr("Next one"),
}
