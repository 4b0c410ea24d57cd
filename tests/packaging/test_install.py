"""Installed like any desktop program: what is laid where, that it fits together, and that it all goes again."""

from __future__ import annotations

import configparser
import os
import shutil
import subprocess
import sys
import tempfile
import unittest
import xml.etree.ElementTree as ElementTree
from pathlib import Path
from unittest.mock import patch

from tools import install as install_module
from tools.install import APP, LIST, MIME, install, shared_files, uninstall, version
from tools.slim import slim, unneeded

from cozy_burrow.cli.main import NAME, everything
from cozy_burrow.cli.verbs import VERBS

PREFIX = Path("/opt/burrow")


class Files(unittest.TestCase):
    files: dict[str, bytes]

    @classmethod
    def setUpClass(cls) -> None:
        cls.files = shared_files(PREFIX, site="https://made.up.example")

    def checked_by(self, *words: str) -> None:
        """Let a program of the desktop judge, where there is one."""
        if shutil.which(words[0]):
            done = subprocess.run(words, capture_output=True, text=True, check=False)
            self.assertEqual(done.returncode, 0, done.stdout + done.stderr)

    def test_the_entry_the_kind_of_file_and_the_metadata_speak_of_the_same_things(self) -> None:
        entry = configparser.ConfigParser(interpolation=None)
        entry.optionxform = str  # type: ignore[assignment, method-assign]
        entry.read_string(self.files[f"share/applications/{APP}.desktop"].decode())
        main = entry["Desktop Entry"]
        kind = MIME.replace("-", "/", 1)
        self.assertEqual((main["Exec"], main["MimeType"]), (f'"{PREFIX}/bin/{NAME}" %f', f"{kind};"))
        self.assertEqual(main["TryExec"], f"{PREFIX}/bin/{NAME}")
        self.assertIn(f"share/icons/hicolor/scalable/apps/{main['Icon']}.svg", self.files)
        package = ElementTree.fromstring(self.files["share/mime/packages/cozy-burrow.xml"])
        self.assertEqual([one.get("type") for one in package], [kind])
        (glob,) = package.findall(".//{*}glob")
        self.assertEqual(glob.get("pattern"), "*.burrow")
        meta = ElementTree.fromstring(self.files[f"share/metainfo/{APP}.metainfo.xml"])
        self.assertEqual((meta.findtext("id"), meta.findtext("launchable")), (APP, f"{APP}.desktop"))
        self.assertEqual([one.get("version") for one in meta.iter("release")], [version()])
        self.assertEqual(meta.findtext("provides/mediatype"), kind)
        shots = Path(__file__).resolve().parents[2] / "docs" / "screenshots"
        for image in meta.iter("image"):
            self.assertTrue(str(image.text).startswith("https://made.up.example/"))
            self.assertTrue((shots / Path(str(image.text)).name).exists(), image.text)
        thumbnailer = self.files["share/thumbnailers/cozy-burrow.thumbnailer"].decode()
        self.assertIn(f"MimeType={kind};", thumbnailer)
        self.assertIn(f'\nExec="{PREFIX}/bin/cozy-burrow-thumbnail" %i %o %s\n', thumbnailer)

    def test_the_desktops_own_judges_find_nothing(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            for place, data in self.files.items():
                path = Path(name) / place
                path.parent.mkdir(parents=True, exist_ok=True)
                path.write_bytes(data)
            self.checked_by("desktop-file-validate", f"{name}/share/applications/{APP}.desktop")
            self.checked_by("appstreamcli", "validate", "--no-net", f"{name}/share/metainfo/{APP}.metainfo.xml")
            self.checked_by("update-mime-database", f"{name}/share/mime")
            if shutil.which("man") and shutil.which("groff"):  # a system made small may have a man that only says so
                words = [
                    "man",
                    "--warnings",
                    "--encoding=UTF-8",
                    "--local-file",
                    f"{name}/share/man/man1/cozy-burrow.1",
                ]
                done = subprocess.run(
                    words, capture_output=True, text=True, check=False, env=os.environ | {"MANWIDTH": "100"}
                )
                self.assertEqual((done.returncode, done.stderr), (0, ""))
                self.assertIn("--container", done.stdout)

    def test_the_manual_page_has_every_verb_and_every_option(self) -> None:
        page = self.files["share/man/man1/cozy-burrow.1"].decode().replace(r"\-", "-")
        import click

        context = click.Context(everything())
        for verb in VERBS:
            self.assertIn(f".SS {verb} ", page)
            command = everything().get_command(context, verb)
            assert command is not None
            for option in command.params:
                if isinstance(option, click.Option):
                    self.assertIn(option.opts[0], page, verb)

    def test_icons_are_as_large_as_their_folder_says(self) -> None:
        import io

        from PIL import Image

        sizes = {Path(place).parts[3]: data for place, data in self.files.items() if place.endswith(".png")}
        self.assertGreaterEqual(len(sizes), 6)
        for name, data in sizes.items():
            picture = Image.open(io.BytesIO(data))
            self.assertEqual(f"{picture.width}x{picture.height}", name)
            self.assertGreater(len(set(picture.convert("RGBA").getdata())), 3)  # painted, not empty

    def test_completions_name_the_program(self) -> None:
        for place in install_module.COMPLETIONS.values():
            self.assertIn(b"_COZY_BURROW_COMPLETE", self.files[place])


class Laying(unittest.TestCase):
    """Packages are left out here: to lay them takes minutes. `make install` into a scratch prefix tries them."""

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.base = Path(folder.name) / "with a blank"
        for name, stand_in in (
            ("_packages", lambda home, python: (home / "bin").mkdir(parents=True)),
            ("_tell_desktop", lambda base: None),
        ):
            replaced = patch.object(install_module, name, stand_in)
            replaced.start()
            self.addCleanup(replaced.stop)

    def test_everything_that_was_laid_goes_again_and_nothing_else(self) -> None:
        mine = self.base / "share" / "applications" / "mine.desktop"
        mine.parent.mkdir(parents=True)
        mine.write_text("somebody else's")
        for _ in range(2):  # over an earlier one
            install(self.base, None, sys.executable, "https://made.up.example")
        launcher = self.base / "bin" / "cozy-burrow"
        self.assertTrue(os.access(launcher, os.X_OK))
        self.assertIn(f'"{self.base}/lib/cozy-burrow/bin/python"', launcher.read_text())
        uninstall(self.base, None)
        self.assertEqual([one for one in self.base.rglob("*") if one.is_file()], [mine])
        self.assertFalse((self.base / "lib" / "cozy-burrow").exists())
        uninstall(self.base, None)  # nothing is there, and that is no error

    def test_a_packagers_tree_names_the_place_where_it_will_lie(self) -> None:
        install(PREFIX, self.base, sys.executable, "https://made.up.example")
        below = self.base / "opt" / "burrow"
        self.assertIn('"/opt/burrow/lib/cozy-burrow/bin/python"', (below / "bin" / "cozy-burrow").read_text())
        self.assertTrue((below / LIST).exists())


class Slim(unittest.TestCase):
    def test_what_is_linked_stays_and_builders_tools_go(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            packages = Path(name)
            for place in (
                "numpy/tests/__init__.py",
                "numpy/core.py",
                "numpy/__init__.pyi",
                "PySide6/__init__.py",
                "PySide6/QtCore.abi3.so",
                "PySide6/QtQml.abi3.so",
                "PySide6/designer",
                "PySide6/Qt/lib/libQt6Core.so.6",
                "PySide6/Qt/lib/libQt6Qml.so.6",
                "PySide6/Qt/qml/x.qml",
                "PySide6/Qt/plugins/platforms/libqxcb.so",
                "PySide6/Qt/plugins/sqldrivers/libqsqlite.so",
                "PySide6/Qt/translations/qtbase_de.qm",
                "PySide6/Qt/translations/qtbase_fr.qm",
            ):
                (packages / place).parent.mkdir(parents=True, exist_ok=True)
                (packages / place).write_text("x")
            core = packages / "PySide6/Qt/lib/libQt6Core.so.6"
            with patch("tools.slim._linked", lambda files: [core.resolve()]):
                self.assertNotIn(core, list(unneeded(packages)))
                self.assertGreater(slim(packages), 0)
            left = sorted(str(one.relative_to(packages)) for one in packages.rglob("*") if one.is_file())
        self.assertEqual(
            left,
            [
                "PySide6/Qt/lib/libQt6Core.so.6",
                "PySide6/Qt/plugins/platforms/libqxcb.so",
                "PySide6/Qt/translations/qtbase_de.qm",
                "PySide6/QtCore.abi3.so",
                "PySide6/__init__.py",
                "numpy/core.py",
            ],
        )
