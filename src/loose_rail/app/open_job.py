"""An open job: its log, its folded state, and the review of them.

The log in memory is the truth of the window; every event is written before the command returns. A
write that fails is kept, said, and tried again: nothing accepted is lost.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from loose_rail.app.log import JobLog
from loose_rail.app.ports import Clock
from loose_rail.app.telling import expanded, is_told
from loose_rail.boards.profile import Board
from loose_rail.boards.reservoirs import Reservoir
from loose_rail.boards.whole_board import WHOLE_BOARD
from loose_rail.diagnosis.dossier import Beside
from loose_rail.diagnosis.inference.shop_history import ClosedJob
from loose_rail.diagnosis.known_here import known_here
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.diagnosis.review import Review, review
from loose_rail.diagnosis.settled_facts import Bench, settled_facts
from loose_rail.jobs import events as ev
from loose_rail.jobs.fold import fold, redo_target, undo_target, voided_sequences
from loose_rail.jobs.renamed import renamed_records
from loose_rail.jobs.state import JobState
from loose_rail.judgement.economics import Prices
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import SafetyFacts, to_measure
from loose_rail.kernel.errors import JobError
from loose_rail.kernel.signal import Signal

BENCH = "bench 1"
PAPER = (
    ev.NoteWritten,
    ev.PhotoAdded,
    ev.PhotoPointed,
    ev.ReplacementChosen,
    ev.WayChosen,
    ev.MethodChosen,
    ev.PartListed,
    ev.PartStruck,
    ev.OfferTaken,
)
"""Events that no review hangs on."""


class OpenJob:
    """The log of a job with what follows from it. `changed` is emitted after every event."""

    def __init__(
        self,
        log: JobLog,
        board: Board,
        clock: Clock,
        closed_jobs: Sequence[ClosedJob] = (),
    ) -> None:
        self.job = log.job
        self.board = board
        self.engine: Engine | None = None
        self.changed: Signal[None] = Signal()
        self.prediction_problem = ""
        """Why there is no engine and none is coming, empty while it is being worked out."""
        self.closed_jobs = tuple(closed_jobs)
        self._clock = clock
        self._log = log
        self._opened_with = len(self._log.records)
        self._lacks: frozenset[str] = frozenset()
        self._has_lamp = True
        self.prices = Prices()
        """The shop's; a job may have its own."""
        self.limiters: tuple[str, ...] = ()
        """What can stand in line on this bench."""
        self._review: Review | None = None
        self._parts = _names_of(board)
        self._take()

    # ---- what follows from the log ---------------------------------------------------------

    @property
    def records(self) -> Sequence[ev.Record]:
        """The whole log, newest last."""
        return tuple(self._log.records)

    @property
    def bench(self) -> Bench:
        """The bench as it is at this moment."""
        return Bench(
            now=self._clock.now(),
            sitting=self._opened_with,
            lacks=self._lacks,
            has_lamp=self._has_lamp,
            closed_jobs=self.closed_jobs,
            beside=self._besides,
        )

    @property
    def review(self) -> Review | None:
        """What the log says now, worked out once for each event; None without predictions."""
        if self.engine is None:
            return None
        kept = self._review
        if kept is None or (kept.expires_at and self._clock.now() >= kept.expires_at):
            self._review = review(self.engine, self.state, self.bench)
        return self._review

    @property
    def reviewed(self) -> Review:
        """The same where it must be there. Raises JobError without predictions."""
        found = self.review
        if found is None:
            raise JobError("The predictions are not there yet.", "Wait until they are.")
        return found

    @property
    def facts(self) -> SafetyFacts:
        """What the safety rules may rely on now."""
        found = self.review
        return found.facts if found else settled_facts(self.board, self.state, self.bench)

    @property
    def drained(self) -> bool:
        """The bulk was measured below the limit since the plug was pulled."""
        facts = self.facts
        volts = facts.bulk_volts
        out = not facts.state.plugged and facts.state_known
        return out and volts is not None and abs(volts) < limit("drained_volts")

    def to_measure(self, part: str = "") -> tuple[Reservoir, ...]:
        """Reservoirs that must still be measured empty before hands or a dead-board reading go to a
        part; with no part named, all of the board: rework."""
        return to_measure(self.board, part, self.facts)

    def now(self) -> str:
        """The time by the job's clock, as ISO 8601 text."""
        return self._clock.now()

    def set_engine(self, engine: Engine) -> None:
        """Predictions are ready: reviews are worked out from now on."""
        self.engine = engine
        self._take()
        self.changed.emit(None)

    def use_board(self, board: Board) -> None:
        """The board stands otherwise now (another mains, a wake sense that was measured): what was
        predicted for it no longer holds."""
        self.board, self.engine = board, None
        self._parts = _names_of(board)
        self._take()
        self.changed.emit(None)

    def use_bench(
        self,
        lacks: Sequence[str],
        has_lamp: bool = True,
        prices: Prices | None = None,
        limiters: Sequence[str] = (),
    ) -> None:
        """Meter settings that nothing on the bench has, and whether a lamp can stand in line: what
        it lacks is not offered. `prices` and `limiters` are the shop's."""
        self.prices = prices or self.prices
        self.limiters = tuple(limiters) or self.limiters
        if (self._lacks, self._has_lamp) != (frozenset(lacks), has_lamp):
            self._lacks, self._has_lamp = frozenset(lacks), has_lamp
            self._review = None
            self.changed.emit(None)

    # ---- writing ---------------------------------------------------------------------------

    def record(self, event: ev.AnyEvent) -> None:
        """Append an event and save it. Raises JobError where it can't be stored, or contradicts
        what another window wrote meanwhile; then it is not in the log."""
        outcome = self._log.append(event, self._clock.now(), BENCH)
        if outcome.others:
            self._take()
        else:
            kept = self._review if isinstance(event, PAPER) else None
            self._take()
            self._review = kept and _with_job(kept, self.state)
        self.changed.emit(None)
        if outcome.refused:
            raise JobError(self.conflict, "What you typed stands in the line.")

    def undo(self) -> str:
        """Take the last thing back; returns what it was, empty where there is nothing."""
        target = undo_target(self._log.records)
        if target is None:
            return ""
        words = self.state.undo_words
        self.record(ev.Voided(target.sequence))
        return words

    def redo(self) -> str:
        """Put back what was last taken back; returns what it was, empty where there is nothing."""
        target = redo_target(self._log.records)
        if target is None:
            return ""
        words = self.state.redo_words
        self.record(ev.Restored(target.sequence))
        return words

    def take_back(self, event: ev.AnyEvent) -> None:
        """Take back the last standing event that equals this one; nothing where there is none."""
        gone = voided_sequences(self._log.records)
        for record in reversed(self._log.records):
            if record.event == event and record.sequence not in gone:
                self.record(ev.Voided(record.sequence))
                return

    # ---- the disk --------------------------------------------------------------------------

    def retry_save(self) -> None:
        """Try again to write what could not be written."""
        if not self._log.unsaved:
            return
        if self._log.save().others:
            self._take()
        self.changed.emit(None)

    @property
    def save_problem(self) -> str:
        """Why what was accepted is not on the disk yet, empty where it is."""
        return self._log.problem

    @property
    def conflict(self) -> str:
        """What another window did to this job, and what became of our entries."""
        return self._log.conflict

    @property
    def unsaved(self) -> int:
        """How many accepted entries are not on the disk yet."""
        return len(self._log.unsaved)

    def set_aside(self) -> str:
        """Keep what could not be saved in a file beside the shop; returns where. Raises
        StoreError."""
        return self._log.set_aside()

    def reload(self) -> None:
        """Take in what other windows and programs have written to this job. Raises StoreError."""
        if self._log.reload():
            self._take()
            self.changed.emit(None)

    # ---- inside ----------------------------------------------------------------------------

    def _take(self) -> None:
        """The job as the log says, and as far as this board knows it."""
        candidates = self.engine.keys if self.engine else None
        lamps = self.engine.table.lamp_glow if self.engine else None
        names = self.board.earlier_names
        records = renamed_records(self._log.records, names) if names else self._log.records
        told = fold(records) if names else self._log.state
        self._besides: tuple[Beside, ...] = ()
        if self.engine is not None and is_told(records):
            made = expanded(self.engine.table, records)
            told, self._besides = fold(made.records), made.besides
        self.state: JobState = known_here(told, self._parts, candidates, lamps)
        self._review = None


def _names_of(board: Board) -> frozenset[str]:
    """What an event may name: its parts, and the power board as one."""
    return frozenset((WHOLE_BOARD, *(part.ref for part in board.components)))


def _with_job(kept: Review, job: JobState) -> Review:
    """The same review of a log that has one more event which nothing of it hangs on."""
    return replace(kept, job=job)
