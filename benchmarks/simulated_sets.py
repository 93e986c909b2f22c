"""Sets as they come in: a board with its own parts, hidden faults, and what any meter shows on it.

Every part is drawn from its tolerance, so that nothing reads exactly as predicted. Many sets of one
board are worked out together: one batch of the cold solver, one run of the live model. Junctions
are drawn once for a batch: its boards come from one reel.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import msgspec
import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.cold_network import cold_network, part_network, variant_of
from loose_rail.boards.faults import Fault, while_present
from loose_rail.boards.kinds.kind import Effect
from loose_rail.boards.powered_board import plants_of
from loose_rail.boards.probes import Probe
from loose_rail.boards.profile import Board, Component
from loose_rail.boards.typical import ESR_SCALE, FARADS_SCALE
from loose_rail.circuit.cold import ColdSolver
from loose_rail.circuit.elements import Element, Junction, Network, Variant, Windings
from loose_rail.diagnosis.model.candidates import Candidate, candidates_of, live_states
from loose_rail.diagnosis.model.predictions import meter_view
from loose_rail.diagnosis.model.table import PredictionTable
from loose_rail.kernel.quantities import component_value
from loose_rail.powered.plant import stack
from loose_rail.powered.record import run

Floats = NDArray[np.float64]
Degree = Callable[[Board, Fault, np.random.Generator], Fault]

TOLERANCE = {"resistor": 0.02, "fusible_resistor": 0.02, "film": 0.05, "ceramic": 0.07}
"""Standard deviation of a part's value: half of the usual 5, 10 and 20 % classes [P]."""
FARADS_SPREAD, ESR_SPREAD_LOG = 0.07, 0.35
JUNCTION_SPREAD_LOG = 0.35
MAINS_SPREAD, REFERENCE_SPREAD = 0.03, 0.008
MOST_SIGMAS = 2.0
BURNING_VOLTS = 640.0
"""What a tube burns at on a tester, volts."""
LOW_PIN_OHMS, HIGH_PIN_OHMS, HIGH_PIN_VOLTS = (60.0, 8e3), (5e3, 1e6), 50.0
"""Supply pins of sound boards by themselves, at low and at high rails."""
SHOWS_UNDER_VOLTS = 0.1
"""Of the boards that drag their rail: a meter's half volt shows nothing."""
LIVE_STEP_SECONDS = 1e-3
"""Finer steps than the prediction tables are made with."""


def as_predicted(board: Board, fault: Fault, rng: np.random.Generator) -> Fault:
    """A fault just as the tables of kinds have it."""
    return fault


@dataclass(frozen=True)
class SimulatedSet:
    """One set: its hidden faults and what a perfect meter shows, `(2, n_candidates)` each.

    Rows of the arrays: 0 while its faults are there, 1 while one that comes and goes is away. The
    rate of restarts and the lamp's glow are `(2,)` for each powered state.
    """

    board: Board
    faults: tuple[Fault, ...]
    low: Floats
    high: Floats
    hertz: Floats
    ticking_hertz: dict[str, Floats]
    lamp_glow: dict[str, Floats]

    @property
    def share(self) -> float:
        """Share of the time that the faults are there."""
        return min((fault.share for fault in self.faults), default=1.0)


