"""The recording of the meters on a page of its own: zoom, markers, files out and in."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QFileDialog, QVBoxLayout

from loose_rail.app.outcome import Outcome
from loose_rail.screens.shared.dispatch import Dispatcher
from loose_rail.screens.shared.page import Page
from loose_rail.screens.shared.strip_chart import StripChart
from loose_rail.screens.shared.widgets import WordsLine, button, clear_layout, label

ZOOM = 1.6
PAN = 0.25


class TraceView(Page):
    """`desk` is a `presenters.trace_desk.TraceDesk`."""

    left = pyqtSignal()
    said = pyqtSignal(object)

    def __init__(self, desk: Any, dispatcher: Dispatcher) -> None:
        super().__init__()
        self.desk = desk
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
        self._actions = {
            Qt.Key.Key_F5: self.follow,
            Qt.Key.Key_F6: self.ask_csv,
            Qt.Key.Key_F7: self.ask_png,
            Qt.Key.Key_F8: self.ask_log,
        }
        for words, key in (
            ("Follow the newest", Qt.Key.Key_F5),
            ("Save as CSV", Qt.Key.Key_F6),
            ("Save as PNG", Qt.Key.Key_F7),
            ("Read another meter's log", Qt.Key.Key_F8),
        ):
            made = button(words, f"F{key - Qt.Key.Key_F1 + 1}")
            made.clicked.connect(self._actions[key])
            self.side.addWidget(made)
        self.set_action("Back to the job")
        self.action.setText("Back to the job   Esc")
        self.action.clicked.disconnect()
        self.action.clicked.connect(self.left)

    def show_trace(self) -> None:
        """Draw what there is by now."""
        state = self.desk.state()
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
        self._sentence.setText(self.desk.sentence(self._view()))

    def _view(self) -> tuple[float, float]:
        left, right = self.chart.viewRange()[0]
        return left, right

    def follow(self) -> None:
        """The newest sample at the right edge."""
        self.desk.own()
        self.chart.follow()
        self.show_trace()

    def ask_csv(self) -> None:
        """Where the CSV goes."""
        name, _ = QFileDialog.getSaveFileName(
            self, "Save the readings", str(Path.home() / "readings.csv"), "CSV (*.csv)"
        )
        if name:
            self.save_csv(Path(name))

    def save_csv(self, path: Path) -> None:
        """Write what is shown; a worker does it."""
        write = self.desk.writer(path)
        self._dispatcher.run(
            lambda task: write(),
            lambda _: self.said.emit(Outcome(f"Readings written to {path}.")),
            self._failed,
        )

    def _failed(self, error: Exception) -> None:
        words = getattr(error, "one_line", lambda: str(error))()
        self.said.emit(Outcome.refused(words))

    def ask_png(self) -> None:
        """Where the picture goes."""
        name, _ = QFileDialog.getSaveFileName(
            self, "Save the picture", str(Path.home() / "readings.png"), "PNG (*.png)"
        )
        if name:
            self.save_png(Path(name))

    def save_png(self, path: Path) -> None:
        """Write what is seen."""
        done = self.chart.save_picture(path)
        words = f"Picture written to {path}." if done else f"{path} can't be written."
        self.said.emit(Outcome(words, "info" if done else "problem"))

    def ask_log(self) -> None:
        """Which log."""
        name, _ = QFileDialog.getOpenFileName(
            self, "A meter's log", str(Path.home()), "CSV (*.csv *.txt *.tsv);;All files (*)"
        )
        if name:
            self.read_log(Path(name))

    def read_log(self, path: Path) -> None:
        """Read a log on a worker; its columns are then chosen by number."""
        self.said.emit(Outcome(f"Reading {path.name} …"))
        self._dispatcher.run(lambda task: self.desk.load(path), self._loaded, self._failed)

    def _loaded(self, loaded: Any) -> None:
        self.said.emit(self.desk.show(loaded))
        self.chart.follows = False
        self.show_trace()
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
        self.show_trace()
        if self.desk.reads_log:
            self._show_all()

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Keys of the chart; letters and digits type."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        key, empty = event.key(), not self.entry.text()
        if key in self._actions:
            self._actions[Qt.Key(key)]()
        elif key == Qt.Key.Key_Escape:
            self.left.emit()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._take_words()
        elif empty and event.text() in ("+", "-"):
            self.chart.zoom(ZOOM if event.text() == "+" else 1 / ZOOM)
            self.show_trace()
        elif empty and key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.chart.pan(-PAN if key == Qt.Key.Key_Left else PAN)
            self.show_trace()
        else:
            return False
        return True

    def focus_work(self) -> None:
        """The line."""
        self.entry.setFocus()
