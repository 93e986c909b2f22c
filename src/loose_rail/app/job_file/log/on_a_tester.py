"""Strips that were tried on a tester: those that stay dark are bad, those that light are not."""

from __future__ import annotations

import re

from loose_rail.app.job_file.log.teller import Teller
from loose_rail.diagnosis.evidence.soft_evidence import cleared_clue
from loose_rail.kernel.negation import negated
from loose_rail.kernel.observation import open_circuit, value
from loose_rail.vocabulary.board_state import UNPLUGGED

_TESTER = re.compile(r"\b(strip |led |back ?light )?tester\b", re.IGNORECASE)
_LAMPS = re.compile(r"\b(strips?|strings?|bars?|leds?|back ?lights?|rows?)\b", re.IGNORECASE)
_STRING = re.compile(
    r"\b(?:string|strip|bar|row|channel)s? ?(\d)((?:(?:, ?| and | or |/)\d)*)", re.IGNORECASE
)
_DARK = re.compile(
    r"\b(dark|out|dead|nothing|none|black|fails?|flickers?|not (?:light|lit)|no light|"
    r"(?:does ?n.t|does not|won.t|will not) light|stays? off)\b|"
    r"\b(?:one|two|three|rest|last|first|second|third|fourth|fifth|other)s? "
    r"(?:is |are |was |were |do |does |did )?(?:not|isn.t|don.t|doesn.t)$",  # two light, one not
    re.IGNORECASE,
)
_LIGHTS = re.compile(
    r"\b(lights?( up)?|lit|ok(ay)?|fine|good|even(ly)?|bright(ly)?|glows?|all (there|on))\b", re.I
)


def tried_on_a_tester(teller: Teller, what: str, result: str, number: int) -> bool:
    """Tell what a tester showed of the strips. Whether that was told: only where a tester is named
    with the strips, and the result says light or dark."""
    strips = [p.ref for p in teller.board.components if p.kind == "led_strip"]
    if (
        not strips
        or not _TESTER.search(f"{what} {result}")
        or not _LAMPS.search(f"{what} {result}")
    ):
        return False
    if _some_dark(teller, strips, result, number):
        return True
    told: dict[str, bool] = {}
    for part, words in _pieces(strips, what, result):
        lights = _shows(words)
        if lights is not None:
            told[part] = told.get(part, True) and lights
    some = len(strips) == 1 and bool(_STRING.search(what)) and all(told.values())
    for part, good in told.items():
        if not (good and some):  # one string of several that lights says nothing of the others
            if not good and f"{part}.lit@{UNPLUGGED.key}" in teller.keys:
                teller.read(f"{part}.lit", UNPLUGGED, open_circuit("V"), number)
            teller.aside(cleared_clue(teller.table, part, good=good), number)
        shows = "lights" if good else "not all of it lights"
        teller.understand(f"{teller.name(part)} on a tester: {shows}")
    return bool(told)


_SOME = re.compile(
    r"(\d+(?:[.,]\d+)?) ?V\b.*\b(?:\d+|one|two|three|four|five|six|some|several|a few|few)"
    r"(?: (?:leds?|diodes?|of them|lenses|dots|spots))? (?:are |is |stays? |remains? )*"
    r"(?:dark|out|dead|off|black|missing)",
    re.IGNORECASE,
)


def _some_dark(teller: Teller, strips: list[str], result: str, number: int) -> bool:
    """Tell a string that lights but for some of its LEDs, at the volts that the others take."""
    found = _SOME.search(result)
    if (
        found is None
        or _STRING.search(result)
        or f"{strips[0]}.lit@{UNPLUGGED.key}" not in teller.keys
    ):
        return False
    volts = float(found[1].replace(",", "."))
    teller.read(f"{strips[0]}.lit", UNPLUGGED, value(volts, "V"), number)
    teller.aside(cleared_clue(teller.table, strips[0], good=False), number)
    teller.understand(f"{teller.name(strips[0])} on a tester: lights at {found[1]} V, some dark")
    return True


def _pieces(strips: list[str], what: str, result: str) -> list[tuple[str, str]]:
    """Which strip each part of a result speaks of."""
    one = _STRING.search(what)
    if one is not None:
        return [(ref, result) for ref in _own(strips, f"{one[1]}{one[2]}")]
    found = [
        (ref, result[match.end() : _next(result, match.end())])
        for match in _STRING.finditer(result)
        for ref in _own(strips, f"{match[1]}{match[2]}")
    ]
    return found or [(ref, result) for ref in strips]


def _next(result: str, start: int) -> int:
    """Where what is said of one string ends."""
    comma = re.compile(r"[,;.]").search(result, start)
    return comma.start() if comma else len(result)


def _own(strips: list[str], numbers: str) -> list[str]:
    named = [int(one) for one in re.findall(r"\d", numbers)]
    if len(strips) == 1:
        return strips
    return [strips[number - 1] for number in named if 0 < number <= len(strips)]


def _shows(words: str) -> bool | None:
    """Whether it lights; None where that is not said."""
    if _DARK.search(words):
        return False
    found = _LIGHTS.search(words)
    return None if found is None else not negated(words.lower(), found.start())