def simulated_sets(
    board: Board,
    hidden: Sequence[tuple[Fault, ...]],
    rng: np.random.Generator,
    degree: Degree = as_predicted,
    boards: Sequence[Board] = (),
) -> list[SimulatedSet]:
    """One set for each tuple of faults, with parts drawn afresh: of `board`, or each of its own
    among `boards`; every fault of the degree that `degree` draws for it."""
    candidates = candidates_of(board)
    drawn = [_drawn(one, rng) for one in boards or [board] * len(hidden)]
    shape = (len(hidden), 2, len(candidates))
    low, high, hertz = np.zeros(shape), np.zeros(shape), np.zeros(shape)
    hidden = [tuple(_shared(degree(board, f, rng), f) for f in faults) for faults in hidden]
    there = [
        tuple(
            degree(board, while_present(board, [f])[0], rng) if f.comes_and_goes else f
            for f in faults
        )
        for faults in hidden
    ]
    away = [tuple(f for f in faults if not f.comes_and_goes) for faults in hidden]
    ticking, glow = _read_live(drawn, (there, away), candidates, (low, high, hertz))
    _read_cold(board, drawn, (there, away), candidates, (low, high), rng)
    return [
        SimulatedSet(
            board=board,
            faults=hidden[k],
            low=low[k],
            high=high[k],
            hertz=hertz[k],
            ticking_hertz={key: values[k] for key, values in ticking.items()},
            lamp_glow={key: values[k] for key, values in glow.items()},
        )
        for k in range(len(hidden))
    ]


def _shared(of_any_degree: Fault, fault: Fault) -> Fault:
    """Of a fault that comes and goes only how often it is there is a matter of degree."""
    return replace(fault, share=of_any_degree.share) if fault.comes_and_goes else of_any_degree


def as_row(
    simulated: SimulatedSet, table: PredictionTable, row: int, sound: SimulatedSet | None = None
) -> PredictionTable:
    """A table of two or three rows: a good board as predicted, or `sound` as it is; this very set,
    its faults away if they come and go; and the set while they are there. Row 1 is what its owner
    lives with."""
    there = int(table.index_when_present[row])
    goes = there != row
    rows = [0, row, there] if goes else [0, row]
    order = [1, 0] if goes else [0]

    def joined(of_table: Floats, of_set: Floats, good: Floats | None = None) -> Floats:
        return np.concatenate([of_table[:1] if good is None else good[:1], of_set[order]])

    return PredictionTable(
        board=table.board,
        rows=tuple(table.rows[k] for k in rows),
        candidates=table.candidates,
        low=joined(table.low, simulated.low, sound.low if sound else None),
        high=joined(table.high, simulated.high, sound.high if sound else None),
        hertz=joined(table.hertz, simulated.hertz, sound.hertz if sound else None),
        peak=joined(table.peak, simulated.high),
        late=joined(table.late, np.zeros_like(simulated.high)),
        ticking_hertz={
            k: joined(table.ticking_hertz[k], of) for k, of in simulated.ticking_hertz.items()
        },
        lamp_glow={k: joined(table.lamp_glow[k], of) for k, of in simulated.lamp_glow.items()},
        primary_short=table.primary_short[rows],
    )


def _factor(rng: np.random.Generator, spread: float) -> float:
    return 1.0 + spread * float(np.clip(rng.standard_normal(), -MOST_SIGMAS, MOST_SIGMAS))


def _drawn(board: Board, rng: np.random.Generator) -> Board:
    parts = [_drawn_part(part, rng) for part in board.components]
    mains = msgspec.structs.replace(
        board.mains, volts=board.mains.volts * _factor(rng, MAINS_SPREAD)
    )
    stages = [
        msgspec.structs.replace(stage, volts=stage.volts * _factor(rng, REFERENCE_SPREAD))
        for stage in board.stages
    ]
    return msgspec.structs.replace(board, components=parts, mains=mains, stages=stages)


def _drawn_part(part: Component, rng: np.random.Generator) -> Component:
    if part.kind == "electrolytic":
        farads = float(part.params.get(FARADS_SCALE, "1")) * _factor(rng, FARADS_SPREAD)
        esr = float(part.params.get(ESR_SCALE, "1"))
        esr *= float(np.exp(ESR_SPREAD_LOG * np.clip(rng.standard_normal(), -2, 2)))
        params = {**part.params, ESR_SCALE: f"{esr:.6g}", FARADS_SCALE: f"{farads:.6g}"}
        return msgspec.structs.replace(part, params=params)
    if part.kind in TOLERANCE and part.value:
        value = component_value(part.value) * _factor(rng, TOLERANCE[part.kind])
        return msgspec.structs.replace(part, value=f"{value:.6g}")
    return part


