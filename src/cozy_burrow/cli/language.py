"""Which language is spoken: chosen before anything is said, since tables of texts are made when they are imported."""

from __future__ import annotations

import configparser
import contextlib
import os
from collections.abc import Mapping, Sequence
from pathlib import Path

from platformdirs import user_config_path

from cozy_burrow.cli.verbs import VERBS
from cozy_burrow.core.tongue import LANGUAGE, languages

APP = "cozy-burrow"
_SYSTEM = ("LC_ALL", "LC_MESSAGES", "LANG")


def choose(arguments: Sequence[str]) -> None:
    """Say in the environment which language is spoken, unless that was said already.

    The window speaks the language of its settings, else the system's. What verbs print is read by scripts: they speak
    English unless the environment asks for another.
    """
    if LANGUAGE in os.environ or (arguments and arguments[0] in VERBS):
        return
    os.environ[LANGUAGE] = chosen(user_config_path(APP) / "settings.ini", os.environ)


def chosen(settings: Path, environment: Mapping[str, str]) -> str:
    """Return the language that settings name, else the system's, else English."""
    named = _named_in(settings)
    system = next((environment[name] for name in _SYSTEM if environment.get(name)), "")
    return next((one for one in (named, system[:2].lower()) if one in languages()), "en")


def _named_in(settings: Path) -> str:
    reader = configparser.ConfigParser(interpolation=None, strict=False)
    with contextlib.suppress(OSError, UnicodeDecodeError, configparser.Error):
        if settings.is_file():
            reader.read(settings, encoding="utf-8")
    return reader.get("look", "language", fallback="").strip()
