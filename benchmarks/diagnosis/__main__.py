"""Closed loop over all example boards: the engine against three other rules.

Faults are drawn from the priors (single faults, and pairs or more that fail together), parts from
their tolerances, and 3 % of the readings are gross errors. Every rule works through the same sets
with the same rule for the verdict. Prints a table with 95 % intervals, in one command from a seed:

    .venv/bin/python -m benchmarks.diagnosis [--jobs N] [--seed S] [--out docs/benchmarks]
"""

from __future__ import annotations

import argparse
import json
import multiprocessing
import os
import sys
import time
from pathlib import Path

import numpy as np

from benchmarks.diagnosis.jobs import Result, board_ids, do, draw_jobs, engine_of, without
from benchmarks.diagnosis.report import report
from benchmarks.technician import at_random, by_checklist, by_information, by_plan
from benchmarks.true_faults import LEVELS
from loose_rail.diagnosis.planning.engine import Engine

RULES = {
    "engine": by_plan,
    "checklist": by_checklist,
    "random": at_random,
    "information": by_information,
}
SHARES = {"single": 0.6, "pair": 0.2, "left_out": 0.2}


def board_jobs(
    board_id: str, number: int, seed: int, rules: list[str], slow: int, cache: Path, at: int = 0
) -> list[Result]:
    """All jobs of one board; the slow rules do only every `slow`th of them."""
    os.environ.setdefault("OMP_NUM_THREADS", "1")
    level = LEVELS[at]
    engine = engine_of(board_id, cache)
    place = board_ids(level).index(board_id)
    found: list[Result] = []
    for kind, share in SHARES.items():
        rng = np.random.default_rng((seed, place, list(SHARES).index(kind)))
        jobs = draw_jobs(engine.table, kind, max(1, round(share * number)), rng, level)
        for index, job in enumerate(jobs):
            used = engine
            if kind == "left_out":
                used = Engine(without(engine.table, engine.table.rows[job.row]))
            for rule in rules:
                if rule != "engine" and (index % slow or kind == "left_out"):
                    continue
                key = (seed, place, index)
                one = do(used, engine.table, job, kind, (rule, RULES[rule]), key, (), level)
                found.append(one)
    return found


def main() -> int:
    """Run every board and print the report."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--jobs", type=int, default=1800, help="jobs over all boards")
    parser.add_argument("--seed", type=int, default=20_000)
    parser.add_argument(
        "--level",
        type=int,
        default=0,
        choices=range(len(LEVELS)),
        help="; ".join(f"{k}: {level.name}" for k, level in enumerate(LEVELS)),
    )
    parser.add_argument("--rules", default=",".join(RULES))
    parser.add_argument("--slow", type=int, default=6, help="every how many jobs for other rules")
    parser.add_argument("--boards", default="", help="numbers in the board book; all if empty")
    parser.add_argument("--cache", type=Path, default=Path(".venv/predictions"))
    parser.add_argument("--raw", type=Path, metavar="JSON", help="write every job's result")
    parser.add_argument("--out", type=Path, metavar="DIR", help="write table and plot")
    parser.add_argument(
        "--again", type=Path, nargs="+", metavar="JSON", help="report on results written before"
    )
    options = parser.parse_args()
    if options.again:
        told = [Result(**one) for path in options.again for one in json.loads(path.read_text())]
        report(told, options.seed, options.out)
        return 0
    level = LEVELS[options.level]
    boards = options.boards.split(",") if options.boards else board_ids(level)
    number = max(1, options.jobs // len(boards))
    rules = options.rules.split(",")
    asked = [
        (b, number, options.seed, rules, options.slow, options.cache, options.level) for b in boards
    ]
    begun = time.perf_counter()
    with multiprocessing.Pool(os.cpu_count()) as pool:
        waiting = [pool.apply_async(board_jobs, one) for one in asked]
        found = []
        for one, answer in zip(asked, waiting, strict=True):
            found += answer.get()
            sys.stderr.write(f"{one[0]} done after {time.perf_counter() - begun:.0f} s\n")
    if options.raw:
        options.raw.write_text(json.dumps([one.plain() for one in found], indent=0))
    report(found, options.seed, options.out)
    return 0


if __name__ == "__main__":
    sys.exit(main())
