"""Draws the set from the front: screen, indicator, speakers, a clock and what was before.

With the focus in it every letter or digit turns its answer, Space is tapped along with a tick or a
blink. A click turns an answer too.
"""

from __future__ import annotations

import time

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from loose_rail.app.set_picture import (
    FEWEST_TAPS,
    PAUSE_SECONDS,
    PictureAnswer,
    PicturePlace,
    SetPictureState,
    TapCounter,
)
from loose_rail.screens.shared import theme

LEAST_WIDTH = 612
"""Three columns of words beside each other."""
LEAST_HEIGHT, MOST_HEIGHT = 262, 338
ROWS, REST = 12, 88
"""Rows of answers one above the other, and what stands between them."""
HEAD = 22.0
SIDES, LEAST_SHARE = 182.0, 0.235
GAP = 14.0
HINT = "Space tapped with each tick or blink gives the rate"


class SetPicture(QWidget):
    """`turned` names an answer, `tapped` a rate per second; `left` says that the keys are done."""

    turned = pyqtSignal(str)
    tapped = pyqtSignal(float)
    left = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self._state = SetPictureState((), "")
        self._taps = TapCounter()
        self._boxes: list[tuple[QRectF, str]] = []
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.timeout.connect(self._count)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(LEAST_WIDTH, LEAST_HEIGHT)
        self.setMaximumHeight(MOST_HEIGHT)
        policy = QSizePolicy.Policy
        self.setSizePolicy(policy.Expanding, policy.Expanding)
        self.setAccessibleName("The set as it is seen and heard")

    def sizeHint(self) -> QSize:
        """As wide as a page."""
        return QSize(760, MOST_HEIGHT)

    @property
    def _sides(self) -> float:
        """The width of the words at either side: a narrow page leaves the set the room."""
        return min(SIDES, LEAST_SHARE * self.width())

    @property
    def _row(self) -> float:
        return (self.height() - REST) / ROWS

    def show_state(self, state: SetPictureState) -> None:
        """Draw another moment."""
        self._state = state
        chosen = [a.words for place in state.places for a in place.answers if a.chosen]
        self.setAccessibleDescription("; ".join([*chosen, state.rate_words]))
        self.update()

    # ---- keys and mouse --------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """A letter or digit turns its answer, Space is a tap, Enter and Escape leave."""
        if event is None:
            return
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Escape):
            self.left.emit()
        elif event.key() == Qt.Key.Key_Space:
            self.tap(time.monotonic())
        else:
            answer = self._by_key(event.text().lower())
            if answer is None or event.modifiers() & Qt.KeyboardModifier.ControlModifier:
                super().keyPressEvent(event)
            else:
                self.turned.emit(answer.kind)

    def tap(self, seconds: float) -> None:
        """One tap along with what is heard or seen."""
        self._taps.tap(seconds)
        self._pause.start(round(1000 * PAUSE_SECONDS))
        self.update()

    def _count(self) -> None:
        """The taps have ended: their rate counts."""
        hertz = self._taps.hertz
        self._taps.clear()
        if hertz is not None:
            self.tapped.emit(hertz)
        self.update()

    def _by_key(self, key: str) -> PictureAnswer | None:
        every = (answer for place in self._state.places for answer in place.answers)
        return next((answer for answer in every if key and answer.key == key), None)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """A click turns an answer."""
        if event is None:
            return
        for box, kind in self._boxes:
            if box.contains(event.position()):
                self.turned.emit(kind)
                return

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """The keys are shown in ink."""
        super().focusInEvent(event)
        self.update()

    # ---- drawing ---------------------------------------------------------------------------

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The set in the middle, the clock at its right, harm and history at its left."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._boxes = []
        places = {place.name: place for place in self._state.places}
        if not places:
            return
        middle = self.width() - 2 * (self._sides + GAP)
        sides = self._sides
        left = sides + GAP
        self._set(painter, places, QRectF(left, 0, middle, self.height() - 20))
        self._column(painter, places["history"], QRectF(0, 0, sides, 0))
        self._column(painter, places["harm"], QRectF(0, HEAD + 6 * self._row + 16, sides, 0))
        right = QRectF(left + middle + GAP, 0, sides, 0)
        self._column(painter, places["time"], right)
        painter.setFont(theme.font("small"))
        painter.setPen(theme.color("quiet"))
        foot = QRectF(0, self.height() - 17, self.width(), 16)
        painter.drawText(foot, int(Qt.AlignmentFlag.AlignHCenter), self._foot_words())

    def _foot_words(self) -> str:
        count = self._taps.count
        if count:
            hertz = self._taps.hertz
            rate = f", {hertz:.2f} a second" if hertz else f" of at least {FEWEST_TAPS}"
            return f"{count} taps{rate}: stop tapping and it counts"
        keys = "" if self.hasFocus() else "Tab brings the keys here.  "
        return f"{keys}{self._state.rate_words or HINT}"

    def _set(self, painter: QPainter, places: dict[str, PicturePlace], box: QRectF) -> None:
        """Bezel, screen, feet; speakers and indicator under the screen."""
        rows = (len(places["screen"].answers) + 1) // 2
        screen = QRectF(box.left(), 0, box.width(), HEAD + rows * self._row + 12)
        painter.setPen(QPen(theme.color("ink"), 2))
        painter.setBrush(theme.color("card"))
        painter.drawRoundedRect(screen.adjusted(1, 1, -1, -1), 5, 5)
        for x in (0.3, 0.7):
            foot = QPointF(screen.left() + x * screen.width(), screen.bottom())
            painter.drawLine(foot, foot + QPointF(-14, 9))
            painter.drawLine(foot, foot + QPointF(14, 9))
        inside = screen.adjusted(14, 4, -8, 0)
        answers = places["screen"].answers
        self._head(painter, places["screen"].title, inside)
        half = inside.width() / 2
        for number, answer in enumerate(answers):
            x = inside.left() + half * (number // rows)
            y = inside.top() + HEAD + self._row * (number % rows)
            self._answer(painter, answer, QRectF(x, y, half, self._row))
        top = screen.bottom() + 12
        width = box.width() / 2
        self._column(painter, places["sound"], QRectF(box.left() + 14, top, width - 14, 0))
        other = QRectF(box.left() + width + 10, top, width - 14, 0)
        self._column(painter, places["indicator"], other)
        self._speaker(painter, QPointF(box.left() + width - 26, top + 12))
        self._lamp(painter, QPointF(box.right() - 16, top + 12))

    def _speaker(self, painter: QPainter, at: QPointF) -> None:
        painter.setPen(QPen(theme.color("quiet"), 1.3))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for radius in (9.0, 5.0, 1.5):
            painter.drawEllipse(at, radius, radius)

    def _lamp(self, painter: QPainter, at: QPointF) -> None:
        painter.setPen(QPen(theme.color("quiet"), 1.3))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(at, 4.0, 4.0)
        for dx, dy in ((0, -9), (0, 9), (-9, 0), (9, 0)):
            painter.drawLine(at + 0.65 * QPointF(dx, dy), at + QPointF(dx, dy))

    def _column(self, painter: QPainter, place: PicturePlace, box: QRectF) -> None:
        row = self._row
        self._head(painter, place.title, box)
        for number, answer in enumerate(place.answers):
            line = QRectF(box.left(), box.top() + HEAD + row * number, box.width(), row)
            self._answer(painter, answer, line)

    def _head(self, painter: QPainter, title: str, box: QRectF) -> None:
        painter.setFont(theme.font("text", bold=True))
        painter.setPen(theme.color("ink"))
        line = QRectF(box.left(), box.top(), box.width(), HEAD)
        painter.drawText(line, int(Qt.AlignmentFlag.AlignVCenter), title)

    def _answer(self, painter: QPainter, answer: PictureAnswer, box: QRectF) -> None:
        tall = min(15.0, box.height() - 1.5)
        key = QRectF(box.left(), box.center().y() - tall / 2 - 0.5, 17, tall)
        painter.setPen(QPen(theme.color("ink" if answer.chosen else "line"), 1))
        painter.setBrush(theme.color("ink" if answer.chosen else "panel"))
        painter.drawRoundedRect(key, 3, 3)
        painter.setFont(theme.font("small"))
        lit = "card" if answer.chosen else "ink" if self.hasFocus() else "quiet"
        painter.setPen(theme.color(lit))  # type: ignore[arg-type]
        painter.drawText(key, int(Qt.AlignmentFlag.AlignCenter), answer.key.upper())
        painter.setFont(theme.font("text", bold=answer.chosen))
        painter.setPen(theme.color("ink"))
        words = QRectF(key.right() + 7, box.top(), box.width() - 26, box.height())
        painter.drawText(words, int(Qt.AlignmentFlag.AlignVCenter), answer.words)
        self._boxes.append((box, answer.kind))
