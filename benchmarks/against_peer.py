"""Cold readings of 300 fault variants at 60 probes against ngspice, in one run, as ratios.

Ours answers all 18,000 in one batch, putting the variants together included. Rounds of ours, each
with a fresh solver, and of the peer's take turns, so that a machine that swings does so for both;
medians count. The peer is timed on a sample and scaled up: loaded once, a part altered before each
operating point (solver against solver), with many netlists in one process, and with a process for
each reading, of which most is the start of the process (an empty one is timed beside it). The
sample also gives the accuracy. Aims: 60, 25 and 250 times.
With --every instead: every board, healthy and with every single fault, a probe of each setting at
the faulty part where there is one.
Run: .venv/bin/python benchmarks/against_peer.py [--sample 240] [--every]
"""

from __future__ import annotations

import argparse
import math
import statistics
import sys
import tempfile
import time
from pathlib import Path
from unittest.mock import patch

import numpy as np

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests import ngspice

from loose_rail.boards.cold_network import cold_network, variant_of
from loose_rail.boards.faults import faults_of
from loose_rail.boards.load import shipped_board, shipped_ids
from loose_rail.boards.probes import Probe, probes_of
from loose_rail.circuit.cold import ColdSolver
from loose_rail.circuit.elements import Network, Variant
from loose_rail.circuit.junction import JunctionArray
from loose_rail.vocabulary.meter_mode import MeterMode

VARIANTS, PROBES = 300, 60
ROUNDS = 5
POINTS = 300
AIMS = (60.0, 25.0, 250.0)
MOST_TOGETHER = 200
"""The peer has been seen to hang where one process loads many more netlists."""
LARGEST_DIFFERENCE = 2e-3
MODES = (MeterMode.OHMS, MeterMode.DIODE, MeterMode.ESR)


