"""Pictures read from the disk beside the window: small ones for a list, whole ones in front."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, QMimeData
from PyQt6.QtGui import QIcon, QImage, QImageReader, QPixmap

from loose_rail.kernel.errors import LooseRailError
from loose_rail.screens.shared.dispatch import Dispatcher


class LoadedPictures:
    """`file_of` finds the file of a photograph, small or whole (on a worker thread); `arrived` is
    called when one more is there. What can't be read is told in `failed`."""

    def __init__(
        self,
        dispatcher: Dispatcher,
        file_of: Callable[[str, bool], Path],
        arrived: Callable[[], None],
    ) -> None:
        self._dispatcher, self._file_of, self._arrived = dispatcher, file_of, arrived
        self.icons: dict[str, QIcon] = {}
        self.images: dict[str, QImage] = {}
        self.failed: dict[str, str] = {}
        self._asked: set[tuple[str, bool]] = set()

    def ask(self, small: Iterable[str], whole: Iterable[str]) -> None:
        """Ask once for every one of these that is not there yet."""
        wanted = [(photo, True) for photo in small if photo not in self.icons]
        wanted += [(photo, False) for photo in whole if photo not in self.images]
        for photo, is_small in wanted:
            if photo not in self.failed and (photo, is_small) not in self._asked:
                self._asked.add((photo, is_small))
                self._load(photo, is_small)

    def _load(self, photo: str, small: bool) -> None:
        def read(task: object) -> QImage:
            reader = QImageReader(str(self._file_of(photo, small)))
            image = reader.read()
            if image.isNull():
                raise ValueError(reader.errorString())
            return image

        def done(image: QImage) -> None:
            self._asked.discard((photo, small))
            if small:
                pixmap = QPixmap.fromImage(image)
                self.icons[photo] = QIcon(pixmap)
                self.icons[photo].addPixmap(pixmap, QIcon.Mode.Selected)
            else:
                self.images[photo] = image
            self._arrived()

        def failed(error: Exception) -> None:
            words = error.one_line() if isinstance(error, LooseRailError) else str(error)
            self.failed[photo] = words
            if small:
                self.icons[photo] = QIcon()
            self._asked.discard((photo, small))
            self._arrived()

        self._dispatcher.run(read, done, failed)


def pictures_of(data: QMimeData | None) -> tuple[list[Path], bytes]:
    """What was dropped or pasted: files, or the bytes of one picture; neither where there is no
    picture in it."""
    if data is None:
        return [], b""
    paths = [Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()]
    if paths:
        return paths, b""
    image = data.imageData() if data.hasImage() else None
    if not isinstance(image, QImage) or image.isNull():
        return [], b""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return [], buffer.data().data()
