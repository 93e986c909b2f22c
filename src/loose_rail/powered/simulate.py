"""A powered board stepped in time: every stage of a plant, and how they hang together.

Not what is noted of it, see `record`. Each stage looks at what stood at the end of the last step.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from loose_rail.powered.maths import Flag, Value, all_true, any_of, finite, where, zeros
from loose_rail.powered.plant import LoadParameters, Plant
from loose_rail.powered.stages.boost import Boost
from loose_rail.powered.stages.converter import Converter
from loose_rail.powered.stages.feed import Feed
from loose_rail.powered.stages.lamps import Inverter, LedDriver
from loose_rail.powered.stages.loads import NEEDED_SHARE, Overdraw, RailLoads, SignalLine
from loose_rail.powered.stages.mains import METER_SHARE, AdapterSide, HotSide
from loose_rail.powered.stages.outputs import Regulator, Winding
from loose_rail.powered.stages.relay import InrushRelay
from loose_rail.powered.stages.status import status_volts
from loose_rail.powered.stages.supply import ControllerSupply
from loose_rail.vocabulary.keys import ripple_of

Floats = NDArray[np.float64]

MIRRORED_VOLTS = 12.0
"""What the auxiliary winding mirrors where the output's rectifier is open: a limit of its own."""
BULK = "bulk"
LAMP_LEVELS = 100.0
"""A lamp's brightness beside volts: a hundredth of its full light counts as a volt."""
TRIANGLE_RMS = 0.2887
"""RMS of a triangle by its peak to peak value, 1/√12 (textbook; electrical reference section 2)."""


