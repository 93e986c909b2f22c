"""One printed label of a connector's pin: what it says, and which volts it prints.

Makers print the same thing in many ways: 5VSB, STB5V, SB5, 5VS, EVSB are a standby rail; PS-ON,
STBY, RLY, ON/OFF ask for power. A label that has volts is a rail; one that has none is a signal, a
ground, or something that is not known here, and then it gives no instruction.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum


class PinJob(StrEnum):
    """What a pin is for."""

    GROUND = "ground"
    STANDBY = "standby"
    RAIL = "rail"
    PANEL = "panel"
    SUSTAIN = "sustain"
    ADDRESS = "address"
    START = "start"
    LAMPS_ENABLE = "lamps_enable"
    PANEL_ENABLE = "panel_enable"
    SUSTAIN_ENABLE = "sustain_enable"
    LED_PLUS = "led_plus"
    LED_MINUS = "led_minus"
    TUBE = "tube"
    REPORT = "report"
    """Power good, or a fault of the lamps."""
    DIM = "dim"
    """Brightness: a level or a pulse width."""
    NOTHING = "nothing"
    """Printed as not connected."""
    UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True)
class PinMeaning:
    """A pin's job, and the volts that its label prints, None where it prints none."""

    job: PinJob
    volts: float | None = None


ONLY_STANDBY = re.compile(r"^st(an)?d?b?y?$", re.IGNORECASE)
"""A label that says no more than standby: a start pin, the supply itself, or a report."""
ONLY_ENABLES = re.compile(r"^p[-_ ]?en(a|able)?$", re.IGNORECASE)
ONLY_POWER = re.compile(r"^(pwr|power)$", re.IGNORECASE)
"""Labels that enable power, or the panel, or are power: a start pin beside them says which."""
_VOLTS = re.compile(r"\+?(\d{1,3})(?:\.(\d{1,2}))?\s?v\s?(\d(?!\d))?", re.IGNORECASE)
_BARE_STANDBY = re.compile(
    r"^v?(?:st?b|stby|standby|vsb|evs?b?)[-_ ]?(\d{1,2})(?:[v.](\d))?v?$", re.I
)
_BARE_RAIL = re.compile(r"^(?:vcc|vdd|vout|vo)[-_ ]?(\d{1,2})$", re.I)
_BARE_PANEL = re.compile(r"^(?:pnl|panel|p?vdd|vpnl|vlcd|tcon)[-_ ]?(\d{1,2})?v?$", re.I)
_JOBS: tuple[tuple[PinJob, str], ...] = (
    (PinJob.GROUND, r"^([a-z]{0,4}[-_ ]?gnd[-_ ]?[a-z\d]*|ground|com|0v|rtn|return|vss)$"),
    (
        PinJob.LED_PLUS,
        r"^(v?led|bl|wled|str(ip|ing))\d*[-_ ]?(\+|p|plus|a|out)\d*$|^vled$|^led$|"
        r"^[a-fl]\d?\+$|^anode\d?$",
    ),
    (
        PinJob.LED_MINUS,
        r"^(v?led|bl|str(ip|ing))\d*[-_ ]?(-|n|k|minus|fb|ch)[-_ ]?\d*$|"
        r"^i?fb\d$|^ch\d$|^[a-fl]\d?-$|^cathode\d?$",
    ),
    (
        PinJob.DIM,
        r"^[apiv]?[-_ ]?(dim|dimming|dimmer)\d*$|^v?br(i|t)?(ght)?(ness)?$|"
        r"^[abip]?[-_ ]?pwm\d?([-_ ]?dim)?$|^(dim|bl|br|v)?[-_ ]?adj\d?$|^bl[-_ ]?(pwm|dim)$",
    ),
    (PinJob.NOTHING, r"^n\.?/?c\.?$|^nc\d+$|^open$"),
    (PinJob.TUBE, r"^(lamp|ccfl|tube|hv)[-_ ]?\d*$"),
    (
        PinJob.SUSTAIN_ENABLE,
        r"^v?s[-_ ]?on$|^vs[-_ ]?(en|ctl)$|^sustain[-_ ]?(on|en)$|^va[-_ ]?on$",
    ),
    (PinJob.PANEL_ENABLE, r"^(pnl|panel|tcon|lvds|vdd|lcd)[-_ ]?(on|en|pwr[-_ ]?on|ctl|sw)$"),
    (
        PinJob.LAMPS_ENABLE,
        r"^(bl|bk|bkl|bklt|back[-_ ]?light|inv|inverter|led|lamp|drv)"
        r"[-_ /]?(on|en|ena|enable|on/off|ctl|sw)?$|^(on|en|sw)[-_ ]?(bl|inv|led)$|^ena$",
    ),
    (
        PinJob.REPORT,
        r"^(p(ower)?[-_ ]?(good|ok|g)|pgood|pok|pwr[-_ ]?ok|((ps|bl|led|ld|l)[-_ ]?)?err(or)?|"
        r"fault|"
        r"prot(ect)?|ac[-_ ]?(det|ok|good)|vs[-_ ]?(go|ok)|fail)$",
    ),
    (
        PinJob.START,
        r"^(ps|p|pwr|power|pw|sys|main|dc|tv|set)?[-_ /]?(on|start|ctl|ctrl|sw)"
        r"([-_ /]?(off|ctl))?$|"
        r"^st(an)?d?[-_ ]?b?y?[-_ ]?(on|en)?$|^(relay|rly|rl|ry)([-_ ]?on)?\d?$|^ps$|"
        r"^(pwr|power)[-_ ]?en(a|able)?$|^von$|^wake$|^p[-_ ]?en(a|able)?$",
    ),
    (PinJob.START, r"^(pwr|power)$"),
    (PinJob.SUSTAIN, r"^\+?vs\d*$|^vsus\d*$"),
    (PinJob.ADDRESS, r"^\+?va\d*$|^vaddr?\d*$"),
    (
        PinJob.PANEL,
        r"^(p?vdd|v[-_ ]?(pnl|panel|lcd|tcon)|pnl|panel|tcon|lcd|pvcc|"
        r"vcc[-_ ]?(pnl|panel|lcd|tcon)|"
        r"(pnl|panel|lcd|tcon|lvds)[-_ ]?v(cc|dd)?)$",
    ),
)


