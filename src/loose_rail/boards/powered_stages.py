"""Each kind of stage as parameters of the live model, from the effective values of its parts.

Roles are `stage.job`: the stage "standby" looks for "standby.switch", "standby.sense" and so on.
Numbers of the kind itself come from the stage's `params`; the defaults below are estimates [E].
"""

from __future__ import annotations

import math

from loose_rail.boards.effective_parts import Health
from loose_rail.boards.faults import Fault
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

SWITCHING_HERTZ = 65e3
REFERENCE_VOLTS = 2.495
UNREGULATED_VOLTS = 60.0
STUCK_LOW_REFERENCE_VOLTS = 1.4
TURNS_SHARE = 0.03
CLAMPED_SHARE = 0.3
SNUBBED_SIEMENS = 0.1
"""A shorted clamp capacitor holds the primary at a diode's drop: next to nothing crosses."""
OPEN_OHMS = 1e12
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
    "bleed_ohms": "2200",
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
    half = health.open_share(f"{name}.rectifier")
    farads, esr, ripple, choke = _output_filter(health, name)
    shorts = health.bridged_siemens(f"{name}.reservoir") + health.bridged_siemens(f"{name}.post")
    shorts += health.bridged_siemens(f"{name}.rectifier") + rail_shorts(health, name)
    shorts += sum(
        4.0 * health.bridged_siemens(f"{other.id}.rectifier")
        for other in health.board.stages
        if other.kind == "winding" and other.source == name
    )
    wire = "wake" if stage.signal in ("start", "") else f"wake:{stage.signal}"
    stuck = health.bridged_siemens(f"{wire}.switch") + health.bridged_siemens(f"{wire}.coupler") > 0
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
        output_siemens=float(1.0 / _number(stage, "bleed_ohms") + shorts),
        over_volts=float(stage.volts * _number(stage, "over_share")),
        soft_start_seconds=float(_number(stage, "soft_start")),
        overload_seconds=float(_number(stage, "overload")),
        restart_seconds=float(min(_number(stage, "restart"), 1e6)),
        least_bulk_volts=float(_number(stage, "least_bulk")),
        full_bulk_volts=float(_number(stage, "full_bulk")),
        choke_ohms=float(choke),
        path=float(not health.is_open(f"{name}.controller")),
        stuck=float(stuck),
        vcc_siemens=0.0 if own else float(_vcc_siemens(health, stage)),
    )


def _vcc_siemens(health: Health, stage: Stage) -> float:
    """Shorts at the supply pin of a fed controller, and of a boost that shares its feed."""
    total = health.bridged_siemens(f"{stage.id}.vcc")
    total += health.bridged_siemens(f"{stage.id}.controller")
    fed = [s for s in health.board.stages if s.kind in ("flyback", "resonant")]
    first = next((s for s in fed if s.signal == stage.signal and not _own_supply(health, s)), stage)
    for other in health.board.stages:
        if other.kind == "boost" and other.signal == stage.signal and first.id == stage.id:
            shorted = health.bridged_siemens(f"{other.id}.vcc")
            shorted += health.bridged_siemens(f"{other.id}.controller")
            total += shorted / (1.0 + shorted * health.nominal_ohms(f"{other.id}.feed"))
    return total


def _own_supply(health: Health, stage: Stage) -> bool:
    return bool(health.refs(f"{stage.id}.start"))


