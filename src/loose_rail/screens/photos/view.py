"""The photographs of a job: small ones at the left, the chosen one large, one line for words."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QBuffer, QEvent, QIODevice, QMimeData, QObject, QSize, Qt
from PyQt6.QtGui import QIcon, QImage, QImageReader, QKeyEvent, QKeySequence, QPixmap
from PyQt6.QtWidgets import (
    QApplication,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
)

from loose_rail.app.album import Album, Kept
from loose_rail.app.outcome import Outcome
from loose_rail.kernel.errors import LooseRailError
from loose_rail.screens.photos.canvas import ZOOM_STEP, PhotoCanvas
from loose_rail.screens.photos.present import album_state
from loose_rail.screens.photos.state import AlbumState
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.files import several_to_open
from loose_rail.screens.shared.page import FrontPage
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.widgets import WordsLine, clear_layout, label

PATTERN = "Photographs (*.jpg *.jpeg *.png *.webp *.bmp *.heic);;All files (*)"
HINT = "step 3, reading 4 or C205 hangs it there; other words are its name"
SMALL = QSize(112, 84)
MOVES = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, -1),
    Qt.Key.Key_Down: (0, 1),
}


class PhotoView(FrontPage):
    """The album of a job. Files are read on a worker thread."""

    def __init__(self, album: Album, dispatcher: Dispatcher) -> None:
        super().__init__()
        self.album = album
        self._dispatcher = dispatcher
        self._keeping = 0
        self.gone = False  # set when the job is closed: what arrives later is told elsewhere
        self.late: Callable[[Outcome], None] = lambda notice: None
        """Told what became of photographs when this page is gone already."""
        self._icons: dict[str, QIcon] = {}
        self._images: dict[str, QImage] = {}
        self._failed: dict[str, str] = {}
        self._asked: set[tuple[str, bool]] = set()
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
            "photos", {"files": self.ask_files, "compare": self.compare, "mark": self.mark}
        )
        for action in ("files", "compare", "mark"):
            self.side.addWidget(self._keys.button(action))
        self.set_action("Back to the job")
        self.action.setText("Back to the job   Esc")
        self.action.clicked.disconnect()
        self.action.clicked.connect(self.left)

    # ---- drawing ---------------------------------------------------------------------------

    def draw_again(self) -> None:
        """Draw the album; pictures that are not loaded yet come when they are."""
        state = album_state(self.album)
        shown = [k for k in (state.selected, state.compared) if 0 <= k < len(state.items)]
        self._load_missing(state, shown)
        self._title.setText(f"Photographs · {state.words}")
        self.items.blockSignals(True)
        self.items.clear()
        for item in state.items:
            row = QListWidgetItem(f"{item.number}  {item.caption}\n{item.about} · {item.moment}")
            if item.photo in self._icons:
                row.setIcon(self._icons[item.photo])
            self.items.addItem(row)
        self.items.setCurrentRow(state.selected if state.items else -1)
        self.items.blockSignals(False)
        images = []
        for number, points in zip(shown, (state.points, state.compared_points), strict=False):
            item = state.items[number]
            image = self._images.get(item.photo)
            marks = tuple((p.x, p.y, p.words) for p in points)
            title = f"{item.number} · {item.about} · {item.moment} the repair"
            images.append((image or QImage(), self._failed.get(item.photo, title), marks))
        self.canvas.show_images(images)
        clear_layout(self._facts)
        self._facts.addWidget(label(f"The next one hangs on: {state.subject}.", "quiet", wrap=True))
        words = "+ and − zoom, arrows move the cross, wheel and click do the same."
        self._facts.addWidget(label(words, "quiet", wrap=True))

    def _load_missing(self, state: AlbumState, shown: list[int]) -> None:
        """Ask once for every thumbnail and for the pictures in front."""
        wanted = [(item.photo, True) for item in state.items if item.photo not in self._icons]
        wanted += [(state.items[k].photo, False) for k in shown]
        for photo, small in wanted:
            known = self._icons if small else self._images
            if photo in known or photo in self._failed or (photo, small) in self._asked:
                continue
            self._asked.add((photo, small))
            self._load(photo, small)

    def _load(self, photo: str, small: bool) -> None:
        def read(task: object) -> QImage:
            reader = QImageReader(str(self.album.picture(photo, small)))
            image = reader.read()
            if image.isNull():
                raise ValueError(reader.errorString())
            return image

        def done(image: QImage) -> None:
            self._asked.discard((photo, small))
            if small:
                pixmap = QPixmap.fromImage(image)
                self._icons[photo] = QIcon(pixmap)
                self._icons[photo].addPixmap(pixmap, QIcon.Mode.Selected)
            else:
                self._images[photo] = image
            self.draw_again()

        def failed(error: Exception) -> None:
            words = error.one_line() if isinstance(error, LooseRailError) else str(error)
            self._failed[photo] = words
            if small:
                self._icons[photo] = QIcon()
            self._asked.discard((photo, small))
            self.draw_again()

        self._dispatcher.run(read, done, failed)

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
        if data is None:
            return False
        paths = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()]
        if paths:
            self.add_files(paths)
            return True
        image = data.imageData() if data.hasImage() else None
        if not isinstance(image, QImage) or image.isNull():
            return False
        buffer = QBuffer()
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        image.save(buffer, "PNG")
        taken = buffer.data().data()
        self._keep(lambda task: self.album.keep_bytes(taken, "pasted"))
        return True

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
        """Mark the cross."""
        cross = self.canvas.cross
        notice = self.album.mark(cross.x(), cross.y(), self.entry.text())
        if notice.taken:
            self.entry.clear()
        self.said.emit(notice)
        self.draw_again()

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
