"""What all printed pages share: paper sizes, the shipped fonts, the cautions."""

from __future__ import annotations

import tomllib
from functools import lru_cache

from cozy_burrow.assets.read import asset
from cozy_burrow.core.model.records import Record

REGULAR, BOLD = "CozyRegular", "CozyBold"
INK = (0.11, 0.10, 0.09)
CAUTIONS = (
    "Blades are scalpel-sharp: cut-resistant glove on the holding hand, cut away from the body, know where the tip "
    "comes out underneath, cap and collect used blades.",
    "Hot tools: fresh air, a respirator where foam is melted, a heat-proof rest, nothing left unattended; "
    "polyethylene burns.",
    "Hole saws and table saws: clamp the work, backing board, slow speed, guards, no gloves near rotating tools.",
    "The maker's instructions, the material's safety sheet and local rules come before this plan.",
)


class Paper(Record, frozen=True, kw_only=True):
    """A sheet of paper in millimetres, upright."""

    width_mm: float
    height_mm: float


@lru_cache(maxsize=1)
def papers() -> dict[str, Paper]:
    """Return the papers that the program knows, by name."""
    data = tomllib.loads(asset("papers.toml").read_text(encoding="utf-8"))
    return {name: Paper(**size) for name, size in data.items()}


@lru_cache(maxsize=1)
def register_fonts() -> None:
    """Make the shipped fonts known to the PDF writer."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    pdfmetrics.registerFont(TTFont(REGULAR, str(asset("fonts", "Lato-Regular.ttf"))))
    pdfmetrics.registerFont(TTFont(BOLD, str(asset("fonts", "Lato-Bold.ttf"))))
