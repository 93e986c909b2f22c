"""Each kind of stage as parameters of the live model, from the effective values of its parts.

Roles are `stage.job`: the stage "standby" looks for "standby.switch", "standby.sense" and so on.
Numbers of the kind itself come from the stage's `params`; the defaults below are estimates [E].
"""

from __future__ import annotations

import math

from loose_rail.boards.bleeders import bleed_siemens
from loose_rail.boards.effective_parts import Health
from loose_rail.boards.faults import Fault
from loose_rail.boards.kinds.kind import Effect, Trait
from loose_rail.boards.kinds.registry import is_a
from loose_rail.boards.profile import Stage
from loose_rail.boards.rail_shorts import rail_shorts
from loose_rail.kernel.quantities import component_value
from loose_rail.powered.plant import (
    BoostParameters,
    ConverterParameters,
    InverterParameters,
    LedParameters,
    RegulatorParameters,
    SupplyParameters,
    WindingParameters,
)
from loose_rail.vocabulary.roles import MAIN_SIGNAL, Job, role, signal_role

SWITCHING_HERTZ = 65e3
REFERENCE_VOLTS = 2.495
UNREGULATED_VOLTS = 60.0
COUPLER_LED_VOLTS, SATURATED_REFERENCE_VOLTS = 1.1, 2.0
"""Under a shunt regulator that is driven full on an output can't fall: its LED and itself [P]."""
STEP_DOWN_REFERENCE_VOLTS = 0.8
"""Where a step-down's lower divider is open, its output is its feedback pin [P]."""
MOST_VCC_DROP_VOLTS = 5.5
"""From a supply of 14 V down to where a boost controller locks itself out [P]."""
MOST_BOOSTED_VOLTS = 520.0
"""Above this the capacitor vents or the switch breaks through: no bulk stays higher [E]."""
SLAVE_OHMS = 0.25
"""Winding and diode of a slave output [E]."""
PULSED_ESR_TIMES = 2.0
"""What a reservoir's ESR costs an output that is charged for a third of the period: the current of
the other two thirds comes out of it, (1 − D)/D (circuit theory); 1.9 to 2.2 in ngspice [T]."""
CLAMPED_SHARE = 0.3
SNUBBED_SIEMENS = 0.1
"""A shorted clamp capacitor holds the primary at a diode's drop: next to nothing crosses."""
OPEN_OHMS = 1e12
LOOP_AMPS = 1e-3
"""Through the LED of a feedback loop at light load [P]."""
GATE_AMPS = 0.1
"""What drawing a gate up takes out of the supply's capacitor, as far as its ESR makes the supply
give way within the pulse [E]."""
LEAST_BLEED_SIEMENS = 1e-8
"""An output with no resistor across it keeps its charge for hours: the capacitor's own leak [E]."""
BREAKDOWN_TIMES = 1.6
"""An LED driver without its over-voltage sense rises until its switch breaks down: that far above
the clamp it was built for [E]."""
COIL_RIPPLE_SHARE = 0.3
"""Peak to peak current of a step-down's choke as a share of what it can give [P]."""
LDO_SOUND_OHMS, LDO_SWING_SHARE = 5.0, 0.08
"""With more ESR than this behind it a linear regulator oscillates, by about this share of its
output, peak to peak [E]."""
VCC_SERIES_OHMS = 6.0
WINDING_OHMS = 0.5
PEAK_MARGIN = 1.6
"""An LED driver's peak limit stands this much above what its full load needs [E]."""
START_SHARE = 0.3
"""A regulator works down to this share of its output voltage at its input [E]."""
DEFAULTS = {
    "watts": "14",
    "amps": "5",
    "diode_volts": "0.45",
    "over_share": "1.32",
    "soft_start": "0.012",
    "overload": "0.06",
    "restart": "0.8",
    "least_bulk": "60",
    "full_bulk": "100",
    "ripple_share": "1",
    "aux_volts": "14.4",
    "vcc_on": "16",
    "vcc_off": "9",
    "vcc_over": "21.5",
    "run_amps": "4m",
    "standby_share": "1",
    "winding_ohms": "0.3",
    "fed_by": "standby",
}


def _number(stage: Stage, name: str, default: str = "") -> float:
    text = stage.params.get(name) or default or DEFAULTS[name]
    return math.inf if text == "latch" else component_value(text)


