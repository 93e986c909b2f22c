"""Which single faults of an example board are found by following only the offered probes.

Answers come from the prediction table itself with part scatter added (seeded), the complaint from
what each fault would sound and look like. Prints one line per suspect: found or not, readings and
minutes; ends with 1 where less than 95 % of the noticeable ones are found or lead. The answers come
from the program's own table: this finds holes in the planning, not errors of the model.
Run: .venv/bin/python benchmarks/found_faults.py [--noise SEED] [--board ID] [--every K]
"""

from __future__ import annotations

import argparse
import math
import sys

import numpy as np

from loose_rail.boards.load import shipped_board
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.evidence.symptoms import TICKS, Symptom, symptom_likelihood
from loose_rail.diagnosis.inference.finding import Finding, Standing
from loose_rail.diagnosis.inference.likelihood import Column
from loose_rail.diagnosis.model.predictions import predict
from loose_rail.diagnosis.model.symptom_predicates import IN_USE
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.judgement.limits import limit
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.judgement.spread import FULL_SCALE, unscaled
from loose_rail.kernel.observation import Observation, open_circuit, ticking, value
from loose_rail.vocabulary.board_state import UNPLUGGED

MOST_READINGS = 25
AIM_SHARE = 0.95
"""Of the faults that a customer would notice, found or in the lead."""


def answer(
    table: PredictionTable, number: int, row: int, rng: np.random.Generator, scatter: float = 1.0
) -> Observation:
    """What a meter would show at a candidate on a board with the fault of this row; without
    `scatter` just what is predicted."""
    column = Column(table, number)
    unit = column.probe.unit
    if column.open[row]:
        return open_circuit(unit)
    if column.ticks[row]:
        times = 1.0 + 0.1 * scatter * rng.standard_normal()
        return ticking(column.low[row] * times, column.high[row] * times, unit, column.hertz[row])
    y = column.y[row] + 0.5 * scatter * column.sigma[row] * rng.standard_normal()
    shown = float(unscaled(y, column.probe.mode))
    if shown > FULL_SCALE.get(column.probe.mode, math.inf):
        return open_circuit(unit)
    return value(max(shown, 0.0) if unit != "V" else shown, unit)


def complaint(table: PredictionTable, row: int) -> list[Symptom]:
    """The symptoms that a customer of this set would report."""
    found: list[Symptom] = []
    hertz = float(table.ticking_hertz[IN_USE][row])
    if 0 < hertz < 6:
        found.append(Symptom(TICKS, hertz))
    dark = symptom_likelihood(table, Symptom("no_light"))[row] > 0.5
    if dark:
        found.append(Symptom("no_light"))
    return found


def shows_anything(table: PredictionTable, row: int) -> bool:
    """Whether the fault moves any live point away from a good board's reading."""
    for number, candidate in enumerate(table.candidates):
        if candidate.probe.live:
            column = Column(table, number)
            gap = abs(float(column.y[row] - column.y[0])) / float(column.sigma[0])
            if column.ticks[row] or gap > 2.2:
                return True
    return False


def follow(engine: Engine, row: int, seed: int) -> tuple[Finding | None, int, float]:
    """Follow the offered probes; returns the finding, readings taken and minutes."""
    table, rng = engine.table, np.random.default_rng(seed * 1000 + row)
    evidence: list[Evidence] = []
    facts = SafetyFacts(UNPLUGGED, None, False)
    minutes = 0.0
    while True:
        result = engine.assess(evidence, complaint(table, row), facts)
        if result.next_step is None or len(evidence) == MOST_READINGS:
            return result.finding, len(evidence), minutes
        offer = result.next_step.offer
        seen = answer(table, offer.column, row, rng)
        evidence.append(Evidence(len(evidence) + 1, offer.candidate.key, seen))
        minutes += offer.minutes
        dead = offer.candidate.probe.mode.needs_dead_board
        short = float(result.probabilities[table.primary_short].sum())
        excluded = short < limit("short_excluded_probability")
        facts = SafetyFacts(offer.candidate.state, 2.0 if dead else None, excluded)


def main() -> int:
    """Run every single-fault row and print the table."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--noise", type=int, default=1, metavar="SEED")
    parser.add_argument("--board", default="PB-4310-2", help="a number in the board book")
    parser.add_argument("--every", type=int, default=1, metavar="K", help="every Kth fault only")
    options = parser.parse_args()
    seed = options.noise
    engine = Engine(predict(shipped_board(options.board)))
    table = engine.table
    rows = [k for k, row in enumerate(table.rows) if len(row.faults) == 1][:: options.every]
    same, found_count, quiet, readings = 0, 0, 0, []
    loud_found = loud_lead = 0
    for row in rows:
        finding, count, minutes = follow(engine, row, seed)
        truth = table.rows[row]
        silent = not shows_anything(table, row)
        quiet += silent
        right = finding is not None and finding.part == truth.part
        sure = finding is not None and finding.standing is not Standing.UNDECIDED
        state = "found" if right and sure else "leads" if right else "not found"
        if silent:
            state = f"{state}*"
        loud_found += right and sure and not silent
        loud_lead += right and not sure and not silent
        if right and sure:
            found_count += 1
            readings.append(count)
        elif right:
            same += 1
        named = f"{finding.part} {finding.probability:.2f} {finding.standing}" if finding else "-"
        print(f"{truth.key:26s} {state:10s} {count:3d} readings {minutes:5.1f} min   {named}")
    loud = len(rows) - quiet
    print("* moves no live point: nobody would bring the set in for it alone")
    print(
        f"{quiet} of {len(rows)} are of that kind; of the {loud} others {loud_found} are found and "
        f"{loud_lead} lead without being sure"
    )
    print(
        f"{found_count} of {len(rows)} found, {same} more lead without being sure; readings when "
        f"found: median {np.median(readings):.0f}, most {max(readings)}"
    )
    return 0 if loud_found + loud_lead >= AIM_SHARE * loud else 1


if __name__ == "__main__":
    sys.exit(main())
