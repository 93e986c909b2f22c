"""Dummy loads in steps: the repaired board alone, each rail under a light, half and full load."""

from __future__ import annotations

import re

from loose_rail.app.guides.guide import GuideState
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.proof.standing import under_load
from loose_rail.judgement.load_steps import (
    LoadStep,
    UnderLoad,
    car_lamps,
    ceramic_celsius,
    steps_of,
    troubles,
)
from loose_rail.kernel.errors import LooseRailError
from loose_rail.kernel.quantities import engineering, parse_quantity

HOT_CELSIUS = 150.0
"""From here on the surface of a load is named: it burns skin and chars what it lies on [E]."""
_LINE = re.compile(r"^\s*(\d{1,2})\s+(\S+)(?:\s+(\S+))?\s*$")


class DummyGuide:
    """The steps of this board's rails, and what they read."""

    def __init__(self, session: JobSession) -> None:
        self._session = session

    def state(self) -> GuideState:
        """The steps as they stand."""
        steps = steps_of(self._session.board)
        read = under_load(self._session.state)
        return GuideState(
            title="Dummy loads, in steps",
            intro=(
                "Board alone, main cable off, started without it, straight on the mains after its "
                "limiter: load off, power on, read; then the next load, always with the plug out.",
                "A resistor first, a lamp after it: a cold lamp draws twelve times its current and "
                "trips the supply. AC volts are read at the connector, with short leads.",
            ),
            caution=_caution(steps),
            columns=("", "Rail", "Load", "Resistor", "Holds", "Ripple up to", "Read"),
            rows=tuple(
                (str(number), *_cells(one), self._read(one, read))
                for number, one in enumerate(steps, start=1)
            ),
            hint="Number, volts, and AC volts where they were read: 3 11.96 30m",
            stretched=6,
        )

    def _read(self, step: LoadStep, read: list[UnderLoad]) -> str:
        seen = next((s for s in read if (s.rail, s.amps) == (step.rail, round(step.amps, 3))), None)
        if seen is None:
            return "–"
        wrong = troubles(step, seen, read)
        ripple = f", {engineering(seen.ripple, 'V', 2)} AC" if seen.ripple is not None else ""
        return f"{seen.volts:g} V{ripple}: {'; '.join(wrong) if wrong else 'holds'}"

    def choose(self, number: int) -> Outcome:
        """Says what to do for a step."""
        steps = steps_of(self._session.board)
        if not 1 <= number <= len(steps):
            return Outcome.refused("There is no step with that number.")
        one = steps[number - 1]
        lamps = car_lamps(one)
        also = f", or {lamps} lamp{'s' if lamps > 1 else ''} of 12 V 21 W" if lamps else ""
        return Outcome(f"{one.title}: {one.resistor_words}{also}. Then {number} and the volts.")

    def enter(self, text: str) -> Outcome:
        """What a rail reads under one of the loads."""
        found, steps = _LINE.match(text), steps_of(self._session.board)
        volts = _volts(found[2]) if found else None
        ripple = _volts(found[3]) if found and found[3] else None
        if found is None or volts is None or (found[3] and ripple is None):
            return Outcome.refused(
                "Type the number of a step and its volts: 3 11.96, or 3 11.96 30m."
            )
        if not 1 <= int(found[1]) <= len(steps):
            return Outcome.refused("There is no step with that number.")
        one = steps[int(found[1]) - 1]
        try:
            self._session.read_under_load(one.rail, round(one.amps, 3), volts, ripple)
        except LooseRailError as error:
            return Outcome.refused(error.one_line())
        read = under_load(self._session.state)
        wrong = troubles(one, UnderLoad(one.rail, round(one.amps, 3), volts, ripple), read)
        if wrong:
            return Outcome.warned(f"Not repaired: {one.title}: {'; '.join(wrong)}. Plug out (U).")
        return Outcome(f"{one.title} holds under {one.amps:.2g} A.")


def _volts(text: str) -> float | None:
    read = parse_quantity(text.rstrip("vV"))
    return None if read is None else read.value


def _cells(one: LoadStep) -> tuple[str, ...]:
    low, high = one.band
    return (
        one.title,
        f"{one.amps:.2g} A",
        one.resistor_words,
        f"{low:.3g} to {high:.3g} V",
        f"{engineering(one.most_ripple, 'V', 2)} AC",
    )


def _caution(steps: list[LoadStep]) -> str:
    hottest = max((ceramic_celsius(one) for one in steps), default=0.0)
    if hottest < HOT_CELSIUS:
        return "The hot side is live and the load gets hot: nothing burns under it, hands away."
    return (
        f"The hot side is live. A bare 10 W ceramic would reach {min(hottest, 999):.0f} °C at the "
        "full step: take one of the rating named, on metal, hands away."
    )
