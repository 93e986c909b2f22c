"""The log of one open job and its way to the disk: appended, saved, merged, set aside.

The log in memory is the truth of the window; every event is written before the command returns. A
write that fails is kept, said, and tried again. Where another window wrote first, its entries are
taken in and ours follow them.
"""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.app.merge import merged
from loose_rail.app.ports import Store
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import extended, fold
from loose_rail.jobs.summary import find_texts, summary_of
from loose_rail.kernel.errors import JobError, StoreConflictError, StoreError

MOST_MERGES = 5
"""How often a save is tried again while others keep writing to the same job."""


@dataclass(frozen=True, slots=True)
class Saved:
    """How a save went: whether others had written, and which of our entries were refused."""

    others: bool = False
    refused: tuple[ev.Record, ...] = ()


class JobLog:
    """The records of a job and what they fold to. Raises StoreError where they can't be loaded,
    JobError where they do not start properly."""

    def __init__(self, store: Store, job: int) -> None:
        self.job = job
        self.records: list[ev.Record] = store.load(job)
        self.state = fold(self.records)
        """The folded log."""
        self.unsaved: list[ev.Record] = []
        self.problem = self.conflict = ""
        self._store = store
        self._has_aside = False
        self._take_up_aside()

    def append(self, event: ev.AnyEvent, at: str, bench: str) -> Saved:
        """Append an event and save it. Raises JobError for one that can't be stored."""
        try:
            ev.encode_event(event)
        except UnicodeEncodeError as error:
            raise JobError(
                "This holds a letter that can't be stored (half of a pair).",
                "Type it again instead of pasting it.",
            ) from error
        self.conflict = ""
        record = ev.Record(len(self.records) + 1, at, bench, event)
        self.records.append(record)
        self.unsaved.append(record)
        self.state = extended(self.state, self.records)
        return self.save()

    def save(self) -> Saved:
        """Write what is not written yet. A failure stands in `problem`."""
        try:
            if self.unsaved:
                self._write()
            self._is_saved()
        except StoreConflictError:
            return self._merge()
        except StoreError as error:
            self._keep_beside(error.one_line())
        return Saved()

    def _keep_beside(self, problem: str) -> None:
        """What can't be saved now goes to a file beside the shop at once: nothing that was accepted
        is in memory alone."""
        self.problem = problem
        try:
            self._store.set_aside(self.job, self.unsaved)
            self._has_aside = True
        except StoreError as error:
            self.problem = f"{problem} Nor beside it: {error.one_line()}"

    def reload(self) -> bool:
        """Take in what others wrote; whether there was anything. Raises StoreError."""
        known = len(self.records) - len(self.unsaved)
        if len(self._store.load(self.job)) <= known:
            return False
        self._merge()
        return True

    def set_aside(self) -> str:
        """Keep what is not saved in a file beside the shop; returns where. Raises StoreError."""
        return self._store.set_aside(self.job, self.unsaved)

    def _write(self) -> None:
        """The unsaved records with the summary of the job after them, in one transaction."""
        summary = summary_of(self.job, self.records, self.state)
        self._store.append(self.job, self.unsaved, summary, find_texts(self.records))

    def _is_saved(self) -> None:
        self.unsaved.clear()
        self.problem = ""
        if self._has_aside:
            self._store.drop_aside(self.job)
            self._has_aside = False

    def _merge(self) -> Saved:
        """Put our unsaved entries behind what others wrote."""
        known = len(self.records) - len(self.unsaved)
        refused: list[ev.Record] = []
        for _ in range(MOST_MERGES):
            try:
                found = merged(self._store.load(self.job), known, self.unsaved, self._has_aside)
                refused += found.refused
                self.records, self.unsaved = list(found.records), list(found.ours)
                self.state = found.state
                self.conflict = found.words
                if self.unsaved:
                    self._write()
                self._is_saved()
                break
            except StoreConflictError:
                known = len(self.records) - len(self.unsaved)
            except StoreError as error:
                self._keep_beside(error.one_line())
                break
        return Saved(True, tuple(refused))

    def _take_up_aside(self) -> None:
        """Work of an earlier sitting that could not be saved then."""
        try:
            waiting = self._store.aside(self.job)
        except StoreError as error:
            self.conflict = error.one_line()
            return
        if not waiting:
            return
        self._has_aside = True
        known = min(min(one.sequence for one in waiting) - 1, len(self.records))
        found = merged(self.records, known, waiting, aside=True)
        self.records, self.unsaved, self.state = list(found.records), list(found.ours), found.state
        if not found.ours:  # another program took them up and saved them
            self.save()
            return
        count = len(found.ours)
        told = f"{count} unsaved entr{'y' if count == 1 else 'ies'} of the last sitting: taken up."
        self.conflict = found.words if found.refused else told
        self.save()
