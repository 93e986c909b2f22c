"""The rows of a table that is only looked at: cells that are the same stay as they are.

A cell set anew makes the toolkit measure its whole column again (2.8 ms a cell, measured): the
columns are measured once, when all is set.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QBrush
from PyQt6.QtWidgets import QTableWidget, QTableWidgetItem

from loose_rail.screens.shared import theme
from loose_rail.screens.shared.widgets import tip

_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
_LEFT = Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter


@dataclass(frozen=True, slots=True)
class Cell:
    """What stands in a cell, in which colour, numbers at the right."""

    text: str
    role: theme.Role = "ink"
    right: bool = False


def show_rows(table: QTableWidget, rows: Sequence[Sequence[Cell]]) -> None:
    """Show these rows and no others."""
    model = table.model()
    assert model is not None
    table.setRowCount(len(rows))
    model.blockSignals(True)
    for line, row in enumerate(rows):
        for column, cell in enumerate(row):
            _show(table, line, column, cell)
    model.blockSignals(False)
    model.layoutChanged.emit()  # once for all: columns are measured, cells drawn


def _show(table: QTableWidget, line: int, column: int, cell: Cell) -> None:
    item = table.item(line, column)
    if item is None:
        item = QTableWidgetItem()
        table.setItem(line, column, item)
    item.setText(cell.text)
    item.setToolTip(tip(cell.text))
    item.setTextAlignment(_RIGHT if cell.right else _LEFT)
    item.setForeground(QBrush(theme.color(cell.role)))
