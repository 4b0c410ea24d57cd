"""The look: colours by role, type sizes and spaces, made from one record; the only place with a colour in it."""

from __future__ import annotations

import tomllib
from functools import lru_cache
from typing import Literal

import msgspec
from PySide6.QtGui import QColor, QFont, QFontDatabase, QIcon, QPalette
from PySide6.QtWidgets import QApplication, QToolTip

from cozy_burrow.app.look.theme.style import style_sheet
from cozy_burrow.assets.read import asset

ThemeName = Literal["light", "lamp", "contrast"]
FAMILY = "Lato"


class Theme(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """Colours by role, as #rrggbb."""

    surface: str
    panel: str
    paper: str
    ink: str
    ink_soft: str
    line: str
    line_strong: str
    accent: str
    accent_soft: str
    on_accent: str
    care: str
    care_soft: str
    stop: str
    stop_soft: str
    good: str
    foam_top: str
    foam_edge: str
    strata_a: str
    strata_b: str
    foam_contrast: str
    pocket_shallow: str
    pocket_deep: str
    pull: str
    tool: str
    tool_deep: str
    tool_line: str
    bench: str
    lid: str
    shade: str
    relief_foam: str
    relief_rim: str
    relief_floor: str
    relief_ink: str
    relief_halo: str

    def colour(self, role: str, alpha: float = 1.0) -> QColor:
        """Return the colour of a role."""
        found = QColor(getattr(self, role))
        found.setAlphaF(alpha)
        return found

    def foam(self, named: str, role: str) -> QColor:
        """Return the colour of foam: the one that somebody named, else that of a role."""
        return QColor(named) if named else self.colour(role)

    def severity(self, severity: str) -> QColor:
        """Return the colour of a finding's weight."""
        return self.colour({"stop": "stop", "care": "care"}.get(severity, "ink_soft"))

    def depth(self, share: float) -> QColor:
        """Return the shade of a pocket's floor: share 0 at the surface, 1 at the bottom of the stack."""
        top, low = self.colour("pocket_shallow"), self.colour("pocket_deep")
        mixed = [a + (b - a) * share for a, b in zip(top.getRgbF()[:3], low.getRgbF()[:3])]  # type: ignore[index]
        return QColor.fromRgbF(*mixed)


@lru_cache(maxsize=4)
def load_theme(name: ThemeName) -> Theme:
    """Return a shipped theme."""
    data = tomllib.loads(asset("themes", f"{name}.toml").read_text(encoding="utf-8"))
    return msgspec.convert(data, Theme)


def load_fonts() -> None:
    """Make the shipped fonts known."""
    for name in ("Lato-Regular.ttf", "Lato-Bold.ttf"):
        QFontDatabase.addApplicationFont(str(asset("fonts", name)))


def apply_theme(app: QApplication, theme: Theme, *, scale: float = 1.0) -> None:
    """Give the application its palette, font and icon; the window dresses its pieces in `sheet_of`."""
    palette = QPalette()
    for role, name in (
        (QPalette.ColorRole.Window, "surface"),
        (QPalette.ColorRole.WindowText, "ink"),
        (QPalette.ColorRole.Base, "paper"),
        (QPalette.ColorRole.AlternateBase, "panel"),
        (QPalette.ColorRole.Text, "ink"),
        (QPalette.ColorRole.Button, "panel"),
        (QPalette.ColorRole.ButtonText, "ink"),
        (QPalette.ColorRole.Highlight, "accent"),
        (QPalette.ColorRole.HighlightedText, "on_accent"),
        (QPalette.ColorRole.ToolTipBase, "paper"),
        (QPalette.ColorRole.ToolTipText, "ink"),
        (QPalette.ColorRole.PlaceholderText, "ink_soft"),
        (QPalette.ColorRole.Link, "accent"),
        (QPalette.ColorRole.Mid, "line"),
    ):
        palette.setColor(role, theme.colour(name))
    for role in (QPalette.ColorRole.Text, QPalette.ColorRole.ButtonText, QPalette.ColorRole.WindowText):
        palette.setColor(QPalette.ColorGroup.Disabled, role, theme.colour("ink_soft"))
    app.setPalette(palette)
    QToolTip.setPalette(palette)
    font = type_font("body", scale)
    if app.font() != font:  # every widget there is hears of a font
        app.setFont(font)
    app.setWindowIcon(QIcon(str(asset("icons", "cozy-burrow.svg"))))


def sheet_of(theme: Theme, *, scale: float = 1.0) -> str:
    """Return the style sheet of a theme at a scale of type."""
    night = QColor(theme.surface).lightness() < 128
    icons = {
        f"icon_{name}": asset("icons", f"{name}-{'lamp' if night else 'light'}.svg").as_posix()
        for name in ("up", "down", "tick")
    }
    return style_sheet(msgspec.structs.asdict(theme), scale, icons=icons)


def type_font(kind: Literal["small", "body", "head", "figure"], scale: float = 1.0) -> QFont:
    """Return the font of a kind of text."""
    size = {"small": 12.0, "body": 13.5, "head": 16.0, "figure": 13.5}[kind]
    font = QFont(FAMILY)
    font.setPixelSize(round(size * scale))
    font.setBold(kind in {"head", "figure"})
    return font