_STANDBY_TOO = re.compile(
    r"^(p[-_ ]*)?(s|st|sb|sby|stb|stby|standby|vsb|vs|al|alw|aux|ever|always)\d?$"
)
"""What beside its volts makes a rail one that is always on."""


def pin_meaning(label: str) -> PinMeaning:
    """What a printed label means; `PinJob.UNKNOWN` where nobody could say."""
    text = label.strip().lower().replace("–", "-")
    bare = _BARE_STANDBY.match(text)
    if bare:
        return PinMeaning(PinJob.STANDBY, float(f"{bare[1]}.{bare[2] or 0}"))
    panel = _BARE_PANEL.match(text)
    if panel and panel[1]:
        return PinMeaning(PinJob.PANEL, float(panel[1]))
    rail = _BARE_RAIL.match(text)
    if rail:
        return PinMeaning(PinJob.RAIL, float(rail[1]))
    for job, pattern in _JOBS:
        if re.search(pattern, text):
            return PinMeaning(job)
    volts = label_volts(text)
    if volts is None:
        return PinMeaning(PinJob.UNKNOWN)
    rest = _VOLTS.sub(" ", text, count=1).strip(" _-+.()")
    if rest in ("", "main", "out", "a1", "m"):
        return PinMeaning(PinJob.RAIL, volts)
    if re.search(
        r"^(p[-_ ]*)?(s|st|sb|sby|stb|stby|standby|vsb|vs|al|alw|aux|ever|always)\d?$", rest
    ):
        return PinMeaning(PinJob.STANDBY, volts)
    if re.search(r"^(pnl|panel|tcon|lcd|vdd)", rest):
        return PinMeaning(PinJob.PANEL, volts)
    return PinMeaning(PinJob.RAIL, volts)


def label_volts(text: str) -> float | None:
    """The volts that a label prints: 12V, +24 V, 3V3, 3.3VSB; None where it prints none."""
    for match in _VOLTS.finditer(text.lower()):
        whole, point, after = match[1], match[2], match[3]
        value = float(f"{whole}.{point or after or 0}")
        if value > 0:
            return value
    return None
