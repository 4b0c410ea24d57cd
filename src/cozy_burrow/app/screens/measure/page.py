"""What the pages of Measure have in common: fields that read the document and change it, and say what they refuse."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec.structs import replace
from PySide6.QtWidgets import QComboBox, QFormLayout, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.frame.paged_panel import RefusingPage
from cozy_burrow.app.look.fields import LengthField, NumberField
from cozy_burrow.core.container.checks import checked_container
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.model.edits import change_container, change_insert
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.tongue import tr


def narrow(box: QComboBox) -> None:
    """Let a choice be narrower than its longest text: the panel is."""
    box.setMinimumContentsLength(6)
    box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)


def shown_container(workspace: Workspace) -> str:
    """Return which container of which opened project is shown: ids begin anew in every project."""
    return f"{workspace.opened_count} {workspace.container.id}"


class Page(RefusingPage):
    """One page of Measure."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self._readers: list[Callable[[], None]] = []

    def follow(self) -> None:
        """Show the document as it is now."""
        for read in self._readers:
            read()

    # Fields

    def length(
        self,
        form: QFormLayout,
        label: str,
        read: Callable[[], float | None],
        write: Callable[[float], object],
        *,
        least_mm: float = 0.0,
        most_mm: float = 10_000.0,
        tip: str = "",
    ) -> LengthField:
        """Add a length that is read from the document and written back."""
        field = LengthField(label, least_mm=least_mm, most_mm=most_mm)
        field.setStatusTip(tip)
        field.entered.connect(write)
        field.refused.connect(lambda sentence: self._hear(label, sentence))
        self._readers.append(lambda: field.show_length(read(), self._workspace.unit))
        form.addRow(label, field)
        return field

    def number(
        self,
        form: QFormLayout,
        label: str,
        read: Callable[[], float | None],
        write: Callable[[Any], object],
        *,
        least: float,
        most: float,
        unit: str = "",
        optional: bool = False,
    ) -> NumberField:
        """Add a plain number."""
        field = NumberField(label, least=least, most=most, unit=unit, optional=optional)
        field.entered.connect(write)
        field.refused.connect(lambda sentence: self._hear(label, sentence))
        self._readers.append(lambda: field.show_number(read()))
        form.addRow(label, field)
        return field

    def choice(
        self,
        form: QFormLayout,
        label: str,
        options: tuple[tuple[str, Any], ...],
        read: Callable[[], Any],
        write: Callable[[Any], object],
    ) -> QComboBox:
        """Add a choice of a few."""
        box = QComboBox()
        box.setAccessibleName(label)
        narrow(box)
        for text, value in options:
            box.addItem(text, value)
        box.activated.connect(lambda index: write(box.itemData(index)))
        self._readers.append(lambda: box.setCurrentIndex(box.findData(read())))
        form.addRow(label, box)
        return box

    # Changes

    def attempt(self, label: str, change: Callable[[], Project], *, place: str = "") -> bool:
        """Make a change, or say why it cannot be; the field then shows what holds."""
        try:
            self._workspace.do(label, change())
        except UnusableInput as error:
            self._hear(place or label, error.sentence())
            self.follow()
            return False
        self._hear(place or label, "")
        return True

    def change_box(self, what: str, **fields: Any) -> bool:
        """Change figures of the container, for every tier in it."""

        def change() -> Project:
            box = replace(self._workspace.container, **fields)
            return change_container(self._workspace.project, checked_container(box, where=what))

        return self.attempt(tr("Set the {what}", what=what), change)

    def change_tray(self, label: str, **fields: Any) -> bool:
        """Change fields of the insert that is shown."""
        return self.attempt(label, lambda: change_insert(self._workspace.project, self._workspace.insert_id, **fields))

    def _hear(self, place: str, sentence: str) -> None:
        self._workspace.set_trouble(place, sentence)
        self.refused.emit(sentence)
