"""The chapters of the help: as they were written, and those made from the tables of the program: checks and keys.

A heading of the page bears its key, `## Sinking {#sink}`; those of stages are the stages' own. What stands there of a
check is written under its code, so that title and reason come from the check itself.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import NamedTuple

from cozy_burrow.app.frame.command import Command, key_text
from cozy_burrow.app.help.pictures import PICTURES, SCHEME
from cozy_burrow.assets.read import asset
from cozy_burrow.core.findings.telling import all_kinds
from cozy_burrow.core.model.stages import ABOUT, STAGES
from cozy_burrow.core.tongue import language, tr

CHECKS, KEYS, FIRST = "checks", "keys", "way"
STAGE = "stage:"  # a link that goes to a stage of the window
_AFTER_CHECKS = "papers"  # the chapter that checks stand before
_HEADING = re.compile(r"^#{1,2} (?P<title>.+?) \{#(?P<key>[\w-]+)\}$", re.MULTILINE)
_CODE = re.compile(r"^### (?P<code>[A-Z_]+)$", re.MULTILINE)
_PICTURE = re.compile(r"!\[[^\]]*\]\([^)]*\)")
_LINK = re.compile(r"\[([^\]]*)\]\([^)]*\)")
_NEW_PARAGRAPH = re.compile(r"\n\s*\n|\n(?=\s*(?:- |\d+\. |\|))")


class Chapter(NamedTuple):
    """A chapter. text: as Markdown, its heading with it."""

    key: str
    title: str
    text: str


def help_file(code: str, *, kind: str = "") -> Path:
    """Return the page in a language, or what is written of checks in it; in English where there is none in it."""
    own = asset("help", f"{kind}{code}.md")
    return own if own.exists() else asset("help", f"{kind}en.md")


def chapters(commands: Sequence[Command]) -> tuple[Chapter, ...]:
    """Return all chapters in their order, in the language that is spoken."""
    found = []
    for chapter in _written(help_file(language()).read_text(encoding="utf-8")):
        if chapter.key == _AFTER_CHECKS:
            found.append(_checks())
        found.append(chapter)
    return (*found, _keys(commands))


def sayings(code: str) -> dict[str, str]:
    """Return what is written of every check in a language, by its code; what stands before the first under ""."""
    text = help_file(code, kind="checks.").read_text(encoding="utf-8")
    intro, *rest = _CODE.split(text)
    return {"": intro.strip()} | {one: said.strip() for one, said in zip(rest[::2], rest[1::2])}


def places_in(chapter: Chapter, words: Sequence[str]) -> int:
    """Return in how many paragraphs, entries and rows of a chapter all words occur; 0 for no words."""
    if not words:
        return 0
    parts = (plain(part).casefold() for part in _NEW_PARAGRAPH.split(chapter.text))
    return sum(all(word.casefold() in part for word in words) for part in parts)


def plain(text: str) -> str:
    """Return Markdown as it is read: without its signs, pictures and where links lead."""
    text = _LINK.sub(r"\1", _PICTURE.sub("", text))
    return " ".join(re.sub(r"[*`#|\\]", " ", text).split())


def _written(text: str) -> Iterator[Chapter]:
    heads = list(_HEADING.finditer(text))
    for head, after in zip(heads, [*heads[1:], None]):
        body = text[head.end() : after.start() if after else len(text)].strip()
        key, title = head["key"], head["title"]
        if key in ABOUT:
            body += "\n\n" + _way_to(key)
        yield Chapter(key, title, f"## {title}\n\n{body}\n")


def _way_to(stage: str) -> str:
    name = next(ABOUT[one].title for one in STAGES if one == stage)
    return f"[{tr('Go to {stage}', stage=name)}]({STAGE}{stage})"


def _checks() -> Chapter:
    """Every kind of check, by the stage where it is fixed."""
    said, parts = sayings(language()), []
    for stage in STAGES:
        kinds = [one for one in all_kinds() if one.stage == stage]
        if kinds:
            parts.append(f"### {ABOUT[stage].title}\n\n{_way_to(stage)}")
        for one in kinds:
            picture = f"![{one.title}]({SCHEME}{one.code})\n\n" if one.code in PICTURES else ""
            parts.append(f"#### {one.title}\n\n{picture}{one.why} {said.get(one.code, '')}")
    title = tr("The checks, one by one")
    return Chapter(CHECKS, title, f"## {title}\n\n" + "\n\n".join((said[""], *parts)) + "\n")


def _keys(commands: Sequence[Command]) -> Chapter:
    by_name: dict[str, list[str]] = {}
    for command in commands:
        if command.keys:
            where = tr(" (on the plan)") if command.scope == "plan" else ""
            by_name.setdefault(command.chapter, []).append(f"| {key_text(command)} | {command.text}{where} |")
    keys = "\n\n".join(
        tr("### {name}\n\n| Key | Does |\n|---|---|\n", name=name) + "\n".join(rows) for name, rows in by_name.items()
    )
    return Chapter(KEYS, tr("Keys"), f"## {tr('Keys')}\n\n{keys}\n")


def chapter_of(topic: str) -> str:
    """Return the chapter that tells of a topic: a chapter's key, or the code of a check."""
    return CHECKS if any(one.code == topic for one in all_kinds()) else topic
