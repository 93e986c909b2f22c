"""How far a sound reading may lie from its prediction: the scale and the standard deviation.

Readings of ohms, ESR and capacitance are compared on a logarithmic scale (after adding the lead
resistance that no two-wire meter can see below), volts on a plain one. All widths are in the table
of limits with their reasons.
"""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from loose_rail.boards.powered_board import STATUS
from loose_rail.boards.probes import BULK_POINT, Probe
from loose_rail.boards.profile import Board
from loose_rail.judgement.limits import limit
from loose_rail.vocabulary.keys import is_ripple, ripple_of, stage_of
from loose_rail.vocabulary.meter_mode import MeterMode

Floats = NDArray[np.float64]

FULL_SCALE = {
    MeterMode.OHMS: 40e6,
    MeterMode.CONTINUITY: 400.0,
    MeterMode.ESR: 100.0,
    MeterMode.CAPACITANCE: 40e-3,
    MeterMode.DIODE: 2.6,
    MeterMode.STRIP: 300.0,
    MeterMode.TUBE: 2000.0,
}
_UNCERTAIN_ABOVE_OHMS = 2000.0
"""From here on what stands in parallel in a real board is less and less known [E]."""
_UNCERTAIN_DECADES = 2.0
"""Decades over which that grows to its full size [E]."""
_LEAST_FARADS = 1e-12
"""What leads and fingers add [P]."""
INLET_TIMES = {"mains": 1.0, "after_fuse": 1.0, "bridge_ac": 1.0, "bulk": math.sqrt(2.0)}
"""Points that stand at the inlet's volts, or at their crest (textbook)."""
INLET_SHARES = (0.9, 1.03)
"""Between these shares of it a point follows the inlet: a bulk under load sags a tenth [E]."""
RUNS_SHARE = 0.6
"""Of a string's volts: below this a driver does not run, and its output follows its feed [E]."""
UNKNOWN_FROM_OHMS = 5.0
"""Lower ohms are joints, windings and shorts on any board; a decade above, the circuit counts
fully [E]."""
_HUM = ripple_of(BULK_POINT)
BOOST, BOOSTED_SHARE = "boost", 0.04
"""A bulk this near a boost stage's set point is held there by it [P]."""
RESISTORS = ("resistor", "fusible_resistor")


def scaled(values: Floats | float, mode: MeterMode) -> Floats:
    """Values on the scale on which readings of this setting scatter evenly."""
    plain = np.asarray(values, dtype=float)
    if mode in (MeterMode.OHMS, MeterMode.CONTINUITY):
        return np.asarray(np.log(np.maximum(plain, 0.0) + limit("lead_ohms")))
    if mode is MeterMode.ESR:
        return np.asarray(np.log(np.maximum(plain, 0.0) + limit("esr_floor_ohms")))
    if mode is MeterMode.CAPACITANCE:
        return np.asarray(np.log(np.maximum(plain, 0.0) + _LEAST_FARADS))
    return plain


def unscaled(values: Floats | float, mode: MeterMode) -> Floats:
    """The way back from `scaled`, never below zero."""
    plain = np.asarray(values, dtype=float)
    if mode in (MeterMode.OHMS, MeterMode.CONTINUITY):
        return np.asarray(np.maximum(np.exp(plain) - limit("lead_ohms"), 0.0))
    if mode is MeterMode.ESR:
        return np.asarray(np.maximum(np.exp(plain) - limit("esr_floor_ohms"), 0.0))
    if mode is MeterMode.CAPACITANCE:
        return np.asarray(np.exp(plain))
    return plain


def sigma(board: Board, probe: Probe, predicted: Floats | float) -> Floats:
    """Standard deviation on the scale of `scaled` around each predicted value (SI units)."""
    values = np.asarray(predicted, dtype=float)
    finite = np.where(np.isfinite(values), values, 1.0)
    known = _sigma(board, probe, finite)
    return known if board.known_by == "profile" else np.hypot(known, _unknown(board, probe, finite))


PRINT_TIMES = 1.15
"""What lies beside a resistor only lowers its reading in place: from so many times what is printed
on it, it has drifted or is open; its band is 5 %, and a meter a few per cent off [P]."""


def asks_for_print(board: Board, probe: Probe) -> bool:
    """Whether a reading is held against what is printed on the part: ohms in place of a resistor of
    a composed board whose value nobody has told. Its bands are there to be read."""
    if board.known_by != "own" or probe.lifted or probe.part in board.read_parts:
        return False
    return reads_a_resistor(board, probe)


