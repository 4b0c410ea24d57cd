"""A picture of the window as it opens with a document, kept once it stands, shown at the next start until it does.

It is shown for this very document only: its name is made of all that it depends on, the file's bytes before all.
Nothing heavy is imported here; a picture that came late would serve nobody.
"""

from __future__ import annotations

import configparser
import contextlib
import hashlib
import time
from importlib.metadata import version
from pathlib import Path

from platformdirs import user_cache_path, user_config_path
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QCloseEvent, QPainter, QPaintEvent, QPixmap
from PySide6.QtWidgets import QApplication, QWidget

from cozy_burrow.app.desk.settings import APP, LAST_THEME, PLAN_LOOK, PLAN_NAMES, THEME, TYPE_SCALE
from cozy_burrow.app.start import Start
from cozy_burrow.assets.read import asset
from cozy_burrow.core.tongue import language, tr

MOST_KEPT = 12
_MOST_BYTES = 64_000_000  # of a document, as `storage` has it
_PNG_END = b"IEND\xaeB`\x82"
_PATIENCE_S = 0.25  # until a display shows a window that was asked for


class Still(QWidget):
    """The picture in a window of its own; nothing in it can be pressed, and the cursor says so."""

    def __init__(self, picture: QPixmap, size: tuple[int, int]) -> None:
        super().__init__()
        self._picture = picture
        self.is_unwanted = False  # whoever closes it wants no window
        self.setWindowTitle(tr("Cozy Burrow"))
        self.setAccessibleName(tr("Cozy Burrow is opening"))
        self.setCursor(Qt.CursorShape.BusyCursor)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)
        self.resize(*size)

    def paintEvent(self, event: QPaintEvent) -> None:
        """Paint the picture, and nothing beyond it."""
        painter = QPainter(self)
        painter.fillRect(self.rect(), self._picture.toImage().pixelColor(QPoint(2, 2)))
        painter.drawPixmap(0, 0, self._picture)
        painter.end()

    def closeEvent(self, event: QCloseEvent) -> None:
        """Note that a person closed it."""
        self.is_unwanted = self.is_unwanted or event.spontaneous()
        super().closeEvent(event)


def place_of(wanted: Start) -> Path | None:
    """Return where the picture of a document lies, whether there is one or not; None where none would be kept.

    A window that is asked for at a certain stage has none: nobody opens one so by hand.
    """
    path = asset("demo", "demo.burrow") if wanted.demo else wanted.file
    if path is None or wanted.stage is not None:
        return None
    try:
        if not path.is_file() or path.stat().st_size > _MOST_BYTES:
            return None
        data = path.read_bytes()
    except (OSError, ValueError):
        return None
    kept_theme, kept_scale, plan = _kept_look()
    scale = str(wanted.scale) if wanted.scale != 1.0 else kept_scale
    look = (wanted.demo, path.name, plan, wanted.size, wanted.theme or kept_theme, scale, language(), version(APP))
    name = hashlib.blake2b(data + repr(look).encode(), digest_size=16).hexdigest()
    return user_cache_path(APP) / "first-sight" / f"{name}.png"


def _kept_look() -> tuple[str, str, str]:
    reader = configparser.ConfigParser(interpolation=None, strict=False)
    with contextlib.suppress(OSError, UnicodeDecodeError, configparser.Error):
        path = user_config_path(APP) / "settings.ini"
        if path.is_file():
            reader.read(path, encoding="utf-8")
    theme, last_theme, scale, *plan = (
        reader.get(*one.key.split("/"), fallback=str(one.first))
        for one in (THEME, LAST_THEME, TYPE_SCALE, PLAN_LOOK, PLAN_NAMES)
    )
    return theme or last_theme, scale, " ".join(plan)


def show(place: Path, size: tuple[int, int]) -> Still | None:
    """Show the picture; None where it is none, or was made for a screen of another sharpness."""
    app = QApplication.instance() or QApplication([APP])
    assert isinstance(app, QApplication)
    try:
        data = place.read_bytes()
    except OSError:
        return None
    picture = QPixmap()
    # What was cut short would be complained of by the library that reads it, on the terminal.
    if not data.endswith(_PNG_END) or not picture.loadFromData(data):
        return None
    ratio = app.primaryScreen().devicePixelRatio()
    if (picture.width(), picture.height()) != tuple(round(length * ratio) for length in size):
        return None
    picture.setDevicePixelRatio(ratio)
    still = Still(picture, size)
    still.show()
    end = time.monotonic() + _PATIENCE_S
    app.processEvents()
    while not still.windowHandle().isExposed() and time.monotonic() < end:
        app.processEvents()
        time.sleep(0.002)
    app.processEvents()
    return still


def tidy(folder: Path) -> None:
    """Delete what was kept longest ago, so that a dozen documents are known."""
    with contextlib.suppress(OSError):
        kept = sorted(folder.glob("*.png"), key=lambda path: path.stat().st_mtime, reverse=True)
        for path in kept[MOST_KEPT:]:
            path.unlink(missing_ok=True)
