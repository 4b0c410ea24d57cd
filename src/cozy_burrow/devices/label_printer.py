"""A label printer: a tape of a width, on which labels are printed and cut off one by one."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Protocol


class LabelPrinter(Protocol):
    """Anything that prints labels onto a tape."""

    @property
    def tape_mm(self) -> float:
        """How wide the tape is that is in it."""

    def print_labels(self, pdf: bytes) -> int:
        """Print a PDF with a page a label, and return how many were printed."""


@dataclass
class SimulatedLabelPrinter:
    """A printer that is not there: keeps what it was given, a PDF a print."""

    tape_mm: float = 12.0
    printed: list[bytes] = field(default_factory=list)

    def print_labels(self, pdf: bytes) -> int:
        """Keep the labels, and count their pages."""
        import pypdfium2

        self.printed.append(pdf)
        return len(pypdfium2.PdfDocument(pdf))
