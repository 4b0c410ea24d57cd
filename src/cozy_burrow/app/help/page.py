"""The help: chapters to read, words to find in all of them, and the way back to the stage that they speak of."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QEvent, QSize, Qt, QTimer, QUrl
from PySide6.QtGui import QKeyEvent, QKeySequence, QResizeEvent, QShortcut, QTextBlock, QTextCursor
from PySide6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QTextBrowser,
    QTextEdit,
    QVBoxLayout,
    QWidget,
)

from cozy_burrow.app.frame.command import Command
from cozy_burrow.app.help.chapters import FIRST, STAGE, Chapter, chapter_of, chapters, places_in
from cozy_burrow.app.help.pictures import PICTURES, SCHEME
from cozy_burrow.app.look.fields import rows, soft
from cozy_burrow.app.look.theme.theme import Theme
from cozy_burrow.core.findings.telling import all_kinds
from cozy_burrow.core.tongue import tr, trn

_SIZE, _ROUND = QSize(980, 700), QSize(40, 60)  # as large as is read well, and what the desktop keeps round it
_LIST_PX, _LIST_SHARE = 250, 0.3
_MARGIN_PX = 14


class _Reader(QTextBrowser):
    """Shows a chapter, its drawings in the colours of the theme."""

    def __init__(self, theme: Callable[[], Theme], scale: float) -> None:
        super().__init__()
        self._theme, self._scale = theme, scale

    def show_chapter(self, chapter: Chapter) -> None:
        """Show a chapter with air round its paragraphs: Markdown sets them as tight as a form."""
        self.setMarkdown(chapter.text)
        document = self.document()
        document.setDocumentMargin(_MARGIN_PX * self._scale)
        document.setIndentWidth(20 * self._scale)
        cursor, block = QTextCursor(document), document.begin()
        while block.isValid():
            if not QTextCursor(block).currentTable():
                looks = block.blockFormat()
                looks.setTopMargin((12 if looks.headingLevel() else 0) * self._scale)
                looks.setBottomMargin((4 if looks.headingLevel() else 7) * self._scale)
                cursor.setPosition(block.position())
                cursor.setBlockFormat(looks)
            block = block.next()

    def loadResource(self, kind: int, name: QUrl | str) -> object:
        """Draw what a chapter names; nothing else is looked for anywhere."""
        address = name if isinstance(name, str) else name.toString()
        drawing = PICTURES.get(address.removeprefix(SCHEME))
        if drawing is None:
            return None
        room = self.viewport().width() - 2 * _MARGIN_PX * self._scale
        scale = max(0.5, min(self._scale, room / drawing.wide))
        return drawing.picture(self._theme(), scale=scale, ratio=self.devicePixelRatioF())


class HelpPage(QDialog):
    """Chapters on the left, what is read on the right, a line to find words above both."""

    def __init__(
        self,
        commands: Sequence[Command],
        *,
        theme: Callable[[], Theme],
        scale: float,
        go: Callable[[str], None],
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self._theme, self._scale, self._go = theme, scale, go
        self._chapters: tuple[Chapter, ...] = chapters(commands)
        self._dressed: Theme | None = None
        self._shown = ""
        self.setWindowTitle(tr("How this works"))
        room = self.screen().availableSize() - _ROUND
        self.resize((_SIZE * scale).boundedTo(room))
        column = QVBoxLayout(self)
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("Find in the help"))
        self.line.setAccessibleName(tr("Find in the help"))
        self.line.textChanged.connect(lambda _: self._find())
        self.line.returnPressed.connect(self.go_on)
        column.addWidget(self.line)
        self.told = soft("")
        column.addWidget(self.told)
        row = QHBoxLayout()
        column.addLayout(row, 1)
        self.list: QListWidget = rows(tr("Chapters"), least_px=200)
        self.list.setWordWrap(True)
        self.list.setSpacing(round(4 * scale))  # as high as what is pressed elsewhere
        self.list.currentRowChanged.connect(lambda _: self._show_current())
        row.addWidget(self.list)
        self.browser = _Reader(theme, scale)
        self.browser.setAccessibleName(tr("Help page"))
        self.browser.setOpenLinks(False)
        self.browser.anchorClicked.connect(self._follow)
        row.addWidget(self.browser, 1)
        QShortcut(QKeySequence(QKeySequence.StandardKey.Find), self, self.line.setFocus)
        self._find()
        self.show_topic(FIRST)
        self.line.setFocus()

    # What is shown

    @property
    def chapter(self) -> Chapter:
        """The chapter that is read."""
        return self._chapters[max(0, self.list.currentRow())]

    def show_topic(self, topic: str) -> None:
        """Turn to a chapter by its key, or to what is said of a check by its code; words to be found are let go."""
        self.line.clear()
        wanted = chapter_of(topic)
        number = next((n for n, one in enumerate(self._chapters) if one.key == wanted), 0)
        self.list.setCurrentRow(number)
        title = next((one.title for one in all_kinds() if one.code == topic), "")
        if title:
            block = next((one for one in self._blocks() if one.text() == title), None)
            if block is not None:
                self._go_to(block)

    def _show_current(self) -> None:
        chapter = self.chapter
        if chapter.key == self._shown and self._dressed == self._theme():
            return
        self._shown, self._dressed = chapter.key, self._theme()
        self.browser.show_chapter(chapter)
        self._mark()

    def resizeEvent(self, event: QResizeEvent) -> None:
        """The list keeps to its share of the width, drawings are as wide as there is room."""
        super().resizeEvent(event)
        self.list.setFixedWidth(round(min(_LIST_PX * self._scale, _LIST_SHARE * self.width())))
        if event.size().width() != event.oldSize().width() and self._shown:
            self._dressed = None
            QTimer.singleShot(0, self, self._show_current)  # once the page has its new width

    def _follow(self, link: QUrl) -> None:
        address = link.toString()
        if address.startswith(STAGE):
            self._go(address.removeprefix(STAGE))
        elif address.startswith("#"):
            self.show_topic(address[1:])

    def changeEvent(self, event: QEvent) -> None:
        """In other colours the drawings are drawn anew."""
        super().changeEvent(event)
        if event.type() in {QEvent.Type.StyleChange, QEvent.Type.PaletteChange} and self._shown:
            self._show_current()

    # What is looked for

    @property
    def _words(self) -> list[str]:
        return self.line.text().split()

    def _find(self) -> None:
        """Show in which chapters the words stand, and turn to the first of these."""
        counts = [places_in(chapter, self._words) for chapter in self._chapters]
        current = max(0, self.list.currentRow())
        self.list.blockSignals(True)
        self.list.clear()
        self.list.addItems(
            [f"{chapter.title} · {count}" if count else chapter.title for chapter, count in zip(self._chapters, counts)]
        )
        for number, chapter in enumerate(self._chapters):
            self.list.item(number).setToolTip(chapter.title)
        first = current if counts[current] or not any(counts) else next(n for n, one in enumerate(counts) if one)
        self.list.setCurrentRow(first)
        self.list.blockSignals(False)
        self._tell(counts)
        self._show_current()
        self._mark()

    def _tell(self, counts: Sequence[int]) -> None:
        if not self._words:
            self.told.setText(tr("Type a word, or choose a chapter. Ctrl+Space in the window finds commands."))
        elif not any(counts):
            text = tr("Nothing here speaks of ‘{words}’. Try another word, or Ctrl+Space in the window for commands.")
            self.told.setText(text.format(words=" ".join(self._words)))
        else:
            places = trn("{count} place", "{count} places", sum(counts))
            self.told.setText(tr("{places}. Enter goes to the next.", places=places))

    def _blocks(self) -> list[QTextBlock]:
        found, block = [], self.browser.document().begin()
        while block.isValid():
            found.append(block)
            block = block.next()
        return found

    def _hits(self) -> list[QTextBlock]:
        """Return the paragraphs that are read in which the words occur: all of them, else any, as in a table."""
        words = [word.casefold() for word in self._words]
        if not words:
            return []
        blocks = self._blocks()
        return [one for one in blocks if all(word in one.text().casefold() for word in words)] or [
            one for one in blocks if any(word in one.text().casefold() for word in words)
        ]

    def _mark(self) -> None:
        """Mark the words where they are found, and go to the first place."""
        hits = self._hits()
        places = {one.blockNumber() for one in hits}
        marks = []
        for word in self._words:
            cursor = self.browser.document().find(word)
            while not cursor.isNull():
                mark = QTextEdit.ExtraSelection()
                mark.cursor = cursor
                mark.format.setBackground(self._theme().colour("accent_soft"))
                marks += [mark] if cursor.blockNumber() in places else []
                cursor = self.browser.document().find(word, cursor)
        self.browser.setExtraSelections(marks)
        if hits:
            self._go_to(hits[0])

    def go_on(self) -> None:
        """Go to the next place where the words stand, over the end of the chapter too."""
        at = self.browser.textCursor().block().blockNumber()
        later = next((one for one in self._hits() if one.blockNumber() > at), None)
        if later is not None:
            self._go_to(later)
            return
        counts = [places_in(chapter, self._words) for chapter in self._chapters]
        here = max(0, self.list.currentRow())
        order = [*range(here + 1, len(counts)), *range(here + 1)]
        following = next((n for n in order if counts[n]), None)
        if following is not None:
            self.list.setCurrentRow(following)
            self._mark()

    def _go_to(self, block: QTextBlock) -> None:
        """Put the caret into a paragraph, and the paragraph near the top of what is seen."""
        self.browser.setTextCursor(QTextCursor(block))
        top = self.browser.document().documentLayout().blockBoundingRect(block).top()
        self.browser.verticalScrollBar().setValue(round(top) - 8)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Escape lets go of the words first, and closes the page then; Enter never does."""
        if event.key() == Qt.Key.Key_Escape and self.line.text():
            self.line.clear()
            self.line.setFocus()
        elif event.key() not in {Qt.Key.Key_Return, Qt.Key.Key_Enter}:
            super().keyPressEvent(event)
