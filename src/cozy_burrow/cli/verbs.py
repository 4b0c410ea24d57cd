"""What the program does without a window, by name."""

from __future__ import annotations

# Each in a module of its name.
VERBS = (
    "plan",
    "check",
    "export",
    "bench",
    "outlines",
    "mat",
    "trace",
    "refit",
    "marks",
    "roll-call",
)
