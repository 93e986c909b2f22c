"""The verdict: a balance of the leading suspects, readings for and against each."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from loose_rail.presenters.states import BalanceColumn, VerdictState
from loose_rail.ui import theme
from loose_rail.ui.page import Page
from loose_rail.ui.widgets import label

FULL_NATS = 5.0
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
            role = "agrees" if share > 0 else "disagrees"
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


class VerdictView(Page):
    """The verdict screen."""

    def __init__(self) -> None:
        super().__init__()
        self._headline = label(role="title", wrap=True)
        self._standing = label(wrap=True)
        self._balance = Balance()
        self.main.addWidget(self._headline)
        self.main.addWidget(self._standing)
        self.main.addWidget(self._balance, 1)
        self.main.addWidget(
            label(
                "Bars: how many times likelier the reading is under this suspect than under all "
                "the others together; they are about one reading each.",
                "quiet",
                wrap=True,
            )
        )

    def show_state(self, state: VerdictState) -> None:
        """Draw the balance and what the verdict covers."""
        self._headline.setText(state.headline)
        self._standing.setText(state.standing)
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
