"""How many are tried by chance: a share in the suite, which must be quick; all of them in a campaign."""

from __future__ import annotations

import os

IS_CAMPAIGN = bool(os.environ.get("TEST_ALL"))  # `make campaign` sets it


def many(count: int, *, share: float = 0.25) -> int:
    """Return how many of so many are tried now. Seeds run from the first on, so the suite tries the same each time."""
    return count if IS_CAMPAIGN else round(count * share)
