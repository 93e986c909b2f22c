"""The sheet on paper: the report's own HTML, printed or written as PDF, in one layout.

Letters come from the shipped fonts; what those lack comes from whatever font of this computer has
it. A letter that no font here has stands as a box, and is told: nothing is dropped without a word.
"""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, QMarginsF
from PyQt6.QtGui import (
    QPageLayout,
    QPageSize,
    QPdfWriter,
    QTextDocument,
    QTextLayout,
)
from PyQt6.QtPrintSupport import QPrintDialog, QPrinter
from PyQt6.QtWidgets import QDialog, QWidget

from loose_rail.kernel.files import write_durably
from loose_rail.screens.shared import theme

TEXT_POINTS = 9.0
"""Of the text where the sheet names no size; the toolkit scales points to paper, pixels not."""
DOTS_PER_INCH = 600
"""Of the PDF: letters are outlines and need none; hair lines are a dot [E]."""


def write_pdf(html: str, title: str, path: Path) -> str:
    """Write a sheet as PDF, whole or not at all; returns the letters that no font here has, each
    once. Raises OSError where the place can't be written."""
    taken = QBuffer()
    taken.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(taken)
    writer.setResolution(DOTS_PER_INCH)
    writer.setTitle(title)
    writer.setCreator("Loose Rail")
    writer.setPageLayout(_page())
    document = _document(html)
    document.print(writer)
    taken.close()
    write_durably(path, taken.data().data())
    return without_font(document.toPlainText())


def print_sheet(html: str, title: str, parent: QWidget) -> bool | None:
    """Ask for a printer and print; whether it was sent there, None where it was not wanted."""
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setDocName(title)
    printer.setPageLayout(_page())
    if QPrintDialog(printer, parent).exec() != QDialog.DialogCode.Accepted:
        return None
    _document(html).print(printer)
    return printer.printerState() is not QPrinter.PrinterState.Error


def _page() -> QPageLayout:
    """A4; the toolkit itself leaves 2 cm all around and numbers the pages."""
    size = QPageSize(QPageSize.PageSizeId.A4)
    return QPageLayout(size, QPageLayout.Orientation.Portrait, QMarginsF())


def _document(html: str) -> QTextDocument:
    document = QTextDocument()
    font = theme.font("text")
    font.setPointSizeF(TEXT_POINTS)
    document.setDefaultFont(font)
    document.setHtml(html)
    return document


def without_font(text: str) -> str:
    """The letters of a text that no font of this computer has, each once, in order."""
    return "".join(one for one in dict.fromkeys(text) if one.isprintable() and not _shown(one))


def _shown(letter: str) -> bool:
    if letter.isspace():
        return True
    layout = QTextLayout(letter, theme.font("text"))
    layout.beginLayout()
    layout.createLine()
    layout.endLayout()
    return all(0 not in run.glyphIndexes() for run in layout.glyphRuns())
