"""What a person means by “this number”: the words under the pointer, else the chosen row."""

from __future__ import annotations

import re
from typing import Protocol, runtime_checkable

from PyQt6.QtCore import QModelIndex, QPoint, QPointF
from PyQt6.QtGui import QCursor
from PyQt6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QApplication,
    QLabel,
    QLineEdit,
    QWidget,
)

_A_NUMBER = re.compile(r"\d")


@runtime_checkable
class Worded(Protocol):
    """A widget that paints its words itself."""

    def words_at(self, point: QPointF) -> str: ...


def words_meant(at: QPoint | None = None) -> str:
    """The words at a point of the screen, the pointer's where none is given; where no number stands
    there, the row that has the focus. Empty for neither."""
    spot = QCursor.pos() if at is None else at
    under = QApplication.widgetAt(spot)
    found = _words_of(under, spot) if under is not None else ""
    if _A_NUMBER.search(found):
        return found
    focus = QApplication.focusWidget()
    if isinstance(focus, QAbstractItemView):
        return _row(focus, focus.currentIndex())
    return ""


def _words_of(widget: QWidget, spot: QPoint) -> str:
    holder = widget.parentWidget()
    if isinstance(holder, QAbstractItemView) and holder.viewport() is widget:
        return _row(holder, holder.indexAt(widget.mapFromGlobal(spot)))
    if isinstance(widget, Worded):
        return widget.words_at(QPointF(widget.mapFromGlobal(spot)))
    if isinstance(widget, QLabel | QAbstractButton):
        return widget.text()
    if isinstance(widget, QLineEdit):
        return f"{widget.accessibleName()} {widget.text()}"
    return ""


def _row(view: QAbstractItemView, index: QModelIndex) -> str:
    """The cell that is meant first, then its whole row."""
    model = view.model()
    if model is None or not index.isValid():
        return ""
    row = [
        str(model.index(index.row(), column, index.parent()).data() or "")
        for column in range(model.columnCount(index.parent()))
    ]
    return " · ".join([str(index.data() or ""), *row])
