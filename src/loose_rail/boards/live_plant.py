"""A board profile with its faults as the parameters of the live model.

Every parameter is worked out from the effective values of the parts that play a role (a resistor
open, a capacitor dried), never from a table of "this fault does that": so a combination of faults
needs no case of its own. Roles are named in the profile.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from loose_rail.boards.faults import Fault
from loose_rail.boards.profile import Board
from loose_rail.boards.typical import part_esr_ohms
from loose_rail.kernel.quantities import component_value
from loose_rail.live.board_state import BoardState, Power
from loose_rail.live.plant import ConverterParameters, Plant

SWITCHING_HERTZ = 65e3
REFERENCE_VOLTS = 2.495
UNREGULATED_VOLTS = 60.0
STUCK_LOW_REFERENCE_VOLTS = 1.4
LINE_OHMS = 0.6
"""Mains wiring, contacts and the bridge's own resistance [E]."""


class Health:
    """The effective values of a board's parts under a set of faults."""

    def __init__(self, board: Board, faults: Sequence[Fault]) -> None:
        self.board = board
        self._faults: dict[str, list[Fault]] = {}
        for fault in faults:
            self._faults.setdefault(fault.ref, []).append(fault)

    def refs(self, role: str) -> list[str]:
        """The parts in a role, none where the topology has no such role."""
        return self.board.roles.get(role, [])

    def failed(self, role: str, mode: str) -> bool:
        """Whether a part in the role has failed in this mode."""
        return any(f.mode == mode for ref in self.refs(role) for f in self._faults.get(ref, []))

    def is_open(self, role: str) -> bool:
        """Whether any part in the role interrupts the path: open, cracked or dead contact."""
        return any(
            fault.effect in ("open", "contact", "dead")
            for ref in self.refs(role)
            for fault in self._faults.get(ref, [])
        )

    def bridged_siemens(self, role: str) -> float:
        """Conductance of shorts and leaks across the parts of a role."""
        return sum(
            1.0 / fault.ohms
            for ref in self.refs(role)
            for fault in self._faults.get(ref, [])
            if fault.effect == "bridge"
        )

    def series_ohms(self, role: str) -> float:
        """Sum of the resistances in a role, infinite where one is open."""
        if self.is_open(role):
            return math.inf
        return sum(self._ohms(ref) for ref in self.refs(role))

    def _ohms(self, ref: str) -> float:
        part = self.board.component(ref)
        text = part.params.get("ohms", part.value)
        if not text:
            return 0.0
        scale = math.prod(f.value_scale for f in self._faults.get(ref, []))
        return component_value(text.split()[0]) * scale

    def capacitor(self, role: str) -> tuple[float, float]:
        """Capacitance and ESR of the part in a role; a trace of capacitance stays when open."""
        ref = self.refs(role)[0]
        part = self.board.component(ref)
        farads, esr = component_value(part.value), part_esr_ohms(part)
        for fault in self._faults.get(ref, []):
            if fault.effect == "open":
                return 1e-7, 100.0
            farads, esr = farads * fault.value_scale, esr * fault.esr_scale
        return farads, esr


def plant_of(board: Board, faults: Sequence[Fault], state: BoardState) -> Plant:
    """One column of plant parameters for a board with these faults in this state."""
    health = Health(board, faults)
    one = _one
    vcc_farads, vcc_esr = health.capacitor("standby.vcc")
    controller = not (health.is_open("standby.controller"))
    aux = health.series_ohms("standby.aux")
    bridge = health.failed("bridge", "short")
    input_short = health.bridged_siemens("input.across") + (1.0 if bridge else 0.0)
    bulk_farads, _ = health.capacitor("bulk")
    return Plant(
        mains_volts=one(board.mains.volts),
        mains_hertz=one(board.mains.hertz),
        lamp_watts=one(state.lamp_watts),
        lamp_volts=one(board.mains.volts),
        line_ohms=one(LINE_OHMS + health.series_ohms("input.path")),
        fuse_ohms=one(health.series_ohms("input.fuse")),
        fuse_amps=one(
            component_value(board.component(health.refs("input.fuse")[0]).params["amps"])
        ),
        bridge_arms=one(0.5 if health.failed("bridge", "open") else 1.0),
        input_short_siemens=one(input_short),
        bulk_farads=one(max(bulk_farads, 1e-6)),
        bulk_short_siemens=one(_bulk_short(health)),
        bulk_leak_siemens=one(_inverse(health.series_ohms("bleeder"))),
        start_ohms=one(min(health.series_ohms("standby.start"), 1e12)),
        vcc_farads=one(vcc_farads),
        vcc_leak_siemens=one(_vcc_leak(health)),
        aux_ohms=one(min(aux + 6.0 + vcc_esr, 1e12)),
        aux_ratio=one(2.73),
        vcc_on_volts=one(16.0),
        vcc_off_volts=one(9.0),
        vcc_over_volts=one(21.5),
        run_amps=one(4e-3),
        controller_path=one(controller),
        standby=_standby(health),
        main=_main(health),
        slave_ratio=one(1.96),
        slave_ohms=one(0.25 if not health.is_open("slave.rectifier") else 1e12),
        slave_farads=one(health.capacitor("slave.reservoir")[0]),
        slave_siemens=one(1.0 / 5600.0 + health.bridged_siemens("slave.reservoir")),
        main_path=one(not health.is_open("main.controller")),
        wake_stuck=one(
            health.bridged_siemens("wake.switch") + health.bridged_siemens("wake.coupler") > 0
        ),
        wake_path=one(not any(map(health.is_open, ("wake.path", "wake.coupler", "wake.switch")))),
        cable=one(state.main_cable and not health.is_open("output.connector")),
        forced=one(state.power is Power.FORCED),
        switched_on=one(state.power is Power.ON),
        load_drag_siemens=one(_load_drag(health)),
        load_asserts=one(not health.failed("load", "never_asserts")),
    )


