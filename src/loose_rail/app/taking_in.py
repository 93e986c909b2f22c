"""A set is taken in: its board matched by any number, or made from topology and printed labels."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Protocol

from loose_rail.app.legend import LegendState, legend_of_board
from loose_rail.app.outcome import Echo, Outcome
from loose_rail.app.own_boards import BoardEcho, TypedBoard, echo_of, legend_of
from loose_rail.app.papers import NUMBERS
from loose_rail.app.ports import Clock, Store
from loose_rail.boards.own.file import USUAL_MAINS_VOLTS, OwnBoardFile
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.customer_words import proposal_words, proposals
from loose_rail.jobs import events as ev
from loose_rail.jobs.summary import Summary, find_texts, summary_of
from loose_rail.kernel.errors import LooseRailError
from loose_rail.kernel.quantities import parse_quantity

MOST_LIMIT = 1e6


@dataclass(frozen=True, slots=True)
class Form:
    """What was typed. `connectors` holds one connector a line, `seen` keys of `own.seen`."""

    set_name: str
    numbers: str
    kind: str
    connectors: str
    wake: str
    complaint: str
    limit: str
    seen: tuple[str, ...] = ()


class Book(Protocol):
    """The board book."""

    def match(self, number: str) -> Board | None: ...
    def keep_own(self, own: OwnBoardFile) -> Board: ...


class NewJob:
    """The form for a set that comes in. `mains_volts` is what this bench has."""

    def __init__(
        self,
        book: Book,
        store: Store,
        clock: Clock,
        mains_volts: Callable[[], float] = lambda: USUAL_MAINS_VOLTS,
    ) -> None:
        self._book = book
        self._store = store
        self._clock = clock
        self._mains_volts = mains_volts

    def knows(self, numbers: str) -> bool:
        """Whether the board book has a board with one of these numbers."""
        return self._known(numbers) is not None

    def board_echo(self, form: Form) -> Echo:
        """What the numbers are taken for."""
        try:
            known = self._matched(form.numbers)
        except LooseRailError as error:
            return Echo(error.one_line(), True)
        if known is not None:
            return Echo(f"In the board book: {known.title}.", False)
        if not numbers_of(form.numbers):
            return Echo("Any number on the board: maker's, sticker or etched.", False)
        return Echo("Not in the board book: it is put together from what you see.", False)

    def own_echo(self, form: Form) -> BoardEcho:
        """How a board that is not in the book is put together from what was typed."""
        return echo_of(self._typed(form))

    def legend(self, form: Form, line: int) -> LegendState:
        """The connector as it is seen: of the known board, or the one on this typed line."""
        known = self._known(form.numbers)
        return legend_of_board(known) if known is not None else legend_of(self._typed(form), line)

    def words_echo(self, form: Form) -> Echo:
        """How the complaint is understood."""
        found = proposals(form.complaint)
        if not found:
            words = "Type what the customer says." if not form.complaint.strip() else "No symptom."
            return Echo(words, False)
        return Echo("; ".join(proposal_words(one) for one in found), False)

    def create(self, form: Form) -> int | Outcome:
        """The new job's number, or what is missing. What the words propose counts at once: the
        take-in page shows it, and takes it back."""
        if not form.set_name.strip():
            return Outcome.refused("What set is it? Type its name or model.")
        if not numbers_of(form.numbers):
            return Outcome.refused("Type a number that stands on the board.")
        limit = _limit(form.limit)
        if limit is None:
            return Outcome.refused(f"“{form.limit}” is no amount: type 40 or nothing.")
        try:
            board = self._matched(form.numbers) or self._keep(form)
            number = self._store.new_job_number()
            records = self._records(form, board, number, limit)
            self._store.append(number, records, summary_of(number, records), find_texts(records))
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        return number

    def _records(self, form: Form, board: Board, number: int, limit: float) -> list[ev.Record]:
        opened = ev.JobOpened(
            ticket=next_ticket(self._store.jobs()),
            set_name=form.set_name.strip(),
            board_id=board.id,
            complaint=form.complaint.strip(),
            spending_limit=limit,
            currency="",
        )
        events: list[ev.AnyEvent] = [opened]
        for (key, _), text in zip(NUMBERS, numbers_of(form.numbers), strict=False):
            events.append(ev.DetailNoted(key, text))
        for one in proposals(form.complaint):
            if one.is_history:
                events.append(ev.HistoryNoted(one.kind, one.phrase))
            else:
                events.append(ev.SymptomNoted(one.kind, one.phrase, one.hertz))
        return [
            ev.Record(place, self._clock.now(), "bench 1", event)
            for place, event in enumerate(events, start=1)
        ]

    def _matched(self, numbers: str) -> Board | None:
        for number in numbers_of(numbers):
            board = self._book.match(number)
            if board is not None:
                return board
        return None

    def _known(self, numbers: str) -> Board | None:
        """The same where a damaged profile is told elsewhere: the line of the board says so."""
        try:
            return self._matched(numbers)
        except LooseRailError:
            return None

    def _typed(self, form: Form) -> TypedBoard:
        numbers = numbers_of(form.numbers) or ["own board"]
        return TypedBoard(
            number=numbers[0],
            aliases=tuple(numbers[1:]),
            seen=form.seen,
            kind=form.kind,
            connectors=form.connectors,
            wake=form.wake,
            set_words=form.set_name,
            mains_volts=self._mains_volts(),
        )

    def _keep(self, form: Form) -> Board:
        return self._book.keep_own(self._typed(form).file())


def numbers_of(text: str) -> list[str]:
    """The numbers typed, parted by commas, the one for ordering first."""
    return [part.strip() for part in re.split(r"[,;]", text) if part.strip()]


def next_ticket(jobs: Iterable[Summary]) -> str:
    """The number above the highest ticket of the shop, in four digits; tickets that are no numbers
    do not count."""
    numbers = [int(job.ticket) for job in jobs if job.ticket.isdecimal()]
    return f"{max(numbers, default=0) + 1:04d}"


def _limit(text: str) -> float | None:
    if not text.strip():
        return 0.0
    found = parse_quantity(text)
    if found is None or found.unit or not 0 <= found.value <= MOST_LIMIT:
        return None
    return found.value
