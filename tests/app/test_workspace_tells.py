"""Whoever follows the document is told of everything that changed, whoever makes a change of his own meanwhile."""

from __future__ import annotations

from msgspec.structs import replace

from cozy_burrow.app.desk.workspace import Workspace
from cozy_burrow.core.model.edits import remove_items
from cozy_burrow.core.model.records import Project
from cozy_burrow.core.model.touched import Touched, touched
from cozy_burrow.demo.shipped import demo_project
from tests.app.qt import QtCase


class Told(QtCase):
    def setUp(self) -> None:
        super().setUp()
        self.workspace = Workspace(demo_project())
        self.heard: list[tuple[Touched, Project]] = []

    def listen(self) -> None:
        self.workspace.document_changed.connect(
            lambda: self.heard.append((self.workspace.touched, self.workspace.project))
        )

    def test_a_change_made_while_one_is_told_does_not_hide_it_from_those_told_later(self) -> None:
        """As a field does that loses the focus because what it belongs to is gone."""
        workspace, start = self.workspace, self.workspace.project
        title = "Another name"

        def names_it() -> None:
            if workspace.project.title != title:
                workspace.do("Name it", replace(workspace.project, title=title))

        workspace.document_changed.connect(names_it)
        self.listen()
        gone = start.items[0]
        workspace.do("Take it out", remove_items(start, [gone.id]))
        self.assertEqual([project.title for _, project in self.heard], [title, title])
        for told, project in self.heard:
            self.assertEqual(told, touched(start, project))
            self.assertIn(gone.id, told.items)
            self.assertTrue(told.words)

    def test_the_next_change_tells_of_itself_alone(self) -> None:
        workspace = self.workspace
        self.listen()
        workspace.do("Take it out", remove_items(workspace.project, [workspace.project.items[0].id]))
        workspace.do("Name it", replace(workspace.project, title="Another name"))
        self.assertEqual(len(self.heard), 2)
        self.assertEqual(self.heard[1][0], Touched(words=True))
