"""The window and what is shown in it."""

from __future__ import annotations

import builtins

# Qt's binding puts itself into every import, to look through the source of each module for a way of writing that it may
# ask for and nobody here uses: that took a tenth of the start.
_plain_import = builtins.__import__
import PySide6.QtCore  # noqa: E402, F401

builtins.__import__ = _plain_import
