"""Inside: kind, rim, draft, radii, lid and handle of the container, and how the insert stands in it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from msgspec.structs import replace
from PySide6.QtWidgets import QCheckBox, QComboBox, QFormLayout, QGridLayout, QLabel, QWidget

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.fields import Form, LengthField, NextOnEnter, NumberField, head, soft
from cozy_burrow.app.look.fold import Fold
from cozy_burrow.app.screens.measure.frame_rows import FrameRows
from cozy_burrow.app.screens.measure.front_rows import FrontRows
from cozy_burrow.app.screens.measure.inside_words import blank_words, lid_words, rim_words, taper_words, with_press_fit
from cozy_burrow.app.screens.measure.obstacle_rows import ObstacleRows
from cozy_burrow.app.screens.measure.page import Page, narrow
from cozy_burrow.core.container.starts import STARTS
from cozy_burrow.core.foam.boards import shipped_stores
from cozy_burrow.core.model.names import SIDE_NAMES
from cozy_burrow.core.model.vessels import SIDES, Handle, Lid, Side
from cozy_burrow.core.tongue import tr, within

_KINDS = ((tr("drawer"), "drawer"), (tr("hard case"), "case"), (tr("wall panel or door"), "wall"))
_SIDES = tuple((SIDE_NAMES[side], side) for side in SIDES)


class InsidePage(Page):
    """Fields that take effect as soon as a figure is whole; those of other kinds are hidden."""

    def __init__(self, workspace: Workspace, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self._by_kind: list[tuple[QWidget, frozenset[str]]] = []
        self._box()
        self._walls()
        self._lid()
        self._tray()
        self.frame = FrameRows(workspace, self)
        self.column.addWidget(self.frame)
        self.obstacles = ObstacleRows(workspace, self)
        self.column.addWidget(self.obstacles)
        self.column.addStretch(1)
        self.follow()

    def _box(self) -> None:
        self.column.addWidget(head(tr("The container")))
        form = Form()
        self.start = QComboBox()
        self.start.setAccessibleName(tr("Start from a shape"))
        narrow(self.start)
        self.start.addItem(tr("as it is"), "")
        for name in STARTS:
            self.start.addItem(tr(name), name)
        self.start.activated.connect(self._start_from)
        form.addRow(tr("Start from"), self.start)
        self.name = self._text(
            form, tr("Name"), lambda: self._c.name, lambda name: self.change_box(tr("name"), name=name)
        )
        self.choice(form, tr("Kind"), _KINDS, lambda: self._c.kind, lambda kind: self.change_box(tr("kind"), kind=kind))
        self.width_field = self.length(
            form,
            tr("Width"),
            lambda: self._c.width_mm,
            lambda mm: self.change_box(tr("width"), width_mm=mm),
            least_mm=5,
        )
        self.depth_field = self.length(
            form,
            tr("Depth"),
            lambda: self._c.depth_mm,
            lambda mm: self.change_box(tr("depth"), depth_mm=mm),
            least_mm=5,
        )
        self.height_field = self.length(
            form,
            tr("Height"),
            lambda: self._c.height_mm,
            lambda mm: self.change_box(tr("height"), height_mm=mm),
            least_mm=5,
            tip=tr("Drawer: up to the frame above. Case: from the floor to the rim. Wall: how deep the frame is."),
        )
        self.corner_field = self.length(
            form,
            tr("Corner radius"),
            lambda: self._c.corner_radius_mm,
            lambda mm: self.change_box(tr("corner radius"), corner_radius_mm=mm),
        )
        down = self.choice(
            form, tr("Down is"), _SIDES, lambda: self._c.down, lambda s: self.change_box(tr("down side"), down=s)
        )
        self._only(form, down, "wall")
        self.column.addLayout(form)
        self.front = FrontRows(workspace=self._workspace, page=self)
        self.column.addWidget(self.front)
        self._by_kind.append((self.front, frozenset(("drawer",))))
        self._rim_text = soft("")
        self.column.addWidget(self._rim_text)

    def _walls(self) -> None:
        self.taper = Fold(tr("Taper of the walls"))
        self.column.addWidget(self.taper)
        self._by_kind.append((self.taper, frozenset(("case",))))
        self._readers.append(lambda: self.taper.tell(taper_words(self._c.draft_deg)))
        self._draft = QWidget()
        grid = QGridLayout(self._draft)
        grid.setContentsMargins(0, 0, 0, 0)
        self.draft_fields: list[NumberField] = []
        for n, side in enumerate(SIDES):
            field = NumberField(tr("Draft {side}", side=SIDE_NAMES[side]), least=-45, most=45, unit="°")
            field.entered.connect(lambda value, n=n: self._set_draft(n, value))
            field.refused.connect(
                lambda sentence, side=side: self._hear(tr("draft {side}", side=SIDE_NAMES[side]), sentence)
            )
            field.setStatusTip(tr("How far the wall leans in going down; a moulded case leans 1 to 5 degrees."))
            grid.addWidget(QLabel(SIDE_NAMES[side]), n // 2, 2 * (n % 2))
            grid.addWidget(field, n // 2, 2 * (n % 2) + 1)
            self.draft_fields.append(field)
            self._readers.append(partial(self._show_draft, n))
        self.taper.column.addWidget(self._draft)
        form = Form()
        self.base_corner_field = LengthField(tr("Corners at the floor"), least_mm=0, optional=True)
        self.base_corner_field.setPlaceholderText(tr("as at the rim"))
        self.base_corner_field.entered.connect(
            lambda mm: self.change_box(tr("corner radius at the floor"), base_corner_radius_mm=mm)
        )
        self._readers.append(
            lambda: self.base_corner_field.show_length(self._c.base_corner_radius_mm, self._workspace.unit)
        )
        form.addRow(tr("Corners at floor"), self.base_corner_field)
        self.base_edge_field = self.length(
            form,
            tr("Base edge radius"),
            lambda: self._c.base_edge_radius_mm,
            lambda mm: self.change_box(tr("base edge radius"), base_edge_radius_mm=mm),
            tip=tr("The round between wall and floor: the lowest sheet is chamfered there."),
        )
        self.taper.column.addLayout(form)

    def _lid(self) -> None:
        self.lid = Fold(tr("Lid and handle"))
        self.column.addWidget(self.lid)
        self._by_kind.append((self.lid, frozenset(("case", "wall"))))
        self._readers.append(lambda: self.lid.tell(lid_words(self._workspace)))
        form = Form()
        for label, name in ((tr("Lid depth"), "depth_mm"), (tr("Lid foam"), "foam_mm"), (tr("Compresses"), "give_mm")):
            self.length(
                form,
                label,
                lambda name=name: getattr(self._c.lid, name) if self._c.lid else None,  # type: ignore[misc]
                lambda mm, name=name, label=label: self._set_lid(label, name, mm),  # type: ignore[misc]
            )
        kinds = tuple((board.name, board.id) for board in shipped_stores().boards)
        self.choice(
            form,
            tr("Its kind"),
            ((tr("any"), ""), *kinds),
            lambda: self._c.lid.foam if self._c.lid else "",
            self._set_lid_foam,
        )
        side = self.choice(
            form,
            tr("Handle on"),
            ((tr("nowhere"), None), *_SIDES),
            lambda: self._c.handle.side if self._c.handle else None,
            self._set_handle_side,
        )
        self._only(form, side, "case")
        along = self.length(
            form,
            tr("Along it"),
            lambda: self._c.handle.along_mm if self._c.handle else None,
            lambda mm: self._set_handle("along_mm", mm),
        )
        high = self.length(
            form,
            tr("Handle height"),
            lambda: self._c.handle.height_mm if self._c.handle else None,
            lambda mm: self._set_handle("height_mm", mm),
        )
        self._only(form, along, "case")
        self._only(form, high, "case")
        mass = self.number(
            form,
            tr("Empty case"),
            lambda: None if self._c.empty_mass_g is None else self._c.empty_mass_g / 1000,
            lambda kg: self.change_box(tr("empty case"), empty_mass_g=None if kg is None else kg * 1000),
            least=0,
            most=200,
            unit=" kg",
            optional=True,
        )
        self._only(form, mass, "case")
        self.lid.column.addLayout(form)

    def _tray(self) -> None:
        self.tray = Fold(tr("Insert and press fit"))
        self.column.addWidget(self.tray)
        self._readers.append(lambda: self.tray.tell(self._workspace.length(self._workspace.insert.press_fit_mm)))
        form = Form()
        self.insert_name = self._text(
            form,
            tr("Insert"),
            lambda: self._workspace.insert.name,
            lambda name: self.change_tray(tr("Rename it"), name=name),
        )
        self.fit_field = self.length(
            form, tr("Press fit a side"), lambda: self._workspace.insert.press_fit_mm, self._set_press_fit
        )
        self.tray.column.addLayout(form)
        self.straps = QCheckBox(tr("lift straps under it"))
        self.straps.clicked.connect(lambda on: self.change_tray(tr("Change the lift straps"), lift_straps=on))
        self._readers.append(lambda: self.straps.setChecked(self._workspace.insert.lift_straps))
        self.tray.column.addWidget(self.straps)
        self._blank_text = soft("")
        self._blank_text.setToolTip(
            tr("Each blank is cut to the inside at half its sheet's height, and the press fit.")
        )
        self.column.addWidget(self._blank_text)

    # Reading

    @property
    def _c(self) -> Any:
        return self._workspace.container

    def _show_draft(self, side: int) -> None:
        self.draft_fields[side].show_number(self._c.draft_deg[side])

    def _text(
        self, form: QFormLayout, label: str, read: Callable[[], str], write: Callable[[str], object]
    ) -> NextOnEnter:
        field = NextOnEnter()
        field.setAccessibleName(label)

        def finish() -> None:
            text = " ".join(field.text().split())
            if text and text != read():
                write(text)

        def show() -> None:
            if not field.hasFocus():
                field.setText(read())

        field.editingFinished.connect(finish)
        self._readers.append(show)
        form.addRow(label, field)
        return field

    def _only(self, form: QFormLayout, field: QWidget, *kinds: str) -> None:
        label = form.labelForField(field)
        for widget in (field, label):
            if widget is not None:
                self._by_kind.append((widget, frozenset(kinds)))

    def follow(self) -> None:
        """Show the document as it is now, and only what its kind of container has."""
        super().follow()
        for widget, kinds in self._by_kind:
            widget.setVisible(self._c.kind in kinds)
        odd = bool(self._c.corners) or self._c.outline is not None
        for field in (self.width_field, self.depth_field, self.corner_field):
            field.setEnabled(not odd)
        texts = rim_words(self._workspace)
        self._rim_text.setText(" ".join(texts))
        self._rim_text.setVisible(bool(texts))
        self._blank_text.setText("\n".join(blank_words(self._workspace)))
        self.front.follow_container()
        self.frame.follow()
        self.obstacles.follow()

    # Changing

    def _start_from(self) -> None:
        name = self.start.currentData()
        self.start.setCurrentIndex(0)
        if name:
            start = STARTS[name]
            fields = {key: getattr(start, key) for key in start.__struct_fields__ if key not in {"id", "name"}}
            self.change_box(tr("start shape"), **fields)

    def _set_draft(self, side: int, value: float) -> None:
        draft = tuple(value if n == side else old for n, old in enumerate(self._c.draft_deg))
        self.change_box(tr("draft"), draft_deg=draft)

    def _set_lid(self, label: str, name: str, value: float) -> None:
        lid = replace(self._c.lid or Lid(), **{name: value})
        self.change_box(within(label), lid=lid if lid.depth_mm or lid.foam_mm else None)

    def _set_lid_foam(self, key: str) -> None:
        board = next((one for one in shipped_stores().boards if one.id == key), None)
        lid = self._c.lid or Lid()
        if board is None:
            self.change_box(tr("lid foam"), lid=replace(lid, foam=""))
            return
        thick = board.thickness_mm
        self.change_box(
            tr("lid foam"),
            lid=replace(lid, foam=key, foam_kg_m3=board.density_kg_m3, foam_mm=thick, give_mm=min(lid.give_mm, thick)),
        )

    def _set_handle_side(self, side: Side | None) -> None:
        along = (self._c.width_mm if side in {"front", "back"} else self._c.depth_mm) / 2
        height = self._c.handle.height_mm if self._c.handle else self._c.height_mm
        handle = None if side is None else Handle(side=side, along_mm=along, height_mm=height)
        self.change_box(tr("handle"), handle=handle)

    def _set_handle(self, name: str, value: float) -> None:
        if self._c.handle is not None:
            self.change_box(tr("handle"), handle=replace(self._c.handle, **{name: value}))

    def _set_press_fit(self, press_fit_mm: float) -> None:
        self.attempt(tr("Set the press fit"), lambda: with_press_fit(self._workspace, press_fit_mm))
