"""Mains, lamp limiter, fuse, rectifier and bulk capacitor, averaged over the mains half-cycle.

The conduction angle is in closed form: with a = (v_bulk + 2·Vf)/V_pk and θ = asin a, the mean
current of a full-wave rectifier behind R is (2·V_pk/πR)·(cos θ − (π/2 − θ)·a). The filament follows
R = R_hot·(T/2750 K)^1.2 with radiation as T⁴ (textbook; electrical reference sections 1 and 10).
It loses the mains ripple and the inrush peak: no peak current is quoted from it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from loose_rail.powered.maths import (
    Flag,
    Value,
    any_of,
    arcsin,
    clip,
    finite,
    logical_not,
    maximum,
    minimum,
    sqrt,
    where,
    zeros,
)
from loose_rail.powered.plant import InputParameters
from loose_rail.powered.ripple import energy_share, mean_and_foot

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
BRIDGE_SHORT_OHMS = 0.15
BRIDGE_SHORT_DROP_VOLTS = 0.9
"""A diode that broke through, and the one that carries its current, when the mains is behind them
[E]."""
OPEN_OHMS = 1e12
HALF_WAVE = 0.5
"""Share of the half-cycles that half a bridge lets through."""
LEAST_BULK_VOLTS = 20.0
"""Below this a load of constant power is taken for a constant current."""
INRUSH_SECONDS = 0.1
INRUSH_STEP_SECONDS = 1.5e-3
INRUSH_PARTS = 4
HOT_LIMITER_SHARE = 0.1
"""Of its cold resistance, an inrush limiter at its rated current [P]."""
LIMITER_WARM_WATTS = 15.0
"""Load at which it has come half of the way [E]."""
LIMITER_SECONDS = 0.4
"""How fast it warms here; in truth some half a minute. A reading is taken on a warm set, and the
inrush is over in a fifth of it [E]."""
LIMITER_NEAR = 0.02
"""From here it counts as warmed through: a fiftieth of its ohms moves no reading, and a board whose
last creep is cut short comes to rest."""
ADAPTER_OHMS = 0.08
ADAPTER_STRAIN_SECONDS = 0.1
ADAPTER_REST_SECONDS = 0.9
"""Cable and regulation of a desktop adapter, and its hiccup when overloaded [E]."""
PULSE_HERTZ = 65e3
"""Where small converters switch [P]."""
METER_SHARE = 0.5
"""What an ordinary AC range still shows at the switching frequency: they roll off between 1 and 100
kHz [E]."""
ADAPTER_CABLE_OHMS = 0.4
"""A metre and a half of its cable, 1 µH, at the switching frequency [E]."""
INPUT_PULSE_OVER_MEAN = 4.0
"""What a step-down's switch takes at a time over the mean at its input: one over the duty [P]."""


@dataclass(frozen=True, slots=True)
class _Coefficients:
    """What follows from the parameters alone. `alive` is 0 where a short before the bridge leaves
    nothing for it."""

    parameters: InputParameters
    has_lamp: Flag
    lamp_watts: Value
    hot_ohms: Value
    mass: Value
    peak: Value
    crest: Value
    alive: Value
    leak: Value
    fuse_holds: Value
    fuse_limit: Value
    any_lamp: bool
    any_in_line: bool
    any_short: bool
    any_bridge_short: bool

    @staticmethod
    def of(p: InputParameters) -> _Coefficients:
        has_lamp = p.lamp_watts > 0
        watts = where(has_lamp, p.lamp_watts, 1.0)
        return _Coefficients(
            parameters=p,
            has_lamp=has_lamp,
            lamp_watts=watts,
            hot_ohms=p.lamp_volts**2 / watts,
            mass=FILAMENT_JOULE_PER_KELVIN_WATT * watts,
            peak=sqrt(2.0) * p.mains_volts,
            crest=sqrt(2.0) * p.mains_volts - BRIDGE_DROP_VOLTS,
            alive=where(p.input_short_siemens > SHORT_SIEMENS, 0.0, 1.0),
            leak=p.bulk_short_siemens + p.bulk_leak_siemens,
            fuse_holds=(FUSE_HOLDS_TIMES * p.fuse_amps) ** 2,
            fuse_limit=FUSE_PRE_ARC_SECONDS * p.fuse_amps**2,
            any_lamp=any_of(has_lamp),
            any_in_line=any_of(has_lamp) or any_of(p.resistor_ohms > 0),
            any_short=any_of(p.input_short_siemens > 0),
            any_bridge_short=any_of(p.bridge_short_share > 0),
        )


