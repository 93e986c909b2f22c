"""Rails made from other rails as parameters of the live model, and what lights a panel.

Roles are `stage.job`, as in `powered_stages`.
"""

from __future__ import annotations

import math

from loose_rail.boards.effective_parts import Health
from loose_rail.boards.profile import Stage
from loose_rail.boards.rail_shorts import rail_shorts
from loose_rail.boards.stage_numbers import (
    DEFAULTS,
    OPEN_OHMS,
    UNREGULATED_VOLTS,
    number,
    preload_siemens,
    with_reactance,
)
from loose_rail.kernel.quantities import component_value
from loose_rail.powered.plant import (
    InverterParameters,
    LedParameters,
    RegulatorParameters,
    RelayParameters,
    StatusParameters,
    WindingParameters,
)
from loose_rail.vocabulary.roles import BoardRole, Job, role

STEP_DOWN_REFERENCE_VOLTS = 0.8
"""Where a step-down's lower divider is open, its output is its feedback pin [P]."""
SLAVE_OHMS = 0.25
"""Winding and diode of a slave output [E]."""
PULSED_ESR_TIMES = 2.1
"""What a reservoir's ESR costs an output that is charged for a third of the period: the current of
the other two thirds comes out of it, (1 − D)/D (circuit theory); 1.9 to 2.2 in ngspice [T]."""
LEAST_BLEED_SIEMENS = 1e-8
"""An output with no resistor across it keeps its charge for hours: the capacitor's own leak [E]."""
BREAKDOWN_TIMES = 1.6
"""An LED driver without its over-voltage sense rises until its switch breaks down: that far above
the clamp it was built for [E]."""
FEED_MOST_OHMS = 0.5
"""Choke or tracks to the rail's own reservoirs: what carries an inverter that has lost its input
capacitor [E]."""
LED_HERTZ = 100e3
"""Of the usual LED driver [P]."""
UNBALANCED_SHARE = 0.99
"""A driver that finds one of its strings without current shuts down as it reaches the others'
voltage [P]."""
COIL_RIPPLE_SHARE = 0.3
"""Peak to peak current of a step-down's choke as a share of what it can give [P]."""
LDO_SOUND_OHMS, LDO_SWING_SHARE = 5.0, 0.08
"""With more ESR than this behind it a linear regulator oscillates, by about this share of its
output, peak to peak [E]."""
PEAK_MARGIN = 1.6
"""An LED driver's peak limit stands this much above what its full load needs [E]."""
LEAST_STRIKING_SHARE = 0.6
"""Tubes ask twice their running voltage to strike: an inverter with less drive never lights them
[E]."""
SWITCH_AMPS = 1e3
"""A MOSFET that is on limits nothing: a short behind it is the rail's own [P]."""
START_SHARE = 0.3
"""A regulator works down to this share of its output voltage at its input [E]."""


