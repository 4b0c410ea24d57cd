"""The stages of the work, in their order."""

from __future__ import annotations

from typing import Literal

Stage = Literal["gather", "measure", "lay-out", "sink", "grip", "cut"]
STAGES: tuple[Stage, ...] = ("gather", "measure", "lay-out", "sink", "grip", "cut")
