"""What of a plant matters in its state, so that equal behaviour is stepped once.

Behind an open fuse, on a rail that never stands, at a signal that nobody gives, a hundred faults
behave alike. `behaviour_of` leaves out what can't matter there; tests/powered/test_idle_stages
holds it to a run of every plant.
"""

from __future__ import annotations

import math
from collections.abc import Hashable
from dataclasses import dataclass

from loose_rail.powered.plant import (
    ConverterParameters,
    InverterParameters,
    LedParameters,
    LoadParameters,
    Plant,
    SignalParameters,
)


@dataclass(frozen=True, slots=True)
class _Idle:
    """Rails that never leave 0 V, signals that are never active, and those never given, behind an
    open wire too."""

    dead: frozenset[str]
    mute: frozenset[str]
    silent: frozenset[str]

    @staticmethod
    def of(plant: Plant) -> _Idle:
        """Work it out to the end: a signal that needs a dead rail leaves its stages dead."""
        idle = _Idle(frozenset(), frozenset(), frozenset())
        while True:
            mute = frozenset(s.id for s in plant.signals if idle._is_mute(s))
            unwired = {s.id for s in plant.signals if s.sense != "none" and s.wire_path == 0}
            found = _Idle(idle._dead_rails(plant), mute, mute | unwired)
            if found == idle:
                return idle
            idle = found

    def _is_mute(self, signal: SignalParameters) -> bool:
        if signal.sense == "none":
            return False
        needed = [one.split("=")[0] for one in signal.needs.split()]
        asked = signal.asks > 0 and not self.dead.intersection(needed)
        return signal.rail in self.dead or not (asked or signal.forced > 0)

    def _dead_rails(self, plant: Plant) -> frozenset[str]:
        dead = {c.id for c in plant.converters if self.never_runs(c)}
        dead |= {w.id for w in plant.windings if w.source in dead}
        for regulator in plant.regulators:
            off = regulator.signal in self.silent and regulator.stuck == 0
            if off or regulator.path == 0 or regulator.source in self.dead | dead:
                dead.add(regulator.id)
        dead |= {led.id for led in plant.leds if led.source in self.dead | dead}
        return frozenset(dead)

    def never_runs(self, converter: ConverterParameters) -> bool:
        """Whether a converter's controller never drives it."""
        if converter.supply is not None:
            return bool(converter.supply.controller_path == 0)
        return bool(converter.path == 0) or self.never_fed(converter)

    def never_fed(self, converter: ConverterParameters) -> bool:
        """Whether nothing ever switches another's supply through to it."""
        return converter.signal in self.silent and converter.stuck == 0


def behaviour_of(plant: Plant) -> Hashable:
    """Equal for two plants of one structure, of one column of floats each, that no reading of any
    point tells apart."""
    line = plant.input
    opened = math.isinf(line.fuse_ohms), math.isinf(line.line_ohms)
    if any(opened) and line.adapter_volts == 0:
        return opened, line.mains_volts, line.cord_path, line.inlet_path
    idle = _Idle.of(plant)
    boost = plant.boost
    return (
        line,
        None if boost is None or boost.signal in idle.silent else boost,
        tuple(_converter(idle, c) for c in plant.converters),
        tuple(None if w.source in idle.dead else w for w in plant.windings),
        tuple(None if r.id in idle.dead else r for r in plant.regulators),
        tuple(_led(idle, led) for led in plant.leds),
        tuple(_inverter(idle, i) for i in plant.inverters),
        tuple(_load(idle, load) for load in plant.loads),
        tuple(None if s.id in idle.mute else s for s in plant.signals),
        tuple(None if s.source in idle.dead else s for s in plant.statuses),
        tuple(r.welded if r.source in idle.dead else r for r in plant.relays),
    )


def _converter(idle: _Idle, own: ConverterParameters) -> Hashable:
    """One that never runs still shows its controller's supply."""
    if not idle.never_runs(own):
        return own
    if own.supply is not None:
        return own.supply
    return None if idle.never_fed(own) else (own.stuck, own.vcc_siemens)


def _led(idle: _Idle, own: LedParameters) -> Hashable:
    """A driver that is never told to run passes its feed on."""
    if own.source in idle.dead:
        return None
    return (own.passes, own.farads, own.bleed_siemens) if own.signal in idle.silent else own


def _inverter(idle: _Idle, own: InverterParameters) -> Hashable:
    if own.source in idle.dead:
        return None
    return own.fuse_path if own.signal in idle.silent else own


def _load(idle: _Idle, own: LoadParameters) -> Hashable:
    if own.rail in idle.dead:
        return None
    if own.signal in idle.silent:
        return own.cable, own.idle_siemens, own.drag_siemens
    return own