# ---- converters ----------------------------------------------------------------------------


def converter_parameters(health: Health, stage: Stage) -> ConverterParameters:
    """A flyback or resonant converter with its own supply or fed by another's."""
    name = stage.id
    own = _own_supply(health, stage)
    share = _power_share(health, name)
    half = health.open_share(role(name, Job.RECTIFIER))
    farads, esr, ripple, choke, behind = _output_filter(health, name)
    shorts = health.bridged_siemens(role(name, Job.RESERVOIR)) + health.bridged_siemens(
        role(name, Job.POST)
    )
    shorts += health.bridged_siemens(role(name, Job.RECTIFIER)) + rail_shorts(health, name)
    shorts += sum(
        4.0 * health.bridged_siemens(role(other.id, Job.RECTIFIER))
        for other in health.board.stages
        if other.kind == "winding" and other.source == name
    )
    wire = stage.signal or MAIN_SIGNAL
    stuck = (
        health.bridged_siemens(signal_role(wire, Job.SWITCH))
        + health.bridged_siemens(signal_role(wire, Job.COUPLER))
        > 0
    )
    return ConverterParameters(
        id=name,
        signal=stage.signal,
        fed_by="" if own else stage.params.get("fed_by", DEFAULTS["fed_by"]),
        supply=_supply(health, stage) if own else None,
        limit_amps=float(_number(stage, "amps") * share * (1.0 - half if half < 1.0 else 1.0)),
        limit_watts=float(_number(stage, "watts") * share),
        set_volts=float(_set_volts(health, name, _number(stage, "led_volts", "1.5"))),
        standby_share=float(1.0 if stuck else _number(stage, "standby_share")),
        diode_volts=float(_number(stage, "diode_volts")),
        rectifier_path=float(half < 1.0),
        output_farads=float(farads),
        output_esr_ohms=float(esr),
        ripple_ohms=float(ripple * _number(stage, "ripple_share") * (1.0 + half)),
        output_siemens=float(_idle_siemens(health, stage) + shorts),
        over_volts=float(stage.volts * _number(stage, "over_share")),
        soft_start_seconds=float(_number(stage, "soft_start")),
        overload_seconds=float(_number(stage, "overload")),
        restart_seconds=float(min(_number(stage, "restart"), 1e6)),
        least_bulk_volts=float(_number(stage, "least_bulk")),
        full_bulk_volts=float(_number(stage, "full_bulk")),
        choke_ohms=float(choke),
        pin_ripple_share=float(behind),
        path=float(not health.is_open(role(name, Job.CONTROLLER))),
        stuck=float(stuck),
        vcc_siemens=0.0 if own else float(_vcc_siemens(health, stage)),
        vcc_drop_volts=0.0 if own else float(_vcc_drop_volts(health, name)),
    )


def _preload_siemens(health: Health, role_name: str) -> float:
    """What the resistors across a stage's output capacitor draw."""
    refs = [r for r in health.refs(role_name) if is_a(health.board.component(r), Trait.CAPACITOR)]
    if not refs:
        return 0.0
    pins = health.board.component(refs[0]).pins
    first, second = list(pins.values())[:2]
    return bleed_siemens(health.board, first, second)


def _idle_siemens(health: Health, stage: Stage) -> float:
    """What a sensed output carries with nothing on it: its resistors, and the LED of the loop where
    it is fed from there."""
    loop = [health.board.component(ref) for ref in health.refs(role(stage.id, Job.LED))]
    nets = {
        net
        for ref in health.refs(role(stage.id, Job.RESERVOIR))
        for net in health.board.component(ref).pins.values()
    }
    own = any(not nets.isdisjoint(part.pins.values()) for part in loop)
    return _preload_siemens(health, role(stage.id, Job.RESERVOIR)) + own * LOOP_AMPS / stage.volts


def _vcc_drop_volts(health: Health, name: str) -> float:
    """How far a fed controller's supply gives way at each gate pulse."""
    if not health.refs(role(name, Job.VCC)):
        return 0.0
    return GATE_AMPS * health.capacitor(role(name, Job.VCC))[1]


