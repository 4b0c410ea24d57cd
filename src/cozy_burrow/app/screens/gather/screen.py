"""Gather: the ways in, the kit and one item large; or the retouch bench while a picture lies on it."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QWidget

from cozy_burrow.app.frame.handed import DRAWINGS, PICTURES, TABLES, Handed
from cozy_burrow.app.frame.hint import hint
from cozy_burrow.app.frame.house import House
from cozy_burrow.app.frame.screen import Lens, Screen, Undoes
from cozy_burrow.app.screens.gather.add_panel import AddPanel
from cozy_burrow.app.screens.gather.gallery import Gallery
from cozy_burrow.app.screens.gather.item_bench import ItemBench
from cozy_burrow.core.tongue import tr

if TYPE_CHECKING:  # few starts need the bench
    from cozy_burrow.app.screens.gather.retouch.canvas import RetouchCanvas
    from cozy_burrow.app.screens.gather.retouch.tools_panel import RetouchTools


class GatherScreen(Screen):
    """The kit and how it comes in."""

    stage = "gather"
    below_px = 288  # three zones in sight

    def __init__(self, house: House) -> None:
        super().__init__(house)
        self.add = AddPanel(house.workspace, house.retouch, house.settings, house.retouching.may_clear)
        self.gallery = Gallery(house.workspace, house.theme(), house.scale)
        self.bench = ItemBench(house.workspace, house.theme(), house.scale)

    @cached_property
    def retouch_canvas(self) -> RetouchCanvas:
        """The picture with outlines."""
        from cozy_burrow.app.screens.gather.retouch.canvas import RetouchCanvas
        from cozy_burrow.app.screens.gather.retouch.heard import hear_retouch

        canvas = RetouchCanvas(self.house.retouch, self.house.workspace, self.house.theme(), self.house.scale)
        hear_retouch(canvas, self.house.retouch, self.house.workspace)
        return canvas

    @cached_property
    def retouch_tools(self) -> RetouchTools:
        """Figures and mends of the retouch bench."""
        from cozy_burrow.app.screens.gather.retouch.tools_panel import RetouchTools

        tools = RetouchTools(self.house.retouch, self.house.workspace)
        tools.send_wanted.connect(self.house.retouching.send)
        tools.side_wanted.connect(lambda: self.house.retouching.ask_side(self.add.pictures.printed_mm))
        tools.another_wanted.connect(lambda: self.house.retouching.ask_another(self.add.pictures.printed_mm))
        tools.look_wanted.connect(self.retouch_canvas.look_at)
        tools.close_wanted.connect(self.house.retouching.close)
        return tools

    @property
    def _is_retouching(self) -> bool:
        return self.house.retouch.is_open

    @property
    def left(self) -> QWidget:
        """The ways in, or what can be done on the bench."""
        return self.retouch_tools if self._is_retouching else self.add

    @property
    def middle(self) -> QWidget:
        """The kit, or the picture."""
        return self.retouch_canvas if self._is_retouching else self.gallery

    @property
    def below(self) -> QWidget | None:
        """One item large."""
        return None if self._is_retouching else self.bench

    @property
    def shows_checks(self) -> bool:
        """The picture has all the room."""
        return not self._is_retouching

    @property
    def undoes(self) -> Undoes:
        """The bench has an undo of its own; once all of that is taken back, the document's is next."""
        house = self.house
        return BenchFirst(house.retouch, house.workspace) if self._is_retouching else house.workspace

    @property
    def lens(self) -> Lens:
        """The picture is zoomed while it lies there."""
        return self.retouch_canvas if self._is_retouching else self.house.plan

    def entered(self) -> None:
        """Whoever is here for the first time is told where items come in."""
        hint(
            "gather",
            self.add,
            tr("Items come in here: by photo, by calliper, from a table. What is gathered lies in the middle."),
            self.house.settings,
            self.house.dressing,
        )

    def document_opened(self) -> None:
        """A picture that is still being read was meant for the document before."""
        self.add.pictures.stop()
        self.add.files.stop()

    def take_handed(self, handed: Handed) -> bool:
        """Drawings and a table come in by Files, a picture as a photo on the mat."""
        drawings, tables, pictures = (handed.ending(kind) for kind in (DRAWINGS, TABLES, PICTURES))
        if drawings or tables:
            self.show_way("Files")
            if tables:
                self.add.files.take_table(tables[0])
            else:
                self.add.files.take_drawings(drawings)
        elif pictures or handed.picture:
            self.house.show_stage("gather")
            self.add.take_picture(pictures[0] if pictures else handed.picture)
        else:
            return False
        taken = len(drawings) if drawings and not tables else 1
        if taken < len(handed.paths):
            self.house.workspace.said.emit(
                tr("{taken} of {count} files taken; drop the others after it", taken=taken, count=len(handed.paths))
            )
        return True

    def show_way(self, name: str) -> None:
        """Turn to a way in."""
        self.house.show_stage("gather")
        self.add.show_way(name)

    def write_mat(self) -> None:
        """Ask where the reference mat goes."""
        self.show_way("Photo")
        self.add.pictures.ask_mat()


class BenchFirst:
    """Undo of the retouch bench, then of the document; redo of the bench alone."""

    def __init__(self, bench: Undoes, document: Undoes) -> None:
        self._bench, self._document = bench, document

    @property
    def _next(self) -> Undoes:
        return self._bench if self._bench.undo_label is not None else self._document

    @property
    def undo_label(self) -> str | None:
        """Name of what undo would take back."""
        return self._next.undo_label

    @property
    def redo_label(self) -> str | None:
        """Name of what redo would do again."""
        return self._bench.redo_label

    def undo(self) -> None:
        """Take the last change back."""
        self._next.undo()

    def redo(self) -> None:
        """Do again what was taken back."""
        self._bench.redo()


SCREEN = GatherScreen
