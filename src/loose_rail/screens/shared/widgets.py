"""Small widgets that every view uses: labels with a role, buttons with their key, marks."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import QEvent, QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPen, QPolygonF
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QFrame,
    QHeaderView,
    QLabel,
    QLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QTableWidget,
    QWidget,
)

from loose_rail.screens.shared import theme
from loose_rail.vocabulary.mark import Mark


class WordsLine(QLineEdit):
    """A line for words. Empty, it leaves undo and redo to the job; refused, its text is selected,
    so that typing replaces it and nothing is lost until then."""

    def __init__(self, name: str, hint: str = "") -> None:
        super().__init__()
        self.setObjectName("words")
        self.setAccessibleName(name)
        self.setPlaceholderText(hint)

    def event(self, event: QEvent | None) -> bool:
        """Leave Ctrl+Z to the job while nothing is typed."""
        if event is not None and event.type() == QEvent.Type.ShortcutOverride:
            assert isinstance(event, QKeyEvent)
            if event.modifiers() & Qt.KeyboardModifier.ControlModifier and not self.text():
                event.ignore()
                return False
        return super().event(event)

    def answered(self, accepted: bool) -> None:
        """What was typed was taken, or refused."""
        self.clear() if accepted else self.selectAll()


def label(text: str = "", role: str = "", wrap: bool = False) -> QLabel:
    """A label in one of the style sheet's roles."""
    made = QLabel(text)
    made.setTextFormat(Qt.TextFormat.PlainText)
    if role:
        made.setProperty("role", role)
    made.setWordWrap(wrap)
    if wrap:
        made.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
    return made


def tip(text: str) -> str:
    """Words as a tooltip: never taken for rich text, whoever typed them."""
    return f"<span>{escape(text)}</span>" if "<" in text or "&" in text else text


def set_role(widget: QWidget, role: str, name: str = "role") -> None:
    """Change a dynamic property and restyle, only where it changed."""
    if widget.property(name) == role:
        return
    widget.setProperty(name, role)
    style = widget.style()
    if style is not None:
        style.unpolish(widget)
        style.polish(widget)


def button(text: str, key: str = "", role: str = "") -> QPushButton:
    """A button with its key beside the words; it takes no focus from the entry line."""
    made = QPushButton(f"{text}   {key}" if key else text)
    made.setAccessibleName(text)
    made.setFocusPolicy(Qt.FocusPolicy.TabFocus)
    made.setAutoDefault(False)
    if role:
        made.setProperty("role", role)
    return made


class Pages(QStackedWidget):
    """Pages of which only the one in front asks for room."""

    def __init__(self) -> None:
        super().__init__()
        self.currentChanged.connect(lambda _: self.updateGeometry())

    def minimumSizeHint(self) -> QSize:
        """Of the page in front, its wrapped words counted at the width that it has: a layout's own
        least size takes every label at its narrowest and tallest."""
        page = self.currentWidget()
        if page is None:
            return QSize()
        least = page.minimumSizeHint()
        return QSize(least.width(), self.heightForWidth(max(self.width(), least.width())))

    def sizeHint(self) -> QSize:
        """Of the page in front."""
        page = self.currentWidget()
        return page.sizeHint() if page is not None else QSize()

    def heightForWidth(self, width: int) -> int:
        """The least height of the page in front, its wrapped words counted at this width."""
        page = self.currentWidget()
        if page is None:
            return 0
        layout = page.layout()
        if layout is None or not layout.hasHeightForWidth():
            return page.minimumSizeHint().height()
        return layout.minimumHeightForWidth(width)


def scrolled(widget: QWidget) -> QScrollArea:
    """The widget in a frame that scrolls where the window is shorter than it needs."""
    made = QScrollArea()
    made.setWidget(widget)
    made.setWidgetResizable(True)
    made.setFrameShape(QFrame.Shape.NoFrame)
    made.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    made.setObjectName("pages")
    made.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
    return made


def plain_table(columns: tuple[str, ...], name: str, stretched: int) -> QTableWidget:
    """A table that is only looked at: whole rows, no grid, one column takes the room."""
    made = QTableWidget(0, len(columns))
    made.setAccessibleName(name)
    made.setHorizontalHeaderLabels(list(columns))
    made.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
    made.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
    made.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    made.setShowGrid(False)
    vertical, header = made.verticalHeader(), made.horizontalHeader()
    assert vertical is not None and header is not None
    vertical.hide()
    header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
    header.setSectionResizeMode(stretched, QHeaderView.ResizeMode.Stretch)
    header.setDefaultAlignment(Qt.AlignmentFlag.AlignLeft)
    return made


def clear_layout(layout: QLayout) -> None:
    """Remove and delete every widget of a layout.

    Hidden, not orphaned: a layout shows its new children a moment later, and one that has lost its
    parent by then would open as a window of its own and take the keys.
    """
    while layout.count():
        item = layout.takeAt(0)
        if item is None:
            return
        widget = item.widget()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
        elif (inner := item.layout()) is not None:
            clear_layout(inner)


def draw_mark(painter: QPainter, centre: QPointF, radius: float, verdict: Mark) -> None:
    """A verdict by shape first: disc agrees, diamond disagrees, triangle doubtful, ring unread."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    ink = theme.color("ink")
    x, y, r = centre.x(), centre.y(), radius
    if verdict is Mark.UNREAD:
        painter.setPen(QPen(theme.color("ink"), 1.6))
        painter.setBrush(theme.color("card"))
        painter.drawEllipse(centre, r, r)
        painter.restore()
        return
    painter.setPen(QPen(ink, 1.0))
    painter.setBrush(theme.color(verdict))
    if verdict is Mark.AGREES:
        painter.drawEllipse(centre, r, r)
    elif verdict is Mark.DISAGREES:
        s = r * 1.3
        points = [(x, y - s), (x + s, y), (x, y + s), (x - s, y)]
        painter.drawPolygon(QPolygonF([QPointF(a, b) for a, b in points]))
    else:
        s = r * 1.25
        points = [(x, y - s), (x + s, y + 0.8 * s), (x - s, y + 0.8 * s)]
        painter.drawPolygon(QPolygonF([QPointF(a, b) for a, b in points]))
    painter.restore()


def draw_wrapped(painter: QPainter, room: QRectF, text: str, left: bool = False) -> None:
    """Words in the pen and font of the painter, wrapped into a room, in its middle or from its
    left."""
    side = Qt.AlignmentFlag.AlignLeft if left else Qt.AlignmentFlag.AlignHCenter
    painter.drawText(room, int(side | Qt.TextFlag.TextWordWrap), text)


def fill_round(painter: QPainter, box: QRectF, fill: QColor, line: QColor, width: float) -> None:
    """A card: square-ish corners, one line."""
    painter.setPen(QPen(line, width))
    painter.setBrush(fill)
    painter.drawRoundedRect(box, 4, 4)
