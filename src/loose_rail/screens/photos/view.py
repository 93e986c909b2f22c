"""The photographs of a job: small ones at the left, the chosen one large, one line for words."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QEvent, QMimeData, QObject, QSize, Qt
from PyQt6.QtGui import QImage, QKeyEvent, QKeySequence
from PyQt6.QtWidgets import (
    QApplication,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
)

from loose_rail.app.album import Album
from loose_rail.app.job_board import JobBoard
from loose_rail.app.kept_pictures import Kept
from loose_rail.app.outcome import Outcome
from loose_rail.screens.photos.canvas import ZOOM_STEP, PhotoCanvas
from loose_rail.screens.photos.loaded import LoadedPictures, pictures_of
from loose_rail.screens.photos.present import album_state
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.files import several_to_open
from loose_rail.screens.shared.page import FrontPage
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.widgets import WordsLine, clear_layout, label

PATTERN = "Photographs (*.jpg *.jpeg *.png *.webp *.bmp *.heic);;All files (*)"
HINT = "step 3, reading 4 or C205 hangs it there; other words are its name"
BUTTONS = {"files": "", "compare": "", "mark": "Mark the cross", "book": ""}
SMALL = QSize(112, 84)
MOVES = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, -1),
    Qt.Key.Key_Down: (0, 1),
}


class PhotoView(FrontPage):
    """The album of a job. Files are read on a worker thread."""

    def __init__(self, album: Album, dispatcher: Dispatcher, board: JobBoard) -> None:
        super().__init__()
        self.album, self._board = album, board
        self._dispatcher = dispatcher
        self._keeping = 0
        self.gone = False  # set when the job is closed: what arrives later is told elsewhere
        self.late: Callable[[Outcome], None] = lambda notice: None
        """Told what became of photographs when this page is gone already."""
        self._pictures = LoadedPictures(dispatcher, album.picture, self.draw_again)
        self._title = label(role="title")
        self.canvas = PhotoCanvas()
        self.entry = WordsLine("Name, step, reading or part of the photograph", HINT)
        self.entry.setPlaceholderText(
            "step 3, reading 4 or C205 hangs it there; other words are its name"
        )
        self.entry.installEventFilter(self)
        for widget in (self._title, self.entry):
            self.main.addWidget(widget)
        self.main.addWidget(self.canvas, 1)
        self.items = QListWidget()
        self.items.setAccessibleName("Photographs")
        self.items.setIconSize(SMALL)
        self.items.setMinimumHeight(300)
        self.items.currentRowChanged.connect(self._select)
        self._facts = QVBoxLayout()
        self.side.addWidget(self.items)
        self.side.addLayout(self._facts)
        self._keys = PageKeys(
            "photos",
            {
                "files": self.ask_files,
                "compare": self.compare,
                "mark": self.mark,
                "book": self.to_book,
            },
        )
        for action, words in BUTTONS.items():
            self.side.addWidget(self._keys.button(action, words))
        self.set_action("Back to the job")
        self.action.setText("Back to the job   Esc")
        self.action.clicked.disconnect()
        self.action.clicked.connect(self.left)

    # ---- drawing ---------------------------------------------------------------------------

    def draw_again(self) -> None:
        """Draw the album; pictures that are not loaded yet come when they are."""
        state = album_state(self.album)
        shown = [k for k in (state.selected, state.compared) if 0 <= k < len(state.items)]
        self._pictures.ask(
            [item.photo for item in state.items], [state.items[k].photo for k in shown]
        )
        self._title.setText(f"Photographs · {state.words}")
        self.items.blockSignals(True)
        self.items.clear()
        for item in state.items:
            row = QListWidgetItem(f"{item.number}  {item.caption}\n{item.about} · {item.moment}")
            if item.photo in self._pictures.icons:
                row.setIcon(self._pictures.icons[item.photo])
            self.items.addItem(row)
        self.items.setCurrentRow(state.selected if state.items else -1)
        self.items.blockSignals(False)
        images = []
        for number, points in zip(shown, (state.points, state.compared_points), strict=False):
            item = state.items[number]
            image = self._pictures.images.get(item.photo)
            marks = tuple((p.x, p.y, p.words) for p in points)
            title = f"{item.number} · {item.about} · {item.moment} the repair"
            images.append((image or QImage(), self._pictures.failed.get(item.photo, title), marks))
        self.canvas.show_images(images)
        clear_layout(self._facts)
        self._facts.addWidget(label(f"The next one hangs on: {state.subject}.", "quiet", wrap=True))
        words = "+ and − zoom, arrows move the cross, wheel and click do the same."
        self._facts.addWidget(label(words, "quiet", wrap=True))

    # ---- doing -----------------------------------------------------------------------------

    def _select(self, row: int) -> None:
        self.album.select(row)
        self.draw_again()

    def ask_files(self) -> None:
        """Choose files."""
        if paths := several_to_open(self, "Photographs", PATTERN):
            self.add_files(paths)

    def add_files(self, paths: list[Path]) -> None:
        """Keep files; read on a worker thread."""
        self._keep(lambda task: self.album.keep_files(paths))

    def add_mime(self, data: QMimeData | None) -> bool:
        """Keep what was dropped or pasted; False where there is no picture in it."""
        paths, pasted = pictures_of(data)
        if paths:
            self.add_files(paths)
        elif pasted:
            self._keep(lambda task: self.album.keep_bytes(pasted, "pasted"))
        return bool(paths or pasted)

    def _say_words(self, words: str) -> None:
        self.said.emit(Outcome.refused(words))

    def _keep(self, work: Callable[[object], Kept]) -> None:
        album = self.album
        self._keeping += 1

        def done(kept: Kept) -> None:
            notice = album.record(kept)  # the job's own album, also when its page is gone
            if self.gone:
                kept_aside = album.secure()
                self.late(Outcome(f"Job {album.ticket}: {notice.text} {kept_aside}", notice.kind))
                return
            self._keeping -= 1
            self.said.emit(notice)
            self.draw_again()

        def failed(error: Exception) -> None:
            words = f"Photographs were not kept: {error}"
            if self.gone:
                self.late(Outcome.refused(f"Job {album.ticket}: {words}"))
                return
            self._keeping -= 1
            self._say_words(words)

        self._dispatcher.run(work, done, failed)

    def finish(self, seconds: float) -> None:
        """Let photographs that are still being read arrive, at most for some seconds; then it is
        said that they did not."""
        end = time.monotonic() + seconds
        while self._keeping and time.monotonic() < end:
            QApplication.processEvents()
            time.sleep(0.01)
        if self._keeping:
            sys.stderr.write("loose-rail: photographs were still being read; they were not added\n")

    def compare(self) -> None:
        """Beside the one it belongs with."""
        self.said.emit(self.album.compare())
        self.draw_again()

    def mark(self) -> None:
        """Mark the cross; a line that names a part of the board names it first."""
        cross, text = self.canvas.cross, self.entry.text()
        ref, names, _ = text.partition("=")
        bound = self._board.line(text) if names and ref.strip() else Outcome("")
        if bound.taken:
            notice = self.album.mark(cross.x(), cross.y(), ref if names else text)
            notice = Outcome(f"{bound.text} {notice.text}".strip(), notice.kind)
        else:
            notice = bound
        if notice.taken:
            self.entry.clear()
        self.said.emit(notice)
        self.draw_again()

    def to_book(self) -> None:
        """The photograph in front belongs to the board of this job too, with its points."""
        self.said.emit(self._board.photo_to_book())

    def _take_words(self) -> None:
        text = self.entry.text()
        if not text.strip():
            self.left.emit()
            return
        notice = self.album.attach(text)
        if not notice.taken and self.album.photos:
            notice = self.album.caption(text)
        self.entry.answered(notice.taken)
        self.said.emit(notice)
        self.draw_again()

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Keys of the album; letters type once something stands in the line."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        key, empty = event.key(), not self.entry.text()
        if key == Qt.Key.Key_Escape:
            self.left.emit()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take_words()
        elif key in MOVES and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            row = self.items.currentRow() + (
                1 if key in (Qt.Key.Key_Down, Qt.Key.Key_Right) else -1
            )
            self._select(min(max(row, 0), self.items.count() - 1))
        elif key in MOVES and (empty or key in (Qt.Key.Key_Up, Qt.Key.Key_Down)):
            self.canvas.move_by(*MOVES[Qt.Key(key)])
        elif empty and event.text() in ("+", "-"):
            self.canvas.zoom_by(ZOOM_STEP if event.text() == "+" else 1 / ZOOM_STEP)
        elif not self._keys.press(event):
            return event.matches(QKeySequence.StandardKey.Paste) and self._pasted()
        return True

    def _pasted(self) -> bool:
        clipboard = QApplication.clipboard()
        return clipboard is not None and self.add_mime(clipboard.mimeData())

    def focus_work(self) -> None:
        """The line."""
        self.entry.setFocus()
