"""Fonts of the system for characters that the shipped ones lack: found by fontconfig, made small TrueType fonts.

Whatever kind a font is (TrueType, a collection, PostScript outlines), what comes out has outlines that a PDF can embed,
of the wanted characters only. Bitmap and colour fonts have none: for them nothing comes out.
"""

from __future__ import annotations

import ctypes
import hashlib
import io
import logging
from functools import lru_cache
from pathlib import Path
from typing import Any

_FROM_PATTERN = 0  # FcMatchPattern
_CURVE_SHARE = 1e-3  # of the em by which a curve of another degree may be off
_MOST_FONT_BYTES = 200_000_000


@lru_cache(maxsize=1)
def _fontconfig() -> Any:
    try:
        library = ctypes.CDLL("libfontconfig.so.1")
    except OSError:
        return None
    pointer = ctypes.c_void_p
    for name, result, arguments in (
        ("FcInitLoadConfigAndFonts", pointer, []),
        ("FcNameParse", pointer, [ctypes.c_char_p]),
        ("FcConfigSubstitute", ctypes.c_int, [pointer, pointer, ctypes.c_int]),
        ("FcDefaultSubstitute", None, [pointer]),
        ("FcFontMatch", pointer, [pointer, pointer, ctypes.POINTER(ctypes.c_int)]),
        ("FcPatternGetString", ctypes.c_int, [pointer, ctypes.c_char_p, ctypes.c_int, ctypes.POINTER(ctypes.c_char_p)]),
        ("FcPatternGetInteger", ctypes.c_int, [pointer, ctypes.c_char_p, ctypes.c_int, ctypes.POINTER(ctypes.c_int)]),
        ("FcPatternDestroy", None, [pointer]),
    ):
        function = getattr(library, name)
        function.restype, function.argtypes = result, arguments
    return library


@lru_cache(maxsize=1)
def _config() -> Any:
    return _fontconfig().FcInitLoadConfigAndFonts()


@lru_cache(maxsize=4096)
def font_for(character: str) -> tuple[Path, int] | None:
    """Return file and number in it of the font that the system would show a character in; None: it has none."""
    library = _fontconfig()
    if library is None:
        return None
    pattern = library.FcNameParse(f"sans-serif:charset={ord(character):x}:outline=true:color=false".encode())
    if not pattern:
        return None
    try:
        library.FcConfigSubstitute(_config(), pattern, _FROM_PATTERN)
        library.FcDefaultSubstitute(pattern)
        result = ctypes.c_int()
        match = library.FcFontMatch(_config(), pattern, ctypes.byref(result))
    finally:
        library.FcPatternDestroy(pattern)
    if not match:
        return None
    try:
        file, index = ctypes.c_char_p(), ctypes.c_int(0)
        if library.FcPatternGetString(match, b"file", 0, ctypes.byref(file)) or not file.value:
            return None
        library.FcPatternGetInteger(match, b"index", 0, ctypes.byref(index))
        return Path(file.value.decode("utf-8", "surrogateescape")), index.value & 0xFFFF
    finally:
        library.FcPatternDestroy(match)


def small_font(path: Path, number: int, characters: frozenset[str]) -> tuple[bytes, frozenset[str]] | None:
    """Return a TrueType font of those of the characters that a font has, and which these are; None: of none.

    A font that cannot be read or made small is as good as none.
    """
    from fontTools import subset
    from fontTools.ttLib import TTFont, TTLibError

    logging.getLogger("fontTools").setLevel(logging.CRITICAL)  # what it drops of a font is nobody's concern here
    try:
        if path.stat().st_size > _MOST_FONT_BYTES:
            return None
        with path.open("rb") as file, TTFont(file, fontNumber=number, lazy=True) as font:
            there = frozenset(one for one in characters if ord(one) in (font.getBestCmap() or {}))
            if not there or not ("glyf" in font or "CFF " in font):
                return None
            options = subset.Options(layout_features=[], notdef_outline=True, name_IDs=[1, 2, 4, 6], hinting=False)
            cutter = subset.Subsetter(options)
            cutter.populate(unicodes=[ord(one) for one in there])
            cutter.subset(font)
            if "glyf" not in font:
                _to_truetype(font)
            # The writer takes the first table that it knows, which stops at 16 bits: the one with everything alone.
            tables = [one for one in font["cmap"].tables if one.isUnicode() and one.format in {4, 12}]
            font["cmap"].tables = [max(tables, key=lambda one: (len(one.cmap), one.format))]
            # The writer knows fonts by their names: two parts of one font need two.
            mark = hashlib.blake2b("".join(sorted(there)).encode(), digest_size=4).hexdigest()
            for record in font["name"].names:
                record.string = f"{str(record)[:40]}-{mark}"
            stream = io.BytesIO()
            font.save(stream)
            return stream.getvalue(), there
    except (TTLibError, OSError, ValueError, KeyError, AssertionError, AttributeError, IndexError, TypeError):
        return None


def _to_truetype(font: Any) -> None:
    """Give a font with PostScript outlines the quadratic ones of TrueType."""
    from fontTools.pens.cu2quPen import Cu2QuPen
    from fontTools.pens.ttGlyphPen import TTGlyphPen
    from fontTools.ttLib import newTable

    glyphs, order = font.getGlyphSet(), font.getGlyphOrder()
    made = {}
    for name in order:
        pen = TTGlyphPen(glyphs)
        glyphs[name].draw(Cu2QuPen(pen, font["head"].unitsPerEm * _CURVE_SHARE, reverse_direction=True))
        made[name] = pen.glyph()
    font["loca"] = newTable("loca")
    font["glyf"] = glyf = newTable("glyf")
    glyf.glyphOrder, glyf.glyphs = order, made
    maxp = font["maxp"]
    maxp.tableVersion = 0x00010000
    for field in (
        "maxZones", "maxTwilightPoints", "maxStorage", "maxFunctionDefs", "maxInstructionDefs", "maxStackElements",
        "maxSizeOfInstructions", "maxComponentElements", "maxPoints", "maxContours", "maxCompositePoints",
        "maxCompositeContours", "maxComponentDepth",
    ):  # fmt: skip
        setattr(maxp, field, 1 if field == "maxZones" else 0)
    font["post"].formatType = 3.0
    for tag in ("CFF ", "VORG"):
        if tag in font:
            del font[tag]
    font.sfntVersion = "\000\001\000\000"
