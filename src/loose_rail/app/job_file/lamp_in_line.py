"""What a lamp in line with the mains did, in words: bright, a flash and dark, dark, a glow, pulses.

How it ended counts, not what came first: “bright flash, then dark” is no bright lamp.
"""

from __future__ import annotations

import re

from loose_rail.kernel.negation import negated

BRIGHT, FLASH_DARK, DARK, GLOWS, PULSES = "bright", "flash_dark", "dark", "glows", "pulses"

_PULSES = re.compile(
    r"\bpuls\w+|\bticks?\b|\bticking\b|\bon and off\b|\bagain and again\b|\bcomes and goes\b|"
    r"\b(blink|flash)\w*\b(?=[^,;]*\b(every|each|with the|twice|times|all the time|per)\b)"
)
_STATES = re.compile(
    r"(?P<full>\bfull(?:y| )[- ]?(?:glow\w*|lit|on|bright\w*)\b)|"
    r"(?P<dim>\b(?:half|hardly|barely|less|weak\w*|faint\w*|dim\w*)[- ](?:bright\w*|lit|on)\b|"
    r"\bdark red\b|\b(?:dim\w*|faint\w*|weak\w*|glow\w*|orange|red)\b)|"
    r"(?P<flash>\b(?:bright|full|short|brief) (?:short )?(?:flash|blink)\w*|"
    r"\b(?:burns|lit) short(?:ly)?\b|"
    r"\b(?:bright|full|lit|on) (?:for a (?:moment|second|blink)|briefly|at first|once)\b|"
    r"\bflash\w*|\bblink\w*|\bbrief\w*|\binrush\b|\bfor a (?:moment|second)\b)|"
    r"(?P<dark>\bdark\b|\boff\b|\bout\b|\bnothing\b|\bblack\b|\bdies\b)|"
    r"(?P<bright>\bbright\w*|\bfull\w*|\btorch\b|\blit\b|\blights? up\b|\bburns\b)|"
    r"(?P<light>\blights?\b|\blight(?:s|ed|ing)?\b|\bcomes? on\b)"
)


def lamp_pattern(words: str) -> str:
    """How the lamp behaved: one of the five, empty where the words say none of them."""
    said = " ".join(words.lower().replace("’", "'").split())
    if (found := _PULSES.search(said)) and not negated(said, found.start()):
        return PULSES
    states: list[str] = []
    for match in _STATES.finditer(said):
        kind = str(match.lastgroup)
        if negated(said, match.start()):
            if kind in ("light", "flash"):
                states.append("dark")  # “never lights”, “no light in it”
        elif kind != "light":
            states.append("bright" if kind == "full" else kind)
    if not states:
        return ""
    return _ended(states, _goes_out(said))


def _ended(states: list[str], goes_out: bool) -> str:
    first, last = states[0], states[-1]
    lit = any(one in ("flash", "bright", "dim") for one in states[:-1])
    if last == "flash":
        last = "dark" if not any(one == "bright" for one in states) else "bright"
        lit = True
    if last == "bright":
        return BRIGHT
    if last == "dark":
        return FLASH_DARK if lit or goes_out else DARK
    return FLASH_DARK if first in ("flash", "bright") and len(states) > 1 else GLOWS


def _goes_out(said: str) -> bool:
    """“Goes out”, “goes dark”: it was lit before."""
    return bool(re.search(r"\b(goes|went|gets|turns|turned|then|dies) (out|dark|off)\b", said))
