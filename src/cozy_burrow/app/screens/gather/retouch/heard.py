"""What a screen reader finds on the retouch bench: every outline over the photo, its size and where it is unsure."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PySide6.QtCore import QRectF

from cozy_burrow.app.desk.bench_session import RetouchSession
from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.reader_parts import Part, ReaderParts
from cozy_burrow.app.screens.gather.retouch.canvas import RetouchCanvas
from cozy_burrow.core.capture.retouch.draft import doubtful
from cozy_burrow.core.tongue import tr, trn


def hear_retouch(canvas: RetouchCanvas, session: RetouchSession, workspace: Workspace) -> ReaderParts:
    """Give every outline a name and a place for a reader; the one that is pressed is worked on."""
    return ReaderParts(canvas, lambda: retouch_parts(canvas, session, workspace))


def retouch_parts(canvas: RetouchCanvas, session: RetouchSession, workspace: Workspace) -> Sequence[Part]:
    """Return the outlines on the bench in their order; none where no picture lies there."""
    if not session.is_open:
        return ()
    found = []
    for number, draft in enumerate(session.table.drafts):
        left, top, right, bottom = draft.bounds_mm
        runs = len(doubtful(draft, session.capture.trace if session.capture is not None else None))
        unsure = [trn("{count} unsure run", "{count} unsure runs", runs)] if runs else []
        about = tr(
            "{width} x {depth}, ± {sure}",
            width=workspace.length(right - left),
            depth=workspace.length(bottom - top),
            sure=workspace.length(draft.item.provenance.uncertainty_mm),
        )
        found.append(
            Part(
                key=f"outline {number}",
                name=draft.item.name,
                about=", ".join((about, *unsure)),
                where=QRectF(canvas.pixel_of((left, top)), canvas.pixel_of((right, bottom))).toAlignedRect(),
                is_chosen=number == session.table.chosen,
                choose=partial(session.choose, number),
            )
        )
    return found
