"""What is shown where the program is at fault: that nothing typed is lost, and what to send."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import (
    QApplication,
    QDialog,
    QDialogButtonBox,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from loose_rail.screens.shared.widgets import label

SIZE = (640, 420)


class UnexpectedError(QDialog):
    """One at a time: a fault that repeats adds to the one that is open."""

    def __init__(self, parent: QWidget, log: Path | None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Something went wrong in Loose Rail")
        self.resize(*SIZE)
        self._count = 0
        column = QVBoxLayout(self)
        column.addWidget(label("This is a fault of the program, not of yours.", "strong"))
        where = f"It also stands in {log}." if log else "There is no log file here."
        words = label(
            "What was entered before is on disk. Work can go on; what you did last may not have "
            "happened. To report it, send the text below and say what you did. It names places "
            f"in the program, no customer and no reading. {where}"
        )
        words.setWordWrap(True)
        column.addWidget(words)
        self.text = QPlainTextEdit()
        self.text.setReadOnly(True)
        self.text.setAccessibleName("Text to send")
        column.addWidget(self.text, 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        copy = buttons.addButton("Copy the text", QDialogButtonBox.ButtonRole.ActionRole)
        assert copy is not None
        copy.clicked.connect(self._copy)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)

    def tell(self, text: str) -> None:
        """Show one more."""
        if text in self.text.toPlainText():
            return
        self.text.appendPlainText(text)
        self.open()

    def _copy(self) -> None:
        board = QApplication.clipboard()
        assert board is not None
        board.setText(self.text.toPlainText())
