"""What a display showed, as people write it: a number, a range, a course, with a note beside it.

“0 to 3 V”, “jumps about twice a second”; “172 V, then sags to 90”; “up to 60 V, then 0”; “410 k”,
“climbs, then still”; “beeps”; “OL”. The note says how it behaved, and where it says that the
reading was a slip, it is none.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass

from loose_rail.app.job_file.log.as_written import as_written
from loose_rail.app.job_file.log.course_told import course_told
from loose_rail.app.job_file.log.moving_volts import moving_volts, with_its_time
from loose_rail.app.job_file.log.numbers_told import hertz_told, number_told
from loose_rail.app.job_file.log.value_words import (
    AND_BACK,
    AROUND,
    BESIDE_IT,
    BETWEEN,
    BLIP,
    EACH_ITS_OWN,
    FORWARD,
    GIVES_WAY_TO,
    GONE,
    MILLIVOLTS_FROM,
    OPEN,
    RAIL_NAME,
    RANGE,
    SHUTS,
    SILENT,
    SILENT_OHMS,
    SLIP,
    SURELY_TICKS_BELOW_SHARE,
    TICKS,
    TICKS_BELOW_SHARE,
    TIMES,
    VALUE,
    WANDERS,
    WANDERS_SHARE,
)
from loose_rail.kernel.observation import (
    Form,
    Observation,
    open_circuit,
    short_circuit,
    ticking,
    value,
)
from loose_rail.vocabulary.meter_mode import MeterMode

MODES = {
    "dc volts": MeterMode.DC_VOLTS,
    "ac volts": MeterMode.AC_VOLTS,
    "ohms": MeterMode.OHMS,
    "diode": MeterMode.DIODE,
    "beep": MeterMode.CONTINUITY,
    "esr": MeterMode.ESR,
    "capacitance": MeterMode.CAPACITANCE,
}


@dataclass(frozen=True, slots=True)
class HumanValue:
    """A reading as it was understood. `slip` where the note says that it is none."""

    observation: Observation
    mode: MeterMode
    slip: bool = False


_DENIED = re.compile(
    r"\b(?:no|not even|not|never|nor|without(?: any)?|does ?n.t|is ?n.t) (?:more |a )?(?:\w+ )?"
    r"(?:tick|puls|pump|hiccup|twitch|jump|jitter|wander|drift|swing|flicker|kick|burst|cycl|move|"
    r"moving)\w*",
    re.IGNORECASE,
)
"""“Steady, no ticking”: what a rail does not do."""


_ON_TERMS = re.compile(r" (?:when|as soon as|while|whenever|if) [^,;]*$", re.IGNORECASE)
"""Under what it falls: what was read is the fall."""


def human_value(text: str, mode: str, note: str) -> HumanValue | None:
    """What a display showed; None where there is no reading in the words."""
    text, note = _DENIED.sub(" ", text), _DENIED.sub(" ", note)
    named = RAIL_NAME.match(text)
    if named and not BESIDE_IT.match(text[named.end() :]):
        text = "0 V" if named["gone"] else text[named.end() :]
    if GIVES_WAY_TO.search(text):
        text = _ON_TERMS.sub("", text)
    setting = MODES.get(mode.lower().strip()) or _mode_of(text)
    text = as_written(text, setting)
    whole = f"{text} {note}"
    found = _observation(_with_unit(text.strip(), setting), note, setting)
    if found is None:
        return None
    return HumanValue(found, setting, bool(SLIP.search(whole)))


def _with_unit(text: str, mode: MeterMode) -> str:
    """The text with the unit that a bare number has in its setting: microfarads, and millivolts of
    a diode test."""
    if mode is MeterMode.ESR:
        return re.sub(r"\bm ?(ohms?|Ω)", r"milliohm", text)  # in ohms a small m is a mistyped M
    if mode is MeterMode.CAPACITANCE:
        text = re.sub(r"(?<=\d) ?([µunp])(?!\w)", r" \1F", text)
    if not re.fullmatch(r"\d+(?:[.,]\d+)?", text):
        return text
    if mode is MeterMode.CAPACITANCE:
        return f"{text} uF"
    if mode is MeterMode.DIODE and float(text.replace(",", ".")) >= MILLIVOLTS_FROM:
        return f"{text} mV"
    return text


def _mode_of(text: str) -> MeterMode:
    lowered = text.lower()
    if re.search(r"\d ?m?v\b", lowered) and not re.search(r"ohm|ω", lowered):
        return MeterMode.DC_VOLTS
    if re.search(r"ohm|ω|\d\s?[km]\b|beep|\bol\b|open|short", lowered):
        return MeterMode.OHMS
    if re.search(r"\d\s?[µun]f\b", lowered):
        return MeterMode.CAPACITANCE
    return MeterMode.DC_VOLTS


def _observation(text: str, note: str, setting: MeterMode) -> Observation | None:
    unit = setting.unit
    lowered = text.lower()
    if unit == "V" and EACH_ITS_OWN.search(text):
        return None
    if OPEN.search(lowered):
        forward = FORWARD.search(lowered) if unit == "V" else None  # a diode told both ways
        return value(float(forward[0].replace(",", ".")), unit) if forward else open_circuit(unit)
    if (
        re.fullmatch(r"(dead short|zero|nil|nothing)( ?(ohms?|Ω))?(, beeps)?", lowered)
        and unit == "Ω"
    ):
        return value(0.0, unit)
    if SILENT.search(lowered):
        return Observation(Form.ABOVE, SILENT_OHMS, math.inf, unit)
    if re.search(r"beep|\bshort(ed)?\b", lowered) and not re.search(r"\d", lowered):
        return short_circuit(unit)
    if unit == "V":
        moving = moving_volts(text, note)
        if moving is not None:
            return with_its_time(moving, text)
    both = RANGE.search(text)
    runs = setting in (MeterMode.DC_VOLTS, MeterMode.AC_VOLTS)
    told = course_told(text, note) if runs and not both else None
    if told is not None:
        return with_its_time(told, text)
    if both:
        ends = sorted(
            (number_told(both[1], both[2] or both[4]), number_told(both[3], both[4] or both[2]))
        )
        return with_its_time(_ranged(ends[0], ends[1], f"{text} {note}", unit), text)
    one = VALUE.search(text)
    if one is None:
        return None
    number = number_told(one[1], one[2])
    if unit != "V":
        return _resting(number, lowered, note, unit)
    around = AROUND.search(text)
    return _volts(number, f"{note} {around[0]}" if around else note)


def _resting(number: float, text: str, note: str, unit: str) -> Observation:
    if re.search(r"^(over|above|more than|>)", text):
        return Observation(Form.ABOVE, number, math.inf, unit)
    if re.search(r"climbs? (up )?to ol|climbs? out", note.lower()):
        return open_circuit(unit)
    return value(abs(number), unit)


def _volts(number: float, note: str) -> Observation:
    between = BETWEEN.search(note) if WANDERS.search(note) else None
    if between:
        low, high = (float(v.replace(",", ".")) for v in between.groups() if v)
        return Observation(Form.RANGE, min(low, high), max(low, high), "V")
    if WANDERS.search(note) and number:
        share = WANDERS_SHARE * abs(number)
        return Observation(Form.RANGE, number - share, number + share, "V")
    return value(number, "V")


def _ranged(low: float, high: float, note: str, unit: str) -> Observation:
    if unit != "V":
        return value(0.5 * (low + high), unit)
    gone = GONE.search(note) or BLIP.search(note)
    hertz = hertz_told(note)
    again = hertz is not None or any(one.search(note) for one in (TIMES, TICKS, AND_BACK))
    if SHUTS.search(note) or (gone and not again):
        return Observation(Form.FALLING, 0.0 if low < 0.1 * high else low, high, "V")
    if hertz is not None or TICKS.search(note):
        return ticking(low, high, unit, hertz)
    if re.search(r"ris|climb|creep|builds up|slowly up|comes? up", note.lower()):
        return Observation(Form.RISING, low, high, unit)
    protected = WANDERS.search(note) and low >= SURELY_TICKS_BELOW_SHARE * high
    if low < TICKS_BELOW_SHARE * high and not protected:
        return ticking(low, high, unit, None)
    return Observation(Form.RANGE, low, high, unit)
