"""Commands of Gather and of the retouch bench."""

from __future__ import annotations

from typing import TYPE_CHECKING

from msgspec.structs import replace

from cozy_burrow.app.frame.command import Command
from cozy_burrow.app.frame.front import Front, chosen
from cozy_burrow.app.screens.gather import forming
from cozy_burrow.core.model.edits import change_item, remove_items
from cozy_burrow.core.tongue import tr

if TYPE_CHECKING:
    from cozy_burrow.app.desk.workspace import Workspace
    from cozy_burrow.app.screens.gather.screen import GatherScreen

_CHAPTER = tr("Gather")


def _screen(front: Front) -> GatherScreen:
    from cozy_burrow.app.screens.gather.screen import GatherScreen

    return GatherScreen.of(front)


def _is_retouching(front: Front) -> bool:
    return front.retouch.is_open


def _forget(workspace: Workspace) -> None:
    item = workspace.item
    if item is not None:
        workspace.do(tr("Take ‘{name}’ out of the kit", name=item.name), remove_items(workspace.project, [item.id]))


def _has_photo(front: Front) -> bool:
    item = front.workspace.item
    return item is not None and item.photo is not None


def _leave_photo_out(workspace: Workspace) -> None:
    item = workspace.item
    if item is not None and item.photo is not None:
        project = change_item(workspace.project, replace(item, photo=None))
        workspace.do(tr("Leave out the photo of ‘{name}’", name=item.name), project)


COMMANDS: tuple[Command, ...] = (
    Command("gather.photo", tr("Gather from a photo"), _CHAPTER, lambda w: _screen(w).show_way("Photo"), keys="Ctrl+P"),
    Command(
        "gather.paper", tr("Gather from a scan or a traced sheet"), _CHAPTER, lambda w: _screen(w).show_way("Paper")
    ),
    Command("gather.mat", tr("Write the reference mat to print…"), _CHAPTER, lambda w: _screen(w).write_mat()),
    Command(
        "gather.send",
        tr("Send what is on the retouch bench to the kit"),
        _CHAPTER,
        lambda w: w.retouching.send(),
        keys="Ctrl+Shift+Return",
        when=_is_retouching,
    ),
    Command(
        "gather.another",
        tr("Measure thicknesses from another photo of the layout"),
        _CHAPTER,
        lambda w: _screen(w).retouch_tools.another_wanted.emit(),
        when=_is_retouching,
    ),
    Command(
        "gather.straighten",
        tr("Straighten the rim from A to B"),
        _CHAPTER,
        lambda w: _screen(w).retouch_tools.mends.straighten(),
        keys="Ctrl+Shift+L",
        when=_is_retouching,
    ),
    Command(
        "gather.part",
        tr("Part items that touch at A–B"),
        _CHAPTER,
        lambda w: _screen(w).retouch_tools.mends.part(),
        keys="Ctrl+Shift+P",
        when=_is_retouching,
    ),
    Command(
        "gather.zones",
        tr("Split zones at A–B"),
        _CHAPTER,
        lambda w: _screen(w).retouch_tools.mends.split_zones(),
        keys="Ctrl+Shift+D",
        when=_is_retouching,
    ),
    Command(
        "gather.stack",
        tr("Stack all copies of the chosen item in one pocket"),
        _CHAPTER,
        lambda w: forming.stack_copies(w.workspace),
        when=chosen,
    ),
    Command(
        "gather.upright",
        tr("Stand the chosen item upright in a slit"),
        _CHAPTER,
        lambda w: forming.stand_upright(w.workspace),
        when=chosen,
    ),
    Command(
        "gather.cable",
        tr("Give the chosen item a nest for its cable"),
        _CHAPTER,
        lambda w: forming.give_cable(w.workspace),
        when=chosen,
    ),
    Command(
        "gather.no_photo",
        tr("Leave out the photo of the chosen item"),
        _CHAPTER,
        lambda w: _leave_photo_out(w.workspace),
        when=_has_photo,
    ),
    Command(
        "gather.forget",
        tr("Take the chosen item out of the kit"),
        _CHAPTER,
        lambda w: _forget(w.workspace),
        keys="Ctrl+Backspace",
        when=chosen,
    ),
)
