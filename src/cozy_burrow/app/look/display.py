"""The display that the window is to open on: whether it can be reached, asked before Qt does, which would abort."""

from __future__ import annotations

import contextlib
import ctypes
import os
import socket
import sys
from pathlib import Path

from PySide6.QtCore import QLibraryInfo, QMessageLogContext, QtMsgType, qInstallMessageHandler

from cozy_burrow.core.errors import UnusableInput
from cozy_burrow.core.tongue import tr

# What the X plugin of Qt is linked to and a small system lacks: it would abort, and blame the wrong one.
_X_LIBRARIES = (
    "libxcb-cursor.so.0", "libxcb-icccm.so.4", "libxcb-keysyms.so.1", "libxcb-image.so.0", "libxcb-randr.so.0",
    "libxcb-render-util.so.0", "libxcb-shape.so.0", "libxcb-xkb.so.1", "libxkbcommon-x11.so.0",
)  # fmt: skip
_PATIENCE_S = 3.0
_OFFSCREEN = "offscreen"
# What the plugin without a screen says of what only a screen has.
_NO_MATTER = ("propagateSizeHints", "does not support raise()", "does not support grabbing")


def choose_platform(*, for_picture: bool) -> None:
    """Paint off screen where there is no display, and say so. Raises UnusableInput where one cannot be reached."""
    if for_picture:
        os.environ["QT_QPA_PLATFORM"] = _OFFSCREEN
    elif not any(os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")):
        os.environ["QT_QPA_PLATFORM"] = _OFFSCREEN
        said = tr("there is no display here, so the window is painted off screen")
        print(f"cozy-burrow: {said}", file=sys.stderr)
    else:
        _check_display()
    if os.environ.get("QT_QPA_PLATFORM", "").startswith(_OFFSCREEN):
        qInstallMessageHandler(_hear)


def _hear(kind: QtMsgType, context: QMessageLogContext, text: str) -> None:
    if kind != QtMsgType.QtDebugMsg and not any(words in text for words in _NO_MATTER):
        print(text, file=sys.stderr)


def _check_display() -> None:
    wanted = os.environ.get("QT_QPA_PLATFORM", "").partition(":")[0].partition(";")[0]
    if wanted not in {"", "xcb", "wayland"}:
        plugins = Path(QLibraryInfo.path(QLibraryInfo.LibraryPath.PluginsPath)) / "platforms"
        if not (plugins / f"libq{wanted}.so").exists():
            raise _refused(tr("Qt has no such platform"), f"QT_QPA_PLATFORM={wanted}")
        return
    x, wayland = os.environ.get("DISPLAY", ""), os.environ.get("WAYLAND_DISPLAY", "")
    if wanted != "xcb" and wayland and _wayland_answers(wayland):
        return
    if wanted != "wayland" and x:
        if not _x_answers(x):
            raise _refused(tr("the display cannot be reached"), f"DISPLAY={x}")
        lacking = [name for name in _X_LIBRARIES if not _loads(name)]
        if lacking:
            what = tr("the system lacks {names}", names=", ".join(lacking))
            raise _refused(what, f"DISPLAY={x}", tr("run make demo, which names them"))
        return
    where = f"WAYLAND_DISPLAY={wayland}" if wayland else f"DISPLAY={x}"
    raise _refused(tr("the display cannot be reached"), where)


def _refused(what: str, where: str, remedy: str = "") -> UnusableInput:
    remedy = remedy or tr("start it at the desktop, or take --shot for a picture")
    return UnusableInput(what, where=where, remedy=remedy)


def _loads(name: str) -> bool:
    try:
        ctypes.CDLL(name)
    except OSError:
        return False
    return True


def _x_answers(display: str) -> bool:
    """Return whether an X server takes a connection; where that cannot be asked, Qt may.

    The connection is kept until the process ends: a server that its last client leaves begins anew, or ends, and takes
    nobody just then.
    """
    try:
        library = ctypes.CDLL("libxcb.so.1")
    except OSError:
        return True
    library.xcb_connect.restype = ctypes.c_void_p
    library.xcb_connect.argtypes = [ctypes.c_char_p, ctypes.c_void_p]
    for name in ("xcb_connection_has_error", "xcb_disconnect"):
        getattr(library, name).argtypes = [ctypes.c_void_p]
    connection = library.xcb_connect(display.encode(errors="surrogateescape"), None)
    if library.xcb_connection_has_error(connection):
        library.xcb_disconnect(connection)
        return False
    return True


def _wayland_answers(name: str) -> bool:
    path = Path(os.environ.get("XDG_RUNTIME_DIR", "/")) / name  # an absolute name stays as it is
    with contextlib.suppress(OSError), socket.socket(socket.AF_UNIX) as asked:
        asked.settimeout(_PATIENCE_S)
        asked.connect(str(path))
        return True
    return False