# ---- live ----------------------------------------------------------------------------------


def _read_live(
    drawn: Sequence[Board],
    faults: tuple[Sequence[tuple[Fault, ...]], Sequence[tuple[Fault, ...]]],
    candidates: Sequence[Candidate],
    tables: tuple[Floats, Floats, Floats],
) -> tuple[dict[str, Floats], dict[str, Floats]]:
    states = live_states(drawn[0])
    plants = []
    places: list[tuple[int, int]] = []
    for number, board in enumerate(drawn):
        for row in (0, 1):
            if row and faults[0][number] == faults[1][number]:
                continue
            places.append((number, row))
            plants += plants_of(board, faults[row][number], states)
    record = run(stack(plants), step_seconds=LIVE_STEP_SECONDS)
    numbers = np.array([place[0] for place in places])
    rows = np.array([place[1] for place in places])
    for column, candidate in enumerate(candidates):
        if candidate.probe.live:
            at = np.arange(len(places)) * len(states) + states.index(candidate.state)
            found = meter_view(record, candidate.probe.observable, at)
            for table, values in zip(tables, found, strict=True):
                table[numbers, rows, column] = values
    ticking, glow = {}, {}
    restarts = record.restarts("")
    for number, state in enumerate(states):
        at = np.arange(len(places)) * len(states) + number
        ticking[state.key], glow[state.key] = np.zeros((2, len(drawn), 2))
        ticking[state.key][numbers, rows] = restarts[at]
        glow[state.key][numbers, rows] = record.lamp_glow[at]
    return ticking, glow


# ---- cold ----------------------------------------------------------------------------------


def _read_cold(
    board: Board,
    drawn: Sequence[Board],
    faults: tuple[Sequence[tuple[Fault, ...]], Sequence[tuple[Fault, ...]]],
    candidates: Sequence[Candidate],
    tables: tuple[Floats, Floats],
    rng: np.random.Generator,
) -> None:
    nominal = _scattered(cold_network(board), rng)
    variants = _variants(nominal, [cold_network(own) for own in drawn], drawn, faults)
    solver = ColdSolver.of(nominal, variants)
    shape = (len(drawn), 2, -1)
    dead = {c.probe.mode for c in candidates if not c.probe.live}
    for mode in dead:
        columns = [k for k, c in enumerate(candidates) if c.probe.mode is mode and c.probe.in_place]
        if columns:
            pairs = [(candidates[k].probe.plus, candidates[k].probe.minus) for k in columns]
            for table in tables:
                table[:, :, columns] = solver.read(pairs, mode)[1:].reshape(shape)
    _read_lifted(board, drawn, faults, candidates, tables, rng)
    _read_off_board(drawn, faults, candidates, tables, rng)


def _read_off_board(
    drawn: Sequence[Board],
    faults: tuple[Sequence[tuple[Fault, ...]], Sequence[tuple[Fault, ...]]],
    candidates: Sequence[Candidate],
    tables: tuple[Floats, Floats],
    rng: np.random.Generator,
) -> None:
    """What hangs on a plug, read there by itself: each set has its own lamps and boards."""
    for column, candidate in enumerate(candidates):
        if not candidate.probe.unplugged:
            continue
        read = _lamps if candidate.probe.mode.of_lamps else _supply_pin
        for number, board in enumerate(drawn):
            shown = read(board, candidate.probe, rng)
            for which, rows in enumerate(faults):
                own = [f for f in rows[number] if f.ref == candidate.probe.part]
                for table in tables:
                    table[number, which, column] = shown(own)


