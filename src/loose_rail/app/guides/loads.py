"""Load by load: each board behind a cable, its rails with it and without it, and what that says.

Unplugging clears a load only where the demand stays: what unplugs the main board takes the start
signal along, and a rail that then comes up proves nothing.
"""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.app.guides.guide import GuideState
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.boards.profile import Rail
from loose_rail.diagnosis.inference.judged import judged
from loose_rail.diagnosis.model.candidates import Candidate, loads_by_themselves
from loose_rail.jobs import events as ev
from loose_rail.jobs.state import Reading
from loose_rail.judgement.judge import Verdict
from loose_rail.vocabulary.board_state import Power
from loose_rail.vocabulary.roles import BoardRole, Job, role


@dataclass(frozen=True, slots=True)
class _Line:
    load: str
    words: str
    cable: str
    rail: Rail
    keeps_demand: bool


ANSWERS = {
    "back": "helped",
    "came back": "helped",
    "same": "no_change",
    "no change": "no_change",
}
"""What unplugging did, as it may be typed; anything else is asked for again, never guessed."""


class LoadGuide:
    """The grid of loads and rails."""

    def __init__(self, session: JobSession) -> None:
        self._session = session

    def _lines(self) -> list[_Line]:
        board = self._session.board
        apart = set(loads_by_themselves(board))
        found: dict[tuple[str, str], _Line] = {}
        for load in board.loads:
            point = next(
                (p for p in board.live_points if p.observable == f"{load.rail}.out" and p.rail),
                None,
            )
            rail = board.rail_of(point.rail) if point else None
            if rail is None:
                continue
            refs = (
                board.roles.get(role(load.part, Job.CONNECTOR)) or board.roles[BoardRole.CONNECTOR]
            )
            cable = " and ".join(refs)
            words = board.component(load.part).duty or load.part
            found[(load.part, rail.id)] = _Line(load.part, words, cable, rail, load.part in apart)
        return list(found.values())

    def state(self) -> GuideState:
        """The grid as it stands."""
        rows = []
        for number, line in enumerate(self._lines(), start=1):
            with_it, without = self._reading(line, False), self._reading(line, True)
            rows.append(
                (
                    str(number),
                    f"{line.words} ({line.load}), cable {line.cable}",
                    line.rail.title,
                    _text(with_it),
                    _text(without),
                    self._says(line, with_it, without),
                )
            )
        return GuideState(
            title="Load by load",
            intro=(
                "Does unplugging it also remove the demand? The main board asks for the rails: "
                "without it they sleep, and a rail that looks well then proves nothing.",
                "Plug out, drained, cable off, plug in again: never under power.",
            ),
            caution="By the latch, not the wires; note which cable was where.",
            columns=("", "Load", "Rail", "With it", "Without it", "Says"),
            rows=tuple(rows),
            hint="A number asks for the rail without it. 2 back: it came back; 2 same: no change.",
            stretched=5,
        )

    def _reading(self, line: _Line, without: bool) -> Reading | None:
        review = self._session.review
        for reading in reversed(review.readings if review else ()):
            if review is None or not reading.state.plugged:
                continue
            table = review.table
            probe = table.candidates[table.index(reading.candidate)].probe
            if probe.rail != line.rail.id:
                continue
            off = not reading.state.main_cable or reading.state.without == line.load
            mine = reading.state.without == line.load if line.keeps_demand else off
            if mine is without:
                return reading
        return None

    def _says(self, line: _Line, with_it: Reading | None, without: Reading | None) -> str:
        review = self._session.review
        if with_it is None or without is None or review is None:
            return "" if line.keeps_demand else "unplugging removes the demand"
        good = judged(review.table, without)[1].verdict is Verdict.AGREES
        bad = judged(review.table, with_it)[1].verdict is Verdict.DISAGREES
        if bad and good:
            return (
                "it loads the rail down"
                if line.keeps_demand
                else "load, or only the demand: L again"
            )
        if bad:
            return "not this load"
        return "rail is well with it"

    def choose(self, number: int) -> Outcome:
        """Ask for the rail with this load unplugged."""
        lines = self._lines()
        if not 1 <= number <= len(lines):
            return Outcome.refused("There is no load with that number.")
        line = lines[number - 1]
        candidate = self._candidate(line)
        if candidate is None:
            return Outcome.refused(f"{line.rail.title} has no point to read without {line.load}.")
        self._session.choose(candidate)
        words = f"On the card: {candidate.probe.title}, {candidate.state.label}."
        return Outcome(words, leaves=True)

    def _candidate(self, line: _Line) -> Candidate | None:
        if self._session.engine is None:
            return None
        for one in self._session.engine.table.candidates:
            if one.probe.rail != line.rail.id or not one.probe.live:
                continue
            if line.keeps_demand and one.state.without == line.load:
                return one
            bare = one.state.power is Power.STANDBY and not one.state.main_cable
            if not line.keeps_demand and bare:
                return one
        return None

    def enter(self, text: str) -> Outcome:
        """What unplugging did, where only that was seen."""
        first, _, said = " ".join(text.lower().split()).partition(" ")
        lines = self._lines()
        if not first.isdecimal() or said not in ANSWERS:
            return Outcome.refused("Type the number of a load and back or same: 2 back.")
        if not 1 <= int(first) <= len(lines):
            return Outcome.refused("There is no load with that number.")
        line = lines[int(first) - 1]
        if not line.keeps_demand and ANSWERS[said] == "helped":
            return Outcome.refused(
                f"Unplugging the {line.words} takes the demand along: read the rail instead."
            )
        self._session.record(ev.ClueNoted("unplugged", line.load, ANSWERS[said]))
        return Outcome(f"{line.load} unplugged, {said}: counts.")


def _text(reading: Reading | None) -> str:
    return "not read" if reading is None else f"{reading.number}: {reading.observation.text(2)}"