def _one(number: float | bool) -> np.ndarray:
    return np.array([float(number)])


def _inverse(ohms: float) -> float:
    return 0.0 if math.isinf(ohms) else 1.0 / ohms


def _vcc_leak(health: Health) -> float:
    leak = health.bridged_siemens("standby.vcc") + health.bridged_siemens("standby.controller")
    if health.bridged_siemens("wake.switch"):
        leak += health.bridged_siemens("main.controller") + health.bridged_siemens("main.vcc")
    return leak


def _load_drag(health: Health) -> float:
    return sum(
        1.0 / fault.ohms
        for ref in health.refs("load")
        for fault in health._faults.get(ref, [])
        if fault.effect == "drag"
    )


def _bulk_short(health: Health) -> float:
    """Conductance across the bulk: its own short, or a shorted switch behind its sense resistor."""
    total = health.bridged_siemens("bulk")
    for stage in ("standby", "main"):
        if health.failed(f"{stage}.switch", "short"):
            path = health.series_ohms(f"{stage}.sense") + 0.05
            path += 1.2 if stage == "standby" else 0.3
            blocked = health.is_open(f"{stage}.transformer")
            total += 0.0 if math.isinf(path) or blocked else 1.0 / path
    return total


def _power_share(health: Health, stage: str) -> float:
    """Share of its power that a converter can deliver: 0 without drive or path."""
    chain = ("switch", "drive", "sense", "transformer")
    if any(health.is_open(f"{stage}.{role}") for role in chain):
        return 0.0
    if health.failed(f"{stage}.switch", "short"):
        return 0.0
    share = 1.0
    if health.failed(f"{stage}.transformer", "turns"):
        share = 0.03
    if stage == "standby" and health.failed("standby.clamp", "short"):
        share = 0.3
    nominal = component_value(health.board.component(health.refs(f"{stage}.sense")[0]).value)
    return share * min(1.0, (nominal / health.series_ohms(f"{stage}.sense")) ** 2)


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
    upper, lower = health.series_ohms(f"{stage}.upper"), health.series_ohms(f"{stage}.lower")
    if math.isinf(upper):
        return UNREGULATED_VOLTS
    if math.isinf(lower):
        return REFERENCE_VOLTS + STUCK_LOW_REFERENCE_VOLTS * 0.3
    return REFERENCE_VOLTS * (1.0 + upper / lower)


def _standby(health: Health) -> ConverterParameters:
    share = _power_share(health, "standby")
    farads, esr = health.capacitor("standby.reservoir")
    post_farads, post_esr = health.capacitor("standby.post")
    choke = health.series_ohms("standby.choke")
    henries = component_value(
        health.board.component(health.refs("standby.choke")[0]).params["henries"]
    )
    behind = math.hypot(2 * math.pi * SWITCHING_HERTZ * henries, post_esr)
    lost_choke = math.isinf(choke)
    ripple = esr if lost_choke else 1.0 / (1.0 / esr + 1.0 / behind)
    total = farads if lost_choke else farads + post_farads
    merged = esr if lost_choke else 1.0 / (1.0 / esr + 1.0 / (post_esr + choke))
    rectifier = not health.is_open("standby.rectifier")
    shorted = health.bridged_siemens("standby.rectifier")
    load = 1.0 / 2200.0 + health.bridged_siemens("standby.reservoir")
    load += health.bridged_siemens("standby.post") + shorted
    return _converter(
        limit_amps=5.0 * share,
        limit_watts=14.0 * share,
        set_volts=_set_volts(health, "standby", 1.5),
        diode_volts=0.45,
        rectifier_path=rectifier,
        output_farads=total,
        output_esr_ohms=merged,
        ripple_ohms=ripple,
        output_siemens=load,
        over_volts=6.6,
        soft_start_seconds=0.012,
        choke_ohms=choke,
    )


def _main(health: Health) -> ConverterParameters:
    share = _power_share(health, "main")
    farads, esr = health.capacitor("main.reservoir")
    shorts = health.bridged_siemens("main.reservoir") + health.bridged_siemens("main.rectifier")
    slave = health.bridged_siemens("slave.rectifier")
    contact = math.inf if health.is_open("output.connector") else 0.01
    return _converter(
        limit_amps=8.0 * share,
        limit_watts=90.0 * share,
        set_volts=_set_volts(health, "main", 2.5),
        diode_volts=0.5,
        rectifier_path=not health.is_open("main.rectifier"),
        output_farads=farads,
        output_esr_ohms=esr,
        ripple_ohms=0.4 * esr,
        output_siemens=1.0 / 1500.0 + shorts + 4.0 * slave,
        over_volts=15.5,
        soft_start_seconds=0.015,
        choke_ohms=0.01 if math.isinf(contact) else contact,
    )


def _converter(**values: float | bool) -> ConverterParameters:
    return ConverterParameters(**{name: _one(value) for name, value in values.items()})
