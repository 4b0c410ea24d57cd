"""What all printed pages share: paper sizes, the shipped fonts, the cautions."""

from __future__ import annotations

import tomllib
from functools import cache

from cozy_burrow.assets.read import asset
from cozy_burrow.core.capture.photo.mat import Paper, papers
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.lettering import BOLD, REGULAR, register_fonts

__all__ = ["BOLD", "CAUTIONS", "INK", "REGULAR", "Paper", "papers", "register_fonts", "template_papers"]

INK = (0.11, 0.10, 0.09)
CAUTIONS = (
    tr(
        "Blades are scalpel-sharp: cut-resistant glove on the holding hand, cut away from the "
        "body, know where the tip comes out underneath, cap and collect used blades."
    ),
    tr(
        "Hot tools: fresh air, a respirator where foam is melted, a heat-proof rest, nothing "
        "left unattended; polyethylene burns."
    ),
    tr("Hole saws and table saws: clamp the work, backing board, slow speed, guards, no gloves near rotating tools."),
    tr("The maker's instructions, the material's safety sheet and local rules come before this plan."),
)


@cache
def template_papers() -> dict[str, Paper]:
    """Return the papers that templates are printed on, by name: those of all pages, large ones, and rolls."""
    large = tomllib.loads(asset("large-papers.toml").read_text(encoding="utf-8"))
    return papers() | {name: Paper(**size) for name, size in large.items()}
