"""Pictures of inserts to give away: as they will look, filled and empty, with and without the items' names."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

import numpy as np

from cozy_burrow.assets.read import asset
from cozy_burrow.core.ground.ground import Ground, ground_of
from cozy_burrow.core.ground.naming import NameTag, names_on
from cozy_burrow.core.model.edits import insert_of
from cozy_burrow.core.model.names import placement_name
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.progress import Token
from cozy_burrow.core.relief.finish import daylight
from cozy_burrow.core.relief.picture import bands_of, picture_corner

if TYPE_CHECKING:
    from PIL.Image import Image
    from PIL.ImageFont import FreeTypeFont

DPI = 200
_MM_PER_INCH = 25.4
_LETTERS_MM = 3.4  # as high as they are printed
_HALO_SHARE = 0.14  # of their height, round them
_INK, _HALO = (255, 252, 245, 255), (42, 36, 29, 215)


def insert_picture(ground: Ground, *, filled: bool = True, dpi: int = DPI) -> Image:
    """Return the lit picture of an insert at a resolution, for PIL."""
    from PIL import Image

    bands = list(bands_of(ground, dpi / _MM_PER_INCH, daylight(), filled=filled))
    return Image.fromarray(np.concatenate(bands))


def lettered(picture: Image, ground: Ground, names: dict[str, str], *, dpi: int = DPI) -> Image:
    """Return a picture with names written into it; those that find no room are left out."""
    from PIL import ImageFont

    scale = dpi / _MM_PER_INCH
    font = ImageFont.truetype(str(asset("fonts", "Lato-Bold.ttf")), round(_LETTERS_MM * scale))
    halo = round(_LETTERS_MM * scale * _HALO_SHARE)
    sizes = {key: _size(font, text, halo, scale) for key, text in names.items()}
    left, top = picture_corner(ground, scale)
    found = picture.copy()
    for tag in names_on(ground, sizes):
        _write(found, tag, names[tag.key], font, halo, ((tag.at[0] - left) * scale, (tag.at[1] - top) * scale))
        if tag.leader is not None:
            _join(found, [((x - left) * scale, (y - top) * scale) for x, y in tag.leader], halo)
    return found


def picture_apart(project: Project, insert_id: str, filled: bool, named: bool, dpi: int, *, token: Token) -> bytes:
    """Return a picture of an insert as PNG, as a piece of work that another process may do."""
    token.step(0.0)
    insert = insert_of(project, insert_id)
    ground = ground_of(project, insert)
    picture = insert_picture(ground, filled=filled, dpi=dpi)
    if named:
        names = {one.id: placement_name(project, one.id) for one in insert.placements}
        picture = lettered(picture, ground, names, dpi=dpi)
    return as_png(picture, dpi=dpi)


def as_png(picture: Image, *, dpi: int = DPI) -> bytes:
    """Return a picture as PNG that says how large it is."""
    stream = io.BytesIO()
    picture.save(stream, "PNG", dpi=(dpi, dpi))
    return stream.getvalue()


def _size(font: FreeTypeFont, text: str, halo: int, scale: float) -> tuple[float, float]:
    ascent, descent = font.getmetrics()
    return (font.getlength(text) + 2 * halo) / scale, (ascent + descent) / scale


def _write(picture: Image, tag: NameTag, text: str, font: FreeTypeFont, halo: int, at: tuple[float, float]) -> None:
    from PIL import Image, ImageDraw

    ascent, descent = font.getmetrics()
    card = Image.new("RGBA", (round(font.getlength(text)) + 4 * halo, ascent + descent + 4 * halo))
    middle = (card.width / 2, card.height / 2)
    ImageDraw.Draw(card).text(middle, text, _INK, font, anchor="mm", stroke_width=halo, stroke_fill=_HALO)
    if tag.angle_deg:
        card = card.rotate(-tag.angle_deg, Image.Resampling.BICUBIC, expand=True)
    picture.alpha_composite(card, (max(0, round(at[0] - card.width / 2)), max(0, round(at[1] - card.height / 2))))


def _join(picture: Image, ends: list[tuple[float, float]], halo: int) -> None:
    from PIL import ImageDraw

    brush = ImageDraw.Draw(picture)
    brush.line(ends, _HALO, 3 * halo)
    brush.line(ends, _INK, max(1, halo))
