"""A monkey at the real window: thousands of actions by chance, repeatable by seed; what fails is made short.

Each run has a process of its own, so that a crash of Qt is seen too. A run ends with undoing to the start, which must
equal it, and with saving and opening, which must give the same project.
"""

from __future__ import annotations

import argparse
import json
import os
import random
import subprocess
import sys
import tempfile
import time
import traceback
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
MOST_MB = 400.0
LONGEST_STALL_S = 1.0
WIDEST_PX = 2_500  # no hand of the monkey's makes it wider
THREADS_END_S = 120.0  # of processor: the program itself cuts threads off after a second; here: does each ever end?
LOOKS, LOOK_MS = 2_400, 1_000  # and so often it is looked, on a machine that hardly comes to this process
Action = tuple[str, int]


def play(actions: list[Action] | None, *, seed: int, count: int, heavy: bool, trail: Path | None) -> dict[str, Any]:
    """Run the window through actions in this process, and return what was seen.

    actions: what to do; None: `count` actions by chance from the seed. trail: file that each action is noted in before
    it is done, for the case that the process does not live to tell.
    """
    from tools.monkey_watch import Watch, resident_mb

    from cozy_burrow.app.desk.memory import keep_heap_small

    keep_heap_small()
    watch = Watch()
    watch.install()
    from PySide6.QtCore import QThreadPool
    from PySide6.QtWidgets import QApplication
    from tools.monkey_hands import Hands, fill

    from cozy_burrow.app.desk.collecting import collect_here
    from cozy_burrow.app.desk.settings import Settings
    from cozy_burrow.app.desk.tasks import take_short_turns
    from cozy_burrow.app.look.theme.theme import apply_theme, load_fonts, load_theme
    from cozy_burrow.app.shell.window import Window
    from cozy_burrow.core.findings.report import findings_of
    from cozy_burrow.core.model.memo import forget_all
    from cozy_burrow.core.model.records import Project
    from cozy_burrow.demo.shipped import demo_project
    from cozy_burrow.storage.project_file import from_bytes, to_bytes

    app = QApplication.instance() or QApplication(["monkey"])
    assert isinstance(app, QApplication)
    app.setStyle("Fusion")
    collect_here(app)
    take_short_turns()
    load_fonts()
    apply_theme(app, load_theme("light"), scale=1.0)
    done: list[Action] = []
    chance = random.Random(seed)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        fill(folder)
        window = Window(
            demo_project() if seed % 5 else Project(), Settings(folder / "settings"), theme="light", scale=1.0
        )
        window.resize(1280, 800)
        window.show()
        app.processEvents()
        hands = Hands(window, folder, watch.beat, heavy=heavy)
        most_mb, grown = 0.0, []
        stream = trail.open("w", encoding="utf-8") if trail is not None else None
        with hands.no_dialogs():
            for number in range(len(actions) if actions is not None else count):
                action = actions[number] if actions is not None else hands.choose(chance)
                watch.at = number
                if stream is not None:
                    stream.write(json.dumps(action) + "\n")
                    stream.flush()
                done.append(action)
                with watch.acting(f"{number} {action[0]}"):
                    try:
                        hands.act(*action)
                    except Exception as error:  # raised in the monkey's own hand: a method that was called straight
                        watch._caught(type(error), error, error.__traceback__)
                if number % 50 == 49:
                    grown.append(resident_mb())
                    most_mb = max(most_mb, grown[-1])
                    if window.width() > WIDEST_PX:
                        watch.say("wide", f"the window is {window.width()} px wide")
            watch.at = len(done)
            window.arranging.stop()
            QThreadPool.globalInstance().waitForDone(20_000)
            app.processEvents()
            _judge(watch, window, findings_of, forget_all, from_bytes, to_bytes)
            window.workspace.saved = window.workspace.project
            with watch.acting("closing"):
                window.close()
            if not _threads_end():
                watch.say("threads", "threads are still at work long after the window closed")
            app.clipboard().clear()  # as the program does where its loop ends; there is none here
        if stream is not None:
            stream.close()
    watch.stop()
    return {
        "seed": seed,
        "actions": done,
        "troubles": [vars(one) for one in watch.troubles],
        "stalls": [vars(one) for one in sorted(watch.stalls, key=lambda one: -one.seconds)],
        "most_mb": most_mb,
        "mb": [round(one) for one in grown],
    }


def _threads_end() -> bool:
    """Wait until no thread is at work; False where they have worked for too long. Nobody looks at a window by now."""
    from PySide6.QtCore import QThreadPool

    end = time.process_time() + THREADS_END_S
    for _ in range(LOOKS):
        if QThreadPool.globalInstance().waitForDone(LOOK_MS):
            return True
        if time.process_time() > end:
            break
    return False


