"""Write the JSON Schema of project.json into docs."""

from __future__ import annotations

import argparse
import json
from pathlib import Path

from cozy_burrow.storage.project_file import schema

PLACE = Path(__file__).resolve().parent.parent / "docs" / "project.schema.json"


def main() -> None:
    """Write the schema."""
    argparse.ArgumentParser(description=__doc__).parse_args()
    PLACE.write_text(json.dumps(schema(), indent=1) + "\n", encoding="utf-8")
    print(PLACE)


if __name__ == "__main__":
    main()
