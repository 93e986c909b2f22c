"""The first power-up: the predicted course in time, the lamp, and the readings before and after."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QEvent, QObject, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from loose_rail.app.first_power import ForecastRequest
from loose_rail.app.outcome import Kind
from loose_rail.screens.power_up.soak_chart import SoakChart
from loose_rail.screens.power_up.state import NO_POINTS, Points, PowerUpState
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.card.view import NextProbeCard
from loose_rail.screens.shared.card.wiring import wire_card
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import CARD_WIDTH, LEAST_CARD, Side, StagePage
from loose_rail.screens.shared.page_keys import PageKeys
from loose_rail.screens.shared.pair_lines import PairLines
from loose_rail.screens.shared.plots import new_grid, styled
from loose_rail.screens.shared.widgets import WordsLine, button, clear_layout, label

Row = tuple[str, str, tuple[float, ...], tuple[float, ...]]
"""A chart: its name and unit, the course of a good board and of the faulty one."""

HINT = "150W or 100R 50W in line, always 150W keeps it · soak 4 h every 20 · bad flickers when warm"
PATTERNS_ACROSS = 3
"""Answers beside each other: five would not fit a narrow window."""


class CourseChart(QWidget):
    """Bulk, standby rail and lamp against time. pyqtgraph is imported when it is first shown."""

    def __init__(self) -> None:
        super().__init__()
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Predicted first power-up")

    def show_state(self, state: PowerUpState) -> None:
        """Draw the prediction, nothing while it is missing."""
        self.setAccessibleDescription(state.sentence)
        if not state.seconds:
            return
        import pyqtgraph as pg

        grid = new_grid(self._layout)
        rows: tuple[Row, ...] = (
            ("bulk", "V", state.bulk, state.faulty_bulk),
            ("standby", "V", state.standby, state.faulty_standby),
            ("glow", "%", _percent(state.glow), _percent(state.faulty_glow)),
        )
        if state.heat:
            heat = (_percent(state.heat), _percent(state.faulty_heat))
            rows = (*rows[:2], ("heat", "%", *heat))
        elif not state.patterns:  # nothing in line, nothing to show of it
            rows = rows[:2]
        first = None
        for number, (name, unit, sound, faulty) in enumerate(rows):
            plot = grid.addPlot(row=number, col=0)
            seconds = "seconds after plugging in, s" if number == len(rows) - 1 else ""
            styled(plot, f"{name}, {unit}", seconds).getAxis("left").setWidth(62)
            plot.plot(
                state.seconds,
                faulty,
                pen=pg.mkPen(theme.color("disagrees"), width=1.6, style=Qt.PenStyle.DashLine),
            )
            plot.plot(state.seconds, sound, pen=pg.mkPen(theme.color("agrees"), width=2.6))
            seen = {"bulk": state.measured_bulk, "standby": state.measured_standby}
            self._measured(pg, plot, seen.get(name, NO_POINTS))
            self._band(pg, plot, state, sound, unit)
            pull = pg.InfiniteLine(state.pull_seconds, pen=pg.mkPen(theme.color("action"), width=2))
            plot.addItem(pull)
            if first is None:
                first = plot
            else:
                plot.setXLink(first)

    def _measured(self, pg: Any, plot: Any, points: Points) -> None:
        """What the meters showed, sample by sample."""
        if points[0]:
            ink = theme.color("ink")
            plot.plot(
                *points,
                pen=pg.mkPen(ink, width=1.2),
                symbol="o",
                symbolSize=6,
                symbolBrush=ink,
                symbolPen=None,
            )

    def _band(
        self, pg: Any, plot: Any, state: PowerUpState, sound: tuple[float, ...], unit: str
    ) -> None:
        """Tolerance of the settled value as a band: 5 %."""
        if unit == "%":
            plot.setYRange(0, 100)
            return
        final = sound[-1]
        ground = theme.color("cold_ground")
        band = pg.LinearRegionItem(
            (0.95 * final, 1.05 * final),
            orientation="horizontal",
            movable=False,
            brush=ground,
            pen=pg.mkPen(theme.color("line")),
        )
        band.setZValue(-10)
        plot.addItem(band)
        plot.setYRange(0, 1.25 * final)


def _percent(values: tuple[float, ...]) -> tuple[float, ...]:
    return tuple(100 * value for value in values)


class Forecasting:
    """Works the forecast out on a worker where it is missing."""

    def __init__(self, host: JobHost) -> None:
        self._host = host
        self._running = False

    def start(self) -> None:
        """Ask for what is missing, once."""
        request = self._host.desks.forecast.missing(self._host.desks.session)
        if self._running or request is None:
            return
        self._running = True
        self._host.dispatcher.run(
            lambda task: request.work_out(), lambda found: self._done(request, found), self._failed
        )

    def _done(self, request: ForecastRequest, found: Any) -> None:
        self._running = False
        self._host.desks.forecast.keep(request, found)
        self._host.refresh()

    def _failed(self, error: Exception) -> None:
        self._running = False
        self._host.say(f"The prediction failed: {error}", Kind.REFUSED)


class PowerUpView(StagePage):
    """The power-up screen; its card takes the readings that prove the repair."""

    lamp_seen = pyqtSignal(str)
    said = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("page")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        holder = QWidget()
        main = QVBoxLayout(holder)
        main.setContentsMargins(22, 14, 22, 12)
        main.setSpacing(6)
        self._title = label(role="title", wrap=True)
        self._chart = CourseChart()
        self._soak = SoakChart()
        self._sentence = label(wrap=True)
        self._limiters = QHBoxLayout()
        self.line = WordsLine("Another limiter, or the soak", HINT)
        self.line.installEventFilter(self)
        self._keys = PageKeys(
            "power_up",
            {
                "line": self.line.setFocus,
                "next": lambda: self.said.emit("next"),
                "ok": self._soak_key,
                "again": lambda: self.said.emit("again"),
                "end": lambda: self.said.emit("end"),
            },
        )
        self._soak_row = QHBoxLayout()
        self._running: bool | None = None
        self._course = QVBoxLayout()
        self._course.setSpacing(1)
        self._patterns = QGridLayout()
        self._seen = label(role="strong", wrap=True)
        main.addWidget(self._title)
        main.addWidget(self._chart, 1)
        main.addWidget(self._soak, 1)
        main.addWidget(self._sentence)
        main.addLayout(self._limiters)
        main.addLayout(self._course)
        self._question = label(
            "What does it do? (Its number and Enter while the card asks for it, or click)",
            "quiet",
        )
        main.addWidget(self._question)
        main.addLayout(self._patterns)
        main.addWidget(self._seen)
        main.addLayout(self._soak_row)
        main.addWidget(self.line)
        row.addWidget(holder, 1)
        side = Side(CARD_WIDTH, LEAST_CARD)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 12)
        column.setSpacing(8)
        self._card = NextProbeCard()
        column.addWidget(self._card)
        inner = QVBoxLayout()
        inner.setContentsMargins(18, 0, 18, 0)
        self._pairs = PairLines()
        self._failed = label(role="alarm", wrap=True)
        self._proof = label(role="quiet", wrap=True)
        inner.addWidget(self._failed)
        inner.addWidget(self._pairs)
        inner.addWidget(self._proof)
        column.addLayout(inner)
        column.addStretch(1)
        row.addWidget(side)
        self._shown_key: tuple[object, ...] | None = None
        self._forecasting: Forecasting | None = None

    @property
    def card(self) -> NextProbeCard:
        """Takes the readings that prove the repair."""
        return self._card

    def attach(self, host: JobHost) -> None:
        """The card and the lamp lead to the job's commands; the forecast is asked for here."""
        wire_card(self.card, host)
        self.lamp_seen.connect(host.see_lamp)
        self.said.connect(lambda text: self._say(host, text))
        self._forecasting = Forecasting(host)

    def _say(self, host: JobHost, text: str) -> None:
        outcome = host.power_line(text)
        self.line.answered(outcome.taken)
        host.tell(outcome)

    def _soak_key(self) -> None:
        self.said.emit("ok" if self._running else "soak")

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter takes the line."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if enter and self.line.text().strip():
            self.said.emit(self.line.text().strip())
        return enter

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """The keys of the page, wherever the focus stands on it."""
        if event is not None and not self._keys.press(event):
            super().keyPressEvent(event)

    def _show_line(self, state: PowerUpState) -> None:
        """What can stand in line, then the soak with its keys."""
        clear_layout(self._limiters)
        clear_layout(self._soak_row)
        for text, words, chosen in state.limiters:
            item = button(words, role="chosen" if chosen else "")
            item.clicked.connect(lambda _=False, t=text: self.said.emit(t))
            self._limiters.addWidget(item)
        if state.limiters:
            self._limiters.addStretch(1)
        soak = state.soak
        self._running = soak.running if soak else None
        self._soak.setVisible(soak is not None)
        self._chart.setVisible(soak is None)
        if soak is None:
            return
        self._soak.show_state(soak)
        actions = (("ok", "It runs as it should"), ("again", "Read again"), ("end", "End"))
        for action, words in actions if soak.running else (("ok", "Start the soak"),):
            self._soak_row.addWidget(self._keys.button(action, words))
        self._soak_row.addStretch(1)

    def show_state(self, state: PowerUpState) -> None:
        """Draw the prediction, what was seen and the proof so far; once all is read, the soak."""
        self._show_line(state)
        self._title.setText(state.title)
        measured = (state.measured_bulk, state.measured_standby)
        key = (state.pull_seconds, len(state.seconds), state.title, measured)
        if key != self._shown_key:
            self._chart.show_state(state)
            self._shown_key = key
        soaked = state.soak.words if state.soak else ()
        self._sentence.setText(state.message or (soaked[0] if soaked else state.sentence))
        clear_layout(self._course)
        for words in soaked[1:] if soaked else state.course:
            self._course.addWidget(label(words, "quiet", wrap=True))
        clear_layout(self._patterns)
        patterns = () if state.soak else state.patterns
        for number, (pattern, words, chosen) in enumerate(patterns, start=1):
            item = button(f"{number}  {words}", role="chosen" if chosen else "")
            item.clicked.connect(lambda _=False, p=pattern: self.lamp_seen.emit(p))
            self._patterns.addWidget(item, *divmod(number - 1, PATTERNS_ACROSS))
        self._question.setVisible(bool(patterns))
        self._seen.setText(state.seen_words)
        self._seen.setVisible(bool(state.seen_words) and not state.soak)
        self.card.show_state(state.card, state.has_meter)
        self._pairs.show_state(state.pairs)
        self._failed.setText(f"Not repaired. {state.failed}" if state.failed else "")
        self._failed.setVisible(bool(state.failed))
        self._proof.setText(f"Level of proof now: {state.proof}")
        if self._forecasting is not None:
            self._forecasting.start()

    def restyle(self) -> None:
        """The theme changed: draw the chart again."""
        self._shown_key = None