def _judge(watch: Any, window: Any, findings_of: Any, forget_all: Any, from_bytes: Any, to_bytes: Any) -> None:
    """Is what is shown what a fresh look says, does it survive a save, and does undo lead to the start?"""
    workspace = window.workspace
    shown = workspace.findings
    forget_all()
    if findings_of(workspace.project) != shown:
        watch.say("stale", "the checks shown are not those of a fresh look")
    try:
        if from_bytes(to_bytes(workspace.project), where="saved") != workspace.project:
            watch.say("saved", "what was saved opens as something else")
    except Exception as error:
        watch.say("saved", f"what was saved cannot be opened: {error}")
    start = workspace.history.steps[0].project
    while workspace.history.undo_label is not None:
        workspace.undo()
    if workspace.project != start:
        watch.say("undo", "undo does not lead to the start")


def run_apart(
    actions: list[Action] | None, *, seed: int, count: int, heavy: bool, seconds: float = 3_000
) -> dict[str, Any]:
    """Play in a process of its own; a process that dies is a trouble like another."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        (folder / "wanted.json").write_text(
            json.dumps({"actions": actions, "seed": seed, "count": count, "heavy": heavy})
        )
        homes = {f"XDG_{kind}_HOME": f"{name}/{kind.lower()}" for kind in ("CONFIG", "STATE", "CACHE")}
        env = os.environ | homes
        env.setdefault("QT_QPA_PLATFORM", "offscreen")
        words = [sys.executable, "-X", "faulthandler", __file__, "--child", name]
        try:
            child = subprocess.run(
                words, cwd=ROOT, env=env, capture_output=True, text=True, timeout=seconds, check=False
            )
            said, status = child.stderr, child.returncode
        except subprocess.TimeoutExpired as error:
            said, status = f"hangs: {error}", -1
        try:
            seen: dict[str, Any] = json.loads((folder / "seen.json").read_text())
        except (OSError, ValueError):
            trail = folder / "trail.jsonl"
            lines = trail.read_text().splitlines() if trail.exists() else []
            done = [tuple(json.loads(line)) for line in lines]
            trouble = {"kind": "died", "line": f"status {status}", "text": said[:6000] + "\n…\n" + said[-6000:]}
            seen = {"seed": seed, "actions": done, "troubles": [trouble | {"after": len(done) - 1}], "stalls": []}
            seen |= {"most_mb": 0.0, "mb": []}
        else:
            if status:  # all was well until the process ended
                trouble = {"kind": "died", "line": f"status {status} at its end", "text": said[-6000:]}
                seen["troubles"].append(trouble | {"after": len(seen["actions"]) - 1})
        return seen


def shortest(seen: dict[str, Any], trouble: dict[str, Any], *, heavy: bool, tries: int) -> list[Action]:
    """Return fewer actions that lead to the same trouble: halves, quarters, … are left out as long as it comes."""

    def fails(actions: list[Action]) -> bool:
        again = run_apart(actions, seed=seen["seed"], count=0, heavy=heavy)
        return any((one["kind"], one["line"]) == (trouble["kind"], trouble["line"]) for one in again["troubles"])

    kept: list[Action] = [tuple(one) for one in seen["actions"][: trouble["after"] + 1]]
    parts = 2
    while tries > 0 and len(kept) > 1:
        size = max(1, len(kept) // parts)
        for start in range(0, len(kept), size):
            shorter = kept[:start] + kept[start + size :]
            tries -= 1
            if shorter and fails(shorter):
                kept, parts = shorter, max(2, parts - 1)
                break
            if tries <= 0:
                break
        else:
            if size == 1:
                break
            parts = min(len(kept), parts * 2)
    return kept


def main() -> int:
    """Run the monkey for some runs or minutes, and tell what it met."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seed", type=int, default=None, help="of the first run; by chance if left out")
    parser.add_argument("--actions", type=int, default=600, help="in a run")
    parser.add_argument("--minutes", type=float, default=2.0, help="no run is begun after this")
    parser.add_argument("--side-by-side", type=int, default=2)
    parser.add_argument("--light", action="store_true", help="without photos")
    parser.add_argument("--tries", type=int, default=40, help="to make what failed shorter; 0: as it came")
    parser.add_argument("--replay", help="JSON of [[name, number], …] to play, or a file that holds it")
    parser.add_argument("--child", help=argparse.SUPPRESS)
    wanted = parser.parse_args()
    if wanted.child:
        return child(Path(wanted.child))
    seed = wanted.seed if wanted.seed is not None else random.SystemRandom().randrange(1_000_000)
    heavy = not wanted.light
    if wanted.replay:
        text = wanted.replay if wanted.replay.lstrip().startswith("[") else Path(wanted.replay).read_text()
        return report([run_apart(json.loads(text), seed=seed, count=0, heavy=heavy)], heavy=heavy, tries=0)
    end = time.monotonic() + wanted.minutes * 60
    print(f"seeds from {seed} on, {wanted.actions} actions a run", flush=True)

    def runs(first: int) -> list[dict[str, Any]]:
        found, number = [], first
        while time.monotonic() < end:
            found.append(run_apart(None, seed=number, count=wanted.actions, heavy=heavy))
            one = found[-1]
            print(
                f"seed {number}: {len(one['actions'])} actions, {len(one['troubles'])} troubles, "
                f"{len(one['stalls'])} stalls{_worst(one['stalls'])}, {one['most_mb']:.0f} MB",
                flush=True,
            )
            for trouble in one["troubles"]:
                print(f"    {trouble['kind']}: {trouble['line']}", flush=True)
            for stall in one["stalls"]:
                if _is_own(stall):
                    print(f"    stall{_worst([stall])}\n{stall['where']}", flush=True)
            number += wanted.side_by_side
        return found

    with ThreadPoolExecutor(wanted.side_by_side) as pool:
        found = [one for some in pool.map(runs, range(seed, seed + wanted.side_by_side)) for one in some]
    return report(found, heavy=heavy, tries=wanted.tries)