class Simulation:
    """One plant being stepped."""

    EVEN = True
    """Nothing outside the model turns it over between two looks."""

    def __init__(self, plant: Plant, hot: HotSide | AdapterSide | None = None) -> None:
        self.plant = plant
        adapter = bool(np.any(plant.input.adapter_volts > 0))
        self.hot = hot or (AdapterSide(plant.input) if adapter else HotSide(plant.input))
        self.boost = Boost(plant.boost) if plant.boost else None
        self.supplies = {c.id: ControllerSupply(c.supply) for c in plant.converters if c.supply}
        self.converters = {c.id: Converter(c) for c in plant.converters}
        self._shooting = [c for c in self.converters.values() if c.shoots]
        self.windings = {w.id: Winding(w) for w in plant.windings}
        self.regulators = {r.id: Regulator(r) for r in plant.regulators}
        self.leds = {d.id: LedDriver(d) for d in plant.leds}
        self.inverters = {i.id: Inverter(i) for i in plant.inverters}
        self.signals = {s.id: SignalLine(s) for s in plant.signals}
        self._needs = {s.needs: _needed_volts(s.needs) for s in plant.signals}
        self.relays = [InrushRelay(r) for r in plant.relays]
        for relay in self.relays:  # a welded one is closed as the mains comes
            self.hot.bypassed = relay.closed
        self.feeds = {c.id: Feed(c) for c in plant.converters if not c.supply}
        self._hung: dict[str, list[Feed]] = {}
        for converter in plant.converters:
            if not converter.supply:
                self._hung.setdefault(converter.fed_by, []).append(self.feeds[converter.id])
        self._loads = _by_rail(plant.loads)
        self._overdraws = [Overdraw(p) for p in plant.loads if any_of(p.over_siemens > 0)]
        self._nothing = zeros(plant.input.mains_volts)
        self._always = all_true(plant.input.mains_volts)
        self._fed: tuple[Regulator | LedDriver | Inverter, ...] = (
            *self.regulators.values(),
            *self.leds.values(),
            *self.inverters.values(),
        )
        self._unlit: tuple[Regulator | Inverter, ...] = (
            *self.regulators.values(),
            *self.inverters.values(),
        )
        self._fed_by: dict[str, list[Regulator | LedDriver | Inverter]] = {}
        for stage in self._fed:
            self._fed_by.setdefault(stage.parameters.source, []).append(stage)
        self._wound: dict[str, list[Winding]] = {name: [] for name in self.converters}
        for winding in self.windings.values():
            self._wound[winding.parameters.source].append(winding)

    def adopt(self, plant: Plant) -> None:
        """Go on with other parameters of the same structure: a contact opened or closed."""
        self.plant = plant
        self.hot.adopt(plant.input)
        if self.boost is not None and plant.boost is not None:
            self.boost.parameters = plant.boost
        self._loads = _by_rail(plant.loads)
        for converter in plant.converters:
            self.converters[converter.id].parameters = converter
            if converter.supply:
                self.supplies[converter.id].parameters = converter.supply
        self._shooting = [c for c in self.converters.values() if c.shoots]
        for winding in plant.windings:
            self.windings[winding.id].parameters = winding
        for regulator in plant.regulators:
            self.regulators[regulator.id].parameters = regulator
        for led in plant.leds:
            self.leds[led.id].parameters = led
        for inverter in plant.inverters:
            self.inverters[inverter.id].parameters = inverter
        for signal in plant.signals:
            self.signals[signal.id].parameters = signal
        for relay, own in zip(self.relays, plant.relays, strict=True):
            relay.parameters = own

    def step(self, dt: float) -> None:
        """Advance everything by `dt` seconds."""
        drawn = sum((c.drawn_watts for c in self.converters.values()), self._nothing)
        for converter in self._shooting:
            drawn = drawn + converter.shot_watts(self.hot.bulk)
        for stage in self._fed_by.get(BULK, ()):
            drawn = drawn + stage.drawn_siemens * self.hot.bulk**2
        boost = 0.0 if self.boost is None else self._boost(drawn)
        self.hot.step(dt, drawn, boost)
        for converter in self.converters.values():
            self._converter(dt, converter)
        for regulator in self.regulators.values():
            p = regulator.parameters
            regulator.step(dt, self.volts(p.source), self.given(p.signal), self.load(p.id))
        for led in self.leds.values():
            led.step(dt, self.volts(led.parameters.source), self.given(led.parameters.signal))
        for inverter in self.inverters.values():
            i = inverter.parameters
            inverter.step(dt, self.volts(i.source), self.given(i.signal))
        for load in self._overdraws:
            q = load.parameters
            load.step(dt, self.volts(q.rail), self.given(q.signal))
        for relay in self.relays:
            r = relay.parameters
            relay.step(self.volts(r.source), self.given(r.signal))
            self.hot.bypassed = relay.closed
        for line in self.signals.values():
            line.step(dt, self._valley(line.parameters.rail), self._needed(line.parameters.needs))

    def _boost(self, drawn: Value) -> Value:
        assert self.boost is not None
        enabled = self.given(self.boost.parameters.signal)
        farads = self.plant.input.bulk_farads
        return self.boost.step(enabled, self.hot.bulk, farads, drawn, self.hot.available_watts)

    def _converter(self, dt: float, converter: Converter) -> None:
        p = converter.parameters
        given = self.given(p.signal)
        load = self.load(p.id)
        wound = [(winding, self.load(winding.parameters.id)) for winding in self._wound[p.id]]
        for winding, own in wound:
            load = load + winding.reflected_siemens(own)
        supply = self.supplies.get(p.id)
        if supply is None:
            feed = self.feeds[p.id]
            allowed = feed.step(dt, p, given, self.supplies[p.fed_by].volts)
            feed.trip(converter.step(dt, allowed, given, self.hot.valley, load))
        else:
            trips = converter.step(dt, supply.drives, given, self.hot.valley, load)
            mirrored = converter.mirrored_volts(MIRRORED_VOLTS * supply.drives)
            hung = sum((feed.drawn_siemens for feed in self._hung.get(p.id, ())), 0.0)
            supply.step(dt, self.hot.bulk, mirrored, converter.running, hung)
            supply.trip(trips | supply.over_voltage)
        for winding, own in wound:
            winding.step(dt, converter, own)

    def given(self, signal: str) -> Flag:
        """Where a signal is given; always, for a stage without one."""
        return self.signals[signal].given if signal else self._always

    def load(self, rail: str) -> Value:
        """Siemens on a rail: the boards behind the cables, and the stages fed from it."""
        hung = self._loads.get(rail)
        total = self._nothing if hung is None else hung.siemens(self.signals)
        for load in self._overdraws:
            if load.parameters.rail == rail:
                total = total + load.siemens
        for stage in self._fed_by.get(rail, ()):
            total = total + stage.drawn_siemens
        return total

    def volts(self, rail: str) -> Value:
        """Voltage of a rail, or of the bulk."""
        if rail == BULK:
            return self.hot.bulk
        if rail in self.converters:
            return self.converters[rail].pin_volts
        if rail in self.windings:
            return self.windings[rail].volts
        return self.leds[rail].volts if rail in self.leds else self.regulators[rail].volts

    def levels(self) -> tuple[Value, ...]:
        """What stands now wherever something is stored, drawn or given, in a fixed order: what
        would move if the board did. Not the output of an LED driver, which approaches its strings'
        volts by one time constant: what they take matters."""
        converters = self.converters.values()
        return (
            self.hot.bulk,
            self.hot.lamp_glow * LAMP_LEVELS,
            *[c.volts for c in converters],
            *[1.0 * c.running for c in converters],
            *[supply.volts for supply in self.supplies.values()],
            *[feed.volts for feed in self.feeds.values()],
            *[winding.volts for winding in self.windings.values()],
            *[stage.volts for stage in self._unlit],
            *[led.amps for led in self.leds.values()],
            *[load.siemens for load in self._overdraws],
            *[1.0 * line.given for line in self.signals.values()],
        )

    def switches_within(self, seconds: float) -> bool:
        """Whether a single board counts towards a trip, or starts or stops in so many seconds."""
        return (
            any(c.overload > 0.0 for c in self.converters.values())
            or any(supply.turns_within(seconds) for supply in self.supplies.values())
            or any(feed.waits_less_than(seconds) for feed in self.feeds.values())
            or any(led.turns_within(seconds) for led in self.leds.values())
        )

    def _valley(self, rail: str) -> Value:
        return self.converters[rail].valley_volts if rail in self.converters else self.volts(rail)

    def _needed(self, needs: str) -> Flag:
        """Where every rail that must be there first is there."""
        there = self._always
        for rail, least in self._needs[needs]:
            there = there & (self.volts(rail) > least)
        return there

    def observe(self) -> dict[str, Value]:
        """What stands at each point now, in volts (AC points: RMS)."""
        line = self.hot.board_volts * self.plant.input.cord_path
        after = where(self.hot.fuse_whole & (self.plant.input.inlet_path > 0), line, 0.0)
        path = finite(self.plant.input.line_ohms)
        seen = {
            "mains": line,
            "after_fuse": after,
            "bridge_ac": where(path, after, 0.0),
            BULK: self.hot.mean,
        }
        for name, converter in self.converters.items():
            supply = self.supplies.get(name)
            seen[f"{name}.vcc"] = supply.volts if supply else self.feeds[name].volts
            seen[f"{name}.reservoir"] = converter.volts
            seen[f"{name}.out"] = converter.pin_volts
        for winding in self.windings.values():
            seen[f"{winding.parameters.id}.out"] = winding.volts
        for stage in self._fed:
            seen[f"{stage.parameters.id}.out"] = stage.volts
        for name, inverter in self.inverters.items():
            seen[f"{name}.feed"] = inverter.feed_volts
        for status in self.plant.statuses:
            seen[f"{status.id}.out"] = status_volts(status, self.volts, self.given)
        for relay in self.relays:
            seen[f"{relay.parameters.id}.coil"] = relay.coil_volts
            seen[f"{relay.parameters.id}.drop"] = self.hot.limiter_volts
        seen |= self._ripples()
        for name, line_ in self.signals.items():
            seen[name] = line_.volts
        return seen

    def _ripples(self) -> dict[str, Value]:
        """AC volts on the DC points, as a meter shows them: RMS of a triangle."""
        seen = {ripple_of(BULK): TRIANGLE_RMS * self.hot.ripple_volts}
        share = TRIANGLE_RMS * METER_SHARE
        for name, converter in self.converters.items():
            seen[ripple_of(name)] = share * converter.pin_ripple_volts
        for winding in self.windings.values():
            seen[ripple_of(winding.parameters.id)] = share * winding.ripple_volts
        for regulator in self.regulators.values():
            seen[ripple_of(regulator.parameters.id)] = share * regulator.ripple_volts
        for led in self.leds.values():
            seen[ripple_of(led.parameters.id)] = share * led.ripple_volts
        for name, inverter in self.inverters.items():
            seen[ripple_of(f"{name}.feed")] = share * inverter.feed_ripple_volts
        return seen


def _needed_volts(needs: str) -> tuple[tuple[str, float], ...]:
    """Rails and the volts that each must have, from “main=12 standby=5”."""
    pairs = (one.split("=") for one in needs.split())
    return tuple((rail, NEEDED_SHARE * float(nominal)) for rail, nominal in pairs)


def _by_rail(loads: Sequence[LoadParameters]) -> dict[str, RailLoads]:
    rails = dict.fromkeys(load.rail for load in loads)
    return {rail: RailLoads.of([load for load in loads if load.rail == rail]) for rail in rails}
