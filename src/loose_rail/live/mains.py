"""Mains, lamp limiter, fuse, rectifier and bulk capacitor, averaged over the mains half-cycle.

The conduction angle is in closed form: with a = (v_bulk + 2·Vf)/V_pk and θ = asin a, the mean
current of a full-wave rectifier behind R is (2·V_pk/πR)·(cos θ − (π/2 − θ)·a). The filament follows
R = R_hot·(T/2750 K)^1.2 with radiation as T⁴ (textbook; electrical reference sections 1 and 10).
It loses the mains ripple and the inrush peak: no peak current is quoted from it.
"""

from __future__ import annotations

import math

from loose_rail.live.maths import (
    Value,
    arcsine,
    between,
    finite,
    least,
    most,
    nothing,
    root,
    where,
)
from loose_rail.live.plant import InputParameters

BRIDGE_DROP_VOLTS = 1.6
FILAMENT_HOT_KELVIN = 2750.0
FILAMENT_COLD_KELVIN = 300.0
FILAMENT_JOULE_PER_KELVIN_WATT = 5e-5
"""Thermal mass: 5 mJ/K for a 100 W lamp, within a factor of two [E]."""
FUSE_PRE_ARC_SECONDS = 0.7
"""Pre-arcing i²t of a time-lag fuse over the square of its rating, about 7 A²s at 3.15 A [E]."""
FUSE_HOLDS_TIMES = 1.5
GLOW_KELVIN = 850.0
SHORT_SIEMENS = 0.05
OPEN_OHMS = 1e12
INRUSH_SECONDS = 0.1
INRUSH_STEP_SECONDS = 1.5e-3
INRUSH_PARTS = 4
ADAPTER_OHMS = 0.08
ADAPTER_STRAIN_SECONDS = 0.1
ADAPTER_REST_SECONDS = 0.9
"""Cable and regulation of a desktop adapter, and its hiccup when overloaded [E]."""


class HotSide:
    """Bulk voltage, filament temperature and fuse of `n` boards, stepped together.

    `valley` is the bulk at the foot of its ripple, P/(2·f·C·V) peak to peak: what the converters
    must live on when the capacitor has dried.
    """

    def __init__(self, plant: InputParameters) -> None:
        like = plant.mains_volts
        self.plant = plant
        self.bulk = nothing(like)
        self.valley = nothing(like)
        self.kelvin = nothing(like) + FILAMENT_COLD_KELVIN
        self.fuse_heat = nothing(like)
        self.fuse_whole = finite(plant.fuse_ohms)
        self.board_volts = plant.mains_volts
        self._age = 0.0
        self._has_lamp = plant.lamp_watts > 0
        watts = where(self._has_lamp, plant.lamp_watts, 1.0)
        self._hot_ohms = plant.lamp_volts**2 / watts
        self._lamp_watts = watts
        self._mass = FILAMENT_JOULE_PER_KELVIN_WATT * watts
        self._peak = root(2.0) * plant.mains_volts
        self._series = plant.line_ohms + where(self.fuse_whole, plant.fuse_ohms, 0.0)

    def adopt(self, plant: InputParameters) -> None:
        """Go on with other parameters: a contact opened or closed."""
        self.plant = plant
        self.fuse_whole &= finite(plant.fuse_ohms)
        self._series = plant.line_ohms + where(self.fuse_whole, plant.fuse_ohms, 0.0)

    @property
    def lamp_ohms(self) -> Value:
        """Resistance of the filament now, 0 where there is no lamp."""
        hot = self._hot_ohms * (self.kelvin / FILAMENT_HOT_KELVIN) ** 1.2
        return where(self._has_lamp, hot, 0.0)

    def _line_ohms(self, lamp_ohms: Value) -> Value:
        ohms = self._series + lamp_ohms
        return where(self.fuse_whole & finite(ohms), ohms, OPEN_OHMS)

    @property
    def available_watts(self) -> Value:
        """The most power that the line gives through its resistance: V²/4R."""
        return self.plant.mains_volts**2 / (4 * self._line_ohms(self.lamp_ohms))

    def step(self, dt: float, load_watts: Value, boost_watts: Value | float = 0.0) -> None:
        """Advance by `dt` seconds with the converters drawing `load_watts` from the bulk.

        `boost_watts` come from a power-factor boost and load the line as a resistance does. Inrush
        is over in a few steps, so that coarse ones are cut into fine ones while it lasts: else the
        fuse would be heated by a current that the charging bulk no longer lets through.
        """
        self._age += dt
        parts = INRUSH_PARTS if self._age < INRUSH_SECONDS and dt > INRUSH_STEP_SECONDS else 1
        for _ in range(parts):
            self._advance(dt / parts, load_watts, boost_watts)

    def _advance(self, dt: float, load_watts: Value, boost_watts: Value) -> None:
        plant = self.plant
        lamp_ohms = self.lamp_ohms
        ohms = self._line_ohms(lamp_ohms)
        path = ohms < OPEN_OHMS
        a = between((self.bulk + BRIDGE_DROP_VOLTS) / self._peak, 0.0, 1.0)
        theta = arcsine(a)
        free = 0.5 * math.pi - theta
        cosine_ = root(1.0 - a * a)
        arms = where(path, plant.bridge_arms, 0.0)
        charge = arms * (2 * self._peak / (math.pi * ohms)) * (cosine_ - free * a)
        slope = arms * (2 / (math.pi * ohms)) * free
        squared = (self._peak / ohms) ** 2 / math.pi
        mean_square = arms * squared * (free + a * cosine_ - 4 * a * cosine_ + 2 * a * a * free)
        shorted = where(path, plant.input_short_siemens, 0.0)
        short_amps = plant.mains_volts * shorted / (1.0 + shorted * ohms)
        alive = where(shorted > SHORT_SIEMENS, 0.0, 1.0)
        boosting = alive * path * boost_watts
        line = boosting / most(self.board_volts, 20.0)
        amps_squared = alive * most(mean_square, 0.0) + short_amps**2 + line**2
        self._filament(dt, amps_squared * lamp_ohms)
        self._fuse(dt, amps_squared)
        drop = root(amps_squared) * lamp_ohms
        self.board_volts = most(plant.mains_volts - drop, 0.0)
        drain = load_watts / most(self.bulk, 20.0)
        leak = plant.bulk_short_siemens + plant.bulk_leak_siemens
        lift = boosting / most(self.bulk, 20.0)
        net = charge * alive + lift - drain - leak * self.bulk
        self.bulk = self.bulk + net / (plant.bulk_farads / dt + slope + leak)
        self.bulk = most(self.bulk, 0.0)
        ripple = load_watts / (2 * plant.mains_hertz * plant.bulk_farads * most(self.bulk, 20.0))
        self.valley = self.bulk - 0.5 * least(ripple, self.bulk)

    def _filament(self, dt: float, watts: Value) -> None:
        radiated = self._lamp_watts * (self.kelvin / FILAMENT_HOT_KELVIN) ** 4
        self.kelvin = self.kelvin + dt * (watts - radiated) / self._mass
        self.kelvin = between(self.kelvin, FILAMENT_COLD_KELVIN, 3200.0)

    def _fuse(self, dt: float, amps_squared: Value) -> None:
        holds = (FUSE_HOLDS_TIMES * self.plant.fuse_amps) ** 2
        self.fuse_heat += dt * most(amps_squared - holds, 0.0)
        self.fuse_whole &= self.fuse_heat < FUSE_PRE_ARC_SECONDS * self.plant.fuse_amps**2

    @property
    def lamp_glow(self) -> Value:
        """Brightness from 0 (dark) to 1 (full): light goes as V^3.4, dark below a dull red."""
        share = between(self.kelvin / FILAMENT_HOT_KELVIN, 0.0, 1.1)
        glow = share**9
        return where(self._has_lamp & (self.kelvin > GLOW_KELVIN), glow, 0.0)


