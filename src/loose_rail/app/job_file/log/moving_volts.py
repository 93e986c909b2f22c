"""Volts that move: kicks from nothing, a rise or a fall in time, one value and another; told in a
reading or in the note beside it."""

from __future__ import annotations

import math
import re
from dataclasses import replace

from loose_rail.app.job_file.log.numbers_told import hertz_told, number_told
from loose_rail.app.job_file.log.value_words import (
    AFTERWARDS,
    ALL_GOES,
    AND_AGAIN,
    AND_BACK,
    AWAY_AND_BACK,
    COLD_THEN_WARM,
    CREEPS,
    DIES,
    DOWN,
    FALLS_TO,
    FEW_MILLIVOLTS,
    GIVES_WAY,
    GIVES_WAY_TO,
    GONE,
    KICK_FIRST,
    KICKS,
    LATER,
    NOT_UP,
    NUMBER,
    ONCE,
    PULSING,
    RANGE,
    SAGS,
    SETTLES,
    SOME_MILLIVOLTS,
    THEN,
    TIMES,
    TO_AND_FRO,
    UNIT,
    UP,
    UP_AND_AWAY,
    VALUE,
    WANDERS,
    ZERO,
)
from loose_rail.kernel.observation import Form, Observation, ticking, value

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


def with_its_time(moving: Observation, text: str) -> Observation:
    """A rise with the time that it took, where one is told."""
    took = _TOOK.findall(text)
    if moving.form is not Form.RISING or len(took) != 1:
        return moving
    number, unit = took[0]
    seconds = number_told(number, "") * (1e-3 if unit.lower() == "ms" else _UNITS[unit[0].lower()])
    return replace(moving, seconds=seconds) if seconds > 0.0 else moving


def moving_volts(text: str, note: str) -> Observation | None:
    """Nothing at all, kicks, or a course; None where the words say none of them."""
    given = GIVES_WAY_TO.search(text)
    if given and not AND_BACK.search(text):
        first, last = number_told(given[1], given[2]), number_told(given[3], given[4] or given[2])
        if last < first:
            return Observation(Form.FALLING, last, first, "V")
    later = GIVES_WAY.search(text)
    if later:
        ends = (
            number_told(later[1], later[2] or later[4]),
            number_told(later[3], later[4] or later[2]),
        )
        form = Form.FALLING if ends[1] < ends[0] else Form.RISING
        return Observation(form, min(ends), max(ends), "V")
    warm = COLD_THEN_WARM.search(text)
    if warm:
        return value(number_told(warm[3], warm[4] or warm[2]), "V")
    brief = _BRIEFLY.search(text)
    if brief and number_told(brief[1], brief[2]) > 1.0 and not RANGE.search(text):
        return Observation(Form.FALLING, 0.0, number_told(brief[1], brief[2]), "V")
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
        high = number_told(kick[1], kick[2])
        rest = VALUE.search(text[: kick.start()])  # “165 V, jumps to 200 and back”
        low = 0.0 if rest is None else number_told(rest[1], rest[2])
        return ticking(low if low < high else 0.0, high, "V", hertz_told(f"{text} {note}"))
    one = VALUE.search(text)
    if one and AWAY_AND_BACK.search(note):
        return ticking(0.0, number_told(one[1], one[2]), "V", hertz_told(f"{text} {note}"))
    if one and (PULSING.search(text) or PULSING.search(note.strip())) and not RANGE.search(text):
        return ticking(0.0, number_told(one[1], one[2]), "V", hertz_told(f"{text} {note}"))
    return _fro(text) or _course(text, note)


