"""The shop's other jobs, as one job sees them: what they left to watch for, the one that it follows
from, one that follows it."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from loose_rail.app.following_job import FOLLOWS, FOLLOWS_AS, Why, record_words
from loose_rail.app.known_before import warnings_for
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.jobs import events as ev
from loose_rail.jobs.state import JobState
from loose_rail.jobs.summary import Summary
from loose_rail.kernel.errors import LooseRailError

SECOND = "second_fault"
"""The detail that says which fault was parked as which job."""


class OtherJobs:
    """`summaries` are those of every other job, `state_of` folds one, `follow` opens one that
    follows and says its ticket, `give` writes this one as a bundle. Each may raise LooseRailErrors.
    """

    def __init__(
        self,
        summaries: Callable[[], list[Summary]] = list,
        state_of: Callable[[int], JobState] | None = None,
        follow: Callable[[Why, str], str] | None = None,
        give: Callable[[Path, str], str] | None = None,
    ) -> None:
        self.summaries = summaries
        self._state_of, self._follow, self._give = state_of, follow, give

    def give(self, path: Path, sheet: str) -> Outcome:
        """This job as a bundle for another shop, with its sheet."""
        if self._give is None:
            return Outcome.refused("Here no bundle can be written.")
        try:
            words = self._give(path, sheet)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        return Outcome(f"Job bundle written to {path}: {words}.")

    def warnings(self, state: JobState) -> list[str]:
        """What earlier sets of this kind left to watch for."""
        return warnings_for(self.summaries(), state)

    def followed(self, session: JobSession) -> str:
        """The record of the job that this one follows from, in words; empty where it follows none,
        with the reason where that can't be read."""
        number, why = session.state.detail(FOLLOWS), session.state.detail(FOLLOWS_AS)
        if not number or self._state_of is None:
            return ""
        said = "Came back" if why == Why.CAME_BACK else "Second fault of the set"
        try:
            return f"{said}: {record_words(self._state_of(int(number)))}."
        except LooseRailError as error:
            return f"{said}; its record can't be read: {error.one_line()}"

    def park(self, session: JobSession, complaint: str) -> Outcome:
        """A second fault of the set gets a job of its own."""
        if self._follow is None:
            return Outcome.refused("Here no other job can be opened.")
        try:
            ticket = self._follow(Why.SECOND_FAULT, complaint)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        session.record(ev.DetailNoted(SECOND, f"{complaint.strip()}: job {ticket}"))
        return Outcome(f"Parked as job {ticket}.")