def _lamps(board: Board, probe: Probe, rng: np.random.Generator) -> Callable[[list[Fault]], float]:
    """On a tester: each set's own share of a string's working volts, a lit tube; OL where one stays
    dark."""
    own_stages = {r.split(".")[0] for r, refs in board.roles.items() if probe.part in refs}
    stage = next(s for s in board.stages if s.id in own_stages)
    volts = stage.volts if stage.kind == "led" else BURNING_VOLTS
    volts *= rng.uniform(0.86, 0.98)

    def shown(own: list[Fault]) -> float:
        dark = any(f.effect in (Effect.OPEN, Effect.WEAK) for f in own)
        left = math.prod(f.value_scale for f in own if f.effect is Effect.SCALE)
        return math.inf if dark else volts * left

    return shown


def _supply_pin(
    board: Board, probe: Probe, rng: np.random.Generator
) -> Callable[[list[Fault]], float]:
    """At another board's own plug: each has its ohms, and of those that drag the rail of this pin
    some show it under volts only."""
    nets = {rail.id: rail.net for rail in board.rails}
    fed = [one for one in board.loads if one.part == probe.part]
    here = [one for one in fed if nets[one.rail] == probe.plus] or fed
    volts = max(one.volts for one in here)
    first = here[0].rail == fed[0].rail
    ends = LOW_PIN_OHMS if volts < HIGH_PIN_VOLTS else HIGH_PIN_OHMS
    sound = float(np.exp(rng.uniform(*np.log(ends))))
    hidden = rng.random() < SHOWS_UNDER_VOLTS

    def shown(own: list[Fault]) -> float:
        drags = [f.ohms for f in own if f.effect is Effect.DRAG and (f.mode == "drags") is first]
        drags += [f.ohms for f in own if f.effect is Effect.ELSEWHERE and f.ohms]
        drags = [] if hidden else drags
        return min([sound, *drags])

    return shown


def _read_lifted(
    board: Board,
    drawn: Sequence[Board],
    faults: tuple[Sequence[tuple[Fault, ...]], Sequence[tuple[Fault, ...]]],
    candidates: Sequence[Candidate],
    tables: tuple[Floats, Floats],
    rng: np.random.Generator,
) -> None:
    of_part: dict[str, list[int]] = {}
    for column, candidate in enumerate(candidates):
        if candidate.probe.lifted:
            of_part.setdefault(candidate.probe.part, []).append(column)
    for ref, columns in of_part.items():
        own = tuple([tuple(f for f in some if f.ref == ref) for some in row] for row in faults)
        nominal = _scattered(part_network(board, ref), rng)
        networks = [part_network(one, ref) for one in drawn]
        variants = _variants(nominal, networks, drawn, (own[0], own[1]))
        solver = ColdSolver.of(nominal, variants)
        for column in columns:
            probe = candidates[column].probe
            shown = solver.read([(probe.plus, probe.minus)], probe.mode)[1:, 0]
            for table in tables:
                table[:, :, column] = shown.reshape(len(drawn), 2)


def _variants(
    nominal: Network,
    networks: Sequence[Network],
    drawn: Sequence[Board],
    faults: tuple[Sequence[tuple[Fault, ...]], Sequence[tuple[Fault, ...]]],
) -> list[Variant]:
    """The nominal board first, then every set with its faults and without those that are away."""
    found = [Variant("nominal")]
    for number, (network, own) in enumerate(zip(networks, drawn, strict=True)):
        values = {
            name: element
            for name, element in network.elements.items()
            if not isinstance(element, Junction | Windings)
        }
        for row in (0, 1):
            hit = variant_of(own, network, faults[row][number])
            found.append(Variant(hit.name, {**values, **hit.replaced}, hit.added))
    return found


def _scattered(network: Network, rng: np.random.Generator) -> Network:
    elements: dict[str, Element] = {}
    for name, element in network.elements.items():
        if isinstance(element, Junction):
            times = float(np.exp(JUNCTION_SPREAD_LOG * rng.standard_normal()))
            element = replace(element, saturation_amps=element.saturation_amps * times)
        elements[name] = element
    return Network(network.nets, elements, network.reference)
