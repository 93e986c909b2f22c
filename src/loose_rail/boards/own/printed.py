"""Printed connectors, the signals that come in by them, and what hangs on each rail."""

from __future__ import annotations

import re
from collections.abc import Sequence

from loose_rail.boards.compose import Json, Legend
from loose_rail.boards.own.make_up import OwnConnector
from loose_rail.boards.own.pin_label import ONLY_STANDBY, PinJob, PinMeaning
from loose_rail.boards.own.sketch import (
    GOOD_SHARE,
    GOOD_SHARE_OF_FIVE,
    MADE_DOWN_FROM_VOLTS,
    MAIN_LOAD_WATTS,
    NO_SIGNAL,
    SINGLE_LOAD_WATTS,
    Sketch,
)
from loose_rail.boards.profile import Pin

_NETS = {
    PinJob.GROUND: "GND",
    PinJob.LAMPS_ENABLE: "BLON",
    PinJob.PANEL_ENABLE: "PNLON",
}


def net_of(sketch: Sketch, connector: str, number: int, pin: PinMeaning) -> str:
    """The net of a pin; one of its own where its label says nothing, or what the board does not
    have."""
    job = pin.job
    if job in _NETS:
        return _NETS[job]
    if job is PinJob.START and sketch.has_start and not _named_beside(sketch, connector, number):
        return "START"
    if job is PinJob.STANDBY and not pin.volts:
        return sketch.standby_net or f"{connector}_{number}"
    if job is PinJob.SUSTAIN_ENABLE and sketch.make.sustain:
        return "VSON"
    if job in (PinJob.SUSTAIN, PinJob.ADDRESS):
        return sketch.nets.get((job, 0.0), f"{connector}_{number}")
    if job is PinJob.PANEL:
        return next((n for (of, _), n in sketch.nets.items() if of is job), f"{connector}_{number}")
    if pin.volts:
        meant = dict(sketch.own.in_truth).get(pin.volts, pin.volts)
        jobs: tuple[PinJob, ...] = (job, PinJob.RAIL, PinJob.STANDBY)
        if job is PinJob.RAIL and PinJob.STANDBY not in sketch.jobs:
            jobs = (PinJob.STANDBY, *jobs)  # the main board wakes by some pin of these volts
        for of in jobs:
            for (kind, volts), net in sketch.nets.items():
                if kind is of and abs(volts / meant - 1.0) < 0.03:
                    return net
    return f"{connector}_{number}"


def _named_beside(sketch: Sketch, connector: str, number: int) -> bool:
    """Whether a label that only says standby stands beside a plain start pin: then it is the
    supply, a report or what else, and gives no instruction."""
    printed = {one.name: one.pins for one in sketch.own.connectors}
    if not ONLY_STANDBY.match(printed[connector][number - 1].strip()):
        return False
    others = [
        printed[name][n - 1]
        for (name, n), pin in sketch.pins.items()
        if pin.job is PinJob.START and (name, n) != (connector, number)
    ]
    return any(not ONLY_STANDBY.match(label.strip()) for label in others)


NO_PLUG = OwnConnector("main plug", 1, ())
"""The plug to the main board where none is printed that could be it."""


def connectors(sketch: Sketch) -> list[Legend]:
    """The printed connectors and what is behind each; the one that carries the standby rail or
    the start pin comes first."""
    main = main_plug(sketch)
    ordered = [main, *(one for one in sketch.own.connectors if one is not main)]
    boards = iter(("Y", "Z", "X", "W"))
    found = []
    for one in ordered:
        jobs = {sketch.pins[one.name, n].job for n in range(1, len(one.pins) + 1)}
        if one is not main and jobs & {PinJob.LED_PLUS, PinJob.TUBE} and not jobs & {PinJob.RAIL}:
            continue  # the lamps' own, part of their block
        part, load, only_fed = "MB", "main board", False
        if PinJob.SUSTAIN in jobs:
            letter = next(boards)
            part, load = f"{letter}B", f"{letter} drive board"
        elif PinJob.ADDRESS in jobs:
            part, load = "AB", "address drive boards"
        elif one is not main and jobs & {PinJob.PANEL}:
            part, load = "TC", "timing board"
        elif one is not main and (
            (PinJob.LAMPS_ENABLE in jobs and not sketch.make.tubes)
            or (sketch.lamps_elsewhere and _feeds_lamps(sketch, one))
        ):
            part, load = "LP", "lamps and their inverter board"
        elif one is not main and _brings_the_adapter(sketch, one):
            continue
        elif one is not main and _only_feeds(sketch, one):
            part, load = _fed_by(sketch, one)
            only_fed = True
        found.append(legend(sketch, one, part, load, only_fed=only_fed))
    if not any(one.part == "MB" for one in found):  # a main board there is, printed or not
        found.insert(0, legend(sketch, NO_PLUG, "MB", "main board"))
    return found


