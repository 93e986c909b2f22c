"""The test of one part: steps, and for each probe what good and bad read in this very circuit."""

from __future__ import annotations

import math

from loose_rail.app.guides.guide import GuideState
from loose_rail.app.outcome import Outcome
from loose_rail.app.session import JobSession
from loose_rail.boards.kinds.registry import kind_of, kind_words
from loose_rail.boards.parallels import in_parallel
from loose_rail.diagnosis.evidence.soft_evidence import BAD_WAYS
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.candidates import Candidate
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.jobs import events as ev
from loose_rail.judgement.judge import expected_text
from loose_rail.kernel.quantities import engineering

MOST_MODES = 3
SAME_SHARE = 0.1


class TestGuide:
    """`part` is looked at: that of the card, else the leading suspect; a typed designator looks at
    another."""

    __test__ = False

    def __init__(self, session: JobSession) -> None:
        self._session = session
        self.part = _part_in_front(session)

    def state(self) -> GuideState:
        """The part's test as it stands."""
        board = self._session.board
        part = board.component(self.part)
        test = kind_of(part).test
        beside = in_parallel(board, self.part)
        intro = [f"{number}. {step}" for number, step in enumerate(test.steps, start=1)]
        if beside:
            intro.append(
                f"In place it can't be told from {', '.join(beside[:3])}: lift or remove it, and "
                "read the empty pads too."
            )
        rows = tuple(
            (str(number), *self._row(candidate))
            for number, candidate in enumerate(self._candidates(), start=1)
        )
        return GuideState(
            title=f"{part.ref}, {part.duty or kind_words(part.kind)} · {test.title}",
            intro=tuple(intro),
            caution=test.caution,
            columns=("", "Test", "Expected", "Bad"),
            rows=rows,
            hint="A number asks for that test. good, bad, shorted, open: measured removed. C205 "
            "looks at another.",
        )

    def _candidates(self) -> list[Candidate]:
        table = self._table
        if table is None:
            return []
        return [c for c in table.candidates if c.probe.part == self.part and not c.probe.live]

    @property
    def _table(self) -> PredictionTable | None:
        return self._session.engine.table if self._session.engine else None

    def _row(self, candidate: Candidate) -> tuple[str, str, str]:
        table, probe = self._table, candidate.probe
        assert table is not None
        column = table.index(candidate.key)
        good = column_of(table, column).expectation
        bad: dict[str, str] = {}
        for number, row in enumerate(table.rows):
            if len(row.faults) != 1 or row.faults[0].ref != self.part:
                continue
            value = float(table.low[number, column])
            if not _told_apart(value, good.value):
                continue
            bad.setdefault(row.faults[0].mode, _text(value, probe.unit))
        shown = [
            f"{mode.replace('_', ' ')} {text}" for mode, text in list(bad.items())[:MOST_MODES]
        ]
        how = probe.what or probe.mode.label
        words = "; ".join(shown) if shown else "alike: this test can't tell"
        return how, expected_text(probe, good), words

    def choose(self, number: int) -> Outcome:
        """Ask for this test next."""
        found = self._candidates()
        if not 1 <= number <= len(found):
            return Outcome.refused("There is no test with that number.")
        self._session.choose(found[number - 1])
        return Outcome(f"On the card: {found[number - 1].probe.title}.", leaves=True)

    def enter(self, text: str) -> Outcome:
        """Another part, or how this one measured when it was out of the board."""
        words = text.strip()
        if words.lower() in ("good", *BAD_WAYS):
            self._session.record(ev.ClueNoted("removed", self.part, words.lower()))
            return Outcome(f"{self.part} measured {words.lower()} out of the board: counts.")
        ref = words.upper()
        if any(one.ref == ref for one in self._session.board.components):
            self.part = ref
            return Outcome("")
        return Outcome.refused(
            f"“{words}” is no part of this board; good, bad, shorted and open are answers."
        )


def _part_in_front(session: JobSession) -> str:
    review = session.review
    probed = review.task.candidate.probe.part if review and review.task else ""
    suspects = review.assessment.suspects if review else ()
    leading = next((one.part for one in suspects if one.part), "")
    return probed or leading or session.board.components[0].ref


def _told_apart(value: float, good: float) -> bool:
    if math.isnan(value):
        return False
    if math.isinf(value) or math.isinf(good):
        return math.isinf(value) != math.isinf(good)
    return abs(value - good) > SAME_SHARE * max(abs(good), 1e-12)


def _text(value: float, unit: str) -> str:
    return "OL" if math.isinf(value) else engineering(value, unit, 2)
