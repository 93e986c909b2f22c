"""What a display showed, as people write it: a number, a range, a course, with a note beside it.

“0 to 3 V”, “jumps about twice a second”; “172 V, then sags to 90”; “up to 60 V, then 0”; “410 k”,
“climbs, then still”; “beeps”; “OL”. The note says how it behaved, and where it says that the
reading was a slip, it is none.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, replace

from loose_rail.app.job_file.log.as_written import as_written
from loose_rail.app.job_file.log.course_told import course_told
from loose_rail.app.job_file.log.value_words import (
    AFTERWARDS,
    ALL_GOES,
    AND_AGAIN,
    AND_BACK,
    AROUND,
    AWAY_AND_BACK,
    BESIDE_IT,
    BETWEEN,
    BLIP,
    COLD_THEN_WARM,
    CREEPS,
    DIES,
    DOWN,
    EACH_ITS_OWN,
    FALLS_TO,
    FEW_MILLIVOLTS,
    FORWARD,
    GIVES_WAY,
    GIVES_WAY_TO,
    GONE,
    KICK_FIRST,
    KICKS,
    LATER,
    MILLIVOLTS_FROM,
    NOT_UP,
    NUMBER,
    ONCE,
    OPEN,
    PULSING,
    RAIL_NAME,
    RANGE,
    RATE,
    SAGS,
    SETTLES,
    SHUTS,
    SILENT,
    SILENT_OHMS,
    SLIP,
    SOME_MILLIVOLTS,
    SURELY_TICKS_BELOW_SHARE,
    THEN,
    TICKS,
    TICKS_BELOW_SHARE,
    TIMES,
    TO_AND_FRO,
    UNIT,
    UP,
    UP_AND_AWAY,
    VALUE,
    WANDERS,
    WANDERS_SHARE,
    ZERO,
)
from loose_rail.kernel.number_words import NUMBER_WORDS
from loose_rail.kernel.observation import (
    Form,
    Observation,
    open_circuit,
    short_circuit,
    ticking,
    value,
)
from loose_rail.kernel.quantities import component_value
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
    unit = setting.unit
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
        moving = _moving(text, note)
        if moving is not None:
            return _timed(moving, text)
    both = RANGE.search(text)
    runs = setting in (MeterMode.DC_VOLTS, MeterMode.AC_VOLTS)
    told = course_told(text, note) if runs and not both else None
    if told is not None:
        return _timed(told, text)
    if both:
        ends = sorted((_number(both[1], both[2] or both[4]), _number(both[3], both[4] or both[2])))
        return _timed(_ranged(ends[0], ends[1], f"{text} {note}", unit), text)
    one = VALUE.search(text)
    if one is None:
        return None
    number = _number(one[1], one[2])
    if unit != "V":
        return _resting(number, lowered, note, unit)
    around = AROUND.search(text)
    return _volts(number, f"{note} {around[0]}" if around else note)


_BRIEFLY = re.compile(
    rf"^(?:up to |about )?({NUMBER})\s?({UNIT})? for (?:about |some )?"
    r"(?:a|one|two|three|half a|\d+) (?:short )?(?:seconds?|moment|instant|blink)$",
    re.IGNORECASE,
)
"""So long a rail stands, and no longer."""
_TIMES = re.compile(
    r"\s?\b(?:in|within|after|over|for) (?:about |some )?\d+(?:[.,]\d+)? ?"
    r"(?:ms|s|sec|seconds?|min|minutes?|h|hours?)\b",
    re.IGNORECASE,
)
"""How long a course takes: no volts."""
_TOOK = re.compile(
    r"\b(?:in|within|over|takes) (?:about |some )?(\d+(?:[.,]\d+)?) ?"
    r"(ms|s|sec|seconds?|min|minutes?)\b",
    re.IGNORECASE,
)
_UNITS = {"m": 60.0, "s": 1.0}


def _timed(moving: Observation, text: str) -> Observation:
    """A rise with the time that it took, where one is told."""
    took = _TOOK.findall(text)
    if moving.form is not Form.RISING or len(took) != 1:
        return moving
    number, unit = took[0]
    seconds = _number(number, "") * (1e-3 if unit.lower() == "ms" else _UNITS[unit[0].lower()])
    return replace(moving, seconds=seconds) if seconds > 0.0 else moving


def _moving(text: str, note: str) -> Observation | None:
    """Nothing at all, kicks, or a course; None where the words say none of them."""
    given = GIVES_WAY_TO.search(text)
    if given and not AND_BACK.search(text):
        first, last = _number(given[1], given[2]), _number(given[3], given[4] or given[2])
        if last < first:
            return Observation(Form.FALLING, last, first, "V")
    later = GIVES_WAY.search(text)
    if later:
        ends = _number(later[1], later[2] or later[4]), _number(later[3], later[4] or later[2])
        form = Form.FALLING if ends[1] < ends[0] else Form.RISING
        return Observation(form, min(ends), max(ends), "V")
    warm = COLD_THEN_WARM.search(text)
    if warm:
        return value(_number(warm[3], warm[4] or warm[2]), "V")
    brief = _BRIEFLY.search(text)
    if brief and _number(brief[1], brief[2]) > 1.0 and not RANGE.search(text):
        return Observation(Form.FALLING, 0.0, _number(brief[1], brief[2]), "V")
    text = _TIMES.sub("", text)
    if ZERO.search(text.lower()):
        return value(0.0, "V")
    if SOME_MILLIVOLTS.search(text):
        return value(FEW_MILLIVOLTS, "V")
    told = _kicked(text, note)
    if told is not None:
        return told
    again = UP_AND_AWAY.search(text)
    kick = KICKS.search(text) or again
    if kick:
        high = _number(kick[1], kick[2])
        rest = VALUE.search(text[: kick.start()])  # “165 V, jumps to 200 and back”
        low = 0.0 if rest is None else _number(rest[1], rest[2])
        return ticking(low if low < high else 0.0, high, "V", _hertz(f"{text} {note}"))
    one = VALUE.search(text)
    if one and AWAY_AND_BACK.search(note):
        return ticking(0.0, _number(one[1], one[2]), "V", _hertz(f"{text} {note}"))
    if one and (PULSING.search(text) or PULSING.search(note.strip())) and not RANGE.search(text):
        return ticking(0.0, _number(one[1], one[2]), "V", _hertz(f"{text} {note}"))
    return _fro(text) or _course(text, note)


def _kicked(text: str, note: str) -> Observation | None:
    """One kick from nothing, or a value that goes and is there again."""
    first = KICK_FIRST.search(text)
    if first is not None:
        top, again = _number(first[1], first[2]), f"{text} {note}"
        if AND_BACK.search(again) or TIMES.search(again):
            return ticking(0.0, top, "V", _hertz(again))
        return Observation(Form.FALLING, 0.0, top, "V")
    twice = AND_AGAIN.search(text)
    if twice is None:
        return None
    other = 0.0 if twice[3].isalpha() else _number(twice[3], twice[2])
    ends = sorted((_number(twice[1], twice[2]), other))
    return ticking(ends[0], ends[1], "V", _hertz(f"{text} {note}"))


def _fro(text: str) -> Observation | None:
    """From one value to another, said in the reading itself."""
    both = TO_AND_FRO.search(text) or AFTERWARDS.search(text)
    if both is None or WANDERS.search(text):
        return None
    ends = _number(both[1], both[2] or both[4]), _number(both[3], both[4] or both[2])
    if AND_BACK.search(text):
        return ticking(min(ends), max(ends), "V", _hertz(text))
    down = DOWN.search(text) and ends[1] < ends[0]
    up = ends[1] > ends[0] and (UP.search(text) or both.re is AFTERWARDS)
    if not down and not up:
        return None
    return Observation(Form.FALLING if down else Form.RISING, min(ends), max(ends), "V")


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


def _course(text: str, note: str) -> Observation | None:
    """A rise or fall in time; None where the reading is none."""
    settles = SETTLES.search(text)
    if settles:
        return value(_number(settles[1], settles[2]), "V")
    then = THEN.search(text)
    if then:
        first = _number(then[1], then[2] or then[4])
        last = 0.0 if then[3].lower() in ("nothing", "zero") else _number(then[3], then[4])
        if last < first and AND_BACK.search(text[then.start() :]):
            return ticking(last, first, "V", _hertz(f"{text} {note}"))
        form = Form.FALLING if last < first else Form.RISING
        return Observation(form, min(first, last), max(first, last), "V")
    once = ONCE.search(note) and RANGE.search(text)
    if once:
        ends = sorted((_number(once[1], once[2]), _number(once[3], once[4])))
        return Observation(Form.FALLING, ends[0], ends[1], "V")
    one = VALUE.search(text)
    if one is None or RANGE.search(text):
        return None
    first = _number(one[1], one[2])
    if NOT_UP.search(note):
        return None
    dies = DIES.search(text)
    if dies and first > 1.0 and not ALL_GOES.search(text):
        before = [_number(one[1], one[2]) for one in VALUE.finditer(text[: dies.end()])]
        if AND_BACK.search(text):
            return ticking(0.0, max(before), "V", _hertz(f"{text} {note}"))
        return Observation(Form.FALLING, 0.0, max(before), "V")
    return _by_note(first, text, note)


def _by_note(first: float, text: str, note: str) -> Observation | None:
    """What a note beside a single number says of what it did afterwards."""
    creeps = CREEPS.search(note)
    if creeps and float(creeps[1].replace(",", ".")) > first:
        return Observation(Form.RISING, first, float(creeps[1].replace(",", ".")), "V")
    later = LATER.search(note)
    if later and _number(later[1], later[2]) > max(first, 0.5):
        return Observation(Form.RISING, first, _number(later[1], later[2]), "V")
    falls = FALLS_TO.search(note)
    if falls and not WANDERS.search(note):
        last = float(falls[1].replace(",", "."))
        if last < first and AND_BACK.search(note):
            return ticking(last, first, "V", _hertz(note))
        if last < first:
            return Observation(Form.FALLING, last, first, "V")
    if ALL_GOES.search(note) and not re.search(r"up to|falls|sags", f"{text} {note}", re.I):
        return None  # the rail was right; the set went off
    if first > 1.0 and GONE.search(note) and not re.search(r"stays|right until", note):
        return Observation(Form.FALLING, 0.0, first, "V")
    if first > 1.0 and SAGS.search(note):
        return Observation(Form.FALLING, math.nan, math.nan, "V")
    return None


def _ranged(low: float, high: float, note: str, unit: str) -> Observation:
    if unit != "V":
        return value(0.5 * (low + high), unit)
    gone = GONE.search(note) or BLIP.search(note)
    again = any(one.search(note) for one in (TIMES, TICKS, AND_BACK)) or _hertz(note) is not None
    if SHUTS.search(note) or (gone and not again):
        return Observation(Form.FALLING, 0.0 if low < 0.1 * high else low, high, "V")
    hertz = _hertz(note)
    if hertz is not None or TICKS.search(note):
        return ticking(low, high, unit, hertz)
    if re.search(r"ris|climb|creep|builds up|slowly up|comes? up", note.lower()):
        return Observation(Form.RISING, low, high, unit)
    protected = WANDERS.search(note) and low >= SURELY_TICKS_BELOW_SHARE * high
    if low < TICKS_BELOW_SHARE * high and not protected:
        return ticking(low, high, unit, None)
    return Observation(Form.RANGE, low, high, unit)


def _hertz(note: str) -> float | None:
    swing = re.search(r"up (\d+) ?s,? (?:and )?down (\d+) ?s", note)
    if swing:
        return 1.0 / (float(swing[1]) + float(swing[2]))
    found = RATE.search(note)
    if found is None:
        return None
    if found[1]:
        words = found[1].lower()
        if words == "once":
            times = 1.2 if "faster" in note.lower() else 1.0
        elif words == "twice":
            times = 2.0
        elif words.startswith("two or three"):
            times = 2.5
        else:
            times = float(words.split()[0])
        return times
    every = (found[3] or found[4] or "").strip().lower()
    seconds = 2.0 if every == "couple of" else float(NUMBER_WORDS.get(every, 0) or 0)
    if not seconds and every.isdecimal():
        seconds = float(every)
    if not every:
        seconds = 1.0
    return 1.0 / seconds if seconds else None


def _number(text: str, unit: str | None) -> float:
    """A number with its unit, in SI units; a resistor's notation too."""
    plain = text.replace("−", "-").replace(",", ".").lstrip("+")
    if re.search(r"\d[RKkMmuµn]\d", plain):
        return component_value(plain)
    scale = 1.0
    letter = (unit or "").strip()
    if letter.lower().startswith("milli"):
        return float(plain) * 1e-3
    if letter.startswith(("k", "K")):
        scale = 1e3
    elif letter.startswith("M") or letter.lower().startswith(("mo", "meg", "m ", "mΩ", "mω")):
        scale = 1e6
    elif letter.lower() == "mv":
        scale = 1e-3
    elif re.match(r"[µu]f", letter, re.I):
        scale = 1e-6
    elif re.match(r"nf", letter, re.I):
        scale = 1e-9
    elif letter.lower() == "pf":
        scale = 1e-12
    return float(plain) * scale
