"""The photographs of a board with their points: one in front, the others small beside it."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QImage, QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem, QWidget

from loose_rail.app.board_album import BoardAlbum, spot_words
from loose_rail.app.kept_pictures import Kept
from loose_rail.app.outcome import Outcome
from loose_rail.kernel.errors import LooseRailError
from loose_rail.screens.photos.canvas import ZOOM_STEP, PhotoCanvas
from loose_rail.screens.photos.loaded import LoadedPictures
from loose_rail.screens.shared.dispatch import Dispatcher

LIST_WIDTH = 150
SMALL, ROOM = QSize(112, 84), QSize(132, 122)
MOVES = {
    Qt.Key.Key_Left: (-1, 0),
    Qt.Key.Key_Right: (1, 0),
    Qt.Key.Key_Up: (0, -1),
    Qt.Key.Key_Down: (0, 1),
}


class BoardPhotographs(QWidget):
    """`said` tells what was done; `chosen` that another point, or none, is looked at."""

    said = pyqtSignal(object)
    chosen = pyqtSignal()

    def __init__(self, dispatcher: Dispatcher) -> None:
        super().__init__()
        self._dispatcher = dispatcher
        self.album: BoardAlbum | None = None
        self._pictures: LoadedPictures | None = None
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(8)
        self.canvas = PhotoCanvas()
        self.canvas.empty_words = "No photograph of this board yet: F5 adds files, Ctrl+V pastes."
        self.canvas.pointed.connect(self._pointed)
        row.addWidget(self.canvas, 1)
        self.items = QListWidget()
        self.items.setAccessibleName("Photographs of the board")
        self.items.setIconSize(SMALL)
        self.items.setFixedWidth(LIST_WIDTH)
        self.items.setViewMode(QListWidget.ViewMode.IconMode)  # its name under a picture
        self.items.setMovement(QListWidget.Movement.Static)
        self.items.setGridSize(ROOM)
        self.items.setWordWrap(True)
        self.items.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.items.currentRowChanged.connect(self._select)
        row.addWidget(self.items)

    def show_album(self, album: BoardAlbum) -> None:
        """The photographs of another board, or the same after a change."""
        if self.album is None or self.album.desk.board_id != album.desk.board_id:
            self._pictures = LoadedPictures(self._dispatcher, album.picture, self.draw_again)
        self.album = album
        self.draw_again()

    def draw_again(self) -> None:
        """Draw the photographs; pictures that are not loaded yet come when they are."""
        album, pictures = self.album, self._pictures
        if album is None or pictures is None:
            return
        try:
            board, photos = album.desk.board(), album.photos
        except LooseRailError as error:
            self.said.emit(Outcome.refused(error.one_line()))
            return
        self.items.blockSignals(True)
        self.items.clear()
        for number, one in enumerate(photos, start=1):
            item = QListWidgetItem(f"{number}  {one.caption}")
            if one.photo in pictures.icons:
                item.setIcon(pictures.icons[one.photo])
            self.items.addItem(item)
        self.items.setCurrentRow(album.selected if photos else -1)
        self.items.setVisible(len(photos) > 1)
        self.items.blockSignals(False)
        if not photos:
            self.canvas.show_images([])
            return
        front = photos[album.selected]
        marks = tuple((s.x, s.y, spot_words(board, s.at).partition(",")[0]) for s in front.spots)
        title = pictures.failed.get(
            front.photo, front.caption or f"photograph {album.selected + 1}"
        )
        image = pictures.images.get(front.photo) or QImage()
        self.canvas.show_images([(image, title, marks)])
        pictures.ask([one.photo for one in photos], [front.photo])

    def add(self, kept: Kept) -> None:
        """Pictures that a worker has kept belong to the board now."""
        if self.album is not None:
            self.said.emit(self.album.record(kept))
            self.draw_again()

    def enter(self, text: str) -> Outcome:
        """A typed line, with the cross where it stands."""
        assert self.album is not None
        cross = self.canvas.cross
        outcome = self.album.enter(text, cross.x(), cross.y())
        self.draw_again()
        self.chosen.emit()
        return outcome

    def press(self, event: QKeyEvent, empty: bool) -> bool:
        """Keys beside an empty line: arrows move the cross, + and − zoom, with Ctrl the next
        photograph; whether it was one of these."""
        key = Qt.Key(event.key())
        if key in MOVES and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            step = 1 if key in (Qt.Key.Key_Down, Qt.Key.Key_Right) else -1
            self._select(min(max(self.items.currentRow() + step, 0), self.items.count() - 1))
        elif key in MOVES and (empty or key in (Qt.Key.Key_Up, Qt.Key.Key_Down)):
            self.canvas.move_by(*MOVES[key])
        elif empty and event.text() in ("+", "-"):
            self.canvas.zoom_by(ZOOM_STEP if event.text() == "+" else 1 / ZOOM_STEP)
        else:
            return False
        return True

    def _select(self, number: int) -> None:
        if self.album is not None:
            self.album.select(number)
            self.draw_again()
            self.chosen.emit()

    def _pointed(self, x: float, y: float) -> None:
        if self.album is None:
            return
        try:
            self.album.pointed(x, y)
        except LooseRailError as error:
            self.said.emit(Outcome.refused(error.one_line()))
        self.chosen.emit()
