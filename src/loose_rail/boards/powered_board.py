"""A board profile with its faults as the parameters of the live model.

Every parameter is worked out from the effective values of the parts that play a role (a resistor
open, a capacitor dried), never from a table of "this fault does that": so a combination of faults
needs no case of its own. Roles are named in the profile, after the stage they belong to.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

from loose_rail.boards.bridge_state import bridge_state
from loose_rail.boards.effective_parts import INTERRUPTS, Health
from loose_rail.boards.faults import NEVER_ASKS, Fault, while_present
from loose_rail.boards.kinds.kind import Effect, Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.powered_outputs import (
    inverter_parameters,
    led_parameters,
    regulator_parameters,
    relay_parameters,
    status_parameters,
    winding_parameters,
)
from loose_rail.boards.powered_stages import (
    boost_parameters,
    converter_parameters,
    half_shorted,
)
from loose_rail.boards.profile import Board, LoadSpec, SignalSpec, Stage
from loose_rail.boards.rail_shorts import rail_shorts
from loose_rail.boards.start_pin import forced_volts
from loose_rail.kernel.quantities import component_value
from loose_rail.powered.contacts import Intermittent
from loose_rail.powered.plant import InputParameters, LoadParameters, Plant, SignalParameters
from loose_rail.powered.simulate import Simulation
from loose_rail.powered.waveform import waveform_simulation
from loose_rail.vocabulary.board_state import BoardState, Power
from loose_rail.vocabulary.roles import (
    MAIN_SIGNAL,
    BoardRole,
    Job,
    load_connector,
    role,
    signal_role,
)

LINE_OHMS = 0.6
"""Mains wiring, contacts and the bridge's own resistance [E]."""
ADAPTER_LINE_OHMS = 0.05
"""Plug and tracks of a board that an adapter feeds [E]."""
BRIDGE_SHORT_SIEMENS = 1.0
"""Two diodes of a bridge that broke through, from plus to minus [E]."""
LEAST_BULK_FARADS = 1e-6
"""What stray and film capacitors keep where the bulk is open [E]."""
BESIDE_ITS_FIRST = {"drags_main": "main_rail", "drags_second": "second_rail"}
"""How a board drags another rail than its first, and which parameter of it names that rail."""
FED_ON_TIMES = 4.0
"""A board that another feeds fails as a short of its input capacitor, not as a heavy load [E]."""
DRAG_TABLE_OHMS = 10.0
"""The load that counts as one in the table of faults [E]."""
CONVERTERS = ("flyback", "resonant")
REGULATORS = ("buck", "ldo", "switch")
STATUS, RELAY = "status", "relay"
KNOWN_STAGES = frozenset(
    {"mains", "adapter", "boost", "winding", "led", "ccfl", STATUS, RELAY, *CONVERTERS, *REGULATORS}
)


def plant_of(board: Board, faults: Sequence[Fault], state: BoardState) -> Plant:
    """One column of plant parameters for a board with these faults in this state."""
    health = Health(board, faults)
    boosts = [boost_parameters(health, s) for s in board.stages if s.kind == "boost"]
    stages = board.stages
    return Plant(
        input=_input(health, state),
        boost=boosts[0] if boosts else None,
        converters=tuple(converter_parameters(health, s) for s in stages if s.kind in CONVERTERS),
        windings=tuple(winding_parameters(health, s) for s in stages if s.kind == "winding"),
        regulators=tuple(regulator_parameters(health, s) for s in stages if s.kind in REGULATORS),
        leds=tuple(led_parameters(health, s) for s in stages if s.kind == "led"),
        inverters=tuple(inverter_parameters(health, s) for s in stages if s.kind == "ccfl"),
        loads=tuple(_load(health, load, state) for load in board.loads),
        signals=tuple(_signal(health, spec, state) for spec in board.signals),
        statuses=tuple(status_parameters(health, s) for s in stages if s.kind == STATUS),
        relays=tuple(relay_parameters(health, s) for s in stages if s.kind == RELAY),
    )


