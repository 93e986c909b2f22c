"""Posterior and ranking against pgmpy, a general-purpose inference library, on one network.

One root (the row), one discrete child for each probe (its outcomes). pgmpy is needed for this
benchmark only and is not among the project's requirements: make an environment of its own with
NumPy, SciPy and pgmpy and name its Python, which is asked through files:

    .venv/bin/python -m benchmarks.diagnosis.against_pgmpy --peer /path/to/python

Compared in one run, medians of the program's own planner (its entropies are prepared once, as in a
job): the posterior after some outcomes in double precision (aim: equal to 1e-9), the ranking of all
probes by expected information against pgmpy's plain loop (aim: 150 times), and with the entropies
prepared for it too (aim: 15 times). Also a whole assessment asked fresh on the two largest boards
(aim: under 10 ms in the median). Ends with 1 where an aim is missed.
"""

from __future__ import annotations

import argparse
import json
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from loose_rail.boards.load import shipped_board
from loose_rail.diagnosis.evidence.readings import Evidence
from loose_rail.diagnosis.inference.posterior import posterior
from loose_rail.diagnosis.model.cache import table_for
from loose_rail.diagnosis.model.candidates import candidates_of
from loose_rail.diagnosis.model.hypotheses import Hypothesis
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.diagnosis.planning.engine import Engine
from loose_rail.diagnosis.planning.planner import Planner
from loose_rail.judgement.safety import SafetyFacts
from loose_rail.kernel.observation import value
from loose_rail.vocabulary.board_state import UNPLUGGED

ROWS, PROBES, OUTCOMES, SEEN = 500, 150, 14, 4
PEER_PROBES = 8
AIM_SECONDS, AIM_DIFFERENCE, AIM_PLAIN, AIM_PREPARED = 10e-3, 1e-9, 150, 15
"""pgmpy's plain loop is asked for some probes only, and its time scaled to all."""

PEER = """
import json, sys, time
import numpy as np
from pgmpy.models import BayesianNetwork
from pgmpy.factors.discrete import TabularCPD
from pgmpy.inference import VariableElimination
from scipy.special import entr
data = np.load(sys.argv[1])
prior, chances, seen, asked = data["prior"], data["chances"], data["seen"], int(data["asked"])
n, probes, outcomes = chances.shape
model = BayesianNetwork([("row", f"p{k}") for k in range(probes)])
model.add_cpds(TabularCPD("row", n, prior.reshape(-1, 1)))
for k in range(probes):
    model.add_cpds(TabularCPD(f"p{k}", outcomes, chances[:, k].T, ["row"], [n]))
infer = VariableElimination(model)
known = {f"p{k}": int(o) for k, o in enumerate(seen)}
begun = time.perf_counter()
post = infer.query(["row"], known, show_progress=False).values
one = time.perf_counter() - begun
before = entr(post).sum()
begun = time.perf_counter()
plain = []
for k in range(len(seen), len(seen) + asked):
    share = infer.query([f"p{k}"], known, show_progress=False).values
    left = 0.0
    for o in range(outcomes):
        then = infer.query(["row"], {**known, f"p{k}": o}, show_progress=False).values
        left += share[o] * entr(then).sum()
    plain.append(before - left)
loop = (time.perf_counter() - begun) / asked * probes
inner = entr(chances).sum(axis=2)
begun = time.perf_counter()
quick = []
for k in range(len(seen), len(seen) + asked):
    share = infer.query([f"p{k}"], known, show_progress=False).values
    quick.append(entr(share).sum() - post @ inner[:, k])
trick = (time.perf_counter() - begun) / asked * probes
import pgmpy
np.savez(sys.argv[2], post=post, plain=plain, quick=quick, times=[one, loop, trick],
         version=pgmpy.__version__)
"""


def main() -> int:
    """Run both and print the comparison."""
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("--peer", type=Path, help="a Python that has pgmpy")
    options = parser.parse_args()
    rng = np.random.default_rng(3)
    prior = rng.dirichlet(np.full(ROWS, 0.7))
    chances = rng.dirichlet(np.full(OUTCOMES, 0.25), size=(ROWS, PROBES)) + 1e-4
    chances /= chances.sum(axis=2, keepdims=True)
    truth = int(rng.choice(ROWS, p=prior))
    seen = np.array([int(rng.choice(OUTCOMES, p=chances[truth, k])) for k in range(SEEN)])

    def ours() -> tuple[np.ndarray, np.ndarray]:
        log = np.log(prior) + np.log(chances[:, np.arange(SEEN), seen]).sum(axis=1)
        weights = np.exp(log - log.max())
        post = weights / weights.sum()
        total = np.tensordot(post, chances, axes=1)
        information = -(total * np.log(total)).sum(axis=1) - post @ entropies
        return post, information

    entropies = -(chances * np.log(chances)).sum(axis=2)
    times = []
    for _ in range(50):
        begun = time.perf_counter()
        post, information = ours()
        times.append(time.perf_counter() - begun)
    own = float(np.median(times))
    print(f"one update and ranking of {PROBES} probes over {ROWS} rows: {1e3 * own:.2f} ms")
    planner = _planner(prior, chances)
    times = []
    for _ in range(20):
        planner.forget()
        begun = time.perf_counter()
        shown = planner.information(post)
        times.append(time.perf_counter() - begun)
    gap = float(np.abs(shown - information).max())
    print(
        f"the program's planner on the same: {1e3 * np.median(times):.2f} ms, single precision and "
        f"the lightest hundredth of the doubt left out: within {gap:.4f} nats"
    )
    good = _real_engine()
    if options.peer:
        planned = float(np.median(times))
        good &= _compare(options.peer, (prior, chances, seen), (post, information, planned))
    else:
        print("pgmpy was not asked: name its Python with --peer")
    return 0 if good else 1


