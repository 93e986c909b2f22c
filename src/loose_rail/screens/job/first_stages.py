"""The stages before the probes on the screen: take in, strip down, look over, wired to a job."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QWidget

from loose_rail.screens.look_over.view import SurveyView
from loose_rail.screens.strip_down.view import StripView
from loose_rail.screens.take_in.view import IntakeView

if TYPE_CHECKING:
    from loose_rail.screens.job.view import JobView


class FirstStages(QObject):
    """Belongs to one `JobView`: the three pages, and what their lines and keys do."""

    def __init__(self, view: JobView) -> None:
        super().__init__(view)
        self._view = view
        self._before = view.presenter.before
        self.intake, self.strip, self.survey = IntakeView(), StripView(), SurveyView()
        for page in (self.intake, self.strip, self.survey):
            page.went_on.connect(view.go_on)
            view.pages.addWidget(page)
        self._connect()

    def _connect(self) -> None:
        view, before = self._view, self._before
        self.intake.note.clicked.connect(view.write_note)
        self.intake.typed.connect(self.echo_words)
        self.intake.confirmed.connect(self._confirm_words)
        self.intake.dropped.connect(lambda key: view.tell(before.drop_noted(key)))
        self.intake.papers.noted.connect(self._note_detail)
        self.intake.papers.order_asked.connect(lambda: view.tell(before.order_by_next()))
        self.intake.papers.copied.connect(lambda: view.say("The text for a seller is copied."))
        self.intake.checked.connect(lambda fact: view.tell(before.answer_check(fact)))
        self.strip.typed.connect(self.echo_step)
        self.strip.entered.connect(self._enter_step)
        self.strip.turned.connect(before.turn_around)
        self.survey.noted.connect(lambda number: view.tell(before.note_finding(number)))
        self.survey.moved.connect(before.move_survey)
        self.survey.rest_clean.connect(lambda: view.tell(before.rest_is_clean()))

    def drawn(self, page: QWidget) -> None:
        """A page was drawn: its line is echoed again, since what is known may have changed."""
        if page is self.intake:
            self.echo_words(self.intake.entry.text())
        elif page is self.strip:
            self.echo_step(self.strip.entry.text())

    def echo_words(self, text: str) -> None:
        """What the customer's words are understood as."""
        self.intake.show_echo(self._before.words_echo(text))

    def echo_step(self, text: str) -> None:
        """What a line of the ledger is understood as."""
        self.strip.show_echo(self._before.strip_echo(text))

    def _note_detail(self, key: str, text: str) -> None:
        notice = self._before.note_detail(key, text)
        if notice.text:
            self._view.tell(notice)

    def _enter_step(self, text: str) -> None:
        notice = self._before.strip_enter(text)
        self.strip.entry.answered(notice.taken)
        self._view.tell(notice)

    def _confirm_words(self, text: str) -> None:
        notice = self._before.confirm_words(text)
        if notice.taken:
            self.intake.entry.clear()
        self._view.tell(notice)
        self.echo_words(self.intake.entry.text())
