"""Settings, each declared once, kept in an ini file."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import Any

from platformdirs import user_config_path, user_state_path

from cozy_burrow.storage.ini import Ini

APP = "cozy-burrow"


@dataclass(frozen=True)
class Declared:
    """One setting: key, kind, what holds at first, and a sentence on what it is for."""

    key: str
    kind: type
    first: Any
    sentence: str


THEME = Declared("look/theme", str, "", "Light or dark; empty: as the desktop is.")
LAST_THEME = Declared("look/last_theme", str, "light", "What was shown last, so that the first picture is like it.")
PLAN_LOOK = Declared("look/plan", str, "picture", "The plan as a picture or as a drawing.")
PLAN_NAMES = Declared("look/names", str, "yes", "Whether the items' names stand on the plan.")
LANGUAGE = Declared("look/language", str, "", "Language of the window; empty: the system's.")
TYPE_SCALE = Declared("look/type_scale", float, 1.0, "Size of all text and controls, 1 to 2.")
RECENT = Declared("project/recent", list, [], "The projects opened last, newest first.")
HINTS = Declared("look/hints", list, [], "The hints for a first use that were followed.")
PAPER = Declared("mat/paper", str, "a4", "Paper that the reference mat is printed on.")
SCALE_ACROSS = Declared("mat/scale_across", str, "", "Measured length of the mat's printed scale at the top.")
SCALE_DOWN = Declared("mat/scale_down", str, "", "Measured length of the mat's printed scale at the left.")
PROJECTS_FOLDER = Declared("find/folder", str, "", "Where projects are looked for; empty: where the open one lies.")
MOST_RECENT = 8


class Settings:
    """Reads and writes the declared settings."""

    def __init__(self, folder: Path | None = None) -> None:
        self.folder = folder or user_config_path(APP)
        self.state_folder = folder or user_state_path(APP)
        self._file = Ini.at((self.folder / "settings.ini").absolute())

    def get(self, setting: Declared) -> Any:
        """Return the value of a setting in its own kind."""
        value = self._file.get(setting.key)
        if value is None:
            return list(setting.first) if setting.kind is list else setting.first
        if setting.kind is list:
            return value if isinstance(value, list) else [value] if value else []
        try:
            return setting.kind(value)
        except (TypeError, ValueError):
            return setting.first

    def text(self, setting: Declared) -> str:
        """Return the value of a setting that is a text."""
        return str(self.get(setting))

    def set(self, setting: Declared, value: Any) -> None:
        """Keep a value."""
        self._file.set(setting.key, [str(one) for one in value] if setting.kind is list else str(value))

    def write(self) -> None:
        """Write what was set now, for whoever reads the file by itself."""
        self._file.write()

    def recent(self) -> list[Path]:
        """Return the projects opened last that are still there, newest first."""
        return [path for text in self.get(RECENT) if (path := Path(text)).exists()]

    def add_recent(self, path: Path) -> None:
        """Note that a project was opened or saved."""
        text = str(path.resolve())
        kept = [one for one in self.get(RECENT) if one != text]
        self.set(RECENT, [text, *kept][:MOST_RECENT])
