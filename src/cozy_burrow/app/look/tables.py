"""What all tables have in common."""

from __future__ import annotations

from PySide6.QtWidgets import QTableView

_ROW_LINES = 1.7  # lines of letters: a row is told from the next, and a finger finds it


def rows_by_letters(table: QTableView) -> None:
    """Make rows as high as the table's letters want, which are larger at another scale of the window."""
    table.verticalHeader().setDefaultSectionSize(round(_ROW_LINES * table.fontMetrics().lineSpacing()))