def simulation_of(
    board: Board,
    faults: Sequence[Fault],
    state: BoardState,
    seed: int = 1,
    fine: bool = False,
    resistor_ohms: float = 0.0,
) -> Simulation:
    """One board ready to run, in waveform steps where `fine`; contacts that come and go do so.

    `resistor_ohms` is a resistor in line with the mains as a limiter.
    """
    good = _limited(plant_of(board, faults, state), resistor_ohms)
    if not any(fault.comes_and_goes for fault in faults):
        return waveform_simulation(good) if fine else Simulation(good)
    bad = _limited(plant_of(board, while_present(board, faults), state), resistor_ohms)
    hot = waveform_simulation(good).hot if fine else None
    return Intermittent(good, bad, seed, hot)


def _limited(plant: Plant, ohms: float) -> Plant:
    return replace(plant, input=replace(plant.input, line_ohms=plant.input.line_ohms + ohms))


def plants_of(board: Board, faults: Sequence[Fault], states: Sequence[BoardState]) -> list[Plant]:
    """The same board with the same faults in several states: only what the state changes is new."""
    first = plant_of(board, faults, states[0])
    health = Health(board, faults)
    loads = {(k, load.cable): load for k, load in enumerate(first.loads)}
    signals = {(k, one.asks, one.forced): one for k, one in enumerate(first.signals)}

    def plugged(k: int, spec: LoadSpec, state: BoardState) -> LoadParameters:
        cable = float(_plugged(health, spec.part, state))
        if (k, cable) not in loads:
            loads[k, cable] = replace(first.loads[k], cable=cable)
        return loads[k, cable]

    def asked(k: int, spec: SignalSpec, state: BoardState) -> SignalParameters:
        asks, forced = _asks(health, spec, state), _forced(spec, state)
        if (k, asks, forced) not in signals:
            signals[k, asks, forced] = replace(first.signals[k], asks=asks, forced=forced)
        return signals[k, asks, forced]

    found = [first]
    for state in states[1:]:
        found.append(
            replace(
                first,
                input=replace(first.input, lamp_watts=float(state.lamp_watts)),
                loads=tuple(plugged(k, spec, state) for k, spec in enumerate(board.loads)),
                signals=tuple(asked(k, spec, state) for k, spec in enumerate(board.signals)),
            )
        )
    return found


def _input_stage(board: Board) -> Stage:
    return next(stage for stage in board.stages if stage.kind in ("mains", "adapter"))


def _input(health: Health, state: BoardState) -> InputParameters:
    board, stage = health.board, _input_stage(health.board)
    bridge = bridge_state(health)
    farads, esr = health.capacitor(BoardRole.BULK)
    fuses = health.refs(BoardRole.INPUT_FUSE)
    amps = component_value(board.component(fuses[0]).params["amps"]) if fuses else math.inf
    bleed = health.series_ohms(BoardRole.BLEEDER) if health.refs(BoardRole.BLEEDER) else math.inf
    volts = board.mains.volts
    return InputParameters(
        mains_volts=float(volts),
        mains_hertz=float(board.mains.hertz or 50.0),
        lamp_watts=float(state.lamp_watts),
        lamp_volts=float(volts),
        resistor_ohms=0.0,
        cord_path=float(not health.is_open(BoardRole.CORD)),
        inlet_path=float(not _inlet_open(health)),
        line_ohms=float(
            (ADAPTER_LINE_OHMS if board.adapter_fed else LINE_OHMS)
            + health.series_ohms(BoardRole.INPUT_PATH)
            + (math.inf if health.is_open(BoardRole.CORD) else 0.0)
        ),
        limiter_ohms=float(_limiter(health)),
        fuse_ohms=float(health.series_ohms(BoardRole.INPUT_FUSE)),
        fuse_amps=float(min(amps, 1e3)),
        bridge_arms=bridge.charging,
        bridge_short_share=bridge.shorting,
        input_short_siemens=float(
            health.bridged_siemens(BoardRole.INPUT_ACROSS)
            + health.bridged_siemens(BoardRole.BRIDGE_ACROSS)
        ),
        bulk_farads=float(max(farads, LEAST_BULK_FARADS)),
        bulk_esr_ohms=float(esr),
        bulk_short_siemens=float(
            _bulk_short(health) + (BRIDGE_SHORT_SIEMENS if bridge.bulk_shorted else 0.0)
        ),
        bulk_leak_siemens=float(0.0 if math.isinf(bleed) else 1.0 / bleed),
        adapter_volts=float(stage.volts if stage.kind == "adapter" else 0.0),
        adapter_amps=float(
            component_value(stage.params.get("amps", "0")) * health.lost_share(BoardRole.CORD)
        ),
    )


