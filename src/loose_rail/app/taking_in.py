"""A set is taken in: its board matched by any number, or made from topology and printed labels."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from loose_rail.app.job_file.board_of import WAKE_SENSES, CaseBoard, board_of
from loose_rail.app.job_file.notes import Notes
from loose_rail.app.job_file.words import plain
from loose_rail.app.legend import (
    GROUND,
    LegendState,
    bare_label,
    connector_of,
    legend_of_board,
    legend_of_labels,
    numbered_labels,
)
from loose_rail.app.outcome import Echo, Outcome
from loose_rail.app.papers import NUMBERS
from loose_rail.app.ports import Clock, Store
from loose_rail.boards.by_pinout import GROUND as GROUND_NET
from loose_rail.boards.by_pinout import TypedPin, by_pinout
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.evidence.customer_words import proposal_words, proposals
from loose_rail.jobs import events as ev
from loose_rail.jobs.summary import Summary, find_texts, summary_of
from loose_rail.kernel.errors import LooseRailError
from loose_rail.kernel.quantities import parse_quantity

MOST_LIMIT = 1e6
MOST_SAID = 4


@dataclass(frozen=True, slots=True)
class Form:
    """What was typed. `labels` are printed at the connectors, parted by commas or semicolons."""

    set_name: str
    numbers: str
    topology: str
    labels: str
    wake: str
    complaint: str
    limit: str


class Book(Protocol):
    """The board book."""

    def match(self, number: str) -> Board | None: ...
    def keep(self, board: Board, number: str, aliases: list[str]) -> Board: ...


class NewJob:
    """The form for a set that comes in."""

    def __init__(self, book: Book, store: Store, clock: Clock) -> None:
        self._book = book
        self._store = store
        self._clock = clock

    def knows(self, numbers: str) -> bool:
        """Whether the board book has a board with one of these numbers."""
        return self._matched(numbers) is not None

    def board_echo(self, form: Form) -> Echo:
        """What the numbers, the topology and the labels are taken for."""
        try:
            known = self._matched(form.numbers)
            if known is not None:
                return Echo(f"In the board book: {known.title}.", False)
            if not numbers_of(form.numbers):
                return Echo("Any number on the board: maker's, sticker or etched.", False)
            case, notes = self._made(form)
        except LooseRailError as error:
            return Echo(error.one_line(), True)
        known_labels = [one for one in notes.understood if "topology" not in one]
        said = [*known_labels, *(f"{one.what}: {one.why}" for one in notes.not_used)]
        said += [warning for warning in notes.warnings if "taken as" in warning]
        head = f"Not in the board book: made from topology {case.board.topology}."
        return Echo(" ".join([head, "; ".join(said[-MOST_SAID:])]).strip(), False)

    def legend(self, form: Form, around: bool) -> LegendState:
        """The connector as it is seen: of the known board, or as it is typed."""
        try:
            known = self._matched(form.numbers)
            if known is not None:
                return legend_of_board(known, around)
            name, labels = connector_of(form.labels)
            if not labels:
                return LegendState("", (), "")
            case, _ = self._made(form)
        except LooseRailError:  # the line above says what is wrong with it
            return LegendState("", (), "")
        return legend_of_labels(case.board, numbered_labels(labels), case.labels, around, name)

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

    def _made(self, form: Form) -> tuple[CaseBoard, Notes]:
        notes = Notes()
        labels = [bare_label(one) for one in connector_of(form.labels)[1]]
        labels = [one for one in labels if not GROUND.match(one)]
        wake = form.wake if form.wake in WAKE_SENSES else "unknown"
        given = {"topology": form.topology, "rails": labels, "wake": wake}
        return board_of(given, Path(), notes), notes

    def _keep(self, form: Form) -> Board:
        case, _ = self._made(form)
        numbers = numbers_of(form.numbers)
        return self._book.keep(own_board(case, form.labels), numbers[0], numbers[1:])


def own_board(case: CaseBoard, typed: str) -> Board:
    """The board of a typed pinout: its connector is the typed one, and nothing of the example's
    connector or designators is spoken of."""
    name, labels = connector_of(typed)
    pins = {
        number: TypedPin(
            text, GROUND_NET if GROUND.match(text) else case.labels.get(plain(text), "")
        )
        for number, text in numbered_labels(labels).items()
    }
    return by_pinout(case.board, name, pins)


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
