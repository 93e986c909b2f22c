"""A sound board read on purpose: which points, in which order, so that the next board of its number
is judged best by what this one reads."""

from __future__ import annotations

from loose_rail.app.guides.guide import GuideState
from loose_rail.app.learning import FEWEST_READINGS, sound_readings
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.diagnosis.certainty import to_learn
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.kernel.observation import value


class LearnGuide:
    """The points that are worth it; a number brings one to the card."""

    def __init__(self, session: JobSession) -> None:
        self._session = session

    def _points(self) -> list[Candidate]:
        """Those that are still to be read, in the order of work."""
        engine = self._session.engine
        if engine is None:
            return []
        table, read = engine.table, sound_readings(self._session)
        return [
            one for one in (table.candidates[k] for k in to_learn(table)) if one.key not in read
        ]

    def state(self) -> GuideState:
        """What is read already, and what comes next."""
        read, left = len(sound_readings(self._session)), self._points()
        board = self._session.board
        return GuideState(
            title="A sound board, read once",
            intro=(
                f"Only on a board that works, or whose repair is proved. {read} steady readings "
                f"of the board as it is now; {len(left)} more are worth their minute.",
                "The next board of this number is judged by them; three sound boards outweigh the "
                "model.",
            ),
            caution="Drained for the first ones; the others under power, as the card says.",
            columns=("", "Point", "State", "Expected"),
            rows=tuple(
                (str(number), one.probe.title, one.state.label, self._expected(one))
                for number, one in enumerate(left, start=1)
            ),
            hint=f"1 brings the first one to the card. learn keeps the readings for {board.id}: "
            f"at least {FEWEST_READINGS}.",
        )

    def _expected(self, one: Candidate) -> str:
        engine = self._session.engine
        assert engine is not None
        column = column_of(engine.table, engine.table.index(one.key))
        middle = value(float(column.low[0]), one.probe.unit)
        return column.judged(middle).expected

    def choose(self, number: int) -> Outcome:
        """Bring a point to the card."""
        left = self._points()
        if not 1 <= number <= len(left):
            return Outcome.refused("There is no point with that number.")
        one = left[number - 1]
        self._session.choose(one)
        return Outcome(f"On the card: {one.probe.title}, {one.state.label}.", leaves=True)

    def enter(self, text: str) -> Outcome:
        """Nothing is typed here but a number, and `learn`, which the board's book takes."""
        return Outcome.refused(f"“{text}”: type the number of a point, or learn.")
