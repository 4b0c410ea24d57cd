"""Texts and their catalogues: find every text of the program, bring the languages up to date, compile them.

    python tools/words.py           look: exit 1 where a text passes by the catalogues, or one lacks it
    python tools/words.py --write   write the template, update every language, compile

`assets/locale/texts.pot` lists all texts; a translator edits `assets/locale/LANGUAGE/LC_MESSAGES/cozy_burrow.po`.
"""

from __future__ import annotations

import argparse
import ast
import io
import re
import sys
from collections.abc import Iterator
from pathlib import Path
from string import Formatter

from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

SOURCES = Path(__file__).resolve().parent.parent / "src" / "cozy_burrow"
_REFUSALS = {"UnusableInput", "Gone"}
LOCALE = SOURCES / "assets" / "locale"
TEMPLATE = LOCALE / "texts.pot"
# Which arguments of a function are texts, and whether they are two forms of one.
CALLS: dict[str, tuple[tuple[int, ...], bool]] = {
    "tr": ((0,), False),
    "marked": ((0,), False),
    "told": ((0, 2), False),
    "trn": ((0, 1), True),
    "forms": ((0, 1), True),
}


def texts_in(path: Path) -> Iterator[tuple[str | tuple[str, str], int]]:
    """Yield the texts of a module with their lines; a pair where a text has a form for one and one for many."""
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if not (isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in CALLS):
            continue
        numbers, both = CALLS[node.func.id]
        found = [node.args[number] for number in numbers if number < len(node.args)]
        said = [one.value for one in found if isinstance(one, ast.Constant) and isinstance(one.value, str)]
        if both and len(said) == 2:
            yield (said[0], said[1]), node.lineno
        elif not both:
            for text in said:
                yield text, node.lineno


def template() -> Catalog:
    """Return all texts of the program, each with the modules that say it."""
    found = Catalog(project="Cozy Burrow", version="", charset="utf-8", fuzzy=False)
    for path in sorted(SOURCES.rglob("*.py")):
        where = path.relative_to(SOURCES).as_posix()
        for text, _ in sorted(texts_in(path), key=lambda one: one[1]):
            if text:
                found.add(text, locations=[(where, None)])
    return found


def languages() -> list[Path]:
    """Return the catalogues that translators edit."""
    return sorted(LOCALE.glob("*/LC_MESSAGES/cozy_burrow.po"))


def read(path: Path) -> Catalog:
    """Return a catalogue."""
    with path.open("rb") as stream:
        return read_po(stream, locale=path.parent.parent.name)


def compiled(catalogue: Catalog) -> bytes:
    """Return a catalogue as it is read when the program runs."""
    out = io.BytesIO()
    write_mo(out, catalogue)
    return out.getvalue()


def wrong_with(path: Path, texts: Catalog) -> list[str]:
    """Return what a language lacks: texts, fields of texts, or its compiled form."""
    catalogue = read(path)
    said: list[str] = []
    for message in texts:
        if not message.id:
            continue
        mine = catalogue.get(message.id)
        forms = [] if mine is None else [mine.string] if isinstance(mine.string, str) else list(mine.string)
        if not forms or not all(forms) or (mine is not None and mine.fuzzy):
            said.append(f"not translated: {message.id!r}")
        elif any(fields_of(form) - fields_of(message.id) for form in forms):
            said.append(f"names a field that is not given: {message.id!r}")
    gone = [message.id for message in catalogue if message.id and texts.get(message.id) is None]
    said += [f"no longer said: {text!r}" for text in gone]
    ready = path.with_suffix(".mo")
    if not ready.exists() or ready.read_bytes() != compiled(catalogue):
        said.append("not compiled: make words")
    return said


def fields_of(text: str | tuple[str, ...] | list[str]) -> set[str]:
    """Return the names of what is filled into a text, or into any form of it."""
    texts = [text] if isinstance(text, str) else text
    return {name for one in texts for _, name, _, _ in Formatter().parse(one) if name is not None}


def plain_refusals(source: str) -> list[int]:
    """Return the lines of a module where a refusal is said in words that pass by the catalogue."""
    found = []
    for node in ast.walk(ast.parse(source)):
        if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in _REFUSALS:
            said = [*node.args[:1], *(word.value for word in node.keywords if word.arg == "remedy")]
            found += [one.lineno for one in said if _is_sentence(one)]
    return found


def _is_sentence(node: ast.expr) -> bool:
    parts = node.values if isinstance(node, ast.JoinedStr) else [node]
    texts = [part.value for part in parts if isinstance(part, ast.Constant) and isinstance(part.value, str)]
    return any(len(re.findall(r"[a-z]{2,}", text)) > 1 for text in texts)


def write() -> None:
    """Write the template, update the languages and compile them."""
    texts = template()
    with TEMPLATE.open("wb") as stream:
        write_po(stream, texts, width=110, omit_header=True, sort_output=True)
    for path in languages():
        catalogue = read(path)
        catalogue.update(texts, no_fuzzy_matching=True, update_creation_date=False)
        catalogue.header_comment = (
            f"# Texts of Cozy Burrow, {catalogue.locale_identifier}. See docs/adding.md, A language."
        )
        catalogue.last_translator = catalogue.language_team = catalogue.msgid_bugs_address = ""
        catalogue.obsolete.clear()
        with path.open("wb") as stream:
            write_po(stream, catalogue, width=110, sort_output=True, omit_header=False)
        path.with_suffix(".mo").write_bytes(compiled(read(path)))


def main() -> int:
    """Look, or write; return the exit status."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--write", action="store_true")
    if parser.parse_args().write:
        write()
    texts = template()
    status = 0
    for path in languages():
        for line in wrong_with(path, texts):
            print(f"{path.parent.parent.name}: {line}")
            status = 1
    for path in sorted(SOURCES.rglob("*.py")):
        for line in plain_refusals(path.read_text()):
            print(f"{path.relative_to(SOURCES)}:{line}: said past the catalogue")
            status = 1
    return status


if __name__ == "__main__":
    sys.exit(main())
