"""The blocks of a composed board from the inlet to its rails."""

from __future__ import annotations

from loose_rail.boards.own.pin_label import PinJob
from loose_rail.boards.own.sketch import (
    BOARD_WATTS,
    PLASMA_BOOST_WATTS,
    RESONANT_FULL_SHARE,
    RESONANT_LEAST_SHARE,
    SPARE_TIMES,
    Sketch,
)

ADAPTER_AMPS = 4.0
"""Of a usual adapter [E]."""


def power(sketch: Sketch) -> None:
    """Inlet, standby and main converter with their outputs."""
    make = sketch.make
    if make.source == "adapter":
        amps = max(ADAPTER_AMPS, SPARE_TIMES * (sketch.lamp_watts + BOARD_WATTS) / make.main)
        sketch.add("adapter_input", "input", {}, volts=make.main, amps=f"{amps:.1f}")
        sketch.nets[PinJob.RAIL, make.main] = "VIN"
        step_down(sketch, "standby", make.standby, "bulk", "VIN", feeds="inlet")
        for number, volts in enumerate(make.step_downs):
            step_down(sketch, f"logic{number or ''}", volts, "bulk", "VIN", feeds="inlet")
        return
    bulk = max(47.0, round(sketch.watts * (2.0 if sketch.own.mains_volts < 150 else 0.9)))
    common = {"bulk": f"{min(bulk, 330):.0f}u", "fuse": "3.15" if sketch.watts < 110 else "5"}
    if make.source == "boost":
        fed = "VCC_3" if make.main and not make.single else "VCC_2"
        watts = PLASMA_BOOST_WATTS if make.sustain else round(1.3 * sketch.watts)
        boost = {"signal": sketch.start, "pfc_watts": watts, **common}
        sketch.add("boost_input", "pfc", {"VCC": fed}, **boost)
    else:
        sketch.add("mains_input", "input", {}, **common)
    if make.single:
        single(sketch)
    else:
        standby(sketch, make.standby, sketch.standby_watts(make.standby))
        if make.main:
            main(sketch)
    if make.relay:
        relay(sketch)


def standby(sketch: Sketch, volts: float, watts: float) -> None:
    block = "flyback_chip" if sketch.make.chip else "flyback_own"
    sketch.nets[PinJob.STANDBY, volts] = "SB"
    big = {"sense": "0R33", "primary": "700u"} if watts > 30 else {}
    amps = round(max(1.4 * watts / volts, 1.5), 1)
    sketch.add(
        block,
        "standby",
        {"OUT": "SB"},
        volts=volts,
        watts=watts,
        amps=amps,
        feeds=sketch.feeds(),
        **big,
    )


def single(sketch: Sketch) -> None:
    make = sketch.make
    alone = not make.main
    volts = make.standby if alone else make.main
    name, net = ("standby", "SB") if alone else ("main", "MAIN")
    levels: dict[str, object] = {}
    if make.two_level:
        levels = {
            "standby_share": "0.5",
            "aux_volts": "20",
            "vcc_off": "8",
            "vcc_over": "27",
            "signal": "start",
            "rail_kind": "two_level",
        }
    elif not alone:
        levels = {"rail_kind": "regulated_main"}
    watts = sketch.watts
    sketch.nets[PinJob.RAIL, volts] = net
    sketch.nets[PinJob.STANDBY, volts] = net
    sketch.add(
        "flyback_own",
        name,
        {"OUT": net},
        volts=volts,
        watts=round(watts),
        amps=round(1.4 * watts / volts, 1),
        word="standby" if alone else "supply",
        section="Supply",
        rail_title=f"Rail {volts:g} V",
        sense="0R33",
        primary="700u",
        feeds=sketch.feeds(),
        **levels,
    )
    if not alone:
        outputs(sketch, "main", net)


def main(sketch: Sketch) -> None:
    make = sketch.make
    sketch.nets[PinJob.RAIL, make.main] = "MAIN"
    low = sketch.own.wake == "low"
    start = sketch.start_net
    ports = {"OUT": "MAIN", "VCCIN": "VCC_2", "SIG": start}
    ports |= {"WAKE": "SB", "WK": start, "PULL": "SB"} if low else {}
    ports |= {} if low else {"WAKE": start, "WK": "GND", "PULL": "GND"}
    params: dict[str, object] = {
        "volts": make.main,
        "watts": round(sketch.watts),
        "amps": round(sketch.watts / make.main, 1),
        "signal": sketch.start,
        "feeds": sketch.feeds(),
    }
    if make.resonant:
        if make.source != "boost":
            peak = 1.414 * sketch.own.mains_volts
            params["least_bulk"] = round(RESONANT_LEAST_SHARE * peak)
            params["full_bulk"] = round(RESONANT_FULL_SHARE * peak)
        sketch.add("resonant_fed", "main", ports, **params)
    else:
        block = "flyback_fed_sync" if make.synchronous else "flyback_fed"
        sketch.add(block, "main", ports, **params)
    outputs(sketch, "main", "MAIN")


def relay(sketch: Sketch) -> None:
    """The relay across the inrush limiter; its coil hangs on the main rail, or on the only one."""
    make = sketch.make
    name, net, volts = ("main", "MAIN", make.main) if make.main else ("standby", "SB", make.standby)
    ports = {"NA": "L_X_1", "NB": "L_B_1", "VR": net, "SIG": sketch.start_net}
    coil = {"from": name, "signal": sketch.start, "volts": volts}
    sketch.add("inrush_relay", "relay", ports, **coil)


def outputs(sketch: Sketch, source: str, net: str) -> None:
    """Windings and step-downs of the main converter."""
    make = sketch.make
    names = iter(("lamp", "second", "third", "fourth"))
    for number, volts in enumerate(make.windings):
        logic = make.single and volts == make.standby
        name = "standby" if logic else next(names)
        own = f"W{number}"
        sketch.nets[PinJob.RAIL, volts] = own
        if logic:
            sketch.nets[PinJob.STANDBY, volts] = own
        title = f"Logic rail {volts:g} V" if logic else f"Rail {volts:g} V"
        ends = {"SECW": f"SEC{own}", "OUT": own}
        kind = {"rail_kind": "quasi_regulated"} if logic else {}
        block = "winding"
        if make.resonant and not make.single:
            block, ends = "winding_full", {**ends, "SECX": f"SECX{own}"}
        more = {"volts": volts, "from": source, "cap": "1000u", "rail_title": title}
        sketch.add(block, name, ends, **{**more, **kind})
    for number, volts in enumerate(make.step_downs):
        logic = make.single and volts == make.standby
        name = "standby" if logic else f"logic{number or ''}"
        step_down(sketch, name, volts, source, net)


def step_down(
    sketch: Sketch, name: str, volts: float, source: str, net: str, feeds: str = ""
) -> None:
    own = f"D{name}"
    sketch.nets[PinJob.RAIL, volts] = own
    if name == "standby":
        sketch.nets[PinJob.STANDBY, volts] = own
    kind = "regulated_standby" if name == "standby" else "dc_dc"
    params = {"volts": volts, "from": source, "amps": "3", "rail_kind": kind}
    params["rail_title"] = f"Logic rail {volts:g} V"
    if feeds:
        params["feeds"] = feeds
    sketch.add("buck", name, {"IN": net, "OUT": own}, **params)
