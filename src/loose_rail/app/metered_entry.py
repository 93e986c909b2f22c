"""Readings that come from a meter: read once, or held by the meter that follows the card."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

from loose_rail.app.entry import EntryDesk
from loose_rail.app.measure import take_series
from loose_rail.app.outcome import Outcome
from loose_rail.app.ports import Hands, Meter
from loose_rail.app.session import JobSession
from loose_rail.boards.reservoirs import bulk_of
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.judgement.judge import good_band
from loose_rail.judgement.limits import limit
from loose_rail.kernel.errors import LooseRailError
from loose_rail.kernel.observation import Form, Observation
from loose_rail.kernel.quantities import engineering
from loose_rail.vocabulary.meter_mode import MeterMode
from loose_rail.vocabulary.phase import Phase

AIR = "air"
"""Stands in `_asked` once it was asked whether the probes are on the leads."""
RESERVOIR_KEY = str(Phase.RESERVOIR)
"""Names the volts across a reservoir where a candidate's key stands else."""
MeterClock = Callable[[], Callable[[], float]]
"""Gives a clock for one series of samples."""
METERED_STAGES = ("cold_checks", "live_checks", "rework", "power_up")
"""Where the meter that follows the card takes readings by itself; elsewhere it is only shown."""


class Reporter(Protocol):
    """What long work reports to: whether it was cancelled, and how far it is."""

    @property
    def cancelled(self) -> bool: ...
    def progress(self, share: float, words: str) -> None: ...


@dataclass(frozen=True, slots=True)
class MeterRequest:
    """What the meter worker needs: how to open the meter, its setting, whether the board is
    powered, and the key of what is read."""

    opener: Callable[[], Meter]
    mode: MeterMode
    live: bool
    key: str


@dataclass(frozen=True, slots=True)
class Wanted:
    """What meter A should read: the key of the point, setting, whether powered, the value and the
    range of a good board."""

    key: str
    mode: MeterMode
    live: bool
    nominal: float | None
    band: tuple[float, float] | None


class MeteredEntry(EntryDesk):
    """`meter` opens a meter, None where none is connected; `hands` stand at the simulated bench."""

    def __init__(
        self,
        session: JobSession,
        meter: Callable[[], Meter] | None,
        hands: Hands | None,
        meter_clock: MeterClock,
    ) -> None:
        super().__init__(session)
        self._meter = meter
        self.hands = hands
        self._meter_clock = meter_clock

    @property
    def has_meter(self) -> bool:
        """Whether a meter is connected."""
        return self._meter is not None

    # ---- read once -------------------------------------------------------------------------

    def request(self) -> MeterRequest | Outcome:
        """What the meter worker needs; an outcome says why there is nothing to read."""
        phase, task = self.phase(), self.task
        if self._meter is None:
            return Outcome.refused("No meter is connected: type the reading.")
        if phase not in (Phase.READING, Phase.RESERVOIR) or (
            task is None and phase is not Phase.RESERVOIR
        ):
            waits = phase is Phase.STATE
            words = "press B when the state is as said" if waits else "nothing to read"
            return Outcome.refused(f"The meter waits: {words}.")
        try:
            if phase is Phase.RESERVOIR:
                if self.hands is not None:
                    self._probe_bulk(self.hands)
                return MeterRequest(self._meter, MeterMode.DC_VOLTS, False, RESERVOIR_KEY)
            assert task is not None
            self._session.prepare_probe(task.candidate.probe)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        probe = task.candidate.probe
        return MeterRequest(self._meter, probe.mode, probe.live, task.candidate.key)

    def measure(self, request: MeterRequest, task: Reporter) -> tuple[Observation, str] | None:
        """Read the meter (slow): called on a worker thread. None where it was cancelled."""
        meter = request.opener()
        try:
            seen = take_series(
                meter,
                request.mode,
                request.live,
                lambda: task.cancelled,
                lambda n, total, shown: task.progress(
                    n / total, f"meter: {engineering(shown, request.mode.unit)}  ({n} of {total})"
                ),
                self._meter_clock(),
            )
            return None if seen is None else (seen, meter.name)
        finally:
            meter.close()

    def meter_reading(
        self, key: str, seen: Observation, name: str, proved: bool = False
    ) -> Outcome:
        """A reading came from the meter for the task with this key; a stale one is dropped.

        A dead zero at a reservoir is what probes in the air read too: it is asked about once, where
        the meter was not seen to follow the capacitor down (`proved`).
        """
        task, phase = self.task, self.phase()
        try:
            if key == RESERVOIR_KEY and phase is Phase.RESERVOIR:
                if not proved and self._reads_like_air(seen):
                    self._asked = AIR
                    return Outcome.refused(
                        f"{name} shows {seen.text()}: probes in the air read the same. Are they on "
                        "the leads? Once more keeps it, or type what you read."
                    )
                self._asked = ""
                return self.accept_volts(seen)
            if task is None or task.candidate.key != key or phase is not Phase.READING:
                return Outcome.refused("The meter's reading came too late and was dropped.")
            self._session.take_reading(task.candidate, seen, name)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        return Outcome(f"{name}: {seen.text()} at {task.candidate.probe.title}.")

    def _reads_like_air(self, seen: Observation) -> bool:
        low = seen.form is Form.VALUE and abs(seen.low) < limit("dead_meter_volts")
        return low and self._asked != AIR

    # ---- what the meter that follows the card is asked for ----------------------------------

    def wanted_reading(self) -> Wanted | None:
        """What meter A should read for the card in front."""
        phase, task, review = self.phase(), self.task, self._session.review
        if self._session.state.stage not in METERED_STAGES:
            return None
        if phase is Phase.RESERVOIR:
            band = (0.0, limit("drained_volts"))
            return Wanted(RESERVOIR_KEY, MeterMode.DC_VOLTS, True, None, band)
        if phase is not Phase.READING or task is None or review is None:
            return None
        candidate = task.candidate
        good = column_of(review.table, review.table.index(candidate.key)).expectation
        nominal = good.value if math.isfinite(good.value) else None
        probe = candidate.probe
        return Wanted(candidate.key, probe.mode, probe.live, nominal, good_band(probe, good))

    def coming_reading(self) -> MeterMode | None:
        """The setting for a point that is read once power has come: its first second is recorded
        with the probes on before the plug goes in."""
        task = self.task
        if self.phase() is not Phase.STATE or task is None or not task.candidate.state.plugged:
            return None
        return task.candidate.probe.mode if task.candidate.probe.live else None

    def needs_drained(self) -> bool:
        """Whether the volts across the bulk itself are asked for: what meter B is clipped to."""
        bulk, asked = bulk_of(self._session.board), self.reservoir
        return self.phase() is Phase.RESERVOIR and asked is not None and asked.part == bulk.part

    def bulk_farads(self) -> float:
        """Capacitance of the bulk, by which a meter clipped across it is judged."""
        return bulk_of(self._session.board).farads

    # ---- simulated hands -------------------------------------------------------------------

    def reach(self) -> None:
        """Tell the simulated hands that both probes go to the next point. Raises
        UnsafeStepError where they may not."""
        if self.hands is None:
            return
        self.hands.lift()
        task = self.task
        if self.phase() is Phase.RESERVOIR:
            self._probe_bulk(self.hands)
        elif task is not None:
            self._session.prepare_probe(task.candidate.probe)

    def _probe_bulk(self, hands: Hands) -> None:
        board, asked = self._session.board, self.reservoir
        part = board.component(asked.part if asked else bulk_of(board).part)
        hands.probe(part.pins["plus"], part.pins["minus"], "bulk")