class HotSide:
    """Bulk voltage, filament temperature and fuse of `n` boards, stepped together.

    `bulk` is the level to which the charge balances; `mean` is what a meter shows and `valley` the
    foot of the ripple, what the converters must live on when the capacitor has dried. What stands
    in line has `in_line_ohms` now and takes `in_line_watts`, both 0 where nothing does. A dark
    filament cools for a minute and moves nothing that a meter sees: it is watched while it is
    `red`.
    """

    UNWATCHED = ("kelvin", "in_line_ohms", "in_line_watts", "_age", "line_amps_squared")
    AVERAGED = True
    """Over the half-cycle: no wave that long steps would miss."""
    REST_SHARE = 1e-3
    """Behind a lamp the bulk creeps on towards its crest, from here by less than half a per cent of
    it [D: against runs to the end, tests/powered/test_record]."""

    def __init__(self, plant: InputParameters) -> None:
        like = plant.mains_volts
        self.plant = plant
        self.bulk = zeros(like)
        self.mean = zeros(like)
        self.valley = zeros(like)
        self.ripple_volts = zeros(like)
        self.kelvin = zeros(like) + FILAMENT_COLD_KELVIN
        self.in_line_watts = zeros(like)
        self.red = zeros(like)
        self.fuse_heat = zeros(like)
        self.fuse_whole = finite(plant.fuse_ohms)
        self.board_volts = plant.mains_volts
        self._age = 0.0
        self._dark = zeros(like)
        self.bypassed = zeros(like)
        self.line_amps_squared = zeros(like)
        self._warm = zeros(like)
        self._limits = any_of(plant.limiter_ohms > 0.0)
        self._prepare()

    def adopt(self, plant: InputParameters) -> None:
        """Go on with other parameters: a contact opened or closed."""
        self.plant = plant
        self.fuse_whole = self.fuse_whole & finite(plant.fuse_ohms)
        self._prepare()

    def _prepare(self) -> None:
        """Work out what changes only with the parameters and the fuse."""
        plant = self.plant
        self._fixed = _Coefficients.of(plant)
        self._path = self.fuse_whole & finite(plant.line_ohms)
        self._cold_ohms = where(self._path, plant.line_ohms + plant.fuse_ohms, OPEN_OHMS)
        self._arms = where(self._path, plant.bridge_arms, 0.0)
        self.in_line_ohms = self._in_line_ohms()

    def _in_line_ohms(self) -> Value:
        fixed = self._fixed
        filament = fixed.hot_ohms * (self.kelvin / FILAMENT_HOT_KELVIN) ** 1.2 * fixed.has_lamp
        return filament + self.plant.resistor_ohms

    @property
    def _line_ohms(self) -> Value:
        if not self._limits:
            return self._cold_ohms + self.in_line_ohms
        return self._cold_ohms - self._limiter_gone + self.in_line_ohms

    @property
    def _limiter_gone(self) -> Value:
        """Of the inrush limiter's cold ohms, what warmth or its relay takes out."""
        gone = maximum((1.0 - HOT_LIMITER_SHARE) * self._warm, self.bypassed)
        return gone * self.plant.limiter_ohms

    @property
    def limiter_volts(self) -> Value:
        """AC volts (RMS) across the inrush limiter, and the contact of its relay."""
        left = self.plant.limiter_ohms - self._limiter_gone
        return sqrt(self.line_amps_squared) * left

    @property
    def available_watts(self) -> Value:
        """The most power that the line gives through its resistance: V²/4R."""
        return self.plant.mains_volts**2 / (4 * self._line_ohms)

    def step(self, dt: float, load_watts: Value, boost_watts: Value | float = 0.0) -> None:
        """Advance by `dt` seconds with the converters drawing `load_watts` from the bulk.

        `boost_watts` come from a power-factor boost and load the line as a resistance does. Inrush
        is over in a few steps, so that coarse ones are cut into fine ones while it lasts: else the
        fuse would be heated by a current that the charging bulk no longer lets through.
        """
        if self._fixed.parameters is not self.plant:
            self._prepare()
        self._age += dt
        parts = INRUSH_PARTS if self._age < INRUSH_SECONDS and dt > INRUSH_STEP_SECONDS else 1
        for _ in range(parts):
            self._advance(dt / parts, load_watts, boost_watts)

    def _advance(self, dt: float, load_watts: Value, boost_watts: Value) -> None:
        plant, fixed = self.plant, self._fixed
        ohms = self._line_ohms
        a = minimum((self.bulk + BRIDGE_DROP_VOLTS) / fixed.peak, 1.0)
        free = 0.5 * math.pi - arcsin(a)
        cosine_ = sqrt(1.0 - a * a)
        slope = self._arms * free / (0.5 * math.pi * ohms)
        peak_amps = fixed.peak / ohms
        charge = self._arms * cosine_ * peak_amps / (0.5 * math.pi) - slope * a * fixed.peak
        spread = free - 3.0 * a * cosine_ + 2.0 * a * a * free
        mean_square = self._arms * peak_amps * peak_amps / math.pi * spread
        held = maximum(self.bulk, LEAST_BULK_VOLTS)
        lift: Value = 0.0
        boosted: Value = 0.0
        if self._boosts(boost_watts):
            boosting = fixed.alive * self._path * boost_watts
            boosted = (boosting / maximum(self.board_volts, LEAST_BULK_VOLTS)) ** 2
            lift = boosting / held
        amps_squared = fixed.alive * maximum(mean_square, 0.0) + boosted
        if fixed.any_short:
            shorted = self._path * plant.input_short_siemens
            amps_squared = (
                amps_squared + (plant.mains_volts * shorted / (1.0 + shorted * ohms)) ** 2
            )
        rectified = amps_squared
        if fixed.any_bridge_short:
            amps_squared = amps_squared + self._bridge_short(ohms)
        if fixed.any_in_line or fixed.any_bridge_short:
            self.board_volts = self._behind_the_line(rectified)
        if fixed.any_in_line:
            self.in_line_watts = amps_squared * self.in_line_ohms
        if fixed.any_lamp:
            self._filament(dt, self.in_line_watts)
        self.line_amps_squared = amps_squared
        self._fuse(dt, amps_squared)
        net = charge * fixed.alive + lift - load_watts / held - fixed.leak * self.bulk
        bulk = self.bulk + net / (plant.bulk_farads / dt + slope + fixed.leak)
        self.bulk = maximum(bulk, 0.0)
        self._warm_up(dt, maximum(load_watts, boost_watts))
        self._ripple(load_watts)

    def _warm_up(self, dt: float, watts: Value) -> None:
        """The inrush limiter under its load."""
        if self._limits:
            wanted = watts / (watts + LIMITER_WARM_WATTS)
            left = wanted - self._warm
            share = where(abs(left) < LIMITER_NEAR, 1.0, dt / LIMITER_SECONDS)
            self._warm = self._warm + left * share

    def _bridge_short(self, ohms: Value) -> Value:
        """Mean square of the current through the bridge in the half-cycles that it shorts."""
        volts = maximum(self.plant.mains_volts - BRIDGE_SHORT_DROP_VOLTS, 0.0)
        amps = volts / (ohms + BRIDGE_SHORT_OHMS) * self._path
        return self._fixed.alive * self.plant.bridge_short_share * amps * amps

    def _behind_the_line(self, amps_squared: Value) -> Value:
        """AC volts (RMS) at the board: less the drop in line while the bridge charges, next to
        nothing while it shorts."""
        whole = 1.0 - self.plant.bridge_short_share
        drop = sqrt(amps_squared / maximum(whole, 0.5)) * self.in_line_ohms
        charging = maximum(self.plant.mains_volts - drop, 0.0)
        shorted = where(self._path, BRIDGE_SHORT_DROP_VOLTS, self.plant.mains_volts)
        return sqrt(whole * charging**2 + (1.0 - whole) * shorted**2)

    def _ripple(self, load_watts: Value) -> None:
        """Mean and foot of the bulk: what it averages to, or, where the capacitor is too small for
        its load, what the crests and the drain between them leave."""
        plant, crest = self.plant, self._fixed.crest
        share = energy_share(load_watts, plant.mains_hertz, plant.bulk_farads, crest)
        mean, foot = mean_and_foot(share, plant.bridge_arms)
        boosted = self.bulk > crest  # charged over the whole half-cycle, not at its crest
        amps = load_watts / maximum(self.bulk, LEAST_BULK_VOLTS)
        both = maximum(plant.bridge_arms, HALF_WAVE)  # half a bridge charges half as often
        swing = amps / (4.0 * math.pi * plant.mains_hertz * plant.bulk_farads * both)
        self.mean = where(boosted, self.bulk, minimum(self.bulk, mean * crest))
        between = minimum(foot * crest, self.mean - 0.5 * (1.0 - foot) * crest)
        self.valley = where(boosted, maximum(self.bulk - swing, crest * foot), between)
        self.valley = maximum(self.valley, 0.0)
        self.ripple_volts = where(boosted, 2.0 * swing, (1.0 - foot) * minimum(crest, self.bulk))

    @staticmethod
    def _boosts(boost_watts: Value) -> bool:
        return any_of(boost_watts > 0.0)

    def _filament(self, dt: float, watts: Value) -> None:
        fixed = self._fixed
        share = self.kelvin / FILAMENT_HOT_KELVIN
        squared = share * share
        heated = self.kelvin + dt * (watts - fixed.lamp_watts * (squared * squared)) / fixed.mass
        self.kelvin = clip(heated, FILAMENT_COLD_KELVIN, 3200.0)
        self.red = where(self.kelvin > GLOW_KELVIN, self.kelvin, 0.0)
        self.in_line_ohms = self._in_line_ohms()

    def _fuse(self, dt: float, amps_squared: Value) -> None:
        over = amps_squared - self._fixed.fuse_holds
        if any_of(over > 0.0):
            self.fuse_heat = self.fuse_heat + dt * maximum(over, 0.0)
            blown = self.fuse_whole & (self.fuse_heat >= self._fixed.fuse_limit)
            if any_of(blown):
                self.fuse_whole = self.fuse_whole & logical_not(blown)
                self._prepare()

    @property
    def lamp_glow(self) -> Value:
        """Brightness from 0 (dark) to 1 (full): light goes as V^3.4, dark below a dull red."""
        if not self._fixed.any_lamp:
            return self._dark
        red = self._fixed.has_lamp & (self.kelvin > GLOW_KELVIN)
        if not any_of(red):
            return self._dark
        share = minimum(self.kelvin / FILAMENT_HOT_KELVIN, 1.1)
        return where(red, share**9, 0.0)


