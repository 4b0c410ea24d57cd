"""A small file of settings, `name = value` in sections: read once, written beside whoever changes something.

The interface's own settings class makes its thread wait until the disk has the file, a second and more where that is
busy, and no other thread may go on meanwhile. Settings are not worth that: here a thread writes them a little later,
to another file that then takes the place of the old one.
"""

from __future__ import annotations

import _thread
import configparser
import contextlib
import json
import re
import threading
import time
from pathlib import Path
from typing import ClassVar
from weakref import WeakValueDictionary

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.storage.alone import alone
from cozy_burrow.storage.whole_file import write_whole

_WRITTEN_AFTER_S = 0.3
_PLAIN = re.compile(r"[\w./:%~+-]+(?: [\w./:%~+-]+)*", re.ASCII)


class Ini:
    """The values of one file by `section/name`. What another program writes there meanwhile stays."""

    _open: ClassVar[WeakValueDictionary[Path, Ini]] = WeakValueDictionary()

    def __init__(self, path: Path) -> None:
        self._path = path
        # A pipe in its place would be waited for: then nothing is read and nothing kept.
        self._is_usable = path.is_file() or not path.exists()
        self._had_folder = path.parent.is_dir()
        self._values = self._read()
        self._changed: dict[str, str] = {}
        self._turn = threading.Lock()  # held for a moment only: the window's thread waits for it
        self._disk = threading.Lock()  # held while the file is read and written
        self._is_due = False

    @classmethod
    def at(cls, path: Path) -> Ini:
        """Return the one of a path that this program has; two parts of it must not miss each other's changes."""
        found = cls._open.get(path)
        if found is None:
            found = cls._open[path] = cls(path)
        return found

    def get(self, key: str) -> str | list[str] | None:
        """Return a value, None where there is none."""
        text = self._values.get(key)
        return None if text is None else decoded(text)

    def set(self, key: str, value: str | list[str]) -> None:
        """Keep a value; it is written soon."""
        text = encoded(value)
        with self._turn:
            if not self._is_usable or self._values.get(key) == text:
                return
            self._values[key] = self._changed[key] = text
            if not self._is_due:
                self._is_due = True
                # Not by `threading`, which waits until the other thread runs: a second and more on a busy machine.
                _thread.start_new_thread(self._write_soon, ())

    def _write_soon(self) -> None:
        time.sleep(_WRITTEN_AFTER_S)
        self.write()

    def write(self) -> None:
        """Write what was changed now. Where that cannot be it is dropped: settings are no work of anybody's."""
        with self._disk:
            with self._turn:
                changed, self._changed, self._is_due = self._changed, {}, False
            if not changed or (self._had_folder and not self._path.parent.is_dir()):
                return  # the folder was taken away: nobody wants it back
            with alone(self._path), contextlib.suppress(UnusableInput):
                there = self._read() | changed
                with self._turn:
                    self._values = there | self._changed
                write_whole(self._path, _told(there), flushed=False)

    def _read(self) -> dict[str, str]:
        reader = configparser.ConfigParser(interpolation=None, strict=False)
        with contextlib.suppress(OSError, UnicodeDecodeError, configparser.Error):
            if self._is_usable and self._path.is_file():
                reader.read_string(self._path.read_text(encoding="utf-8", errors="surrogateescape"))
        return {f"{section}/{name}": reader[section][name] for section in reader.sections() for name in reader[section]}


def _told(values: dict[str, str]) -> bytes:
    sections: dict[str, list[str]] = {}
    for key, text in sorted(values.items()):
        section, _, name = key.partition("/")
        sections.setdefault(section, []).append(f"{name} = {text}")
    told = "\n".join(f"[{section}]\n" + "\n".join(lines) + "\n" for section, lines in sections.items())
    return told.encode("utf-8", errors="surrogateescape")


def encoded(value: str | list[str]) -> str:
    """Return a value as it stands in the file: plain where it can be, else as JSON."""
    if isinstance(value, str) and (not value or _PLAIN.fullmatch(value)):
        return value
    return json.dumps(value)


def decoded(text: str) -> str | list[str]:
    """Return the value that a text in the file stands for; what earlier versions wrote is understood too."""
    if text.startswith(("[", '"')):
        with contextlib.suppress(ValueError):
            value = json.loads(text)
            if isinstance(value, str):
                return value
            if isinstance(value, list):
                return [str(one) for one in value]
    if text.startswith("@Invalid"):
        return []
    parts = re.findall(r'\s*("(?:[^"\\]|\\.)*"|[^,]*?)\s*(?:,|$)', text)
    if len(parts) > 2 or '"' in text or "\\" in text:  # a list, or a text that had to be marked
        found = [_unmarked(part) for part in (parts[:-1] if parts and not parts[-1] else parts)]
        return found[0] if len(found) == 1 else found
    return text


def _unmarked(part: str) -> str:
    """Return a text of an earlier version: without its quotation marks, `\\x41` as the letter that it stands for."""
    bare = part[1:-1] if len(part) > 1 and part[0] == part[-1] == '"' else part
    return re.sub(r"\\x([0-9a-fA-F]{1,4})|\\(.)", lambda found: chr(int(found[1], 16)) if found[1] else found[2], bare)
