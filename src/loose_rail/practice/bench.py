"""A simulated board on a simulated bench: it has faults, a state, and probes on two points.

Answers come from the same solvers as the predictions, but from its own parts: every value is off by
a scatter drawn once per point, so nothing is read exactly as predicted.
"""

from __future__ import annotations

import math
import threading
import zlib
from collections.abc import Callable, Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.by_itself import by_itself
from loose_rail.boards.cold_network import cold_network, part_network, variant_of
from loose_rail.boards.faults import Fault
from loose_rail.boards.powered_board import simulation_of
from loose_rail.boards.probes import Probe, probes_of
from loose_rail.boards.profile import Board
from loose_rail.boards.reservoirs import bulk_of
from loose_rail.boards.validate import observables_of
from loose_rail.boards.whole_board import renewed
from loose_rail.circuit.cold import ColdSolver
from loose_rail.circuit.elements import Variant
from loose_rail.diagnosis.model.candidates import live_states
from loose_rail.powered.record import METER_SECONDS, STEP_SECONDS, run
from loose_rail.vocabulary.board_state import UNPLUGGED, BoardState, state_of
from loose_rail.vocabulary.meter_mode import MeterMode

TRACE_EVERY = 10
TRACE_SECONDS = 8.0
SAMPLE_SECONDS = STEP_SECONDS * TRACE_EVERY
METER_SAMPLES = max(1, round(METER_SECONDS / SAMPLE_SECONDS))
LOOP_FROM_SECONDS, SEAM_SECONDS = 3.0, 0.2
"""Where the round begins, and how long before its ends the points are compared."""
PROBES_ON_SECONDS = 2.0
SCATTER = 0.02
AIR_SECONDS = 0.9
"""From one point to the next with a probe in each hand [E]."""
RESIDUAL_BULK_VOLTS = 1.4
DRAIN_OHMS = 2200.0
"""What the hands put across the bulk once the plug is out [P]."""


