"""Full-text find across the shop: what was said, seen, read and decided in every job.

An FTS5 index in memory, filled from the texts beside the summaries and kept up by the length of
each log.
"""

from __future__ import annotations

import re
import sqlite3
from dataclasses import dataclass

from loose_rail.app.ports import Store
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
        self._rows: dict[int, range] = {}
        """Rows of a job in the index: its own column is not indexed, looking there takes a scan."""
        self._next_row = 1
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
        lengths = {one.job: one.events for one in self._store.jobs() if not one.lost}
        changed = {job for job, length in lengths.items() if self._lengths.get(job) != length}
        for job, texts in self._store.texts(changed).items():
            for row in self._rows.pop(job, ()):
                self._index.execute("DELETE FROM texts WHERE rowid = ?", (row,))
            every = (*texts, " · ".join(texts))
            rows = range(self._next_row, self._next_row + len(every))
            self._index.executemany(
                "INSERT INTO texts(rowid, job, text) VALUES (?, ?, ?)",
                [(row, job, text) for row, text in zip(rows, every, strict=True)],
            )
            self._next_row = rows.stop
            self._rows[job] = rows
            self._lengths[job] = lengths[job]

    def close(self) -> None:
        """Let go of the index."""
        self._index.close()
