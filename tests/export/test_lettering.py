"""Names in any script on paper: a font of the system is embedded and read back; what no font has is told."""

from __future__ import annotations

import io
import subprocess
import tempfile
import unittest
from pathlib import Path
from typing import Any
from unittest.mock import patch

from fontTools.fontBuilder import FontBuilder
from fontTools.pens.t2CharStringPen import T2CharStringPen
from fontTools.pens.ttGlyphPen import TTGlyphPen
from fontTools.ttLib import TTFont
from msgspec.structs import replace

from cozy_burrow.export import lettering
from cozy_burrow.export.labels_pdf import labels_pdf
from cozy_burrow.export.lettering import BOLD, REGULAR, marked_up, runs_of, unprintable, width_of
from cozy_burrow.export.paper import papers
from cozy_burrow.export.system_fonts import font_for, small_font
from cozy_burrow.jobs.export import print_remarks
from tests.makers import box, laid, project

SPANNER = "扳手"
SMILE = "\N{GRINNING FACE}"


def made_font(path: Path, characters: str, *, postscript: bool) -> Path:
    """A font of squares, with TrueType or PostScript outlines."""
    names = [".notdef", *(f"u{ord(one):X}" for one in characters)]
    builder = FontBuilder(1000, isTTF=not postscript)
    builder.setupGlyphOrder(names)
    builder.setupCharacterMap({ord(one): name for one, name in zip(characters, names[1:])})

    def square(pen: Any) -> Any:
        pen.moveTo((100, 0))
        for at in ((900, 0), (900, 800), (100, 800)):
            pen.lineTo(at)
        pen.closePath()
        return pen

    if postscript:
        glyphs = {name: square(T2CharStringPen(1000, None)).getCharString() for name in names}
        builder.setupCFF("Made", {}, glyphs, {})
    else:
        builder.setupGlyf({name: square(TTGlyphPen(None)).glyph() for name in names})
    builder.setupHorizontalMetrics(dict.fromkeys(names, (1000, 100)))
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": "Made", "styleName": "Regular", "psName": "Made-Regular"})
    builder.setupOS2()
    builder.setupPost()
    builder.save(path)
    return path


class Borrowed(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        fresh = patch.dict(lettering._borrowed, clear=True)
        fresh.start()
        self.addCleanup(fresh.stop)

    def with_font(self, path: Path | None) -> None:
        found = patch.object(lettering, "font_for", lambda _: (path, 0) if path is not None else None)
        found.start()
        self.addCleanup(found.stop)

    def read_back(self, data: bytes) -> tuple[str, str]:
        path = self.folder / "a.pdf"
        path.write_bytes(data)
        said = [
            subprocess.run([*words, str(path), *rest], capture_output=True, text=True, check=True).stdout
            for words, rest in ((["pdftotext", "-layout"], ["-"]), (["pdffonts"], []))
        ]
        return said[0], said[1]

    def test_a_font_of_either_kind_is_embedded_and_the_name_can_be_read(self) -> None:
        for postscript in (False, True):
            with self.subTest(postscript=postscript):
                lettering._borrowed.clear()
                path = made_font(self.folder / f"{postscript}.otf", SPANNER + "人", postscript=postscript)
                self.with_font(path)
                text, fonts = self.read_back(labels_pdf([(f"{SPANNER} 10", "drawer")], paper=papers()["a4"]))
                self.assertIn(f"{SPANNER} 10", text)
                line = next(line for line in fonts.splitlines() if "Made-Regular" in line)
                self.assertIn("yes yes", line)
                self.assertAlmostEqual(width_of(SPANNER, BOLD, 10.0), 20.0)

    def test_two_parts_of_one_font_do_not_get_in_each_others_way(self) -> None:
        self.with_font(made_font(self.folder / "a.ttf", SPANNER + SMILE, postscript=False))
        names = [("扳", ""), ("手", ""), (f"box {SMILE}", "")]
        for name, _ in names:
            runs_of(name, BOLD)  # one after the other, as they come in an export
        text, fonts = self.read_back(labels_pdf(names, paper=papers()["a4"]))
        self.assertEqual(sum("Made-Regular" in line for line in fonts.splitlines()), 3)
        self.assertIn("扳", text)
        self.assertIn("手", text)

    def test_right_to_left_stands_as_it_is_read(self) -> None:
        self.with_font(made_font(self.folder / "a.ttf", "מפתח", postscript=False))
        runs = runs_of("מפתח 12 mm", REGULAR)
        self.assertEqual("".join(part for _, part in runs), "mm 12 חתפמ")
        self.assertEqual(runs_of("Key 12", REGULAR), [(REGULAR, "Key 12")])

    def test_what_no_font_has_is_named_and_nothing_breaks(self) -> None:
        self.with_font(None)
        plan = laid(
            project(replace(box(60, 30, 12), name=f"box {SMILE}"), box(50, 20, 8, "Schlüssel №")), (90, 80), (90, 150)
        )
        self.assertEqual(
            print_remarks(plan), (f"'box {SMILE}': no font on this system has {SMILE}; it prints blank on paper",)
        )
        labels_pdf([(f"box {SMILE}", "")], paper=papers()["a4"])
        broken = self.folder / "broken.ttf"
        for data in (b"", b"\0\1\0\0" + b"\xff" * 64, made_font(broken, SPANNER, postscript=False).read_bytes()[:300]):
            broken.write_bytes(data)
            self.assertIsNone(small_font(broken, 0, frozenset(SPANNER)))

    def test_markup_is_escaped_whatever_the_font(self) -> None:
        self.with_font(made_font(self.folder / "a.ttf", SPANNER, postscript=False))
        said = marked_up(f"<b>{SPANNER}&</b>")
        self.assertTrue(said.startswith("&lt;b&gt;<font name="))
        self.assertTrue(said.endswith("</font>&amp;&lt;/b&gt;"))

    def test_a_small_font_holds_what_was_wanted_and_no_more(self) -> None:
        path = made_font(self.folder / "a.otf", SPANNER + SMILE, postscript=True)
        data, there = small_font(path, 0, frozenset(SMILE + "x")) or (b"", frozenset())
        self.assertEqual(there, frozenset(SMILE))
        font = TTFont(io.BytesIO(data))
        self.assertEqual(set(font.getBestCmap()), {ord(SMILE)})
        self.assertEqual(font["glyf"][font.getBestCmap()[ord(SMILE)]].numberOfContours, 1)


class System(unittest.TestCase):
    def test_the_system_is_asked_and_answers_with_a_file_or_with_nothing(self) -> None:
        for character in ("ж", "א", SMILE, "\U0001ffff"):
            found = font_for(character)
            self.assertTrue(found is None or found[0].is_file())
        self.assertEqual(unprintable("Tuning lever – 5 × 3 mm"), "")


if __name__ == "__main__":
    unittest.main()