def winding_parameters(health: Health, stage: Stage) -> WindingParameters:
    """A slave winding; its ratio follows from the two rails' nominal voltages, and half of what it
    loses at full load: it is laid out for a load between."""
    parent = health.board.stage(stage.source)
    assert parent is not None
    farads, esr = health.capacitor(role(stage.id, Job.RESERVOIR), 0.0, role(stage.id, Job.ACROSS))
    esr = with_reactance(esr, farads)
    broken = health.open_share(role(stage.id, Job.RECTIFIER))
    halves = len(health.refs(role(stage.id, Job.RECTIFIER)))
    pulsed = PULSED_ESR_TIMES if halves < 2 else PULSED_ESR_TIMES / 2  # charged twice as often
    own = SLAVE_OHMS / halves
    bled = preload_siemens(health, role(stage.id, Job.RESERVOIR))
    if health.is_open(role(stage.id, Job.BLEEDER)):
        bled = 0.0
    drop = float(parent.params.get("diode_volts", DEFAULTS["diode_volts"]))
    amps = sum(load.on_amps for load in health.board.loads if load.rail == stage.id)
    lost = 0.5 * SLAVE_OHMS / max(halves, 1) * amps
    ratio = (stage.volts + 0.7 + lost) / (parent.volts + drop) * 0.99
    return WindingParameters(
        id=stage.id,
        source=stage.source,
        ratio=float(ratio),
        ohms=float(OPEN_OHMS if broken == 1.0 else own / (1.0 - broken)),
        esr_ohms=float(esr),
        esr_times=float(pulsed / (1.0 - broken) if broken < 1.0 else pulsed),
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
        swing = COIL_RIPPLE_SHARE * number(stage, "amps", "4") * esr
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
        limit_amps=float(SWITCH_AMPS if passes_through else number(stage, "amps", "4")),
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
    drive = min(1.0, health.lost_share(role(name, Job.CONTROLLER)))
    dead = health.bridged_siemens(role(name, Job.CONTROLLER)) > 0 or drive == 0.0
    dead = dead or health.failed(role(name, Job.SWITCH), "gate")
    broken = any(health.is_open(role(name, job)) for job in chain)
    broken = broken or health.failed(BoardRole.MAIN_LOAD, "no_dim")
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
    amps = number(stage, "amps", "0.4") * (nominal / drifted if drifted > 0 else 1.0)
    amps *= min(1.0, PEAK_MARGIN * drive / health.lost_share(role(name, Job.PEAK)))
    contact = sum(health.contact_ohms(ref) for ref in health.refs(role(name, Job.CONNECTOR)))
    strings_volts = stage.volts * health.lost_share(role(name, Job.STRIP)) + amps * contact
    clamp = number(stage, "clamp") * _clamp_share(health, name)
    if health.failed(role(name, Job.STRIP), "string"):
        clamp = min(clamp, UNBALANCED_SHARE * strings_volts)
    return LedParameters(
        id=name,
        source=stage.source,
        signal=stage.signal,
        path=float(passes and not (shorted or dead or broken)),
        strings_path=float(strings),
        string_volts=float(strings_volts),
        amps=float(amps),
        clamp_volts=float(clamp),
        farads=float(farads),
        bleed_siemens=float(
            max(preload_siemens(health, role(name, Job.OUTPUT)), LEAST_BLEED_SIEMENS)
        ),
        ripple_volts=float(_boosted_crest_amps(health, stage, amps, times) * esr),
        short_siemens=float(shorts),
        passes=float(passes and not shorted),
        retry_seconds=float(min(number(stage, "retry", "latch"), 1e6)),
    )


def _boosted_crest_amps(health: Health, stage: Stage, amps: float, times: float) -> float:
    """How far the peak of a boost's diode current stands above what the strings take: its mean
    while it flows, and half of the choke's ripple. Continuous conduction (textbook)."""
    if times <= 1.0:
        return 0.0
    chokes = health.refs(role(stage.id, Job.COIL))
    henries = component_value(health.board.component(chokes[0]).params["henries"])
    duty = 1.0 - 1.0 / times
    swing = stage.volts / times * duty / (henries * LED_HERTZ)
    return amps * times + 0.5 * swing - amps


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
    lost = ((Job.SWITCH, "short"), (Job.SWITCH, "gate"), (Job.TRANSFORMER, "turns"))
    whole = whole and not any(health.failed(role(name, job), mode) for job, mode in lost)
    whole = whole and health.lost_share(role(name, Job.CONTROLLER)) > LEAST_STRIKING_SHARE
    whole = whole and not health.bridged_siemens(role(name, Job.CONTROLLER))
    blind = health.is_open(role(name, Job.CURRENT)) or health.failed(
        role(name, Job.CURRENT), "short"
    )
    dark = health.is_open(role(name, Job.TUBES)) or bool(health.faults_in(role(name, Job.BALLAST)))
    count = number(stage, "tubes", "2")
    farads, esr = health.capacitor(role(name, Job.INPUT))
    return InverterParameters(
        id=name,
        source=stage.source,
        signal=stage.signal,
        path=float(whole),
        tubes=0.0 if blind else 1.0 - 1.0 / count if dark else 1.0,
        fuse_path=float(not health.is_open(role(name, Job.FUSE))),
        watts=float(number(stage, "watts", "16")),
        feed_ohms=float(min(with_reactance(esr, farads), FEED_MOST_OHMS)),
        patience_seconds=float(number(stage, "patience", "1.5")),
    )


def status_parameters(health: Health, stage: Stage) -> StatusParameters:
    """A line on which the supply reports: its pull-up, and the transistor that pulls it down."""
    switch = role(stage.id, Job.SWITCH)
    return StatusParameters(
        id=stage.id,
        source=stage.source,
        signal=stage.signal,
        watches=stage.params["watches"],
        pull_path=float(not health.is_open(role(stage.id, Job.PULL))),
        stuck_low=float(health.failed(switch, "short")),
        stuck_high=float(health.is_open(switch)),
    )


def relay_parameters(health: Health, stage: Stage) -> RelayParameters:
    """The relay across the inrush limiter: coil and contact of its own, and the transistor that
    drives it. With its diode shorted nothing stands across the coil."""
    coil, driver = role(stage.id, Job.COIL), role(stage.id, Job.DRIVER)
    burnt = health.failed(coil, "contact")
    conducts = not (health.is_open(driver) or health.is_open(role(stage.id, Job.DRIVE)))
    shorted = health.bridged_siemens(role(stage.id, Job.FREEWHEEL)) > 0.0
    return RelayParameters(
        id=stage.id,
        source=stage.source,
        signal=stage.signal,
        volts=float(stage.volts),
        coil_path=float(burnt or not health.is_open(coil)),
        contact_path=float(not burnt),
        driver_path=float((conducts or health.failed(driver, "short")) and not shorted),
        driver_stuck=float(health.failed(driver, "short")),
        welded=float(health.failed(coil, "welded")),
    )
