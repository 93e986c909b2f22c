"""Each kind of stage as parameters of the live model, from the effective values of its parts.

Roles are `stage.job`: the stage "standby" looks for "standby.switch", "standby.sense" and so on.
Numbers of the kind itself come from the stage's `params`; the defaults below are estimates [E].
"""

from __future__ import annotations

import math

from loose_rail.boards.effective_parts import Health
from loose_rail.boards.faults import Fault
from loose_rail.boards.kinds.kind import Effect
from loose_rail.boards.profile import Stage
from loose_rail.boards.rail_shorts import rail_shorts
from loose_rail.boards.stage_numbers import (
    DEFAULTS,
    OPEN_OHMS,
    SWITCHING_HERTZ,
    UNREGULATED_VOLTS,
    number,
    preload_siemens,
    with_reactance,
)
from loose_rail.kernel.quantities import component_value
from loose_rail.powered.plant import (
    BoostParameters,
    ConverterParameters,
    SupplyParameters,
)
from loose_rail.vocabulary.roles import MAIN_SIGNAL, Job, role, signal_role

REFERENCE_VOLTS = 2.495
COUPLER_LED_VOLTS, SATURATED_REFERENCE_VOLTS = 1.1, 2.0
"""Under a shunt regulator that is driven full on an output can't fall: its LED and itself [P]."""
MOST_VCC_DROP_VOLTS = 5.5
"""From a supply of 14 V down to where a boost controller locks itself out [P]."""
MOST_BOOSTED_VOLTS = 520.0
"""Above this the capacitor vents or the switch breaks through: no bulk stays higher [E]."""
CLAMPED_SHARE = 0.3
SNUBBED_SIEMENS = 0.1
"""A shorted clamp capacitor holds the primary at a diode's drop: next to nothing crosses."""
FEEDBACK_AMPS = 1e-3
"""What a controller's feedback pin wants to have drawn at light load, coupler at 100 %: a weak one
asks for more than its series resistor gives until the output has risen [P]."""
LOOP_AMPS = 1e-3
"""Through the LED of a feedback loop at light load [P]."""
GATE_AMPS = 0.1
"""What drawing a gate up takes out of the supply's capacitor, as far as its ESR makes the supply
give way within the pulse [E]."""
VCC_SERIES_OHMS = 6.0
"""Auxiliary rectifier and tracks to a controller's supply [E]."""
WINDING_OHMS = 0.5
"""Auxiliary winding [E]."""


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
        limit_amps=float(number(stage, "amps") * share * (1.0 - half if half < 1.0 else 1.0)),
        limit_watts=float(number(stage, "watts") * share),
        set_volts=float(_set_volts(health, name, number(stage, "led_volts", "1.5"))),
        standby_share=float(1.0 if stuck else number(stage, "standby_share")),
        diode_volts=float(number(stage, "diode_volts")),
        rectifier_path=float(half < 1.0),
        output_farads=float(farads),
        output_esr_ohms=float(esr),
        ripple_ohms=float(ripple * number(stage, "ripple_share") * (1.0 + half)),
        output_siemens=float(_idle_siemens(health, stage) + shorts),
        over_volts=float(stage.volts * number(stage, "over_share")),
        soft_start_seconds=float(number(stage, "soft_start")),
        overload_seconds=float(number(stage, "overload")),
        restart_seconds=float(min(number(stage, "restart"), 1e6)),
        least_bulk_volts=float(number(stage, "least_bulk")),
        full_bulk_volts=float(number(stage, "full_bulk")),
        choke_ohms=float(choke),
        pin_ripple_share=float(behind),
        pulsed=float(stage.kind == "flyback"),
        path=float(not health.is_open(role(name, Job.CONTROLLER))),
        stuck=float(stuck),
        vcc_siemens=0.0 if own else float(_vcc_siemens(health, stage)),
        vcc_drop_volts=0.0 if own else float(_vcc_drop_volts(health, name)),
        shoot_siemens=float(_shoot_siemens(health, stage)),
    )


SHOOT_OHMS = 0.35
"""Of both switches, tracks and the bulk's leads, beside the sense resistor [E]."""


def half_shorted(health: Health, stage: Stage) -> bool:
    """Whether one switch of a half bridge is shorted and the other is not: then nothing flows until
    the other is driven."""
    refs = health.refs(role(stage.id, Job.SWITCH))
    shorted = [r for r in refs if any(f.mode == "short" for f in health.faults_at(r))]
    return stage.kind == "resonant" and 0 < len(shorted) < len(refs)


def _shoot_siemens(health: Health, stage: Stage) -> float:
    path = SHOOT_OHMS + health.series_ohms(role(stage.id, Job.SENSE))
    return 1.0 / path if half_shorted(health, stage) and math.isfinite(path) else 0.0


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
    return preload_siemens(health, role(stage.id, Job.RESERVOIR)) + own * LOOP_AMPS / stage.volts


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
        aux_ratio=float(number(stage, "aux_volts") / (stage.volts + 0.28)),
        on_volts=float(number(stage, "vcc_on")),
        off_volts=float(number(stage, "vcc_off")),
        over_volts=float(number(stage, "vcc_over")),
        run_amps=float(number(stage, "run_amps")),
        controller_path=float(not health.is_open(role(name, Job.CONTROLLER))),
    )


def _bridges(health: Health, role: str) -> list[Fault]:
    return [fault for fault in health.faults_in(role) if fault.effect is Effect.BRIDGE]


def _output_filter(health: Health, name: str) -> tuple[float, float, float, float, float]:
    """Capacitance, merged impedance, ripple impedance and choke resistance of an output, and the
    share of the ripple that is left behind the choke.

    With a choke and a capacitor behind it the ripple divides between them; an open choke leaves
    the pin without voltage and the feedback without signal.
    """
    stage = health.board.stage(name)
    bias = stage.volts if stage else 0.0
    farads, esr = health.capacitor(role(name, Job.RESERVOIR), bias, role(name, Job.ACROSS))
    esr = with_reactance(esr, farads)
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
    if any(health.failed(role(stage, Job.SWITCH), mode) for mode in ("short", "gate")):
        return 0.0
    share = math.sqrt(health.lost_share(role(stage, Job.COIL)))
    share *= min(1.0, health.lost_share(role(stage, Job.CONTROLLER)))
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
    wanted = divider_volts(
        health.series_ohms(role(stage, Job.UPPER)), health.series_ohms(role(stage, Job.LOWER))
    )
    least = COUPLER_LED_VOLTS + SATURATED_REFERENCE_VOLTS
    wanted = max(wanted * health.lost_share(role(stage, Job.REFERENCE)), min(wanted, least))
    weak = health.lost_share(role(stage, Job.COUPLER))
    if weak == 1.0 or not health.refs(role(stage, Job.LED)):
        return wanted
    pushed = health.series_ohms(role(stage, Job.LED)) * FEEDBACK_AMPS / weak
    return max(wanted, COUPLER_LED_VOLTS + SATURATED_REFERENCE_VOLTS + pushed)


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
        limit_watts=float(number(stage, "watts") * _power_share(health, name)),
    )
