"""The stages before the probes of one job: where the ledger and the survey stand, and what their
lines and keys do."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.app import disassembling, intake, looking_over, papers, set_picture
from loose_rail.app.outcome import Echo, Outcome
from loose_rail.app.session import JobSession
from loose_rail.kernel.signal import Signal


class FirstStages:
    """`looking_at` counts the parts in survey order from 0; `putting_back` while the ledger is
    played in reverse; `known_warnings` come from earlier sets of this kind."""

    def __init__(
        self,
        session: JobSession,
        redrawn: Signal[None],
        known_warnings: Sequence[str] = (),
    ) -> None:
        self._session = session
        self._redrawn = redrawn
        self.known_warnings = tuple(known_warnings)
        self.looking_at = 0
        self.putting_back = False

    # ---- take in ---------------------------------------------------------------------------

    def words_echo(self, text: str) -> Echo:
        """How the customer's words are understood."""
        return intake.words_echo(self._session, text)

    def confirm_words(self, text: str) -> Outcome:
        """What the words propose counts; without words, what the complaint proposes."""
        return intake.confirm_words(self._session, text or self._session.state.complaint)

    def note_detail(self, key: str, text: str) -> Outcome:
        """A line of the paperwork."""
        return papers.note_detail(self._session, key, text)

    def order_by_next(self) -> Outcome:
        """Another number counts for ordering."""
        return papers.order_by_next(self._session)

    def drop_noted(self, key: str) -> Outcome:
        """A symptom or fact counts no longer."""
        return intake.drop_noted(self._session, key)

    def turn_answer(self, kind: str) -> Outcome:
        """Something seen or heard counts, or no longer."""
        return set_picture.turn_answer(self._session, kind)

    def note_rate(self, hertz: float) -> Outcome:
        """A rate was tapped along with a tick or a blink."""
        return set_picture.note_rate(self._session, hertz)

    def answer_check(self, fact: str) -> Outcome:
        """A check before opening is answered."""
        return intake.answer_check(self._session, fact)

    # ---- strip down ------------------------------------------------------------------------

    def strip_echo(self, text: str) -> Echo:
        """What a line of the ledger is understood as."""
        return disassembling.strip_echo(self._session, text, self.putting_back)

    def strip_enter(self, text: str) -> Outcome:
        """A step more, or a step back."""
        return disassembling.enter(self._session, text, self.putting_back)

    def turn_around(self) -> None:
        """From taking apart to putting back, and again."""
        self.putting_back = not self.putting_back
        self._redrawn.emit(None)

    # ---- look over -------------------------------------------------------------------------

    def part_in_front(self) -> str:
        """The part that the survey looks at."""
        order = looking_over.survey_order(self._session)
        return order[min(self.looking_at, len(order) - 1)].ref if order else ""

    def move_survey(self, step: int) -> None:
        """Look at another part."""
        last = len(looking_over.survey_order(self._session)) - 1
        self.looking_at = min(max(self.looking_at + step, 0), last)
        self._redrawn.emit(None)

    def note_finding(self, number: int) -> Outcome:
        """What is seen on the part; then the next one that was not looked at."""
        at = self.looking_at
        before = len(self._session.state.findings)
        with self._redrawn.held():
            outcome = looking_over.note_finding(self._session, at, number)
            if len(self._session.state.findings) > before:
                self.looking_at = looking_over.next_unseen(self._session, at)
                self._redrawn.emit(None)
        return outcome

    def rest_is_clean(self) -> Outcome:
        """Nothing is seen on all the rest."""
        return looking_over.rest_is_clean(self._session)
