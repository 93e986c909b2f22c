"""The entry line and the meters of a job: what is asked for now, and how it is accepted."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Protocol

from loose_rail.app.measure import take_series
from loose_rail.app.ports import Hands, Meter
from loose_rail.app.session import JobSession
from loose_rail.boards.reservoirs import Reservoir, bulk_of
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.inference.short_excluded import SEEN_DRAWING
from loose_rail.diagnosis.model.predictions import Candidate
from loose_rail.judgement.judge import absurd, sound_band
from loose_rail.judgement.limits import limit
from loose_rail.kernel.entry import Entry, read_entry
from loose_rail.kernel.errors import LooseRailError
from loose_rail.kernel.observation import Form, Observation
from loose_rail.kernel.quantities import engineering
from loose_rail.screens.card.present import (
    ACKNOWLEDGE,
    BULK,
    LAMP,
    NOTHING,
    PATTERNS,
    READING,
    STATE,
    Task,
    card_for,
    lamp_words,
    sound_of,
)
from loose_rail.screens.live.present import Wanted
from loose_rail.screens.rework.present import rework_state
from loose_rail.screens.shared.notice import EntryEcho, Notice
from loose_rail.vocabulary.meter_mode import MeterMode

AIR = "air"
MeterClock = Callable[[], Callable[[], float]]
"""Gives a clock for one series of samples."""


class Reporter(Protocol):
    """What long work reports to: whether it was cancelled, and how far it is."""

    @property
    def cancelled(self) -> bool: ...
    def progress(self, share: float, words: str) -> None: ...


NO_PATTERN = "First the lamp: type 1 to 5 for what it does, then Enter."


def pattern_of(text: str) -> str:
    """The lamp pattern that a typed number names, empty for anything else: a reading typed in its
    place must not pass for an answer."""
    number = text.strip()
    inside = number.isdecimal() and 1 <= int(number) <= len(PATTERNS)
    return PATTERNS[int(number) - 1][0] if inside else ""


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
        if self._session.state.stage == "power_up" and self._session.repair_failed:
            return NOTHING
        return card_for(self._session, self._task()).phase

    def echo(self, text: str) -> EntryEcho:
        """What the entry line understands so far."""
        if not text.strip():
            return EntryEcho("", False)
        if self.phase() == LAMP:
            pattern = pattern_of(text)
            return EntryEcho(dict(PATTERNS).get(pattern, NO_PATTERN), not pattern)
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
        if phase == LAMP:
            pattern = pattern_of(text)
            if not pattern:
                return Notice(NO_PATTERN, "problem")
            return self.see_lamp(pattern)
        if task is None or phase != READING:
            if phase == STATE:
                return Notice("First the board's state: do what it says, then press B.", "problem")
            if phase == ACKNOWLEDGE:
                return Notice("Read the card first, then press B.", "problem")
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

    def see_lamp(self, pattern: str) -> Notice:
        """How the lamp in line behaved."""
        try:
            self._session.see_lamp(pattern)
        except LooseRailError as error:
            return Notice(error.one_line(), "problem")
        return Notice(lamp_words(pattern), "warning" if pattern in SEEN_DRAWING else "info")

    def _submit_bulk(self, text: str) -> Notice:
        try:
            return self._accept_bulk(self._parse(text))
        except LooseRailError as error:
            return Notice(f"{error.message} {error.hint}", "problem")

    def _accept_bulk(self, entry: Entry) -> Notice:
        if entry.observation.form is not Form.VALUE:
            return Notice("Type the volts across the bulk as one number.", "problem")
        volts = entry.observation.low
        target = self.reservoir
        if target is None:
            return Notice("Nothing is left to be measured empty.", "problem")
        self._session.measure_reservoir(target.part, volts)
        if abs(volts) >= limit("drained_volts"):
            return Notice(
                f"{engineering(abs(volts), 'V')} is still a charge: drain it, then measure again.",
                "warning",
            )
        is_bulk = target.part == self._session.board.roles["bulk"][0]
        name = "Bulk" if is_bulk else target.part
        return Notice(f"{name} {engineering(abs(volts), 'V')}: drained. Go on.")

    @property
    def reservoir(self) -> Reservoir | None:
        """The reservoir whose volts are asked for now: before rework every one of the board, before
        a dead reading those beside its part."""
        task = self._task()
        if self._session.state.stage == "rework":
            part = ""
        elif task is None:
            return None
        else:
            part = task.candidate.probe.part
        return next(iter(self._session.to_measure(part)), None)

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

    def meter_reading(self, key: str, seen: Observation, name: str, proved: bool = False) -> Notice:
        """A reading came from the meter for the task with this key; a stale one is dropped.

        A dead zero at a reservoir is what probes in the air read too: it is asked about once, where
        the meter was not seen to follow the capacitor down (`proved`).
        """
        task, phase = self._task(), self.phase()
        try:
            if key == BULK and phase == BULK:
                if not proved and self._reads_like_air(seen):
                    self._asked = AIR
                    return Notice(
                        f"{name} shows {seen.text()}: probes in the air read the same. Are they on "
                        "the leads? Once more keeps it, or type what you read.",
                        "problem",
                    )
                self._asked = ""
                return self._accept_bulk(Entry(seen, seen.text()))
            if task is None or task.candidate.key != key or phase != READING:
                return Notice("The meter's reading came too late and was dropped.", "problem")
            self._session.take_reading(task.candidate, seen, name)
        except LooseRailError as error:
            return Notice(f"{error.message} {error.hint}", "problem")
        return Notice(f"{name}: {seen.text()} at {task.candidate.probe.title}.")

    def _reads_like_air(self, seen: Observation) -> bool:
        low = seen.form is Form.VALUE and abs(seen.low) < limit("dead_meter_volts")
        return low and self._asked != AIR

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
        """Whether the volts across the bulk itself are asked for: what meter B is clipped to."""
        bulk, asked = bulk_of(self._session.board), self.reservoir
        return self.phase() == BULK and asked is not None and asked.part == bulk.part

    def bulk_farads(self) -> float:
        """Capacitance of the bulk, by which a meter clipped across it is judged."""
        return bulk_of(self._session.board).farads

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
        board, asked = self._session.board, self.reservoir
        part = board.component(asked.part if asked else bulk_of(board).part)
        hands.probe(part.pins["plus"], part.pins["minus"], "bulk")
