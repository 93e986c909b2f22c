"""Table models that keep selection and scroll: rows are compared by key, marks are painted."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QAbstractTableModel, QModelIndex, QPointF, Qt
from PyQt6.QtGui import QFont, QPainter
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHeaderView,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
)

from loose_rail.screens.shared import theme
from loose_rail.screens.shared.rows import LedgerRow
from loose_rail.screens.shared.widgets import draw_mark
from loose_rail.vocabulary.mark import Mark

HEADERS = ("#", "Probe", "Board state", "Reading", "Expected", "Verdict")
VERDICT_COLUMN = 5
ROOM_COLUMNS = (2, 4)
READING_COLUMN = 3


class LedgerModel(QAbstractTableModel):
    """The readings of a job."""

    def __init__(self) -> None:
        super().__init__()
        self._rows: tuple[LedgerRow, ...] = ()

    def show_rows(self, rows: tuple[LedgerRow, ...]) -> None:
        """Show these rows, touching only what differs."""
        same = min(len(rows), len(self._rows))
        old, count = self._rows, len(self._rows)
        if len(rows) > count:
            self.beginInsertRows(QModelIndex(), count, len(rows) - 1)
            self._rows = rows
            self.endInsertRows()
        elif len(rows) < count:
            self.beginRemoveRows(QModelIndex(), len(rows), count - 1)
            self._rows = rows
            self.endRemoveRows()
        else:
            self._rows = rows
        for number in range(same):
            if old[number] != rows[number]:
                self.dataChanged.emit(self.index(number, 0), self.index(number, VERDICT_COLUMN))

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008 - Qt's signature
        """Number of readings."""
        return 0 if parent.isValid() else len(self._rows)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:  # noqa: B008
        """Number of columns."""
        return len(HEADERS)

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = 0) -> Any:
        """Titles of the columns."""
        if orientation is Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return HEADERS[section]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return int(Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter)
        return None

    def data(self, index: QModelIndex, role: int = 0) -> Any:
        """Text, strike-through and colour of a cell."""
        row = self._rows[index.row()]
        if role in (Qt.ItemDataRole.DisplayRole, Qt.ItemDataRole.ToolTipRole):
            texts = (row.number, row.probe, row.state, row.reading, row.expected, row.reason)
            return texts[index.column()]
        if role == Qt.ItemDataRole.FontRole and row.struck:
            font = QFont(theme.font("text"))
            font.setStrikeOut(True)
            return font
        if role == Qt.ItemDataRole.ForegroundRole:
            if row.struck:
                return theme.color("quiet")
            if index.column() == VERDICT_COLUMN and row.verdict is not Mark.AGREES:
                return theme.color(row.verdict)
        if role == Qt.ItemDataRole.UserRole:
            return Mark.STRUCK if row.struck else row.verdict
        return None


class MarkDelegate(QStyledItemDelegate):
    """Draws the verdict's shape in front of its words."""

    def paint(
        self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex
    ) -> None:
        """Shape, then the text beside it."""
        assert painter is not None
        verdict = Mark(index.data(Qt.ItemDataRole.UserRole))
        moved = QStyleOptionViewItem(option)
        moved.rect = option.rect.adjusted(20, 0, 0, 0)
        super().paint(painter, moved, index)
        if verdict is not Mark.STRUCK:
            centre = QPointF(option.rect.left() + 11.0, option.rect.center().y() + 1.0)
            draw_mark(painter, centre, 4.6, verdict)


class Ledger(QTableView):
    """The readings ledger; read only, the newest reading always in sight."""

    def __init__(self) -> None:
        super().__init__()
        self._model = LedgerModel()
        self.setModel(self._model)
        self.setItemDelegateForColumn(VERDICT_COLUMN, MarkDelegate(self))
        self.setShowGrid(False)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setAccessibleName("Readings ledger")
        vertical, header = self.verticalHeader(), self.horizontalHeader()
        assert vertical is not None and header is not None
        vertical.setVisible(False)
        vertical.setDefaultSectionSize(25)
        header.setHighlightSections(False)
        for column, width in enumerate((28, 150, 164, 172, 92)):
            self.setColumnWidth(column, width)
        header.setSectionResizeMode(1, QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(VERDICT_COLUMN, QHeaderView.ResizeMode.Fixed)
        self.setColumnWidth(VERDICT_COLUMN, 192)

    def make_room(self, narrow: bool) -> None:
        """Without the columns for state and expected value, or with them again."""
        for column in ROOM_COLUMNS:
            self.setColumnHidden(column, narrow)
        self.setColumnWidth(READING_COLUMN, 128 if narrow else 172)
        self.setColumnWidth(VERDICT_COLUMN, 160 if narrow else 192)

    def show_rows(self, rows: tuple[LedgerRow, ...]) -> None:
        """Show the ledger, scrolled to its end where it has grown."""
        grown = len(rows) > self._model.rowCount()
        self._model.show_rows(rows)
        if grown:
            self.scrollToBottom()
