"""The same point before and after a repair."""

from __future__ import annotations

from dataclasses import dataclass

from loose_rail.boards.probes import Probe
from loose_rail.diagnosis.inference.likelihood import column_of
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.jobs.state import JobState, Reading
from loose_rail.judgement.judge import Judgement, Verdict
from loose_rail.judgement.limits import limit


@dataclass(frozen=True, slots=True)
class Pair:
    """The same point before and after the repair; spans are (low, high) in SI units."""

    probe: Probe
    before: Reading
    after: Reading
    judgement: Judgement
    expected_span: tuple[float, float]

    @property
    def good(self) -> bool:
        """Whether the point reads right now."""
        return self.judgement.verdict is Verdict.AGREES

    @property
    def before_span(self) -> tuple[float, float]:
        """Ends of the reading before."""
        return self.before.observation.low, self.before.observation.high

    @property
    def after_span(self) -> tuple[float, float]:
        """Ends of the reading after."""
        return self.after.observation.low, self.after.observation.high


def pairs_of(table: PredictionTable, job: JobState) -> tuple[Pair, ...]:
    """Points read after the repair beside what they read before, the same state preferred."""
    found = []
    for after in job.proof_readings:
        before = (r for r in job.live_readings if r.round < after.round)
        earlier = [r for r in before if r.probe == after.probe]
        if not earlier:
            continue
        same = [r for r in earlier if r.state == after.state]
        column = column_of(table, table.index(after.candidate))
        width = limit("agrees_sigmas") * column.expectation.sigma
        ends = (column.expectation.value - width, column.expectation.value + width)
        judgement = column.judged(after.observation)
        found.append(Pair(column.probe, (same or earlier)[-1], after, judgement, ends))
    return tuple(found)
