"""What the program does without a window, by name."""

from __future__ import annotations

VERBS = ("plan", "check", "export", "bench", "outlines", "mat", "trace", "refit", "marks")  # each in a module of its name
