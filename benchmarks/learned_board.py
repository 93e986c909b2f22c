"""A board of one's own, learned from one sound set: what that saves on the next set of its number.

The true board is another of its kind: every part value is moved by as much as boards of one kind
differ, which the composed board does not know. One sound set is read at the points that tell most;
then sets with a hidden fault are worked through by the plan, once with what was learned and once
without. Run: .venv/bin/python -m benchmarks.learned_board [--sets N] [--seed S]
"""

from __future__ import annotations

import argparse
import sys
from dataclasses import replace
from pathlib import Path

import msgspec
import numpy as np

from benchmarks.own_boards import OWN_BOARDS
from benchmarks.owners import complaint
from benchmarks.simulated_sets import as_row, simulated_sets
from benchmarks.technician import by_plan, work_through
from benchmarks.true_faults import another_of_its_kind
from loose_rail.boards.own.file import board_of_file
from loose_rail.boards.profile import Board
from loose_rail.diagnosis.certainty import to_learn
from loose_rail.diagnosis.model.cache import table_for
from loose_rail.diagnosis.model.predictions import noticed
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.engine import Engine

VALUES_LOG = 0.45
"""How far values of one place lie apart on boards of one kind, as a natural logarithm [E]."""


def learned(table: PredictionTable, true: Board, rng: np.random.Generator) -> PredictionTable:
    """The table with the norms of one sound set, read in the order of the program's own guide."""
    sound = simulated_sets(true, [()], rng)[0]
    norms = {
        table.candidates[k].key: [float(sound.low[0, k])]
        for k in to_learn(table)
        if np.isfinite(sound.low[0, k]) and not sound.hertz[0, k]
    }
    return replace(table, board=msgspec.structs.replace(table.board, norms=norms))


def main() -> int:
    """Print readings and right causes with and without; exit code 1 where nothing is saved."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--sets", type=int, default=60)
    parser.add_argument("--seed", type=int, default=20261128)
    parser.add_argument("--cache", type=Path, default=Path("/tmp/loose-rail-benchmarks"))
    options = parser.parse_args()
    rng = np.random.default_rng(options.seed)
    table = table_for(board_of_file(OWN_BOARDS[0]), options.cache)
    counted: dict[str, list[int]] = {"as composed": [], "learned": []}
    right = dict.fromkeys(counted, 0)
    done = 0
    while done < options.sets:
        true = another_of_its_kind(table.board, VALUES_LOG, rng)
        both = {"as composed": Engine(table), "learned": Engine(learned(table, true, rng))}
        prior = np.array([row.prior if len(row.faults) == 1 else 0.0 for row in table.rows])
        rows = [int(k) for k in rng.choice(len(prior), 4, p=prior / prior.sum())]
        for one, row in zip(
            simulated_sets(true, [table.rows[k].faults for k in rows], rng), rows, strict=True
        ):
            own = as_row(one, table, row)
            if not noticed(own)[1] or done >= options.sets:
                continue
            done += 1
            said = complaint(own, 1, rng)
            seed = int(rng.integers(1 << 30))
            for name, engine in both.items():
                own_rng = np.random.default_rng(seed)
                outcome = work_through(engine, one, said, by_plan, own_rng, 0.0, 60)
                counted[name].append(outcome.readings)
                first = outcome.assessment.suspects[0]
                finding = outcome.assessment.finding
                twins = {first.part, *(finding.twins if finding else ())}
                right[name] += table.rows[row].part in twins
    for name, readings in counted.items():
        mean = float(np.mean(readings))
        share = 100.0 * right[name] / len(readings)
        print(f"{name}: {mean:.1f} readings a set, true part first in {share:.0f} % of {done}")
    fewer = float(np.mean(counted["as composed"]) - np.mean(counted["learned"]))
    print(f"learned from one sound set: {fewer:+.1f} readings fewer a set")
    return 0 if fewer > 0 else 1


if __name__ == "__main__":
    sys.exit(main())