class SimulatedBench:
    """The board, its hidden faults, its state and where the probes are."""

    def __init__(
        self, board: Board, faults: Sequence[Fault], clock: Callable[[], float], seed: int = 1
    ) -> None:
        self.board = board
        self.faults = list(faults)
        self.state: BoardState = UNPLUGGED
        self._clock = clock
        self._seed = seed
        self._since = self._put_at = clock()
        self._probe = ("", "", "")
        self._on_at = clock()
        self._network = cold_network(board)
        self._solver: ColdSolver | None = None
        self._traces: _Traces = _Traces(board, self.faults)
        self._charged_to = RESIDUAL_BULK_VOLTS
        self.puts = 0
        """How often it was brought into a state: a second meter's own time counts from it."""

    def put(self, key: str) -> None:
        """Bring the board into a state; plugging in starts its time at zero."""
        if self.state.plugged:
            self._charged_to = max(self._volts("bulk"), RESIDUAL_BULK_VOLTS)
        self.state = state_of(key)
        self.puts += 1
        self._put_at = self._clock()
        if self.state.plugged:
            self._traces.of(self.state)
        self._since = self._clock() - PROBES_ON_SECONDS

    def probe(self, plus: str, minus: str, observable: str) -> None:
        """Put the probes on two nets; `observable` names the live point, or `lifted:` and a part,
        or `unplugged:` and the probe of what hangs on a plug.

        Two empty nets take them off. Raises KeyError for what this board does not have.
        """
        if plus or minus:
            known = {net.name for net in self.board.nets}
            if observable.startswith("lifted:"):
                known = set(self.board.component(observable.removeprefix("lifted:")).pins.values())
            elif observable.startswith("unplugged:"):
                if self._unplugged_probe(observable.removeprefix("unplugged:")) is None:
                    raise KeyError(f"nothing {observable}")
            elif observable and observable not in observables_of(self.board):
                raise KeyError(f"no point {observable}")
            if not {plus, minus} <= known:
                raise KeyError(f"no nets {plus}, {minus} there")
        self._probe = (plus, minus, observable)

    def lift(self) -> None:
        """The probes leave the board: the next ones touch after AIR_SECONDS."""
        self._on_at = self._clock() + AIR_SECONDS

    def watched(self, seconds: float) -> float:
        """What a second meter shows that stays clipped across the bulk, in volts, so many seconds
        of its own time after the board was last brought into a state."""
        return self._volts("bulk") if self.state.plugged else self._draining(seconds)

    def _draining(self, seconds: float) -> float:
        """Volts of the bulk while the hands' resistor drains it (RC discharge, textbook)."""
        farads = bulk_of(self.board).farads
        left = self._charged_to - RESIDUAL_BULK_VOLTS
        return RESIDUAL_BULK_VOLTS + left * math.exp(-seconds / (DRAIN_OHMS * farads))

    def fit(self, part: str) -> None:
        """Replace a part, or the power board: its faults are gone."""
        fresh = renewed(self.board, (part,))
        self.faults = [fault for fault in self.faults if fault.ref not in fresh]
        self._solver = None
        self._traces = _Traces(self.board, self.faults)

    def read(self, mode: MeterMode) -> float:
        """What the meter shows now, in SI units; +inf is overload."""
        plus, minus, observable = self._probe
        if not plus or self._clock() < self._on_at:
            return 0.0 if mode.unit == "V" else math.inf
        if not mode.needs_dead_board:
            return self._volts(observable)
        if self.state.plugged:
            return math.inf
        if observable.startswith("lifted:"):
            return self._lifted(observable.removeprefix("lifted:"), mode)
        if observable.startswith("unplugged:"):
            return self._unplugged(observable.removeprefix("unplugged:"), mode)
        if self._solver is None:
            variants = [Variant("healthy"), variant_of(self.board, self._network, self.faults)]
            self._solver = ColdSolver.of(self._network, variants)
        shown = float(self._solver.read([(plus, minus)], mode)[1, 0])
        return shown * self._scatter(plus + minus) if math.isfinite(shown) else shown

    def _unplugged(self, probe_id: str, mode: MeterMode) -> float:
        """What hangs on a plug, read off the board; +inf where nothing lights, or the meter is set
        to something else."""
        probe = self._unplugged_probe(probe_id)
        if probe is None or probe.mode is not mode:
            return math.inf
        shown = float(by_itself(self.board, probe, [self.faults])[0])
        return shown if mode.of_lamps else shown * self._scatter(probe.id)

    def _unplugged_probe(self, probe_id: str) -> Probe | None:
        return next((p for p in probes_of(self.board) if p.id == probe_id and p.unplugged), None)

    def _lifted(self, ref: str, mode: MeterMode) -> float:
        """A part by itself, with its own faults."""
        network = part_network(self.board, ref)
        own = [fault for fault in self.faults if fault.ref == ref]
        solver = ColdSolver.of(network, [variant_of(self.board, network, own)])
        shown = float(solver.read([self._probe[:2]], mode)[0, 0])
        return shown * self._scatter(ref) if math.isfinite(shown) else shown

    def _volts(self, observable: str) -> float:
        if not self.state.plugged:
            return self._draining(self._clock() - self._put_at) if observable == "bulk" else 0.0
        seam, samples = self._traces.of(self.state)
        if observable not in samples:
            return 0.0  # probes left at a part of the dead board: the bench knows live points only
        seconds = self._clock() - self._since
        if seconds > seam:
            span = seam - LOOP_FROM_SECONDS
            seconds = LOOP_FROM_SECONDS + math.fmod(seconds - LOOP_FROM_SECONDS, span)
        first = round(seconds / SAMPLE_SECONDS)
        mean = float(samples[observable][first : first + METER_SAMPLES].mean())
        return mean * (1.0 + 0.2 * (self._scatter(observable) - 1.0))

    def _scatter(self, point: str) -> float:
        rng = np.random.default_rng(self._seed + zlib.crc32(point.encode()))
        return float(1.0 + SCATTER * rng.standard_normal())


Floats = NDArray[np.float64]


class _Traces:
    """What a powered state does in time; the state that is likely next is worked out beforehand."""

    def __init__(self, board: Board, faults: Sequence[Fault]) -> None:
        self._board = board
        self._faults = list(faults)
        self._found: dict[str, tuple[float, dict[str, Floats]]] = {}
        self._lock = threading.Lock()
        threading.Thread(target=self.of, args=[live_states(board)[0]], daemon=True).start()

    def of(self, state: BoardState) -> tuple[float, dict[str, Floats]]:
        """Seconds from which it goes round again, and samples of each point; the first call for a
        state takes about a second."""
        with self._lock:
            if state.key not in self._found:
                board = simulation_of(self._board, self._faults, state)
                record = run(board.plant, TRACE_SECONDS, TRACE_EVERY, simulation=board)
                samples = {name: values[:, 0] for name, values in record.traces.items()}
                self._found[state.key] = (_seam(samples), samples)
            return self._found[state.key]


def _seam(samples: dict[str, Floats]) -> float:
    """Seconds at which every point stands, and moves, most as it did when the round begins: a rail
    that restarts must not lose its beat there."""
    begin, width = round(LOOP_FROM_SECONDS / SAMPLE_SECONDS), round(SEAM_SECONDS / SAMPLE_SECONDS)
    table = np.array([each / max(float(np.ptp(each)), 1e-9) for each in samples.values()])
    ends = np.arange((begin + table.shape[1]) // 2, table.shape[1] - METER_SAMPLES)
    before = table[:, begin - width : begin]
    apart = [float(np.square(table[:, k - width : k] - before).sum()) for k in ends]
    return float(ends[int(np.argmin(apart))]) * SAMPLE_SECONDS