def _feeds_lamps(sketch: Sketch, one: OwnConnector) -> bool:
    """Whether a connector carries the rail that lamps hang on, and no other rail."""
    _, _, volts = sketch.lamp_feed()
    pins = [sketch.pins[one.name, n] for n in range(1, len(one.pins) + 1)]
    rails = {pin.volts for pin in pins if pin.job is PinJob.RAIL and pin.volts}
    return rails == {volts}


def _only_feeds(sketch: Sketch, one: OwnConnector) -> bool:
    """Whether a connector brings rails to a board, and nothing else."""
    jobs = {sketch.pins[one.name, n].job for n in range(1, len(one.pins) + 1)}
    return jobs - {PinJob.GROUND, PinJob.NOTHING} == {PinJob.RAIL}


def _brings_the_adapter(sketch: Sketch, one: OwnConnector) -> bool:
    """Whether a connector is the jack of the adapter, printed along with the others: it carries
    the adapter's volts and nothing else."""
    volts = {sketch.pins[one.name, n].volts for n in range(1, len(one.pins) + 1)} - {None}
    return (
        sketch.make.source == "adapter" and _only_feeds(sketch, one) and volts == {sketch.make.main}
    )


def _fed_by(sketch: Sketch, one: OwnConnector) -> tuple[str, str]:
    """The board behind a connector that only feeds it: the sound amplifier where one is named."""
    sound = re.search(r"\b(sound|audio|amp(lifier)?)\b", f"{sketch.own.words} {one.name}", re.I)
    return ("AMP", "sound amplifier") if sound else (f"B{one.printed}", f"board at {one.printed}")


def _rails_of(sketch: Sketch, legend: Legend) -> set[float]:
    return {
        pin.volts
        for n in range(1, len(legend.pins) + 1)
        if (pin := sketch.pins.get((legend.ref, n))) and pin.job is PinJob.RAIL and pin.volts
    }


def main_plug(sketch: Sketch) -> OwnConnector:
    def weight(one: OwnConnector) -> int:
        jobs = [sketch.pins[one.name, n].job for n in range(1, len(one.pins) + 1)]
        return 4 * (PinJob.STANDBY in jobs) + 4 * (PinJob.START in jobs) + len(set(jobs))

    if not sketch.own.connectors:
        return NO_PLUG
    return max(sketch.own.connectors, key=weight)


def legend(
    sketch: Sketch, one: OwnConnector, part: str, load: str, *, only_fed: bool = False
) -> Legend:
    pins = [
        Pin(number, label, net_of(sketch, one.name, number, sketch.pins[one.name, number]))
        for number, label in enumerate(one.pins, start=1)
    ]
    return Legend(
        ref=one.name,
        title=f"to the {load}",
        part=part,
        load=load,
        pins=pins,
        rows=one.rows,
        around=one.around,
        only_fed=only_fed,
    )


def _enables(sketch: Sketch, first: Json, needs: str) -> None:
    """What the main board gives beside the start: enables, each at its printed pin where there is
    one, and the brightness of lamps that this board drives."""
    make = sketch.make
    dims = PinJob.DIM in sketch.jobs and bool(make.led or make.tubes)
    more = {"needs": needs} if needs else {}
    for name, job, own_net, after in (
        ("panel", PinJob.PANEL_ENABLE, "PNLON", 0.6),
        ("lamps", PinJob.LAMPS_ENABLE, "BLON", 1.1),
        ("sustain", PinJob.SUSTAIN_ENABLE, "VSON", 0.8),
    ):
        used = any(use.params.get("signal", "") == name for use in sketch.blocks)
        used |= name == "lamps" and bool(make.led or make.tubes)
        if job in sketch.jobs or used:
            printed = own_net if job in sketch.jobs else ""
            sketch.signals.append(
                {
                    "id": name,
                    **first,
                    "after_seconds": after,
                    "sense": "high",
                    "net": printed,
                    **more,
                }
            )
    if dims:  # at any volts: it is judged by itself
        sketch.signals.append(
            {"id": "dim", **first, "after_seconds": 1.1, "sense": "high", "net": "", **more}
        )