def _vcc_siemens(health: Health, stage: Stage) -> float:
    """Shorts at the supply pin of a fed controller, and of a boost that shares its feed."""
    total = health.bridged_siemens(role(stage.id, Job.VCC))
    total += health.bridged_siemens(role(stage.id, Job.CONTROLLER))
    fed = [s for s in health.board.stages if s.kind in ("flyback", "resonant")]
    first = next((s for s in fed if s.signal == stage.signal and not _own_supply(health, s)), stage)
    for other in health.board.stages:
        if other.kind == "boost" and other.signal == stage.signal and first.id == stage.id:
            shorted = health.bridged_siemens(role(other.id, Job.VCC))
            shorted += health.bridged_siemens(role(other.id, Job.CONTROLLER))
            total += shorted / (1.0 + shorted * health.nominal_ohms(role(other.id, Job.FEED)))
    return total


def _own_supply(health: Health, stage: Stage) -> bool:
    return bool(health.refs(role(stage.id, Job.START)))


def _supply(health: Health, stage: Stage) -> SupplyParameters:
    name = stage.id
    farads, esr = health.capacitor(role(name, Job.VCC))
    aux = health.series_ohms(role(name, Job.AUX))
    back = sum(1.0 / (aux + WINDING_OHMS + f.ohms) for f in _bridges(health, role(name, Job.AUX)))
    if health.failed(role(name, Job.AUX), "short"):
        aux = math.inf
    leak = (
        back
        + health.bridged_siemens(role(name, Job.VCC))
        + health.bridged_siemens(role(name, Job.CONTROLLER))
    )
    if health.bridged_siemens(signal_role(MAIN_SIGNAL, Job.SWITCH)):
        for other in health.board.stages:
            if other.params.get("fed_by", DEFAULTS["fed_by"]) == name and other.id != name:
                leak += health.bridged_siemens(role(other.id, Job.CONTROLLER))
                leak += health.bridged_siemens(role(other.id, Job.VCC))
    return SupplyParameters(
        start_ohms=float(min(health.series_ohms(role(name, Job.START)), OPEN_OHMS)),
        farads=float(farads),
        leak_siemens=float(leak),
        aux_ohms=float(min(aux + VCC_SERIES_OHMS + esr, OPEN_OHMS)),
        aux_ratio=float(_number(stage, "aux_volts") / (stage.volts + 0.28)),
        on_volts=float(_number(stage, "vcc_on")),
        off_volts=float(_number(stage, "vcc_off")),
        over_volts=float(_number(stage, "vcc_over")),
        run_amps=float(_number(stage, "run_amps")),
        controller_path=float(not health.is_open(role(name, Job.CONTROLLER))),
    )


def _bridges(health: Health, role: str) -> list[Fault]:
    return [fault for fault in health.faults_in(role) if fault.effect is Effect.BRIDGE]


def _output_filter(health: Health, name: str) -> tuple[float, float, float, float, float]:
    """Capacitance, merged ESR, ripple impedance and choke resistance of an output, and the share of
    the ripple that is left behind the choke.

    With a choke and a capacitor behind it the ripple divides between them; an open choke leaves
    the pin without voltage and the feedback without signal.
    """
    stage = health.board.stage(name)
    bias = stage.volts if stage else 0.0
    farads, esr = health.capacitor(role(name, Job.RESERVOIR), bias, role(name, Job.ACROSS))
    chokes = health.refs(role(name, Job.CHOKE))
    if not chokes:
        return farads, esr, esr, 0.01, 1.0
    choke = health.series_ohms(role(name, Job.CHOKE))
    if math.isinf(choke):
        return farads, esr, esr, choke, 0.0
    post_farads, post_esr = health.capacitor(role(name, Job.POST))
    henries = component_value(health.board.component(chokes[0]).params["henries"])
    behind = math.hypot(2 * math.pi * SWITCHING_HERTZ * henries, post_esr)
    ripple = 1.0 / (1.0 / esr + 1.0 / behind)
    merged = 1.0 / (1.0 / esr + 1.0 / (post_esr + choke))
    return farads + post_farads, merged, ripple, choke, post_esr / behind


