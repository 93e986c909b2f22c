"""What a composed board was taken for, in words: blocks, pins, and what to look at again."""

from __future__ import annotations

from loose_rail.boards.own.board import Composed
from loose_rail.boards.own.file import OwnBoardFile
from loose_rail.boards.own.make_up import MakeUp
from loose_rail.boards.own.pin_label import PinJob, PinMeaning

_JOB_WORDS = {
    PinJob.GROUND: "ground",
    PinJob.STANDBY: "standby rail",
    PinJob.RAIL: "rail",
    PinJob.PANEL: "panel's rail",
    PinJob.SUSTAIN: "sustain rail",
    PinJob.ADDRESS: "address rail",
    PinJob.START: "asks the supply to start",
    PinJob.LAMPS_ENABLE: "switches the lamps on",
    PinJob.PANEL_ENABLE: "switches the panel's rail on",
    PinJob.SUSTAIN_ENABLE: "switches the sustain supply on",
    PinJob.LED_PLUS: "LED strips, high end",
    PinJob.LED_MINUS: "LED strips, low end",
    PinJob.TUBE: "tubes: kilovolts, never probed",
    PinJob.REPORT: "a report to the main board",
    PinJob.DIM: "brightness",
    PinJob.NOTHING: "not connected",
    PinJob.UNKNOWN: "not known; no instruction names it",
}
_BIG_SET_INCHES = 32.0
"""From here a set draws more than 75 W and has power-factor correction (IEC 61000-3-2) [P]."""


def pin_words(own: OwnBoardFile, pin: PinMeaning) -> str:
    """What a printed pin is taken for."""
    words = _JOB_WORDS[pin.job]
    if not pin.volts:
        return words
    stands = next((one.stands for one in own.true_volts if one.printed == pin.volts), None)
    if stands is None:
        return f"{words}, {pin.volts:g} V"
    return f"{words}, {pin.volts:g} V by its label, {stands:g} V in truth"


def make_up_lines(make: MakeUp) -> list[str]:
    """The blocks of a board from the inlet to the lamps, a line each."""
    if make.source == "adapter":
        lines = [f"fed by an adapter of {make.main:g} V"]
    else:
        boost = make.source == "boost"
        lines = ["mains input" + (", power-factor boost (PFC) to about 390 V" if boost else "")]
    if make.single and make.source != "adapter":
        kind = "two-level flyback" if make.two_level else "one flyback for everything"
        lines.append(f"{kind}, {make.main or make.standby:g} V")
    elif make.source != "adapter":
        inside = ", switch inside its chip" if make.chip else ""
        lines.append(f"standby flyback, {make.standby:g} V{inside}")
        if make.main:
            kind = "resonant half-bridge (LLC)" if make.resonant else "main flyback"
            rectified = ", synchronous rectifier" if make.synchronous else ""
            lines.append(f"{kind}, {make.main:g} V{rectified}")
    lines += [f"further winding, {volts:g} V" for volts in make.windings]
    lines += [f"step-down, {volts:g} V" for volts in make.step_downs]
    if make.source == "adapter" and make.standby not in make.step_downs:
        lines.append(f"step-down, {make.standby:g} V")
    strings = f", {make.strings} strings" if make.strings > 1 else ""
    lines += [f"LED driver, about {volts:g} V{strings}" for volts in make.led]
    lines += ["inverter for tubes"] if make.tubes else []
    lines += ["switch for the panel's rail"] if make.panel else []
    if make.sustain:
        lines.append(f"sustain supply {make.sustain:g} V, address supply {make.address:g} V")
    return lines


def doubts_of(own: OwnBoardFile, made: Composed) -> list[str]:
    """What nobody said and a look at the board settles."""
    make, text, asked = made.make, own.kind.lower(), []
    jobs = {pin.job for pin in made.pins.values()}
    if not own.connectors:
        asked.append("no connector is typed: no pin is named, rails are read at their parts")
    if make.source == "mains" and make.inches >= _BIG_SET_INCHES and "pfc" not in text:
        asked.append("is there a coil with its own switch before the big can? Then add PFC")
    if make.main and not make.single and not make.resonant and "flyback" not in text:
        asked.append(
            "two switches and a film capacitor at the biggest transformer? Then add LLC; one "
            "switch is a main flyback"
        )
    if not make.led and not make.tubes and not make.sustain and "lamp" not in text:
        asked.append("does this board light the lamps? Then add LED driver, or CCFL inverter")
    if PinJob.START in jobs and own.wake == "unknown":
        asked.append("how the start pin works is not known: no jumper until it is measured (W)")
    return asked
