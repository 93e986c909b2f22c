"""The entry line and the meters of a job: what is asked for now, and how it is accepted."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Protocol

from loose_rail.app.measure import take_series
from loose_rail.app.ports import Hands, Meter
from loose_rail.app.session import JobSession
from loose_rail.circuit.meters import MeterMode
from loose_rail.diagnosis.likelihood import column_of
from loose_rail.diagnosis.predictions import Candidate
from loose_rail.judgement.judge import absurd, sound_band
from loose_rail.judgement.limits import limit
from loose_rail.kernel.entry import Entry, read_entry
from loose_rail.kernel.errors import LooseRailError
from loose_rail.kernel.observation import Form, Observation
from loose_rail.kernel.quantities import engineering
from loose_rail.presenters.card import BULK, NOTHING, READING, STATE, Task, card_for, sound_of
from loose_rail.presenters.live import Wanted
from loose_rail.presenters.rework import rework_state
from loose_rail.presenters.states import EntryEcho, Notice

MeterClock = Callable[[], Callable[[], float]]
"""Gives a clock for one series of samples."""


class Reporter(Protocol):
    """What long work reports to: whether it was cancelled, and how far it is."""

    @property
    def cancelled(self) -> bool: ...
    def progress(self, share: float, words: str) -> None: ...


METERED_STAGES = ("cold_checks", "live_checks", "rework", "power_up")
"""Where a live meter takes readings by itself; elsewhere it is only shown."""


class EntryDesk:
    """Takes readings for the task in front, typed, read once, or held by the live meter.

    `meter` opens a meter, None where none is connected; `hands` stand at the simulated bench.
    """

    def __init__(
        self,
        session: JobSession,
        task: Callable[[], Task | None],
        meter: Callable[[], Meter] | None,
        hands: Hands | None,
        meter_clock: MeterClock,
    ) -> None:
        self._session = session
        self._task = task
        self._meter = meter
        self.hands = hands
        self._meter_clock = meter_clock
        self._asked = ""

    # ---- entry -----------------------------------------------------------------------------

    def phase(self) -> str:
        """What the line takes now, as `card` names it."""
        if self._session.state.stage == "rework":
            return BULK if rework_state(self._session).asks_bulk else NOTHING
        return card_for(self._session, self._task()).phase

    def echo(self, text: str) -> EntryEcho:
        """What the entry line understands so far."""
        if not text.strip():
            return EntryEcho("", False)
        try:
            entry = self._parse(text)
        except LooseRailError as error:
            return EntryEcho(f"{error.message} {error.hint}", True)
        return EntryEcho(entry.echo, False)

    def _parse(self, text: str) -> Entry:
        task = self._task()
        unit = "V" if self.phase() == BULK or task is None else task.candidate.probe.unit
        return read_entry(text, unit)

    def submit(self, text: str) -> Notice:
        """Enter: accept what was typed. An absurd value is asked about once."""
        phase, task = self.phase(), self._task()
        if phase == BULK:
            return self._submit_bulk(text)
        if task is None or phase != READING:
            if phase == STATE:
                return Notice("First the board's state: do what it says, then press B.", "problem")
            return Notice("Nothing is being asked for now.", "problem")
        try:
            entry = self._parse(text)
            question = self._question(task.candidate, entry.observation)
            if question and self._asked != text:
                self._asked = text
                return Notice(question, "problem")
            self._asked = ""
            self._session.take_reading(task.candidate, entry.observation, "typed", text.strip())
        except LooseRailError as error:
            return Notice(f"{error.message} {error.hint}", "problem")
        said = " The minus sign says the leads were swapped." if entry.swapped else ""
        return Notice(f"Taken: {entry.observation.text()} at {task.candidate.probe.title}.{said}")

    def _submit_bulk(self, text: str) -> Notice:
        try:
            return self._accept_bulk(self._parse(text))
        except LooseRailError as error:
            return Notice(f"{error.message} {error.hint}", "problem")

    def _accept_bulk(self, entry: Entry) -> Notice:
        if entry.observation.form is not Form.VALUE:
            return Notice("Type the volts across the bulk as one number.", "problem")
        volts = entry.observation.low
        self._session.measure_bulk(volts)
        if not self._session.drained:
            return Notice(
                f"{engineering(abs(volts), 'V')} is still a charge: drain it, then measure again.",
                "problem",
            )
        return Notice(f"Bulk {engineering(abs(volts), 'V')}: drained. Go on.")

    def _question(self, candidate: Candidate, seen: Observation) -> str:
        assert self._session.engine is not None
        table = self._session.engine.table
        column = column_of(table, table.index(candidate.key))
        return absurd(candidate.probe, seen, column.highest)

    # ---- meter -----------------------------------------------------------------------------

    @property
    def has_meter(self) -> bool:
        """Whether a meter is connected."""
        return self._meter is not None

    def request(self) -> tuple[Callable[[], Meter], MeterMode, bool, str] | Notice:
        """What the meter worker needs: the meter, the setting, whether live, and the task's key.

        A notice says why there is nothing to read.
        """
        phase, task = self.phase(), self._task()
        if self._meter is None:
            return Notice("No meter is connected: type the reading.", "problem")
        if phase not in (READING, BULK) or (task is None and phase != BULK):
            words = "press B when the state is as said" if phase == STATE else "nothing to read"
            return Notice(f"The meter waits: {words}.", "problem")
        try:
            if phase == BULK:
                if self.hands is not None:
                    self._probe_bulk(self.hands)
                return self._meter, MeterMode.DC_VOLTS, False, BULK
            assert task is not None
            self._session.prepare_probe(task.candidate.probe)
        except LooseRailError as error:
            return Notice(f"{error.message} {error.hint}", "problem")
        probe = task.candidate.probe
        return self._meter, probe.mode, probe.live, task.candidate.key

    def measure(
        self, request: tuple[Callable[[], Meter], MeterMode, bool, str], task: Reporter
    ) -> tuple[Observation, str] | None:
        """Read the meter (slow): called on a worker thread. None where it was let go."""
        opener, mode, live, _ = request
        meter = opener()
        try:
            seen = take_series(
                meter,
                mode,
                live,
                lambda: task.cancelled,
                lambda n, total, shown: task.progress(
                    n / total, f"meter: {engineering(shown, mode.unit)}  ({n} of {total})"
                ),
                self._meter_clock(),
            )
            return None if seen is None else (seen, meter.name)
        finally:
            meter.close()

    def meter_reading(self, key: str, seen: Observation, name: str) -> Notice:
        """A reading came from the meter for the task with this key; a stale one is dropped."""
        task, phase = self._task(), self.phase()
        try:
            if key == BULK and phase == BULK:
                return self._accept_bulk(Entry(seen, seen.text()))
            if task is None or task.candidate.key != key or phase != READING:
                return Notice("The meter's reading came too late and was dropped.", "problem")
            self._session.take_reading(task.candidate, seen, name)
        except LooseRailError as error:
            return Notice(f"{error.message} {error.hint}", "problem")
        return Notice(f"{name}: {seen.text()} at {task.candidate.probe.title}.")

    # ---- live meters -----------------------------------------------------------------------

    def wanted_reading(self) -> Wanted | None:
        """What the live meter should read for the card in front."""
        phase, task = self.phase(), self._task()
        if self._session.state.stage not in METERED_STAGES:
            return None
        if phase == BULK:
            return Wanted(BULK, MeterMode.DC_VOLTS, True, None, (0.0, limit("drained_volts")))
        if phase != READING or task is None:
            return None
        candidate = task.candidate
        sound = sound_of(self._session, candidate)
        nominal = sound.value if math.isfinite(sound.value) else None
        probe = candidate.probe
        return Wanted(candidate.key, probe.mode, probe.live, nominal, sound_band(probe, sound))

    def coming_reading(self) -> MeterMode | None:
        """The setting for a point that is read once power has come: its first second is recorded
        with the probes on before the plug goes in."""
        task = self._task()
        if self.phase() != STATE or task is None or not task.candidate.state.plugged:
            return None
        return task.candidate.probe.mode if task.candidate.probe.live else None

    def needs_drained(self) -> bool:
        """Whether the volts across the bulk are asked for."""
        return self.phase() == BULK

    def reach(self) -> None:
        """Tell the simulated hands that both probes go to the next point. Raises
        UnsafeStepError where they may not."""
        if self.hands is None:
            return
        self.hands.lift()
        task = self._task()
        if self.phase() == BULK:
            self._probe_bulk(self.hands)
        elif task is not None:
            self._session.prepare_probe(task.candidate.probe)

    def _probe_bulk(self, hands: Hands) -> None:
        bulk = self._session.board.component(self._session.board.roles["bulk"][0])
        hands.probe(bulk.pins["plus"], bulk.pins["minus"], "bulk")
