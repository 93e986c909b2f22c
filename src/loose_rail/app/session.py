"""Commands on an open job: what is done at the bench, each refused with a sentence where it is not
safe."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.app.log import JobLog
from loose_rail.app.open_job import OpenJob
from loose_rail.app.ports import Clock, Hands
from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.inference.shop_history import ClosedJob
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.jobs import events as ev
from loose_rail.jobs.observations import reading_event
from loose_rail.judgement.safety import (
    STORED_ENERGY,
    Refusal,
    acknowledgement_refusals,
    probe_refusals,
    reference_refusals,
    state_refusals,
)
from loose_rail.kernel.errors import UnsafeStepError
from loose_rail.kernel.observation import Observation
from loose_rail.vocabulary.board_state import BoardState, Power
from loose_rail.vocabulary.roles import BoardRole


class JobSession(OpenJob):
    """An open job that is worked on. `hands` stand at the simulated bench in the demo."""

    def __init__(
        self,
        log: JobLog,
        board: Board,
        clock: Clock,
        hands: Hands | None = None,
        closed_jobs: Sequence[ClosedJob] = (),
    ) -> None:
        super().__init__(log, board, clock, closed_jobs)
        self._hands = hands

    # ---- the board's state -----------------------------------------------------------------

    def confirm_state(self, target: BoardState) -> None:
        """Record that the board has been put into a state. Raises UnsafeStepError."""
        facts = self.facts
        if target.plugged:
            _raise_first(acknowledgement_refusals(self.board, facts))
        _raise_first(state_refusals(self.board, target, facts))
        self.record(ev.StateConfirmed(target.key))
        if self._hands is not None:
            self._hands.put(target.key)

    def acknowledge(self) -> None:
        """Record that what this kind of set stores has been read and understood."""
        if not self.facts.acknowledged:
            self.record(ev.HazardAcknowledged(STORED_ENERGY))

    def measure_bulk(self, volts: float) -> None:
        """Record the volts across the bulk with the plug out. Raises UnsafeStepError while the
        board is not confirmed as unplugged."""
        self._raise_plugged()
        self.record(ev.BulkMeasured(volts))

    def measure_reservoir(self, part: str, volts: float) -> None:
        """Record the volts across a reservoir, the bulk or another. Raises as `measure_bulk`."""
        if part == self.board.roles[BoardRole.BULK][0]:
            self.measure_bulk(volts)
            return
        self._raise_plugged()
        self.record(ev.ReservoirMeasured(part, volts))

    def _raise_plugged(self) -> None:
        if self.state.board_state.plugged:
            raise UnsafeStepError(
                "The board is recorded as plugged in.", "Pull the plug and confirm it first."
            )
        if not self.state.state_known:
            raise UnsafeStepError(
                "The board's state has not been confirmed.",
                "Pull the plug, then press B on the card, or U.",
            )

    # ---- readings --------------------------------------------------------------------------

    def take_reading(
        self, candidate: Candidate, seen: Observation, instrument: str, typed: str = ""
    ) -> None:
        """Record a reading. Raises UnsafeStepError where safety refuses it in this state."""
        _raise_first(probe_refusals(self.board, candidate.probe, self.facts))
        state = self.state.board_state
        if state != candidate.state:
            raise UnsafeStepError(
                f"The board is recorded as {state.label}; this needs {candidate.state.label}.",
                "Confirm the state first.",
            )
        self.record(reading_event(candidate.probe.id, state, seen, instrument, typed))

    def prepare_probe(self, probe: Probe) -> None:
        """Tell whoever holds the probes where to put them. Raises UnsafeStepError."""
        _raise_first(reference_refusals(self.board, probe))
        if self._hands is not None:
            where = f"lifted:{probe.part}" if probe.lifted else probe.observable
            where = f"unplugged:{probe.id}" if probe.unplugged else where
            self._hands.probe(probe.plus, probe.minus, where)

    def skip(self, probe: Probe) -> None:
        """Record that a point can't be reached; the plan goes on without it."""
        self.record(ev.ProbeSkipped(probe.id))

    def choose(self, candidate: Candidate) -> None:
        """Ask for this probe next instead of the offered one."""
        self.record(ev.ProbeChosen(candidate.key))

    def see_lamp(self, pattern: str) -> None:
        """Record how the lamp in line behaved with the board as it is now. Raises UnsafeStepError
        where none is in line."""
        if not self.state.state_known or not self.state.board_state.lamp_watts:
            raise UnsafeStepError(
                "No lamp is in line as the board is recorded now.", "Plug it in through one first."
            )
        if self.state.fits:
            self.record(ev.LampSeen(pattern))
        else:
            self.record(ev.ClueNoted("lamp", self.state.board_state.key, pattern))

    def see_light(self, seen: str) -> None:
        """Record what light and picture of the repaired set do. Raises UnsafeStepError where it is
        not recorded as switched on, or nothing was repaired."""
        state = self.state
        if not state.fits or state.board_state.power is not Power.ON:
            raise UnsafeStepError(
                "The set is not recorded as switched on after a repair.", "Confirm its state first."
            )
        self.record(ev.LightSeen(seen))

    def read_under_load(
        self, rail: str, amps: float, volts: float, ripple: float | None = None
    ) -> None:
        """Record what a rail of the repaired board reads under a dummy load. Raises UnsafeStepError
        where the board is not recorded as running alone, without a limiter."""
        state = self.state
        now = state.board_state
        if not state.fits or not state.state_known or not now.plugged:
            raise UnsafeStepError(
                "A dummy load belongs to a repaired board under power.", "Confirm its state first."
            )
        if now.main_cable:
            raise UnsafeStepError(
                "The main cable is on: the set loads the rails itself.",
                "Plug out, cable off, start it alone (W), then the dummy load.",
            )
        if now.lamp_watts and not self.board.adapter_fed:
            raise UnsafeStepError(
                "The limiter is in line: it holds the load back.",
                "Straight on the mains, once the limiter has shown no short.",
            )
        self.record(ev.LoadRead(rail, amps, volts, ripple))

    # ---- the course of the job -------------------------------------------------------------

    def enter_stage(self, stage: str) -> None:
        """Go to a stage of the job."""
        if stage != self.state.stage:
            self.record(ev.StageEntered(stage))

    def overrule(self, part: str, title: str, suspect: str, chance: float, reason: str) -> None:
        """The person decides for another part than the evidence leads to; the reason is kept."""
        self.record(
            ev.VerdictAccepted(
                part=part,
                title=title,
                probability=chance,
                standing="overruled",
                unproved=[],
                suspect=suspect,
                reason=reason,
            )
        )

    def accept_verdict(self, unproved: Sequence[str]) -> None:
        """Accept the leading finding as the verdict."""
        finding = self.review.assessment.finding if self.review else None
        if finding is None:
            return
        self.record(
            ev.VerdictAccepted(
                part=finding.part,
                title=finding.suspects[0].title,
                probability=finding.probability,
                standing=str(finding.standing),
                unproved=list(unproved),
                suspect=finding.suspects[0].key,
            )
        )

    def fit_part(self, part: str) -> None:
        """Record that a part was replaced."""
        self.record(ev.PartFitted(part))
        if self._hands is not None:
            self._hands.fit(part)


def _raise_first(refusals: Sequence[Refusal]) -> None:
    if refusals:
        raise UnsafeStepError(refusals[0].sentence, refusals[0].instead)
