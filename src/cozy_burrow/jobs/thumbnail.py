"""A small picture of a project, as a file manager shows it: its fullest insert as it will look."""

from __future__ import annotations

from pathlib import Path

from cozy_burrow.core.ground.ground import ground_of
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.relief.finish import daylight
from cozy_burrow.core.relief.picture import picture_of
from cozy_burrow.jobs.insert_pictures import as_png
from cozy_burrow.storage.project_file import load
from cozy_burrow.storage.whole_file import write_whole


def thumbnail(project: Project, *, wide_px: int) -> bytes:
    """Return the fullest insert as PNG, `wide_px` along its longer side."""
    from PIL import Image

    insert = max(project.inserts, key=lambda one: len(one.placements))
    ground = ground_of(project, insert)
    left, top, right, bottom = ground.extent
    # Twice as fine as it is shown, since lines of light are thinner than a pixel then.
    scale = 2.0 * wide_px / max(1.0, right - left, bottom - top)
    picture = Image.fromarray(picture_of(ground, scale, daylight()).pixels)
    picture.thumbnail((wide_px, wide_px), Image.Resampling.LANCZOS)
    return as_png(picture)


def write_thumbnail(source: Path, out: Path, *, wide_px: int) -> None:
    """Write the picture of a project file. Raises UnusableInput where it cannot be read or the picture not written."""
    write_whole(out, thumbnail(load(source), wide_px=wide_px))