def _limiter(health: Health) -> float:
    """Cold resistance of the inrush limiter, 0 where there is none or the path is open."""
    parts = [health.board.component(ref) for ref in health.refs(BoardRole.INPUT_PATH)]
    whole = not health.is_open(BoardRole.INPUT_PATH)
    return sum(component_value(p.value) for p in parts if p.kind == "ntc" and whole)


def _inlet_open(health: Health) -> bool:
    """Whether a connector in the mains path is open: then nothing reaches the fuse."""
    path = health.refs(BoardRole.INPUT_PATH)
    return any(
        fault.effect in INTERRUPTS
        for ref in path
        if is_a(health.board.component(ref), Trait.CONNECTOR)
        for fault in health.faults_at(ref)
    )


def _bulk_short(health: Health) -> float:
    """Conductance across the bulk: its own short, or a shorted switch behind its sense resistor."""
    total = health.bridged_siemens(BoardRole.BULK) + rail_shorts(health, "bulk")
    for stage in health.board.stages:
        if stage.kind not in ("boost", *CONVERTERS) or stage.source not in ("bulk", ""):
            continue
        if health.failed(role(stage.id, Job.SWITCH), "short") and not half_shorted(health, stage):
            path = health.series_ohms(role(stage.id, Job.SENSE)) + 0.05
            path += component_value(stage.params.get("winding_ohms", "0.3"))
            blocked = health.is_open(role(stage.id, Job.TRANSFORMER))
            total += 0.0 if math.isinf(path) or blocked else 1.0 / path
    return total


def _drag(health: Health, spec: LoadSpec, effect: Effect) -> float:
    """What a board takes beside its load; the table's ohms are for 0.5 A at 5 V. It drags its first
    rail, and overdraws the first one on which a signal adds to its load. One that is fed through
    another board is measured by what all of them take from that rail."""
    own = [load for load in health.board.loads if load.part == spec.part]
    if effect is Effect.OVERDRAW:
        own = [load for load in own if load.signal]
    if not own or own[0] is not spec:
        return 0.0
    amps = max(spec.on_amps, spec.idle_amps)
    if not amps:
        of_rail = (load.on_amps for load in health.board.loads if load.rail == spec.rail)
        amps = FED_ON_TIMES * sum(of_rail)
    siemens = amps / spec.volts
    every = (f for f in health.faults_at(spec.part) if f.effect is effect)
    faults = [f for f in every if f.mode not in BESIDE_ITS_FIRST]
    return sum(siemens * DRAG_TABLE_OHMS / f.ohms for f in faults)


def _drag_beside(health: Health, spec: LoadSpec) -> float:
    """What a board takes beside its load on a rail that one of its parameters names."""
    params = health.board.component(spec.part).params
    modes = {mode for mode, name in BESIDE_ITS_FIRST.items() if params.get(name) == spec.rail}
    siemens = max(spec.on_amps, spec.idle_amps) / spec.volts
    faults = [f for f in health.faults_at(spec.part) if f.mode in modes]
    return sum(siemens * DRAG_TABLE_OHMS / f.ohms for f in faults)


def dragged_rail(board: Board, fault: Fault) -> str:
    """The rail that a board loads down from the start with this fault; empty where it does not."""
    if fault.effect is not Effect.DRAG:
        return ""
    named = BESIDE_ITS_FIRST.get(fault.mode)
    if named is not None:
        return board.component(fault.ref).params.get(named, "")
    return next((load.rail for load in board.loads if load.part == fault.ref), "")