def _supply(health: Health, stage: Stage) -> SupplyParameters:
    name = stage.id
    farads, esr = health.capacitor(f"{name}.vcc")
    aux = health.series_ohms(f"{name}.aux")
    back = sum(1.0 / (aux + WINDING_OHMS + f.ohms) for f in _bridges(health, f"{name}.aux"))
    if health.failed(f"{name}.aux", "short"):
        aux = math.inf
    leak = (
        back + health.bridged_siemens(f"{name}.vcc") + health.bridged_siemens(f"{name}.controller")
    )
    if health.bridged_siemens("wake.switch"):
        for other in health.board.stages:
            if other.params.get("fed_by", DEFAULTS["fed_by"]) == name and other.id != name:
                leak += health.bridged_siemens(f"{other.id}.controller")
                leak += health.bridged_siemens(f"{other.id}.vcc")
    return SupplyParameters(
        start_ohms=float(min(health.series_ohms(f"{name}.start"), OPEN_OHMS)),
        farads=float(farads),
        leak_siemens=float(leak),
        aux_ohms=float(min(aux + VCC_SERIES_OHMS + esr, OPEN_OHMS)),
        aux_ratio=float(_number(stage, "aux_volts") / (stage.volts + 0.28)),
        on_volts=float(_number(stage, "vcc_on")),
        off_volts=float(_number(stage, "vcc_off")),
        over_volts=float(_number(stage, "vcc_over")),
        run_amps=float(_number(stage, "run_amps")),
        controller_path=float(not health.is_open(f"{name}.controller")),
    )


def _bridges(health: Health, role: str) -> list[Fault]:
    return [fault for fault in health.faults_in(role) if fault.effect == "bridge"]


def _output_filter(health: Health, name: str) -> tuple[float, float, float, float]:
    """Capacitance, merged ESR, ripple impedance and choke resistance of an output.

    With a choke and a capacitor behind it the ripple divides between them; an open choke leaves
    the pin without voltage and the feedback without signal.
    """
    stage = health.board.stage(name)
    bias = stage.volts if stage else 0.0
    farads, esr = health.capacitor(f"{name}.reservoir", bias, f"{name}.across")
    chokes = health.refs(f"{name}.choke")
    if not chokes:
        return farads, esr, esr, 0.01
    choke = health.series_ohms(f"{name}.choke")
    if math.isinf(choke):
        return farads, esr, esr, choke
    post_farads, post_esr = health.capacitor(f"{name}.post")
    henries = component_value(health.board.component(chokes[0]).params["henries"])
    behind = math.hypot(2 * math.pi * SWITCHING_HERTZ * henries, post_esr)
    ripple = 1.0 / (1.0 / esr + 1.0 / behind)
    merged = 1.0 / (1.0 / esr + 1.0 / (post_esr + choke))
    return farads + post_farads, merged, ripple, choke


def _power_share(health: Health, stage: str) -> float:
    """Share of its power that a converter can deliver: 0 without drive or path.

    A resonant capacitor that has lost capacitance leaves the root of it (power goes as C·f, the
    resonance as 1/√C); a shorted one lets the transformer saturate.
    """
    chain = ("switch", "drive", "sense", "transformer", "coil")
    if any(health.is_open(f"{stage}.{role}") for role in chain):
        return 0.0
    if health.failed(f"{stage}.switch", "short"):
        return 0.0
    share = math.sqrt(health.lost_share(f"{stage}.coil"))
    if health.failed(f"{stage}.transformer", "turns") or health.failed(f"{stage}.coil", "short"):
        share = TURNS_SHARE
    snubber = health.bridged_siemens(f"{stage}.snubber")
    if health.failed(f"{stage}.clamp", "short") or snubber:
        share = CLAMPED_SHARE if snubber < SNUBBED_SIEMENS else TURNS_SHARE
    if not health.refs(f"{stage}.sense"):
        return share
    drift = health.nominal_ohms(f"{stage}.sense") / health.series_ohms(f"{stage}.sense")
    return share * min(1.0, drift**2)


def _set_volts(health: Health, stage: str, led_volts: float) -> float:
    """Voltage that the feedback settles at: divider, or its limits when a part has failed."""
    if health.failed(f"{stage}.coupler", "transistor_short"):
        return 0.05
    lost = ("led_open", "transistor_open")
    if any(health.failed(f"{stage}.coupler", mode) for mode in lost):
        return UNREGULATED_VOLTS
    if health.is_open(f"{stage}.led") or health.failed(f"{stage}.reference", "open"):
        return UNREGULATED_VOLTS
    if health.failed(f"{stage}.reference", "short"):
        return led_volts
    return divider_volts(health.series_ohms(f"{stage}.upper"), health.series_ohms(f"{stage}.lower"))


