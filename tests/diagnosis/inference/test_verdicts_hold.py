"""Verdicts on noisy readings over four families of boards: mostly found, never wrongly confirmed.

The hidden fault answers every offered probe with part scatter; one reading in a job may be a slip.
Seeded, so that a failure can be run again.
"""

import math
import unittest

import numpy as np

from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.finding import Finding, Standing
from loose_rail.diagnosis.inference.likelihood import Column
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.judgement.spread import FULL_SCALE, unscaled
from loose_rail.kernel.observation import Observation, open_circuit, ticking, value
from loose_rail.vocabulary.board_state import UNPLUGGED
from tests.material import some
from tests.shared import engine as demo_engine
from tests.whole_jobs.test_jobs_on_boards import engine

BOARDS = ("PB-2211-1", "PB-2408-1", "PB-1905-2")
MOST_READINGS = 20
EACH = some(6, 18)


def seen_at(column: Column, row: int, rng: np.random.Generator) -> Observation:
    """A reading of this row with the scatter of parts and meter."""
    unit = column.probe.unit
    if column.open[row]:
        return open_circuit(unit)
    if column.ticks[row]:
        scatter = 1.0 + 0.08 * rng.standard_normal()
        low, high = column.low[row] * scatter, column.high[row] * scatter
        return ticking(low, high, unit, column.hertz[row] * (1 + 0.05 * rng.standard_normal()))
    y = column.y[row] + 0.6 * column.sigma[row] * rng.standard_normal()
    shown = float(unscaled(y, column.probe.mode))
    if shown > FULL_SCALE.get(column.probe.mode, math.inf):
        return open_circuit(unit)
    return value(max(shown, 0.0), unit)


def loud_rows(table: PredictionTable) -> list[int]:
    """Single faults that move a live point well away from a good board's reading."""
    live = [k for k, c in enumerate(table.candidates) if c.probe.live]
    found = []
    for number, row in enumerate(table.rows):
        if len(row.faults) != 1:
            continue
        for k in live:
            column = Column(table, k)
            gap = abs(float(column.y[number] - column.y[0])) / float(column.sigma[0])
            if column.ticks[number] or gap > 4:
                found.append(number)
                break
    return found


class Verdicts(unittest.TestCase):
    def follow(
        self, found: Engine, row: int, rng: np.random.Generator, slip_at: int = -1
    ) -> tuple[Finding | None, int]:
        """Only the offered probes, until nothing is offered; returns finding and readings."""
        table = found.table
        evidence: list[Evidence] = []
        facts = SafetyFacts(UNPLUGGED, None, table.board.adapter_fed)
        while True:
            result = found.assess(evidence, [], facts)
            step = result.next_step
            if step is None or len(evidence) == MOST_READINGS:
                return result.finding, len(evidence)
            column = Column(table, step.offer.column)
            source = 0 if len(evidence) == slip_at else row
            seen = seen_at(column, source, rng)
            evidence.append(Evidence(len(evidence) + 1, step.offer.candidate.key, seen))
            dead = step.offer.candidate.probe.mode.needs_dead_board
            short = float(result.probabilities[table.primary_short].sum())
            facts = SafetyFacts(
                step.offer.candidate.state,
                2.0 if dead else None,
                short < limit("short_excluded_probability"),
            )

    def judge_board(self, found: Engine, slip: bool) -> tuple[int, int, list[str]]:
        """How many of how many were found, and what was wrongly confirmed."""
        table, rng = found.table, np.random.default_rng(17)
        rows = loud_rows(table)
        chosen = [rows[k] for k in rng.choice(len(rows), min(EACH, len(rows)), replace=False)]
        right, wrong = 0, []
        for row in chosen:
            slip_at = int(rng.integers(0, 4)) if slip else -1
            finding, _ = self.follow(found, row, rng, slip_at)
            truth = table.rows[row]
            if finding is None or finding.standing is Standing.UNDECIDED:
                continue
            if truth.part in (finding.part, *finding.twins):
                right += 1
            elif finding.standing is Standing.CONFIRMED:
                wrong.append(f"{table.board.id} {truth.key} taken for {finding.part}")
        return right, len(chosen), wrong

    def test_most_faults_are_found_and_none_is_confirmed_wrongly(self) -> None:
        right = total = 0
        wrong: list[str] = []
        for found in (*(engine(board) for board in BOARDS), demo_engine()):
            good, count, bad = self.judge_board(found, slip=False)
            right, total, wrong = right + good, total + count, wrong + bad
        self.assertEqual(wrong, [])
        self.assertGreaterEqual(right / total, 0.8, f"{right} of {total}")

    def test_one_slip_in_a_job_costs_readings_not_the_verdict(self) -> None:
        """One reading shows a good board where the faulty one would show itself."""
        right = total = 0
        wrong: list[str] = []
        for found in (engine("PB-2408-1"), demo_engine()):
            good, count, bad = self.judge_board(found, slip=True)
            right, total, wrong = right + good, total + count, wrong + bad
        self.assertLessEqual(len(wrong), 1, wrong)
        self.assertGreaterEqual(right / total, 0.5, f"{right} of {total}")

    def test_a_sound_board_is_not_condemned(self) -> None:
        for found in (engine("PB-2211-1"), engine("PB-2408-1"), demo_engine()):
            rng = np.random.default_rng(3)
            finding, _ = self.follow(found, 0, rng)
            confirmed = finding is not None and finding.standing is Standing.CONFIRMED
            self.assertFalse(confirmed, f"{found.table.board.id}: {finding}")


if __name__ == "__main__":
    unittest.main()