def _plugged(health: Health, ref: str, state: BoardState) -> bool:
    """Whether a load is connected: through its connector, and the main cable where it is on it."""
    connector = health.refs(load_connector(ref)) or health.refs(BoardRole.CONNECTOR)
    cracked = any(f.effect is Effect.CONTACT for name in connector for f in health.faults_at(name))
    own = ref not in health.refs(BoardRole.MAIN_LOAD)
    own = own and "far" not in health.board.component(ref).params
    return not cracked and ref != state.without and (own or state.main_cable)


def _contact(health: Health, ref: str) -> float:
    """Resistance of the contacts between the board and a load."""
    connectors = health.refs(load_connector(ref)) or health.refs(BoardRole.CONNECTOR)
    return sum(health.contact_ohms(name) for name in connectors)


def _behind(siemens: float, ohms: float) -> float:
    """A conductance seen through a resistance in series with it."""
    return siemens / (1.0 + siemens * ohms)


def _load(health: Health, spec: LoadSpec, state: BoardState) -> LoadParameters:
    contact = _contact(health, spec.part)
    return LoadParameters(
        rail=spec.rail,
        signal=spec.signal,
        cable=float(_plugged(health, spec.part, state)),
        idle_siemens=float(_behind(spec.idle_amps / spec.volts, contact)),
        on_siemens=float(_behind(spec.on_amps / spec.volts, contact)),
        drag_siemens=float(_drag(health, spec, Effect.DRAG) + _drag_beside(health, spec)),
        over_siemens=float(_behind(_drag(health, spec, Effect.OVERDRAW), contact)),
        volts=float(spec.volts),
    )


def _lost_in_contact(health: Health, rail: str) -> float:
    """How much more the rail must give for the board behind a poor contact to see enough."""
    loads = [load for load in health.board.loads if load.rail == rail]
    if not loads:
        return 1.0
    own = loads[0].idle_amps / loads[0].volts
    return 1.0 + own * _contact(health, loads[0].part)


def _asks(health: Health, spec: SignalSpec, state: BoardState) -> float:
    """1 where the main board asks by a signal. One that never asks keeps its start signal back, or,
    on a board that has none, all that it gives; one that always asks does so in standby as well."""
    first = next((s.id for s in health.board.signals if s.sense != "none"), "")
    kept = spec.id == MAIN_SIGNAL or first != MAIN_SIGNAL
    mute = kept and any(fault.mode == NEVER_ASKS for fault in health.faults)
    mute = mute or health.failed(BoardRole.MAIN_LOAD, f"no_{spec.id}")
    cable = state.main_cable and not health.is_open(BoardRole.CONNECTOR)
    always = state.power is Power.STANDBY and health.failed(BoardRole.MAIN_LOAD, "always_asserts")
    return float((state.power is Power.ON or always) and cable and not mute)


def _forced(spec: SignalSpec, state: BoardState) -> float:
    """1 where the start signal is forced from outside."""
    return float(spec.id == "start" and state.power is Power.FORCED)


def _forced_share(health: Health, spec: SignalSpec) -> float:
    """Where a forced start pin stands, as a share of its rail."""
    rail = health.board.stage(spec.rail)
    if spec.id != MAIN_SIGNAL or rail is None or not rail.volts:
        return 0.0
    return forced_volts(health.board, health.faults) / rail.volts


def _signal(health: Health, spec: SignalSpec, state: BoardState) -> SignalParameters:
    roles: list[str] = [signal_role(spec.id, job) for job in (Job.PATH, Job.COUPLER, Job.SWITCH)]
    roles.append(BoardRole.CONNECTOR)  # a jumper in its pins stands before a cracked joint as well
    return SignalParameters(
        id=spec.id,
        rail=spec.rail,
        needs=spec.needs,
        sense=spec.sense,
        good_volts=float(spec.good_volts * _lost_in_contact(health, spec.rail)),
        after_seconds=float(spec.after_seconds),
        asks=_asks(health, spec, state),
        forced=_forced(spec, state),
        forced_share=_forced_share(health, spec),
        wire_path=float(not any(map(health.is_open, roles))),
    )