class AdapterSide:
    """An external adapter as the input: its voltage, its resistance, and its own overload hiccup.

    Looks to the rest like `HotSide`: `bulk` and `valley` are the board's input voltage.
    """

    AVERAGED = True

    def __init__(self, plant: InputParameters) -> None:
        like = plant.mains_volts
        self.plant = plant
        self.bulk = zeros(like)
        self.mean = zeros(like)
        self.valley = zeros(like)
        self.ripple_volts = zeros(like)
        self.fuse_heat = zeros(like)
        self.fuse_whole = finite(plant.fuse_ohms)
        self.board_volts = zeros(like)
        self.lamp_glow = zeros(like)
        self.in_line_watts = zeros(like)
        self.bypassed = zeros(like)
        self.limiter_volts = zeros(like)
        self.available_watts = plant.adapter_volts * plant.adapter_amps
        self._strain = zeros(like)
        self._rest = zeros(like)

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
        drain = load_watts / maximum(self.bulk, 3.0)
        node = plant.bulk_farads / dt
        bulk = (node * self.bulk + source / ohms - drain) / (node + siemens + 1.0 / ohms)
        self.bulk = maximum(bulk, 0.0)
        amps = maximum(source - self.bulk, 0.0) / ohms + source * before
        over = live & (amps > plant.adapter_amps)
        self._strain = where(over, self._strain + dt, 0.0)
        self._rest = where(
            self._strain > ADAPTER_STRAIN_SECONDS,
            ADAPTER_REST_SECONDS,
            maximum(self._rest - dt, 0.0),
        )
        self.fuse_heat += dt * maximum(
            (amps - source * before) ** 2 - (FUSE_HOLDS_TIMES * plant.fuse_amps) ** 2, 0.0
        )
        self.fuse_whole &= self.fuse_heat < FUSE_PRE_ARC_SECONDS * plant.fuse_amps**2
        self.board_volts = source
        self.mean = self.valley = self.bulk
        reactance = 1.0 / (2.0 * math.pi * PULSE_HERTZ * plant.bulk_farads)
        own = sqrt(plant.bulk_esr_ohms**2 + reactance * reactance)
        shared = own * ADAPTER_CABLE_OHMS / (own + ADAPTER_CABLE_OHMS)
        drawn = load_watts / maximum(self.bulk, 3.0)
        self.ripple_volts = METER_SHARE * INPUT_PULSE_OVER_MEAN * drawn * shared
