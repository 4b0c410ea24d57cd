"""What all printed pages share: paper sizes, the shipped fonts, the cautions."""

from __future__ import annotations

from functools import lru_cache

from cozy_burrow.assets.read import asset
from cozy_burrow.core.capture.photo.mat import Paper, papers

__all__ = ["BOLD", "CAUTIONS", "INK", "REGULAR", "Paper", "papers", "register_fonts"]

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


@lru_cache(maxsize=1)
def register_fonts() -> None:
    """Make the shipped fonts known to the PDF writer."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    pdfmetrics.registerFont(TTFont(REGULAR, str(asset("fonts", "Lato-Regular.ttf"))))
    pdfmetrics.registerFont(TTFont(BOLD, str(asset("fonts", "Lato-Bold.ttf"))))
