"""Full-text find across the shop: what was said, seen, read and decided in every job.

An FTS5 index in memory, filled from the logs and kept up by the length of each; the database holds
nothing but the events.
"""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass

from loose_rail.app.ports import Store
from loose_rail.jobs import events as ev
from loose_rail.jobs.event_words import words_of
from loose_rail.jobs.fold import voided_sequences
from loose_rail.kernel.errors import StoreError

MOST_HITS = 60
SNIPPET_WORDS = 12
WORD = re.compile(r"\w+", re.UNICODE)


@dataclass(frozen=True, slots=True)
class Hit:
    """A job in which the words stand, with the place that fits best."""

    job: int
    snippet: str


class Finder:
    """Finds words in the jobs of a store."""

    def __init__(self, store: Store) -> None:
        self._store = store
        self._lengths: dict[int, int] = {}
        self._index = sqlite3.connect(":memory:", check_same_thread=False)
        self._index.execute(
            "CREATE VIRTUAL TABLE texts USING fts5(job UNINDEXED, text, tokenize='unicode61')"
        )

    def find(self, text: str) -> list[Hit]:
        """Jobs in which every word stands, as a whole or as a beginning, the best first. Nothing
        for no words. Raises StoreError."""
        words = WORD.findall(text)
        if not words:
            return []
        self._keep_up()
        query = " ".join(f'"{word}"*' for word in words)
        try:
            found = self._index.execute(
                "SELECT job, snippet(texts, 1, '', '', '…', ?) FROM texts "
                "WHERE texts MATCH ? ORDER BY rank LIMIT ?",
                (SNIPPET_WORDS, query, MOST_HITS),
            ).fetchall()
        except sqlite3.Error as error:
            raise StoreError(
                f"“{text}” can't be looked for: {error}.", "Try plain words."
            ) from error
        best: dict[int, str] = {}
        for job, snippet in found:
            best.setdefault(int(job), str(snippet))
        return [Hit(job, snippet) for job, snippet in best.items()]

    def _keep_up(self) -> None:
        for one in self._store.jobs():
            try:
                records = self._store.load(one.job)
            except StoreError:  # the shelf tells of a job that can't be read
                continue
            if self._lengths.get(one.job) == len(records):
                continue
            self._index.execute("DELETE FROM texts WHERE job = ?", (one.job,))
            self._index.executemany(
                "INSERT INTO texts VALUES (?, ?)", [(one.job, text) for text in _texts(records)]
            )
            self._lengths[one.job] = len(records)

    def close(self) -> None:
        """Let go of the index."""
        self._index.close()


FOUND_DETAILS = ("number_label", "number_sticker", "number_etched", "accessories")
"""The customer's name is not among them: a screen at the counter is seen by others."""


def _texts(records: list[ev.Record]) -> Iterator[str]:
    """Every text of a job that stands: one for each thing that was said or done, and all in one."""
    gone = voided_sequences(records)
    every = [_text_of(record.event) for record in records if record.sequence not in gone]
    told = [text for text in every if text]
    yield from told
    yield " · ".join(told)


def _text_of(event: ev.AnyEvent) -> str:
    if isinstance(event, ev.JobOpened):
        return f"{event.ticket} {event.set_name} {event.board_id} {event.complaint}"
    if isinstance(event, ev.NoteWritten):
        return event.text
    if isinstance(event, ev.DetailNoted) and event.detail in FOUND_DETAILS:
        return event.text
    if isinstance(event, ev.PhotoPointed):
        return event.words
    if isinstance(event, ev.PhotoAdded):
        return event.caption
    if isinstance(event, ev.SymptomNoted):
        return f"{event.symptom.replace('_', ' ')} {event.words}"
    if isinstance(event, ev.HistoryNoted):
        return f"{event.fact.replace('_', ' ')} {event.words}"
    if isinstance(event, ev.StripStep):
        return f"{event.count} {event.kind_words} {event.place}"
    if isinstance(event, ev.VerdictAccepted):
        return f"{event.part} {event.title}"
    if isinstance(event, ev.ReadingTaken | ev.FindingNoted | ev.PartFitted):
        return words_of(event)
    return ""
