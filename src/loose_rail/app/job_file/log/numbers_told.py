"""Numbers with their units, and how often a second something happens, as people write them."""

from __future__ import annotations

import re

from loose_rail.app.job_file.log.value_words import RATE
from loose_rail.kernel.number_words import NUMBER_WORDS
from loose_rail.kernel.quantities import component_value


def number_told(text: str, unit: str | None) -> float:
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


def hertz_told(note: str) -> float | None:
    """How often a second it happens, in Hz: “twice a second”, “every three seconds”, “up 2 s, down
    1 s”; None where the words do not say."""
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
