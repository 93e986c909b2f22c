"""What stands around every stage of a job: title strip, stage track, board-state strip, banner."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen, QResizeEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QSizePolicy, QWidget

from loose_rail.screens.job.state import JobFrame, StageDot, Token
from loose_rail.screens.shared import theme
from loose_rail.screens.shared.widgets import clear_layout, label


class TitleStrip(QFrame):
    """Ticket, set, the customer's words, readings and limit."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("titleStrip")
        self.setFixedHeight(44)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 4, 16, 4)
        row.setSpacing(12)
        self._name = label("Loose Rail", "strong")
        self._ticket = label(role="ticket")
        self._set = label()
        self._complaint = label(role="quiet")
        self._right = label(role="quiet")
        for widget in (self._name, self._ticket, self._set, self._complaint):
            row.addWidget(widget)
        row.addStretch(1)
        row.addWidget(self._right)

    def show_state(self, state: JobFrame | None) -> None:
        """Show a job, or nothing but the name outside one."""
        for widget in (self._ticket, self._set, self._complaint, self._right):
            widget.setVisible(state is not None)
        if state is not None:
            self._ticket.setText(state.ticket)
            self._set.setText(state.set_text)
            self._complaint.setText(state.complaint)
            self._right.setText(state.right_text)


class StageTrack(QWidget):
    """The ten stages as stops on a line; a click goes there, Ctrl+1 to Ctrl+0 too."""

    chosen = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self._dots: tuple[StageDot, ...] = ()
        self.setFixedHeight(50)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("Stages of the job")

    def sizeHint(self) -> QSize:
        """As wide as it gets."""
        return QSize(900, 50)

    def show_state(self, dots: tuple[StageDot, ...]) -> None:
        """Show the track."""
        if dots == self._dots:
            return
        self._dots = dots
        current = next((dot.title for dot in dots if dot.status == "current"), "")
        self.setAccessibleDescription(f"Now at {current}")
        self.update()

    def _place(self, number: int) -> float:
        margin = 44.0
        return margin + (self.width() - 2 * margin) * number / max(len(self._dots) - 1, 1)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Line, dots, titles."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.color("panel"))
        y = 17.0
        current = next((k for k, d in enumerate(self._dots) if d.status == "current"), 0)
        painter.setPen(QPen(theme.color("line"), 4))
        painter.drawLine(QPointF(self._place(0), y), QPointF(self._place(len(self._dots) - 1), y))
        painter.setPen(QPen(theme.color("ink"), 4))
        painter.drawLine(QPointF(self._place(0), y), QPointF(self._place(current), y))
        for number, dot in enumerate(self._dots):
            self._dot(painter, dot, self._place(number), y)
        painter.end()

    def _dot(self, painter: QPainter, dot: StageDot, x: float, y: float) -> None:
        here = dot.status == "current"
        role: theme.Role = "action" if here else "ink" if dot.status == "done" else "panel"
        edge: theme.Role = "action" if here else "ink" if dot.status == "done" else "unread"
        painter.setPen(QPen(theme.color(edge), 2.4))
        painter.setBrush(theme.color(role))
        radius = 9.0 if here else 6.5
        painter.drawEllipse(QPointF(x, y), radius, radius)
        painter.setFont(theme.font("text", here))
        painter.setPen(theme.color("action" if here else "ink"))
        painter.drawText(QRectF(x - 60, 28, 120, 20), Qt.AlignmentFlag.AlignCenter, dot.title)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """The nearest stop is meant."""
        assert event is not None
        if self._dots:
            x = event.position().x()
            number = min(range(len(self._dots)), key=lambda k: abs(self._place(k) - x))
            self.chosen.emit(self._dots[number].key)


LEAST_TODO = 90
"""Pixels that a token of what is next keeps where there is no room: the card says all of it."""


SIDES, GAP = 16, 8


class StateStrip(QFrame):
    """The board's state as tokens, and the bulk."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("stateStrip")
        self.setFixedHeight(42)
        row = QHBoxLayout(self)
        row.setContentsMargins(SIDES, 4, SIDES, 4)
        row.setSpacing(GAP)
        self._captions = (label("Board state", "quiet"), label("bulk capacitor", "quiet"))
        row.addWidget(self._captions[0])
        self._tokens = QHBoxLayout()
        self._tokens.setSpacing(8)
        row.addLayout(self._tokens)
        self._drain = label(role="token-todo")
        self._drain.hide()
        row.addWidget(self._drain)
        row.addStretch(1)
        row.addWidget(self._captions[1])
        self._bulk = label(role="strong")
        self._watched = label(role="strong")
        self._watched.hide()
        row.addWidget(self._bulk)
        row.addWidget(self._watched)
        self._warning = label(role="token-warn")
        row.addWidget(self._warning)
        self._shown: tuple[Token, ...] | None = None
        self._bulk_words = ""

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Another width."""
        self._fit()

    def _fit(self) -> None:
        """Without its captions where there is no room for them: the tokens say it. Else the strip
        would widen the window."""
        items = [self._tokens.itemAt(k) for k in range(self._tokens.count())]
        shown = [item.widget() for item in items if item is not None]
        shown += [self._drain, self._bulk, self._watched, self._warning, *self._captions]
        needs = [one.sizeHint().width() + GAP for one in shown if one is not None]
        hidden = [self._drain, self._watched] + ([] if self._warning.text() else [self._warning])
        needs_less = sum(one.sizeHint().width() + GAP for one in hidden if one.isHidden())
        roomy = sum(needs) - needs_less + 2 * SIDES <= self.width()
        for caption in self._captions:
            caption.setVisible(roomy)
        self._bulk.setText(self._bulk_words if roomy else f"bulk {self._bulk_words}")

    def show_state(self, state: JobFrame) -> None:
        """Show tokens, bulk and warning."""
        if state.tokens != self._shown:
            clear_layout(self._tokens)
            for token in state.tokens:
                made = label(token.text, f"token-{token.role}")
                if token.role == "todo" and len(state.tokens) > 1:
                    made.setMinimumWidth(LEAST_TODO)
                self._tokens.addWidget(made)
            self._shown = state.tokens
        self._bulk_words = state.bulk_text
        self._bulk.setText(state.bulk_text)
        self._bulk.setVisible(not self._watched.text())
        self._warning.setText(state.warning)
        self._warning.setVisible(bool(state.warning))
        self._fit()

    def show_drain(self, words: str) -> None:
        """What is left of the drain wait; nothing where none is."""
        self._drain.setText(words)
        self._drain.setVisible(bool(words))

    def show_watched(self, words: str) -> None:
        """The bulk as meter B reads it now, in place of the last reading; nothing without one."""
        self._watched.setText(words)
        self._watched.setVisible(bool(words))
        self._bulk.setVisible(not words)


class Banner(QFrame):
    """A lasting problem: shown until it is gone, never a box in the way."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("banner")
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 6, 16, 6)
        self._words = label(wrap=True)
        row.addWidget(self._words, 1)
        self.hide()

    def show_words(self, words: str) -> None:
        """Show the problem, or nothing."""
        self._words.setText(words)
        self.setVisible(bool(words))