def _kicked(text: str, note: str) -> Observation | None:
    """One kick from nothing, or a value that goes and is there again."""
    first = KICK_FIRST.search(text)
    if first is not None:
        top, again = number_told(first[1], first[2]), f"{text} {note}"
        if AND_BACK.search(again) or TIMES.search(again):
            return ticking(0.0, top, "V", hertz_told(again))
        return Observation(Form.FALLING, 0.0, top, "V")
    twice = AND_AGAIN.search(text)
    if twice is None:
        return None
    other = 0.0 if twice[3].isalpha() else number_told(twice[3], twice[2])
    begins = number_told(twice[1], twice[2])
    if begins == 0.0 < other:
        return Observation(Form.FALLING, 0.0, other, "V")  # “0 then 12 then 0”
    ends = sorted((begins, other))
    return ticking(ends[0], ends[1], "V", hertz_told(f"{text} {note}"))


def _fro(text: str) -> Observation | None:
    """From one value to another, said in the reading itself."""
    both = TO_AND_FRO.search(text) or AFTERWARDS.search(text)
    if both is None or WANDERS.search(text):
        return None
    ends = number_told(both[1], both[2] or both[4]), number_told(both[3], both[4] or both[2])
    if AND_BACK.search(text):
        return ticking(min(ends), max(ends), "V", hertz_told(text))
    down = DOWN.search(text) and ends[1] < ends[0]
    up = ends[1] > ends[0] and (UP.search(text) or both.re is AFTERWARDS)
    if not down and not up:
        return None
    return Observation(Form.FALLING if down else Form.RISING, min(ends), max(ends), "V")


def _course(text: str, note: str) -> Observation | None:
    """A rise or fall in time; None where the reading is none."""
    settles = SETTLES.search(text)
    if settles:
        return value(number_told(settles[1], settles[2]), "V")
    then = THEN.search(text)
    if then:
        first = number_told(then[1], then[2] or then[4])
        last = 0.0 if then[3].lower() in ("nothing", "zero") else number_told(then[3], then[4])
        if last < first and AND_BACK.search(text[then.start() :]):
            return ticking(last, first, "V", hertz_told(f"{text} {note}"))
        form = Form.FALLING if last < first else Form.RISING
        return Observation(form, min(first, last), max(first, last), "V")
    once = ONCE.search(note) and RANGE.search(text)
    if once:
        ends = sorted((number_told(once[1], once[2]), number_told(once[3], once[4])))
        return Observation(Form.FALLING, ends[0], ends[1], "V")
    one = VALUE.search(text)
    if one is None or RANGE.search(text):
        return None
    first = number_told(one[1], one[2])
    if NOT_UP.search(note):
        return None
    dies = DIES.search(text)
    if dies and first > 1.0 and not ALL_GOES.search(text):
        before = [number_told(one[1], one[2]) for one in VALUE.finditer(text[: dies.end()])]
        if AND_BACK.search(text):
            return ticking(0.0, max(before), "V", hertz_told(f"{text} {note}"))
        return Observation(Form.FALLING, 0.0, max(before), "V")
    return _by_note(first, text, note)


def _by_note(first: float, text: str, note: str) -> Observation | None:
    """What a note beside a single number says of what it did afterwards."""
    creeps = CREEPS.search(note)
    if creeps and float(creeps[1].replace(",", ".")) > first:
        return Observation(Form.RISING, first, float(creeps[1].replace(",", ".")), "V")
    later = LATER.search(note)
    if later and number_told(later[1], later[2]) > max(first, 0.5):
        return Observation(Form.RISING, first, number_told(later[1], later[2]), "V")
    falls = FALLS_TO.search(note)
    if falls and not WANDERS.search(note):
        last = float(falls[1].replace(",", "."))
        if last < first and AND_BACK.search(note):
            return ticking(last, first, "V", hertz_told(note))
        if last < first:
            return Observation(Form.FALLING, last, first, "V")
    if ALL_GOES.search(note) and not re.search(r"up to|falls|sags", f"{text} {note}", re.I):
        return None  # the rail was right; the set went off
    if first > 1.0 and GONE.search(note) and not re.search(r"stays|right until", note):
        return Observation(Form.FALLING, 0.0, first, "V")
    if first > 1.0 and SAGS.search(note):
        return Observation(Form.FALLING, math.nan, math.nan, "V")
    return None
