"""The entry line of a job: what is asked for now, and how what is typed is accepted."""

from __future__ import annotations

from collections.abc import Sequence

from loose_rail.app.job_file.log.human_value import human_value
from loose_rail.app.limiting import limiter_now, patterns_now
from loose_rail.app.outcome import Echo, Outcome
from loose_rail.app.session import JobSession
from loose_rail.boards.reservoirs import Reservoir
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.step import Task, asked_reservoir, asks_before_rework, state_to_confirm
from loose_rail.judgement.judge import absurd
from loose_rail.judgement.limits import limit
from loose_rail.kernel.entry import Entry, read_entry
from loose_rail.kernel.errors import BadEntryError, LooseRailError
from loose_rail.kernel.observation import Form, Observation
from loose_rail.kernel.quantities import engineering
from loose_rail.vocabulary.board_state import BoardState
from loose_rail.vocabulary.lamp_pattern import LampPattern
from loose_rail.vocabulary.light import Light, light_of
from loose_rail.vocabulary.phase import Phase
from loose_rail.vocabulary.roles import BoardRole

NO_LIGHT = "First look at the set: type 1 to 7 for what light and picture do, then Enter."
WAITS = {
    Phase.STATE: "Confirm the board state first: do what the card says, then press B.",
    Phase.ACKNOWLEDGE: "Read the card first, then press B.",
}
MEANS = {
    LampPattern.DARK: "Dark: the board takes little current. Where no flash was predicted that is "
    "right; read the rail to be sure that it is alive.",
    LampPattern.FLASH_DARK: "A flash, then dark: the bulk has charged and nothing draws heavily. "
    "As expected.",
    LampPattern.GLOWS: "A steady glow: something draws 10 to 20 W, a load, a leaky part or a "
    "shorted bridge diode. Pull the plug and read the rails and the bridge for shorts. No full "
    "mains.",
    LampPattern.PULSES: "Pulsing: the supply starts and collapses, or is overloaded. No full "
    "mains.",
    LampPattern.BRIGHT: "Full bright: a short behind the lamp. Pull the plug now. No full mains.",
}
"""What each pattern of the series lamp means."""
MEANS_OF_A_RESISTOR = {
    LampPattern.DARK: "Cool: the board takes little current, or none. Read the bulk to know which.",
    LampPattern.GLOWS: "Warm within seconds: something draws heavily. Pull the plug, let it cool. "
    "No full mains.",
    LampPattern.BRIGHT: "Hot: a short behind it. Pull the plug now. No full mains.",
}
"""What a resistor in its place tells, without a hand on it."""


COURSES = (Form.FALLING, Form.RISING, Form.TICKING, Form.RANGE)
"""What may be told in words at a rail, as in a job file: “0 to 210 in 3 s, then falls to 150”."""


def pattern_of(
    text: str, patterns: Sequence[LampPattern] = tuple(LampPattern)
) -> LampPattern | None:
    """The pattern that a typed number names, None for anything else: a reading typed in its place
    must not pass for an answer."""
    number = text.strip()
    inside = number.isdecimal() and 1 <= int(number) <= len(patterns)
    return patterns[int(number) - 1] if inside else None


