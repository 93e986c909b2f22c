"""What leaves a job on paper or in a file: the sheet printed or saved, a note written."""

from __future__ import annotations

from pathlib import Path
from typing import Protocol

from PyQt6.QtWidgets import QInputDialog, QWidget

from loose_rail.app.outcome import Kind, Outcome
from loose_rail.screens.job.present import JobPresenter
from loose_rail.screens.shared.files import to_save
from loose_rail.screens.shared.paper import print_sheet

KINDS = "PDF (*.pdf);;Web page (*.html);;Job bundle (*.zip);;Ticket label (*.svg)"


class Told(Protocol):
    """The view of the job, as far as this needs it."""

    def tell(self, outcome: Outcome) -> None: ...
    def say(self, text: str, kind: Kind = ...) -> None: ...


class JobPaper:
    """Asks with dialogs over `parent`; what came of it is told by `view`."""

    def __init__(self, view: Told, parent: QWidget, presenter: JobPresenter) -> None:
        self._view, self._parent, self._presenter = view, parent, presenter

    def write_note(self) -> None:
        """Write a note at this stage."""
        text, ok = QInputDialog.getMultiLineText(self._parent, "Note", "Note at this stage")
        if ok:
            self._view.tell(self._presenter.add_note(text))

    def ask_export(self) -> None:
        """Ask where the report goes, then write it."""
        if self._refused():
            return
        name = f"job-{self._presenter.frame().ticket}.pdf"
        path = to_save(self._parent, "Save the report", name, KINDS)
        if path is not None:
            self.export(path)

    def ask_print(self) -> None:
        """Ask for a printer, then print the report."""
        if self._refused():
            return
        sent = print_sheet(self._presenter.sheet(), self._presenter.sheet_title(), self._parent)
        if sent is not None:
            words = "The report went to the printer." if sent else "The printer refused the report."
            self._view.say(words, Kind.DONE if sent else Kind.REFUSED)

    def export(self, path: Path) -> None:
        """Write the report to a file."""
        self._view.tell(self._presenter.export(path))

    def _refused(self) -> bool:
        refusal = self._presenter.sheet_refusal()
        if refusal:
            self._view.say(refusal, Kind.REFUSED)
        return bool(refusal)
