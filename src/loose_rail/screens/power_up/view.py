"""The first power-up: the predicted course in time, the lamp, and the readings before and after."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QSizePolicy, QVBoxLayout, QWidget

from loose_rail.screens.card.view import NextProbeCard
from loose_rail.screens.power_up.state import PowerUpState
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.pairs import PairView
from loose_rail.screens.shared.widgets import button, clear_layout, label


class CourseChart(QWidget):
    """Bulk, standby rail and lamp against time. pyqtgraph is imported when it is first shown."""

    def __init__(self) -> None:
        super().__init__()
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._plots: tuple[Any, ...] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Predicted first power-up")

    def show_state(self, state: PowerUpState) -> None:
        """Draw the prediction, nothing while it is missing."""
        self.setAccessibleDescription(state.sentence)
        if not state.seconds:
            return
        import pyqtgraph as pg

        clear_layout(self._layout)
        pg.setConfigOptions(antialias=True)
        grid = pg.GraphicsLayoutWidget()
        grid.setBackground(theme.current().panel)
        self._layout.addWidget(grid)
        rows = (
            ("bulk", "V", state.bulk, state.faulty_bulk),
            ("standby rail", "V", state.standby, state.faulty_standby),
            ("lamp glow", "%", _percent(state.glow), _percent(state.faulty_glow)),
        )
        if not state.patterns:  # no lamp in line, nothing to show of it
            rows = rows[:2]
        first = None
        for number, (name, unit, sound, faulty) in enumerate(rows):
            plot = grid.addPlot(row=number, col=0)
            self._style(plot, name, unit, number == len(rows) - 1)
            plot.plot(
                state.seconds,
                faulty,
                pen=pg.mkPen(theme.color("disagrees"), width=1.6, style=Qt.PenStyle.DashLine),
            )
            plot.plot(state.seconds, sound, pen=pg.mkPen(theme.color("agrees"), width=2.6))
            self._band(pg, plot, state, sound, unit)
            pull = pg.InfiniteLine(state.pull_seconds, pen=pg.mkPen(theme.color("action"), width=2))
            plot.addItem(pull)
            if first is None:
                first = plot
            else:
                plot.setXLink(first)
            plot.setMouseEnabled(False, False)
            plot.setMenuEnabled(False)
            plot.hideButtons()

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

    def _style(self, plot: Any, name: str, unit: str, last: bool) -> None:
        plot.setLabel("left", f"{name}, {unit}", color=theme.current().quiet)
        if last:
            plot.setLabel("bottom", "seconds after plugging in, s", color=theme.current().quiet)
        for axis in ("left", "bottom"):
            item = plot.getAxis(axis)
            item.setPen(theme.color("line"))
            item.setTextPen(theme.color("quiet"))
            item.setTickFont(theme.font("small"))
            item.label.setFont(theme.font("small"))
        plot.getAxis("left").setWidth(62)


def _percent(values: tuple[float, ...]) -> tuple[float, ...]:
    return tuple(100 * value for value in values)


class PairLines(QWidget):
    """Before and after on one short number line each."""

    def __init__(self) -> None:
        super().__init__()
        self._pairs: tuple[PairView, ...] = ()
        self.setAccessibleName("Before and after")

    def show_state(self, pairs: tuple[PairView, ...]) -> None:
        """Show these pairs."""
        self._pairs = pairs
        self.setMinimumHeight(64 * len(pairs))
        self.setAccessibleDescription(
            "; ".join(
                f"{p.title}: before {p.before}, after {p.after}"
                + ("" if p.good else ", not repaired")
                for p in pairs
            )
        )
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw each pair."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for number, pair in enumerate(self._pairs):
            self._pair(painter, pair, number * 64.0)
        painter.end()

    def _pair(self, painter: QPainter, pair: PairView, top: float) -> None:
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("quiet"))
        words = f"{pair.title} · sound {pair.expected}"
        room = QFontMetricsF(theme.font("small"))
        painter.drawText(
            QPointF(0, top + 13),
            room.elidedText(words, Qt.TextElideMode.ElideMiddle, self.width()),
        )
        left, right = 4.0, self.width() - 4.0
        finite = [v for v in (*pair.before_span, *pair.after_span) if v == v and abs(v) < 1e9]
        most = 1.15 * max([*finite, pair.expected_span[1], 1e-9])

        def at(value: float) -> float:
            return left + (right - left) * min(max(value / most, 0.0), 1.0)

        after = "agrees" if pair.good else "disagrees"
        y = top + 27
        low, high = pair.expected_span
        painter.fillRect(QRectF(at(low), y - 8, at(high) - at(low), 16), theme.color("cold_ground"))
        painter.setPen(QPen(theme.color("line"), 2))
        painter.drawLine(QPointF(left, y), QPointF(right, y))
        for ends, role, width in (
            (pair.before_span, "disagrees", 5),
            (pair.after_span, after, 9),
        ):
            if ends[0] != ends[0] or abs(ends[1]) > 1e9:
                continue
            painter.setPen(QPen(theme.color(role), width))
            a, b = at(ends[0]), at(ends[1])
            painter.drawLine(QPointF(a - 1, y), QPointF(max(b, a + 2), y))
        painter.setFont(theme.font("text", True))
        painter.setPen(theme.color("disagrees"))
        painter.drawText(QPointF(0, top + 53), f"before {pair.before}")
        painter.setPen(theme.color(after))
        painter.drawText(
            QRectF(0, top + 38, self.width(), 20),
            Qt.AlignmentFlag.AlignRight,
            f"after {pair.after}{'' if pair.good else ' · not repaired'}",
        )


class PowerUpView(QWidget):
    """The power-up screen; its card takes the readings that prove the repair."""

    lamp_seen = pyqtSignal(str)

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
        self._sentence = label(wrap=True)
        self._course = QVBoxLayout()
        self._course.setSpacing(1)
        self._patterns = QHBoxLayout()
        self._seen = label(role="strong", wrap=True)
        main.addWidget(self._title)
        main.addWidget(self._chart, 1)
        main.addWidget(self._sentence)
        main.addLayout(self._course)
        self._question = label(
            "What does the lamp do? (1 to 5 and Enter while the card asks for it, or click)",
            "quiet",
        )
        main.addWidget(self._question)
        main.addLayout(self._patterns)
        main.addWidget(self._seen)
        row.addWidget(holder, 1)
        side = QWidget()
        side.setObjectName("side")
        side.setFixedWidth(432)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 0, 0, 12)
        column.setSpacing(8)
        self.card = NextProbeCard()
        column.addWidget(self.card)
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
        self._shown_key: tuple[float, int] | None = None

    def show_state(self, state: PowerUpState, has_meter: bool) -> None:
        """Draw the prediction, what was seen and the proof so far."""
        self._title.setText(state.title)
        key = (state.pull_seconds, len(state.seconds))
        if key != self._shown_key:
            self._chart.show_state(state)
            self._shown_key = key
        self._sentence.setText(state.message or state.sentence)
        clear_layout(self._course)
        for words in state.course:
            self._course.addWidget(label(words, "quiet"))
        clear_layout(self._patterns)
        for number, (pattern, words, chosen) in enumerate(state.patterns, start=1):
            item = button(f"{number}  {words}", role="chosen" if chosen else "")
            item.clicked.connect(lambda _=False, p=pattern: self.lamp_seen.emit(p))
            self._patterns.addWidget(item)
        self._patterns.addStretch(1)
        self._question.setVisible(bool(state.patterns))
        self._seen.setText(state.seen_words)
        self._seen.setVisible(bool(state.seen_words))
        self.card.show_state(state.card, has_meter)
        self._pairs.show_state(state.pairs)
        self._failed.setText(f"Not repaired. {state.failed}" if state.failed else "")
        self._failed.setVisible(bool(state.failed))
        self._proof.setText(f"Level of proof now: {state.proof}")

    def restyle(self) -> None:
        """The theme changed: draw the chart again."""
        self._shown_key = None