class AdapterSide:
    """An external adapter as the input: its voltage, its resistance, and its own overload hiccup.

    Looks to the rest like `HotSide`: `bulk` and `valley` are the board's input voltage.
    """

    def __init__(self, plant: InputParameters) -> None:
        like = plant.mains_volts
        self.plant = plant
        self.bulk = nothing(like)
        self.valley = nothing(like)
        self.fuse_heat = nothing(like)
        self.fuse_whole = finite(plant.fuse_ohms)
        self.board_volts = nothing(like)
        self.lamp_glow = nothing(like)
        self.available_watts = plant.adapter_volts * plant.adapter_amps
        self._strain = nothing(like)
        self._rest = nothing(like)

    def adopt(self, plant: InputParameters) -> None:
        """Go on with other parameters: a contact opened or closed."""
        self.plant = plant
        self.fuse_whole &= finite(plant.fuse_ohms)

    def step(self, dt: float, load_watts: Value, boost_watts: Value | float = 0.0) -> None:
        """Advance by `dt` seconds with the board drawing `load_watts`."""
        plant = self.plant
        path = self.fuse_whole & finite(plant.line_ohms)
        siemens = plant.bulk_short_siemens + plant.bulk_leak_siemens
        ohms = ADAPTER_OHMS + where(path, plant.line_ohms, OPEN_OHMS)
        live = self._rest <= 0
        before = plant.input_short_siemens
        source = where(live, plant.adapter_volts / (1.0 + ADAPTER_OHMS * before), 0.0)
        drain = load_watts / most(self.bulk, 3.0)
        node = plant.bulk_farads / dt
        bulk = (node * self.bulk + source / ohms - drain) / (node + siemens + 1.0 / ohms)
        self.bulk = most(bulk, 0.0)
        amps = most(source - self.bulk, 0.0) / ohms + source * before
        over = live & (amps > plant.adapter_amps)
        self._strain = where(over, self._strain + dt, 0.0)
        self._rest = where(
            self._strain > ADAPTER_STRAIN_SECONDS, ADAPTER_REST_SECONDS, most(self._rest - dt, 0.0)
        )
        self.fuse_heat += dt * most(
            (amps - source * before) ** 2 - (FUSE_HOLDS_TIMES * plant.fuse_amps) ** 2, 0.0
        )
        self.fuse_whole &= self.fuse_heat < FUSE_PRE_ARC_SECONDS * plant.fuse_amps**2
        self.board_volts = source
        self.valley = self.bulk