def _is_own(stall: dict[str, Any]) -> bool:
    """Return whether a stall is too long without what the machine kept the window waiting."""
    return bool(stall["seconds"] - stall["kept_s"] > LONGEST_STALL_S)


def _worst(stalls: list[dict[str, Any]]) -> str:
    """Return the longest stall in a few words."""
    if not stalls:
        return ""
    one = max(stalls, key=lambda stall: stall["seconds"])
    took = f"longest {one['seconds']:.1f} s, {one['at_work_s']:.1f} s of it at work"
    kept = f"{one['kept_s']:.1f} s kept waiting by the machine"
    return f" ({took}, {one['whole_s']:.1f} s by all threads, {kept}, at {one['action']})"


def child(folder: Path) -> int:
    """Play what a file says, and leave what was seen beside it."""
    wanted = json.loads((folder / "wanted.json").read_text())
    try:
        seen = play(
            wanted["actions"],
            seed=wanted["seed"],
            count=wanted["count"],
            heavy=wanted["heavy"],
            trail=folder / "trail.jsonl",
        )
    except Exception:  # the hooks that would print it are taken over
        traceback.print_exc()
        return 1
    (folder / "seen.json").write_text(json.dumps(seen))
    return 0


def report(found: list[dict[str, Any]], *, heavy: bool, tries: int) -> int:
    """Print what was met, each trouble once with a short sequence that repeats it."""
    actions = sum(len(one["actions"]) for one in found)
    stalls = sorted((stall for one in found for stall in one["stalls"]), key=lambda one: -one["seconds"])
    most = max((one["most_mb"] for one in found), default=0.0)
    print(f"\n{len(found)} runs, {actions} actions; most memory {most:.0f} MB (promised {MOST_MB:.0f})")
    for stall in stalls[:8]:
        print(f"\nstall{_worst([stall])}\n{stall['where']}")
    told: set[tuple[str, str]] = set()
    for one in found:
        for trouble in one["troubles"]:
            if (trouble["kind"], trouble["line"]) in told:
                continue
            told.add((trouble["kind"], trouble["line"]))
            print(f"\nseed {one['seed']}, action {trouble['after']}: {trouble['kind']}: {trouble['line']}")
            print(trouble["text"])
            if tries:
                print("repeat with --seed", one["seed"], "--replay", end=" ")
                print(repr(json.dumps(shortest(one, trouble, heavy=heavy, tries=tries))), flush=True)
    own = [stall for stall in stalls if _is_own(stall)]
    told_of = f"{len(told)} troubles, {len(own)} stalls over {LONGEST_STALL_S:g} s"
    if len(own) < len(stalls):
        told_of += f" ({len(stalls) - len(own)} more were the machine's: it gave the window no processor)"
    print(f"\n{told_of}" + (f", {most:.0f} MB" if most else ""))
    return 1 if told or own or most > MOST_MB else 0


if __name__ == "__main__":
    sys.exit(main())
