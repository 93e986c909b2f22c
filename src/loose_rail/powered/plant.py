"""The parameters of a powered board, one column per fault variant and board state.

Every number is a float in SI units for one board, or, after `stack`, an array `(n,)` for many;
`inf` ohms is an open path. Names are the structure, the same for every column. The parameters come
from the board profile (see boards.live_plant): the model knows no part names.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, fields, is_dataclass
from typing import Any

import numpy as np

from loose_rail.powered.maths import Value

Floats = Value


@dataclass(frozen=True, slots=True)
class InputParameters:
    """Mains, limiter, fuse, bridge and bulk; or an external adapter where `adapter_volts` > 0.

    In line stands a lamp (`lamp_watts`, `lamp_volts`), a resistor, or neither. `bridge_arms` is the
    share of the half-cycles that charge the bulk, `bridge_short_share` that in
    which the bridge itself shorts the mains: one shorted diode does so in every other one.
    """

    mains_volts: Floats
    mains_hertz: Floats
    lamp_watts: Floats
    lamp_volts: Floats
    resistor_ohms: Floats
    cord_path: Floats
    inlet_path: Floats
    line_ohms: Floats
    limiter_ohms: Floats
    fuse_ohms: Floats
    fuse_amps: Floats
    bridge_arms: Floats
    bridge_short_share: Floats
    input_short_siemens: Floats
    bulk_farads: Floats
    bulk_esr_ohms: Floats
    bulk_short_siemens: Floats
    bulk_leak_siemens: Floats
    adapter_volts: Floats
    adapter_amps: Floats


@dataclass(frozen=True, slots=True)
class BoostParameters:
    """Power-factor boost: runs while its signal is given and its path is whole."""

    signal: str
    path: Floats
    set_volts: Floats
    limit_watts: Floats


@dataclass(frozen=True, slots=True)
class SupplyParameters:
    """A controller's own supply: start resistor, reservoir, auxiliary winding, lock-out."""

    start_ohms: Floats
    farads: Floats
    leak_siemens: Floats
    aux_ohms: Floats
    aux_ratio: Floats
    on_volts: Floats
    off_volts: Floats
    over_volts: Floats
    run_amps: Floats
    controller_path: Floats


@dataclass(frozen=True, slots=True)
class ConverterParameters:
    """One converter as an averaged source with its feedback and output.

    It starts on its own `supply`, or is fed from the supply of the converter `fed_by` while
    `signal` is given. `standby_share` below 1 is a two-level output: the share of its voltage that
    it holds while the signal is absent. `restart_seconds` infinite means a latch. `vcc_siemens` is
    a short at the supply pin of a fed controller, `vcc_drop_volts` how far that supply gives way at
    each pulse; `shoot_siemens` is what the bulk is shorted by through the shorted switch of a half
    bridge and the other one while that is driven. `pulsed` is 1 for a flyback, 0 for a resonant
    converter's sines.
    """

    id: str
    signal: str
    fed_by: str
    supply: SupplyParameters | None
    limit_amps: Floats
    limit_watts: Floats
    set_volts: Floats
    standby_share: Floats
    diode_volts: Floats
    rectifier_path: Floats
    output_farads: Floats
    output_esr_ohms: Floats
    ripple_ohms: Floats
    output_siemens: Floats
    over_volts: Floats
    soft_start_seconds: Floats
    overload_seconds: Floats
    restart_seconds: Floats
    least_bulk_volts: Floats
    full_bulk_volts: Floats
    choke_ohms: Floats
    pin_ripple_share: Floats
    pulsed: Floats
    path: Floats
    stuck: Floats
    vcc_siemens: Floats
    vcc_drop_volts: Floats
    shoot_siemens: Floats


@dataclass(frozen=True, slots=True)
class WindingParameters:
    """A second output of a converter, regulated only by its turns. `ohms` are winding and diode,
    `esr_ohms` those of its reservoir, which count `esr_times`: once for the load's own current, and
    for what the pulse leaves out."""

    id: str
    source: str
    ratio: Floats
    ohms: Floats
    esr_ohms: Floats
    esr_times: Floats
    farads: Floats
    siemens: Floats


@dataclass(frozen=True, slots=True)
class RegulatorParameters:
    """What makes a rail out of another: step-down converter, linear regulator or switch.

    `efficiency` 0 means linear (input current is output current). `stuck` is a switch that no
    signal turns off; `ripple_volts` what swings on the output, peak to peak.
    """

    id: str
    source: str
    signal: str
    path: Floats
    set_volts: Floats
    start_volts: Floats
    drop_volts: Floats
    limit_amps: Floats
    seconds: Floats
    siemens: Floats
    efficiency: Floats
    stuck: Floats
    ripple_volts: Floats


