"""Parameter kinds of the verbs: lengths as people write them."""

from __future__ import annotations

import json
from typing import Any

import click

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.units import parse_length


class LengthKind(click.ParamType[float]):
    """A length such as 12, 1.2cm or 1 1/8in, in millimetres inside."""

    name = "LENGTH"

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> float:
        """Return the millimetres; a value that is no length is refused in words."""
        if isinstance(value, int | float):
            return float(value)
        try:
            return parse_length(str(value))
        except UnusableInput as error:
            self.fail(error.sentence(), param, ctx)


LENGTH = LengthKind()


def print_json(answer: dict[str, Any]) -> None:
    """Print one JSON object and nothing else."""
    click.echo(json.dumps(answer, ensure_ascii=False, indent=1))