class EntryDesk:
    """Takes what is typed for the task in front."""

    def __init__(self, session: JobSession) -> None:
        self._session = session
        self._asked = ""

    @property
    def task(self) -> Task | None:
        """What is to be read now."""
        return self._session.review.task if self._session.review else None

    def phase(self) -> Phase:
        """What the line takes now."""
        session = self._session
        if session.review is not None and not session.prediction_problem:
            return session.review.phase
        if session.state.stage == "rework":
            asks = asks_before_rework(session.board, session.state, session.facts)
            return Phase.RESERVOIR if asks else Phase.NOTHING
        return Phase.FAILED if session.prediction_problem else Phase.WAITING

    @property
    def reservoir(self) -> Reservoir | None:
        """The reservoir whose volts are asked for now."""
        session = self._session
        return asked_reservoir(session.board, session.state, session.facts, self.task)

    # ---- typed -----------------------------------------------------------------------------

    def echo(self, text: str) -> Echo:
        """What the entry line understands so far."""
        if not text.strip():
            return Echo("")
        if self.phase() is Phase.LAMP:
            pattern = pattern_of(text, patterns_now(self._session))
            if pattern is None:
                return Echo(self._no_pattern(), True)
            found = limiter_now(self._session)
            return Echo(pattern.of_limiter(found is None or found.is_lamp))
        if self.phase() is Phase.LIGHT:
            light = light_of(text)
            return Echo(light.label) if light else Echo(NO_LIGHT, True)
        try:
            return Echo(self._parse(text).echo)
        except LooseRailError as error:
            return Echo(error.one_line(), True)

    def submit(self, text: str) -> Outcome:
        """Enter: accept what was typed. An absurd value is asked about once."""
        phase, task = self.phase(), self.task
        try:
            if phase is Phase.RESERVOIR:
                return self.accept_volts(self._parse(text).observation)
            if phase is Phase.LAMP:
                pattern = pattern_of(text, patterns_now(self._session))
                return self.see_lamp(pattern) if pattern else Outcome.refused(self._no_pattern())
            if phase is Phase.LIGHT:
                light = light_of(text)
                return self.see_light(light) if light else Outcome.refused(NO_LIGHT)
            if task is None or phase is not Phase.READING:
                return Outcome.refused(WAITS.get(phase, "Nothing is being asked for now."))
            return self._accept(task, text)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())

    def _no_pattern(self) -> str:
        found, count = limiter_now(self._session), len(patterns_now(self._session))
        what = "lamp" if found is None or found.is_lamp else "resistor"
        return f"First the {what}: type 1 to {count} for what it does, then Enter."

    def see_lamp(self, pattern: LampPattern) -> Outcome:
        """How the lamp in line behaved."""
        try:
            self._session.see_lamp(pattern)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        found = limiter_now(self._session)
        means = MEANS if found is None or found.is_lamp else MEANS_OF_A_RESISTOR
        return Outcome.warned(means[pattern]) if pattern.draws else Outcome(means[pattern])

    def see_light(self, light: Light) -> Outcome:
        """What light and picture of the repaired set do."""
        try:
            self._session.see_light(light)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        if light.is_bad:
            return Outcome.warned(
                f"Not repaired: {light.label}. Pull the plug (U) before you go on."
            )
        return Outcome(f"Seen: {light.label}.")

    def confirm_state(self) -> tuple[Outcome, BoardState | None]:
        """B: the board is as the card says; the state that was confirmed, None where none was."""
        task, phase = self.task, self.phase()
        if phase is Phase.ACKNOWLEDGE:
            self._session.acknowledge()
            words = "Acknowledged for this job. Every reservoir is measured before hands."
            return Outcome(words), None
        if task is None or phase is not Phase.STATE:
            return Outcome("The board's state is already as it should be."), None
        target = state_to_confirm(self._session.state, task.candidate.state)
        try:
            self._session.confirm_state(target)
        except LooseRailError as error:
            return Outcome.refused(error.one_line()), None
        return Outcome(f"Board state confirmed: {target.label}."), target

    def accept_volts(self, seen: Observation) -> Outcome:
        """Volts across the reservoir that is asked for. Raises UnsafeStepError."""
        if seen.form is not Form.VALUE:
            return Outcome.refused("Type the volts across the bulk as one number.")
        volts, target = seen.low, self.reservoir
        if target is None:
            return Outcome.refused("Nothing is left to be measured empty.")
        self._session.measure_reservoir(target.part, volts)
        if abs(volts) >= limit("drained_volts"):
            held = engineering(abs(volts), "V")
            return Outcome.warned(f"{held} is still a charge: drain it, then measure again.")
        is_bulk = target.part == self._session.board.roles[BoardRole.BULK][0]
        name = "Bulk" if is_bulk else target.part
        return Outcome(f"{name} {engineering(abs(volts), 'V')}: drained. Go on.")

    # ---- inside ----------------------------------------------------------------------------

    def _accept(self, task: Task, text: str) -> Outcome:
        entry = self._parse(text)
        question = self._question(task.candidate, entry.observation)
        if question and self._asked != text:
            self._asked = text
            return Outcome.refused(question)
        self._asked = ""
        self._session.take_reading(task.candidate, entry.observation, "typed", text.strip())
        said = " The minus sign says the leads were swapped." if entry.swapped else ""
        return Outcome(f"Taken: {entry.observation.text()} at {task.candidate.probe.title}.{said}")

    def _parse(self, text: str) -> Entry:
        task = self.task
        volts = self.phase() is Phase.RESERVOIR or task is None
        unit = "V" if volts or task is None else task.candidate.probe.unit
        try:
            return read_entry(text, unit)
        except BadEntryError:
            told = None if volts or unit != "V" else human_value(text, "dc volts", "")
            if told is None or told.observation.form not in COURSES:
                raise
            return Entry(told.observation, told.observation.text())

    def _question(self, candidate: Candidate, seen: Observation) -> str:
        review = self._session.review
        if review is None:
            return ""
        column = column_of(review.table, review.table.index(candidate.key))
        return absurd(candidate.probe, seen, column.highest)
