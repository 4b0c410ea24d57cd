"""What a screen reader finds on the sketch of a survey: its corners, and each taped distance with what it is off."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PySide6.QtCore import QPointF, QRect, QRectF

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.app.look.reader_parts import Part, ReaderParts
from cozy_burrow.app.screens.measure.survey_canvas import SurveyCanvas
from cozy_burrow.core.container.survey import pair_text, solve_survey
from cozy_burrow.core.tongue import tr
from cozy_burrow.jobs.survey_words import off_text

_SIZE_PX = 32


def hear_survey(canvas: SurveyCanvas, workspace: Workspace) -> ReaderParts:
    """Give corners and distances a name and a place for a reader; two corners that are pressed are the next pair."""
    return ReaderParts(canvas, lambda: survey_parts(canvas, workspace))


def survey_parts(canvas: SurveyCanvas, workspace: Workspace) -> Sequence[Part]:
    """Return the corners in their order, then the distances."""
    container = workspace.container
    if not container.corners:
        return ()
    found = [
        Part(
            key=f"corner {one.name}",
            name=tr("Corner {name}", name=one.name),
            about=tr(
                "{x} from the left, {y} from the back", x=workspace.length(one.x_mm), y=workspace.length(one.y_mm)
            ),
            where=_round(canvas.corner_px(one.name)),
            is_chosen=canvas.pair is not None and one.name in canvas.pair,
            choose=partial(canvas.pick, one.name),
        )
        for one in container.corners
    ]
    names = {one.name for one in container.corners}
    solved = solve_survey(container.corners, container.taped)
    for number, residual in enumerate(solved.residuals):
        first, second = residual.taped.first, residual.taped.second
        if names.issuperset((first, second)):
            found.append(
                Part(
                    key=f"distance {first} {second} {number}",
                    name=pair_text(first, second),
                    about=off_text(residual, workspace.unit, is_odd=number == solved.suspect),
                    where=_round((canvas.corner_px(first) + canvas.corner_px(second)) / 2),
                    is_chosen=canvas.pair in {(first, second), (second, first)},
                    choose=partial(canvas.pair_chosen.emit, first, second),
                )
            )
    return found


def _round(at: QPointF) -> QRect:
    return QRectF(at.x() - _SIZE_PX / 2, at.y() - _SIZE_PX / 2, _SIZE_PX, _SIZE_PX).toAlignedRect()
