"""The left edge of the window: a button for each area, and the keys below."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QToolButton, QVBoxLayout

from loose_rail.screens.shared import theme
from loose_rail.screens.shared.areas import AREAS, BENCH

WIDTH, BUTTON = 64, 56


class AreaBar(QFrame):
    """`chosen` names the area that was asked for."""

    chosen = pyqtSignal(str)
    help_asked = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("areas")
        self.setFixedWidth(WIDTH)
        column = QVBoxLayout(self)
        column.setContentsMargins(4, 8, 4, 8)
        self._buttons: dict[str, QToolButton] = {}
        for area in AREAS:
            made = _button(area.title, area.key, area.icon)
            made.clicked.connect(lambda _, name=area.name: self.chosen.emit(name))
            self._buttons[area.name] = made
            column.addWidget(made)
        column.addStretch(1)
        keys = _button("Keys", "F1", "book-open")
        keys.clicked.connect(self.help_asked)
        column.addWidget(keys)

    def mark(self, name: str, has_job: bool) -> None:
        """Which area stands in front, and whether there is a job to go to."""
        for own, button in self._buttons.items():
            button.setChecked(own == name)
            role = "ink" if own == name else "on_strip"
            button.setIcon(theme.icon(button.property("iconName"), role))
        self._buttons[BENCH].setEnabled(has_job)


def _button(words: str, key: str, icon_name: str) -> QToolButton:
    made = QToolButton()
    made.setText(words)
    made.setToolTip(f"{words} ({key})" if key else words)
    made.setAccessibleName(words)
    made.setCheckable(True)
    made.setProperty("iconName", icon_name)
    made.setIcon(theme.icon(icon_name, "on_strip"))
    made.setIconSize(QSize(20, 20))
    made.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
    made.setFixedWidth(BUTTON)
    made.setFocusPolicy(Qt.FocusPolicy.TabFocus)
    return made
