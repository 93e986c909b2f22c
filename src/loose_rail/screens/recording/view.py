"""The recording of the meters on a page of its own: zoom, markers, files out and in."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QEvent, QObject, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QVBoxLayout

from loose_rail.app.album import Album
from loose_rail.app.outcome import Outcome
from loose_rail.app.recording import Loaded, TraceDesk
from loose_rail.kernel.errors import LooseRailError
from loose_rail.screens.recording.present import stretch_sentence, trace_state
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.files import to_open, to_save
from loose_rail.screens.shared.page import FrontPage
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.strip_chart import StripChart
from loose_rail.screens.shared.widgets import WordsLine, clear_layout, label

ZOOM = 1.6
PAN = 0.25


class TraceView(FrontPage):
    """The recording of a job's meters, or a log that was read in its place."""

    def __init__(self, desk: TraceDesk, dispatcher: Dispatcher, album: Album) -> None:
        super().__init__()
        self.desk = desk
        self.album = album
        self._dispatcher = dispatcher
        self._title = label("Readings in time", "title")
        self.entry = WordsLine(
            "Words for a marker, or a column number of a log", "Words and Enter mark this moment"
        )
        self.entry.installEventFilter(self)
        self.chart = StripChart()
        self._sentence = label(wrap=True)
        for widget in (self._title, self.entry):
            self.main.addWidget(widget)
        self.below = StripChart()
        self.below.setAccessibleName("The other meter in time")
        self.below.setFixedHeight(150)
        self.below.setXLink(self.chart)
        self.below.hide()
        self.main.addWidget(self.chart, 1)
        self.main.addWidget(self.below)
        self.main.addWidget(self._sentence)
        self._facts = QVBoxLayout()
        self.side.addLayout(self._facts)
        self._keys = PageKeys(
            "recording",
            {
                "follow": self.follow,
                "csv": self.ask_csv,
                "png": self.ask_png,
                "sheet": self.to_sheet,
                "log": self.ask_log,
            },
        )
        for action in ("follow", "csv", "png", "log", "sheet"):
            self.side.addWidget(self._keys.button(action))
        self.set_action("Back to the job")
        self.action.setText("Back to the job   Esc")
        self.action.clicked.disconnect()
        self.action.clicked.connect(self.left)

    def draw_again(self) -> None:
        """Draw what there is by now."""
        state = trace_state(self.desk)
        self.chart.show_trace(list(state.channels))
        self.below.setVisible(bool(state.below))
        self.below.follows = False
        self.below.show_trace(list(state.below))
        self.chart.show_band(state.band)
        self.chart.show_markers(list(state.markers))
        self._say_what_is_seen()
        clear_layout(self._facts)
        for words in state.facts:
            self._facts.addWidget(label(words, wrap=True))

    def _say_what_is_seen(self) -> None:
        self._sentence.setText(stretch_sentence(self.desk, self._view()))

    def _view(self) -> tuple[float, float]:
        left, right = self.chart.viewRange()[0]
        return left, right

    def follow(self) -> None:
        """The newest sample at the right edge."""
        self.desk.own()
        self.chart.follow()
        self.draw_again()

    def ask_csv(self) -> None:
        """Where the CSV goes."""
        path = to_save(self, "Save the readings", "readings.csv", "CSV (*.csv)")
        if path is not None:
            self.save_csv(path)

    def save_csv(self, path: Path) -> None:
        """Write what is shown; a worker does it."""
        write = self.desk.writer(path)
        self._dispatcher.run(
            lambda task: write(),
            lambda _: self.said.emit(Outcome(f"Readings written to {path}.")),
            self._failed,
        )

    def _failed(self, error: Exception) -> None:
        words = error.one_line() if isinstance(error, LooseRailError) else str(error)
        self.said.emit(Outcome.refused(words))

    def ask_png(self) -> None:
        """Where the picture goes."""
        path = to_save(self, "Save the picture", "readings.png", "PNG (*.png)")
        if path is not None:
            self.save_png(path)

    def save_png(self, path: Path) -> None:
        """Write what is seen."""
        done = self.chart.save_picture(path)
        words = f"Picture written to {path}." if done else f"{path} can't be written."
        self.said.emit(Outcome(words) if done else Outcome.refused(words))

    def to_sheet(self) -> None:
        """Keep the plot with the job, for its sheet."""
        if not any(len(one) for one in self.desk.trace.channels):
            self.said.emit(Outcome.refused("Nothing recorded yet; there is nothing to print."))
            return
        picture, album, words = self.chart.paper_picture(), self.album, self._sentence.text()
        self._dispatcher.run(
            lambda task: album.keep_bytes(picture, "readings"),
            lambda kept: self.said.emit(album.record_plot(kept, words)),
            self._failed,
        )

    def ask_log(self) -> None:
        """Which log."""
        path = to_open(self, "A meter's log", "CSV (*.csv *.txt *.tsv);;All files (*)")
        if path is not None:
            self.read_log(path)

    def read_log(self, path: Path) -> None:
        """Read a log on a worker; its columns are then chosen by number."""
        self.said.emit(Outcome(f"Reading {path.name} …"))
        self._dispatcher.run(lambda task: self.desk.load(path), self._loaded, self._failed)

    def _loaded(self, loaded: Loaded) -> None:
        self.said.emit(self.desk.show(loaded))
        self.chart.follows = False
        self.draw_again()
        self._show_all()

    def _show_all(self) -> None:
        self.chart.getViewBox().autoRange()
        self._say_what_is_seen()

    def _take_words(self) -> None:
        text = self.entry.text().strip()
        if not text:
            self.left.emit()
            return
        notice = self.desk.words(text)
        self.entry.answered(notice.taken)
        self.said.emit(notice)
        self.draw_again()
        if self.desk.reads_log:
            self._show_all()

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Keys of the chart; letters and digits type."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        key, empty = event.key(), not self.entry.text()
        if self._keys.press(event):
            return True
        if key == Qt.Key.Key_Escape:
            self.left.emit()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take_words()
        elif empty and event.text() in ("+", "-"):
            self.chart.zoom(ZOOM if event.text() == "+" else 1 / ZOOM)
            self.draw_again()
        elif empty and key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.chart.pan(-PAN if key == Qt.Key.Key_Left else PAN)
            self.draw_again()
        else:
            return False
        return True

    def restyle(self) -> None:
        """The theme changed."""
        self.chart.restyle()
        self.below.restyle()

    def focus_work(self) -> None:
        """The line."""
        self.entry.setFocus()
