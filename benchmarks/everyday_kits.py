"""Thirty kits as people type them: the container, the foam, what goes in; no seat, no place, nothing set by hand."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple

FOLDER = Path(__file__).parent / "tables"


class Everyday(NamedTuple):
    """One kit: its table, and what `plan` is told beside it."""

    name: str
    container: str
    foam: str
    kind: str = "drawer"
    unit: str = "mm"

    @property
    def table(self) -> Path:
        """Where its table lies."""
        return FOLDER / f"{self.name}.csv"


KITS = (
    Everyday("screwdrivers", "500x350x60", "50/10"),
    Everyday("sockets", "400x300x55", "50/10"),
    Everyday("spanners", "600x400x60", "50/10"),
    Everyday("pliers", "450x380x70", "60/10"),
    Everyday("chisels", "500x350x100", "70/10"),
    Everyday("planes", "560x400x170", "70/10,50/10"),
    Everyday("drill_bits", "14inx10inx2in", "40/10", "drawer", "inch"),
    Everyday("measuring", "520x380x75", "60/10"),
    Everyday("kitchen_knives", "550x420x60", "50/10"),
    Everyday("sewing", "520x400x90", "70/10"),
    Everyday("camera", "560x430x170", "60/10,60/10,20/10", "case"),
    Everyday("bottles", "600x400x60", "50/10", "wall"),
    Everyday("electronics", "520x380x80", "70/10"),
    Everyday("bicycle", "580x400x70", "60/10"),
    Everyday("plumbing", "600x450x110", "60/10,40/10"),
    Everyday("painting", "560x380x55", "50/10"),
    Everyday("hairdresser", "600x430x70", "60/10"),
    Everyday("hand_instruments", "400x260x35", "30/3.2"),
    Everyday("jeweller", "500x360x45", "40/3.2"),
    Everyday("microphones", "600x430x120", "70/10,30/10", "case"),
    Everyday("watches", "540x380x75", "60/10"),
    Everyday("lures", "470x330x45", "30/3.2"),
    Everyday("drone", "640x480x180", "70/10,70/10", "case"),
    Everyday("chess", "420x320x60", "50/10"),
    Everyday("woodwind", "480x280x70", "60/10", "case"),
    Everyday("hole_saws", "450x350x100", "80/10"),
    Everyday("taps", "380x280x55", "40/3.2"),
    Everyday("laboratory", "550x400x90", "60/10,20/10"),
    Everyday("first_aid", "640x480x130", "60/10,50/10", "case"),
    Everyday("piano_technician", "570x390x75", "50/10"),
)
