"""`cozy-burrow`: without a verb the window, with one the same work without a window.

Exit status: 0 done; 1 done, but something must be fixed before cutting; 2 the input could not be used, with one
line on standard error.
"""

from __future__ import annotations

import importlib
import os
import sys
import warnings
from collections.abc import Sequence
from importlib.metadata import version

import click

from cozy_burrow.cli.verbs import VERBS
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr


class Verbs(click.Group):
    """Imports a verb when it is called: each knows another half of the program, and none needs the other's."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        """Return the verbs in their order."""
        return list(VERBS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        """Return a verb."""
        if cmd_name not in VERBS:
            return None
        name = cmd_name.replace("-", "_")
        command: click.Command = getattr(importlib.import_module(f"cozy_burrow.cli.{name}"), name)
        return command


NAME = "cozy-burrow"
COMPLETE = "_COZY_BURROW_COMPLETE"  # what a shell sets when it asks how a line may go on
_HELP = tr(
    "Plans fitted foam inserts.\n\nWithout a verb it opens the window: {name} [FILE.burrow] "
    "[--demo]; --shot OUT.png paints that window into a picture.\nWith a verb it does the "
    "same work without one; {name} VERB --help says how.",
    name=NAME,
)


def everything() -> Verbs:
    """Return the verbs and the window's options as one command: for help, and for shells that complete a line."""
    from cozy_burrow.cli.window import window

    own = click.Option(["--version"], is_flag=True, help=tr("Print name and version."))
    return Verbs(NAME, help=_HELP, params=[*(one for one in window.params if isinstance(one, click.Option)), own])


def run(arguments: Sequence[str]) -> int:
    """Run one call of the program and return its exit status."""
    given = list(arguments)
    if not sys.warnoptions:
        warnings.simplefilter("ignore")  # what libraries have to say to programmers is nothing for a person's terminal
    if given and given[0] in {"-h", "help"}:
        given[0] = "--help"
    if given == ["--version"]:
        click.echo(f"{NAME} {version(NAME)}")
        return 0
    command: click.Command = everything()
    if not (COMPLETE in os.environ or (given and given[0] in {*VERBS, "--help"})):
        from cozy_burrow.cli.window import window

        command = window
    try:
        status = command.main(given, prog_name=NAME, complete_var=COMPLETE, standalone_mode=False)
        return int(status or 0)
    except UnusableInput as error:
        return _refuse(error.sentence())
    except click.UsageError as error:
        verb = f"{error.ctx.command_path}: " if error.ctx is not None else ""
        return _refuse(
            tr(
                "{verb}{format_message}; see cozy-burrow --help",
                verb=verb,
                format_message=error.format_message().rstrip("."),
            )
        )
    except click.ClickException as error:
        return _refuse(error.format_message())
    except (click.Abort, KeyboardInterrupt):
        return _refuse(tr("stopped before it was done; nothing was written"))
    except BrokenPipeError:
        sys.stderr.close()
        return 0


def _refuse(sentence: str) -> int:
    print("cozy-burrow: " + " ".join(sentence.split()), file=sys.stderr)
    return 2
