"""What every hypothesis predicts at the cold probes: in the circuit, and each part by itself.

It is worked out in a process of its own beside the live model, so that two cores share the work and
a window stays free: that process (`main`) reads a board profile in JSON from its input and writes
the table as a NumPy file to its output.
"""

from __future__ import annotations

import io
import os
import subprocess
import sys
from collections.abc import Iterator, Sequence
from contextlib import contextmanager

import msgspec
import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.by_itself import by_itself
from loose_rail.boards.cold_network import (
    apart,
    cold_network,
    own_net,
    part_network,
    variant_of,
)
from loose_rail.boards.faults import Fault
from loose_rail.boards.probes import Probe, probes_of
from loose_rail.boards.profile import Board
from loose_rail.circuit.cold import ColdSolver
from loose_rail.circuit.elements import Variant
from loose_rail.diagnosis.model.hypotheses import Hypothesis, hypotheses_of
from loose_rail.kernel.errors import CircuitError
from loose_rail.kernel.own_process import command_of
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]

PARTS_AT_ONCE = 12
"""Parts by themselves that are solved together: one solve each costs more in calls than in work,
all of them together waste it on pairs that never meet."""


def cold_probes(board: Board) -> list[Probe]:
    """The probes of a drained board, in the order of `probes_of`."""
    return [probe for probe in probes_of(board) if not probe.live]


def cold_readings(board: Board) -> Floats:
    """Readings of every row at every cold probe, `(n_rows, n_cold_probes)`; +inf is OL."""
    found = _in_circuit(board)
    _lifted(board, found)
    return found


@contextmanager
def beside(board: Board) -> Iterator[_Beside]:
    """The same in a process of its own, begun now and ended at the latest with the block."""
    one = {"OMP_NUM_THREADS": "1", "OPENBLAS_NUM_THREADS": "1"}
    process = subprocess.Popen(
        command_of("loose_rail.diagnosis.model.cold_predictions"),
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        env={**os.environ, **one},
        start_new_session=True,  # Ctrl+C in a terminal is the window's
    )
    try:
        assert process.stdin is not None
        process.stdin.write(msgspec.json.encode(board))
        process.stdin.close()
        process.stdin = None
        yield _Beside(process)
    finally:
        process.kill()
        process.communicate()


class _Beside:
    def __init__(self, process: subprocess.Popen[bytes]) -> None:
        self._process = process

    def readings(self) -> Floats:
        """Wait for the table. Raises CircuitError where the process failed."""
        output, errors = self._process.communicate()
        if self._process.returncode:
            last = errors.decode(errors="replace").strip().splitlines()[-1:]
            code = self._process.returncode
            ended = f"its process was ended by signal {-code}" if code < 0 else f"exit code {code}"
            raise CircuitError(
                f"The cold readings can't be worked out: {' '.join(last) or ended}.",
                "Try again; if it stays so, check the profile with check-board.",
            )
        return np.asarray(np.load(io.BytesIO(output), allow_pickle=False), dtype=float)


def main(arguments: list[str] | None = None) -> int:
    """Read a board profile from standard input, write its table to standard output; there are no
    arguments."""
    assert not arguments
    made = io.BytesIO()
    np.save(made, cold_readings(msgspec.json.decode(sys.stdin.buffer.read(), type=Board)))
    sys.stdout.buffer.write(made.getvalue())
    sys.stdout.buffer.flush()
    return 0


def _in_circuit(board: Board) -> Floats:
    """Readings with every part in place; zero in the columns of parts by themselves."""
    rows, probes = hypotheses_of(board), cold_probes(board)
    found = np.zeros((len(rows), len(probes)))
    network = cold_network(board)
    variants, place = _distinct([variant_of(board, network, row.faults) for row in rows])
    solver = ColdSolver.of(network, variants)
    for k, probe in enumerate(probes):
        if probe.unplugged:
            found[:, k] = by_itself(board, probe, [row.faults for row in rows])
    for mode in MeterMode:
        columns = [k for k, p in enumerate(probes) if p.mode is mode and p.in_place]
        if columns:
            pairs = [(probes[k].plus, probes[k].minus) for k in columns]
            found[:, columns] = solver.read(pairs, mode)[place]
    return found


def _lifted(board: Board, found: Floats) -> None:
    """Parts by themselves, some at a time: only the rows with a fault in the part differ from a
    sound one."""
    rows, probes, each = hypotheses_of(board), cold_probes(board), apart(board)
    of_part: dict[str, list[int]] = {}
    for number, probe in enumerate(probes):
        if probe.lifted:
            of_part.setdefault(probe.part, []).append(number)
    parts = list(of_part)
    for first in range(0, len(parts), PARTS_AT_ONCE):
        refs = parts[first : first + PARTS_AT_ONCE]
        columns = [number for ref in refs for number in of_part[ref]]
        network = part_network(each, *refs)
        faults, place = _own_faults(rows, refs)
        variants = [variant_of(each, network, of_one) for of_one in faults]
        solver = ColdSolver.of(network, variants)
        for mode in dict.fromkeys(probes[number].mode for number in columns):
            same = [number for number in columns if probes[number].mode is mode]
            pairs = [
                (own_net(probes[k].part, probes[k].plus), own_net(probes[k].part, probes[k].minus))
                for k in same
            ]
            read = solver.read(pairs, mode)
            for k, number in enumerate(same):
                found[:, number] = read[place[probes[number].part], k]


def _own_faults(
    rows: Sequence[Hypothesis], refs: Sequence[str]
) -> tuple[list[tuple[Fault, ...]], dict[str, NDArray[np.intp]]]:
    """The distinct sets of faults that a row has in one of some parts, and for each part the number
    of every row's among them, `(n_rows,)`."""
    faults: list[tuple[Fault, ...]] = [()]
    place: dict[str, NDArray[np.intp]] = {}
    for ref in refs:
        own = [tuple(f for f in row.faults if f.ref == ref) for row in rows]
        faults += [one for one in dict.fromkeys(own) if one]
        number = {one: k for k, one in enumerate(faults)}
        place[ref] = np.array([number[one] for one in own], dtype=np.intp)
    return faults, place


def _distinct(variants: Sequence[Variant]) -> tuple[list[Variant], NDArray[np.intp]]:
    """Variants that differ in their elements, and the number of each row's among them."""
    found: list[Variant] = []
    numbers: dict[str, int] = {}
    place = np.empty(len(variants), dtype=np.intp)
    for row, variant in enumerate(variants):
        key = repr((variant.replaced, variant.added))
        if key not in numbers:
            numbers[key] = len(found)
            found.append(variant)
        place[row] = numbers[key]
    return found, place


if __name__ == "__main__":
    sys.exit(main())
