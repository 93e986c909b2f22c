"""LED drivers, inverter, panel switch, and a plasma set's two high rails."""

from __future__ import annotations

from loose_rail.boards.own.pin_label import PinJob
from loose_rail.boards.own.sketch import (
    CLAMP_SHARE,
    LED_RETRY_SECONDS,
    LED_WATTS_PER_INCH,
    SMALL_TUBES_INCHES,
    Sketch,
)


def lamps(sketch: Sketch) -> None:
    """LED drivers, inverter, panel switch, and a plasma set's two high rails."""
    make = sketch.make
    feed, net, volts = sketch.lamp_feed()
    for number, wanted in enumerate(make.led):
        watts = LED_WATTS_PER_INCH * make.inches / len(make.led)
        sketch.add(
            "led_driver",
            "led" if number == 0 else f"led{number + 1}",
            {"IN": net, "SIG": sketch.lamps_net(net)},
            volts=wanted,
            amps=round(watts / wanted, 2),
            clamp=round(CLAMP_SHARE * wanted),
            strings=make.strings,
            retry=LED_RETRY_SECONDS,
            rail_title="LED output $volts V" if number == 0 else "LED output 2, $volts V",
            **{"from": feed, **({"feeds": "inlet"} if feed == "bulk" else {})},
        )
    if make.tubes:
        big = make.inches > SMALL_TUBES_INCHES
        sketch.add(
            "ccfl_inverter",
            "tubes",
            {"IN": net, "SIG": sketch.lamps_net(net)},
            watts=round(sketch.lamp_watts),
            tubes=8 if big else 2,
            feed_volts=volts,
            **{"from": feed},
        )
    if make.panel and make.main:
        signal = "panel" if PinJob.PANEL_ENABLE in sketch.jobs else sketch.start
        sig = "PNLON" if signal == "panel" else sketch.start_net
        params = {"volts": make.main, "signal": signal, "from": "main"}
        title = f"Panel rail {make.main:g} V"
        sketch.nets[PinJob.PANEL, make.main] = "PNL"
        sketch.add(
            "rail_switch",
            "panel",
            {"IN": "MAIN", "OUT": "PNL", "SIG": sig},
            rail_title=title,
            **params,
        )


def plasma(sketch: Sketch) -> None:
    """Sustain converter and address winding."""
    make = sketch.make
    if not make.sustain:
        return
    sketch.nets[PinJob.SUSTAIN, 0.0] = "VS"
    sketch.nets[PinJob.ADDRESS, 0.0] = "VA"
    signal = "sustain" if PinJob.SUSTAIN_ENABLE in sketch.jobs else sketch.start
    sig = "VSON" if signal == "sustain" else sketch.start_net
    wake = "wake:sustain" if signal == "sustain" else "wake:second"
    sketch.add(
        "resonant_fed",
        "sustain",
        {
            "OUT": "VS",
            "LEDF": "MAIN",
            "VCCIN": "VCC_2",
            "WAKE": sig,
            "WK": "GND",
            "SIG": sig,
            "PULL": "GND",
        },
        volts=make.sustain,
        watts="320",
        amps="2.2",
        cap="220u",
        word="sustain",
        section="Sustain",
        rail_title=f"Sustain rail {make.sustain:g} V",
        rail_kind="regulated_main",
        signal=signal,
        wake=wake,
        soft_start="1.2",
        overload="0.8",
        restart="latch",
        led_supply=make.main,
        feeds="boost",
    )
    sketch.add(
        "winding_full",
        "address",
        {"SECW": "SECVA", "SECX": "SECXVA", "OUT": "VA"},
        volts=make.address,
        cap="220u",
        rail_title=f"Address rail {make.address:g} V",
        **{"from": "main"},
    )
