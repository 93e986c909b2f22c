"""How the board is woken: what is known, how to find out, and the jumper that follows from it."""

from __future__ import annotations

from loose_rail.app.guides.guide import GuideState
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.jobs import events as ev
from loose_rail.judgement.limits import limit
from loose_rail.judgement.transitions import jumper_words
from loose_rail.kernel.quantities import parse_quantity

SENSES = {
    "high": "brought up to its standby rail, about 2.6 to 5 V",
    "low": "pulled to ground",
    "none": "no start pin: it runs whenever it has mains",
    "unknown": "not known",
}


class WakeGuide:
    """The wake sense of this board."""

    def __init__(self, session: JobSession) -> None:
        self._session = session

    def state(self) -> GuideState:
        """What is known, and how to find out the rest."""
        wake = self._session.board.wake
        found = self._session.state.wake
        sense = found.sense if found else wake.sense
        by_pinout = self._session.board.known_by == "pinout"
        if by_pinout:
            intro = [self._typed_pin(sense)]
        else:
            intro = [f"Start pin {wake.connector}-{wake.pin}: {SENSES[sense]}."]
        if sense in ("high", "low") and not by_pinout:
            intro.append(
                f"Jumper: {jumper_words(self._session.board)}, fitted with the plug out, pins "
                "counted twice. It forces the rails without the main board."
            )
        if sense == "unknown":
            intro.append(
                "Do not jumper it. Main cable on, set in standby: read the start pin against the "
                "output ground, then while the set is switched on with its own key."
            )
        if found:
            intro.append(
                f"Measured here: {found.asleep_volts:g} V asleep, {found.awake_volts:g} V asked "
                f"for.{'' if by_pinout else ' Open the job again and forced states are offered.'}"
            )
        second = [s.id for s in self._session.board.signals[1:]]
        if second:
            intro.append(
                f"Further enables: {', '.join(second)}. Each starts its own stage; forcing "
                "PS-ON leaves them off, and their rails at zero are right then."
            )
        return GuideState(
            title="Power-on signal (PS-ON)",
            intro=tuple(intro),
            caution="A wrong jumper does harm: through 1 kΩ, never directly, never under power.",
            columns=("", "PS-ON", "Standby", "On asked for"),
            rows=(
                ("1", "active high", "0 V", "2.6 to 5 V"),
                ("2", "active low", "standby volts", "below 0.8 V"),
                ("3", "no power-on signal", "the same", "the same"),
            ),
            hint="Volts of the PS-ON pin in standby, then when on is asked for: 0 3.2",
        )

    def choose(self, number: int) -> Outcome:
        """The sense is measured, never chosen."""
        return Outcome.refused("Measure it: type the volts asleep and the volts asked for.")

    def enter(self, text: str) -> Outcome:
        """Both voltages of the start pin."""
        words = text.split()
        values = [parse_quantity(word) for word in words]
        if len(values) != 2 or values[0] is None or values[1] is None:
            return Outcome.refused("Two voltages: asleep, then asked for, such as 0 3.2")
        asleep, awake = values[0].value, values[1].value
        high, low = limit("wake_high_volts"), limit("wake_low_volts")
        if asleep < low and awake >= high:
            sense = "high"
        elif asleep >= high and awake < low:
            sense = "low"
        else:
            return Outcome.refused(
                "That tells no sense: the pin must move between low and high. Is it the right pin, "
                "counted as the eye sees it? Does the main board run at all?"
            )
        self._session.record(ev.WakeFound(sense, asleep, awake))
        if self._session.board.known_by == "pinout":
            return Outcome(f"PS-ON is active {sense}. Kept; no jumper on a board of typed pins.")
        return Outcome(f"PS-ON is active {sense}. Open the job again to be offered forced states.")

    def _typed_pin(self, sense: str) -> str:
        """The start pin of a board that is known by its printed pinout alone."""
        wake = self._session.board.wake
        if not wake.pin:
            return "No start pin was typed for this board: none is named, and nothing is jumpered."
        return (
            f"Start pin as typed: {wake.connector} pin {wake.pin}, {SENSES[sense]}. No jumper is "
            "offered on a board that is known by its printed pinout alone."
        )