def reads_a_resistor(board: Board, probe: Probe) -> bool:
    """Whether a probe reads the ohms of a resistor on the dead board."""
    ohms = probe.mode in (MeterMode.OHMS, MeterMode.CONTINUITY) and not probe.live
    return ohms and bool(probe.part) and board.component(probe.part).kind in RESISTORS


def known_sigma(board: Board, probe: Probe, predicted: Floats | float) -> Floats:
    """The same for boards of one number, whose make-up is the same: without what boards of a kind
    differ by."""
    values = np.asarray(predicted, dtype=float)
    return _sigma(board, probe, np.where(np.isfinite(values), values, 1.0))


def _unknown(board: Board, probe: Probe, finite: Floats) -> Floats:
    """What boards of one make-up differ by, where a board is composed and not known: widths on the
    scale of `scaled`, beside those that good boards of one number have. A part whose value was read
    on it is known; in place half of what is unknown lies beside it."""
    if probe.unplugged and not probe.mode.of_lamps:
        return np.zeros_like(finite)
    if probe.part in board.read_parts:
        alone = probe.lifted or probe.mode in (MeterMode.ESR, MeterMode.CAPACITANCE)
        wide = _unread(board, probe, finite)
        return np.zeros_like(finite) if alone else 0.5 * wide
    return _unread(board, probe, finite)


def _unread(board: Board, probe: Probe, finite: Floats) -> Floats:
    if probe.mode in (MeterMode.OHMS, MeterMode.CONTINUITY):
        share = np.clip(np.log10(np.maximum(finite, 1e-3) / UNKNOWN_FROM_OHMS), 0.0, 1.0)
        beside = np.zeros_like(finite)
        if _across_a_rail(board, probe):
            least = np.log(np.maximum(finite, 1e-3) / limit("unknown_load_ohms"))
            beside = np.maximum(0.5 * least, 0.0)
        return np.asarray(np.maximum(limit("unknown_ohms_log") * share, beside))
    if probe.mode is MeterMode.ESR:
        return np.full_like(finite, limit("unknown_esr_log"))
    if probe.mode is MeterMode.CAPACITANCE:
        return np.full_like(finite, limit("unknown_capacitance_log"))
    if probe.mode is MeterMode.DIODE:
        return np.full_like(finite, limit("unknown_diode_volts"))
    if probe.mode.of_lamps:
        return np.asarray(limit("unknown_live_share") * np.abs(finite))
    if is_ripple(probe.observable):
        name = "unknown_hum_share" if _hums(board, probe) else "unknown_ripple_share"
        return np.asarray(limit(name) * np.abs(finite))
    point = probe.observable
    stage = board.stage(stage_of(point))
    lamps = stage is not None and stage.kind in ("led", "ccfl")
    runs = np.abs(finite) > RUNS_SHARE * stage.volts if stage is not None and lamps else False
    own = np.asarray(runs) | point.endswith(".vcc")
    wide = np.where(own, limit("unknown_live_share"), limit("unknown_rail_share"))
    return np.asarray(wide * np.abs(finite) * (not is_logic_line(board, probe)))


def _hums(board: Board, probe: Probe) -> bool:
    """Whether a probe reads AC volts at twice the mains frequency; behind an adapter they are those
    of the converters."""
    return probe.observable == _HUM and not board.adapter_fed


def _across_a_rail(board: Board, probe: Probe) -> bool:
    """Whether ohms are read from an output rail to its ground: bleeders that are not known and
    boards that are still plugged stand there too, and only lower it."""
    nets = {rail.net for rail in board.rails}
    return probe.in_place and probe.plus in nets and probe.minus == board.cold_ground


def unknown_volts_share(board: Board, probe: Probe) -> float:
    """By what share the sound volts of a point are not known beforehand: little where a label
    prints them, much at lamp drivers and controller supplies of a composed board."""
    if board.known_by == "profile":
        return 0.0
    stage = board.stage(stage_of(probe.observable))
    lamps = stage is not None and stage.kind in ("led", "ccfl")
    own = lamps or probe.observable.endswith(".vcc")
    return limit("unknown_live_share" if own else "unknown_rail_share")