def _power_share(health: Health, stage: str) -> float:
    """Share of its power that a converter can deliver: 0 without drive or path.

    A resonant capacitor that has lost capacitance leaves the root of it (power goes as C·f, the
    resonance as 1/√C); a shorted one lets the transformer saturate. Shorted turns and a shorted
    clamp capacitor hold the winding at next to nothing: the controller trips in its blanking time.
    """
    chain = (Job.SWITCH, Job.DRIVE, Job.SENSE, Job.TRANSFORMER, Job.COIL)
    if any(health.is_open(role(stage, job)) for job in chain):
        return 0.0
    if health.failed(role(stage, Job.SWITCH), "short"):
        return 0.0
    share = math.sqrt(health.lost_share(role(stage, Job.COIL)))
    if health.failed(role(stage, Job.TRANSFORMER), "turns") or health.failed(
        role(stage, Job.COIL), "short"
    ):
        return 0.0
    snubber = health.bridged_siemens(role(stage, Job.SNUBBER))
    if health.failed(role(stage, Job.CLAMP), "short") or snubber:
        share = CLAMPED_SHARE if snubber < SNUBBED_SIEMENS else 0.0
    if not health.refs(role(stage, Job.SENSE)):
        return share
    drift = health.nominal_ohms(role(stage, Job.SENSE)) / health.series_ohms(role(stage, Job.SENSE))
    return share * min(1.0, drift**2)


def _set_volts(health: Health, stage: str, led_volts: float) -> float:
    """Voltage that the feedback settles at: divider, or its limits when a part has failed."""
    if health.failed(role(stage, Job.COUPLER), "transistor_short"):
        return 0.05
    lost = ("led_open", "transistor_open")
    if any(health.failed(role(stage, Job.COUPLER), mode) for mode in lost):
        return UNREGULATED_VOLTS
    if health.is_open(role(stage, Job.LED)) or health.failed(role(stage, Job.REFERENCE), "open"):
        return UNREGULATED_VOLTS
    if health.failed(role(stage, Job.REFERENCE), "short"):
        return led_volts
    return divider_volts(
        health.series_ohms(role(stage, Job.UPPER)), health.series_ohms(role(stage, Job.LOWER))
    )


def divider_volts(upper: float, lower: float) -> float:
    """What a shunt reference holds its divider at; its limits where a resistor is open."""
    if math.isinf(upper):
        return UNREGULATED_VOLTS
    if math.isinf(lower):
        return COUPLER_LED_VOLTS + SATURATED_REFERENCE_VOLTS
    return REFERENCE_VOLTS * (1.0 + upper / lower)


# ---- the others ----------------------------------------------------------------------------


def boost_parameters(health: Health, stage: Stage) -> BoostParameters:
    """The power-factor boost: it stops where its path or its divider is broken, its controller has
    no supply, or its diode or the bypass lets the bulk back into the choke. A divider that drifts
    is obeyed: its over-voltage sense looks at the same pin, and the bulk goes where it says."""
    name = stage.id
    chain = (
        Job.SWITCH,
        Job.CONTROLLER,
        Job.DIODE,
        Job.SENSE,
        Job.DRIVE,
        Job.COIL,
        Job.UPPER,
        Job.LOWER,
    )
    whole = not any(health.is_open(role(name, job)) for job in chain)
    stops = (Job.SWITCH, Job.CONTROLLER, Job.VCC, Job.DIODE, Job.BYPASS)
    whole = whole and not any(health.bridged_siemens(role(name, job)) for job in stops)
    whole = whole and _vcc_drop_volts(health, name) < MOST_VCC_DROP_VOLTS
    scale = 1.0
    if whole and health.refs(role(name, Job.UPPER)):
        nominal = health.nominal_ohms(role(name, Job.UPPER)) / health.nominal_ohms(
            role(name, Job.LOWER)
        )
        actual = health.series_ohms(role(name, Job.UPPER)) / health.series_ohms(
            role(name, Job.LOWER)
        )
        scale = (1.0 + actual) / (1.0 + nominal)
    return BoostParameters(
        signal=stage.signal,
        path=float(whole),
        set_volts=float(min(stage.volts * scale, MOST_BOOSTED_VOLTS)),
        limit_watts=float(_number(stage, "watts") * _power_share(health, name)),
    )


