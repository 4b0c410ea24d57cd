"""The manual page, made from the commands themselves: what `--help` says is what stands in it."""

from __future__ import annotations

import os
import sys
from collections.abc import Iterator
from importlib.metadata import version

os.environ["COZY_BURROW_LANGUAGE"] = "en"  # texts are looked up when they are imported

import click

from cozy_burrow.cli.main import NAME, everything

_ENDS = (
    ("0", "done"),
    ("1", "done, but something must be mended before cutting, or lies nowhere"),
    ("2", "the input could not be used; one line says what, where and what to do, and nothing was written"),
)
_ENVIRONMENT = (
    ("COZY_BURROW_LANGUAGE", "language of what is said, en or de; verbs speak English unless it is set"),
    ("XDG_CONFIG_HOME, XDG_STATE_HOME, XDG_CACHE_HOME", "where settings, recovery copies and pictures are kept"),
)


def page() -> str:
    """Return the page as groff's `man` macros have it."""
    command = everything()
    context = click.Context(command, info_name=NAME)
    lines = [
        f'.TH {NAME.upper()} 1 "" "{NAME} {version(NAME)}" "User Commands"',
        ".SH NAME",
        f"{_plain(NAME)} \\- plans fitted foam inserts for drawers, cases and walls",
        ".SH SYNOPSIS",
        f".B {_plain(NAME)}",
        r"[\fIFILE.burrow\fR] [\fIOPTIONS\fR]",
        ".br",
        f".B {_plain(NAME)}",
        r"\fIVERB\fR [\fIARGUMENTS\fR]",
        ".SH DESCRIPTION",
        *_paragraphs(command.help or ""),
        ".SH OPTIONS",
        *_options(command, context),
        ".SH VERBS",
    ]
    for verb in command.list_commands(context):
        found = command.get_command(context, verb)
        assert found is not None
        inner = click.Context(found, info_name=verb, parent=context)
        usage = " ".join(found.collect_usage_pieces(inner))
        lines += [f".SS {_plain(verb)} {_plain(usage)}", *_paragraphs(found.help or ""), *_options(found, inner)]
    for title, rows in (("EXIT STATUS", _ENDS), ("ENVIRONMENT", _ENVIRONMENT)):
        lines.append(f".SH {title}")
        for name, text in rows:
            lines += [".TP", f".B {_plain(name)}", _plain(text)]
    return "\n".join(lines) + "\n"


def _plain(text: str) -> str:
    """Return a line of text as it is to be printed: nothing in it is an instruction."""
    text = text.replace("\\", r"\e").replace("-", r"\-")
    return f"\\&{text}" if text.startswith((".", "'")) else text


def _paragraphs(text: str) -> Iterator[str]:
    """Yield a help text; what is set in columns there (after a form feed or a backspace mark) keeps its lines."""
    for paragraph in text.replace("\f", "").split("\n\n"):
        lines = [line.rstrip() for line in paragraph.splitlines()]
        is_set = any(line.strip() == "\b" for line in lines) or any("   " in line.strip() for line in lines)
        lines = [line for line in lines if line.strip() not in {"", "\b"}]
        if not lines:
            continue
        yield ".PP"
        if is_set:
            least = min(len(line) - len(line.lstrip()) for line in lines)
            yield ".nf"
            yield from (_plain(line[least:]) for line in lines)
            yield ".fi"
        else:
            yield from (_plain(line.strip()) for line in lines)


def _options(command: click.Command, context: click.Context) -> Iterator[str]:
    for one in command.get_params(context):
        record = one.get_help_record(context)
        if record is not None:
            yield ".TP"
            yield f".B {_plain(record[0])}"
            yield _plain(" ".join(record[1].split())) or r"\&"


if __name__ == "__main__":
    sys.stdout.write(page())