def divider_volts(upper: float, lower: float) -> float:
    """What a shunt reference holds its divider at; its limits where a resistor is open."""
    if math.isinf(upper):
        return UNREGULATED_VOLTS
    if math.isinf(lower):
        return REFERENCE_VOLTS + STUCK_LOW_REFERENCE_VOLTS * 0.3
    return REFERENCE_VOLTS * (1.0 + upper / lower)


# ---- the others ----------------------------------------------------------------------------


def boost_parameters(health: Health, stage: Stage) -> BoostParameters:
    """The power-factor boost: it stops where its path or its divider is broken, its controller has
    no supply, or its diode or the bypass lets the bulk back into the choke."""
    name = stage.id
    chain = ("switch", "controller", "diode", "sense", "drive", "coil", "upper", "lower")
    whole = not any(health.is_open(f"{name}.{role}") for role in chain)
    stops = ("switch", "controller", "vcc", "diode", "bypass")
    whole = whole and not any(health.bridged_siemens(f"{name}.{role}") for role in stops)
    scale = 1.0
    if whole and health.refs(f"{name}.upper"):
        nominal = health.nominal_ohms(f"{name}.upper") / health.nominal_ohms(f"{name}.lower")
        actual = health.series_ohms(f"{name}.upper") / health.series_ohms(f"{name}.lower")
        scale = (1.0 + actual) / (1.0 + nominal)
    over = scale > 1.0 + component_value(stage.params.get("over_share", "0.08"))
    return BoostParameters(
        signal=stage.signal,
        path=float(whole and not over),
        set_volts=float(stage.volts * scale),
        limit_watts=float(_number(stage, "watts") * _power_share(health, name)),
    )


def winding_parameters(health: Health, stage: Stage) -> WindingParameters:
    """A slave winding; its ratio follows from the two rails' nominal voltages."""
    parent = health.board.stage(stage.source)
    assert parent is not None
    farads, _ = health.capacitor(f"{stage.id}.reservoir", 0.0, f"{stage.id}.across")
    drop = float(parent.params.get("diode_volts", DEFAULTS["diode_volts"]))
    ratio = (stage.volts + 0.7) / (parent.volts + drop) * 0.99
    return WindingParameters(
        id=stage.id,
        source=stage.source,
        ratio=float(ratio),
        ohms=float(OPEN_OHMS if health.is_open(f"{stage.id}.rectifier") else 0.25),
        farads=float(farads),
        siemens=float(
            1.0 / _number(stage, "bleed_ohms", "5600")
            + health.bridged_siemens(f"{stage.id}.reservoir")
            + rail_shorts(health, stage.id)
        ),
    )


def regulator_parameters(health: Health, stage: Stage) -> RegulatorParameters:
    """A step-down converter, a linear regulator or a switch."""
    name = stage.id
    chain = ("chip", "choke", "pass", "driver", "fuse", "freewheel")
    whole = not any(health.is_open(f"{name}.{role}") for role in chain)
    whole = whole and not health.failed(f"{name}.chip", "short")
    volts = stage.volts
    if health.refs(f"{name}.upper"):
        ratio = health.nominal_ohms(f"{name}.upper") / health.nominal_ohms(f"{name}.lower")
        upper, lower = health.series_ohms(f"{name}.upper"), health.series_ohms(f"{name}.lower")
        if math.isinf(upper) or math.isinf(lower):
            volts = UNREGULATED_VOLTS if math.isinf(upper) else 0.3 * volts
        else:
            volts = volts * (1.0 + upper / lower) / (1.0 + ratio)
    stuck = health.bridged_siemens(f"{name}.pass") > 0
    if stage.kind == "switch":  # nothing pulls the gate back up, or the driver holds it down
        stuck = stuck or health.failed(f"{name}.driver", "short") or health.is_open(f"{name}.pull")
    passes_through = stage.kind == "switch" or stuck or health.failed(f"{name}.chip", "through")
    efficiency = {"buck": 0.88}.get(stage.kind, 0.0)
    farads, _ = health.capacitor(f"{name}.output", stage.volts)
    return RegulatorParameters(
        id=name,
        source=stage.source,
        signal="" if stuck and stage.kind == "switch" else stage.signal,
        path=float(whole),
        set_volts=float(1e3 if passes_through else volts),
        start_volts=float(START_SHARE * stage.volts),
        drop_volts=float(0.05 if stage.kind == "switch" else 0.0 if passes_through else 0.4),
        limit_amps=float(_number(stage, "amps", "4")),
        seconds=float(0.002 + farads * 5.0),
        siemens=float(
            1.0 / 5e3 + health.bridged_siemens(f"{name}.output") + rail_shorts(health, name)
        ),
        efficiency=float(efficiency),
    )


