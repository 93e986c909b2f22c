"""The verdict: a balance of the leading suspects, readings for and against each."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from loose_rail.screens.shared import theme
from loose_rail.screens.shared.host import JobHost
from loose_rail.screens.shared.page import SidedPage
from loose_rail.screens.shared.widgets import WordsLine, label
from loose_rail.screens.verdict.state import BalanceColumn, VerdictState, WayView

FULL_NATS = 5.0
HINT = "1 takes way 1 · C27 because … decides otherwise · set 150, board 35, always hour 45"
ROW = 22.0
MOST_BARS = 7


class Balance(QWidget):
    """Bars in log-odds for each suspect."""

    def __init__(self) -> None:
        super().__init__()
        self._columns: tuple[BalanceColumn, ...] = ()
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setAccessibleName("Balance of the suspects")

    def show_state(self, columns: tuple[BalanceColumn, ...]) -> None:
        """Show these suspects."""
        self._columns = columns
        self.setAccessibleDescription(
            "; ".join(
                f"{c.title} {c.percent}: "
                + ", ".join(f"{b.words} {b.log_odds:+.1f}" for b in c.bars)
                for c in columns
            )
        )
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw one block under another."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        top = 4.0
        for column in self._columns:
            if top > 4.0 and top + 50 + ROW * len(column.bars[:MOST_BARS]) > self.height():
                break
            top = self._column(painter, column, top) + 16
        painter.end()

    def _column(self, painter: QPainter, column: BalanceColumn, top: float) -> float:
        painter.setFont(theme.font("strong", True))
        painter.setPen(theme.color("ink"))
        painter.drawText(QPointF(0, top + 16), f"{column.percent}  {column.title}")
        width = float(self.width())
        middle = width * 0.63
        reach = width - middle - 46
        bars = column.bars[:MOST_BARS]
        bottom = top + 44 + ROW * len(bars)
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("quiet"))
        painter.drawText(
            QRectF(middle - 120, top + 20, 112, 16), Qt.AlignmentFlag.AlignRight, "against it"
        )
        painter.drawText(QRectF(middle + 8, top + 20, 112, 16), 0, "for it")
        for number, bar in enumerate(bars):
            y = top + 50 + number * ROW
            painter.setFont(theme.font("small"))
            painter.setPen(theme.color("ink"))
            room = middle - 130
            words = QFontMetricsF(theme.font("small")).elidedText(
                bar.words, Qt.TextElideMode.ElideRight, room
            )
            painter.drawText(QPointF(4, y + 4), words)
            share = max(-1.0, min(1.0, bar.log_odds / FULL_NATS))
            role: theme.Role = "agrees" if share > 0 else "disagrees"
            left_reach = 110.0
            length = share * (reach if share > 0 else left_reach)
            box = QRectF(min(middle, middle + length), y - 6, abs(length), 12)
            painter.fillRect(box, theme.color(role))
            painter.setPen(theme.color("quiet"))
            text = f"×{_times(bar.log_odds)}"
            x = middle + length + 6 if share >= 0 else middle + 6
            painter.drawText(QPointF(x, y + 4), text)
        painter.setPen(QPen(theme.color("ink"), 1.4))
        painter.drawLine(QPointF(middle, top + 38), QPointF(middle, bottom - 2))
        return bottom


def _times(log_odds: float) -> str:
    """How many times likelier, as a person says it."""
    times = 2.718281828 ** abs(log_odds)
    number = f"{times:.0f}" if times >= 9.5 else f"{times:.1f}"
    return number if log_odds >= 0 else f"1/{number}"


class WayChart(QWidget):
    """Ways on as dots of cost against chance, numbered as in the list beside them; a tick on the
    left of each dot says from which chance it would be the best."""

    FRAME_WIDTH, LIST_LEFT, ROW = 210, 280.0, 32.0

    def __init__(self) -> None:
        super().__init__()
        self._ways: tuple[WayView, ...] = ()
        self.setAccessibleName("Ways on, cost against chance of a cure")

    def show_state(self, ways: tuple[WayView, ...]) -> None:
        """Show these ways."""
        self._ways = ways
        words = "; ".join(f"{w.title}: {w.figures}, {w.words}" for w in ways)
        self.setAccessibleDescription(words)
        self.setVisible(bool(ways))
        self.setFixedHeight(max(176, round(10 + self.ROW * len(ways))))
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Axes with units at the left, the list at the right."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        frame = QRectF(56, 8, self.FRAME_WIDTH, self.height() - 52)
        painter.setPen(QPen(theme.color("line"), 1))
        painter.setBrush(theme.color("card"))
        painter.drawRect(frame)
        most = 1.15 * max((way.cost for way in self._ways), default=1.0) or 1.0
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("quiet"))
        right = Qt.AlignmentFlag.AlignRight
        painter.drawText(QRectF(0, frame.top() - 6, 40, 14), right, "100 %")
        painter.drawText(QRectF(0, frame.bottom() - 12, 40, 14), right, "0 %")
        painter.drawText(QPointF(frame.left(), frame.bottom() + 20), "0")
        painter.drawText(
            QRectF(frame.right() - 60, frame.bottom() + 8, 60, 14), right, f"{most:.0f}"
        )
        middle = QRectF(frame.left(), frame.bottom() + 8, frame.width(), 14)
        painter.drawText(middle, Qt.AlignmentFlag.AlignHCenter, "cost")
        caption = "cure against cost; tick: the best from here"
        painter.drawText(QPointF(0, self.height() - 4), caption)
        for way in self._ways:
            x = frame.left() + frame.width() * max(way.cost, 0.0) / most
            if way.ties_at is not None and way.cost > 0:
                tie = frame.bottom() - frame.height() * way.ties_at
                painter.setPen(QPen(theme.color("ink"), 1.4))
                painter.drawLine(QPointF(x - 9, tie), QPointF(x + 9, tie))
        for number, way in enumerate(self._ways, start=1):
            x = frame.left() + frame.width() * max(way.cost, 0.0) / most
            y = frame.bottom() - frame.height() * way.chance
            self._dot(painter, QPointF(x, y), number, number == 1)
            self._line(painter, number, way)

    def _dot(self, painter: QPainter, point: QPointF, number: int, best: bool) -> None:
        painter.setPen(QPen(theme.color("ink"), 1.4))
        painter.setBrush(theme.color("ink" if best else "card"))
        painter.drawEllipse(point, 9, 9)
        painter.setFont(theme.font("small", True))
        painter.setPen(theme.color("card" if best else "ink"))
        box = QRectF(point.x() - 9, point.y() - 9, 18, 18)
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, str(number))

    def _line(self, painter: QPainter, number: int, way: WayView) -> None:
        top, left = 16 + self.ROW * (number - 1), self.LIST_LEFT
        bold = number == 1 or way.chosen
        painter.setFont(theme.font("text", bold))
        painter.setPen(theme.color("ink"))
        figures = f" · {way.figures}" if way.figures else ""
        head = f"{number}  {'chosen: ' if way.chosen else ''}{way.title}{figures}"
        room = self.width() - left
        metrics = QFontMetricsF(theme.font("text", bold))
        side = Qt.TextElideMode.ElideRight
        painter.drawText(QPointF(left, top), metrics.elidedText(head, side, room))
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("quiet"))
        small = QFontMetricsF(theme.font("small")).elidedText(way.words, side, room - 18)
        painter.drawText(QPointF(left + 18, top + 14), small)


class VerdictView(SidedPage):
    """The verdict screen."""

    decided = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._headline = label(role="title", wrap=True)
        self._standing = label(wrap=True)
        self._levels = label(wrap=True)
        self._balance = Balance()
        self._ways = WayChart()
        self._money = label(role="quiet", wrap=True)
        self.entry = WordsLine("Another decision with its reason, or prices", HINT)
        self.entry.installEventFilter(self)
        self.main.addWidget(self._headline)
        self.main.addWidget(self._standing)
        self.main.addWidget(self._levels)
        self.main.addWidget(self._balance, 1)
        self.main.addWidget(
            label(
                "Bars: how many times likelier the reading is under this suspect than under all "
                "the others together; they are about one reading each.",
                "quiet",
                wrap=True,
            )
        )
        self.main.addWidget(self._ways)
        self.main.addWidget(self._money)
        self.main.addWidget(self.entry)

    def eventFilter(self, source: QObject | None, event: QEvent | None) -> bool:
        """Enter takes the line; empty, it is the page's action."""
        if not isinstance(event, QKeyEvent) or event.type() != QEvent.Type.KeyPress:
            return super().eventFilter(source, event)
        if event.key() not in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            return super().eventFilter(source, event)
        text = self.entry.text().strip()
        self.decided.emit(text) if text else self.went_on.emit()
        return True

    def focus_work(self) -> None:
        """The line."""
        self.entry.setFocus()

    def attach(self, host: JobHost) -> None:
        """The line decides, the action accepts."""
        self.went_on.connect(host.go_on)
        self.decided.connect(lambda text: self._decide(host, text))

    def _decide(self, host: JobHost, text: str) -> None:
        outcome = host.decide(text)
        self.entry.answered(outcome.taken)
        host.tell(outcome)

    def show_state(self, state: VerdictState) -> None:
        """Draw the balance and what the verdict covers."""
        self._headline.setText(state.headline)
        self._standing.setText(state.standing)
        self._levels.setText(state.levels)
        self._levels.setVisible(bool(state.levels))
        self._ways.show_state(state.ways)
        self._money.setText(state.money)
        self._money.setVisible(bool(state.money))
        self._balance.show_state(state.columns)
        blocks = [("strong", "What the evidence covers")]
        blocks += [("", words) for words in state.covered] or [("quiet", "No board verdict yet.")]
        blocks.append(("strong", "Still unproved"))
        blocks += [("", words) for words in state.unproved] or [("quiet", "Nothing on the list.")]
        blocks += state.reasoning
        if state.accepted:
            blocks.append(("good", "This verdict has been accepted."))
        self.fill_side(blocks)
        self.set_action(state.action)
