"""What the Grip panel does to the document: another kind of pull, what holds a thing anyway, a trench across some."""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.ground.gripping import Given
from cozy_burrow.core.ground.sits import proud_in
from cozy_burrow.core.model.edits import add_pulls, change_item, item_of, placement_of, remove_pulls
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.pull_kinds import PULL_KINDS
from cozy_burrow.core.model.records import HeldBy
from cozy_burrow.core.pulls.by_kind import pull_of_kind
from cozy_burrow.core.pulls.trench import trench_for
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.grip_words import given_text

HELD_NAMES: dict[str, str] = {"hook": tr("it has a hook"), "hollow": tr("its handle is hollow")}
NOT_HELD = tr("not held")


def why_none(workspace: Workspace, keys: tuple[str, ...]) -> str:
    """Return why nothing was given: what is meant can be held as it is."""
    ground = workspace.ground
    if not ground.pockets:
        return tr("Nothing is laid in yet")
    if len(keys) != 1:
        return tr("All of them can be held without a pull")
    if keys[0] not in ground.pockets:  # it was worked out aside; another insert is shown by now, or it is gone
        return tr("What was chosen lies no longer in the insert that is shown")
    item, name = ground.pockets[keys[0]].item, placement_name(workspace.project, keys[0])
    if item.held_by is not None:
        return tr(
            "‘{name}’ needs no pull: {held_names}. Other kind… undoes that",
            name=name,
            held_names=HELD_NAMES[item.held_by],
        )
    proud = workspace.length(proud_in(ground, keys[0]))
    return tr("‘{name}’ needs no pull: it stands out {proud}, enough to be held", name=name, proud=proud)


def summary(given: tuple[Given, ...]) -> str:
    """Return what was given to how many things."""
    counts: dict[str, int] = {}
    for one in given:
        counts[given_text(one)] = counts.get(given_text(one), 0) + 1
    return "; ".join(f"{count} {text}" for text, count in counts.items())


def take_kind(workspace: Workspace, kind: str | None) -> None:
    """Give the chosen thing a pull of a kind instead of its own, or note what it is held by."""
    if kind in HELD_NAMES or kind == NOT_HELD:
        _set_held(workspace, kind)
        return
    if kind is None or len(workspace.selection) != 1:
        return
    key, ground = workspace.selection[0], workspace.ground
    most = max(1, len(ground.layers) - ground.floor_layers)
    pull = pull_of_kind(ground.pockets[key], kind, ground.layers, most, ground.rules)
    if pull is None:
        name = placement_name(workspace.project, key)
        workspace.refused.emit(
            tr(
                "A {called} does nothing for ‘{name}’: take another kind.",
                called=PULL_KINDS[kind].called,
                name=name,
            )
        )
        return
    own = [one.id for one in workspace.insert.pulls if one.serves == (key,)]
    project = remove_pulls(workspace.project, workspace.insert_id, own)
    workspace.do(
        tr("Give it a {called}", called=PULL_KINDS[kind].called),
        add_pulls(project, workspace.insert_id, [replace(pull, serves=(key,))]),
    )


def _set_held(workspace: Workspace, held: object) -> None:
    """Note what the chosen thing is held by: it then needs no pull, and those that it has alone go."""
    key = workspace.selection[0]
    item = item_of(workspace.project, key.rpartition("#")[0])
    own = [one.id for one in workspace.insert.pulls if one.serves == (key,)]
    bare = remove_pulls(workspace.project, workspace.insert_id, own)
    found: HeldBy | None = {"hook": "hook", "hollow": "hollow"}.get(str(held))  # type: ignore[assignment]
    if found is None:
        label = tr("‘{name}’ needs a pull", name=item.name)
        workspace.do(label, change_item(workspace.project, replace(item, held_by=None)))
        return
    workspace.do(tr("‘{name}’ needs no pull", name=item.name), change_item(bare, replace(item, held_by=found)))


def lay_trench(workspace: Workspace) -> None:
    """Lay one trench across the selection; the pulls that the things had for themselves go."""
    if len(workspace.selection) < 2:
        return
    things = [(workspace.ground.pockets[key], placement_of(workspace.insert, key)) for key in workspace.selection]
    own = [
        pull.id for pull in workspace.insert.pulls if len(pull.serves) == 1 and pull.serves[0] in workspace.selection
    ]
    project = remove_pulls(workspace.project, workspace.insert_id, own)
    pull = trench_for(things, id_="", rules=workspace.project.rules)
    workspace.do(tr("Lay a trench"), add_pulls(project, workspace.insert_id, [pull]))