def chosen_probes(board_id: str) -> list[Probe]:
    """Sixty cold probes, as the board's own mixture of settings has them."""
    wanted = [p for p in probes_of(shipped_board(board_id)) if p.mode in MODES and not p.lifted]
    return wanted[:: max(1, len(wanted) // PROBES)][:PROBES]


def one_process(network: Network, cases: list[tuple[ngspice.Case, MeterMode]]) -> float:
    """Seconds for many readings in one process."""
    with tempfile.TemporaryDirectory() as folder:
        lines = ["many"]
        script = [".control"]
        for number, (case, mode) in enumerate(cases):
            path = Path(folder) / f"{number}.cir"
            path.write_text(ngspice.deck(network, case, mode))
            script.append(f"source {path}")
        script.append(".endc")
        deck = "\n".join([*lines, "R1 a 0 1", *script, ".end"]) + "\n"
        start = time.perf_counter()
        ngspice.run(deck, 120.0)
        return time.perf_counter() - start


def loaded_once(network: Network, case: ngspice.Case, mode: MeterMode) -> float:
    """Seconds of one operating point where the netlist is loaded once and a resistor is altered
    before each."""
    deck = ngspice.deck(network, case, mode)
    resistor = next(line.split()[0] for line in deck.splitlines() if line[:1] in "Rr")
    head = deck.split(".control")[0].replace(".end", "")

    def taken(count: int) -> float:
        steps = "\n".join(f"alter {resistor}={1000 + k}\nop" for k in range(count))
        start = time.perf_counter()
        ngspice.run(f"{head}\n.control\n{steps}\nquit\n.endc\n.end\n", 120.0)
        return time.perf_counter() - start

    return (taken(POINTS + 1) - taken(1)) / POINTS


def empty_process() -> float:
    """Seconds of a process that solves one resistor."""
    start = time.perf_counter()
    ngspice.run("empty\nV1 a 0 1\nR1 a 0 1\n.control\nop\nquit\n.endc\n.end\n", 60.0)
    return time.perf_counter() - start


def main() -> int:
    """Print the ratios and the accuracy; exit code 1 where an aim is missed."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--sample", type=int, default=240)
    parser.add_argument("--board", default="PB-6530-2")
    parser.add_argument("--every", action="store_true")
    options = parser.parse_args()
    if options.every:
        return every_fault()
    board = shipped_board(options.board)
    network = cold_network(board)
    faults = [fault for part in board.components for fault in faults_of(part)]
    chosen = [[], *([fault] for fault in faults)][:VARIANTS]
    variants = [variant_of(board, network, faults) for faults in chosen]
    probes = chosen_probes(options.board)
    answers, ranges = all_answers(network, variants, probes)
    total = len(variants) * len(probes)
    rng = np.random.default_rng(7)
    cases: list[tuple[ngspice.Case, MeterMode]] = []
    wanted: list[float] = []
    for _ in range(options.sample):
        mode = probes[rng.integers(len(probes))].mode
        own = [p for p in probes if p.mode is mode]
        row, column = rng.integers(len(variants)), rng.integers(len(own))
        scale = int(ranges[row, column]) if mode is MeterMode.OHMS else 0
        cases.append(((variants[row], own[column].plus, own[column].minus, scale), mode))
        wanted.append(float(answers[mode][row, column]))
    found: list[float | None] = []
    own_times, peer_times = [], []
    for number in range(ROUNDS):
        start = time.perf_counter()
        all_answers(network, variants, probes)
        own_times.append(time.perf_counter() - start)
        some = cases[number::ROUNDS]
        start = time.perf_counter()
        found += [ngspice.reading(network, case, mode) for case, mode in some]
        peer_times.append((time.perf_counter() - start) / len(some))
    wanted = [value for number in range(ROUNDS) for value in wanted[number::ROUNDS]]
    ours, each = statistics.median(own_times), statistics.median(peer_times)
    ratios = [peer * total / own for own, peer in zip(own_times, peer_times, strict=True)]
    print(f"a process for each, by rounds: {', '.join(f'{ratio:.0f}' for ratio in ratios)} x")
    some = cases[:MOST_TOGETHER]
    together = one_process(network, some) / len(some)
    report(board.id, total, ours, each, together)
    once = statistics.median(loaded_once(network, *one) for one in cases[:ROUNDS])
    empty = statistics.median(empty_process() for _ in range(ROUNDS))
    print(f"peer, loaded once: {1e3 * once:.2f} ms an operating point, {once * total / ours:.0f} x")
    print(f"an empty process of the peer: {1e3 * empty:.1f} ms")
    accuracy(found, wanted)
    ratios = [total / ours * one for one in (once, together, each)]
    return 0 if all(ratio >= aim for ratio, aim in zip(ratios, AIMS, strict=True)) else 1


def all_answers(
    network: Network, variants: list[Variant], probes: list[Probe]
) -> tuple[dict[MeterMode, np.ndarray], np.ndarray]:
    """Every variant at every probe by a fresh solver, and the ranges of the ohms."""
    solver = ColdSolver.of(network, variants)
    answers: dict[MeterMode, np.ndarray] = {}
    ranges = np.zeros((len(variants), len(probes)), dtype=int)
    for mode in MODES:
        pairs = [(p.plus, p.minus) for p in probes if p.mode is mode]
        if mode is MeterMode.OHMS:
            answers[mode], ranges = solver.ohms_in_range(pairs)
        elif pairs:
            answers[mode] = solver.read(pairs, mode)
    return answers, ranges


def every_fault() -> int:
    """Accuracy on every board with every single fault; exit code 1 where it is not met."""
    worst_of_all = 0.0
    for board_id in shipped_ids():
        board = shipped_board(board_id)
        network = cold_network(board)
        rng = np.random.default_rng(11)
        chosen = [[], *([f] for part in board.components for f in faults_of(part))]
        variants = [variant_of(board, network, faults) for faults in chosen]
        solver = ColdSolver.of(network, variants)
        found: list[float | None] = []
        wanted: list[float] = []
        own_law = 0
        for mode in MODES:
            probes = [p for p in probes_of(board) if p.mode is mode and not p.lifted]
            if not probes:
                continue
            pairs = [(p.plus, p.minus) for p in probes]
            if mode is MeterMode.OHMS:
                shown, ranges = solver.ohms_in_range(pairs)
            else:
                shown, ranges = solver.read(pairs, mode), np.zeros((len(variants), 1), dtype=int)
            for row, faults in enumerate(chosen):
                own = [k for k, p in enumerate(probes) if faults and p.part == faults[0].ref]
                column = own[0] if own else int(rng.integers(len(probes)))
                scale = int(ranges[row, column]) if mode is MeterMode.OHMS else 0
                case = (variants[row], *pairs[column], scale)
                peer, ours = ngspice.reading(network, case, mode), float(shown[row, column])
                if peer is not None and abs(ours - peer) > LARGEST_DIFFERENCE * abs(peer):
                    with patch.object(JunctionArray, "_forward", ngspice.forward):
                        again = ColdSolver.of(network, [variants[0], variants[row]])
                        ours = float(again.read([pairs[column]], mode)[1, 0])
                    own_law += 1
                found.append(peer)
                wanted.append(ours)
        print(f"{board_id} ({own_law} only with the peer's leakage law)", end=" ")
        worst_of_all = max(worst_of_all, accuracy(found, wanted))
    return 0 if worst_of_all <= LARGEST_DIFFERENCE else 1


def report(board_id: str, total: int, ours: float, each: float, together: float) -> None:
    """Speeds as ratios."""
    print(f"{board_id}: {total} readings in {ours:.2f} s ({1e6 * ours / total:.0f} µs each)")
    print(
        f"peer, many in one process: {1e3 * together:.1f} ms each, {together * total / ours:.0f} x"
    )
    print(f"peer, a process for each: {1e3 * each:.1f} ms each, {each * total / ours:.0f} x")


def accuracy(found: list[float | None], wanted: list[float]) -> float:
    """Relative differences of the sample; returns the worst."""
    silent = sum(value is None for value in found)
    both = [(f, w) for f, w in zip(found, wanted, strict=True) if f is not None]
    over = sum(math.isinf(f) != math.isinf(w) for f, w in both)
    finite = [(f, w) for f, w in both if math.isfinite(f) and math.isfinite(w)]
    differences = [abs(f - w) / max(abs(f), 1e-3) for f, w in finite]
    print(
        f"accuracy on {len(found)}: median {np.median(differences):.1e}, worst "
        f"{max(differences):.1e}, overloads that disagree {over}, peer without an answer {silent}"
    )
    return math.inf if over else max(differences)


if __name__ == "__main__":
    sys.exit(main())
