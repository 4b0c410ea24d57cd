"""My items: what was gathered once, found by name or shape, and put into any kit."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPushButton, QWidget

from cozy_burrow.app.desk import ask
from cozy_burrow.app.desk.kept_desk import KeptDesk
from cozy_burrow.app.desk.latest import Latest
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.frame.paged_panel import RefusingPage
from cozy_burrow.app.look.fields import NextOnEnter, head, rows, soft, verdict
from cozy_burrow.app.look.reading_bar import ReadingBar
from cozy_burrow.app.scene.item_rows import ItemRows
from cozy_burrow.app.screens.keep.folder_buttons import FolderButtons
from cozy_burrow.app.screens.keep.like_photo import LikePhoto
from cozy_burrow.core.geometry.rings import polygon_of
from cozy_burrow.core.kit.alike import by_shapes, by_words
from cozy_burrow.core.model.edits import add_items, change_item
from cozy_burrow.core.model.records import Item
from cozy_burrow.core.tongue import tr, trn
from cozy_burrow.jobs.find import as_before, read_projects
from cozy_burrow.storage.kept_files import Kept

_MOST_TITLES = 4
_MOST_ROWS = 300  # nobody reads on beyond; typing another letter is quicker


class ThingsPage(RefusingPage):
    """Finds, takes, keeps; asks where an item is not what is kept of it."""

    def __init__(self, workspace: Workspace, things: KeptDesk, parent: QWidget | None = None) -> None:
        super().__init__(workspace, parent)
        self._things = things
        self._like: tuple[Item, ...] = ()
        # Projects that have what was updated as it was before, by the document that was open when it was.
        self._elsewhere: dict[tuple[int, str], tuple[str, ...]] = {}
        self._looking = Latest(workspace, self)
        things.changed.connect(self._follow_if_seen)
        things.refused.connect(self.refused)
        workspace.item_chosen.connect(self._follow_if_seen)
        self.column.addWidget(head(tr("Gathered once, used again")))
        self.search = NextOnEnter()
        self.search.setPlaceholderText(tr("Name, group or note"))
        self.search.setAccessibleName(tr("Find an item by its name"))
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._typed)
        self.search.returnPressed.connect(self.take)
        self.column.addWidget(self.search)
        self.list = rows(tr("My items"), least_px=80)
        self._rows = ItemRows(self.list)
        self.list.itemActivated.connect(lambda _: self.take())
        self.list.currentRowChanged.connect(lambda _: self._tell())
        self.column.addWidget(self.list, 1)
        self.verdict = verdict(tip=tr("Kept in a folder beside the settings, a file each, for every project"))
        self.column.addWidget(self.verdict)
        self.take_button = self._button(tr("Put it into the kit"), self.take)
        self.take_button.setObjectName("main")
        self.column.addWidget(self.take_button)
        self.like_button = self._button(tr("Like the chosen one"), self.show_like)
        self.like_button.setToolTip(tr("By its outline, whichever way round it lies"))
        self.remove_button = self._button(tr("Remove…"), self._ask_remove)
        self.folders = FolderButtons(workspace, things, self.refused)
        self.photo = LikePhoto(workspace)
        self.photo.seen.connect(self.show_like_all)
        self.photo.refused.connect(self.refused)
        self.column.addWidget(self.like_button)
        self.column.addWidget(self.photo)
        self.column.addWidget(self.remove_button)
        self.column.addWidget(self.folders)
        self.bar = ReadingBar(things.stop, tr("Progress of reading or writing My items"))
        things.progressed.connect(self._show_progress)
        self.column.addWidget(self.bar)
        self.column.addWidget(head(tr("Of this kit")))
        self.kit_text = soft("")
        self.column.addWidget(self.kit_text)
        self.keep_button = self._button(tr("Keep the chosen item"), self.keep)
        self.column.addWidget(self.keep_button)
        self.all_button = self._button(tr("Keep all the others too"), self.keep_all)
        self.column.addWidget(self.all_button)
        self.back_button = self._button(tr("Use the one from My items"), self.take_kept)
        self.column.addWidget(self.back_button)
        things.look_again()
        self.follow()

    def _button(self, text: str, do: Callable[[], object]) -> QPushButton:
        button = QPushButton(text)
        button.clicked.connect(lambda _=False: do())
        return button

    # What is kept

    def _typed(self) -> None:
        self._like = ()
        self._list()

    def show_like(self) -> None:
        """List what has a shape like that of the item that is chosen in the kit."""
        item = self._workspace.item
        self.show_like_all((item,) if item is not None else ())

    def show_like_all(self, items: tuple[Item, ...]) -> None:
        """List what has a shape like one of some."""
        self._like = items
        self.search.blockSignals(True)
        self.search.clear()
        self.search.blockSignals(False)
        self._list()

    def follow(self) -> None:
        """Show what is kept, and how the kit stands to it."""
        self._list()
        workspace = self._workspace
        item = workspace.item
        fresh = [one for one in workspace.project.items if self._things.get(one.kept_as) is None]
        changed = self._changed()
        self.like_button.setEnabled(item is not None)
        self.keep_button.setEnabled(item is not None and not self._things.is_busy)
        self.all_button.setVisible(bool(fresh))
        self.all_button.setEnabled(not self._things.is_busy)
        self.back_button.setVisible(item is not None and item in changed)
        if item is not None and item in changed:
            self.keep_button.setText(tr("Update My items"))
            self.kit_text.setText(differs_words(item, self._things.get(item.kept_as), workspace))
            return
        self.keep_button.setText(tr("Keep the chosen item"))
        others = self._elsewhere.get((workspace.opened_count, item.kept_as), ()) if item is not None else ()
        if item is not None and others:
            self.kit_text.setText(
                trn(
                    "‘{name}’ is kept. {titles} still has it as it was: open it, and take it from My items there.",
                    "‘{name}’ is kept. {titles} still have it as it was: open them, and take it from My items there.",
                    len(others),
                    name=item.name,
                    titles=", ".join(f"‘{title}’" for title in others[:_MOST_TITLES]),
                )
            )
        elif changed:
            names = ", ".join(f"‘{one.name}’" for one in changed[:3])
            self.kit_text.setText(
                trn(
                    "{count} item differs from My items: {names}. Choose it to say which is right.",
                    "{count} items differ from My items: {names}. Choose each to say which is right.",
                    len(changed),
                    names=names,
                )
            )
        elif item is not None:
            known = self._things.get(item.kept_as) is not None
            text = tr("‘{name}’ is kept.", name=item.name) if known else tr("‘{name}’ is not kept yet.", name=item.name)
            self.kit_text.setText(text)
        else:
            self.kit_text.setText(tr("Choose an item, here or under Gather."))

    def _changed(self) -> list[Item]:
        """Return the items of the kit that are kept, and are not as they were."""
        found = []
        for item in self._workspace.project.items:
            thing = self._things.get(item.kept_as)
            if thing is not None and is_changed(item, thing.what):
                found.append(item)
        return found

    def _list(self) -> None:
        things = self._things.shelf.kept
        items = [one.what for one in things]
        if self._like:
            found = [
                (number, alike_words(share, which + 1 if len(self._like) > 1 else 0))
                for number, share, which in by_shapes(items, self._like)
            ]
        else:
            found = [(number, "") for number in by_words(items, self.search.text())]
        row = self.list.currentRow()
        self.list.blockSignals(True)
        self.list.clear()
        for number, told in found[:_MOST_ROWS]:
            thing = things[number]
            self.list.addItem(self._rows.row(f"{thing.what.name}  {told}".rstrip(), thing.key, thing.what))
        self.list.setCurrentRow(min(max(0, row), self.list.count() - 1))
        self.list.blockSignals(False)
        self._tell()

    def _show_progress(self, share: float) -> None:
        self.bar.show_share(share)
        for part in (self.folders, self.keep_button, self.all_button):
            part.setEnabled(share >= 1.0)
        if share >= 1.0:
            self.follow()

    def _tell(self) -> None:
        thing, count = self.chosen, len(self._things.shelf.kept)
        self.take_button.setEnabled(thing is not None)
        self.remove_button.setEnabled(thing is not None)
        self.folders.export_button.setEnabled(bool(count))
        if not self._things.is_read:
            self.verdict.setText(tr("Reading what is kept…"))
        elif not count:
            self.verdict.setText(tr("Nothing is kept yet. Choose an item of the kit and keep it."))
        elif thing is None:
            self.verdict.setText(trn("No match in {count} item.", "No match in {count} items.", count))
        else:
            item = thing.what
            told = [item.name, size_of(item, self._workspace)]
            if item.mass_g is not None:
                told.append(tr("{mass:.0f} g", mass=item.mass_g))
            if item.notes:
                told.append(item.notes)
            self.verdict.setText("\n".join(told))

    @property
    def chosen(self) -> Kept[Item] | None:
        """The item that is chosen in the list."""
        row = self.list.currentItem()
        return self._things.get(str(row.data(Qt.ItemDataRole.UserRole))) if row is not None else None

    def take(self) -> None:
        """Put what is chosen into the kit."""
        thing = self.chosen
        whole = self._things.whole(thing.key) if thing is not None else None
        if thing is not None and whole is not None:
            item = replace(whole, kept_as=thing.key)
            project = add_items(self._workspace.project, [item])
            self._workspace.do(tr("Put ‘{name}’ into the kit", name=item.name), project)
            self._workspace.choose_item(project.items[-1].id)

    # What is in the kit

    def keep(self) -> None:
        """Keep the item that is chosen in the kit, as it is now."""
        item = self._workspace.item
        if item is not None:
            self._keep([item])
            if item in self._changed():
                self._look_elsewhere(item)

    def _look_elsewhere(self, item: Item) -> None:
        """Look which other projects beside this one have an item as it was before it was measured anew."""
        path = self._workspace.path
        if path is None:
            return

        def tell(titles: tuple[str, ...]) -> None:
            self._elsewhere[self._workspace.opened_count, item.kept_as] = titles
            self.follow()

        self._looking.begin(
            lambda token: as_before(read_projects(path.parent, token=token), item.kept_as, item, besides=path), tell
        )

    def keep_all(self) -> None:
        """Keep every item of the kit that is not kept yet."""
        self._keep([one for one in self._workspace.project.items if self._things.get(one.kept_as) is None])

    def _keep(self, items: list[Item]) -> None:
        opened = self._workspace.opened_count

        def note(kept: list[Kept[Item]]) -> None:
            """Note in the kit where its items are kept, if it is still there; an item may have gone meanwhile."""
            if not kept or opened != self._workspace.opened_count:
                return
            project = self._workspace.project
            there = {one.id: one for one in project.items}
            for item, thing in zip(items, kept):
                now = there.get(item.id)
                if now is not None and now.kept_as != thing.key:
                    project = change_item(project, replace(now, kept_as=thing.key))
            self._workspace.do(trn("Keep {count} item", "Keep {count} items", len(kept)), project)
            self.follow()

        self._things.keep_many(lambda: [(item, item.kept_as) for item in items], note)

    def take_kept(self) -> None:
        """Make the item that is chosen in the kit what is kept of it."""
        item = self._workspace.item
        is_kept = item is not None and self._things.get(item.kept_as) is not None
        whole = self._things.whole(item.kept_as) if item is not None and is_kept else None
        if item is not None and whole is not None:
            kept = replace(
                whole, id=item.id, quantity=item.quantity, use=item.use, seat=item.seat, fit=item.fit,
                group=item.group, kept_as=item.kept_as,
            )  # fmt: skip
            self._workspace.attempt(
                tr("Take ‘{name}’ as it is kept", name=item.name),
                lambda: change_item(self._workspace.project, kept),
            )

    def _ask_remove(self) -> None:
        thing = self.chosen
        if thing is None:
            return
        text = tr("‘{name}’ goes off this list. Projects that have it keep it.", name=thing.what.name)
        if ask.which(self, tr("Remove an item"), text, (tr("Remove it"), tr("Cancel"))) == 0:
            self._things.remove(thing.key)


def alike_words(share: float, which: int) -> str:
    """Return how alike an item is, and like which of a photo's, counted from 1; 0 where there is one only."""
    if which:
        return tr("{share:.0f} % like no. {which}", share=100 * share, which=which)
    return tr("{share:.0f} % alike", share=100 * share)


def is_changed(item: Item, kept: Item) -> bool:
    """Whether an item is not what is kept of it: its shape, heights or mass; names and wishes may differ."""
    return (item.outline, item.zones, item.mass_g) != (kept.outline, kept.zones, kept.mass_g)


def size_of(item: Item, workspace: Workspace) -> str:
    """Return length, width and thickness of an item."""
    left, top, right, low = polygon_of(item.outline).bounds
    sides = sorted((right - left, low - top), reverse=True)
    return " × ".join(workspace.length(side, digits=0) for side in (*sides, item.thickness_mm))


def differs_words(item: Item, thing: Kept[Item] | None, workspace: Workspace) -> str:
    """Return how an item differs from what is kept of it."""
    if thing is None:
        return ""
    now, kept = size_of(item, workspace), size_of(thing.what, workspace)
    if now == kept:
        return tr("‘{name}’ differs from My items in outline, heights or mass.", name=item.name)
    return tr("‘{name}’ measures {now} here, {kept} in My items. Which is right?", name=item.name, now=now, kept=kept)