def winding_parameters(health: Health, stage: Stage) -> WindingParameters:
    """A slave winding; its ratio follows from the two rails' nominal voltages."""
    parent = health.board.stage(stage.source)
    assert parent is not None
    farads, esr = health.capacitor(role(stage.id, Job.RESERVOIR), 0.0, role(stage.id, Job.ACROSS))
    broken = health.open_share(role(stage.id, Job.RECTIFIER))
    halves = len(health.refs(role(stage.id, Job.RECTIFIER)))
    pulsed = PULSED_ESR_TIMES if halves < 2 else PULSED_ESR_TIMES / 2  # charged twice as often
    own = SLAVE_OHMS / halves + pulsed * esr
    bled = _preload_siemens(health, role(stage.id, Job.RESERVOIR))
    if health.is_open(role(stage.id, Job.BLEEDER)):
        bled = 0.0
    drop = float(parent.params.get("diode_volts", DEFAULTS["diode_volts"]))
    ratio = (stage.volts + 0.7) / (parent.volts + drop) * 0.99
    return WindingParameters(
        id=stage.id,
        source=stage.source,
        ratio=float(ratio),
        ohms=float(OPEN_OHMS if broken == 1.0 else own / (1.0 - broken)),
        esr_ohms=float(esr),
        farads=float(farads),
        siemens=float(
            bled
            + health.bridged_siemens(role(stage.id, Job.RESERVOIR))
            + rail_shorts(health, stage.id)
        ),
    )


def regulator_parameters(health: Health, stage: Stage) -> RegulatorParameters:
    """A step-down converter, a linear regulator or a switch."""
    name = stage.id
    chain = (Job.CHIP, Job.CHOKE, Job.PASS, Job.DRIVER, Job.FUSE, Job.FREEWHEEL)
    whole = not any(health.is_open(role(name, job)) for job in chain)
    whole = whole and not health.failed(role(name, Job.CHIP), "short")
    volts = stage.volts
    if health.refs(role(name, Job.UPPER)):
        ratio = health.nominal_ohms(role(name, Job.UPPER)) / health.nominal_ohms(
            role(name, Job.LOWER)
        )
        upper, lower = (
            health.series_ohms(role(name, Job.UPPER)),
            health.series_ohms(role(name, Job.LOWER)),
        )
        if math.isinf(upper) or math.isinf(lower):
            volts = UNREGULATED_VOLTS if math.isinf(upper) else STEP_DOWN_REFERENCE_VOLTS
        else:
            volts = volts * (1.0 + upper / lower) / (1.0 + ratio)
    stuck = health.bridged_siemens(role(name, Job.PASS)) > 0
    if stage.kind == "switch":  # nothing pulls the gate back up, or the driver holds it down
        stuck = (
            stuck
            or health.failed(role(name, Job.DRIVER), "short")
            or health.is_open(role(name, Job.PULL))
        )
    passes_through = (
        stage.kind == "switch" or stuck or health.failed(role(name, Job.CHIP), "through")
    )
    efficiency = {"buck": 0.88}.get(stage.kind, 0.0)
    farads, esr = health.capacitor(role(name, Job.OUTPUT), stage.volts)
    swing = 0.0
    if stage.kind == "buck":
        swing = COIL_RIPPLE_SHARE * _number(stage, "amps", "4") * esr
    elif stage.kind == "ldo" and esr > LDO_SOUND_OHMS:
        swing = LDO_SWING_SHARE * stage.volts
    return RegulatorParameters(
        id=name,
        source=stage.source,
        signal=stage.signal,
        path=float(whole),
        set_volts=float(1e3 if passes_through else volts),
        start_volts=float(START_SHARE * stage.volts),
        drop_volts=float(0.05 if stage.kind == "switch" else 0.0 if passes_through else 0.4),
        limit_amps=float(_number(stage, "amps", "4")),
        seconds=float(0.002 + farads * 5.0),
        siemens=float(
            1.0 / 5e3 + health.bridged_siemens(role(name, Job.OUTPUT)) + rail_shorts(health, name)
        ),
        efficiency=float(efficiency),
        stuck=float(stuck and stage.kind == "switch"),
        ripple_volts=float(min(swing, stage.volts)),
    )


