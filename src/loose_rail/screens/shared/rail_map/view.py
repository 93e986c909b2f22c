"""The rail map: power from left to right, drawn from the board's profile."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QBrush, QColor, QFontMetricsF, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from loose_rail.screens.shared import theme
from loose_rail.screens.shared.rail_map.layout import MapLayout, RailPlace, lay_out
from loose_rail.screens.shared.rail_map.state import BlockView, RailMapState, RailView, StopView
from loose_rail.screens.shared.widgets import draw_mark, fill_round
from loose_rail.vocabulary.mark import Mark

FLAG_RISE, FLAG_RISE_CLOSE = 82.0, 52.0
"""How far above its stop the flag stands; close rails leave room for no more."""
FLAG_SHIFTS = (0.0, 7.0, 14.0, 21.0, 28.0, -8.0, -16.0)
"""How much lower it may stand where it would hide a word."""
TITLE_RISE = 26
READING_AIR = 6.0
TWO_LINES = 40.0
NAMES_NEAR = 4
"""Names beside a number that say what it is of."""


class RailMap(QWidget):
    """Draws a `RailMapState`; takes no input of its own."""

    def __init__(self) -> None:
        super().__init__()
        self._state: RailMapState | None = None
        self._words: list[tuple[float, float, float, float]] = []
        """Where words stand in the present drawing."""
        self._said: list[tuple[QRectF, str]] = []
        """The same with the words themselves."""
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(540, 330)
        self.setAccessibleName("Rail map")

    def sizeHint(self) -> QSize:
        """Roomy enough for three rails."""
        return QSize(840, 430)

    def show_state(self, state: RailMapState) -> None:
        """Draw another state."""
        if state == self._state:
            return
        self._state = state
        self.setAccessibleDescription(state.summary)
        self.update()

    def words_at(self, point: QPointF) -> str:
        """The words that stand at a point, with the names that stand nearest above or beside."""
        here = [said for box, said in self._said if box.contains(point)]
        if not here:
            return ""
        near = sorted(self._said, key=lambda one: (one[0].center() - point).manhattanLength())
        return " · ".join([here[0], *(said for _, said in near[:NAMES_NEAR])])

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw everything."""
        if self._state is None:
            return
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        layout = lay_out(self._state, float(self.width()), float(self.height()))
        self._words.clear()
        self._said.clear()
        self._grounds(painter, layout)
        self._hot_side(painter, layout)
        for rail, place in zip(self._state.rails, layout.rails, strict=True):
            self._rail(painter, rail, place, layout)
        for rail, place in zip(self._state.rails, layout.rails, strict=True):
            self._stops(painter, rail, place, layout)
        self._connector(painter, layout)
        self._flag(painter, layout)
        painter.end()

    # ---- grounds ---------------------------------------------------------------------------

    def _grounds(self, painter: QPainter, layout: MapLayout) -> None:
        mains = self._state is not None and self._state.mains_side
        ground: theme.Role = "hot_ground" if mains else "panel"
        painter.fillRect(QRectF(0, 0, layout.barrier_left, layout.height), theme.color(ground))
        cold = QRectF(layout.barrier_right, 0, layout.width, layout.height)
        painter.fillRect(cold, theme.color("cold_ground"))
        band = QRectF(
            layout.barrier_left, 0, layout.barrier_right - layout.barrier_left, layout.height
        )
        painter.fillRect(band, theme.color("panel"))
        if not mains:
            self._text(painter, QPointF(16, 22), "INPUT", "cold", bold=True)
            self._legend(painter, layout)
            return
        painter.save()
        painter.setClipRect(band)
        painter.setPen(QPen(theme.color("hot"), 1.4))
        y = -band.width()
        while y < layout.height:
            painter.drawLine(QPointF(band.left(), y + band.width()), QPointF(band.right(), y))
            y += 11
        painter.restore()
        self._text(painter, QPointF(16, 22), "HOT SIDE", "hot", bold=True)
        self._text(painter, QPointF(layout.width - 16, 22), "COLD SIDE", "cold", "right", True)
        self._legend(painter, layout)

    def _legend(self, painter: QPainter, layout: MapLayout) -> None:
        for number, words in enumerate(self._state.legend if self._state else ()):
            point = QPointF(16, layout.height - 22 + 15 * number)
            self._text(painter, point, words, "quiet", size="small")

    # ---- hot side --------------------------------------------------------------------------

    def _hot_side(self, painter: QPainter, layout: MapLayout) -> None:
        for line in layout.hot_lines:
            painter.setPen(_pen(_line_role(line.verdict), 6 if line.verdict is Mark.AGREES else 4))
            painter.drawPolyline(QPolygonF(line.points))
        for start, end in layout.crossings:
            painter.setPen(QPen(theme.color("ink"), 1.6, Qt.PenStyle.DashLine))
            painter.drawLine(start, end)
        for block, box in layout.blocks:
            self._block(painter, block, box)
        for stop, point, row in layout.hot_stops:
            self._stop(painter, stop, point, above=row % 2 == 0)

    def _block(self, painter: QPainter, block: BlockView, box: QRectF) -> None:
        self._frame_halo(painter, box, block.suspicion)
        line = theme.color("action" if block.is_next else "ink")
        fill_round(painter, box, theme.color("card"), line, 2.6 if block.is_next else 1.6)
        if box.height() < TWO_LINES:
            painter.setFont(theme.font("text"))
            painter.setPen(theme.color("ink"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, block.title)
            return
        top = QRectF(box.left(), box.top() + 5, box.width(), box.height() / 2 - 3)
        low = QRectF(box.left(), box.center().y(), box.width(), box.height() / 2 - 5)
        painter.setFont(theme.font("text"))
        painter.setPen(theme.color("ink"))
        painter.drawText(top if block.subtitle else box, Qt.AlignmentFlag.AlignCenter, block.title)
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("quiet"))
        words = _elided(block.subtitle, "small", box.width() - 6)
        painter.drawText(low, Qt.AlignmentFlag.AlignCenter, words)
        if block.reading:
            point = QPointF(box.center().x(), box.bottom() + 17)
            self._text(painter, point, block.reading, _verdict_role(block.verdict), "centre")

    # ---- rails -----------------------------------------------------------------------------

    def _rail(self, painter: QPainter, rail: RailView, place: RailPlace, layout: MapLayout) -> None:
        width = {Mark.AGREES: 6, Mark.DISAGREES: 5}.get(rail.verdict, 4)
        painter.setPen(_pen(_line_role(rail.verdict), width))
        wrong = rail.verdict is Mark.DISAGREES
        if wrong:
            self._broken_line(painter, rail, place, layout)
        else:
            painter.drawLine(QPointF(place.left, place.y), QPointF(place.right, place.y))
        title_role: theme.Role = "disagrees" if wrong else "ink"
        where = QPointF(place.left, place.y - (12 if layout.compact else TITLE_RISE))
        size, bold = "small" if layout.compact else "text", rail.verdict is not Mark.UNREAD
        title = rail.title
        if layout.compact and rail.pin_reading:
            metrics = QFontMetricsF(theme.font("text", True))
            taken = metrics.horizontalAdvance(rail.pin_reading) + 16
            title = _elided(title, size, place.right - place.left - taken, bold)
        self._text(painter, where, title, title_role, bold=bold, size=size)
        if rail.pin_reading:
            point = QPointF(place.right - 6, place.y - (12 if layout.compact else 41))
            self._text(
                painter, point, rail.pin_reading, _verdict_role(rail.pin_verdict), "right", True
            )

    def _stops(
        self, painter: QPainter, rail: RailView, place: RailPlace, layout: MapLayout
    ) -> None:
        """The stops of a rail, once the words of every rail stand: their readings dodge these."""
        taken = 0.0  # right end of the last reading on the first line
        metrics = QFontMetricsF(theme.font("text"))
        for stop, x in zip(rail.stops, place.stop_xs, strict=True):
            if layout.compact:
                self._close_stop(painter, stop, QPointF(x, place.y))
                continue
            half = 0.5 * metrics.horizontalAdvance(stop.reading)
            lower = x - half < taken + READING_AIR
            if stop.reading and not lower:
                taken = x + half
            self._rail_stop(painter, stop, QPointF(x, place.y), lower)

    def _broken_line(
        self, painter: QPainter, rail: RailView, place: RailPlace, layout: MapLayout
    ) -> None:
        """Solid up to where it fails, a jagged step there, and on."""
        stops = place.stop_xs
        number = max(rail.fails_at, 0)
        following = stops[number + 1] if number + 1 < len(stops) else place.right
        x = 0.5 * (stops[number] + following) - 14
        y = place.y
        painter.drawLine(QPointF(place.left, y), QPointF(x, y))
        tall = 6 if layout.compact else 9
        zigzag = [(0, 0), (6, -tall), (14, tall), (22, -tall), (28, 0)]
        painter.drawPolyline(QPolygonF([QPointF(x + a, y + b) for a, b in zigzag]))
        painter.drawLine(QPointF(x + 28, y), QPointF(place.right, y))

    def _close_stop(self, painter: QPainter, stop: StopView, point: QPointF) -> None:
        """A stop where rails are close: its reading takes the place of its name."""
        self._halo(painter, point, 6, 0.5 * stop.suspicion)
        if stop.is_next:
            self._next_ring(painter, point)
        draw_mark(painter, point, 6.5, stop.verdict)
        words = f"{stop.label} {stop.reading}".strip()
        role: theme.Role = _verdict_role(stop.verdict) if stop.reading else "quiet"
        drop = 30 if stop.is_next else 23  # clear of the dashed ring
        self._text(painter, point + QPointF(0, drop), words, role, "centre", size="small")

    def _rail_stop(self, painter: QPainter, stop: StopView, point: QPointF, lower: bool) -> None:
        self._halo(painter, point, 14, stop.suspicion)
        if stop.is_next:
            self._next_ring(painter, point)
        draw_mark(painter, point, 7.5, stop.verdict)
        self._text(painter, point + QPointF(0, 34), stop.label, "quiet", "centre")
        if stop.reading:
            self._reading(painter, stop, point, (62, 48, 76) if lower else (48, 62, 76))

    def _stop(self, painter: QPainter, stop: StopView, point: QPointF, above: bool) -> None:
        self._halo(painter, point, 18, stop.suspicion)
        if stop.is_next:
            self._next_ring(painter, point)
        draw_mark(painter, point, 7.5, stop.verdict)
        self._text(painter, point + QPointF(0, -32), stop.label, "ink", "centre")
        if stop.reading:
            drops = (44, 60, 28) if above else (60, 44, 28)
            self._reading(painter, stop, point, drops)

    def _connector(self, painter: QPainter, layout: MapLayout) -> None:
        assert self._state is not None
        connector, box = self._state.connector, layout.connector
        self._frame_halo(painter, box, connector.suspicion)
        line = theme.color("action" if connector.is_next else "ink")
        fill_round(painter, box, theme.color("card"), line, 2.6 if connector.is_next else 1.6)
        centre = box.center().x()
        self._text(painter, QPointF(centre, box.top() + 20), connector.ref, "ink", "centre", True)
        y = box.top() + 20
        for title in _wrapped(connector.title, "small", box.width() - 8):
            y += 16
            self._text(painter, QPointF(centre, y), title, "quiet", "centre", size="small")
        y += 24
        step = min(24.0, (box.bottom() - y) / max(len(connector.pins), 1))
        for number, pin in enumerate(connector.pins):
            place = QPointF(box.left() + 10, y + number * step)
            words = _elided(pin, "small", box.width() - 14)
            self._text(painter, place, words, "ink", size="small")

    # ---- pieces ----------------------------------------------------------------------------

    def _flag(self, painter: QPainter, layout: MapLayout) -> None:
        assert self._state is not None
        if not self._state.next_label or layout.flag_at is None:
            return
        metrics = QFontMetricsF(theme.font("text", True))
        width = metrics.horizontalAdvance(self._state.next_label) + 22
        anchor = layout.flag_at
        left = min(max(anchor.x() - width / 2, 6.0), layout.width - width - 6)
        rise = FLAG_RISE_CLOSE if layout.compact else FLAG_RISE
        aside = width / 2 - 14  # its stem still meets it
        lefts = [min(max(left + by, 6.0), layout.width - width - 6) for by in (0, -aside, aside)]
        places = [
            QRectF(x, max(anchor.y() - rise + shift, 28.0), width, 26)
            for x in lefts
            for shift in FLAG_SHIFTS
        ]
        box = min(places, key=self._hidden)  # the first of those that hide least
        self._stem(painter, layout, anchor, box.bottom())
        fill_round(painter, box, theme.color("action"), theme.color("action"), 1)
        painter.setFont(theme.font("text", True))
        painter.setPen(theme.color("on_action"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self._state.next_label)

    def _hidden(self, box: QRectF) -> float:
        """Square pixels of words under a box."""
        left, top, right, bottom = box.getCoords()
        hidden = 0.0
        for words in self._words:  # asked some hundred times a frame
            width = min(right, words[2]) - max(left, words[0])
            if width > 0:
                hidden += width * max(min(bottom, words[3]) - max(top, words[1]), 0.0)
        return hidden

    def _stem(self, painter: QPainter, layout: MapLayout, anchor: QPointF, top: float) -> None:
        """From the flag down to its stop, broken where it would cross the rail's title."""
        assert self._state is not None
        stretches = [(top, anchor.y() - 17)]
        for rail, place in zip(self._state.rails, layout.rails, strict=True):
            if layout.compact or abs(place.y - anchor.y()) > 1:
                continue
            metrics = QFontMetricsF(theme.font("text", rail.verdict is not Mark.UNREAD))
            title = place.y - TITLE_RISE
            if place.left - 3 < anchor.x() < place.left + metrics.horizontalAdvance(rail.title) + 3:
                stretches = [(top, title - metrics.ascent()), (title + 5, anchor.y() - 17)]
        painter.setPen(QPen(theme.color("action"), 2))
        for start, end in stretches:
            if start < end:
                painter.drawLine(QPointF(anchor.x(), start), QPointF(anchor.x(), end))

    def _next_ring(self, painter: QPainter, point: QPointF) -> None:
        painter.setPen(QPen(theme.color("action"), 2.6, Qt.PenStyle.DashLine))
        painter.setBrush(QBrush(theme.color("card")))
        painter.drawEllipse(point, 15, 15)

    def _halo(self, painter: QPainter, point: QPointF, radius: float, suspicion: float) -> None:
        if suspicion < 0.02:
            return
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(_halo_colour(), 1.5 + 9.0 * suspicion))
        painter.drawEllipse(point, radius + 4, radius + 4)

    def _frame_halo(self, painter: QPainter, box: QRectF, suspicion: float) -> None:
        """The halo of a block follows its edge: a circle round a wide one would cross words."""
        if suspicion < 0.02:
            return
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(_halo_colour(), 1.5 + 9.0 * suspicion))
        painter.drawRoundedRect(box.adjusted(-5, -5, 5, 5), 8, 8)

    def _reading(
        self, painter: QPainter, stop: StopView, point: QPointF, drops: tuple[int, ...]
    ) -> None:
        """A reading under its stop, in the first of these rows in which it hides nothing."""
        metrics = QFontMetricsF(theme.font("text"))
        width = metrics.horizontalAdvance(stop.reading)

        def hidden(drop: int) -> float:
            place = QRectF(point.x() - width / 2, point.y() + drop - 11, width, 12)
            return self._hidden(place)

        drop = min(drops, key=hidden)
        role = _verdict_role(stop.verdict)
        self._text(painter, point + QPointF(0, drop), stop.reading, role, "centre")

    def _text(
        self,
        painter: QPainter,
        point: QPointF,
        text: str,
        role: theme.Role,
        align: str = "left",
        bold: bool = False,
        size: str = "text",
    ) -> None:
        """Text with its baseline at the point."""
        font = theme.font(size, bold)
        painter.setFont(font)
        painter.setPen(theme.color(role))
        width = QFontMetricsF(font).horizontalAdvance(text)
        shift = {"left": 0.0, "centre": width / 2, "right": width}[align]
        x = min(max(point.x() - shift, 3.0), self.width() - width - 3.0)
        painter.drawText(QPointF(x, point.y()), text)
        self._words.append((x, point.y() - 11, x + width, point.y() + 2))
        self._said.append((QRectF(x, point.y() - 14, width, 18), text))


def _wrapped(text: str, size: str, width: float) -> list[str]:
    """Words in as many lines as they need, each cut only where a single word is too wide."""
    metrics = QFontMetricsF(theme.font(size))
    lines: list[str] = []
    for word in text.split():
        longer = f"{lines[-1]} {word}" if lines else word
        if lines and metrics.horizontalAdvance(longer) <= width:
            lines[-1] = longer
        else:
            lines.append(word)
    return [_elided(line, size, width) for line in lines]


def _elided(text: str, size: str, width: float, bold: bool = False) -> str:
    metrics = QFontMetricsF(theme.font(size, bold))
    return metrics.elidedText(text, Qt.TextElideMode.ElideRight, width)


def _pen(role: theme.Role, width: float) -> QPen:
    pen = QPen(theme.color(role), width)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
    return pen


def _halo_colour() -> QColor:
    colour = QColor(theme.color("quiet"))
    colour.setAlpha(120)
    return colour


def _verdict_role(verdict: Mark) -> theme.Role:
    return verdict if verdict in (Mark.DISAGREES, Mark.DOUBTFUL) else "ink"


def _line_role(verdict: Mark) -> theme.Role:
    return verdict if verdict in (Mark.AGREES, Mark.DISAGREES) else "unread"
