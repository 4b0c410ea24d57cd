"""The reference mat as a file to print, and what its printed scales say of the printer."""

from __future__ import annotations

from pathlib import Path

from cozy_burrow.core.capture.photo.mat import mat_page
from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.progress import Token
from cozy_burrow.core.tongue import tr
from cozy_burrow.export.mat_pdf import mat_pdf
from cozy_burrow.jobs.files import write_all

MOST_STRETCH = 0.06


def write_mat(out: Path, *, paper: str, pages: int = 1) -> None:
    """Write a mat of one to four pages. Raises UnusableInput for an unknown paper or a place that cannot be written."""
    data = mat_pdf([mat_page(paper, number) for number in range(1, pages + 1)])
    write_all(out.parent, {out.name: data})


def write_mat_apart(out: Path, paper: str, pages: int, *, token: Token) -> None:
    """Write a mat as a piece of work that another process does: markers need a large library. Raises as write_mat."""
    token.step(0.0)
    write_mat(out, paper=paper, pages=pages)


def printed_stretch(paper: str, *, across_mm: float | None = None, down_mm: float | None = None) -> tuple[float, float]:
    """Return how much larger than drawn a printer made the mat, from the measured lengths of its two scales.

    None: not measured; if only one scale was, the other is taken as alike. Raises UnusableInput beyond six per cent.
    """
    page = mat_page(paper)
    measured = (
        across_mm / page.scale_x_mm if across_mm is not None else None,
        down_mm / page.scale_y_mm if down_mm is not None else None,
    )
    known = [one for one in measured if one is not None]
    if any(abs(one - 1) > MOST_STRETCH for one in known):
        raise UnusableInput(
            tr(
                "the printed scales would be {scale_x:g} and {scale_y:g} mm long at 100 %",
                scale_x=page.scale_x_mm,
                scale_y=page.scale_y_mm,
            ),
            where=tr("printed scale"),
            remedy=tr("measure them between their longest ends, or print again at 100 %"),
        )
    other = known[0] if known else 1.0
    return (measured[0] or other, measured[1] or other)