def led_parameters(health: Health, stage: Stage) -> LedParameters:
    """A boost driver of LED strips."""
    name = stage.id
    chain = (Job.CONTROLLER, Job.SWITCH, Job.SENSE, Job.DRIVE)
    dead = health.bridged_siemens(role(name, Job.CONTROLLER)) > 0
    broken = any(health.is_open(role(name, job)) for job in chain)
    shorted = health.failed(role(name, Job.SWITCH), "short")
    passes = not (health.is_open(role(name, Job.COIL)) or health.is_open(role(name, Job.DIODE)))
    farads, esr = health.capacitor(role(name, Job.OUTPUT))
    source = health.board.stage(stage.source)
    times = stage.volts / source.volts if source else 1.0
    strings = not (
        health.is_open(role(name, Job.STRIP)) or health.is_open(role(name, Job.CONNECTOR))
    )
    shorts = health.bridged_siemens(role(name, Job.OUTPUT)) + health.bridged_siemens(
        role(name, Job.DIODE)
    )
    drifted = (
        health.series_ohms(role(name, Job.SENSE)) if health.refs(role(name, Job.SENSE)) else 1.0
    )
    nominal = (
        health.nominal_ohms(role(name, Job.SENSE)) if health.refs(role(name, Job.SENSE)) else 1.0
    )
    amps = _number(stage, "amps", "0.4") * (nominal / drifted if drifted > 0 else 1.0)
    amps *= min(1.0, PEAK_MARGIN / health.lost_share(role(name, Job.PEAK)))
    contact = sum(health.contact_ohms(ref) for ref in health.refs(role(name, Job.CONNECTOR)))
    strings_volts = stage.volts * health.lost_share(role(name, Job.STRIP)) + amps * contact
    return LedParameters(
        id=name,
        source=stage.source,
        signal=stage.signal,
        path=float(passes and not (shorted or dead or broken)),
        strings_path=float(strings),
        string_volts=float(strings_volts),
        amps=float(amps),
        clamp_volts=float(_number(stage, "clamp") * _clamp_share(health, name)),
        farads=float(farads),
        bleed_siemens=float(
            max(_preload_siemens(health, role(name, Job.OUTPUT)), LEAST_BLEED_SIEMENS)
        ),
        ripple_volts=float(amps * esr * max(times - 1.0, 0.0)),
        short_siemens=float(shorts),
        passes=float(passes and not shorted),
        retry_seconds=float(min(_number(stage, "retry", "latch"), 1e6)),
    )


def _clamp_share(health: Health, name: str) -> float:
    """Where an LED driver's over-voltage sense stops it, as a share of where it should."""
    upper, lower = role(name, Job.OVER_UPPER), role(name, Job.OVER_LOWER)
    if not health.refs(upper):
        return 1.0
    if health.is_open(upper):
        return BREAKDOWN_TIMES
    nominal = 1.0 + health.nominal_ohms(upper) / health.nominal_ohms(lower)
    actual = 1.0 + health.series_ohms(upper) / health.series_ohms(lower)
    return min(actual / nominal, BREAKDOWN_TIMES)


def inverter_parameters(health: Health, stage: Stage) -> InverterParameters:
    """A CCFL inverter; a tube that does not burn takes its share of the sensed current away."""
    name = stage.id
    chain = (Job.CONTROLLER, Job.SWITCH, Job.TRANSFORMER, Job.FUSE)
    whole = not any(health.is_open(role(name, job)) for job in chain)
    whole = whole and not health.failed(role(name, Job.SWITCH), "short")
    whole = whole and not health.failed(role(name, Job.TRANSFORMER), "turns")
    whole = whole and not health.bridged_siemens(role(name, Job.CONTROLLER))
    blind = health.is_open(role(name, Job.CURRENT)) or health.failed(
        role(name, Job.CURRENT), "short"
    )
    dark = health.is_open(role(name, Job.TUBES)) or bool(health.faults_in(role(name, Job.BALLAST)))
    count = _number(stage, "tubes", "2")
    return InverterParameters(
        id=name,
        source=stage.source,
        signal=stage.signal,
        path=float(whole),
        tubes=0.0 if blind else 1.0 - 1.0 / count if dark else 1.0,
        fuse_path=float(not health.is_open(role(name, Job.FUSE))),
        watts=float(_number(stage, "watts", "16")),
        patience_seconds=float(_number(stage, "patience", "1.5")),
    )
