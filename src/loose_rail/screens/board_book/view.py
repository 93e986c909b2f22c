"""The board book: boards found by any of their numbers, each looked at and mended."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent, QKeySequence
from PyQt6.QtWidgets import QApplication, QHBoxLayout, QListWidget, QVBoxLayout

from loose_rail.app.board_album import SpotFacts
from loose_rail.app.board_desk import BookRow
from loose_rail.app.kept_pictures import Kept
from loose_rail.app.outcome import Outcome
from loose_rail.kernel.errors import LooseRailError
from loose_rail.kernel.quantities import percent
from loose_rail.screens.area_page import AreaPage
from loose_rail.screens.own_board.panel import BoardPanel, fill_side, fill_with_spot
from loose_rail.screens.photos.loaded import pictures_of
from loose_rail.screens.photos.view import PATTERN
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.files import several_to_open, to_open, to_save
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.widgets import WordsLine, label, set_role
from loose_rail.screens.workplace import Workplace

LIST_WIDTH = 220
FILES = "Boards (*.board.json *.json)"
WHAT_IT_COSTS = "What is missing, and what it costs"


class BoardBookView(AreaPage):
    """A list at the left; arrows go along it while letters are typed to find a number."""

    def __init__(self, dispatcher: Dispatcher) -> None:
        super().__init__()
        self._workplace: Workplace | None = None
        self._rows: list[BookRow] = []
        row = QHBoxLayout()
        row.setSpacing(18)
        column = QVBoxLayout()
        self._title = label("Board book", "title")
        column.addWidget(self._title)
        self.find_line = WordsLine("Find a board by any number", "any number of a board")
        self.find_line.textChanged.connect(lambda _: self._list())
        self.find_line.installEventFilter(self)
        self.rows = QListWidget()
        self.rows.setAccessibleName("Boards")
        self.rows.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.rows.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.rows.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.rows.currentRowChanged.connect(lambda _: self._show())
        for widget in (self.find_line, self.rows):
            widget.setFixedWidth(LIST_WIDTH)
            column.addWidget(widget)
        row.addLayout(column)
        self._dispatcher = dispatcher
        self.panel = BoardPanel(dispatcher=dispatcher)
        self.panel.photographs.chosen.connect(self._fill)
        self.panel.left.connect(self._back_to_the_list)
        self.panel.said.connect(self._say)
        row.addWidget(self.panel, 1)
        self.main.addLayout(row, 1)
        self._notice = label(wrap=True)
        self.main.addWidget(self._notice)
        self._about = self.scrolled_side()
        self._keys = PageKeys(
            "board_book",
            {
                "photos": self.turn_photographs,
                "files": self.ask_photographs,
                "map": self.turn_over,
                "import": self.ask_file,
                "export": self.ask_place,
                "missing": self.ask_what_is_missing,
            },
        )
        for action in ("photos", "files", "map", "import", "export", "missing"):
            self.side.addWidget(self._keys.button(action))
        self.set_action("Done")
        self.action.setText("Done   Esc")
        self.action.clicked.disconnect()
        self.action.clicked.connect(self.left)

    def begin(self, workplace: Workplace) -> None:
        """The page comes to the front; the board that was looked at last stays."""
        self._workplace = workplace
        self._notice.setText("")
        self._list()
        self.focus_work()

    def choose(self, board_id: str) -> None:
        """Look at one board."""
        self.find_line.clear()
        for number, row in enumerate(self._rows):
            if row.board_id == board_id:
                self.rows.setCurrentRow(number)

    def turn_over(self) -> None:
        """The rail map with the room of the list, and back."""
        self.panel.turn_over()
        self._make_room()

    def turn_photographs(self) -> None:
        """The photographs of the board with the room of the list, and back."""
        if self.panel.shows_photographs:
            self.panel.hide_photographs()
        elif self._workplace is not None and self.panel.desk is not None:
            self.panel.show_photographs(self._workplace.board_album(self.panel.desk))
        self._make_room()

    def _make_room(self) -> None:
        turned = self.panel.shows_map or self.panel.shows_photographs
        for widget in (self._title, self.find_line, self.rows):
            widget.setVisible(not turned)
        self._fill()
        self.panel.entry.setFocus()

    def _fill(self) -> None:
        """The side goes by what is looked at."""
        album = self.panel.photographs.album
        if self.panel.shows_photographs and album is not None:
            try:
                fill_with_spot(self._about, album.facts())
            except LooseRailError as error:
                self._notice.setText(error.one_line())
            return
        fill_side(self._about, self.panel.state)

    def ask_photographs(self) -> None:
        """Choose photographs of the board."""
        if paths := several_to_open(self, "Photographs of the board", PATTERN):
            self.add_photographs(paths)

    def add_photographs(self, paths: list[Path], pasted: bytes = b"") -> None:
        """Keep pictures, read on a worker thread; they belong to the board then."""
        if self._workplace is None or self.panel.desk is None:
            return
        if not self.panel.shows_photographs:
            self.turn_photographs()
        album = self.panel.photographs.album
        assert album is not None

        def work(task: object) -> Kept:
            return album.keep_bytes(pasted, "pasted") if pasted else album.keep_files(paths)

        def done(kept: Kept) -> None:
            if self.panel.photographs.album is album:
                self.panel.photographs.add(kept)
            else:  # another board stands there by now
                self._say(album.record(kept))

        def failed(error: Exception) -> None:
            self._say(Outcome.refused(f"Photographs were not kept: {error}"))

        self._dispatcher.run(work, done, failed)

    def ask_what_is_missing(self) -> None:
        """What is not known of this board, and what that costs; worked out beside the window."""
        workplace, desk = self._workplace, self.panel.desk
        if workplace is None or desk is None:
            return
        board_id = desk.board_id

        def done(lines: tuple[str, ...]) -> None:
            self._notice.setText("")
            if self.panel.desk is not None and self.panel.desk.board_id == board_id:
                fill_with_spot(self._about, SpotFacts(WHAT_IT_COSTS, (("", lines),)))

        def failed(error: Exception) -> None:
            told = error.one_line() if isinstance(error, LooseRailError) else str(error)
            self._say(Outcome.refused(f"That could not be worked out: {told}"))

        def progressed(share: float, words: str) -> None:
            self._notice.setText(f"Working out the predictions of {board_id}: {percent(share)}")

        self._dispatcher.run(
            lambda task: workplace.what_is_missing(board_id, task.progress),
            done,
            failed,
            progressed,
        )

    def _back_to_the_list(self) -> None:
        if self.panel.shows_map:
            self.turn_over()
        elif self.panel.shows_photographs:
            self.turn_photographs()
        self.find_line.setFocus()

    def ask_file(self) -> None:
        """Ask which file is taken in."""
        path = to_open(self, "Take a board in", FILES)
        if path is not None:
            self.take_file(path)

    def take_file(self, path: Path) -> None:
        """Take a board in from a file; it stands in front then."""
        if self.panel.desk is None:
            return
        board_id, outcome = self.panel.desk.take_file(path)
        self._say(outcome)
        if board_id:
            self._list()
            self.choose(board_id)

    def ask_place(self) -> None:
        """Ask where this board is written."""
        if self.panel.desk is None:
            return
        name = f"{self.panel.desk.board_id.replace('/', '-')}.board.json"
        path = to_save(self, "Write this board", name, FILES)
        if path is not None:
            self._say(self.panel.desk.give_file(path))

    def _list(self) -> None:
        if self._workplace is None:
            return
        standing = self.panel.desk.board_id if self.panel.desk else ""
        self._rows = self._workplace.boards(self.find_line.text())
        self.rows.blockSignals(True)
        self.rows.clear()
        for one in self._rows:
            jobs = f" · {one.jobs} job{'s' if one.jobs != 1 else ''}" if one.jobs else ""
            self.rows.addItem(
                f"{one.board_id}{'' if one.own else '  (example)'}{jobs}\n   {one.names}"
            )
        ids = [one.board_id for one in self._rows]
        self.rows.setCurrentRow(ids.index(standing) if standing in ids else 0)
        self.rows.blockSignals(False)
        self._show()

    def _show(self) -> None:
        number = self.rows.currentRow()
        if self._workplace is None or not 0 <= number < len(self._rows):
            return
        self.panel.show_desk(self._workplace.board_desk(self._rows[number].board_id))
        fill_side(self._about, self.panel.state)

    def _say(self, outcome: Outcome) -> None:
        self._notice.setText(outcome.text)
        set_role(self._notice, "bad" if not outcome.taken else "good")
        self._fill()
        if outcome.taken:
            self.settings_changed.emit()
            self._refresh_after()

    def _refresh_after(self) -> None:
        """A change may have given a board another number to be found by."""
        if self.panel.desk is None:
            return
        try:
            self.panel.state = self.panel.desk.state()
        except LooseRailError as error:
            self._notice.setText(error.one_line())
            return
        self._fill()

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Arrows go along the list, Enter goes to the board's line, Escape leaves."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        if self._keys.press(event):
            return True
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            row = min(max(self.rows.currentRow() + step, 0), max(len(self._rows) - 1, 0))
            self.rows.setCurrentRow(row)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.panel.entry.setFocus()
        elif event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            return False
        return True

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """The keys of the page, from any of its lines; a picture is pasted."""
        if event is None or self._keys.press(event):
            return
        clipboard = QApplication.clipboard()
        if event.matches(QKeySequence.StandardKey.Paste) and clipboard is not None:
            paths, pasted = pictures_of(clipboard.mimeData())
            if paths or pasted:
                self.add_photographs(paths, pasted)
                return
        super().keyPressEvent(event)

    def focus_work(self) -> None:
        """The line that finds."""
        self.find_line.setFocus()