def _sigma(board: Board, probe: Probe, finite: Floats) -> Floats:
    if probe.unplugged and not probe.mode.of_lamps:
        return np.full_like(finite, limit("spread_unplugged_log"))
    if probe.mode in (MeterMode.OHMS, MeterMode.CONTINUITY):
        decades = np.log10(np.maximum(finite, 1e-3) / _UNCERTAIN_ABOVE_OHMS)
        share = np.clip(decades / _UNCERTAIN_DECADES, 0.0, 1.0)
        leads = limit("lead_scatter_ohms") / (np.maximum(finite, 0.0) + limit("lead_ohms"))
        if probe.lifted and board.component(probe.part).kind in RESISTORS:
            return np.hypot(limit("spread_lifted_ohms_log"), leads)
        narrow, wide = limit("spread_ohms_log"), limit("spread_high_ohms_log")
        return np.hypot(narrow + (wide - narrow) * share * 0.7, leads)
    if probe.mode is MeterMode.ESR:
        return np.full_like(finite, limit("spread_esr_log"))
    if probe.mode is MeterMode.CAPACITANCE:
        return np.full_like(finite, limit("spread_capacitance_log"))
    if probe.mode is MeterMode.DIODE:
        return np.full_like(finite, limit("spread_diode_volts"))
    if probe.mode.of_lamps:
        return np.asarray(limit("spread_strip_share") * np.abs(finite))
    if is_ripple(probe.observable):
        name = "spread_hum_share" if _hums(board, probe) else "spread_ripple_share"
        return np.asarray(np.hypot(limit("spread_ripple_volts"), limit(name) * np.abs(finite)))
    share = np.asarray(_live_share(board, probe))
    if board.mains.inlet_volts:
        follows = follows_inlet(probe, finite, board.mains.inlet_volts)
        share = np.where(follows, limit("spread_inlet_share"), share)
    share = np.where(_boosted(board, probe, finite), limit("spread_boost_share"), share)
    width = np.hypot(limit("spread_live_volts"), share * np.abs(finite))
    if is_logic_line(board, probe):
        given = finite > limit("signal_given_volts")
        width = np.where(given, np.maximum(width, limit("spread_signal_volts")), width)
    return np.asarray(width)


def _boosted(board: Board, probe: Probe, volts: Floats) -> NDArray[np.bool_]:
    """Which predicted volts `(...)` of the bulk are those that a boost stage regulates to: its own
    divider sets them, whatever the mains does. What it stands at without its boost goes with the
    mains, and comes near on a high one."""
    stage = next((one for one in board.stages if one.kind == BOOST), None)
    if stage is None or probe.observable != BULK_POINT:
        return np.zeros(np.shape(volts), dtype=bool)
    return np.asarray(np.abs(volts / stage.volts - 1.0) < BOOSTED_SHARE)


def tick_sigma(predicted_high: Floats | float, supply: bool = False) -> Floats:
    """Standard deviation in volts of the ends of a ticking reading; at a controller's `supply`,
    which swings between its own two thresholds and slowly enough for a meter, they are narrower."""
    high = np.abs(np.asarray(predicted_high, dtype=float))
    share = limit("spread_tick_supply" if supply else "spread_tick_share")
    return np.asarray(np.hypot(limit("spread_live_volts"), share * high))


def is_logic_line(board: Board, probe: Probe) -> bool:
    """Whether a point is an enable of the main board, or a line that reports to it: any logic
    level will do, not one number."""
    lines = {signal.id for signal in board.signals}
    lines |= {f"{stage.id}.out" for stage in board.stages if stage.kind == STATUS}
    return probe.observable in lines


def follows_inlet(probe: Probe, volts: Floats, inlet_volts: float) -> NDArray[np.bool_]:
    """Which predicted volts `(...)` are those of the inlet, or its crest on the bulk: they go up
    and down with it. A boosted bulk, and one that a load or fault pulls down, is none."""
    times = INLET_TIMES.get(probe.observable)
    if times is None:
        return np.zeros(np.shape(volts), dtype=bool)
    share = np.abs(volts) / (times * inlet_volts)
    return np.asarray((share > INLET_SHARES[0]) & (share < INLET_SHARES[1]))


def _live_share(board: Board, probe: Probe) -> float:
    rail = board.rail_of(probe.rail)
    if rail is None:
        return limit("spread_mains_share")
    if rail.kind == "cross_regulated":
        return limit("spread_cross_share")
    return limit("spread_live_share")


def student4(z: Floats) -> Floats:
    """Density of Student's t with four degrees of freedom (textbook)."""
    return np.asarray(0.375 * (1.0 + 0.25 * z * z) ** -2.5)


def student4_below(z: Floats) -> Floats:
    """Distribution function of Student's t with four degrees of freedom (textbook)."""
    t = z / np.sqrt(1.0 + 0.25 * z * z)
    return np.asarray(0.5 + 0.375 * t * (1.0 - t * t / 12.0))