def led_parameters(health: Health, stage: Stage) -> LedParameters:
    """A boost driver of LED strips."""
    name = stage.id
    chain = ("controller", "switch", "sense", "drive")
    dead = health.bridged_siemens(f"{name}.controller") > 0
    broken = any(health.is_open(f"{name}.{role}") for role in chain)
    shorted = health.failed(f"{name}.switch", "short")
    passes = not (health.is_open(f"{name}.coil") or health.is_open(f"{name}.diode"))
    farads, _ = health.capacitor(f"{name}.output")
    strings = not (health.is_open(f"{name}.strip") or health.is_open(f"{name}.connector"))
    shorts = health.bridged_siemens(f"{name}.output") + health.bridged_siemens(f"{name}.diode")
    drifted = health.series_ohms(f"{name}.sense") if health.refs(f"{name}.sense") else 1.0
    nominal = health.nominal_ohms(f"{name}.sense") if health.refs(f"{name}.sense") else 1.0
    amps = _number(stage, "amps", "0.4") * (nominal / drifted if drifted > 0 else 1.0)
    amps *= min(1.0, PEAK_MARGIN / health.lost_share(f"{name}.peak"))
    contact = sum(health.contact_ohms(ref) for ref in health.refs(f"{name}.connector"))
    strings_volts = stage.volts * health.lost_share(f"{name}.strip") + amps * contact
    return LedParameters(
        id=name,
        source=stage.source,
        signal=stage.signal,
        path=float(passes and not (shorted or dead or broken)),
        strings_path=float(strings),
        string_volts=float(strings_volts),
        amps=float(amps),
        clamp_volts=float(_number(stage, "clamp")),
        farads=float(farads),
        short_siemens=float(shorts),
        passes=float(passes and not shorted),
        retry_seconds=float(min(_number(stage, "retry", "latch"), 1e6)),
    )


def inverter_parameters(health: Health, stage: Stage) -> InverterParameters:
    """A CCFL inverter; a tube that does not burn takes its share of the sensed current away."""
    name = stage.id
    chain = ("controller", "switch", "transformer", "fuse")
    whole = not any(health.is_open(f"{name}.{role}") for role in chain)
    whole = whole and not health.failed(f"{name}.switch", "short")
    whole = whole and not health.failed(f"{name}.transformer", "turns")
    whole = whole and not health.bridged_siemens(f"{name}.controller")
    dark = health.is_open(f"{name}.tubes") or health.is_open(f"{name}.current")
    dark = dark or bool(health.faults_in(f"{name}.ballast"))
    return InverterParameters(
        id=name,
        source=stage.source,
        signal=stage.signal,
        path=float(whole),
        tubes=0.5 if dark else 1.0,
        fuse_path=float(not health.is_open(f"{name}.fuse")),
        watts=float(_number(stage, "watts", "16")),
        patience_seconds=float(_number(stage, "patience", "1.5")),
    )
