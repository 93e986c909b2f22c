"""How the board is woken: what is known, how to find out, and the jumper that follows from it."""

from __future__ import annotations

from loose_rail.app.guides.guide import GuideState
from loose_rail.app.legend import LegendState, legend_of_connector, with_jumper
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.settled_facts import pins_confirmed
from loose_rail.jobs import events as ev
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import jumper_pins
from loose_rail.judgement.transitions import jumper_words
from loose_rail.kernel.quantities import parse_quantity

BY_PINOUT = "pinout"
YES = ("yes", "y")
HINT = "Volts of the PS-ON pin in standby, then when on is asked for: 0 3.2"
YES_HINT = "Both labels stand at these pins on the board: yes. Or two voltages: 0 3.2"
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
        board = self._session.board
        found = self._session.state.wake
        sense = found.sense if found else board.wake.sense
        intro = [self._pin_words(sense), *self._jumper(sense)]
        if sense == "unknown" and board.wake.pin:
            intro.append(
                "Do not jumper it. Main cable on, set in standby: read the start pin against the "
                "output ground, then while the set is switched on with its own key."
            )
        if found:
            intro.append(
                f"Measured here: {found.asleep_volts:g} V asleep, {found.awake_volts:g} V asked "
                "for."
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
            hint=YES_HINT if self._waits_for_pins else HINT,
            legend=self._legend(),
        )

    @property
    def _waits_for_pins(self) -> bool:
        """Whether both pins of a jumper are there to be looked at, and were not yet."""
        session = self._session
        known = session.board.wake.sense in ("high", "low")
        return known and not pins_confirmed(session.board, session.state)

    def _legend(self) -> LegendState:
        board = self._session.board
        plug = next((c for c in board.connectors if c.ref == board.wake.connector), None)
        if plug is None or not board.wake.pin:
            return LegendState("", (), "")
        return with_jumper(legend_of_connector(board, plug), board)

    def _pin_words(self, sense: str) -> str:
        wake = self._session.board.wake
        if not wake.pin:
            return "No start pin is known on this board: none is named, and nothing is jumpered."
        typed = "" if self._session.board.known_by == "profile" else " as typed"
        return f"Start pin{typed}: {wake.connector} pin {wake.pin}, {SENSES[sense]}."

    def _jumper(self, sense: str) -> list[str]:
        """What would be joined, where it may be."""
        board = self._session.board
        if sense not in ("high", "low") or not board.wake.pin:
            return []
        if board.known_by == BY_PINOUT:
            return ["No jumper is offered on a board whose pins an earlier version took over."]
        if board.wake.sense not in ("high", "low"):
            return ["No jumper: its other end is not among the pins of this connector."]
        if self._waits_for_pins:
            return [
                f"A jumper would join {jumper_pins(board)}. Look at the board itself, count from "
                "the mark of pin 1: do both labels stand there?"
            ]
        return [
            f"Jumper: {jumper_words(board)}, fitted with the plug out, pins counted twice. It "
            "forces the rails without the main board."
        ]

    def choose(self, number: int) -> Outcome:
        """The sense is measured, never chosen."""
        return Outcome.refused("Measure it: type the volts asleep and the volts asked for.")

    def enter(self, text: str) -> Outcome:
        """Both voltages of the start pin."""
        if text.strip().lower() in YES:
            return self._confirm()
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
        then = "Confirm the pins, and forced states are offered." if self._waits_for_pins else ""
        return Outcome(f"PS-ON is active {sense}. {then}".strip())

    def _confirm(self) -> Outcome:
        """Both pins were looked at."""
        if not self._waits_for_pins:
            return Outcome.refused("There are no pins to confirm: type two voltages.")
        wake = self._session.board.wake
        self._session.record(ev.PinsConfirmed(wake.connector, wake.pin, wake.source_pin))
        return Outcome(f"Looked at: {jumper_pins(self._session.board)}. Forced states are offered.")