def demands(sketch: Sketch, legends: Sequence[Legend]) -> None:
    """Signals of the main board, and what hangs on each rail."""
    make, own = sketch.make, sketch.own
    sense = own.wake if own.wake in ("high", "low") else "high"
    share = GOOD_SHARE if make.standby < MADE_DOWN_FROM_VOLTS else GOOD_SHARE_OF_FIVE
    good = round(share * make.standby, 2)
    first = {"rail": "standby", "good_volts": good}
    asked = "none" if sketch.start == NO_SIGNAL else sense
    net = "START" if sketch.has_start and asked != "none" else ""
    sketch.signals.append(
        {"id": "start", **first, "after_seconds": 0.3, "sense": asked, "net": net}
    )
    needs = f"main={make.main:g}" if make.main and not make.single else ""
    _enables(sketch, first, needs)
    ids = {signal["id"] for signal in sketch.signals}
    lit = "lamps" if "lamps" in ids else sketch.start
    sketch.load("MB", "standby", make.standby, 0.15, 0.5, sketch.start or lit)
    if make.main and make.source != "adapter":
        idle, on = SINGLE_LOAD_WATTS if make.single else MAIN_LOAD_WATTS
        sketch.load("MB", "main", make.main, idle / make.main, on / make.main, lit)
    parts = {legend.part for legend in legends}
    lamps = sketch.lamp_feed()[0] if sketch.lamps_elsewhere else ""
    plug = next((_rails_of(sketch, legend) for legend in legends if legend.part == "MB"), set())
    only = [one for one in legends if one.only_fed]
    feeds = {volts: one.part for one in only for volts in _rails_of(sketch, one) - plug}
    for one in only:
        for volts in _rails_of(sketch, one) & {make.main}:
            sketch.load(one.part, "main", volts, 0.02, 0.3, lit)
    for use in sketch.blocks:
        volts = float(use.params.get("volts", 0) or 0)
        if use.block.startswith("winding") and use.id not in ("address", "standby"):
            through = use.id == lamps and "LP" not in parts  # its lamps hang on the same plug
            watts = sketch.lamp_watts if through else 0.0
            sketch.load(feeds.get(volts, "MB"), use.id, volts, 0.1, 0.4 + watts / volts, lit)
        elif use.block == "buck" and use.id != "standby":
            sketch.load("MB", use.id, volts, 0.1, 0.5, sketch.start or lit)
    if make.panel and make.main:
        sketch.load("TC" if "TC" in parts else "MB", "panel", make.main, 0.5, 0.5, "")
    if "LP" in parts:
        feed, _, volts = sketch.lamp_feed()
        sketch.load("LP", feed, volts, 0.02, sketch.lamp_watts / volts, lit)
    drives = [p for p in ("YB", "ZB", "XB", "WB") if p in parts]
    signal = "sustain" if "sustain" in ids else sketch.start
    for part in drives:
        sketch.load(part, "sustain", make.sustain, 0.05, 0.9 / len(drives), signal)
    if "AB" in parts:
        sketch.load("AB", "address", make.address, 0.05, 0.5, signal)


def wake(sketch: Sketch, legends: Sequence[Legend]) -> Json:
    """How it is woken: both pins of the jumper on the same connector, or no jumper at all."""
    sense = sketch.own.wake
    start = pin_of(sketch, legends, "START")
    source = pin_of(sketch, legends, sketch.standby_net)
    if start is None or sense == "none":
        sense = "none" if sketch.own.wake == "none" else "unknown"
    connector, pin = start or (legends[0].ref, 0)
    source_pin = source[1] if source and source[0] == connector else 0
    grounded = any(p.net == "GND" for one in legends if one.ref == connector for p in one.pins)
    if (sense == "high" and not source_pin) or (sense == "low" and not grounded):
        sense = "unknown"  # a jumper has two printed ends, or there is none
    return {
        "sense": sense,
        "connector": connector,
        "pin": pin,
        "source_pin": source_pin,
        "series_ohms": 1000 if sense != "low" else 100,
    }


def pin_of(sketch: Sketch, legends: Sequence[Legend], net: str) -> tuple[str, int] | None:
    for legend in legends:
        for pin in legend.pins:
            if net and pin.net == net:
                return legend.ref, pin.number
    return None