def _planner(prior: np.ndarray, chances: np.ndarray) -> Planner:
    """The program's planner on the network: a table of rows without faults."""
    board = shipped_board("PB-4270-1")
    rows = tuple(Hypothesis(f"row {k}", "", (), float(p)) for k, p in enumerate(prior))
    shape = (ROWS, PROBES)
    nothing = np.zeros(shape)
    table = PredictionTable(
        board=board,
        rows=rows,
        candidates=candidates_of(board)[:PROBES],
        low=nothing,
        high=nothing,
        hertz=nothing,
        peak=nothing,
        late=nothing,
        ticking_hertz={},
        lamp_glow={},
        primary_short=np.zeros(ROWS, dtype=bool),
    )
    return Planner(table, chances)


def _real_engine() -> bool:
    """A whole assessment on the largest shipped boards, medians over a job's steps; whether the aim
    is met."""
    good = True
    for name in ("PB-4270-1", "PB-6530-2"):
        board = shipped_board(name)
        engine = Engine(table_for(board, Path(".venv/predictions")))
        table = engine.table
        facts = SafetyFacts(UNPLUGGED, 1.4, False)
        evidence: list[Evidence] = []
        update, whole = [], []
        for number, column in enumerate(range(0, 60, 6), start=1):
            candidate = table.candidates[column]
            low = float(table.low[0, column])
            seen = value(low if np.isfinite(low) else 1e6, candidate.probe.unit)
            evidence.append(Evidence(number, candidate.key, seen))
            begun = time.perf_counter()
            now = posterior(table, evidence, [])
            engine.planner.rank(now, facts, {}, [])
            update.append(time.perf_counter() - begun)
            engine.planner.forget()  # asked fresh: nothing of the ranking above is kept
            begun = time.perf_counter()
            engine.assess(evidence, [], facts)
            whole.append(time.perf_counter() - begun)
        print(
            f"{name}, {len(table.rows)} rows, {len(table.candidates)} candidates: update and "
            f"ranking {1e3 * np.median(update):.1f} ms, whole assessment "
            f"{1e3 * np.median(whole):.1f} ms (medians; aim {1e3 * AIM_SECONDS:.0f} ms)"
        )
        good &= float(np.median(whole)) <= AIM_SECONDS
    return good


def _compare(
    python: Path,
    network: tuple[np.ndarray, np.ndarray, np.ndarray],
    ours: tuple[np.ndarray, np.ndarray, float],
) -> bool:
    """Print how far apart and how much quicker; whether every aim is met."""
    prior, chances, seen = network
    post, information, own = ours
    with tempfile.TemporaryDirectory() as folder:
        given, answer = Path(folder) / "in.npz", Path(folder) / "out.npz"
        np.savez(given, prior=prior, chances=chances, seen=seen, asked=PEER_PROBES)
        done = subprocess.run(
            [str(python), "-c", PEER, str(given), str(answer)], capture_output=True, text=True
        )
        if done.returncode:
            sys.exit(f"the peer failed: {done.stderr.strip().splitlines()[-1]}")
        data = dict(np.load(answer))
    print(f"pgmpy {data['version']}")
    places = slice(SEEN, SEEN + PEER_PROBES)
    one, loop, trick = data["times"]
    found = {
        "posterior, largest difference": float(np.abs(post - data["post"]).max()),
        "information, largest difference, plain loop": float(
            np.abs(information[places] - data["plain"]).max()
        ),
        "information, largest difference, entropies prepared": float(
            np.abs(information[places] - data["quick"]).max()
        ),
        "times quicker, one posterior against all of ours": one / own,
        "times quicker, plain loop": loop / own,
        "times quicker, entropies prepared": trick / own,
    }
    print(json.dumps(found, indent=2))
    close = found["posterior, largest difference"] <= AIM_DIFFERENCE
    quick = float(loop) / own >= AIM_PLAIN and float(trick) / own >= AIM_PREPARED
    return close and quick


if __name__ == "__main__":
    sys.exit(main())