@dataclass(frozen=True, slots=True)
class LedParameters:
    """A boost driver of LED strips: constant current, clamp at an open output, retry or latch.

    `ripple_volts` is how far the crest of its output stands above the mean at full current: the
    clamp sees the crest.
    """

    id: str
    source: str
    signal: str
    path: Floats
    strings_path: Floats
    string_volts: Floats
    amps: Floats
    clamp_volts: Floats
    farads: Floats
    bleed_siemens: Floats
    ripple_volts: Floats
    short_siemens: Floats
    passes: Floats
    retry_seconds: Floats


@dataclass(frozen=True, slots=True)
class InverterParameters:
    """A CCFL inverter: strikes, watches the tube current, shuts down where one is missing."""

    id: str
    source: str
    signal: str
    path: Floats
    tubes: Floats
    fuse_path: Floats
    watts: Floats
    feed_ohms: Floats
    patience_seconds: Floats


@dataclass(frozen=True, slots=True)
class LoadParameters:
    """A load on a rail, in siemens: idle, and while `signal` is given; what it takes too much once
    it works (`over_siemens`), and the rail's nominal `volts`."""

    rail: str
    signal: str
    cable: Floats
    idle_siemens: Floats
    on_siemens: Floats
    drag_siemens: Floats
    over_siemens: Floats
    volts: Floats


@dataclass(frozen=True, slots=True)
class StatusParameters:
    """A line on which the supply tells the main board that outputs stand (`watches`, as
    "led=130 led2=130"), asked only while `signal` is given where there is one.

    `source` is the rail that pulls it up through `pull_path`; a transistor pulls it down where
    something is missing, or always (`stuck_low`), or never more (`stuck_high`).
    """

    id: str
    source: str
    signal: str
    watches: str
    pull_path: Floats
    stuck_low: Floats
    stuck_high: Floats


@dataclass(frozen=True, slots=True)
class RelayParameters:
    """A relay across the inrush limiter, 0 or 1 each: whole coil, contact and driver, a driver that
    always conducts, a contact that never opens. `volts` are its coil's, from the rail `source`
    while `signal` is given."""

    id: str
    source: str
    signal: str
    volts: Floats
    coil_path: Floats
    contact_path: Floats
    driver_path: Floats
    driver_stuck: Floats
    welded: Floats


@dataclass(frozen=True, slots=True)
class SignalParameters:
    """A signal of the main board: given `after_seconds` of good `rail` (and of `needs`).

    `wire_path` is the way to the board; `forced` ties it from outside, and it then stands at
    `forced_share` of its rail; `stuck` is a short that
    wakes the board by itself. `sense` is high, low or none.
    """

    id: str
    rail: str
    needs: str
    sense: str
    good_volts: Floats
    after_seconds: Floats
    asks: Floats
    forced: Floats
    forced_share: Floats
    wire_path: Floats


@dataclass(frozen=True, slots=True)
class Plant:
    """Everything the simulation needs to know of `n` boards."""

    input: InputParameters
    boost: BoostParameters | None
    converters: tuple[ConverterParameters, ...]
    windings: tuple[WindingParameters, ...]
    regulators: tuple[RegulatorParameters, ...]
    leds: tuple[LedParameters, ...]
    inverters: tuple[InverterParameters, ...]
    loads: tuple[LoadParameters, ...]
    signals: tuple[SignalParameters, ...]
    statuses: tuple[StatusParameters, ...] = ()
    relays: tuple[RelayParameters, ...] = ()

    @property
    def width(self) -> int:
        """Number of columns."""
        volts = self.input.mains_volts
        return len(volts) if isinstance(volts, np.ndarray) else 1


def stack(columns: Sequence[Plant]) -> Plant:
    """Put plants of the same structure side by side: floats become arrays `(n,)`."""
    joined = _join(list(columns))
    assert isinstance(joined, Plant)
    return joined


def _join(items: list[Any]) -> Any:
    first = items[0]
    if isinstance(first, (int, float)):
        return np.array(items, dtype=float)
    if isinstance(first, tuple):
        return tuple(_join([item[k] for item in items]) for k in range(len(first)))
    if is_dataclass(first) and not isinstance(first, type):
        values = {f.name: _join([getattr(i, f.name) for i in items]) for f in fields(first)}
        return type(first)(**values)
    return first
